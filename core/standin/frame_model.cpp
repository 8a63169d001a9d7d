#include "core/standin/frame_model.h"

#include <cmath>
#include <random>
#include <stdexcept>

#include "core/methods/method.h"
#include "core/quantity/format.h"

namespace fortitor::standin {

double scatter(uint64_t seed, int which, double cv) {
  std::mt19937_64 random(seed * 7919 + uint64_t(which) * 131);
  std::normal_distribution<double> n;
  for (int i = 0; i < 3; ++i) n(random);  // neighbouring seeds part company
  return std::exp(cv * n(random));
}

double mean_of(const TestRecord& r, const std::string& path, double otherwise) {
  double sum = 0, count = 0;
  for (const Reading& x : r.fields.readings(path))
    if (x.value) {
      sum += *x.value;
      count += 1;
    }
  return count > 0 ? sum / count : otherwise;
}

MachineProgram pulling_program(const TestRecord& r, double elastic, double plastic, double switch_strain,
                               double sampling) {
  const auto get = [&](const char* path, double otherwise) { return r.fields.number(path).value_or(otherwise); };
  MachineProgram p;
  const double slow = get("settings.speed.elastic", elastic);
  const double fast = get("settings.speed.plastic", plastic > 0 ? plastic : slow);
  const double pause = get("settings.removal_strain", 0);
  const auto strain = MachineQuantity::strain;
  MachineStep first{MachineQuantity::travel, slow, strain, switch_strain, 0};
  MachineStep held{MachineQuantity::travel, pause <= switch_strain ? slow : fast, strain, pause, HUGE_VAL};
  MachineStep on{MachineQuantity::travel, fast, strain, {}, 0};
  p.steps = {first, on};
  if (pause > 0) p.steps.insert(p.steps.begin() + (pause <= switch_strain ? 0 : 1), held);
  p.sampling = get("settings.sampling", sampling);
  p.stop_force = r.fields.number("settings.stop.force");
  p.stop_travel = r.fields.number("settings.stop.travel");
  p.stop_strain = r.fields.number("settings.stop.strain");
  return p;
}

void run_through(Machine& machine, const MachineProgram& program, TestRecord& r, Handling handling) {
  using C = MachineCommand;
  auto press = [&](C command) {
    if (const auto done = machine.command(command); !done) throw std::logic_error(done.error().message);
  };
  // What was done to the machine before the run stands in the record, as the window writes it: seconds before the
  // start.
  press(C::close_top_grip);
  r.events.push_back({-30, "top-grip-closed", ""});
  if (handling.zero) {
    press(C::zero_force);
    r.events.push_back({-20, "force-zeroed", ""});
  }
  // A careful operator zeroes with one grip open and lets the other jaw follow, so that little is left on the piece.
  const bool on_platens = machine.status().bottom_grip;
  press(C::close_bottom_grip);
  if (!on_platens) r.events.push_back({-10, "bottom-grip-closed", ""});
  if (handling.clip) {
    press(C::mount_extensometer);
    press(C::zero_extension);
  }
  if (const auto done = machine.program(program); !done) throw std::logic_error(done.error().message);
  press(C::start);
  MachineColumns columns;
  for (int second = 0; second < 20000; ++second) {
    append(columns, machine.advance(1.0));
    const MachineStatus s = machine.status();
    if (s.waits && !s.broken) {
      const double at = std::round(1e6 * columns[0].back()) / 1e6;  // a clock of steps adds up to odd digits
      r.events.push_back({at, s.extensometer ? "extensometer-removed" : "hold", ""});
      if (s.extensometer) press(C::remove_extensometer);
      press(C::resume);
    } else if (s.state != MachineState::running) {
      r.run.stopped = s.broken ? "" : s.message;
      break;
    }
  }
  r.run.set_samples(samples_of(machine.channels(), columns));
}

void apply_faults(FrameSettings& s, const TestRecord& r) {
  if (has_fault(r, "preload")) s.preload = 0.02 * s.cell_capacity;
  if (has_fault(r, "drift")) s.zero_drift = 6e-5 * s.cell_capacity;
  if (has_fault(r, "slip")) {
    s.slip = 0.0006 * s.extensometer_length;
    s.slip_at = 0.012 * s.extensometer_length;
  }
}

std::vector<Choice> frame_faults(bool extensometer) {
  std::vector<Choice> out = {{"preload", "the second grip pulls while it closes"}, {"drift", "a zero that walks"}};
  if (extensometer) out.push_back({"slip", "a blade of the extensometer slips"});
  return out;
}

namespace {

FrameSettings frame_of(const TestRecord& r, double length, bool platens) {
  FrameSettings s;
  s.seed = seed_of(r);
  s.parallel_length = length;
  s.extensometer_length = r.fields.number("specimen.extensometer_length").value_or(50);
  s.cell_capacity = r.fields.number("equipment.load_cell.capacity").value_or(10e3);
  s.frame_capacity = r.fields.number("equipment.frame.capacity").value_or(250e3);
  s.stiffness = r.fields.number("equipment.frame.stiffness").value_or(45e3);
  s.extensometer_range = r.fields.number("equipment.extensometer.range").value_or(12.5);
  s.platens = platens;
  s.travel_limit = 900;  // a long frame: polymers draw far
  s.preload = platens ? 0 : 2;
  s.slack = platens ? 2.0 : 0.1;  // the gap above the piece, or play in the grips
  s.seating = platens ? 0.02 : 0.01;
  s.zero_start = 0.0016 * s.cell_capacity;
  s.zero_drift = 2e-7 * s.cell_capacity;
  apply_faults(s, r);
  return s;
}

MachineProgram pulled_program(const TestRecord& r) {
  return pulling_program(r, 0.05, -1, 0.008, 20);
}

// A whole run on the frame by its own panel, as a careful operator works it.
void run_frame(const Bench& bench, TestRecord& r, const SimulateOptions& o) {
  type_into(r, "settings.sampling", typed_value(o.sampling, Dimension::frequency, UnitSet::si, 5));
  if (o.stop_force) type_into(r, "settings.stop.force", typed_value(*o.stop_force, Dimension::force, UnitSet::si, 6));
  run_through(*bench.machine(r), bench.program(r), r,
              {o.faults.count("forget-zero") == 0, r.fields.number("specimen.extensometer_length").has_value()});
  for (const FieldSpec& f : methods::find(r.method)->fields)
    if (f.stage == Stage::after && (f.kind == FieldKind::quantity || f.kind == FieldKind::readings) &&
        !r.fields.has(f.path))
      type_list(r, f.path, bench.readings(r, f.path, std::max(1, f.wanted)));
  for (const auto& [path, value] : bench.looks(r)) type_into(r, path, value);
}

}  // namespace

Bench bench_of(const FrameModel& m, const Bench& (*self)()) {
  Bench b;
  b.id = m.id;
  b.name = m.name;
  b.pieces = m.pieces;
  b.faults = {{"none", "none"}, {"forget-zero", "load not zeroed"}};
  b.faults.insert(b.faults.end(), m.more_faults.begin(), m.more_faults.end());
  for (const Choice& f : frame_faults(!m.platens)) b.faults.push_back(f);
  b.readings = m.readings;
  b.looks = m.looks;
  b.draft = m.draft;
  b.program = pulled_program;
  b.machine = [m](const TestRecord& r) {
    return std::make_unique<UniversalFrame>(frame_of(r, m.length(r), m.platens), m.piece(r));
  };
  b.simulate = [m, self](const SimulateOptions& o) {
    TestRecord r = measured_piece(self(), m.method, o);
    if (o.cell_capacity)
      type_into(r, "equipment.load_cell.capacity", typed_value(*o.cell_capacity, Dimension::force, UnitSet::si));
    run_frame(self(), r, o);
    return r;
  };
  return b;
}

bool ran(const TestRecord& r) {
  return r.run.has_samples();
}

}  // namespace fortitor::standin
