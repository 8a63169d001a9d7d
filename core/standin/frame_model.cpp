#include "core/standin/frame_model.h"

#include <cmath>
#include <random>

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
  return s;
}

MachineProgram program_of(const TestRecord& r) {
  const auto get = [&](const char* path, double otherwise) { return r.fields.number(path).value_or(otherwise); };
  MachineProgram p;
  p.elastic_speed = get("settings.speed.elastic", 0.05);
  p.plastic_speed = get("settings.speed.plastic", p.elastic_speed);
  p.switch_strain = 0.008;
  p.sampling = get("settings.sampling", 20);
  p.hold_at_strain = get("settings.removal_strain", 0);
  p.stop_force = r.fields.number("settings.stop.force");
  p.stop_travel = r.fields.number("settings.stop.travel");
  p.stop_strain = r.fields.number("settings.stop.strain");
  return p;
}

// A whole run on the frame by its own panel, as a careful operator works it.
void run_frame(const Bench& bench, TestRecord& r, const SimulateOptions& o) {
  type_into(r, "settings.sampling", typed_value(o.sampling, Dimension::frequency, UnitSet::si, 5));
  if (o.stop_force) type_into(r, "settings.stop.force", typed_value(*o.stop_force, Dimension::force, UnitSet::si, 6));
  auto frame = bench.machine(r);
  using C = MachineCommand;
  const bool clip = r.fields.number("specimen.extensometer_length").has_value();
  frame->command(C::close_top_grip);
  if (!o.faults.count("forget-zero")) frame->command(C::zero_force);
  frame->command(C::close_bottom_grip);
  if (clip) {
    frame->command(C::mount_extensometer);
    frame->command(C::zero_extension);
  }
  frame->program(bench.program(r));
  frame->command(C::start);
  std::vector<MachineRow> rows;
  for (int second = 0; second < 20000; ++second) {
    const auto more = frame->advance(1.0);
    rows.insert(rows.end(), more.begin(), more.end());
    const MachineStatus s = frame->status();
    if (s.state == MachineState::holding && !s.broken && s.message.find("planned") != std::string::npos) {
      if (s.extensometer) {
        r.events.push_back({rows.back().time, "extensometer-removed", ""});
        frame->command(C::remove_extensometer);
      } else {
        r.events.push_back({rows.back().time, "hold", ""});
      }
      frame->command(C::resume);
    } else if (s.state != MachineState::running) {
      r.run.stopped = s.broken ? "" : s.message;
      break;
    }
  }
  r.run.samples = samples_from_rows(rows);
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
  b.readings = m.readings;
  b.looks = m.looks;
  b.draft = m.draft;
  b.program = program_of;
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
  return r.run.samples != nullptr;
}

}  // namespace fortitor::standin
