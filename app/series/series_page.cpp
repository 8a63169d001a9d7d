#include "app/series/series_page.h"

#include <QAction>
#include <QApplication>
#include <QClipboard>
#include <QComboBox>
#include <QFileDialog>
#include <QHeaderView>
#include <QInputDialog>
#include <QMenu>
#include <QPointer>
#include <QTableWidget>
#include <set>

#include "app/frame/desk_frame.h"
#include "app/series/series_columns.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"
#include "report/series_report.h"

namespace fortitor {
namespace {

using parts::qs;

constexpr int kId = 0, kValue = 1, kFirstTick = 2;

std::vector<const FieldSpec*> suspects_of(const Method& m) {
  std::vector<const FieldSpec*> out;
  for (const FieldSpec& f : m.fields)
    if (!m.series.suspects_path.empty() &&
        f.path.compare(0, m.series.suspects_path.size(), m.series.suspects_path) == 0)
      out.push_back(&f);
  return out;
}

Outcome<Done> write_series(const SeriesView& view, UnitSet units, const QString& path) {
  SeriesReport r;
  r.method = view.method;
  r.title = view.settings.series;
  r.job = view.job;
  r.key = view.key;
  for (size_t i = 0; i < view.records.size(); ++i) r.pieces.push_back({&view.records[i], &view.evaluations[i]});
  r.settings = view.settings;
  r.judged = view.judged;
  r.units = units;
  return write_series_report(r, path.toStdString());
}

}  // namespace

SeriesPage::SeriesPage(Workbench* bench, QWidget* parent) : Desk(parent), bench_(bench) {
  const DeskFrame frame(this, "");
  auto* outer = frame.whole();
  auto* head = frame.head();
  title_ = frame.name();
  title_->setWordWrap(true);
  head->setStretchFactor(title_, 1);
  auto* common = parts::button("What holds for all…", "series-common");
  common->setToolTip(spoken("Material, limits, equipment, speed and rule, typed once for every piece."));
  connect(common, &QPushButton::clicked, this, [this] {
    if (view_.series != 0) emit desk_wanted("common", view_.series, -1);
  });
  head->addWidget(common);
  auto* columns = parts::button("Columns…", "series-columns");
  columns->setToolTip(spoken("Further results in the table of pieces; remembered for the method."));
  auto* menu = new QMenu(columns);
  connect(menu, &QMenu::aboutToShow, this, [this, menu] {
    if (view_.method == nullptr) return;
    series_columns::fill(menu, *view_.method, view_.evaluations, view_.key, [this] { fill_table(); });
  });
  columns->setMenu(menu);
  head->addWidget(columns);
  auto* report = parts::button("Series report…", "series-report");
  head->addWidget(report);
  connect(report, &QPushButton::clicked, this, &SeriesPage::save_report);
  head_ = new SeriesHead;
  outer->addWidget(head_);
  connect(head_, &SeriesHead::chosen, this, &SeriesPage::choose);

  auto* row = frame.row(9);
  auto* numbers = parts::sheet();
  auto* numbers_column = parts::column(numbers, 14, 6);
  numbers_ = new QVBoxLayout;
  numbers_->setSpacing(5);
  numbers_column->addLayout(numbers_);
  numbers_column->addStretch();
  auto* numbers_area = parts::scroller(numbers);
  DeskFrame::side(numbers_area, 278);
  row->addWidget(numbers_area);
  auto* figure = parts::sheet();
  auto* figure_column = parts::column(figure, 10, 4);
  tabs_ = new FigureTabs;
  figure_column->addWidget(tabs_);
  connect(tabs_, &FigureTabs::picked, this, &SeriesPage::show_figure);
  figure_ = new FigureView;
  figure_column->addWidget(figure_, 1);
  row->addWidget(figure, 1);
  auto* words = parts::sheet();
  auto* words_column = parts::column(words, 14, 8);
  words_column->addWidget(parts::label("What stands out", "title"));
  words_ = new QVBoxLayout;
  words_->setSpacing(8);
  words_column->addLayout(words_);
  words_column->addStretch();
  auto* words_area = parts::scroller(words);
  DeskFrame::side(words_area, 264);
  row->addWidget(words_area);

  auto* sheet = parts::sheet();
  auto* column = parts::column(sheet, 1, 0);
  table_ = new QTableWidget;
  table_->setProperty("key", "series-table");
  table_->setAccessibleName(spoken("Pieces of the series"));
  table_->verticalHeader()->hide();
  table_->setShowGrid(false);
  table_->setSelectionBehavior(QAbstractItemView::SelectRows);
  column->addWidget(table_);
  outer->addWidget(sheet, 6);
  outer->addWidget(
      parts::label("Space ticks a suspect. A piece is left out of the numbers only with a physical reason typed in. "
                   "Ctrl Shift C copies the table. Double click opens the piece.",
                   "hint"));
  connect(table_, &QTableWidget::itemChanged, this, &SeriesPage::changed);
  connect(table_, &QTableWidget::cellDoubleClicked, this, [this](int r, int c) {
    if (c == kId && r < int(view_.specimens.size()))
      emit desk_wanted("specimen", view_.specimens[size_t(r)], int(Stage::evaluate));
  });
  auto* copy_action = new QAction("Copy the table", this);
  copy_action->setShortcut(QKeySequence("Ctrl+Shift+C"));
  copy_action->setShortcutContext(Qt::WidgetWithChildrenShortcut);
  addAction(copy_action);
  connect(copy_action, &QAction::triggered, this, &SeriesPage::copy);
  connect(bench, &Workbench::units_changed, this, [this] {
    if (!isVisible() || view_.method == nullptr) return;
    fill_table();
    fill_numbers();
    show_figure();
  });
}

void SeriesPage::show_series(Id series, const std::string& wanted) {
  const auto view = series_by_name(*bench_->book(), series);
  if (!view) return;
  title_->setText(qs(view->job) + "  ›  " + qs(view->title));
  const quint64 ticket = ++ticket_;
  if (task_) bench_->tasks().cancel(task_);  // what was asked before is outdated
  task_ = bench_->tasks().run(
      "Evaluating the pieces of " + qs(view->title), this,
      [view, wanted, path = bench_->book()->path()](Task& task) {
        read_series(*view, path, wanted, task);
        if (!task.stopped()) judge_series(*view, task);
      },
      [this, ticket, view] { take(ticket, view); });
}

// What a series is looked at by is a setting of it: it is there again tomorrow.
void SeriesPage::choose(const QString& path, const QString& value) {
  const std::string at = path.toStdString(), now = value.toStdString();
  if (view_.method == nullptr || now == (at == "settings.result" ? view_.key : view_.settings.fields.text(at))) return;
  const TestRecord was = view_.settings;
  const std::string before = view_.settings.fields.text(at);
  if (now.empty())
    view_.settings.fields.erase(at);
  else
    view_.settings.fields.set(at, now);
  const FieldSpec* field = nullptr;
  const Schema schema = series_schema(*view_.method);
  for (const FieldSpec& f : schema.fields)
    if (f.path == at) field = &f;
  const std::string what = "series: " + (field ? field->label : at) + (now.empty() ? " not given" : " " + now) +
                           (before.empty() ? "" : ", was " + before);
  keep(was, what);
  show_series(view_.series);
}

// The settings as they are now, as a step that can be taken back.
void SeriesPage::keep(const TestRecord& was, const std::string& what) {
  const Id series = view_.series;
  if (const auto saved = bench_->book()->save_series_record(series, view_.settings, what); !saved)
    return bench_->say(qs(saved.error().message));
  bench_->push_step(qs(what),
                    [bench = bench_, page = QPointer<SeriesPage>(this), series, was, now = view_.settings](
                        bool back, const QString& words) -> Outcome<Done> {
                      const auto kept = bench->book()->series_record(series);
                      if (!kept) return kept.error();
                      if (!(kept->fields == (back ? now : was).fields))
                        return InputError{"The series was changed since in another way: nothing was undone.", {}};
                      const auto saved =
                          bench->book()->save_series_record(series, back ? was : now, words.toStdString());
                      if (saved && !page.isNull() && page->isVisible() && page->view_.series == series)
                        page->show_series(series);
                      return saved;
                    });
}

void SeriesPage::show_figure() {
  if (tabs_->empty())
    figure_->show_nothing("The histogram grows with the pieces.");
  else
    figure_->show_figure(tabs_->chosen(), bench_->units());
}

void SeriesPage::take(quint64 ticket, const std::shared_ptr<SeriesView>& view) {
  if (ticket != ticket_) return;
  if (!view->unread.empty())
    bench_->say(qs(view->unread.front()) +
                (view->unread.size() > 1 ? QString(" (and %1 more)").arg(view->unread.size() - 1) : QString()));
  view_ = std::move(*view);
  head_->show_view(view_);
  tabs_->show_figures(view_.judged.figures);
  fill_table();
  fill_numbers();
  fill_words();
  show_figure();
  emit shown();
}

void SeriesPage::answer_outlier(const Finding& finding) {
  bool ok = false;
  const QString reason =
      QInputDialog::getText(this, spoken("It stays in"), spoken("Why it counts:"), QLineEdit::Normal, {}, &ok)
          .trimmed();
  if (!ok || reason.isEmpty()) return;
  const TestRecord was = view_.settings;
  std::erase_if(view_.settings.answers, [&](const Answer& a) { return a.code == finding.code; });
  view_.settings.answers.push_back(
      {finding.code, "accept", reason.toStdString(), bench_->book()->operator_name(), bench_->clock().utc()});
  keep(was, "answered " + finding.code);
  show_series(view_.series);
}

void SeriesPage::fill_table() {
  filling_ = true;
  const auto suspects = suspects_of(*view_.method);
  const int last = kFirstTick + int(suspects.size());
  table_->clear();
  table_->setRowCount(int(view_.records.size()));
  table_->setColumnCount(last + 1);
  QStringList heads{"Piece", qs(plain_symbol(view_.method->result(view_.key)->symbol))};
  std::set<size_t> apart;
  for (const Finding& f : view_.judged.findings)
    if (f.code == "outlier") apart.insert(size_t(f.evidence.at("piece")));
  for (const FieldSpec* f : suspects) heads << qs(f->label);
  heads << "left out because";
  for (QString& head : heads) head = spoken(head);
  table_->setHorizontalHeaderLabels(heads);
  for (size_t i = 0; i < view_.records.size(); ++i) {
    const TestRecord& record = view_.records[i];
    const Evaluation& e = view_.evaluations[i];
    const int row = int(i);
    auto* id = new QTableWidgetItem(qs(record.specimen_id()));
    id->setFlags(id->flags() & ~Qt::ItemIsEditable);
    table_->setItem(row, kId, id);
    const bool void_test = e.verdict == Verdict::void_test;
    QString text = qs(piece_words({&record, &e}, view_.key, bench_->units()));
    if (void_test) text += "  void";
    auto* value = new QTableWidgetItem(spoken(text));
    value->setFlags(value->flags() & ~Qt::ItemIsEditable);
    value->setFont(theme::numbers(13, QFont::Bold));
    value->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
    const ResultValue* result = e.find(view_.key);
    const Verdict verdict = void_test ? e.verdict : result != nullptr ? result->verdict : Verdict::none;
    const bool flagged = apart.count(i) != 0;
    if (flagged || verdict != Verdict::none)
      value->setForeground(flagged ? theme::color(theme::Ink::near) : theme::verdict_color(verdict));
    if (void_test) value->setToolTip(spoken(qs(e.verdict_reason)));
    table_->setItem(row, kValue, value);
    for (size_t k = 0; k < suspects.size(); ++k) {
      auto* tick = new QTableWidgetItem;
      tick->setFlags(Qt::ItemIsUserCheckable | Qt::ItemIsEnabled | Qt::ItemIsSelectable);
      tick->setCheckState(record.fields.flag(suspects[k]->path) ? Qt::Checked : Qt::Unchecked);
      tick->setData(Qt::AccessibleTextRole, qs(suspects[k]->label));
      table_->setItem(row, kFirstTick + int(k), tick);
    }
    table_->setItem(row, last, new QTableWidgetItem(qs(record.fields.text("settings.series.left_out"))));
  }
  series_columns::show(table_, last + 1, *view_.method, view_.records, view_.evaluations, bench_->units(), view_.key);
  table_->resizeColumnsToContents();
  table_->horizontalHeader()->setSectionResizeMode(QHeaderView::Interactive);
  table_->horizontalHeader()->setSectionResizeMode(last, QHeaderView::Stretch);
  table_->horizontalHeader()->setDefaultAlignment(Qt::AlignLeft | Qt::AlignVCenter);
  filling_ = false;
}

void SeriesPage::changed(QTableWidgetItem* item) {
  if (filling_ || item->row() >= int(view_.specimens.size())) return;
  const auto suspects = suspects_of(*view_.method);
  const int k = item->column() - kFirstTick;
  const Id id = view_.specimens[size_t(item->row())];
  const QString piece = qs(view_.records[size_t(item->row())].specimen_id());
  const auto again = [this, page = QPointer<SeriesPage>(this), series = view_.series] {
    if (!page.isNull() && view_.series == series) show_series(series);
  };
  if (k >= 0 && k < int(suspects.size())) {
    const bool on = item->checkState() == Qt::Checked;
    bench_->edit_specimen(
        id, piece + ": " + qs(suspects[size_t(k)]->label) + (on ? " ticked" : " not ticked"),
        [path = suspects[size_t(k)]->path, on](TestRecord& r) { r.fields.set(path, on); }, again);
  } else if (k == int(suspects.size())) {
    const std::string reason = item->text().trimmed().toStdString();
    bench_->edit_specimen(
        id, piece + (reason.empty() ? " counts again" : " left out of the series: " + qs(reason)),
        [reason](TestRecord& r) {
          if (reason.empty())
            r.fields.erase("settings.series.left_out");
          else
            r.fields.set("settings.series.left_out", reason);
        },
        again);
  }
}

Outcome<Done> SeriesPage::write_report(const QString& path) {
  return write_series(view_, bench_->units(), path);
}

void SeriesPage::save_report() {
  if (view_.method == nullptr) return;
  const QString path = QFileDialog::getSaveFileName(this, spoken("Series report"), qs(view_.settings.series) + ".pdf",
                                                    parts::file_kinds("Report", "*.pdf *.html"), nullptr,
                                                    QFileDialog::DontConfirmOverwrite);
  if (path.isEmpty()) return;
  bench_->write("Writing the series report", [view = view_, units = bench_->units(), path]() -> Outcome<QString> {
    if (const auto done = write_series(view, units, path); !done) return done.error();
    return "Series report saved: " + path;
  });
}

void SeriesPage::copy() const {
  QString out;
  for (int c = 0; c < table_->columnCount(); ++c) out += (c > 0 ? "\t" : "") + table_->horizontalHeaderItem(c)->text();
  out += "\n";
  for (int r = 0; r < table_->rowCount(); ++r) {
    for (int c = 0; c < table_->columnCount(); ++c) {
      const QTableWidgetItem* i = table_->item(r, c);
      const bool tick = i->data(Qt::CheckStateRole).isValid();
      out += (c > 0 ? "\t" : "") + (tick ? QString(i->checkState() == Qt::Checked ? "x" : "") : i->text());
    }
    out += "\n";
  }
  QApplication::clipboard()->setText(out);
}

}  // namespace fortitor
