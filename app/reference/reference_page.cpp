#include "app/reference/reference_page.h"

#include <QDir>
#include <QFileInfo>
#include <QHeaderView>
#include <QInputDialog>
#include <QLineEdit>
#include <QSaveFile>
#include <QTableWidget>

#include "app/theme/parts.h"
#include "app/theme/theme.h"

namespace fortitor {
namespace {

using parts::qs;

enum Column { kMaterial, kGroup, kProperty, kFirst, kSecond, kSource, kColumns };

const ReferenceProperty* property_of(const std::string& key) {
  for (const ReferenceProperty& p : reference_properties())
    if (p.key == key) return &p;
  return nullptr;
}

}  // namespace

ReferencePage::ReferencePage(Workbench* bench, QWidget* parent) : Desk(parent), bench_(bench) {
  setObjectName("page");
  auto* outer = parts::column(this, 0, 10);
  auto* head = new QHBoxLayout;
  head->addWidget(parts::label("Reference values", "heading"));
  filter_ = new QLineEdit;
  filter_->setPlaceholderText("Material, group or property");
  filter_->setAccessibleName("Filter");
  filter_->setProperty("key", "reference-filter");
  head->addWidget(filter_, 1);
  auto* add = parts::button("New material…", "reference-add");
  shipped_ = parts::button("Back to the shipped values", "reference-shipped");
  head->addWidget(add);
  head->addWidget(shipped_);
  outer->addLayout(head);
  outer->addWidget(
      parts::label("Used for plausibility, planning and comparison, never for a result. A value is a range from low to "
                   "high, or a mean with its spread "
                   "(CV). Change a value by typing over it, with its unit; what you change is kept in a file of your "
                   "own and marked.",
                   "quiet"));
  auto* sheet = parts::sheet();
  auto* column = parts::column(sheet, 1, 0);
  table_ = new QTableWidget;
  table_->setProperty("key", "reference-table");
  table_->setAccessibleName("Reference values");
  table_->verticalHeader()->hide();
  table_->setShowGrid(false);
  column->addWidget(table_);
  outer->addWidget(sheet, 1);
  connect(filter_, &QLineEdit::textChanged, this, &ReferencePage::refresh);
  connect(table_, &QTableWidget::itemChanged, this, &ReferencePage::changed);
  connect(add, &QPushButton::clicked, this, &ReferencePage::add_material);
  connect(shipped_, &QPushButton::clicked, this, &ReferencePage::back_to_shipped);
}

void ReferencePage::refresh() {
  filling_ = true;
  rows_.clear();
  table_->clear();
  table_->setColumnCount(kColumns);
  table_->setHorizontalHeaderLabels({"Material", "Group", "Property", "low, or mean", "high, or spread", "Source"});
  const QString wanted = filter_->text().trimmed();
  const ReferenceLibrary library = reference_library();
  std::vector<std::array<QString, kColumns>> texts;
  for (const ReferenceMaterial& m : *library)
    for (const auto& [key, v] : m.values) {
      const ReferenceProperty* p = property_of(key);
      const QString all = qs(m.name + " " + m.group + " " + m.family + " ") + qs(p->label);
      if (!wanted.isEmpty() && !all.contains(wanted, Qt::CaseInsensitive)) continue;
      rows_.push_back({m.name, key, m.own});
      texts.push_back({qs(m.name), qs(m.group), qs(p->label), (v.from_spread ? "" : "") + qs(v.typed_first),
                       (v.from_spread ? "± " : "") + qs(v.typed_second), (m.own ? "own: " : "") + qs(m.source)});
    }
  table_->setRowCount(int(rows_.size()));
  for (size_t r = 0; r < rows_.size(); ++r)
    for (int c = 0; c < kColumns; ++c) {
      auto* item = new QTableWidgetItem(texts[r][size_t(c)]);
      const bool editable = c == kFirst || c == kSecond || (c == kSource && rows_[r].own);
      if (!editable) item->setFlags(item->flags() & ~Qt::ItemIsEditable);
      if (c == kFirst || c == kSecond) {
        item->setFont(theme::numbers(13));
        item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
      }
      if (rows_[r].own) item->setForeground(theme::color(theme::Ink::action));
      table_->setItem(int(r), c, item);
    }
  table_->resizeColumnsToContents();
  table_->horizontalHeader()->setSectionResizeMode(kSource, QHeaderView::Stretch);
  shipped_->setEnabled(!own().empty());
  filling_ = false;
}

std::vector<ReferenceMaterial> ReferencePage::own() const {
  std::vector<ReferenceMaterial> out;
  for (const ReferenceMaterial& m : *reference_library())
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
  use_own_reference(std::move(*read));
  bench_->say("");
  return true;
}

void ReferencePage::changed(QTableWidgetItem* item) {
  if (filling_ || item->row() >= int(rows_.size())) return;
  const Row row = rows_[size_t(item->row())];
  auto mine = own();
  auto it = std::find_if(mine.begin(), mine.end(), [&](const auto& m) { return m.name == row.material; });
  if (it == mine.end()) {
    for (const ReferenceMaterial& m : *reference_library())
      if (m.name == row.material) mine.push_back(m);
    it = mine.end() - 1;
    it->source += "; changed by " + bench_->book()->operator_name();
  }
  ReferenceValue& v = it->values[row.property];
  std::string typed = item->text().trimmed().toStdString();
  if (item->column() == kFirst) v.typed_first = typed;
  if (item->column() == kSecond) {
    if (typed.rfind("±", 0) == 0) typed = QString::fromStdString(typed).mid(1).trimmed().toStdString();
    v.typed_second = typed;
  }
  if (item->column() == kSource) it->source = item->text().startsWith("own: ") ? typed.substr(5) : typed;
  keep(std::move(mine));
  refresh();
}

void ReferencePage::add_material() {
  bool ok = false;
  const QString name =
      QInputDialog::getText(this, "New material", "Designation of the material, as you type it at Prepare",
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
  if (keep(std::move(mine))) filter_->setText(name);
  refresh();
}

void ReferencePage::back_to_shipped() {
  const int row = table_->currentRow();
  auto mine = own();
  if (row >= 0 && row < int(rows_.size()) && rows_[size_t(row)].own) {
    std::erase_if(mine, [&](const auto& m) { return m.name == rows_[size_t(row)].material; });
    keep(std::move(mine));
    return refresh();
  }
  bench_->say("Choose one of your own values first; they are drawn in blue.");
}

}  // namespace fortitor
