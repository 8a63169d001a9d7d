#include <algorithm>
#include <cmath>

#include "core/methods/poisson_gauge/model.h"
#include "core/methods/poisson_gauge/poisson_gauge.h"
#include "core/methods/support/channels.h"
#include "core/methods/support/equipment.h"
#include "core/methods/support/fields.h"
#include "core/methods/support/load_path.h"
#include "core/reference/library.h"
#include "core/reference/materials.h"

namespace fortitor::poisson {
namespace {

using D = Dimension;

constexpr double kLeastStrain = 200e-6;  // below it the counts of an indicator weigh heavily

// Modulus to be expected: the material by name, else the middle of its family.
double modulus_of(const TestRecord& r) {
  if (const auto m = usual_of(r, "specimen.material"); m && m->values.count("e_modulus"))
    return m->values.at("e_modulus").mean;
  const MaterialFamily* f = find_family(r.fields.text("specimen.family"));
  return f != nullptr ? 0.5 * (f->e_low + f->e_high) : 0;
}

// Highest load of a test that must stay elastic: half the least yield of the material.
double elastic_top(const TestRecord& r) {
  const double area = section_of(r.fields).area;
  if (!(area > 0)) return 0;
  if (const auto m = usual_of(r, "specimen.material"); m && m->values.count("yield"))
    return 0.5 * m->values.at("yield").low * area;
  const MaterialFamily* f = find_family(r.fields.text("specimen.family"));
  return f != nullptr ? 0.5 * f->yield_low * area : 0;
}

double last_stop(const TestRecord& r) {
  return r.fields.number("settings.last_stop").value_or(0);
}

double first_step(const TestRecord& r) {
  if (const auto set = r.fields.number("settings.step"); set && *set > 0) return *set;
  const double top = last_stop(r) > 0 ? last_stop(r) : elastic_top(r);
  return top > 0 ? round_step(top / 8) : 500;
}

Plan plan(const TestRecord& r) {
  Plan p;
  const double top = last_stop(r) > 0 ? last_stop(r) : elastic_top(r), modulus = modulus_of(r);
  const double area = section_of(r.fields).area;
  if (top > 0)
    p.expected = Expectation{D::force, 0.9 * top, top, top,
                             last_stop(r) > 0 ? "last stop" : "half the least yield strength of the material"};
  judge_load_path(methods::poisson_gauge(), r, "load_cell", p);
  if (top > 0) {
    p.advice.push_back(
        {"settings.last_stop", "Last stop", round_step(top), D::force, "below half of yield: the piece stays elastic"});
    p.advice.push_back({"settings.step", "Step", round_step(round_step(top) / 8), D::force, "eight stops or more"});
    if (modulus > 0 && area > 0 && top / area / modulus < kLeastStrain)
      p.warnings.push_back("The last stop gives only " + ledger::si(top / area / modulus, D::microstrain, 3) +
                           "; below 200 µε the counts of the indicator weigh heavily.");
  }
  if (!(last_stop(r) > 0)) p.blocking.push_back("Plan the last stop: the piece must stay elastic.");
  return p;
}

}  // namespace

void describe(Method& m) {
  using namespace fortitor::fields;
  m.fields = common();
  auto add = [&](FieldSpec f) { m.fields.push_back(std::move(f)); };
  for (FieldSpec f : section_fields({"flat", "round"}, Stage::measure)) {
    f.required = false;  // the ratio needs no area; the modulus does
    add(std::move(f));
  }
  add(readings("specimen.transverse_sensitivity", D::elongation, Stage::measure, 2, "K_t"));
  add(quantity("settings.step", D::force, Stage::set_up, "ΔF"));
  add(quantity("settings.last_stop", D::force, Stage::set_up, "", true));
  add(of_piece(quantity("settings.slope_to", D::force, Stage::evaluate)));
  add(text("specimen.after.remark", Stage::after));
  m.channels = {
      channels::force(),
      channels::gauge("strain_long", true,
                      {"strain_long", "longitud", "axial", "längs", "laengs", "long", "=e_l", "strain 1", "ch1"}),
      channels::gauge("strain_lat", true,
                      {"strain_lat", "lateral", "transvers", "quer", "trasvers", "lat", "=e_t", "strain 2", "ch2"})};
  m.equipment = {equipment::frame(),         equipment::load_cell(), equipment::grips(),
                 equipment::strain_gauges(), equipment::indicator(), equipment::caliper()};
  TableSpec stops;
  stops.id = kStops;
  stops.control = column("force", D::force);
  stops.columns = {column("strain_long", D::microstrain), column("strain_lat", D::microstrain)};
  stops.least = 3;
  stops.read_unloaded = true;
  stops.first_step = first_step;
  stops.last_stop = last_stop;
  m.tables = {stops};
  m.prepare_sketch = m.run_sketch = "strip";
  m.measure_sketch = "strip-sizes";
  m.after_sketch = "strip";
  m.setup_sketch = "load-path";
  m.standin = "strain-bench";
  m.minutes = {12, 20, 6};
  m.limit_keys = {key::nu, key::e_modulus};
  m.measure_keys = {key::area};
  m.after_keys = {key::zero_drift_long, key::zero_drift_lat};
  m.series.key = key::nu;
  m.printed_settings = {"settings.step", "settings.last_stop"};
  m.plan = plan;
  equipment::add_from_shelf(m, {"micrometer"});
  finish(m);
}

}  // namespace fortitor::poisson
