#include "app/stages/setup_stage.h"

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
  pad_->setMinimumSize(380, 300);
  pad_->set_plan(&plan_);
  pad_->show_sketch(m.setup_sketch);
  path_layout->addWidget(pad_, 1);
  left_column->addWidget(path_sheet, 3);
  auto* advice_sheet = parts::sheet();
  auto* advice_outer = parts::column(advice_sheet, 12, 6);
  advice_outer->addWidget(parts::label("Advised", "heading"));
  advice_ = new QVBoxLayout;
  advice_->setSpacing(4);
  advice_outer->addLayout(advice_);
  advice_outer->addStretch();
  left_column->addWidget(advice_sheet, 2);
  outer->addWidget(left, 5);

  auto* middle = parts::sheet();
  auto* middle_layout = parts::column(middle, 14, 8);
  forms_.clear();
  auto form = [&](const QString& title, const std::vector<const FieldSpec*>& shown) {
    if (shown.empty()) return;
    middle_layout->addWidget(parts::label(title, forms_.empty() ? "heading" : "title"));
    forms_.push_back(new FieldForm(bench_));
    forms_.back()->show_fields(shown, 2);
    middle_layout->addWidget(forms_.back());
  };
  // First how it is driven, then the equipment, slot by slot.
  std::vector<const FieldSpec*> driven;
  std::set<std::string> in_slots;
  for (const EquipmentSlot& slot : m.equipment)
    for (const FieldSpec& f : slot.fields) in_slots.insert(f.path);
  auto wanted = [&](const FieldSpec& f) {
    return f.stage == stage_ && !pad_->holds(f.path) && f.kind != FieldKind::flag && field_applies(f, bench_->record());
  };
  for (const FieldSpec* f : fields_of_stage())
    if (wanted(*f) && in_slots.count(f->path) == 0) driven.push_back(f);
  form("Speed and stops", driven);
  for (const EquipmentSlot& slot : m.equipment) {
    std::vector<FieldSpec> fields;
    for (const FieldSpec& f : slot.fields)
      if (wanted(f)) fields.push_back(*m.field(f.path));
    for (FieldSpec& f : fields)
      if (f.label == slot.label) f.label = "Which one";  // its heading names it already
    std::vector<const FieldSpec*> shown;
    for (const FieldSpec& f : fields) shown.push_back(&f);
    form(qs(slot.label), shown);
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
    box->setAccessibleName(qs(item.text));
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
  for (FieldForm* f : forms_) f->refresh();
  for (const auto& [path, box] : checks_) box->setChecked(bench_->record().fields.flag(path));
  refresh_advice();
  parts::clear(missing_);
  const auto missing = bench_->progress()[size_t(Stage::set_up)].missing;
  start_->setEnabled(missing.empty());
  for (const auto& line : missing) missing_->addWidget(parts::label("◦  " + qs(line), "hint"));
  start_->setToolTip(missing.empty() ? "Everything that must be true is true." : qs(missing.front()));
}

void SetupStage::refresh_advice() {
  parts::clear(advice_);
  for (const std::string& line : plan_.warnings) advice_->addWidget(parts::label("△  " + qs(line), "caution"));
  for (const Advice& a : plan_.advice) {
    const FieldSpec* field = bench_->method().field(a.setting);
    if (field == nullptr) continue;
    const auto now = bench_->record().fields.number(a.setting);
    const bool same = now && std::abs(*now - a.value) <= 0.02 * std::abs(a.value);
    auto* row = new QHBoxLayout;
    auto* text = parts::label(qs(a.label) + ": <b>" + qs(format_value(a.value, a.dimension, bench_->units(), 3)) +
                              "</b> <span style='color:" + theme::color(theme::Ink::quiet).name() + "'>" + qs(a.why) +
                              "</span>");
    row->addWidget(text, 1);
    auto* use = parts::button(same ? "in use" : "Use", "use:" + qs(a.setting));
    use->setEnabled(!same);
    connect(use, &QPushButton::clicked, this, [this, spec = *field, a] {
      bench_->set_field(spec, qs(typed_value(a.value, a.dimension, bench_->units(), 3)));
    });
    row->addWidget(use, 0, Qt::AlignTop);
    advice_->addLayout(row);
  }
}

}  // namespace fortitor
