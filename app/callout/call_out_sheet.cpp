#include "app/callout/call_out_sheet.h"

#include <QApplication>
#include <QClipboard>
#include <QShortcut>

#include "app/callout/call_out_panel.h"
#include "app/callout/rig_view.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"
#include "core/practice/practice.h"
#include "core/record/keyed.h"
#include "core/standin/benches.h"

namespace fortitor {

using parts::qs;
using Phase = CallOut::Phase;

CallOutSheet::CallOutSheet(Workbench* bench, TimerBoard* timers, QWidget* parent)
    : QWidget(parent), bench_(bench), timers_(timers) {
  auto* outer = new QHBoxLayout(this);
  outer->setContentsMargins(0, 0, 0, 0);
  outer->setSpacing(12);
  auto* sheet = parts::sheet();
  auto* left = left_ = parts::column(sheet, 10, 4);
  figure_ = new FigureView;
  figure_->set_first_panel_only(true);
  figure_->setFocusPolicy(Qt::NoFocus);
  left->addWidget(figure_, 3);
  sketch_ = new SketchPad(bench);
  sketch_->setMinimumSize(260, 150);
  room_ = parts::label("", "quiet");
  room_->setTextFormat(Qt::RichText);
  room_->setWordWrap(false);
  drawing_ = new QHBoxLayout;
  drawing_->addWidget(sketch_, 3);
  drawing_->addWidget(room_, 0);
  left->addLayout(drawing_, 2);
  so_far_ = parts::label("", "quiet");
  left->addWidget(so_far_);
  caution_ = parts::label("", "caution");
  left->addWidget(caution_);
  outer->addWidget(sheet, 6);

  auto* side = new QWidget;
  auto* right = parts::column(side, 0, 10);
  panel_ = new CallOutPanel;
  panel_->entry()->installEventFilter(this);
  connect(panel_, &CallOutPanel::key_wanted, this, [this](int k) {
    panel_->entry()->setFocus();
    if (k == Qt::Key_Return)
      keep();
    else
      key(k);
  });
  right->addWidget(panel_);
  auto* written_sheet = parts::sheet();
  written_sheet_ = written_sheet;
  auto* written = parts::column(written_sheet, 12, 2);
  written_ = parts::label("", "quiet");
  written_->setTextFormat(Qt::RichText);
  written_->setAccessibleName(spoken("How it is written"));
  written->addWidget(written_);
  beside_ = new QHBoxLayout;
  beside_->setSpacing(10);
  beside_->addWidget(written_sheet, 1);
  right->addLayout(beside_);
  rig_ = new RigView(bench, &timers->rigs());
  // What halts the rig is never pushed below the edge by large text.
  right->insertWidget(theme::scale() > 1.3 ? 0 : right->count(), rig_);
  judge_ = new SeriesJudge(bench, this);
  connect(judge_, &SeriesJudge::judged, this, &CallOutSheet::refresh);
  connect(&timers->rigs(), &LongRuns::changed, this, [this] {
    if (!isVisible() || !by_rig()) return;
    QWidget* had = QApplication::focusWidget();
    refresh();
    if (had != nullptr && isAncestorOf(had)) had->setFocus();  // the beat of the rig takes no focus away
  });
  connect(&watch_, &QTimer::timeout, this, [this] {
    if (isVisible()) refresh();
  });
  auto* readings = parts::sheet();
  auto* list = parts::column(readings, 1, 0);
  auto* head = new QHBoxLayout;
  head->setContentsMargins(12, 6, 8, 4);
  head->addWidget(parts::label("Readings", "title"), 1);
  standin_ = new FieldForm(bench);
  table_ = new RowTable;
  list->addLayout(head);
  scroll_ = parts::scroller(table_);
  list->addWidget(scroll_, 1);
  // The newest stop stays in sight as the list grows.
  connect(scroll_->verticalScrollBar(), &QScrollBar::rangeChanged, this,
          [this](int, int most) { scroll_->verticalScrollBar()->setValue(most); });
  lower_ = new QHBoxLayout;
  lower_->setSpacing(10);
  lower_->addWidget(readings, 1);
  right->addLayout(lower_, 1);
  right->addWidget(standin_);
  outer->addWidget(side, 5);
  auto* copy = new QShortcut(QKeySequence("Ctrl+Shift+C"), this);
  copy->setContext(Qt::WidgetWithChildrenShortcut);
  connect(copy, &QShortcut::activated, this, [this] { QApplication::clipboard()->setText(table_->text()); });
}

CallOutSheet::~CallOutSheet() = default;

QLineEdit* CallOutSheet::entry() const {
  return panel_->entry();
}

void CallOutSheet::rebuild() {
  machine_.reset();
  shown_.clear();
  typing_ = Typing::reading;
  other_stop_.reset();
  watch_.stop();
  took_.reset();
  timed_row_ = SIZE_MAX;
  wired_ = {};
  wired_for_ = 0;
  if (bench_->method().keyed_table() == nullptr) return;
  judge_->ask();
  panel_->set_method(bench_->method());
  panel_->entry()->clear();
  sketch_->show_sketch(bench_->method().run_sketch);
  table_->choose(std::nullopt);
  build_instrument();
  standin_fields_.clear();
  const bool practice = practice::is_practice(bench_->record());  // shows neither the piece nor what goes wrong
  if (const standin::Bench* standin = standin::find_bench(bench_->method().standin); standin && !practice)
    standin_fields_ = standin::fields(*standin);
  if (const FieldSpec* seed = bench_->method().field("equipment.standin.seed"); seed && !practice)
    standin_fields_.push_back(*seed);
  std::vector<const FieldSpec*> fields;
  for (const FieldSpec& f : standin_fields_) fields.push_back(&f);
  standin_->show_fields(fields, int(fields.size()));
}

QString CallOutSheet::obstacle() const {
  const auto missing = bench_->progress()[size_t(Stage::set_up)].missing;
  if (bench_->record().run.has_samples()) return "This piece was run with channels; its stops are not keyed.";
  if (now_.phase == Phase::not_begun && !missing.empty()) return "Set up: " + qs(missing.front());
  if (now_.phase != Phase::not_begun) return {};
  const QString wait = timers_->obstacle();
  return wait.isEmpty() ? bench_->not_theirs() : wait;
}

void CallOutSheet::refresh() {
  if (!bench_->has_specimen() || bench_->method().keyed_table() == nullptr) return;
  const Method& m = bench_->method();
  const TestRecord& r = bench_->record();
  const auto e = bench_->evaluation();
  const UnitSet set = bench_->units();
  now_ = call_out_of(m, r, e.get());
  wired_for_ = 0;  // other instruments may have been chosen
  const TableSpec& w = now_.table;
  const Rows& rows = r.run.rows(w.id);
  if (machine_for_ != bench_->specimen()) machine_.reset();
  look_into_instrument();
  auto value = [&](double v, Dimension d) { return qs(format_value(v, d, set, 4)); };

  CallOutPanel::Text t;
  const FieldSpec& channel = w.columns[std::min(now_.column, w.columns.size() - 1)];
  panel_->entry()->setProperty("dimension", int(channel.dimension));  // what an instrument on a wire may put there
  t.unit = channel.division_path.empty() ? qs(bare_unit(channel, set).symbol) : QString("divisions");
  const QString why = obstacle();
  if (!why.isEmpty()) {
    t.head = "Before the first " + qs(w.row);
    t.stop = "Not yet";
    t.line = why.toHtmlEscaped();
    t.ended = true;
  } else if (now_.phase == Phase::ended) {
    t.ended = true;
    t.head = "The run is over";
    t.stop = QString::number(rows.size()) + " " + qs(w.row) + (rows.size() == 1 ? "" : "s");
    t.line = r.run.stopped.empty() ? qs(m.wording.after_run) : qs(r.run.stopped).toHtmlEscaped() + ". Go on at After.";
  } else if (now_.phase == Phase::unloading) {
    t.head = "Unload";
    t.stop = qs(typed_value(0, w.control->dimension, set, 4));
    t.line = "then read the zeros of all channels again";
  } else if (!w.stepped()) {
    t.head =
        (now_.again ? "Again, " : "") + row_name(now_.row) + " of " + QString::number(std::max(w.usual, now_.row + 1));
    if (now_.last_done) t.head = "As many as usual are read. E ends, Enter goes on";
    t.stop = qs(channel.label);
    t.line = qs(w.instruction) + ".";
    for (const FieldSpec& c : w.columns)
      if (const auto planned = c.planned ? std::nullopt : now_.planned.number(c.path))
        t.head += "   at " + value(*planned, c.dimension);
  } else {
    t.head = typing_ == Typing::stop ? "Which stop instead?"
             : now_.again            ? "Again, " + row_name(now_.row)
                                     : "Next stop";
    if (now_.last_done) t.head = "The last stop as planned is read. E ends the run, Enter goes on";
    t.stop = other_stop_ ? qs(other_stop_->typed) : qs(typed_value(now_.control, w.control->dimension, set, 5));
    t.line = qs(w.instruction) + ".";
    const auto& p = now_.predicted[now_.column];
    if (p && !other_stop_)
      t.line += " The line says about <b style='color:#FFFFFF;font-family:JetBrains Mono'>" +
                value(*p, channel.dimension) + "</b>";
  }
  if (instrument_ != nullptr) show_so_far(t);
  show_time(t);
  if (const LongRun* run = by_rig() ? timers_->rigs().of(bench_->specimen()) : nullptr;
      run != nullptr && run->order.row == now_.row) {
    t.stop = grouped_count(run->status.cycles);
    t.line = run->halted ? "Cycles so far. Space lets the rig go on."
                         : "Cycles so far. The rig writes down where it stops; Space halts it.";
  }
  if (typing_ == Typing::note) {
    t.head = "Note to " + row_name(chosen_row());
    t.unit = "text";
  } else if (typing_ == Typing::word) {
    const FieldSpec* column = w.column(asked_mark_.column);
    t.head = row_name(marked_row()) + ": " + (column != nullptr ? qs(column->label) : QString());
    t.unit =
        column == nullptr || column->kind == FieldKind::text ? QString("text") : qs(bare_unit(*column, set).symbol);
  } else if (typing_ == Typing::stop) {
    t.unit = qs(display_unit(w.control->dimension, set, 0).symbol);
  }
  for (const FieldSpec& c : w.columns) {
    QString text = qs(c.label);
    const FieldValue* v = now_.phase == Phase::unloading ? r.fields.find("run.unload." + c.path)
                          : now_.row < rows.size()       ? rows[now_.row].cells.find(c.path)
                                                         : nullptr;
    if (c.planned || (c.kind != FieldKind::quantity && c.kind != FieldKind::readings)) continue;
    if (&c - w.columns.data() == std::ptrdiff_t(now_.column)) t.channel = int(t.channels.size());
    if (const auto* reading = v != nullptr ? std::get_if<Reading>(v) : nullptr)
      text += reading->missed() ? " missed" : " " + qs(reading->typed);
    if (const auto* list = v != nullptr ? std::get_if<Readings>(v) : nullptr)
      for (const Reading& one : *list) text += " " + (one.missed() ? QString("missed") : qs(one.typed));
    t.channels << text;
  }
  // What wants a hand at once, in the largest words after the stop itself.
  if (e && r.run.open)
    for (const Finding& f : e->findings)
      if (t.alarm.isEmpty() && !f.answer && !f.result_key.empty() && f.evidence.count("station"))
        t.alarm = qs(f.message);
  t.standin = instrument_ != nullptr && !t.ended && !instrument_->keys().isEmpty() ? instrument_->keys() : shown_;
  QStringList so_far;
  if (e)
    for (const ResultValue& result : e->results)
      if (result.spec.headline && !result.is_text() && so_far.size() < 3)
        so_far << qs(plain_symbol(result.spec.symbol)) + " " + qs(reported(result, r.fields, set).text());
  so_far_->setText(spoken(so_far.isEmpty() ? QString() : "So far  " + so_far.join("   ")));
  const auto& cautions = m.guide(Stage::run).cautions;
  caution_->setText(spoken(cautions.empty() ? QString() : "△  " + qs(cautions.front())));
  panel_->show_text(t);
  panel_->show_marks(w.marks);
  table_->show_rows(r, e.get(), now_, set);
  show_room();
  show_written();
  rig_->setVisible(by_rig() && why.isEmpty() && now_.phase != Phase::ended);
  if (by_rig()) rig_->show_row(now_.row);
  standin_->refresh();
  standin_->setEnabled(rows.empty());
  standin_->setVisible(rows.empty() || !through());
  sketch_->refresh();
  if (const Figure* over = judge_->figure())
    figure_->show_figure(*over, set);
  else if (e && !e->figures.empty())
    figure_->show_figure(e->figures.front(), set);
  else
    figure_->show_nothing(qs(m.wording.growing));
  if (panel_->entry()->isEnabled() && isVisible()) panel_->entry()->setFocus();
}

void CallOutSheet::evaluated() {
  // A row that is whole may move what the series says.
  if (now_.column == 0) judge_->ask();
  refresh();
}

void CallOutSheet::show_time(CallOutPanel::Text& t) const {
  const bool running = watch_.isActive() && timed_row_ == now_.row;
  if (!running && !(took_ && timed_row_ == now_.row)) return;
  const double seconds = running ? since_.elapsed() / 1e3 : *took_;
  t.head += "   ·   " + QString::number(seconds, 'f', 1) + " s from the bath";
  if (running) t.line = "Space with the blow.";
}

void CallOutSheet::show_written() {
  const auto e = bench_->evaluation();
  const ResultValue* d = e && instrument_ != nullptr && !through() ? e->find("designation") : nullptr;
  written_sheet_->setVisible(d != nullptr);
  if (d == nullptr) return;
  QString parts;
  if (!d->how.empty())
    for (const QString& part : qs(d->how.front().with).split(", "))
      parts += (parts.isEmpty() ? "" : " &nbsp;·&nbsp; ") + part.toHtmlEscaped();
  QString text =
      QString("<span style=\"font-family:'JetBrains Mono';font-weight:700;font-size:%1px;color:%2\">%3</span><br>%4")
          .arg(qRound(16 * theme::scale()))
          .arg(theme::color(theme::Ink::ink).name(), qs(d->text).toHtmlEscaped(), parts);
  if (const ResultValue* old = e->find("designation_old")) text += "<br>Old drawings: " + qs(old->text).toHtmlEscaped();
  if (const ResultValue* usual = e->find("usual")) text += "<br>Usual: " + qs(usual->text).toHtmlEscaped();
  written_->setText(spoken(text));
}

size_t CallOutSheet::chosen_row() const {
  if (const auto chosen = table_->chosen()) return *chosen;
  // The newest row that has a reading.
  const Rows& rows = bench_->record().run.rows(now_.table.id);
  const size_t set = now_.table.stepped() ? 1 : 0;  // the control stands before anything is read
  size_t i = rows.size();
  while (i > 1 && rows[i - 1].cells.all().size() <= set) --i;
  return i == 0 ? 0 : i - 1;
}

QString CallOutSheet::row_name(size_t row) const {
  return qs(now_.table.row) + " " + QString::number(row + (now_.table.stepped() ? 0 : 1));
}

void CallOutSheet::change(const QString& what, const std::function<void(TestRecord&)>& edit) {
  bench_->keep_raw(what, edit);
  table_->choose(std::nullopt);
}

}  // namespace fortitor
