#include "app/callout/paste_panel.h"

#include <QApplication>
#include <QClipboard>
#include <QDragEnterEvent>
#include <QFile>
#include <QFileDialog>
#include <QFileInfo>
#include <QHeaderView>
#include <QKeyEvent>
#include <QMimeData>
#include <QStringDecoder>
#include <QTableWidget>

#include "app/stages/field_edit.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"
#include "core/json/json.h"
#include "core/record/machine_file.h"

namespace fortitor {
namespace {

using parts::qs;

constexpr int kPreview = 200;  // rows that are shown; the rest is counted

std::vector<const FieldSpec*> choices_of(const TableSpec& table) {
  std::vector<const FieldSpec*> out;
  if (table.control) out.push_back(&*table.control);
  for (const FieldSpec& c : table.columns) out.push_back(&c);
  return out;
}

// A text that somebody may have typed; nothing for what is longer, or is no text.
std::optional<std::string> text_of(const QString& path) {
  constexpr qint64 kLongest = 4'000'000;
  QFile file(path);
  if (!QFileInfo(path).isFile() || file.size() > kLongest || !file.open(QIODevice::ReadOnly)) return std::nullopt;
  const QByteArray bytes = file.readAll();
  if (bytes.contains('\0')) return std::nullopt;
  auto decoder = QStringDecoder(QStringDecoder::Utf8);
  const QString text = decoder(bytes);
  return (decoder.hasError() ? QString::fromLatin1(bytes) : text).toStdString();
}

}  // namespace

PastePanel::PastePanel(Workbench* bench, QWidget* parent) : QWidget(parent), bench_(bench) {
  setAcceptDrops(true);
  setFocusPolicy(Qt::StrongFocus);
  auto* outer = new QHBoxLayout(this);
  outer->setContentsMargins(0, 0, 0, 0);
  outer->setSpacing(12);
  auto* left = parts::sheet();
  auto* column = parts::column(left, 16, 8);
  column->addWidget(parts::label("A table of readings", "heading"));
  status_ = parts::label("", "quiet");
  column->addWidget(status_);
  auto* ways = new QHBoxLayout;
  auto* paste = parts::button("Paste", "table-paste");
  paste->setToolTip(spoken("Ctrl V: cells out of a spreadsheet."));
  auto* file = parts::button("Choose a file…", "table-file");
  ways->addWidget(paste);
  ways->addWidget(file);
  ways->addStretch();
  column->addLayout(ways);
  auto* content = new QWidget;
  content->setObjectName("plain");
  grid_ = new QGridLayout(content);
  grid_->setContentsMargins(0, 0, 6, 0);
  grid_->setHorizontalSpacing(8);
  grid_->setVerticalSpacing(6);
  column->addWidget(parts::scroller(content), 1);
  problem_ = parts::label("", "error");
  column->addWidget(problem_);
  keep_ = parts::button("Keep", "table-keep", "primary");
  column->addWidget(keep_);
  outer->addWidget(left, 4);
  auto* right = parts::sheet();
  auto* right_column = parts::column(right, 12, 6);
  right_column->addWidget(parts::label("As they would be keyed", "title"));
  shown_ = new QTableWidget;
  shown_->setEditTriggers(QAbstractItemView::NoEditTriggers);
  shown_->setAccessibleName(spoken("Rows that were read"));
  right_column->addWidget(shown_, 1);
  nothing_ = parts::label("The rows stand here before they are kept.", "quiet");
  right_column->addWidget(nothing_);
  right_column->addStretch();
  outer->addWidget(right, 5);
  connect(paste, &QPushButton::clicked, this, [this] { take(QApplication::clipboard()->text()); });
  connect(file, &QPushButton::clicked, this, [this] {
    const QString path = QFileDialog::getOpenFileName(this, spoken("A table of readings"));
    if (!path.isEmpty()) open(path);
  });
  connect(keep_, &QPushButton::clicked, this, &PastePanel::keep);
}

TableSpec PastePanel::table() const {
  return bench_->method().keyed_table()->for_record(bench_->record());
}

void PastePanel::rebuild() {
  show_table({});
}

void PastePanel::keyPressEvent(QKeyEvent* event) {
  if (event->matches(QKeySequence::Paste)) return take(QApplication::clipboard()->text());
  QWidget::keyPressEvent(event);
}

void PastePanel::dragEnterEvent(QDragEnterEvent* event) {
  if (event->mimeData()->hasUrls() || event->mimeData()->hasText()) event->acceptProposedAction();
}

void PastePanel::dropEvent(QDropEvent* event) {
  event->acceptProposedAction();
  const auto urls = event->mimeData()->urls();
  if (!urls.isEmpty())
    open(urls.first().toLocalFile());
  else
    take(event->mimeData()->text());
}

void PastePanel::take(const QString& text) {
  auto table = read_pasted(text.toStdString());
  if (!table) {
    problem_->setText(spoken(qs(table.error().message)));
    return;
  }
  show_table(std::move(*table));
  setFocus();
}

void PastePanel::open(const QString& path) {
  const auto came = std::make_shared<Outcome<PastedTable>>(InputError{"Stopped. The file is untouched.", {}});
  const auto tell = [this, came] {
    if (*came)
      show_table(std::move(**came));
    else
      problem_->setText(spoken(qs(came->error().message)));
    emit read();
  };
  bench_->tasks().run(
      "Reading the file " + QFileInfo(path).fileName(), this,
      [path, came](Task& task) {
        // Cells of a text are kept as typed; a workbook has numbers only.
        if (const auto text = text_of(path)) {
          *came = read_pasted(*text);
          return;
        }
        auto file = read_machine_file(path.toStdString(), [&](double) { return !task.stopped(); });
        if (!file)
          *came = file.error();
        else if (file->blocks.size() > 1)
          *came = InputError{"The file holds several tables: copy the one that is meant and paste it.", {}};
        else
          *came = pasted_of(file->blocks.front().table);
      },
      tell, tell);
}

void PastePanel::show_table(PastedTable pasted) {
  pasted_ = std::move(pasted);
  parts::clear(grid_);
  lines_.clear();
  problem_->clear();
  if (!bench_->has_specimen() || bench_->method().keyed_table() == nullptr) return;
  const TableSpec of = table();
  if (pasted_.empty()) {
    status_->setText(
        spoken("Copy the cells out of a spreadsheet and press Ctrl V here, or drop a file: a row for each " +
               qs(of.row) + ", with a line of names above or without."));
    return preview();
  }
  std::vector<PastedUse> guess = guess_use(pasted_, of);
  bool remembered = false;
  if (const auto kept = bench_->book()->mapping(signature_of(pasted_) + "|" + bench_->method().id)) {
    const auto j = Json::read(*kept);
    if (j.is_array() && j.size() == guess.size()) {
      remembered = true;
      for (size_t i = 0; i < guess.size(); ++i) guess[i] = {j[i].value("column", ""), j[i].value("unit", "")};
    }
  }
  status_->setText(
      spoken(QString::number(pasted_.cells.size()) + (pasted_.cells.size() == 1 ? " row. " : " rows. ") +
             (remembered ? "Columns as last time." : "Columns by their names and units: look at what was read.")));
  int place = 0;
  for (const char* h : {"column", "is", "unit"}) grid_->addWidget(parts::label(h, "hint"), 0, place++);
  for (size_t i = 0; i < guess.size(); ++i) {
    Line l{new QComboBox, new QLineEdit};
    l.column->addItem(spoken("left out"), "");
    for (const FieldSpec* c : choices_of(of)) l.column->addItem(spoken(qs(c->label)), qs(c->path));
    l.column->setCurrentIndex(std::max(0, l.column->findData(qs(guess[i].column))));
    l.column->setProperty("key", QString("table-is-%1").arg(i));
    l.unit->setObjectName("number");
    l.unit->setFixedWidth(int(64 * theme::scale()));
    l.unit->setText(qs(guess[i].unit.empty() ? pasted_.units[i] : guess[i].unit));
    l.unit->setProperty("key", QString("table-unit-%1").arg(i));
    const QString name = pasted_.names[i].empty() ? QString("column %1").arg(i + 1) : qs(pasted_.names[i]);
    l.column->setAccessibleName(spoken(name + " is"));
    l.unit->setAccessibleName(spoken("Unit of " + name));
    connect(l.column, &QComboBox::activated, this, &PastePanel::preview);
    connect(l.unit, &QLineEdit::editingFinished, this, &PastePanel::preview);
    grid_->addWidget(parts::label(name), int(i) + 1, 0);
    grid_->addWidget(l.column, int(i) + 1, 1);
    grid_->addWidget(l.unit, int(i) + 1, 2);
    lines_.push_back(l);
  }
  grid_->setRowStretch(int(guess.size()) + 1, 1);
  preview();
}

std::vector<PastedUse> PastePanel::use() const {
  std::vector<PastedUse> out;
  for (const Line& l : lines_)
    out.push_back({l.column->currentData().toString().toStdString(), l.unit->text().trimmed().toStdString()});
  return out;
}

void PastePanel::preview() {
  rows_.clear();
  shown_->clear();
  shown_->setRowCount(0);
  shown_->setColumnCount(0);
  keep_->setEnabled(false);
  keep_->setText(spoken("Keep"));
  shown_->setVisible(!pasted_.empty());
  nothing_->setVisible(pasted_.empty());
  if (pasted_.empty()) return;
  const TableSpec of = table();
  auto rows = rows_of(pasted_, use(), of, bench_->units());
  problem_->setText(spoken(rows ? QString() : qs(rows.error().message) + "."));
  if (!rows) return;
  rows_ = std::move(*rows);
  std::vector<const FieldSpec*> used;
  for (const FieldSpec* c : choices_of(of))
    if (std::any_of(rows_.begin(), rows_.end(), [&](const Row& r) { return r.has(c->path); })) used.push_back(c);
  const int n = std::min<int>(kPreview, int(rows_.size()));
  shown_->setColumnCount(int(used.size()));
  shown_->setRowCount(n);
  QStringList names;
  for (size_t c = 0; c < used.size(); ++c) {
    names << qs(used[c]->label);
    for (int r = 0; r < n; ++r) {
      auto* cell = new QTableWidgetItem(spoken(shown_field(rows_[size_t(r)].cells, *used[c], bench_->units())));
      cell->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);  // digits stand under digits
      cell->setFont(theme::numbers(13));
      shown_->setItem(r, int(c), cell);
    }
  }
  for (QString& name : names) name = spoken(name);
  shown_->setHorizontalHeaderLabels(names);
  shown_->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
  const size_t before = bench_->record().run.rows(of.id).size();
  keep_->setText(spoken("Keep " + QString::number(rows_.size()) + " " + qs(of.row) + (rows_.size() == 1 ? "" : "s") +
                        (before > 0 ? " behind the " + QString::number(before) + " there are" : QString())));
  keep_->setEnabled(true);
}

void PastePanel::keep() {
  if (rows_.empty()) return;
  const TableSpec of = table();
  Json memory = Json::array();
  for (const PastedUse& u : use()) memory.push_back({{"column", u.column}, {"unit", u.unit}});
  const auto remembered =
      bench_->book()->remember_mapping(signature_of(pasted_) + "|" + bench_->method().id, memory.dump());
  const size_t before = bench_->record().run.rows(of.id).size();
  bench_->keep_raw(QString::number(rows_.size()) + " " + qs(of.row) + "s out of a table",
                   [&](TestRecord& r) { append_rows(r, of, rows_); });
  if (bench_->record().run.rows(of.id).size() != before + rows_.size()) return;  // refused, and said
  bench_->say(remembered ? QString::number(rows_.size()) + " " + qs(of.row) + "s kept."
                         : qs(remembered.error().message));
  show_table({});
  emit kept();
}

}  // namespace fortitor
