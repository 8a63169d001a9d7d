#include "core/methods/tension_plastic/model.h"

#include "core/methods/support/channels.h"
#include "core/methods/support/equipment.h"
#include "core/methods/support/fields.h"
#include "core/methods/support/load_path.h"
#include "core/methods/support/pulled.h"
#include "core/methods/support/timing.h"
#include "core/methods/tension_plastic/tension_plastic.h"
#include "core/reference/library.h"
#include "core/section/section.h"

namespace fortitor::plastic {
using D = Dimension;

double length_of(const TestRecord& r) {
  const double grips = r.fields.number("specimen.grip_separation").value_or(0);
  return grips > 0 ? grips : r.fields.number("specimen.parallel_length").value_or(0);
}

Plan plan(const TestRecord& r) {
  Plan p;
  const Section section = section_of(r.fields);
  const auto m = usual_of(r, "specimen.material");
  if (section.area > 0 && m && m->values.count("strength")) {
    const ReferenceValue& s = m->values.at("strength");
    p.expected = Expectation{D::force, s.low * section.area, s.mean * section.area, s.high * section.area,
                             "usual strength of " + m->name};
  } else if (const auto it = r.limits.find(key::sigma_m);
             section.area > 0 && it != r.limits.end() && it->second.min && it->second.min->value) {
    const double low = *it->second.min->value * section.area;
    p.expected = Expectation{D::force, low, 1.5 * low, 2 * low, "limit of the job"};
  }
  judge_load_path(methods::tension_plastic(), r, "load_cell", p);
  if (!section.missing.empty()) p.blocking.push_back(section.missing);
  if (!(length_of(r) > 0)) p.blocking.push_back("The grip separation is wanted for the nominal strain.");
  const double gauge = r.fields.number("specimen.extensometer_length").value_or(length_of(r));
  if (gauge > 0) {
    p.advice.push_back({"settings.speed.elastic", "Speed for the modulus", from_unit(0.01 * gauge, "mm/min", D::speed),
                        D::speed, "1 % a minute over the gauge length (ISO 527-1)"});
    p.advice.push_back({"settings.speed.plastic", "Speed after it", from_unit(50, "mm/min", D::speed), D::speed,
                        "50 mm/min, usual for tough grades; 5 for brittle ones"});
    p.advice.push_back({"settings.sampling", "Sampling", 50, D::frequency, "the modulus part lasts a few seconds"});
  }
  want_settings(r, {{"settings.speed.elastic", "speed"}, {"settings.sampling", "sampling rate"}}, p);
  if (!p.expected)
    p.warnings.push_back("No force can be foreseen: enter the material as in the reference values, or a limit.");
  const double expected = r.fields.number("settings.expected_elongation")
                              .value_or(m && m->values.count("elongation") ? m->values.at("elongation").high : 0);
  if (expected > 0.5 && r.fields.number("specimen.extensometer_length"))
    p.warnings.push_back(
        "More than 50 % strain is to be expected: take a clip-on extensometer off after the modulus, or do without "
        "it.");
  return p;
}

void describe(Method& m) {
  using namespace fortitor::fields;
  m.fields = common();
  auto add = [&](FieldSpec f) { m.fields.push_back(std::move(f)); };
  for (FieldSpec f : section_fields({"flat", "round"}, Stage::measure)) add(std::move(f));
  add(of_series(quantity("specimen.grip_separation", D::length, Stage::measure, "L", true)));
  add(of_series(quantity("specimen.gauge_length", D::length, Stage::measure, "L₀")));
  add(of_series(quantity("specimen.extensometer_length", D::length, Stage::measure, "Lₑ")));
  add(quantity("specimen.parallel_length", D::length, Stage::measure, "L_c"));
  add(choice("specimen.print.direction", Stage::prepare, {"none", "X", "Y", "Z"}, true));
  add(quantity("specimen.print.layer", D::length, Stage::prepare));
  add(quantity("specimen.print.infill", D::elongation, Stage::prepare));
  add(quantity("settings.expected_elongation", D::elongation, Stage::set_up));
  add(choice("specimen.after.fracture", Stage::after, {"yielded", "brittle", "whitened", "at-grip", "none"}));
  add(quantity("specimen.after.gauge_length", D::length, Stage::after, "L_u"));
  m.schools = {school("settings.modulus.school", {"chord", "line"}),
               school("settings.strain_source", {"auto", "gauge", "extensometer", "crosshead"})};
  add_toe_school(m);
  add(quantity("settings.modulus.from_strain", D::elongation, Stage::evaluate));
  add(quantity("settings.modulus.to_strain", D::elongation, Stage::evaluate));
  add(quantity("settings.at_strain", D::elongation, Stage::evaluate));
  add(zero_choice());
  add_drive(m.fields, true);
  add(quantity("settings.speed.plastic", D::speed, Stage::set_up, "v₂"));
  add(quantity("settings.removal_strain", D::elongation, Stage::set_up));
  m.channels = {channels::time(true), channels::force(), channels::extension(), channels::strain(),
                channels::crosshead()};
  m.equipment = {equipment::frame(), equipment::load_cell(), equipment::grips(), equipment::extensometer(),
                 equipment::caliper()};
  m.prepare_sketch = "dumbbell";
  m.measure_sketch = "dumbbell-sizes";
  m.after_sketch = "dumbbell-broken";
  m.setup_sketch = "load-path";
  m.run_sketch = "frame";
  m.standin = "polymer-frame";
  m.run_time = [](const TestRecord& r) { return timing::pulled(r, 1.0); };  // to the yield and drawn
  m.limit_keys = {key::sigma_m, key::sigma_y, key::e_modulus, key::eps_tb};
  m.measure_keys = {key::area};
  m.after_keys = {key::sigma_b, key::eps_tb, key::eps_b};
  m.timers = {{"conditions.stated", "conditions.hours", {}, "conditioning-short"}};
  m.series.key = key::sigma_m;
  m.printed_settings = {"settings.modulus", "settings.toe",      "settings.prestress",
                        "settings.speed",   "settings.sampling", "settings.at_strain"};
  equipment::add_from_shelf(m, {"micrometer", "chamber"});
  finish(m);
}

}  // namespace fortitor::plastic
