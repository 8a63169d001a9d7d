#include "app/stages/prepare_stage.h"

#include "app/theme/parts.h"
#include "app/theme/theme.h"
#include "core/bench/material.h"

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
  auto* sheet = parts::sheet();
  auto* left = parts::column(sheet, 14, 10);
  left->addWidget(parts::label("The piece", "heading"));
  strip_ = new SeriesStrip(bench_, true);
  left->addWidget(strip_);
  form_ = new FieldForm(bench_);
  asked_ = fields_of_stage();
  form_->show_fields(asked_, 2);
  left->addWidget(form_);
  left->addWidget(item_sheet());
  usual_ = parts::label("", "hint");
  usual_->setAccessibleName(spoken("Usual values of the material"));
  left->addWidget(usual_);
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
    b->setEnabled(t != nullptr || (stated && !bench_->record().has_run()));
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

// Folded: the bench does not wait for it, the document will ask for what is missing.
QWidget* PrepareStage::item_sheet() {
  auto* box = new QWidget;
  auto* layout = parts::column(box, 0, 6);
  auto* fold = parts::button("", "item-fold");
  fold->setCheckable(true);
  layout->addWidget(fold, 0, Qt::AlignLeft);
  item_ = new FieldForm(bench_);
  item_->show_fields(fields_of_item(), 2);
  layout->addWidget(item_);
  const auto show = [this, fold](bool on) {
    fold->setText(spoken(on ? "Where it comes from  ▴" : "Where it comes from: heat, direction, customer's mark  ▾"));
    item_->setVisible(on);
  };
  connect(fold, &QPushButton::toggled, this, show);
  bool any = false;
  for (const FieldSpec* f : fields_of_item()) any = any || bench_->record().fields.has(f->path);
  fold->setChecked(any);
  show(any);
  return box;
}

QWidget* PrepareStage::limits_sheet() {
  auto* sheet = parts::sheet();
  auto* layout = parts::column(sheet, 14, 8);
  layout->addWidget(parts::label("What it must meet", "heading"));
  limits_ = new LimitsForm(bench_, Limitable::pieces_of(bench_->method()));
  layout->addWidget(limits_);
  layout->addWidget(parts::label(
      "Values and their units come from the drawing or the order. The program rates nothing by itself.", "hint"));
  return sheet;
}

void PrepareStage::refresh() {
  if (form_ == nullptr) return;
  strip_->refresh();
  // A choice asks for more, or for less.
  if (const auto wanted = fields_of_stage(); wanted != asked_) {
    asked_ = wanted;
    form_->show_fields(asked_, 2);
  }
  form_->refresh();
  item_->refresh();
  const std::string usual = material::usual_words(bench_->record(), bench_->units());
  usual_->setText(spoken(usual.empty() ? QString() : "Usual: " + qs(usual)));
  usual_->setVisible(!usual.empty());
  refresh_timers();
  pad_->update();
  limits_->refresh();
}

}  // namespace fortitor
