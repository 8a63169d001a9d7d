// The stand-in drop tower: a mass on a guide, a plate that cracks under it, a catcher for the rebound.
#include <algorithm>
#include <cmath>
#include <memory>
#include <random>
#include <stdexcept>

#include "core/methods/method.h"
#include "core/quantity/format.h"
#include "core/standin/frame_model.h"
#include "core/standin/instruments.h"
#include "core/standin/plates.h"

namespace fortitor::standin {

namespace {

constexpr double kG = kStandardGravity * 1e3;
constexpr double kPreTrigger = 0.002, kRecord = 0.025, kAfterSecond = 0.2;

class DropTower : public Machine {
 public:
  explicit DropTower(const TestRecord& r)
      : seed_(seed_of(r)),
        random_(seed_ * 6151 + 17),
        mass_(r.fields.number("specimen.mass").value_or(5.5)),
        height_(r.fields.number("settings.drop_height").value_or(0)),
        plate_(plate_thickness(r), seed_),
        strikes_again_(has_fault(r, "second-strike")),
        guide_(has_fault(r, "friction") ? 0.93 : 0.995) {}

  double speed() const { return guide_ * std::sqrt(2 * kG * height_); }

  Outcome<Done> command(MachineCommand c, double) override {
    using C = MachineCommand;
    if (state_ == MachineState::stopped && c != C::reset)
      return InputError{"The tower was stopped: release the stop first.", {}};
    switch (c) {
      case C::close_top_grip: clamped_ = true; break;
      case C::close_bottom_grip:
        if (!clamped_) return InputError{"Clamp the plate before the mass hangs over it.", {}};
        raised_ = true;
        break;
      case C::open_grips:
        if (raised_) return InputError{"The mass hangs over the plate: let it down first.", {}};
        clamped_ = false;
        break;
      case C::go_back: raised_ = false; break;
      case C::zero_force: zero_ = kDrift; break;
      case C::start: {
        if (const std::string o = obstacle(); !o.empty()) return InputError{o, {}};
        state_ = MachineState::running;
        time_ = 0;
        break;
      }
      case C::emergency_stop:
        state_ = MachineState::stopped;
        message_ = "Stopped: the mass is locked.";
        break;
      case C::reset:
        state_ = MachineState::idle;
        message_.clear();
        break;
      default: return InputError{"The tower cannot do that.", {}};
    }
    return Done{};
  }

  Outcome<Done> program(const MachineProgram& p) override {
    rate_ = p.sampling;
    return Done{};
  }

  MachineStatus status() const override {
    MachineStatus s;
    s.state = state_;
    s.now = {{"time", time_}, {"force", kDrift - zero_}};
    s.top_grip = clamped_;
    s.bottom_grip = raised_;
    s.force_zeroed = zero_ != 0;
    s.neck_place = raised_ ? 1 : 0;
    s.message = message_;
    s.obstacle = obstacle();
    return s;
  }

  std::vector<MachineChannel> channels() const override {
    return {{"time", "Time", Dimension::time}, {"force", "Force", Dimension::force}};
  }

  std::vector<MachineControl> controls() const override {
    return {{MachineCommand::close_top_grip, "Clamp plate", 'C'},
            {MachineCommand::close_bottom_grip, "Raise mass", 'R'},
            {MachineCommand::zero_force, "Zero load", 'Z'},
            {MachineCommand::go_back, "Let down", 'D'},
            {MachineCommand::open_grips, "Unclamp", 'U'}};
  }

  // The fall takes its time; the strike is recorded in one piece when it is over.
  MachineColumns advance(double seconds) override {
    MachineColumns rows(2);
    if (state_ != MachineState::running) return rows;
    time_ += seconds;
    const double fall = std::sqrt(2 * height_ / kG);
    if (time_ < fall + kRecord) return rows;
    strike(rows);
    state_ = MachineState::idle;
    raised_ = false;
    message_ = strikes_again_ ? "The catcher did not close." : "One strike, rebound caught.";
    return rows;
  }

 private:
  std::string obstacle() const {
    if (!(height_ > 0)) return "Set the height of the drop.";
    if (!clamped_) return "Clamp the plate.";
    if (!raised_) return "Raise the mass.";
    return {};
  }

  void strike(MachineColumns& rows) {
    const double period = 1 / rate_, step = std::min(2e-6, period);
    double v = speed(), d = 0, t = -kPreTrigger, due = t, f = 0;
    const double until = strikes_again_ ? kAfterSecond : kRecord;
    std::normal_distribution<double> noise;
    double last_contact = 0, ring = 0;
    while (t < until) {
      if (t >= 0) {
        const double before = f;
        f = d > 0 ? plate_.push(d) : 0;
        if (f > 0) last_contact = t;
        // A crack rings the cell.
        if (before - f > 0.04 * std::max(before, 1.0) && before > 1000) ring = 0.05 * before;
        v += (kG - 1e3 * f / mass_) * step;
        d += v * step;
        // Caught after the rebound: it never comes down again, unless the catcher fails.
        if (!strikes_again_ && d < -2 && v < 0) v = 0, d = -2;
      }
      if (t + 1e-12 >= due) {
        const double tone = ring * std::exp(-(t - last_contact) / 0.001) * std::sin(2 * M_PI * 4000 * t);
        rows[0].push_back(t + kPreTrigger);
        rows[1].push_back(f + (f > 0 ? 0.3 * tone : 0) + kDrift - zero_ + 3 * noise(random_));
        due += period;
      }
      t += step;
      ring *= 1 - step / 0.0006;
    }
  }

  static constexpr double kDrift = 26;  // N, before anyone zeroes
  uint64_t seed_;
  std::mt19937_64 random_;
  double mass_, height_;
  Dented plate_;
  bool strikes_again_, clamped_ = false, raised_ = false;
  double guide_, zero_ = 0, time_ = 0, rate_ = 200e3;
  MachineState state_ = MachineState::idle;
  std::string message_;
};

std::unique_ptr<Machine> machine_of(const TestRecord& r) {
  if (r.fields.text("settings.way") == "indentation") return indent_press(r);
  return std::make_unique<DropTower>(r);
}

// Energy per thickness that the plate got, J/mm.
double struck_with(const TestRecord& r) {
  if (r.fields.text("settings.way") == "indentation")
    return r.fields.number("specimen.energy_per_thickness").value_or(6700) * 1e-3;
  const double v = r.fields.number("specimen.v_impact").value_or(DropTower(r).speed());
  return 0.5e-6 * r.fields.number("specimen.mass").value_or(5.5) * v * v / plate_thickness(r);
}

std::vector<std::string> tower_readings(const TestRecord& r, const std::string& path, int wanted) {
  const uint64_t seed = seed_of(r);
  if (path == "specimen.thickness")
    return caliper(find_in(kPlates, r).thickness * scatter(seed, 1, 0.006), 0.012, 0.01, wanted, seed * 3 + 1);
  if (path == "specimen.length") return caliper(150, 0.05, 0.1, wanted, seed * 3 + 2);
  if (path == "specimen.width") return caliper(100, 0.05, 0.1, wanted, seed * 3 + 3);
  if (!ran(r)) return {};
  if (path == "specimen.v_impact" && r.fields.text("settings.way") == "indentation") return {};
  if (path == "specimen.v_impact") return {shown(DropTower(r).speed() / 1e3 * scatter(seed, 5, 0.002), 0.001, "m/s")};
  const double per = struck_with(r), dent = dent_of(per) * scatter(seed, 6, 0.06),
               length = damage_of_strike(per) * scatter(seed, 7, 0.05);
  if (path == "specimen.damage.dent") return {shown(dent, 0.01, "mm")};
  if (path == "specimen.damage.dent_after") return {shown(4, 1, "min")};
  if (path == "specimen.damage.length_front") return {shown(0.55 * length, 0.5, "mm")};
  if (path == "specimen.damage.width_front") return {shown(0.4 * length, 0.5, "mm")};
  if (path == "specimen.damage.length_back") return {shown(length, 0.5, "mm")};
  if (path == "specimen.damage.width_back") return {shown(0.55 * length, 0.5, "mm")};
  return {};
}

std::map<std::string, std::string> tower_looks(const TestRecord& r) {
  if (!ran(r)) return {};
  return {{"specimen.rebound_caught", has_fault(r, "second-strike") ? "false" : "true"},
          {"specimen.damage.kinds", struck_with(r) > 8 ? "dent;split;delamination;fibre break" : "dent;delamination"}};
}

void tower_draft(TestRecord& r) {
  const Plate& p = find_in(kPlates, r);
  type_into(r, "specimen.material", p.material);
  type_into(r, "specimen.family", "laminate");
  type_into(r, "specimen.layup", "[45/0/−45/90]4s");
  type_into(r, "specimen.energy_per_thickness", shown(p.struck > 0 ? p.struck : 6.7, 0.1, "J/mm"));
  type_into(r, "specimen.mass", "5.5 kg");
  type_into(r, "equipment.load_cell.capacity", "20 kN");
  type_into(r, "equipment.load_cell.class", "1");
}

// What a good eye draws on both faces.
void draw_damage(TestRecord& r) {
  const double per = struck_with(r), length = damage_of_strike(per) * scatter(seed_of(r), 7, 0.05);
  auto mark = [&](const char* kind, const char* face, double x, double y, double l, double w) {
    Row row;
    row.cells.set("kind", std::string(kind));
    row.cells.set("face", std::string(face));
    for (const auto& [name, v] : {std::pair{"x", x}, {"y", y}, {"length", l}, {"width", w}})
      row.cells.set(name, reading_of(parse_quantity(shown(v, 0.5, "mm"), Dimension::length).value()));
    r.run.tables["drawn"].push_back(std::move(row));
  };
  mark("dent", "front", 0, 0, 0.3 * length, 0.28 * length);
  mark("delamination", "front", 0, 0, 0.55 * length, 0.4 * length);
  mark("delamination", "back", 1, -1, length, 0.55 * length);
  if (per > 8) mark("split", "back", 2, 0, 1.5 * length, 1);
  if (per > 8) mark("fibre break", "back", 0, 0, 0.4 * length, 2);
}

TestRecord tower_simulate(const SimulateOptions& o) {
  TestRecord r = measured_piece(drop_tower(), "drop-impact", o);
  DropTower tower(r);
  using C = MachineCommand;
  auto must = [](const Outcome<Done>& done) {
    if (!done) throw std::logic_error(done.error().message);
  };
  MachineProgram p;
  p.sampling = r.fields.number("settings.sampling").value_or(200e3);
  must(tower.program(p));
  for (C c : {C::close_top_grip, C::close_bottom_grip, C::zero_force, C::start}) must(tower.command(c, 0));
  MachineColumns columns(2);
  for (int i = 0; i < 100 && tower.status().state == MachineState::running; ++i) append(columns, tower.advance(0.1));
  r.run.stopped = tower.status().message;
  r.run.set_samples(samples_of(tower.channels(), columns));
  for (const FieldSpec& f : methods::find(r.method)->fields)
    if (f.stage == Stage::after && (f.kind == FieldKind::quantity || f.kind == FieldKind::readings) &&
        !r.fields.has(f.path))
      type_list(r, f.path, tower_readings(r, f.path, std::max(1, f.wanted)));
  for (const auto& [path, value] : tower_looks(r)) type_into(r, path, value);
  draw_damage(r);
  return r;
}

}  // namespace

const Bench& drop_tower() {
  static const Bench bench = [] {
    Bench b;
    b.id = "drop-tower";
    b.name = "stand-in drop tower";
    for (const Plate& p : kPlates)
      if (p.struck > 0) b.pieces.push_back({p.id, p.label});
    b.faults = {{"none", "none"}, {"second-strike", "rebound not caught"}, {"friction", "guide rubs"}};
    b.readings = tower_readings;
    b.looks = tower_looks;
    b.draft = tower_draft;
    b.machine = machine_of;
    b.program = [](const TestRecord& r) {
      MachineProgram p;
      p.sampling = r.fields.number("settings.sampling").value_or(200e3);
      return p;
    };
    b.simulate = tower_simulate;
    return b;
  }();
  return bench;
}

}  // namespace fortitor::standin
