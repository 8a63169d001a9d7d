// The press that makes the drop tower's dent slowly.
#include <algorithm>
#include <memory>
#include <random>

#include "core/standin/benches.h"
#include "core/standin/plates.h"

namespace fortitor::standin {
namespace {

// The same plate pressed in slowly until the energy asked for is in it, and let go.
class IndentPress : public Machine {
 public:
  explicit IndentPress(const TestRecord& r)
      : random_(seed_of(r) * 8111 + 29),
        plate_(plate_thickness(r), seed_of(r)),
        speed_(r.fields.number("settings.speed.elastic").value_or(0.02)),
        stop_force_(r.fields.number("settings.stop.force")),
        stop_travel_(r.fields.number("settings.stop.travel")) {
    const double per = r.fields.number("specimen.energy_per_thickness").value_or(6700) * 1e-3;
    energy_ = r.fields.number("specimen.target_energy").value_or(per * plate_thickness(r));
  }
  Outcome<Done> command(MachineCommand c, double) override {
    using C = MachineCommand;
    if (state_ == MachineState::stopped && c != C::reset)
      return InputError{"The press was stopped: release the stop first.", {}};
    if (c == C::close_top_grip)
      clamped_ = true;
    else if (c == C::open_grips)
      clamped_ = false;
    else if (c == C::zero_force)
      zero_ = kDrift;
    else if (c == C::start && !clamped_)
      return InputError{"Clamp the plate.", {}};
    else if (c == C::start || c == C::resume)
      state_ = MachineState::running;
    else if (c == C::hold)
      state_ = MachineState::holding;
    else if (c == C::emergency_stop)
      state_ = MachineState::stopped;
    else if (c == C::reset)
      state_ = MachineState::idle;
    else
      return InputError{"The press cannot do that.", {}};
    return Done{};
  }
  Outcome<Done> program(const MachineProgram& p) override {
    rate_ = std::min(p.sampling, 1000.0);
    return Done{};
  }
  MachineStatus status() const override {
    MachineStatus s;
    s.state = state_;
    s.now = {{"time", time_}, {"force", force_ + kDrift - zero_}, {"displacement", travel_}};
    s.top_grip = clamped_;
    s.force_zeroed = zero_ != 0;
    s.message = message_;
    if (!clamped_) s.obstacle = "Clamp the plate.";
    return s;
  }
  std::vector<MachineChannel> channels() const override {
    return {{"time", "Time", Dimension::time},
            {"force", "Force", Dimension::force},
            {"displacement", "Displacement", Dimension::length}};
  }
  std::vector<MachineControl> controls() const override {
    return {{MachineCommand::close_top_grip, "Clamp plate", 'C'},
            {MachineCommand::zero_force, "Zero load", 'Z'},
            {MachineCommand::open_grips, "Unclamp", 'U'}};
  }
  MachineColumns advance(double seconds) override {
    MachineColumns rows(3);
    const double period = 1 / rate_;
    for (double left = seconds; left > 1e-9 && (state_ == MachineState::running || state_ == MachineState::holding);
         left -= period) {
      time_ += period;
      if (state_ == MachineState::running && time_ > 1) {
        const double before = travel_, was = force_;
        travel_ += (back_ ? -1 : 1) * speed_ * period;
        force_ = travel_ > 0 ? plate_.push(travel_) : 0;
        if (!back_) work_ += 0.5e-3 * (was + force_) * (travel_ - before);
        if (work_ >= energy_ || (stop_force_ && force_ >= *stop_force_) || (stop_travel_ && travel_ >= *stop_travel_))
          back_ = true;
        if (back_ && force_ <= 0) {
          state_ = MachineState::idle;
          message_ = "Let go: the dent is made.";
        }
      }
      rows[0].push_back(time_);
      rows[1].push_back(force_ + kDrift - zero_ + 2 * noise_(random_));
      rows[2].push_back(travel_ + 0.0005 * noise_(random_));
    }
    return rows;
  }

 private:
  static constexpr double kDrift = 14;
  std::mt19937_64 random_;
  std::normal_distribution<double> noise_;
  Dented plate_;
  double speed_, energy_ = 0, rate_ = 50, time_ = 0, travel_ = 0, force_ = 0, work_ = 0, zero_ = 0;
  std::optional<double> stop_force_, stop_travel_;
  bool clamped_ = false, back_ = false;
  MachineState state_ = MachineState::idle;
  std::string message_;
};

}  // namespace

std::unique_ptr<Machine> indent_press(const TestRecord& r) {
  return std::make_unique<IndentPress>(r);
}

}  // namespace fortitor::standin
