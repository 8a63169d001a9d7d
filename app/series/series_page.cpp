#include "app/series/series_page.h"

#include <QAction>
#include <QApplication>
#include <QClipboard>
#include <QComboBox>
#include <QHeaderView>
#include <QPointer>
#include <QTableWidget>
#include <QThreadPool>
#include <cmath>

#include "app/theme/parts.h"
#include "app/theme/theme.h"

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

}  // namespace

SeriesPage::SeriesPage(Workbench* bench, QWidget* parent) : QWidget(parent), bench_(bench) {
  setObjectName("page");
  auto* outer = parts::column(this, 0, 10);
  auto* head = new QHBoxLayout;
  title_ = parts::label("", "heading");
  head->addWidget(title_, 1);
  head->addWidget(parts::label("Result", "quiet"));
  keys_ = new QComboBox;
  keys_->setProperty("key", "series-key");
  keys_->setAccessibleName("Result of the series");
  keys_->setMinimumWidth(260);
  head->addWidget(keys_);
  outer->addLayout(head);
  connect(keys_, &QComboBox::activated, this,
          [this] { show_series(view_.series, keys_->currentData().toString().toStdString()); });

  auto* row = new QHBoxLayout;
  row->setSpacing(12);
  auto* numbers = parts::sheet();
  numbers->setFixedWidth(int(270 * std::min(1.4, theme::scale())));
  auto* numbers_column = parts::column(numbers, 14, 6);
  numbers_ = new QVBoxLayout;
  numbers_->setSpacing(5);
  numbers_column->addLayout(numbers_);
  numbers_column->addStretch();
  row->addWidget(numbers);
  auto* figure = parts::sheet();
  auto* figure_column = parts::column(figure, 10, 4);
  figure_ = new SeriesFigure;
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
  words_area->setFixedWidth(int(320 * std::min(1.3, theme::scale())));
  row->addWidget(words_area);
  outer->addLayout(row, 5);

  auto* sheet = parts::sheet();
  auto* column = parts::column(sheet, 1, 0);
  table_ = new QTableWidget;
  table_->setProperty("key", "series-table");
  table_->setAccessibleName("Pieces of the series");
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
      emit specimen_wanted(view_.specimens[size_t(r)], int(Stage::evaluate));
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
  });
}

void SeriesPage::show_series(Id series, const std::string& wanted) {
  std::string method, title;
  JobRow owner;
  for (const JobRow& job : bench_->book()->jobs())
    for (const SeriesRow& s : bench_->book()->series(job.id))
      if (s.id == series) {
        method = s.method;
        title = s.title;
        owner = job;
      }
  const Method* m = methods::find(method);
  if (m == nullptr) return;
  title_->setText(qs(owner.code + " " + owner.title) + "  ›  " + qs(title));
  auto view = std::make_shared<SeriesView>();
  view->series = series;
  view->method = m;
  view->key = wanted.empty() ? m->series.key : wanted;
  std::vector<TestRecord> records;
  for (const SpecimenRow& s : bench_->book()->specimens(series)) {
    auto r = bench_->book()->record(s.id);
    if (!r) {
      bench_->say(qs(r.error().message));
      continue;
    }
    view->specimens.push_back(s.id);
    records.push_back(std::move(*r));
  }
  const quint64 ticket = ++ticket_;
  QPointer<SeriesPage> self(this);
  // Many records may take a while; the window stays free.
  QThreadPool::globalInstance()->start([self, ticket, view, records = std::move(records)] {
    std::vector<std::pair<std::string, std::string>> keys;
    for (const TestRecord& r : records) {
      const Evaluation e = methods::evaluate(r, {.uncertainty = false});
      view->pieces.push_back(series_piece(r, e, view->key));
      const ResultValue* x = e.find(view->key);
      view->verdicts.push_back(e.verdict == Verdict::void_test ? e.verdict : x != nullptr ? x->verdict : Verdict::none);
      if (const auto it = r.limits.find(view->key); it != r.limits.end()) view->limit = it->second;
    }
    view->report = series_report(*view->method, view->key, view->pieces);
    QMetaObject::invokeMethod(qApp, [self, ticket, view] {
      if (self) self->take(ticket, view);
    });
  });
}

void SeriesPage::take(quint64 ticket, const std::shared_ptr<SeriesView>& view) {
  if (ticket != ticket_) return;
  view_ = *view;
  keys_->clear();
  for (const std::string& key : view_.method->limit_keys)
    if (const auto spec = view_.method->result(key))
      keys_->addItem(qs(plain_symbol(spec->symbol) + "  " + spec->name), qs(key));
  if (keys_->findData(qs(view_.key)) < 0 && !view_.report.spec.key.empty())
    keys_->addItem(qs(plain_symbol(view_.report.spec.symbol) + "  " + view_.report.spec.name), qs(view_.key));
  keys_->setCurrentIndex(keys_->findData(qs(view_.key)));
  fill_table();
  fill_numbers();
  emit shown();
}

void SeriesPage::fill_numbers() {
  parts::clear(numbers_);
  parts::clear(words_);
  const SeriesReport& r = view_.report;
  const UnitSet set = bench_->units();
  const Dimension d = r.spec.dimension;
  auto line = [&](const QString& name, const QString& value, bool big = false) {
    auto* row = new QHBoxLayout;
    row->addWidget(parts::label(name, "quiet"), 1);
    auto* v = parts::label(value, "mono");
    v->setWordWrap(false);
    if (big)
      v->setStyleSheet(
          QString("font-family:'JetBrains Mono';font-weight:700;font-size:%1px").arg(qRound(22 * theme::scale())));
    row->addWidget(v);
    numbers_->addLayout(row);
  };
  const auto& s = r.counted;
  auto value = [&](double v, int figures = 4) { return qs(format_value(v, d, set, figures)); };
  line("pieces", QString::number(s.n) + (r.voids > 0 ? " + " + QString::number(r.voids) + " void" : QString()) +
                     (r.left_out > 0 ? ", " + QString::number(r.left_out) + " out" : QString()));
  if (s.n > 0) {
    line("mean", value(s.mean), true);
    if (s.of_mean) line("95 % interval", qs(format_number(s.of_mean->low, d, set, 4)) + " – " + value(s.of_mean->high));
    if (s.n > 1) {
      line("s", value(s.sd, 3));
      line("CV", qs(significant(100 * s.cv, 3)) + " %");
      if (s.of_sd) line("interval of s", qs(format_number(s.of_sd->low, d, set, 3)) + " – " + value(s.of_sd->high, 3));
    }
    line("median", value(s.median));
    line("least, largest", qs(format_number(s.least, d, set, 4)) + " – " + value(s.most));
    if (r.b_basis != 0) line("B-basis, normal", value(r.b_basis));
    if (r.normality) line("normality, p", qs(significant(r.normality->p, 2)));
    if (r.likelihood) line("mean with bounds", value(r.likelihood->mean));
  }
  auto say = [&](const std::string& text, const char* role) { words_->addWidget(parts::label(qs(text), role)); };
  for (const std::string& text : r.sentences) say(text, "");
  if (!r.suspects.empty()) {
    words_->addWidget(parts::label("Suspects for the scatter", "title"));
    for (const SuspectTest& t : r.suspects) say(t.sentence, t.welch && t.welch->p < 0.05 ? "caution" : "quiet");
  } else if (!view_.method->series.suspects_path.empty()) {
    say("Tick what was seen on a piece; the data are asked whether it matters.", "hint");
  }
  if (r.sentences.empty() && r.suspects.empty() && view_.method->series.suspects_path.empty())
    say("Nothing out of the ordinary.", "quiet");
  figure_->show_view(&view_, set);
}

void SeriesPage::fill_table() {
  filling_ = true;
  const auto suspects = suspects_of(*view_.method);
  const int last = kFirstTick + int(suspects.size());
  table_->clear();
  table_->setRowCount(int(view_.pieces.size()));
  table_->setColumnCount(last + 1);
  QStringList heads{"Piece", qs(plain_symbol(view_.report.spec.symbol))};
  for (const FieldSpec* f : suspects) heads << qs(f->label);
  heads << "left out because";
  table_->setHorizontalHeaderLabels(heads);
  for (size_t i = 0; i < view_.pieces.size(); ++i) {
    const SeriesPiece& p = view_.pieces[i];
    const int row = int(i);
    auto* id = new QTableWidgetItem(qs(p.id));
    id->setFlags(id->flags() & ~Qt::ItemIsEditable);
    table_->setItem(row, kId, id);
    QString text = "–";
    if (p.there) {
      text = qs(format_value(p.value, view_.report.spec.dimension, bench_->units(), 4));
      if (p.censored)
        text = p.censored->above
                   ? "≥ " + text
                   : qs(format_number(p.censored->from, view_.report.spec.dimension, bench_->units(), 4)) + "–" +
                         qs(format_value(p.censored->to, view_.report.spec.dimension, bench_->units(), 4));
    }
    if (p.void_test) text += "  void";
    auto* value = new QTableWidgetItem(text);
    value->setFlags(value->flags() & ~Qt::ItemIsEditable);
    value->setFont(theme::numbers(13, QFont::Bold));
    value->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
    const bool flagged =
        std::find(view_.report.outliers.begin(), view_.report.outliers.end(), i) != view_.report.outliers.end();
    if (flagged || view_.verdicts[i] != Verdict::none)
      value->setForeground(flagged ? theme::color(theme::Ink::near) : theme::verdict_color(view_.verdicts[i]));
    if (p.void_test) value->setToolTip(qs(p.void_reason));
    table_->setItem(row, kValue, value);
    for (size_t k = 0; k < suspects.size(); ++k) {
      auto* tick = new QTableWidgetItem;
      tick->setFlags(Qt::ItemIsUserCheckable | Qt::ItemIsEnabled | Qt::ItemIsSelectable);
      const auto it = p.ticked.find(suspects[k]->path);
      tick->setCheckState(it != p.ticked.end() && it->second ? Qt::Checked : Qt::Unchecked);
      tick->setData(Qt::AccessibleTextRole, qs(suspects[k]->label));
      table_->setItem(row, kFirstTick + int(k), tick);
    }
    table_->setItem(row, last, new QTableWidgetItem(qs(p.left_out)));
  }
  table_->resizeColumnsToContents();
  table_->horizontalHeader()->setSectionResizeMode(last, QHeaderView::Stretch);
  table_->horizontalHeader()->setDefaultAlignment(Qt::AlignLeft | Qt::AlignVCenter);
  filling_ = false;
}

void SeriesPage::changed(QTableWidgetItem* item) {
  if (filling_ || item->row() >= int(view_.specimens.size())) return;
  const auto suspects = suspects_of(*view_.method);
  const int k = item->column() - kFirstTick;
  const Id id = view_.specimens[size_t(item->row())];
  const QString piece = qs(view_.pieces[size_t(item->row())].id);
  if (k >= 0 && k < int(suspects.size())) {
    const bool on = item->checkState() == Qt::Checked;
    bench_->edit_specimen(id, piece + ": " + qs(suspects[size_t(k)]->label) + (on ? " ticked" : " not ticked"),
                          [&](TestRecord& r) { r.fields.set(suspects[size_t(k)]->path, on); });
  } else if (k == int(suspects.size())) {
    const std::string reason = item->text().trimmed().toStdString();
    bench_->edit_specimen(id, piece + (reason.empty() ? " counts again" : " left out of the series: " + qs(reason)),
                          [&](TestRecord& r) {
                            if (reason.empty())
                              r.fields.erase("settings.series.left_out");
                            else
                              r.fields.set("settings.series.left_out", reason);
                          });
  } else {
    return;
  }
  show_series(view_.series, view_.key);
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
