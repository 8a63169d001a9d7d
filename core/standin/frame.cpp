#include "core/standin/frame.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <stdexcept>

#include "core/quantity/format.h"

namespace fortitor::standin {
namespace {

constexpr double kQuiet = 2.0;  // s of standing still recorded before the drive starts
constexpr double kReturnSpeed = 5.0;
constexpr double kPulls = 100;  // N: from here on a closing grip takes up what slack there is

const Metal& metal_of(const FrameSettings& s) {
  const Metal* m = find_metal(s.metal);
  if (m == nullptr || !(s.area > 0) || !(s.parallel_length > 0)) throw std::invalid_argument("frame settings");
  return *m;
}

InputError refuse(std::string why) {
  return {std::move(why), {}};
}

}  // namespace

UniversalFrame::UniversalFrame(FrameSettings settings)
    : settings_(std::move(settings)),
      specimen_(std::make_unique<TensionSpecimen>(metal_of(settings_), settings_.area, settings_.parallel_length,
                                                  settings_.seed)),
      random_(settings_.seed * 104729 + 3) {}

UniversalFrame::UniversalFrame(FrameSettings settings, std::unique_ptr<Workpiece> piece)
    : settings_(std::move(settings)), specimen_(std::move(piece)), random_(settings_.seed * 104729 + 3) {
  if (!specimen_ || !(settings_.parallel_length > 0)) throw std::invalid_argument("frame settings");
}

std::vector<MachineControl> UniversalFrame::controls() const {
  using C = MachineCommand;
  if (settings_.platens)
    return {{C::close_top_grip, "Place piece", 'T'},
            {C::zero_force, "Zero force", 'Z'},
            {C::go_back, "Go back", 'R'},
            {C::open_grips, "Take it out", 'G'}};
  return {{C::close_top_grip, "Top grip", 'T'},
          {C::zero_force, "Zero force", 'Z'},
          {C::close_bottom_grip, "Bottom grip", 'B'},
          {C::mount_extensometer, "Extens. on", 'X'},
          {C::zero_extension, "Zero ext.", 'O'},
          {C::remove_extensometer, "Take off", 'E'},
          {C::go_back, "Go back", 'R'},
          {C::open_grips, "Open grips", 'G'}};
}

std::string UniversalFrame::obstacle() const {
  if (state_ == MachineState::stopped) return "The frame is stopped. Esc again releases and resets it.";
  if (!top_grip_)
    return settings_.platens ? "Place the piece between the platens and leave a gap above it."
                             : "Close the top grip first, then zero, then the bottom grip.";
  if (!zeroed_)
    return settings_.platens ? "Zero the force while the platen is clear." : "Zero the force with one grip open.";
  if (!bottom_grip_) return "Close the bottom grip.";
  return {};
}

double UniversalFrame::now_strain() const {
  if (extensometer_) return specimen_->gauge_extension(settings_.extensometer_length) / settings_.extensometer_length;
  return (specimen_->strain() * settings_.parallel_length + specimen_->neck_extension()) / settings_.parallel_length;
}

Outcome<Done> UniversalFrame::program(const MachineProgram& p) {
  if (state_ == MachineState::running) return refuse("The frame is running: hold or stop it first.");
  if (p.steps.empty() || p.repeat < 1) return refuse("The program has no step.");
  for (const MachineStep& step : p.steps) {
    if (step.control != MachineQuantity::travel) return refuse("This frame is led by its crosshead only.");
    if (step.until == MachineQuantity::torque || step.until == MachineQuantity::angle)
      return refuse("This frame reads force, travel and strain only.");
    if (!(step.rate > 0) || step.rate > 20)
      return refuse("The frame drives at 0 to 20 mm/s (1200 mm/min): set both speeds within that.");
  }
  if (!(p.sampling >= 1) || p.sampling > 5000) return refuse("The frame samples at 1 to 5000 Hz.");
  program_ = p;
  return Done{};
}

Outcome<Done> UniversalFrame::command(MachineCommand c, double value) {
  using C = MachineCommand;
  if (c == C::emergency_stop) {
    stop_run(MachineState::stopped, "Emergency stop. Make safe, then release and reset.");
    jog_ = 0;
    return Done{};
  }
  if (c == C::reset) {
    if (state_ == MachineState::stopped) state_ = MachineState::idle;
    message_.clear();
    return Done{};
  }
  if (state_ == MachineState::stopped) return refuse("The frame is stopped: reset it first.");
  const bool moving = state_ == MachineState::running || state_ == MachineState::returning;
  switch (c) {
    case C::jog_up:
    case C::jog_down:
      if (state_ != MachineState::idle) return refuse("Jogging is for between runs.");
      if (gripped() && !specimen_->broken() && std::abs(value) > 0.2)
        return refuse("The piece is gripped at both ends: only fine jogging is allowed.");
      jog_ = c == C::jog_up ? std::abs(value) : -std::abs(value);
      return Done{};
    case C::jog_stop: jog_ = 0; return Done{};
    case C::close_top_grip:
      if (moving) return refuse("Not while the crosshead moves.");
      top_grip_ = true;
      if (settings_.platens) bottom_grip_ = true;
      if (bottom_grip_) grip_at_ = crosshead_;
      return Done{};
    case C::close_bottom_grip:
      if (moving) return refuse("Not while the crosshead moves.");
      if (!bottom_grip_) preload_now_ = top_grip_ ? settings_.preload : 0;
      bottom_grip_ = true;
      grip_at_ = crosshead_;
      if (preload_now_ > kPulls) pull_taut();
      return Done{};
    case C::open_grips:
      if (moving) return refuse("Not while the crosshead moves.");
      if (gripped() && specimen_->force() > 50) return refuse("The piece still carries load: go back first.");
      top_grip_ = bottom_grip_ = false;
      preload_now_ = 0;
      return Done{};
    case C::zero_force:
      if (state_ != MachineState::idle) return refuse("Zero force before the run, never while the piece carries load.");
      force_zero_ = settings_.zero_start + preload_now_ + (gripped() ? specimen_->force() : 0);
      drift_time_ = 0;
      zeroed_ = true;
      message_ = gripped() ? "Force zeroed with both grips closed: what the grips left on the piece is hidden." : "";
      return Done{};
    case C::mount_extensometer:
      if (!gripped()) return refuse("Grip the piece at both ends, then mount the extensometer.");
      extensometer_ = true;
      extension_zero_ = specimen_->gauge_extension(settings_.extensometer_length) - 0.004;
      return Done{};
    case C::zero_extension:
      if (!extensometer_) return refuse("No extensometer is mounted.");
      extension_zero_ = specimen_->gauge_extension(settings_.extensometer_length);
      return Done{};
    case C::remove_extensometer:
      if (!extensometer_) return refuse("No extensometer is mounted.");
      extensometer_ = false;
      return Done{};
    case C::start:
      if (state_ != MachineState::idle) return refuse("A run is already on.");
      if (!gripped()) return refuse("Close both grips first.");
      if (specimen_->broken()) return refuse("The piece is broken: take it out.");
      state_ = MachineState::running;
      message_.clear();
      jog_ = 0;
      run_time_ = sample_due_ = 0;
      quiet_left_ = kQuiet;
      run_from_ = crosshead_;
      return Done{};
    case C::hold:
      if (state_ != MachineState::running) return refuse("There is nothing to hold.");
      state_ = MachineState::holding;
      message_ = "Held.";
      return Done{};
    case C::resume:
      if (state_ != MachineState::holding) return refuse("The run is not held.");
      state_ = MachineState::running;
      waits_ = false;
      message_.clear();
      return Done{};
    case C::go_back:
      if (extensometer_ && !specimen_->broken() && specimen_->force() > 50 && state_ == MachineState::running)
        return refuse("Hold the run before going back.");
      state_ = MachineState::returning;
      return Done{};
    default: return refuse("The frame does not know that command.");
  }
}

void UniversalFrame::stop_run(MachineState state, std::string why) {
  state_ = state;
  message_ = std::move(why);
}

// A grip that pulls while it closes leaves real force: the piece is stretched by it, and no slack is left.
void UniversalFrame::pull_taut() {
  constexpr double kStep = 1e-4, kMost = 2;  // mm
  double pulled = 0;
  while (specimen_->force() < preload_now_ && pulled < kMost)
    specimen_->stretch(pulled += kStep, settings_.stiffness, settings_.seating);
  grip_at_ = crosshead_ - pulled - settings_.slack;
  preload_now_ = 0;
}

double UniversalFrame::reading_force() const {
  return settings_.zero_start + preload_now_ * (specimen_->broken() ? 0.0 : 1.0) +
         (gripped() ? specimen_->force() : 0) - force_zero_ + (zeroed_ ? settings_.zero_drift * drift_time_ : 0);
}

void UniversalFrame::move(double seconds) {
  drift_time_ += seconds;
  double speed = 0;
  if (state_ == MachineState::running) {
    if (quiet_left_ > 0) {
      quiet_left_ -= seconds;
    } else if (hold_left_ > 0) {
      hold_left_ -= seconds;
    } else if (const MachineStep* now = step()) {
      speed = now->rate;
    }
  } else if (state_ == MachineState::returning) {
    const double step = std::min(kReturnSpeed * seconds, std::abs(crosshead_ - run_from_));
    crosshead_ += crosshead_ > run_from_ ? -step : step;
    if (std::abs(crosshead_ - run_from_) < 1e-9) stop_run(MachineState::idle, "");
  } else if (state_ == MachineState::idle) {
    speed = jog_;
  }
  crosshead_ = std::clamp(crosshead_ + speed * seconds, -settings_.travel_limit, settings_.travel_limit);
  if (gripped()) specimen_->stretch(crosshead_ - grip_at_ - settings_.slack, settings_.stiffness, settings_.seating);
}

std::vector<MachineChannel> UniversalFrame::channels() const {
  return {{"time", "Time", Dimension::time},
          {"force", "Force", Dimension::force},
          {"extension", "Extension", Dimension::length},
          {"crosshead", "Crosshead", Dimension::length}};
}

const MachineStep* UniversalFrame::step() const {
  return step_ < program_.steps.size() ? &program_.steps[step_] : nullptr;
}

double UniversalFrame::now_of(MachineQuantity quantity) const {
  switch (quantity) {
    case MachineQuantity::force: return reading_force();
    case MachineQuantity::travel: return crosshead_ - run_from_;
    default: return now_strain();
  }
}

// A step is over: hold, wait for a person, go on, or end.
void UniversalFrame::end_step() {
  const double hold = program_.steps[step_].hold;
  const bool load = program_.steps[step_].until == MachineQuantity::force;
  if (++step_ == program_.steps.size() && ++round_ < program_.repeat) step_ = 0;
  if (std::isinf(hold)) {
    waits_ = true;
    return stop_run(MachineState::holding, extensometer_
                                               ? "Held at the planned strain: take the extensometer off, then go on."
                                           : load ? "Held at the planned load: go on when it suits."
                                                  : "Held at the planned strain: go on when it suits.");
  }
  hold_left_ = hold;
  if (step() == nullptr && !(hold > 0)) stop_run(MachineState::idle, "The program is through.");
}

UniversalFrame::Sample UniversalFrame::read() {
  Sample row;
  row.time = run_time_;
  row.force = reading_force() + noise_(random_) * settings_.force_noise * settings_.cell_capacity;
  row.crosshead = crosshead_ - run_from_ + noise_(random_) * 2e-5;
  const double jitter = noise_(random_) * settings_.extension_noise;
  if (extensometer_) {
    // Past its range the arm rests on the stop and the reading stands still.
    double x = specimen_->gauge_extension(settings_.extensometer_length) - extension_zero_;
    if (settings_.slip > 0 && x > settings_.slip_at) x -= settings_.slip;
    row.extension = std::min(x, settings_.extensometer_range) + jitter;
  } else {
    row.extension = std::numeric_limits<double>::quiet_NaN();
  }
  return row;
}

MachineColumns UniversalFrame::advance(double seconds) {
  MachineColumns rows(4);
  Sample last;
  auto keep = [&](const Sample& s) {
    last = s;
    rows[0].push_back(s.time);
    rows[1].push_back(s.force);
    rows[2].push_back(s.extension);
    rows[3].push_back(s.crosshead);
  };
  double left = std::max(0.0, seconds);
  const double period = 1.0 / program_.sampling;
  while (left > 1e-12) {
    const bool on = state_ == MachineState::running || state_ == MachineState::holding;
    const double pass = on ? std::min(left, std::max(1e-9, sample_due_ - run_time_)) : std::min(left, 0.01);
    if (!on || sample_due_ > run_time_ + 1e-12) {
      move(pass);
      left -= pass;
      if (on) run_time_ += pass;
    }
    if (!on || run_time_ + 1e-9 < sample_due_) continue;
    keep(read());
    sample_due_ += period;
    const double force = last.force;
    if (state_ != MachineState::running) continue;
    if (specimen_->broken()) {
      // A few samples of nothing after the break, as a break detector leaves.
      for (int i = 0; i < 5; ++i) {
        run_time_ += period;
        keep(read());
      }
      stop_run(MachineState::idle, "The piece broke.");
    } else if (force > settings_.cell_capacity) {
      stop_run(MachineState::holding, "Stopped: the load cell is at its capacity.");
    } else if (force > settings_.frame_capacity) {
      stop_run(MachineState::holding, "Stopped: the frame is at its capacity.");
    } else if (program_.stop_force && force > *program_.stop_force) {
      stop_run(MachineState::idle, "Stopped at the force limit of " +
                                       format_value(*program_.stop_force, Dimension::force, UnitSet::si) + ".");
    } else if (program_.stop_travel && last.crosshead > *program_.stop_travel) {
      stop_run(MachineState::idle, "Stopped at the travel limit of " +
                                       format_value(*program_.stop_travel, Dimension::length, UnitSet::si) + ".");
    } else if (program_.stop_strain && now_strain() > *program_.stop_strain) {
      stop_run(MachineState::idle, "Stopped at the strain limit of " +
                                       format_value(*program_.stop_strain, Dimension::elongation, UnitSet::si) + ".");
    } else if (quiet_left_ <= 0 && hold_left_ <= 0) {
      const MachineStep* now = step();
      if (now == nullptr)
        stop_run(MachineState::idle, "The program is through.");
      else if (now->target && now_of(now->until) >= *now->target)
        end_step();
    }
  }
  return rows;
}

MachineStatus UniversalFrame::status() const {
  MachineStatus s;
  s.state = state_;
  s.now = {{"time", run_time_}, {"force", reading_force()}, {"crosshead", crosshead_ - run_from_}};
  if (extensometer_)
    s.now["extension"] = std::min(specimen_->gauge_extension(settings_.extensometer_length) - extension_zero_,
                                  settings_.extensometer_range);
  s.top_grip = top_grip_;
  s.bottom_grip = bottom_grip_;
  s.extensometer = extensometer_;
  s.broken = specimen_->broken();
  s.force_zeroed = zeroed_;
  s.specimen_strain = specimen_->strain();
  s.neck = specimen_->neck_share();
  s.neck_place = specimen_->neck_place();
  s.waits = waits_;
  s.message = message_;
  s.obstacle = obstacle();
  return s;
}

}  // namespace fortitor::standin
