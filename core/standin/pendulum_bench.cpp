// Stand-in pendulum: hammer with friction and windage, steels that grow brittle in the cold, a polymer.
#include <cmath>
#include <random>

#include "core/methods/support/blows.h"
#include "core/standin/benches.h"
#include "core/standin/frame_model.h"
#include "core/standin/instruments.h"

namespace fortitor::standin {
namespace {

struct Stuff {
  const char *id, *material, *family;
  double lower, upper, t0, c;  ///< of its transition; J, °C
  bool plastic;
};
constexpr Stuff kStuff[] = {{"bolt-steel", "S355J2", "carbon steel", 7, 172, -38, 26, false},
                            {"quenched", "42CrMo4+QT", "alloy steel", 12, 96, -62, 34, false},
                            {"liner", "PA 66, impact modified", "polymer", 0.33, 0.42, -20, 40, true}};

const Stuff& stuff(const TestRecord& r) {
  const std::string id = piece_of(r, pendulum_bench());
  for (const Stuff& s : kStuff)
    if (id == s.id) return s;
  return kStuff[0];
}

class Pendulum : public StepMachine {
 public:
  explicit Pendulum(const TestRecord& r) : record_(r) {}
  void balance() override {}
  Outcome<Done> go_to(double row) override {
    const Stuff& s = stuff(record_);
    std::mt19937_64 random(seed_of(record_) * 9973 + uint64_t(std::max(0.0, row)) * 7907 + 1);
    std::normal_distribution<double> n;
    const double t = record_.fields.number("specimen.temperature").value_or(20);
    double mean = 0.5 * (s.upper + s.lower) + 0.5 * (s.upper - s.lower) * std::tanh((t - s.t0) / s.c);
    // A piece that waited on the way warms towards the room.
    const bool late = has_fault(record_, "late") && row > 1.5 && row < 2.5;
    seconds_ = late ? 9.2 : 3.2 + 0.4 * std::abs(n(random));
    if (late) mean *= 1.35;
    if (record_.method == "impact-tension") mean *= 0.75;
    jams_ = has_fault(record_, "jam") && row > 0.5 && row < 1.5;
    if (jams_) mean *= 1.6;  // the hammer drags the half along
    energy_ = std::max(0.3 * s.lower, mean * (1 + 0.07 * n(random)));
    return Done{};
  }
  std::map<std::string, std::string> read() override {
    const Stuff& s = stuff(record_);
    std::map<std::string, std::string> out = {{"energy", shown(energy_, s.plastic ? 0.001 : 0.5, "J")},
                                              {"from_bath", shown(seconds_, 0.1, "s")}};
    if (jams_) out["jammed"] = "true";
    // Liners snap; of a mixed lot some hang together by a hinge.
    if (s.plastic) out["break"] = "C";
    if (s.plastic && has_fault(record_, "mixed")) {
      std::mt19937_64 luck(seed_of(record_) * 131 + uint64_t(1e6 * energy_));
      out["break"] = std::uniform_real_distribution<double>(0, 1)(luck) < 0.35 ? "H" : "C";
    }
    const double tough = std::clamp((energy_ - s.lower) / (s.upper - s.lower), 0.0, 1.0);
    out["shear"] = shown(5 * std::round(20 * tough), 5, "%");
    out["lateral_expansion"] = shown(0.1 + 1.8 * tough, 0.05, "mm");
    out["bend_angle"] = shown(175 - 70 * tough, 1, "deg");
    const blows::Swing swing = blows::swing_of(record_.fields);
    if (swing.known() && swing.start) {
      // The rise at which hammer, friction and air leave just this energy behind.
      double low = 0, high = *swing.start;
      for (int i = 0; i < 60; ++i)
        (blows::energy_of_swing(swing, *swing.start, 0.5 * (low + high)) > energy_ ? low : high) = 0.5 * (low + high);
      out["beta"] = shown(0.5 * (low + high) * 180 / M_PI, 0.1, "deg");
    }
    return out;
  }
  Outcome<Done> unload() override { return Done{}; }
  StepStatus status() const override { return {}; }

 private:
  TestRecord record_;
  double energy_ = 0, seconds_ = 0;
  bool jams_ = false;
};

std::vector<std::string> pendulum_readings(const TestRecord& r, const std::string& path, int wanted) {
  const Stuff& s = stuff(r);
  const uint64_t seed = seed_of(r);
  const bool round = r.method == "impact-tension";
  const double breadth = s.plastic ? 3.2 : 10, height = s.plastic ? 12.7 : 10;
  if (round && path == "specimen.section.diameter")
    return caliper(8 * scatter(seed, 1, 0.002), 0.01, 0.01, wanted, seed * 3);
  if (round) return {};
  if (path == "specimen.section.width")
    return caliper(breadth * scatter(seed, 1, 0.001), 0.01, 0.01, wanted, seed * 3 + 1);
  if (path == "specimen.section.thickness")
    return caliper(height * scatter(seed, 2, 0.001), 0.01, 0.01, wanted, seed * 3 + 2);
  if (path == "specimen.ligament")
    return caliper((s.plastic ? 10.16 : 8) * scatter(seed, 3, 0.001), 0.01, 0.01, wanted, seed * 3 + 3);
  return {};
}

void pendulum_draft(TestRecord& r) {
  const Stuff& s = stuff(r);
  type_into(r, "specimen.material", s.material);
  type_into(r, "specimen.family", s.family);
  type_into(r, "specimen.available_energy", s.plastic ? "2.75 J" : "300 J");
  type_into(r, "specimen.striker", "2 mm");
  if (!r.fields.number("specimen.temperature")) type_into(r, "specimen.temperature", "20 °C");
  if (r.method == "impact-tension") {
    type_into(r, "specimen.section.shape", "round");
    return;
  }
  if (!s.plastic) {  // a hammer of 300 J from 150°, its free swing within a third of a per cent
    type_into(r, "run.pendulum.mass", "21.86 kg");
    type_into(r, "run.pendulum.length", "750 mm");
    type_into(r, "run.free_swing.alpha", "150 deg");
    type_into(r, "run.free_swing.beta", has_fault(r, "friction") ? "147.4 deg" : "149.3 deg");
  }
  type_into(r, "specimen.section.shape", "flat");
  type_into(r, "specimen.arrangement", s.plastic ? "cantilever-plastic" : "beam");
  type_into(r, "specimen.notch", s.plastic ? "V2.54" : "V2");
}

}  // namespace

const Bench& pendulum_bench() {
  static const Bench bench = [] {
    Bench b;
    b.id = "pendulum-bench";
    b.name = "stand-in pendulum";
    for (const Stuff& s : kStuff) b.pieces.push_back({s.id, s.material});
    b.faults = {{"none", "none"},
                {"late", "one blow late from the bath"},
                {"mixed", "a lot that breaks in two ways"},
                {"jam", "a half jams at the second blow"},
                {"friction", "stiff bearings"}};
    b.readings = pendulum_readings;
    b.draft = pendulum_draft;
    b.step_machine = [](const TestRecord& r) { return std::make_unique<Pendulum>(r); };
    b.simulate = [](const SimulateOptions& o) {
      TestRecord r = measured_piece(pendulum_bench(), o.method.empty() ? "impact-pendulum" : o.method, o);
      if (o.temperature) type_into(r, "specimen.temperature", plain_number(*o.temperature, 5) + " °C");
      if (o.temperature) {
        type_into(r, "settings.bath", "liquid");
        type_into(r, "specimen.soak.stated", "10 min");
        type_into(r, "specimen.soak.elapsed", "12 min");
        type_into(r, "settings.looks", "yes");
      }
      run_stepwise(pendulum_bench(), r);
      return r;
    };
    return b;
  }();
  return bench;
}

}  // namespace fortitor::standin
