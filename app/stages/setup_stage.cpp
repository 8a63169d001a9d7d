#include "app/stages/setup_stage.h"

#include <algorithm>
#include <cmath>
#include <set>

#include "app/theme/parts.h"
#include "app/theme/theme.h"

namespace fortitor {

using parts::qs;

SetupStage::SetupStage(Workbench* bench, QWidget* parent) : StagePage(bench, Stage::set_up, parent) {
  auto* layout = new QHBoxLayout(this);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(12);
}

void SetupStage::rebuild() {
  auto* outer = static_cast<QHBoxLayout*>(layout());
  parts::clear(outer);
  checks_.clear();
  const Method& m = bench_->method();
  plan_ = m.plan(bench_->record());

  auto* left = new QWidget;
  auto* left_column = parts::column(left, 0, 12);
  auto* path_sheet = parts::sheet();
  auto* path_layout = parts::column(path_sheet, 12, 4);
  path_layout->addWidget(parts::label(plan_.load_path.empty() ? "At the bench" : "Load path", "heading"));
  pad_ = new SketchPad(bench_);
  pad_->setMinimumSize(380, int(300 * std::max(1.0, 0.82 * theme::scale())));
  pad_->set_plan(&plan_);
  pad_->show_sketch(m.setup_sketch);
  path_layout->addWidget(pad_, 1);
  left_column->addWidget(path_sheet, 3);
  auto* advice_sheet = parts::sheet();
  auto* advice_outer = parts::column(advice_sheet, 12, 6);
  auto* advice_head = new QHBoxLayout;
  advice_head->addWidget(parts::label("Advised", "heading"), 1);
  use_all_ = parts::button("Use all", "use-all");
  use_all_->setToolTip(spoken("Every value advised below, in one step."));
  connect(use_all_, &QPushButton::clicked, this, &SetupStage::use_all);
  advice_head->addWidget(use_all_);
  advice_outer->addLayout(advice_head);
  advice_ = new QVBoxLayout;
  advice_->setSpacing(4);
  advice_outer->addLayout(advice_);
  advice_outer->addStretch();
  left_column->addWidget(advice_sheet, 2);
  outer->addWidget(left, 5);

  auto* middle = parts::sheet();
  auto* middle_layout = parts::column(middle, 14, 8);
  strip_ = new SeriesStrip(bench_, false);
  middle_layout->addWidget(strip_);
  equipment_ = new EquipmentPanel(bench_, bench_);
  equipment_->show_slots(m, stage_, [this](const std::string& path) { return pad_->holds(path); });
  middle_layout->addWidget(equipment_);
  std::set<std::string> in_slots;
  for (const EquipmentSlot& slot : m.equipment)
    for (const FieldSpec& f : slot.fields) in_slots.insert(f.path);
  std::vector<const FieldSpec*> driven;
  for (const FieldSpec* f : fields_of_stage())
    if (!pad_->holds(f->path) && f->kind != FieldKind::flag && in_slots.count(f->path) == 0) driven.push_back(f);
  form_ = nullptr;
  if (!driven.empty()) {
    middle_layout->addSpacing(6);
    middle_layout->addWidget(parts::label(qs(m.wording.set_up), "heading"));
    form_ = new FieldForm(bench_);
    form_->show_fields(driven, 2);
    middle_layout->addWidget(form_);
  }
  middle_layout->addStretch();
  auto* middle_area = parts::scroller(middle);
  middle_area->setMinimumWidth(296);
  outer->addWidget(middle_area, 4);

  auto* right = parts::sheet();
  right->setMinimumWidth(250);
  auto* right_layout = parts::column(right, 14, 8);
  right_layout->addWidget(parts::label("Before the start", "heading"));
  for (const CheckItem& item : m.guide(stage_).checklist) {
    auto* box = new QCheckBox;
    auto* text = parts::label(qs(item.text) + (item.safety ? "" : " (if it applies)"));
    box->setAccessibleName(spoken(qs(item.text)));
    box->setProperty("key", qs("check:" + item.id));
    auto* row = new QHBoxLayout;
    row->addWidget(box, 0, Qt::AlignTop);
    row->addWidget(text, 1);
    right_layout->addLayout(row);
    connect(box, &QCheckBox::clicked, this, [this, item](bool on) {
      bench_->edit(qs(item.text) + (on ? ": ticked" : ": not ticked"),
                   [&](TestRecord& r) { r.fields.set("settings.checks." + item.id, on); });
    });
    checks_.emplace_back("settings.checks." + item.id, box);
  }
  for (const auto& line : m.guide(stage_).guidance) right_layout->addWidget(parts::label(qs(line), "quiet"));
  for (const auto& line : m.guide(stage_).cautions) right_layout->addWidget(parts::label("△  " + qs(line), "caution"));
  right_layout->addStretch();
  missing_ = new QVBoxLayout;
  missing_->setSpacing(4);
  right_layout->addLayout(missing_);
  start_ = parts::button("Go to the machine", "setup-start", "primary");
  connect(start_, &QPushButton::clicked, this, &SetupStage::start_wanted);
  right_layout->addWidget(start_);
  outer->addWidget(parts::scroller(right), 3);
  refresh();
}

void SetupStage::refresh() {
  if (pad_ == nullptr) return;
  plan_ = bench_->method().plan(bench_->record());
  pad_->refresh();
  strip_->refresh();
  equipment_->refresh();
  if (form_ != nullptr) form_->refresh();
  for (const auto& [path, box] : checks_) box->setChecked(bench_->record().fields.flag(path));
  refresh_advice();
  refresh_missing();
}

void SetupStage::refresh_missing() {
  if (pad_ == nullptr) return;
  parts::clear(missing_);
  const auto missing = bench_->progress()[size_t(Stage::set_up)].missing;
  start_->setEnabled(missing.empty());
  for (const auto& line : missing) missing_->addWidget(parts::label("◦  " + qs(line), "hint"));
  start_->setToolTip(spoken(missing.empty() ? "Everything that must be true is true." : qs(missing.front())));
}

bool SetupStage::wants_watch() const {
  const auto e = bench_->evaluation();
  if (e == nullptr || bench_->record().has_run()) return false;
  const auto open = e->open_judgements();
  return std::any_of(open.begin(), open.end(), [](const Finding* f) { return f->asks_first; });
}

bool SetupStage::in_use(const Advice& a) const {
  const auto now = bench_->record().fields.number(a.setting);
  return now && std::abs(*now - a.value) <= 0.02 * std::abs(a.value);
}

void SetupStage::use_all() {
  const UnitSet units = bench_->units();
  bench_->edit("all advice used", [&](TestRecord& r) {
    for (const Advice& a : plan_.advice) {
      const FieldSpec* field = bench_->method().field(a.setting);
      if (field == nullptr) continue;
      if (const auto fitting = carriers(a)) {
        const auto used = [&](const kit::Item* i) { return i->name() == r.fields.text(i->path("id")); };
        if (!fitting->empty() && std::none_of(fitting->begin(), fitting->end(), used))
          kit::fill(r, bench_->method(), *fitting->front());
        continue;
      }
      if (in_use(a)) continue;
      if (const auto v = bench_->parse_field(*field, qs(typed_value(a.value, a.dimension, units, 3))))
        r.fields.set(a.setting, *v);
    }
  });
}

std::optional<std::vector<const kit::Item*>> SetupStage::carriers(const Advice& a) const {
  for (const EquipmentSlot& slot : bench_->method().equipment) {
    if (slot.rating.empty() || slot.rating != a.setting || !plan_.expected) continue;
    const auto& items = equipment_->items();
    if (std::any_of(items.begin(), items.end(), [&](const kit::Item& i) { return i.kind == slot.id && !i.retired(); }))
      return kit::that_carry(items, slot, *plan_.expected, bench_->today());
  }
  return std::nullopt;
}

bool SetupStage::advise_items(const Advice& a, const std::vector<const kit::Item*>& fitting) {
  const QString quiet = "</b> <span style='color:" + theme::color(theme::Ink::quiet).name() + "'>";
  const auto size = [&](double v) { return qs(format_value(v, a.dimension, bench_->units(), 3)); };
  if (fitting.empty())
    advice_->addWidget(parts::rich_label(qs(a.label).toHtmlEscaped() + ": <b>nothing in the Kit carries it" + quiet +
                                         (size(a.value) + " wanted, " + qs(a.why)).toHtmlEscaped() + "</span>"));
  bool wanted = !fitting.empty();
  for (const kit::Item* item : fitting) {
    const std::string now = bench_->record().fields.text(item->path("id"));
    wanted = wanted && item->name() != now;
    auto* row = new QHBoxLayout;
    const double rating = item->fields.number(a.setting).value_or(0);
    row->addWidget(parts::rich_label(
                       qs(a.label).toHtmlEscaped() + ": <b>" + qs(item->name()).toHtmlEscaped() + quiet +
                       ("expected are " + QString::number(std::lround(100 * plan_.expected->low / rating)) + "–" +
                        QString::number(std::lround(100 * plan_.expected->high / rating)) + " % of its " + size(rating))
                           .toHtmlEscaped() +
                       "</span>"),
                   1);
    auto* use = parts::button(item->name() == now ? "in use" : "Use", "use-item:" + qs(item->name()));
    use->setEnabled(item->name() != now);
    connect(use, &QPushButton::clicked, this, [this, taken = *item, label = a.label] {
      bench_->edit(qs(label + ": " + taken.name()), [&](TestRecord& r) { kit::fill(r, bench_->method(), taken); });
    });
    row->addWidget(use, 0, Qt::AlignTop);
    advice_->addLayout(row);
  }
  return wanted;
}

void SetupStage::refresh_advice() {
  parts::clear(advice_);
  int open = 0;
  for (const std::string& line : plan_.warnings) advice_->addWidget(parts::label("△  " + qs(line), "caution"));
  for (const Advice& a : plan_.advice) {
    const FieldSpec* field = bench_->method().field(a.setting);
    if (field == nullptr) continue;
    if (const auto fitting = carriers(a)) {
      open += advise_items(a, *fitting) ? 1 : 0;
      continue;
    }
    const bool same = in_use(a);
    open += same ? 0 : 1;
    auto* row = new QHBoxLayout;
    auto* text = parts::rich_label(qs(a.label).toHtmlEscaped() + ": <b>" +
                                   qs(format_value(a.value, a.dimension, bench_->units(), 3)).toHtmlEscaped() +
                                   "</b> <span style='color:" + theme::color(theme::Ink::quiet).name() + "'>" +
                                   qs(a.why).toHtmlEscaped() + "</span>");
    row->addWidget(text, 1);
    auto* use = parts::button(same ? "in use" : "Use", "use:" + qs(a.setting));
    use->setEnabled(!same);
    connect(use, &QPushButton::clicked, this, [this, spec = *field, a] {
      bench_->set_field(spec, qs(typed_value(a.value, a.dimension, bench_->units(), 3)));
    });
    row->addWidget(use, 0, Qt::AlignTop);
    advice_->addLayout(row);
  }
  use_all_->setVisible(open > 1);
}

}  // namespace fortitor
