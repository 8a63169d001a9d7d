#include "app/stages/run_stage.h"

#include <QGridLayout>
#include <QKeyEvent>
#include <QPushButton>
#include <QStackedWidget>

#include "app/theme/parts.h"
#include "app/theme/theme.h"
#include "core/practice/practice.h"

namespace fortitor {
namespace {

using parts::qs;
using C = MachineCommand;
using S = MachineState;

}  // namespace

RunStage::RunStage(Workbench* bench, TimerBoard* timers, QWidget* parent)
    : StagePage(bench, Stage::run, parent), timers_(timers) {
  setFocusPolicy(Qt::StrongFocus);
  auto* outer = parts::column(this, 0, 8);
  auto* tabs = new QHBoxLayout;
  standin_tab_ = parts::button("Stand-in frame", "tab-standin");
  import_tab_ = parts::button("Import a file", "tab-import");
  table_tab_ = parts::button("From a table", "tab-table");
  for (QPushButton* b : {standin_tab_, import_tab_, table_tab_}) {
    b->setCheckable(true);
    b->setFocusPolicy(Qt::TabFocus);
    tabs->addWidget(b);
  }
  hint_ = parts::label("", "caution");
  tabs->addSpacing(12);
  tabs->addWidget(hint_, 1);
  outer->addLayout(tabs);
  tested_ = new TestedStrip(bench);
  outer->addWidget(tested_);
  early_ = new EarlyLeave(bench, timers);
  outer->addWidget(early_);
  connect(early_, &EarlyLeave::given, this, [this] {
    refresh();
    take_focus();
  });
  connect(timers, &TimerBoard::changed, this, [this] {
    if (bench_->has_specimen() && bench_->stage() == stage_ && !running()) refresh();
  });
  pages_ = new QStackedWidget;
  pages_->addWidget(standin_page());
  import_ = new ImportPanel(bench);
  pages_->addWidget(import_);
  call_out_ = new CallOutSheet(bench, timers);
  pages_->addWidget(call_out_);
  table_ = new PastePanel(bench);
  pages_->addWidget(table_);
  connect(table_, &PastePanel::kept, this, [this] { show_import(false); });
  outer->addWidget(pages_, 1);
  // A page that is not shown asks for no room: the stage is as wide as the one in hand.
  const auto only_current = [this](int current) {
    for (int i = 0; i < pages_->count(); ++i)
      pages_->widget(i)->setSizePolicy(i == current ? QSizePolicy::Preferred : QSizePolicy::Ignored,
                                       QSizePolicy::Preferred);
  };
  connect(pages_, &QStackedWidget::currentChanged, this, only_current);
  only_current(0);
  connect(standin_tab_, &QPushButton::clicked, this, [this] { show_import(false); });
  connect(import_tab_, &QPushButton::clicked, this, [this] { show_import(true); });
  connect(table_tab_, &QPushButton::clicked, this, &RunStage::show_table);
  connect(bench, &Workbench::evaluation_changed, this, [this] {
    if (isVisible() || running()) show_curve();
  });
  show_import(false);
}

RunStage::~RunStage() {
  if (run_ != 0) end_run();
}

bool RunStage::keyed() const {
  return bench_->has_specimen() && bench_->method().keyed_table() != nullptr;
}

void RunStage::show_curve() {
  const auto e = bench_->evaluation();
  if (e && !e->figures.empty())
    live_->show_figure(e->figures.front(), bench_->units());
  else if (bench_->has_specimen())
    live_->show_nothing(qs(bench_->method().wording.growing));
}

const standin::Bench* RunStage::standin() const {
  return bench_->has_specimen() ? standin::find_bench(bench_->method().standin) : nullptr;
}

bool RunStage::wants_ledger() const {
  return pages_->currentIndex() != 2;
}

void RunStage::evaluated() {
  if (pages_->currentIndex() == 2) call_out_->evaluated();
}

void RunStage::take_focus() {
  if (pages_->currentIndex() == 2 && call_out_->entry()->isEnabled())
    call_out_->entry()->setFocus();
  else
    setFocus();
}

void RunStage::show_import(bool on) {
  pages_->setCurrentIndex(on ? 1 : keyed() ? 2 : 0);
  standin_tab_->setChecked(!on);
  import_tab_->setChecked(on);
  table_tab_->setChecked(false);
  if (on || keyed())
    hint_->clear();
  else if (bench_->has_specimen())
    refresh_controls();
}

void RunStage::show_table() {
  pages_->setCurrentWidget(table_);
  for (QPushButton* b : {standin_tab_, import_tab_, table_tab_}) b->setChecked(b == table_tab_);
  table_->rebuild();
  table_->setFocus();
}

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
  auto* stop = parts::button("Emergency stop   Esc", "run-stop", "danger");
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
  right_layout->addWidget(parts::label("Up and down jog; with Shift finely.", "hint"));
  caution_ = parts::label("", "caution");
  right_layout->addWidget(caution_);
  auto* pace = new QHBoxLayout;
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
  right_layout->addLayout(pace);
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

void RunStage::set_speed(double speed) {
  speed_ = speed;
  if (machine_) machine_->set_speed(speed);
  for (QPushButton* b : speeds_) b->setChecked(b->property("factor").toDouble() == speed);
}

void RunStage::rebuild() {
  if (run_ != 0) end_run();
  machine_.reset();
  ++machine_number_;
  machine_for_ = 0;
  status_ = {};
  const bool steps = keyed();
  standin_tab_->setText(!steps                                      ? "Stand-in machine"
                        : bench_->method().keyed_table()->stepped() ? "Call-out sheet"
                                                                    : "Tally");
  import_tab_->setVisible(!bench_->method().channels.empty());
  table_tab_->setVisible(steps);
  show_import(false);
  call_out_->rebuild();
  if (steps) {
    import_->rebuild();
    return refresh();
  }
  frame_->show_sketch(bench_->method().run_sketch);
  const auto& cautions = bench_->method().guide(stage_).cautions;
  caution_->setText(cautions.empty() ? QString() : "△  " + qs(cautions.front()));
  standin_fields_.clear();
  // Practice shows neither which piece nor what goes wrong.
  const bool practice = practice::is_practice(bench_->record());
  if (standin() != nullptr && !practice) standin_fields_ = standin::fields(*standin());
  std::vector<const FieldSpec*> piece;
  for (const FieldSpec& f : standin_fields_) piece.push_back(&f);
  // Single values keyed for a run without channels (a largest load read off a pointer) stand there too.
  for (const FieldSpec* f : fields_of_stage())
    if (f->path.rfind("equipment.standin.", 0) != 0 || (f->path == "equipment.standin.seed" && !practice))
      piece.push_back(f);
  piece_->show_fields(piece, 1);
  build_question();
  import_->rebuild();
  refresh();
}

// The machine is set up from the record when the stage is shown with nothing running.
void RunStage::connect_machine() {
  if (run_ != 0 || standin() == nullptr || !standin()->machine) return;
  machine_ = std::make_unique<Acquisition>(standin()->machine(bench_->record()), speed_);
  machine_for_ = bench_->specimen();
  handled_.clear();
  since_set_up_.start();
  build_panel();
  // What a machine said before it was taken away still lies in the queue: it is nothing about the next piece.
  const int of = ++machine_number_;
  connect(machine_.get(), &Acquisition::samples, this, [this, of](const ColumnsPtr& columns) {
    if (of == machine_number_) take_samples(columns);
  });
  connect(machine_.get(), &Acquisition::status, this, [this, of](const MachineStatus& status) {
    if (of == machine_number_) take_status(status);
  });
  connect(machine_.get(), &Acquisition::refused, this, [this](const QString& why) { bench_->say(why); });
}

void RunStage::refresh() {
  if (bench_->stage() != stage_ || !bench_->has_specimen()) return;
  tested_->refresh();
  early_->setVisible(!running() && !timers_->obstacle().isEmpty() &&
                     bench_->progress()[size_t(Stage::set_up)].missing.empty());
  if (keyed()) {
    call_out_->refresh();
    return import_->refresh();
  }
  piece_->refresh();
  // Grips open means nothing of this piece is in the machine yet: take over what was changed.
  if (run_ == 0 && !(status_.top_grip || status_.bottom_grip)) connect_machine();
  show_curve();
  import_->refresh();
  refresh_controls();
}

QString RunStage::obstacle() const {
  const TestRecord& r = bench_->record();
  if (r.run.has_samples() && !running())
    return "This piece has been run. A raw run is never changed; put another specimen on the bench.";
  const auto missing = bench_->progress()[size_t(Stage::set_up)].missing;
  if (!missing.empty()) return "Set up: " + qs(missing.front());
  if (const QString wait = timers_->obstacle(); !wait.isEmpty()) return wait;
  if (status_.now.empty()) return "The machine has not answered yet.";
  if (!status_.obstacle.empty()) return qs(status_.obstacle);
  return {};
}

void RunStage::refresh_controls() {
  const bool on = status_.state == S::running, held = status_.state == S::holding;
  const QString why = running() ? QString() : obstacle();
  main_->setText(unwritten_ ? "Write it again   Space"
                 : on       ? "Hold   Space"
                 : held     ? "Go on   Space"
                            : "Start   Space");
  main_->setEnabled(!asking() && (unwritten_ || on || held || why.isEmpty()));
  question_->setVisible(asking());
  if (pages_->currentIndex() == 0)
    hint_->setText(!status_.message.empty() && (running() || status_.state == S::stopped) ? qs(status_.message) : why);
  for (const Control& c : controls_) {
    bool enabled = !on;
    if (c.command == C::remove_extensometer) enabled = status_.extensometer;
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

void RunStage::do_command(MachineCommand command, double value) {
  if (!machine_) return;
  bench_->say("");
  if (command == C::remove_extensometer && running() && status_.extensometer) {
    events_.push_back({status_.reading("time"), "extensometer-removed", ""});
    if (status_.state == S::running) bench_->say("Taken off while running: next time hold first.");
  }
  if (command == C::zero_force) note_handling("force-zeroed");
  if (command == C::zero_extension) note_handling("extension-zeroed");
  machine_->command(command, value);
  // Off and held: the next thing is always to go on.
  setFocus();
}

void RunStage::space() {
  if (asking())
    return bench_->say("Say first what you found: " + answers_.front()->text().mid(4) + ", … The number answers.");
  if (unwritten_) return end_run();
  if (status_.state == S::running) {
    events_.push_back({status_.reading("time"), "hold", ""});
    return do_command(C::hold);
  }
  if (status_.state == S::holding) {
    events_.push_back({status_.reading("time"), "resumed", ""});
    return do_command(C::resume);
  }
  start();
}

void RunStage::keyPressEvent(QKeyEvent* event) {
  if (pages_->currentIndex() != 0) return QWidget::keyPressEvent(event);
  const bool fine = event->modifiers() & Qt::ShiftModifier;
  switch (event->key()) {
    case Qt::Key_Space: return space();
    case Qt::Key_Escape: return do_command(status_.state == S::stopped ? C::reset : C::emergency_stop);
    case Qt::Key_Up:
    case Qt::Key_Down:
      if (!event->isAutoRepeat()) do_command(event->key() == Qt::Key_Up ? C::jog_up : C::jog_down, fine ? 0.1 : 2.0);
      return;
    default: break;
  }
  if (asking() && event->key() >= Qt::Key_1 && event->key() < Qt::Key_1 + int(answers_.size()))
    return answer_question(size_t(event->key() - Qt::Key_1));
  for (const Control& c : controls_)
    if (c.button->property("key").toString() == "run-" + QString(QChar(event->key() & 0xFFFF)) && c.button->isEnabled())
      return do_command(c.command, c.value);
  QWidget::keyPressEvent(event);
}

void RunStage::keyReleaseEvent(QKeyEvent* event) {
  if ((event->key() == Qt::Key_Up || event->key() == Qt::Key_Down) && !event->isAutoRepeat())
    return do_command(C::jog_stop);
  QWidget::keyReleaseEvent(event);
}

}  // namespace fortitor
