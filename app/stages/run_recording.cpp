// What a run does to the book: samples as they come, the end, and what happens when it cannot be written.
#include "app/stages/run_stage.h"

#include <cmath>

#include "app/theme/parts.h"

namespace fortitor {
namespace {

using parts::qs;
using C = MachineCommand;
using S = MachineState;

constexpr int kFlushMs = 250;  // samples are on disk well within the second promised
constexpr int kShowMs = 160;

}  // namespace

void RunStage::start() {
  if (const auto allowed = may(Papers(*bench_->book()), bench_->book()->operator_name(), "tests"); !allowed)
    return bench_->say(qs(allowed.error().message));
  QString why = obstacle();
  if (why.isEmpty()) why = bench_->not_theirs();
  if (!why.isEmpty()) {
    bench_->say(why);
    return;
  }
  const bool real = !heard_.empty();
  if (!real && bench_->record().fields.text("equipment.standin.piece").empty()) {
    const std::string piece = standin::piece_of(bench_->record(), *standin());
    bench_->edit("stand-in piece: " + qs(piece), [&](TestRecord& r) {
      r.fields.set("equipment.standin.piece", piece);
      r.fields.set("equipment.standin.seed", double(standin::seed_of(r)));
    });
  }
  std::vector<std::string> names;
  for (const MachineChannel& c : machine_->channels()) names.push_back(c.name);
  const auto run = bench_->book()->begin_run(bench_->specimen(), names,
                                             real ? "wire, " + heard_.substr(0, heard_.find(':')) : standin()->name);
  if (!run) {
    bench_->say(qs(run.error().message));
    return;
  }
  run_ = *run;
  recording_ = Recording(machine_->channels());
  events_.clear();
  for (const auto& [kind, ms] : handled_)
    events_.push_back({std::round(double(ms - since_set_up_.elapsed()) / 100) / 10 - 0.1, kind, ""});
  handled_.clear();
  flushed_ = shown_ = 0;
  since_flush_.start();
  since_show_.start();
  happened_ = 0;
  if (!real) machine_->program(standin()->program(bench_->record()));
  do_command(C::start);
}

void RunStage::take_samples(const ColumnsPtr& columns) {
  if (run_ == 0) return;
  recording_.append(*columns);
  if (since_flush_.elapsed() >= kFlushMs) flush();
  if (since_show_.elapsed() >= kShowMs) show_run();
}

void RunStage::show_run() {
  since_show_.restart();
  shown_ = recording_.rows();
  bench_->show_growing(recording_.live(), events_);
}

bool RunStage::flush() {
  since_flush_.restart();
  const size_t rows = recording_.rows();
  if (flushed_ == rows) return true;
  const auto done = bench_->book()->append_run(run_, recording_.since(flushed_));
  if (!done) {
    bench_->say(qs(done.error().message) + " Everything measured is kept here; make room and go on.");
    if (status_.state == S::running && machine_) machine_->command(C::hold);
    return false;
  }
  flushed_ = rows;
  return true;
}

void RunStage::note_handling(const char* kind) {
  if (run_ != 0) return events_.push_back({status_.reading("time"), kind, ""});
  handled_.push_back({kind, since_set_up_.elapsed()});
}

void RunStage::take_status(const MachineStatus& status) {
  const bool was_on = status_.state == S::running || status_.state == S::holding;
  if (status.top_grip && !status_.top_grip) note_handling("top-grip-closed");
  if (status.bottom_grip && !status_.bottom_grip) note_handling("bottom-grip-closed");
  // Of a machine that is only heard nobody knows when it was mounted.
  if (status.extensometer && !status_.extensometer && !status.listened) note_handling("extensometer-mounted");
  for (; run_ != 0 && happened_ < status.happened.size(); ++happened_) events_.push_back(status.happened[happened_]);
  if (run_ != 0 && status.listened) {  // it may be silent for long: what came is kept and shown
    if (since_flush_.elapsed() >= kFlushMs) flush();
    if (recording_.rows() > shown_ && since_show_.elapsed() >= kShowMs) show_run();
  }
  status_ = status;
  show_readings();
  frame_->update();
  refresh_controls();
  emit machine_changed();
  const bool on = status.state == S::running || status.state == S::holding;
  if (run_ != 0 && was_on && !on) end_run();
}

// Every channel of the machine, the led one first; what is known of the piece turns force into stress and extension
// into strain.
void RunStage::show_readings() {
  if (!machine_) return;
  const auto e = bench_->evaluation();
  const ResultValue* known = e ? e->find("area") : nullptr;
  const double area = known != nullptr ? known->value : 0;
  const double gauge = bench_->record().fields.number("specimen.extensometer_length").value_or(0);
  std::vector<BigFigures::Reading> out;
  for (const MachineChannel& c : machine_->channels()) {
    if (c.dimension == Dimension::time) continue;
    const double v = status_.reading(c.name);
    if (c.name == "extension") {
      if (gauge > 0) out.push_back({"Strain, extensometer", v / gauge, Dimension::strain});
      continue;
    }
    out.push_back({qs(c.label), v, c.dimension});
    if (c.dimension == Dimension::force && area > 0) out.push_back({"Stress", v / area, Dimension::stress});
  }
  figures_->show_readings(std::move(out), bench_->units());
}

void RunStage::end_run() {
  unwritten_ = !flush();
  if (unwritten_) {  // the run stays open in the book: it cannot be signed, and Space tries again
    refresh_controls();
    return;
  }
  const QString why = status_.broken ? QString() : qs(status_.message);
  const auto closed = bench_->book()->close_run(run_, why.toStdString());
  if (!closed) {
    unwritten_ = true;
    return bench_->say(qs(closed.error().message) + " Space tries again.");
  }
  run_ = 0;
  if (recording_.rows() == 0) return;
  bench_->finish_run(recording_.take(), events_, why);
  if (status_.broken) bench_->say(qs(bench_->method().wording.after_run));
  refresh_controls();
  emit run_ended();
}

}  // namespace fortitor
