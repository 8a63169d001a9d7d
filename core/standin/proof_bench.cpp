// The stand-in proof bench: clamps that seat, spring, bind before they break, and break.
#include <algorithm>
#include <cmath>
#include <memory>
#include <random>
#include <stdexcept>

#include "core/methods/method.h"
#include "core/quantity/format.h"
#include "core/standin/frame_model.h"
#include "core/standin/instruments.h"

namespace fortitor::standin {
namespace {

struct Clamp {
  const char *id, *label, *family;
  double stiffness, yield, breaks, tool, stuck;  ///< N/mm; N: where it yields, breaks, opens by tool only, not at all
  double seat;                                   ///< mm at the first loading
};
constexpr Clamp kClamps[] = {{"forged-clamp", "forged rope clamp", "alloy steel", 8200, 31e3, 53e3, 34e3, 46e3, 0.062},
                             {"cast-clamp", "cast rope clamp, old", "cast steel", 7100, 25e3, 33e3, 25e3, 30e3, 0.11},
                             {"link", "shackle link", "alloy steel", 12500, 48e3, 88e3, 70e3, 84e3, 0.04}};

class ProofBench : public Machine {
 public:
  explicit ProofBench(const TestRecord& r)
      : clamp_(find_in(kClamps, r)),
        random_(seed_of(r) * 4871 + 3),
        proof_(r.fields.number("specimen.proof").value_or(20e3)),
        preload_(r.fields.number("specimen.reference_preload").value_or(0.05 * proof_)),
        rate_(r.fields.number("settings.rate").value_or(333)),
        hold_(r.fields.number("settings.hold").value_or(30)),
        speed_(r.fields.number("settings.speed.elastic").value_or(0.083)),
        cycles_(size_t(std::clamp(r.fields.number("settings.cycles").value_or(2), 0.0, 50.0))) {
    clamp_.stiffness *= scatter(seed_of(r), 41, 0.02);
    clamp_.breaks *= scatter(seed_of(r), 42, 0.04);
    clamp_.tool *= scatter(seed_of(r), 43, 0.05);
    clamp_.seat *= scatter(seed_of(r), 44, 0.15);
    if (has_fault(r, "cracked")) clamp_.breaks *= 0.62, clamp_.yield *= 0.62, clamp_.stiffness *= 0.93;
  }

  Outcome<Done> command(MachineCommand c, double) override {
    using C = MachineCommand;
    if (state_ == MachineState::stopped && c != C::reset)
      return InputError{"The bench was stopped: release the stop first.", {}};
    switch (c) {
      case C::close_top_grip: hung_ = true; break;
      case C::open_grips:
        if (force_ > 2 * preload_) return InputError{"The piece is under load: unload first.", {}};
        hung_ = false;
        break;
      case C::zero_force: zero_ = kDrift; break;
      case C::start:
        if (!hung_) return InputError{"Hang the piece in.", {}};
        state_ = MachineState::running;
        phase_ = cycles_ > 0 ? Phase::up : Phase::destroy;
        break;
      case C::hold: state_ = MachineState::holding; break;
      case C::resume:
        if (waits_) {
          waits_ = false;
          ++done_;
          phase_ = done_ < cycles_ ? Phase::up : Phase::destroy;
        }
        state_ = MachineState::running;
        message_.clear();
        break;
      case C::emergency_stop: stop(MachineState::stopped, "Stopped by hand."); break;
      case C::reset:
        state_ = MachineState::idle;
        message_.clear();
        break;
      default: return InputError{"The bench cannot do that.", {}};
    }
    return Done{};
  }
  Outcome<Done> program(const MachineProgram& p) override {
    sampling_ = p.sampling;
    stop_force_ = p.stop_force;
    stop_travel_ = p.stop_travel;
    return Done{};
  }
  MachineStatus status() const override {
    MachineStatus s;
    s.state = state_;
    s.now = {{"time", time_}, {"force", force_ + kDrift - zero_}, {"displacement", travel_}};
    s.top_grip = hung_;
    s.broken = broken_;
    s.force_zeroed = zero_ != 0;
    s.neck = std::clamp(most_ / clamp_.breaks, 0.0, 1.0);
    s.waits = waits_;
    s.message = message_;
    if (!hung_) s.obstacle = "Hang the piece in.";
    return s;
  }
  std::vector<MachineChannel> channels() const override {
    return {{"time", "Time", Dimension::time},
            {"force", "Force", Dimension::force},
            {"displacement", "Displacement", Dimension::length}};
  }
  std::vector<MachineControl> controls() const override {
    return {{MachineCommand::close_top_grip, "Hang it in", 'T'},
            {MachineCommand::zero_force, "Zero force", 'Z'},
            {MachineCommand::open_grips, "Take it out", 'G'}};
  }
  /// What a hand finds when it tries: "free", "by tool", "stuck".
  std::string opens() const { return most_ > clamp_.stuck ? "stuck" : most_ > clamp_.tool ? "by tool" : "free"; }

  MachineColumns advance(double seconds) override {
    MachineColumns rows(3);
    if (state_ != MachineState::running && state_ != MachineState::holding) return rows;
    const double period = 1 / sampling_;
    for (double left = seconds; left > 1e-9 && (state_ == MachineState::running || state_ == MachineState::holding);
         left -= period) {
      time_ += period;
      if (state_ == MachineState::running) move(period);
      rows[0].push_back(time_);
      rows[1].push_back(force_ + kDrift - zero_ + 4 * noise_(random_));
      rows[2].push_back(travel_ + 0.0006 * noise_(random_));
      if (broken_ && ++after_ > 8) stop(MachineState::idle, "The piece broke.");
    }
    return rows;
  }

 private:
  enum class Phase { up, hold, down, destroy };
  // What does not come back once `most` was reached.
  double stays(double most) const {
    const double plastic = most > clamp_.yield ? std::pow((most - clamp_.yield) / clamp_.yield, 1.8) * 9 : 0;
    return clamp_.seat * (1 - std::exp(-3 * most / proof_)) + plastic;
  }
  double travel_at(double force) const { return force / clamp_.stiffness + stays(std::max(most_, force)); }
  void stop(MachineState state, std::string why) {
    state_ = state;
    message_ = std::move(why);
  }
  void move(double dt) {
    if (broken_ || time_ < 1.5) return;  // quiet before it moves
    switch (phase_) {
      case Phase::up:
        force_ = std::min(proof_, force_ + rate_ * dt);
        if (force_ >= proof_) phase_ = Phase::hold, held_ = 0;
        break;
      case Phase::hold:
        held_ += dt;
        if (held_ >= hold_) phase_ = Phase::down;
        break;
      case Phase::down:
        force_ = std::max(0.6 * preload_, force_ - rate_ * dt);
        if (force_ > 0.6 * preload_) break;
        waits_ = true;
        state_ = MachineState::holding;
        message_ = opens() == "free"    ? "Unloaded: it opens by hand."
                   : opens() == "stuck" ? "Unloaded: it does not open."
                                        : "Unloaded: it opens with the tool only.";
        break;
      case Phase::destroy: {
        // Travel leads: the force that belongs to it.
        travel_ += speed_ * dt;
        double low = 0, high = 1.2 * clamp_.breaks;
        for (int i = 0; i < 50; ++i) (travel_at(0.5 * (low + high)) < travel_ ? low : high) = 0.5 * (low + high);
        force_ = low;
        break;
      }
    }
    most_ = std::max(most_, force_);
    if (phase_ != Phase::destroy) travel_ = travel_at(force_);
    if (force_ >= clamp_.breaks) {
      broken_ = true;
      force_ = 0;
    } else if (stop_force_ && force_ >= *stop_force_) {
      stop(MachineState::idle,
           "Stopped at the force limit of " + format_value(*stop_force_, Dimension::force, UnitSet::si) + ".");
    } else if (stop_travel_ && travel_ >= *stop_travel_) {
      stop(MachineState::idle,
           "Stopped at the travel limit of " + format_value(*stop_travel_, Dimension::length, UnitSet::si) + ".");
    }
  }

  static constexpr double kDrift = 35;  // N, before anyone zeroes
  Clamp clamp_;
  std::mt19937_64 random_;
  std::normal_distribution<double> noise_;
  double proof_, preload_, rate_, hold_, speed_;
  size_t cycles_, done_ = 0, after_ = 0;
  double sampling_ = 20, time_ = 0, force_ = 0, travel_ = 0, most_ = 0, held_ = 0, zero_ = 0;
  std::optional<double> stop_force_, stop_travel_;
  bool hung_ = false, broken_ = false, waits_ = false;
  Phase phase_ = Phase::up;
  MachineState state_ = MachineState::idle;
  std::string message_;
};

MachineProgram proof_program(const TestRecord& r) {
  MachineProgram p;
  p.sampling = r.fields.number("settings.sampling").value_or(20);
  p.stop_force = r.fields.number("settings.stop.force");
  p.stop_travel = r.fields.number("settings.stop.travel");
  return p;
}

void proof_draft(TestRecord& r) {
  const Clamp& c = find_in(kClamps, r);
  type_into(r, "specimen.material", c.label);
  type_into(r, "specimen.family", c.family);
  type_into(r, "specimen.rated", "10 kN");
  type_into(r, "specimen.proof", "20 kN");
  type_into(r, "specimen.fixture_limit", "60 kN");
  type_into(r, "equipment.load_cell.capacity", "100 kN");
  type_into(r, "equipment.load_cell.class", "1");
}

TestRecord proof_simulate(const SimulateOptions& o) {
  TestRecord r = measured_piece(proof_bench(), "proof-load", o);
  ProofBench bench(r);
  auto must = [](const Outcome<Done>& done) {
    if (!done) throw std::logic_error(done.error().message);
  };
  must(bench.program(proof_program(r)));
  using C = MachineCommand;
  for (C c : {C::close_top_grip, C::zero_force, C::start}) must(bench.command(c, 0));
  MachineColumns columns(3);
  std::vector<std::string> grades;
  for (int i = 0; i < 20000; ++i) {
    append(columns, bench.advance(1));
    const MachineStatus s = bench.status();
    if (s.waits) {
      grades.push_back(bench.opens());
      must(bench.command(C::resume, 0));
    } else if (s.state != MachineState::running) {
      if (!s.broken) {
        r.run.stopped = s.message;
        r.fields.set("run.censored", true);
        grades.push_back(bench.opens());
      }
      break;
    }
  }
  r.fields.set("specimen.function", kept_words(grades));
  r.run.set_samples(samples_of(bench.channels(), columns));
  return r;
}

}  // namespace

const Bench& proof_bench() {
  static const Bench bench = [] {
    Bench b;
    b.id = "proof-bench";
    b.name = "stand-in proof bench";
    for (const Clamp& c : kClamps) b.pieces.push_back({c.id, c.label});
    b.faults = {{"none", "none"}, {"cracked", "a crack in the piece"}};
    b.readings = [](const TestRecord&, const std::string&, int) { return std::vector<std::string>{}; };
    b.draft = proof_draft;
    b.machine = [](const TestRecord& r) { return std::make_unique<ProofBench>(r); };
    b.program = proof_program;
    b.simulate = proof_simulate;
    return b;
  }();
  return bench;
}

}  // namespace fortitor::standin
