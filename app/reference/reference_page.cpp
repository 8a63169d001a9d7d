#include "app/reference/reference_page.h"

#include <QDir>
#include <QFileInfo>
#include <QHeaderView>
#include <QInputDialog>
#include <QLineEdit>
#include <QSaveFile>
#include <QTableWidget>

#include "app/figures/take_along.h"
#include "app/frame/desk_frame.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"
#include "core/quantity/plain.h"
#include "report/export.h"

namespace fortitor {
namespace {

using parts::qs;

enum Column { kProperty, kFirst, kSecond, kColumns };

constexpr const char* kGroups[] = {"metal", "polymer", "laminate", "wood"};

}  // namespace

ReferencePage::ReferencePage(Workbench* bench, QWidget* parent) : Desk(parent), bench_(bench) {
  const DeskFrame frame(this, "Reference values");
  auto* outer = frame.whole();
  auto* head = frame.head();
  for (const char* group : kGroups) {
    auto* b = parts::button(QString(group) + "s", QString("group:") + group);
    b->setCheckable(true);
    connect(b, &QPushButton::clicked, this, [this, group] {
      group_ = group;
      filter_->clear();
      refresh();
    });
    groups_.push_back(b);
    head->addWidget(b);
  }
  filter_ = new QLineEdit;
  filter_->setPlaceholderText(spoken("Material or family"));
  filter_->setAccessibleName(spoken("Filter"));
  filter_->setProperty("key", "reference-filter");
  head->addWidget(filter_, 1);
  auto* add = parts::button("New material…", "reference-add");
  head->addWidget(add);
  outer->addWidget(parts::label("Used for plausibility, planning and comparison, never for a result.", "quiet"));

  auto* row = frame.row();
  auto* sheet = parts::sheet();
  auto* column = parts::column(sheet, 1, 0);
  ranges_ = new ReferenceRanges;
  new TakeAlong(ranges_, "Reference values", [this] {
    const auto& all = reference_properties();
    std::string out = "material,family,source";
    for (const ReferenceProperty& p : all)
      out += "," + csv_cell(std::string(p.label) + ", " + std::string(internal_symbol(p.dimension)) + ", from") + ",to";
    out += "\n";
    for (const ReferenceMaterial& m : ranges_->materials()) {
      out += csv_cell(m.name) + "," + csv_cell(m.family) + "," + csv_cell(m.source);
      for (const ReferenceProperty& p : all) {
        const auto v = m.values.find(std::string(p.key));
        out += v == m.values.end() ? std::string(",,")
                                   : "," + plain::shortest(v->second.low) + "," + plain::shortest(v->second.high);
      }
      out += "\n";
    }
    return out;
  });
  none_ = parts::label("No material has that name. “New material…” enters it.", "quiet");
  none_->setContentsMargins(14, 14, 14, 14);
  scroll_ = parts::scroller(ranges_);
  column->addWidget(none_);
  column->addWidget(scroll_, 1);
  row->addWidget(sheet, 1);
  auto* side = parts::sheet();
  DeskFrame::side(side, 316);
  auto* detail = parts::column(side, 14, 8);
  name_ = parts::label("", "title");
  about_ = parts::label("", "quiet");
  detail->addWidget(name_);
  detail->addWidget(about_);
  table_ = new QTableWidget;
  table_->setProperty("key", "reference-table");
  table_->setAccessibleName(spoken("Values of the material"));
  table_->verticalHeader()->hide();
  table_->setShowGrid(false);
  table_->setWordWrap(true);
  detail->addWidget(table_, 1);
  detail->addWidget(
      parts::label("Type over a value, with its unit. What you change is kept in a file of your own and drawn in "
                   "blue.",
                   "hint"));
  source_ = parts::label("", "hint");
  detail->addWidget(source_);
  shipped_ = parts::button("Back to the shipped values", "reference-shipped");
  detail->addWidget(shipped_);
  row->addWidget(side);
  connect(filter_, &QLineEdit::textChanged, this, &ReferencePage::refresh);
  connect(ranges_, &ReferenceRanges::picked, this, [this](const QString& name) { pick(name.toStdString()); });
  connect(table_, &QTableWidget::itemChanged, this, &ReferencePage::changed);
  connect(add, &QPushButton::clicked, this, &ReferencePage::add_material);
  connect(shipped_, &QPushButton::clicked, this, &ReferencePage::back_to_shipped);
}

void ReferencePage::refresh() {
  const QString wanted = filter_->text().trimmed();
  auto matches = [&](const ReferenceMaterial& m) {
    QString all = qs(m.name + " " + m.family);
    for (const std::string& alias : m.aliases) all += " " + qs(alias);
    return all.contains(wanted, Qt::CaseInsensitive);
  };
  // Typing looks through all groups and shows the first that has it.
  const ReferenceShelf library = shelf();
  if (!wanted.isEmpty()) {
    auto any = [&](const std::string& group) {
      return std::any_of(library->begin(), library->end(),
                         [&](const auto& m) { return m.group == group && matches(m); });
    };
    if (!any(group_))
      for (const char* group : kGroups)
        if (any(group)) {
          group_ = group;
          break;
        }
  }
  std::vector<ReferenceMaterial> shown;
  for (const ReferenceMaterial& m : *library)
    if (m.group == group_ && (wanted.isEmpty() || matches(m))) shown.push_back(m);
  for (size_t i = 0; i < groups_.size(); ++i) groups_[i]->setChecked(group_ == kGroups[i]);
  if (std::none_of(shown.begin(), shown.end(), [&](const auto& m) { return m.name == material_; }))
    material_ = shown.empty() ? std::string() : shown.front().name;
  none_->setVisible(shown.empty());
  scroll_->setVisible(!shown.empty());
  ranges_->show_materials(std::move(shown), bench_->units());
  pick(material_);
}

void ReferencePage::pick(const std::string& material) {
  material_ = material;
  ranges_->select(material);
  const QRect at = ranges_->row_of(material);
  scroll_->ensureVisible(at.left(), at.center().y(), 0, at.height());
  show_material();
}

const ReferenceMaterial* ReferencePage::in_hand() const {
  for (const ReferenceMaterial& m : ranges_->materials())
    if (m.name == material_) return &m;
  return nullptr;
}

void ReferencePage::show_material() {
  filling_ = true;
  properties_.clear();
  table_->clear();
  table_->setColumnCount(kColumns);
  table_->setHorizontalHeaderLabels({spoken("Property"), spoken("low, or mean"), spoken("high, or spread")});
  const ReferenceMaterial* m = in_hand();
  name_->setText(m == nullptr ? QString() : qs(m->name));
  QString about = m == nullptr ? QString() : qs(m->family);
  if (m != nullptr && !m->aliases.empty()) {
    about += ", also";
    for (size_t i = 0; i < m->aliases.size(); ++i) about += (i > 0 ? ", " : " ") + qs(m->aliases[i]);
  }
  about_->setText(spoken(about));
  source_->setText(
      spoken(m == nullptr || m->source.empty() ? QString() : (m->own ? "Yours: " : "Source: ") + qs(m->source)));
  shipped_->setVisible(m != nullptr && m->own);
  table_->setRowCount(m == nullptr ? 0 : int(m->values.size()));
  int r = 0;
  for (const ReferenceProperty& p : reference_properties()) {
    const auto it =
        m == nullptr ? std::map<std::string, ReferenceValue>::const_iterator{} : m->values.find(std::string(p.key));
    if (m == nullptr || it == m->values.end()) continue;
    const ReferenceValue& v = it->second;
    properties_.push_back(std::string(p.key));
    const QString texts[] = {spoken(qs(p.label)), qs(v.typed_first), (v.from_spread ? "± " : "") + qs(v.typed_second)};
    for (int c = 0; c < kColumns; ++c) {
      auto* item = new QTableWidgetItem(texts[c]);
      if (c == kProperty) item->setFlags(item->flags() & ~Qt::ItemIsEditable);
      if (c != kProperty) {
        item->setFont(theme::numbers(12));
        item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
      }
      if (m->own) item->setForeground(theme::color(theme::Ink::action));
      table_->setItem(r, c, item);
    }
    ++r;
  }
  // With large text the names break into lines before the values leave the card.
  table_->horizontalHeader()->setSectionResizeMode(theme::scale() > 1.2 ? QHeaderView::Stretch
                                                                        : QHeaderView::ResizeToContents);
  table_->horizontalHeader()->setSectionResizeMode(kProperty, QHeaderView::Stretch);
  table_->resizeRowsToContents();
  filling_ = false;
}

ReferenceShelf ReferencePage::shelf() const {
  return bench_->shelf() ? bench_->shelf() : shipped_reference();
}

std::vector<ReferenceMaterial> ReferencePage::own() const {
  std::vector<ReferenceMaterial> out;
  for (const ReferenceMaterial& m : *shelf())
    if (m.own) out.push_back(m);
  return out;
}

bool ReferencePage::keep(std::vector<ReferenceMaterial> mine) {
  const std::string text = write_reference(mine);
  auto read = read_reference(text);  // the same door as a file: what is refused there is refused here
  if (!read) {
    bench_->say(qs(read.error().message) + ". Nothing was changed.");
    return false;
  }
  const QString path = qs(own_reference_path());
  QDir().mkpath(QFileInfo(path).absolutePath());
  QSaveFile file(path);
  if (path.isEmpty() || !file.open(QIODevice::WriteOnly) || file.write(QByteArray::fromStdString(text)) < 0 ||
      !file.commit()) {
    bench_->say("Your reference values could not be written to " + path + ". Nothing was changed.");
    return false;
  }
  bench_->use_shelf(with_own_reference(std::move(*read)));
  bench_->say("");
  return true;
}

void ReferencePage::changed(QTableWidgetItem* item) {
  if (filling_ || item->row() >= int(properties_.size())) return;
  auto mine = own();
  auto it = std::find_if(mine.begin(), mine.end(), [&](const auto& m) { return m.name == material_; });
  if (it == mine.end()) {
    for (const ReferenceMaterial& m : *shelf())
      if (m.name == material_) mine.push_back(m);
    it = mine.end() - 1;
    it->source += "; changed by " + bench_->book()->operator_name();
  }
  ReferenceValue& v = it->values[properties_[size_t(item->row())]];
  QString typed = item->text().trimmed();
  if (item->column() == kFirst) v.typed_first = typed.toStdString();
  if (item->column() == kSecond) {
    if (typed.startsWith("±")) typed = typed.mid(1).trimmed();
    v.typed_second = typed.toStdString();
  }
  keep(std::move(mine));
  refresh();
}

void ReferencePage::add_material() {
  bool ok = false;
  const QString name = QInputDialog::getText(this, spoken("New material"),
                                             spoken("Designation of the material, as you type it at Prepare"),
                                             QLineEdit::Normal, filter_->text(), &ok)
                           .trimmed();
  if (!ok || name.isEmpty()) return;
  auto mine = own();
  ReferenceMaterial m;
  m.name = name.toStdString();
  m.group = "metal";
  m.source = "entered by " + bench_->book()->operator_name();
  for (const auto& [key, low, high] : {std::tuple{"e_modulus", "200 GPa", "215 GPa"}, {"rm", "300 MPa", "600 MPa"}}) {
    ReferenceValue v;
    v.typed_first = low;
    v.typed_second = high;
    m.values[key] = v;
  }
  mine.push_back(m);
  if (keep(std::move(mine))) {
    material_ = name.toStdString();
    filter_->setText(name);
  }
  refresh();
}

void ReferencePage::back_to_shipped() {
  auto mine = own();
  std::erase_if(mine, [&](const auto& m) { return m.name == material_; });
  keep(std::move(mine));
  refresh();
}

}  // namespace fortitor
