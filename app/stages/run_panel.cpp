// The stand-in machine at Run: the frame, the curve, the controls with their keys, and what it asks.
#include "app/stages/run_stage.h"

#include <QGridLayout>
#include <QKeyEvent>
#include <QPushButton>
#include <QStackedWidget>
#include "app/theme/parts.h"
#include "app/theme/theme.h"
#include "core/practice/practice.h"

namespace fortitor {

using parts::qs;
using C = MachineCommand;
using S = MachineState;

QWidget* RunStage::standin_page() {
  auto* page = new QWidget;
  page->setMinimumSize(660, 0);
  auto* layout = new QHBoxLayout(page);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(12);
  auto* frame_sheet = parts::sheet();
  frame_sheet->setFixedWidth(188);
  auto* frame_layout = parts::column(frame_sheet, 8, 4);
  frame_ = new SketchPad(bench_);
  frame_->setMinimumSize(160, 240);
  frame_->set_machine(&status_);
  frame_layout->addWidget(frame_, 1);
  piece_ = new FieldForm(bench_);
  frame_layout->addWidget(piece_);
  layout->addWidget(frame_sheet);

  auto* curve_sheet = parts::sheet();
  auto* curve_layout = parts::column(curve_sheet, 10, 4);
  live_ = new FigureView;
  live_->set_first_panel_only(true);
  live_->setFocusPolicy(Qt::NoFocus);
  curve_layout->addWidget(live_, 1);
  layout->addWidget(curve_sheet, 1);

  auto* right = new QWidget;
  right->setFixedWidth(int(244 * std::min(1.4, theme::scale())));
  auto* right_layout = parts::column(right, 0, 8);
  figures_ = new BigFigures;
  right_layout->addWidget(figures_, 1);
  main_ = parts::button("Start", "run-main", "primary");
  main_->setMinimumHeight(40);
  main_->setFocusPolicy(Qt::TabFocus);
  connect(main_, &QPushButton::clicked, this, &RunStage::space);
  right_layout->addWidget(main_);
  // What stops the machine comes before everything that a small screen may push below its edge.
  listens_ = parts::label(
      "△  The program listens. Guard, emergency stop and limits are those of the machine: it is driven there.",
      "caution");
  listens_->hide();
  right_layout->addWidget(listens_);
  auto* stop = stop_ = parts::button("Emergency stop   Esc", "run-stop", "danger");
  stop->setFocusPolicy(Qt::TabFocus);
  stop->setMinimumHeight(34);
  connect(stop, &QPushButton::clicked, this,
          [this] { do_command(status_.state == S::stopped ? C::reset : C::emergency_stop); });
  right_layout->addWidget(stop);
  question_ = new QWidget;
  question_layout_ = parts::column(question_, 0, 4);
  right_layout->addWidget(question_);
  panel_ = new QGridLayout;
  panel_->setSpacing(6);
  right_layout->addLayout(panel_);
  jog_ = parts::label("Up and down jog; with Shift finely.", "hint");
  right_layout->addWidget(jog_);
  caution_ = parts::label("", "caution");
  right_layout->addWidget(caution_);
  pace_ = new QWidget;
  pace_->setObjectName("plain");
  auto* pace = new QHBoxLayout(pace_);
  pace->setContentsMargins(0, 0, 0, 0);
  pace->addWidget(parts::label("Stand-in time", "hint"), 1);
  for (double factor : {1.0, 10.0, 50.0}) {
    auto* b = parts::button("×" + QString::number(factor), "speed-" + QString::number(factor));
    b->setCheckable(true);
    b->setFocusPolicy(Qt::TabFocus);
    b->setProperty("factor", factor);
    connect(b, &QPushButton::clicked, this, [this, factor] { set_speed(factor); });
    pace->addWidget(b);
    speeds_.push_back(b);
  }
  right_layout->addWidget(pace_);
  layout->addWidget(right);
  set_speed(1);
  return page;
}

// The machine says what its panel offers.
void RunStage::build_panel() {
  if (!machine_) return;
  QString now;
  for (const MachineControl& c : machine_->controls()) now += qs(c.label) + c.key;
  if (now == panel_for_) return;
  panel_for_ = now;
  parts::clear(panel_);
  controls_.clear();
  int n = 0;
  for (const MachineControl& c : machine_->controls()) add_control(n++, c);
}

void RunStage::add_control(int n, const MachineControl& c) {
  const QString key{QChar(c.key)};
  auto* b = parts::button(qs(c.label) + "   " + key, "run-" + key);
  b->setFocusPolicy(Qt::TabFocus);
  b->setStyleSheet("padding: 5px 6px;");
  connect(b, &QPushButton::clicked, this, [this, c] { do_command(c.command, c.value); });
  // At large text two do not stand beside one another.
  const int beside = theme::scale() > 1.3 ? 1 : 2;
  panel_->addWidget(b, n / beside, n % beside);
  controls_.push_back({c.command, c.value, b});
}

void RunStage::refresh_controls() {
  const bool on = status_.state == S::running, held = status_.state == S::holding;
  const QString why = running() ? QString() : obstacle();
  for (QWidget* w : std::initializer_list<QWidget*>{stop_, jog_, pace_}) w->setVisible(!status_.listened);
  listens_->setVisible(status_.listened);
  piece_->setVisible(!status_.listened);  // what is chosen there is of the stand-in
  main_->setText(spoken(unwritten_                      ? "Write it again   Space"
                        : status_.listened && running() ? "End the run   Space"
                        : status_.listened              ? "Listen   Space"
                        : on                            ? "Hold   Space"
                        : held                          ? "Go on   Space"
                                                        : "Start   Space"));
  main_->setEnabled(!asking() && (unwritten_ || on || held || why.isEmpty()));
  question_->setVisible(asking());
  if (pages_->currentIndex() == 0)
    hint_->setText(
        spoken(!status_.message.empty() && (running() || status_.state == S::stopped) ? qs(status_.message) : why));
  for (const Control& c : controls_) {
    bool enabled = !on;
    if (c.command == C::remove_extensometer) enabled = status_.extensometer && (running() || !status_.listened);
    if (c.command == C::mount_extensometer)
      enabled = !status_.extensometer && status_.top_grip && status_.bottom_grip && !on && !status_.broken;
    if (c.command == C::zero_extension) enabled = status_.extensometer && !running();
    if (c.command == C::zero_force) enabled = !running();
    if (c.command == C::close_top_grip) enabled = !status_.top_grip && !running();
    if (c.command == C::close_bottom_grip) enabled = !status_.bottom_grip && !running();
    if (c.command == C::open_grips) enabled = (status_.top_grip || status_.bottom_grip) && !running();
    c.button->setEnabled(enabled && status_.state != S::stopped);
  }
}

void RunStage::build_question() {
  parts::clear(question_layout_);
  answers_.clear();
  const FieldSpec* asked = bench_->method().field(bench_->method().asked_at_hold);
  if (asked == nullptr) return;
  question_layout_->addWidget(parts::label(qs(asked->label) + "?", "title"));
  for (size_t i = 0; i < asked->choices.size(); ++i) {
    auto* b = parts::button(QString::number(i + 1) + "   " + qs(asked->choices[i].label),
                            "answer-" + qs(asked->choices[i].value));
    b->setMinimumHeight(34);
    connect(b, &QPushButton::clicked, this, [this, i] { answer_question(i); });
    question_layout_->addWidget(b);
    answers_.push_back(b);
  }
}

void RunStage::answer_question(size_t n) {
  const FieldSpec* asked = bench_->method().field(bench_->method().asked_at_hold);
  if (!asking() || asked == nullptr || n >= asked->choices.size()) return;
  const std::string word = asked->choices[n].value;
  bench_->keep_raw(qs(asked->label) + ": " + qs(asked->choices[n].label), [&](TestRecord& r) {
    std::vector<std::string> all = words_of(r.fields.text(asked->path));
    all.push_back(word);
    r.fields.set(asked->path, kept_words(all));
  });
  events_.push_back({status_.reading("time"), "resumed", asked->label + ": " + word});
  do_command(C::resume);
}

}  // namespace fortitor
