#include "app/stages/run_stage.h"

#include <QGridLayout>
#include <QKeyEvent>
#include <QPushButton>
#include <QStackedWidget>
#include <QTimer>

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

void RunStage::set_speed(double speed) {
  speed_ = speed;
  if (machine_ && heard_.empty()) machine_->set_speed(speed);
  for (QPushButton* b : speeds_) b->setChecked(b->property("factor").toDouble() == speed);
}

void RunStage::rebuild() {
  if (run_ != 0) end_run();
  machine_.reset();
  ++machine_number_;
  machine_for_ = 0;
  heard_.clear();
  status_ = {};
  const bool steps = keyed();
  standin_tab_->setText(spoken(!steps                                      ? "Stand-in machine"
                               : bench_->method().keyed_table()->stepped() ? "Call-out sheet"
                                                                           : "Tally"));
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
  caution_->setText(spoken(cautions.empty() ? QString() : "△  " + qs(cautions.front())));
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

void RunStage::listen_to(WireBoard* wires) {
  wires_ = wires;
  call_out_->listen_to(wires);
  // Instruments speak a thousand times a second; which of them are there, and with what format, is asked three times.
  auto* look = new QTimer(this);
  look->setSingleShot(true);
  look->setInterval(300);
  connect(wires, &WireBoard::changed, look, [this, look] {
    if (isVisible() && !running() && !look->isActive()) look->start();
  });
  connect(look, &QTimer::timeout, this, [this] {
    if (!isVisible() || running() || keyed() || !bench_->has_specimen() || name_of(ears()) == heard_) return;
    connect_machine();
    refresh_controls();
  });
}

std::vector<Ear> RunStage::ears() const {
  std::vector<Ear> out;
  if (wires_ == nullptr || wires_->items().empty() || practice::is_practice(bench_->record())) return out;
  const auto kit = bench_->book()->kit();
  if (!kit) return out;
  for (const EquipmentSlot& slot : bench_->method().equipment) {
    const kit::Item* item = kit::used_in(bench_->record(), slot.id, *kit);
    const LiveItem* live = item != nullptr ? wires_->find(item->id) : nullptr;
    if (live == nullptr || !live->format) continue;
    Ear ear{live->name, *live->format,
            heard_channels(*live->format, bench_->method(), live->last ? &*live->last : nullptr),
            wires_->box(item->id)};
    if (!ear.channels.empty()) out.push_back(std::move(ear));
  }
  return out;
}

std::string RunStage::name_of(const std::vector<Ear>& ears) {
  std::string out;
  for (const Ear& e : ears) {
    out += (out.empty() ? "" : "; ") + e.name + ": " + line::format_to_json(e.format);
    for (const auto& [from, to] : e.channels) out += " " + from + "=" + to;
  }
  return out;
}

// The machine is set up from the record when the stage is shown with nothing running.
void RunStage::connect_machine() {
  if (run_ != 0) return;
  std::vector<Ear> heard = ears();
  const std::string name = name_of(heard);
  if (machine_ && !name.empty() && name == heard_ && machine_for_ == bench_->specimen()) return;
  const std::string devices = heard.empty() ? std::string() : heard.front().name;
  std::unique_ptr<Machine> machine = heard_machine(std::move(heard), bench_->method());
  const bool real = machine != nullptr;
  heard_ = real ? name : std::string();
  if (!real && (standin() == nullptr || !standin()->machine)) return;
  standin_tab_->setText(spoken(real ? qs(devices) : "Stand-in machine"));
  status_ = {};
  machine_ = std::make_unique<Acquisition>(real ? std::move(machine) : standin()->machine(bench_->record()),
                                           real ? 1.0 : speed_);
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
  if (status_.listened && running()) return do_command(C::hold);
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
