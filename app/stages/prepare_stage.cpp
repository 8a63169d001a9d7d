#include "app/stages/prepare_stage.h"

#include <QGridLayout>
#include <QLineEdit>

#include "app/theme/parts.h"
#include "app/theme/theme.h"

namespace fortitor {

using parts::qs;

PrepareStage::PrepareStage(Workbench* bench, TimerBoard* timers, QWidget* parent)
    : StagePage(bench, Stage::prepare, parent), board_(timers) {
  connect(timers, &TimerBoard::changed, this, &PrepareStage::refresh_timers);
  auto* layout = new QHBoxLayout(this);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(12);
}

void PrepareStage::rebuild() {
  auto* outer = static_cast<QHBoxLayout*>(layout());
  parts::clear(outer);
  limits_.clear();
  auto* sheet = parts::sheet();
  auto* left = parts::column(sheet, 14, 10);
  left->addWidget(parts::label("The piece", "heading"));
  form_ = new FieldForm(bench_);
  form_->show_fields(fields_of_stage(), 2);
  left->addWidget(form_);
  pad_ = new SketchPad(bench_);
  pad_->setMinimumSize(320, 190);
  pad_->show_sketch(bench_->method().prepare_sketch);
  left->addWidget(pad_, 1);
  outer->addWidget(parts::scroller(sheet), 3);
  auto* side = new QWidget;
  auto* right = parts::column(side, 0, 12);
  timer_rows_ = nullptr;
  if (!bench_->method().timers.empty()) right->addWidget(timers_sheet());
  right->addWidget(limits_sheet());
  right->addWidget(guide_sheet(), 1);
  outer->addWidget(parts::scroller(side), 2);
  refresh();
}

QWidget* PrepareStage::timers_sheet() {
  auto* sheet = parts::sheet();
  auto* layout = parts::column(sheet, 14, 8);
  layout->addWidget(parts::label("Time it needs", "heading"));
  timer_rows_ = new QVBoxLayout;
  timer_rows_->setSpacing(6);
  layout->addLayout(timer_rows_);
  refresh_timers();
  return sheet;
}

void PrepareStage::refresh_timers() {
  if (timer_rows_ == nullptr || !bench_->has_specimen()) return;
  parts::clear(timer_rows_);
  for (const TimerSpec& spec : bench_->method().timers) {
    const RunningTimer* t = board_->find(bench_->specimen(), spec.name);
    const auto elapsed = bench_->record().fields.number(spec.elapsed_path);
    const auto stated = bench_->record().fields.number(spec.stated_path);
    QString text = qs(spec.name) + ": ";
    if (t != nullptr && t->left > 0)
      text += "ends " +
              QDateTime::fromString(qs(t->row.ends_at), Qt::ISODate).toLocalTime().toString("ddd d MMM, hh:mm") +
              ", in " + t->text().section("  ", 1) + " h";
    else if (t != nullptr)
      text += "the time is over";
    else if (elapsed)
      text += qs(format_value(*elapsed, Dimension::time, bench_->units(), 3)) + " passed" +
              (stated ? " of " + qs(format_value(*stated, Dimension::time, bench_->units(), 3)) : QString());
    else
      text += stated ? "not started" : "enter the time wanted, then start";
    auto* row = new QHBoxLayout;
    row->addWidget(parts::label(text, t != nullptr && t->left > 0 ? "caution" : ""), 1);
    auto* b = parts::button(t == nullptr  ? "Start the timer"
                            : t->left > 0 ? "End it now"
                                          : "Take it over",
                            "timer-" + qs(spec.name), t == nullptr && !elapsed ? "primary" : "");
    b->setEnabled(t != nullptr || (stated && bench_->record().run.empty()));
    connect(b, &QPushButton::clicked, this, [this, spec, running = t != nullptr] {
      if (running) return board_->finish(spec);
      const auto done = board_->start(spec);
      if (!done) bench_->say(qs(done.error().message));
    });
    row->addWidget(b);
    timer_rows_->addLayout(row);
  }
  timer_rows_->addWidget(parts::label(
      "The timer runs on while the program is closed. A run before its end is refused until you say why.", "hint"));
}

QWidget* PrepareStage::limits_sheet() {
  auto* sheet = parts::sheet();
  auto* layout = parts::column(sheet, 14, 8);
  layout->addWidget(parts::label("What it must meet", "heading"));
  auto* grid = new QGridLayout;
  grid->setHorizontalSpacing(8);
  grid->setVerticalSpacing(6);
  grid->addWidget(parts::label("at least", "hint"), 0, 1);
  grid->addWidget(parts::label("at most", "hint"), 0, 2);
  int n = 1;
  for (const std::string& key : bench_->method().limit_keys) {
    const auto spec = bench_->method().result(key);
    if (!spec) continue;
    auto* name = parts::label(qs(plain_symbol(spec->symbol)) + "  " + qs(spec->name));
    grid->addWidget(name, n, 0);
    LimitRow row{key, new QLineEdit, new QLineEdit};
    for (QLineEdit* e : {row.min, row.max}) {
      e->setObjectName("number");
      e->setFixedWidth(int(88 * theme::scale()));
      e->setAccessibleName(qs(spec->name) + (e == row.min ? ", at least" : ", at most"));
      e->setProperty("key", qs("limit:" + key) + (e == row.min ? ":min" : ":max"));
      grid->addWidget(e, n, e == row.min ? 1 : 2);
      connect(e, &QLineEdit::editingFinished, this, [this, row, e] { keep_limit(row, e == row.min); });
    }
    limits_.push_back(row);
    ++n;
  }
  grid->setColumnStretch(0, 1);
  layout->addLayout(grid);
  layout->addWidget(parts::label(
      "Values and their units come from the drawing or the order. The program rates nothing by itself.", "hint"));
  return sheet;
}

void PrepareStage::keep_limit(const LimitRow& row, bool min) {
  QLineEdit* e = min ? row.min : row.max;
  if (!e->isModified()) return;
  e->setModified(false);
  const auto spec = bench_->method().result(row.key);
  const QString typed = e->text().trimmed();
  std::optional<Reading> bound;
  if (!typed.isEmpty()) {
    const auto q = parse_quantity(typed.toStdString(), spec->dimension, {bench_->units(), nullptr});
    if (!q) {
      bench_->say(qs(spec->name) + ": " + qs(q.error().message));
      e->setModified(true);
      return;
    }
    bound = reading_of(*q);
  }
  bench_->say("");
  bench_->edit(
      "limit of " + qs(spec->name) + ": " + (min ? "at least " : "at most ") + (typed.isEmpty() ? "open" : typed),
      [&](TestRecord& r) {
        Limit& limit = r.limits[row.key];
        (min ? limit.min : limit.max) = bound;
        if (!limit.min && !limit.max) r.limits.erase(row.key);
      });
}

void PrepareStage::refresh() {
  if (form_ == nullptr) return;
  form_->refresh();
  refresh_timers();
  pad_->update();
  for (const LimitRow& row : limits_) {
    const auto it = bench_->record().limits.find(row.key);
    const auto spec = bench_->method().result(row.key);
    for (bool min : {true, false}) {
      QLineEdit* e = min ? row.min : row.max;
      if (e->isModified()) continue;
      const std::optional<Reading> bound = it == bench_->record().limits.end() ? std::nullopt
                                           : min                               ? it->second.min
                                                                               : it->second.max;
      e->setText(bound ? shown_reading(*bound, spec->dimension, bench_->units()) : QString());
      e->setToolTip(bound ? "Typed: " + qs(bound->typed) : QString());
      e->setCursorPosition(0);
    }
  }
}

}  // namespace fortitor
