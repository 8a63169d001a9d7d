#include "core/standin/tension_bench.h"
#include "core/quantity/plain.h"
#include "core/standin/instruments.h"

#include <algorithm>
#include <cmath>
#include <random>

#include "core/curve/shape.h"
#include "core/methods/method.h"
#include "core/quantity/format.h"
#include "core/section/section.h"
#include "core/standin/benches.h"
#include "core/standin/frame_model.h"

namespace fortitor::standin {
namespace {

std::string metal_of(const TestRecord& r) {
  const std::string m = r.fields.text("equipment.standin.piece");
  return find_metal(m) != nullptr ? m : "mild-steel";
}

std::string display(double mm, double step) {
  return plain::fixed(std::round(mm / step) * step, step < 0.05 ? 2 : 1) + " mm";
}

void put(TestRecord& record, const char* path, const std::string& typed, Dimension d) {
  const auto q = parse_quantity(typed, d);
  record.fields.set(path, reading_of(q.value()));
}

void put_readings(TestRecord& record, const std::string& path, const std::vector<std::string>& typed) {
  Readings list;
  for (const auto& t : typed) list.push_back(reading_of(parse_quantity(t, Dimension::length).value()));
  if (!list.empty()) record.fields.set(path, list);
}

}  // namespace

Bar bar_of(const TestRecord& record) {
  Bar bar;
  bar.metal = metal_of(record);
  bar.seed = seed_of(record);
  std::mt19937_64 random(bar.seed * 31 + 5);
  std::normal_distribution<double> scatter;
  bar.diameter = 10 + 0.012 * scatter(random);
  const double area = section_of(record.fields).area;
  if (area > 0) bar.diameter = std::sqrt(4 * area / 3.14159265358979);
  bar.gauge_length = record.fields.number("specimen.gauge_length").value_or(50);
  bar.parallel_length = record.fields.number("specimen.parallel_length").value_or(60);
  return bar;
}

FrameSettings frame_settings(const TestRecord& record) {
  const Bar bar = bar_of(record);
  FrameSettings s;
  s.metal = bar.metal;
  s.seed = bar.seed;
  const double measured = section_of(record.fields).area;
  s.area = measured > 0 ? measured : 3.14159265358979 * bar.diameter * bar.diameter / 4;
  s.parallel_length = bar.parallel_length;
  s.extensometer_length = record.fields.number("specimen.extensometer_length").value_or(50);
  s.cell_capacity = record.fields.number("equipment.load_cell.capacity").value_or(100e3);
  s.stiffness = record.fields.number("equipment.frame.stiffness").value_or(45e3);
  s.extensometer_range = record.fields.number("equipment.extensometer.range").value_or(12.5);
  s.frame_capacity = record.fields.number("equipment.frame.capacity").value_or(250e3);
  apply_faults(s, record);
  return s;
}

std::unique_ptr<UniversalFrame> frame_for(const TestRecord& record) {
  return std::make_unique<UniversalFrame>(frame_settings(record));
}

MachineProgram program_for(const TestRecord& record) {
  // Fast only once yielding is well under way.
  return pulling_program(record, 0.02, 0.2, 0.02, 50);
}

std::vector<std::string> caliper_readings(const TestRecord& record, const std::string& path, int wanted) {
  const Bar bar = bar_of(record);
  std::mt19937_64 random(bar.seed * 131 + std::hash<std::string>{}(path) % 1000);
  std::normal_distribution<double> hand;
  std::vector<std::string> out;
  auto several = [&](double size, double scatter, double step) {
    for (int i = 0; i < wanted; ++i) out.push_back(display(size + scatter * std::clamp(hand(random), -1.6, 1.6), step));
    return out;
  };
  const Metal& metal = *find_metal(bar.metal);
  if (path == "specimen.section.diameter") {
    several(bar.diameter, 0.013, 0.01);
    taper(out, bar.diameter, 0.01);
    return out;
  }
  if (path.find("specimen.after.") != 0 || !record.run.has_samples()) return {};
  // What is left of the piece follows from the same model that carried the load.
  const auto frame = frame_settings(record);
  TensionSpecimen piece(metal, frame.area, frame.parallel_length, frame.seed);
  const Channel* force = record.run.samples()->find("force");
  if (force == nullptr || force->values.empty()) return {};
  const double top = *std::max_element(force->values.begin(), force->values.end());
  if (force->values.back() > 0.1 * top) return {};  // still in one piece
  for (double travel = 0; !piece.broken() && travel < 400; travel += 0.01) piece.stretch(travel, frame.stiffness, 0);
  const double place = std::abs(piece.neck_place() - 0.5) * bar.parallel_length;  // from mid-length
  const double to_mark = 0.5 * bar.gauge_length * (1 + piece.plastic_strain()) - place;
  if (path == "specimen.after.gauge_length") {
    const double inside = to_mark > 0 ? piece.neck_extension() : 0;
    // Near a mark part of the neck lies outside.
    const double share = to_mark > 0.1 * bar.gauge_length ? 1.0 : 0.6;
    return several(bar.gauge_length * (1 + piece.plastic_strain()) + inside * share, 0.02, 0.05);
  }
  if (path == "specimen.after.diameter")
    return several(bar.diameter * std::sqrt(1 - piece.reduction_of_area()), 0.015, 0.01);
  if (path == "specimen.after.break_to_mark") return several(std::abs(to_mark), 0.1, 0.1);
  return {};
}

std::string fracture_look(const TestRecord& record) {
  return std::string(find_metal(metal_of(record))->fracture);
}

TestRecord simulate_tension(const TensionOptions& o) {
  TestRecord r;
  r.method = "tension-metal";
  r.operator_name = "stand-in";
  const Metal* metal = find_metal(o.metal);
  r.fields.set("specimen.id", std::string("SI-") + std::to_string(o.seed));
  r.fields.set("specimen.material", std::string(metal->name));
  r.fields.set("specimen.family", std::string(metal->family));
  r.fields.set("specimen.section.shape", std::string("round"));
  r.fields.set("equipment.standin.piece", o.metal);
  r.fields.set("equipment.standin.seed", double(o.seed));
  if (!o.faults.empty()) r.fields.set("equipment.standin.fault", o.faults);
  put_readings(r, "specimen.section.diameter", caliper_readings(r, "specimen.section.diameter", 3));
  put(r, "specimen.gauge_length", "50 mm", Dimension::length);
  put(r, "specimen.extensometer_length", "50 mm", Dimension::length);
  put(r, "specimen.parallel_length", "60 mm", Dimension::length);
  put(r, "equipment.load_cell.capacity", typed_value(o.cell_capacity, Dimension::force, UnitSet::si), Dimension::force);
  r.fields.set("equipment.load_cell.class", std::string("1"));
  r.fields.set("equipment.extensometer.class", std::string("0.5"));
  put(r, "equipment.extensometer.range", "12.5 mm", Dimension::length);
  if (o.frame_capacity)
    put(r, "equipment.frame.capacity", typed_value(*o.frame_capacity, Dimension::force, UnitSet::si), Dimension::force);
  put(r, "equipment.frame.stiffness", "45 kN/mm", Dimension::stiffness);
  const Plan plan = methods::find(r.method)->plan(r);
  for (const Advice& a : plan.advice) {
    if (a.setting.compare(0, 8, "settings") != 0 || a.setting == "settings.stop.force" ||
        a.setting == "settings.sampling")
      continue;
    put(r, a.setting.c_str(), typed_value(a.value, a.dimension, UnitSet::si, 3), a.dimension);
  }
  put(r, "settings.sampling", typed_value(o.sampling, Dimension::frequency, UnitSet::si, 5), Dimension::frequency);
  if (o.stop_force)
    put(r, "settings.stop.force", typed_value(*o.stop_force, Dimension::force, UnitSet::si, 6), Dimension::force);

  const auto frame = frame_for(r);
  MachineProgram program = program_for(r);
  if (o.leave_extensometer) std::erase_if(program.steps, [](const MachineStep& step) { return std::isinf(step.hold); });
  run_through(*frame, program, r, {!o.forget_zero, true});
  for (const auto& [path, wanted] :
       {std::pair{"specimen.after.gauge_length", 1}, std::pair{"specimen.after.break_to_mark", 1}})
    if (const auto read = caliper_readings(r, path, wanted); !read.empty())
      put(r, path, read.front(), Dimension::length);
  const auto neck = caliper_readings(r, "specimen.after.diameter", 2);
  put_readings(r, "specimen.after.diameter", neck);
  if (!neck.empty()) r.fields.set("specimen.after.fracture", fracture_look(r));
  return r;
}

const Bench& universal_frame() {
  static const Bench bench = [] {
    Bench b;
    b.id = "universal-frame";
    b.name = "stand-in universal frame";
    // Mild steel first: it is the piece behind a record that names none.
    for (const Metal& m : metals()) b.pieces.push_back({std::string(m.id), std::string(m.name)});
    std::stable_partition(b.pieces.begin(), b.pieces.end(), [](const Choice& c) { return c.value == "mild-steel"; });
    b.faults = {{"none", "none"}, {"forget-zero", "load not zeroed"}, {"leave-extensometer", "extensometer left on"}};
    for (const Choice& f : frame_faults(true)) b.faults.push_back(f);
    b.readings = caliper_readings;
    b.looks = [](const TestRecord& r) {
      std::map<std::string, std::string> seen;
      if (!caliper_readings(r, "specimen.after.gauge_length", 1).empty())
        seen["specimen.after.fracture"] = fracture_look(r);
      return seen;
    };
    b.machine = [](const TestRecord& r) { return frame_for(r); };
    b.program = program_for;
    b.simulate = [](const SimulateOptions& o) {
      TensionOptions t;
      if (!o.piece.empty()) t.metal = o.piece;
      t.seed = o.seed;
      t.sampling = o.sampling;
      t.forget_zero = o.faults.count("forget-zero") > 0;
      t.leave_extensometer = o.faults.count("leave-extensometer") > 0;
      for (const std::string& f : o.faults)
        if (f != "forget-zero" && f != "leave-extensometer" && f != "none")
          t.faults += (t.faults.empty() ? "" : ",") + f;
      t.stop_force = o.stop_force;
      t.frame_capacity = o.frame_capacity;
      t.cell_capacity = o.cell_capacity.value_or(t.cell_capacity);
      return simulate_tension(t);
    };
    return b;
  }();
  return bench;
}

}  // namespace fortitor::standin
