// The stand-in for compression after impact: the frame with a plate in its fixture, four gauges, screws that turn the
// load from one face to the other.
#include <algorithm>
#include <cmath>
#include <memory>
#include <random>

#include "core/standin/frame_model.h"
#include "core/standin/instruments.h"
#include "core/standin/plates.h"

namespace fortitor::standin {
namespace {

constexpr double kHeight = 150;
constexpr double kPerTurn = 0.03;  // bending that a sixteenth of a turn takes or gives

double area_of(const TestRecord& r) {
  return mean_of(r, "specimen.width", 100) * mean_of(r, "specimen.thickness", find_in(kPlates, r).thickness);
}

double strength_of(const TestRecord& r) {
  const Plate& p = find_in(kPlates, r);
  const double kept = p.struck > 0 ? retention_of(p.struck) : 1;
  return p.undamaged * kept * scatter(seed_of(r), 31, 0.03) * (has_fault(r, "askew") ? 0.93 : 1);
}

std::unique_ptr<Workpiece> plate_piece(const TestRecord& r) {
  const Plate& p = find_in(kPlates, r);
  const double strength = strength_of(r), strain = strength / (p.modulus * scatter(seed_of(r), 32, 0.015));
  return std::make_unique<EnvelopePiece>(Nodes{{0, 0},
                                               {0.9 * strain * kHeight, 0.9 * strength * area_of(r)},
                                               {strain * 1.01 * kHeight, strength * area_of(r)}},
                                         kHeight, true);
}

double length_of(const TestRecord&) {
  return kHeight;
}

const FrameModel& plates() {
  static const FrameModel m = [] {
    FrameModel x{"plate-press",
                 "stand-in press with plate fixture",
                 "compression-after-impact",
                 {},
                 true,
                 plate_piece,
                 length_of,
                 [](const TestRecord& r, const std::string& path, int wanted) -> std::vector<std::string> {
                   const uint64_t seed = seed_of(r);
                   if (path == "specimen.width")
                     return caliper(100 * scatter(seed, 2, 0.001), 0.02, 0.01, wanted, seed * 3 + 2);
                   if (path == "specimen.thickness")
                     return caliper(find_in(kPlates, r).thickness * scatter(seed, 1, 0.006), 0.012, 0.01, wanted,
                                    seed * 3 + 1);
                   return {};
                 },
                 [](const TestRecord& r) -> std::map<std::string, std::string> {
                   if (!ran(r)) return {};
                   return {{"specimen.failure", find_in(kPlates, r).struck > 0 ? "damage" : "buckled"}};
                 },
                 [](TestRecord& r) {
                   const Plate& p = find_in(kPlates, r);
                   type_into(r, "specimen.material", p.material);
                   type_into(r, "specimen.family", "laminate");
                   type_into(r, "specimen.layup", "[45/0/−45/90]4s");
                   type_into(r, "specimen.undamaged", shown(p.undamaged, 1, "MPa"));
                   type_into(r, "equipment.load_cell.capacity", "250 kN");
                   type_into(r, "equipment.load_cell.class", "1");
                   type_into(r, "equipment.frame.stiffness", "120 kN/mm");
                 },
                 {{"askew", "plate stands askew"}}};
    for (const Plate& p : kPlates) x.pieces.push_back({p.id, p.label});
    return x;
  }();
  return m;
}

class PlatePress : public Machine {
 public:
  PlatePress(std::unique_ptr<Machine> frame, const TestRecord& r)
      : frame_(std::move(frame)),
        random_(seed_of(r) * 3571 + 5),
        per_newton_(1 / (area_of(r) * find_in(kPlates, r).modulus)),
        fails_at_(strength_of(r) * area_of(r)),
        lean_{find_in(kPlates, r).bending * scatter(seed_of(r), 33, 0.2), -0.03 * scatter(seed_of(r), 34, 0.3)} {
    if (has_fault(r, "askew")) lean_ = {0.27, 0.16};
  }

  // 1: left front, 2: left back, 3: right front, 4: right back; above 0 in, below 0 out.
  Outcome<Done> command(MachineCommand c, double value) override {
    if (c != MachineCommand::adjust) return frame_->command(c, value);
    const int screw = int(std::lround(std::abs(value)));
    if (screw < 1 || screw > 4) return InputError{"The fixture has four screws.", {}};
    const bool front = screw % 2 == 1;
    lean_[size_t(screw - 1) / 2] += (value > 0) == front ? kPerTurn : -kPerTurn;
    return Done{};
  }
  Outcome<Done> program(const MachineProgram& p) override { return frame_->program(p); }
  MachineStatus status() const override {
    MachineStatus s = frame_->status();
    const auto gauges = gauges_at(s.reading("force"));
    for (size_t i = 0; i < 4; ++i) s.now[kNames[i]] = gauges[i];
    return s;
  }
  std::vector<MachineChannel> channels() const override {
    // Force and gauges are looked at; travel comes last.
    constexpr const char* kLabels[4] = {"Front left", "Back left", "Front right", "Back right"};
    std::vector<MachineChannel> out, last;
    for (const MachineChannel& c : frame_->channels())
      if (c.name == "crosshead")
        last.push_back(c);
      else if (c.name != "extension")
        out.push_back(c);
    for (size_t i = 0; i < 4; ++i) out.push_back({kNames[i], kLabels[i], Dimension::microstrain});
    out.insert(out.end(), last.begin(), last.end());
    return out;
  }
  std::vector<MachineControl> controls() const override {
    std::vector<MachineControl> out;
    for (const MachineControl& c : frame_->controls())
      if (c.command != MachineCommand::mount_extensometer && c.command != MachineCommand::remove_extensometer &&
          c.command != MachineCommand::zero_extension)
        out.push_back(c);
    out.push_back({MachineCommand::adjust, "Left front out", '1', -1});
    out.push_back({MachineCommand::adjust, "Left back out", '2', -2});
    out.push_back({MachineCommand::adjust, "Right front out", '3', -3});
    out.push_back({MachineCommand::adjust, "Right back out", '4', -4});
    return out;
  }
  MachineColumns advance(double seconds) override {
    const MachineColumns in = frame_->advance(seconds);
    const auto from = frame_->channels();
    std::map<std::string, std::vector<double>> by_name;
    for (size_t i = 0; i < from.size(); ++i) by_name[from[i].name] = in[i];
    for (double f : by_name["force"]) {
      const auto e = gauges_at(f);
      for (size_t i = 0; i < 4; ++i) by_name[kNames[i]].push_back(e[i] + 1.5e-6 * noise_(random_));
    }
    MachineColumns rows;
    for (const MachineChannel& c : channels()) rows.push_back(std::move(by_name[c.name]));
    return rows;
  }

 private:
  static constexpr const char* kNames[4] = {"strain_front_1", "strain_back_1", "strain_front_2", "strain_back_2"};
  // Compression counted negative, as an indicator shows it. Close to the end the plate bows out a little.
  std::array<double, 4> gauges_at(double force) const {
    const double mean = -force * per_newton_, bow = 0.04 * std::pow(std::clamp(force / fails_at_, 0.0, 1.2), 8);
    std::array<double, 4> out{};
    for (size_t k = 0; k < 2; ++k) {
      const double b = lean_[k] + (lean_[k] < 0 ? -bow : bow);
      out[2 * k] = mean * (1 + b);
      out[2 * k + 1] = mean * (1 - b);
    }
    return out;
  }

  std::unique_ptr<Machine> frame_;
  std::mt19937_64 random_;
  std::normal_distribution<double> noise_;
  double per_newton_, fails_at_;
  std::array<double, 2> lean_;
};

}  // namespace

const Bench& plate_press() {
  static const Bench bench = [] {
    Bench b = bench_of(plates(), plate_press);
    b.machine = [frame = b.machine](const TestRecord& r) { return std::make_unique<PlatePress>(frame(r), r); };
    b.program = [](const TestRecord& r) {
      MachineProgram p = pulling_program(r, 0.02, -1, 1, 50);
      const MachineStep seat{MachineQuantity::travel, p.steps.front().rate, MachineQuantity::force,
                             r.fields.number("settings.seating").value_or(450), HUGE_VAL};
      MachineStep on = p.steps.back();
      p.steps = {seat, on};
      return p;
    };
    return b;
  }();
  return bench;
}

}  // namespace fortitor::standin
