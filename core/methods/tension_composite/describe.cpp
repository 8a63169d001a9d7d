#include "core/methods/support/channels.h"
#include "core/methods/support/equipment.h"
#include "core/methods/support/fields.h"
#include "core/methods/support/load_path.h"
#include "core/methods/support/pulled.h"
#include "core/methods/support/timing.h"
#include "core/methods/tension_composite/model.h"
#include "core/methods/tension_composite/tension_composite.h"
#include "core/reference/library.h"

namespace fortitor::composite {
namespace {

using D = Dimension;

}  // namespace

Plan plan(const TestRecord& r) {
  Plan p;
  const Section section = section_of(r.fields);
  const auto m = usual_of(r, "specimen.material", "laminate");
  if (section.area > 0 && m && m->values.count("strength")) {
    const ReferenceValue& s = m->values.at("strength");
    p.expected = Expectation{D::force, s.low * section.area, s.mean * section.area, s.high * section.area,
                             "usual strength of " + m->name};
  }
  judge_load_path(methods::tension_composite(), r, "load_cell", p);
  if (!section.missing.empty()) p.blocking.push_back(section.missing);
  if (!r.fields.number("specimen.grip_separation"))
    p.blocking.push_back("The length between the tabs is wanted for the speed.");
  const double length = r.fields.number("specimen.grip_separation").value_or(0);
  if (length > 0)
    p.advice.push_back({"settings.speed.elastic", "Speed", from_unit(2, "mm/min", D::speed), D::speed,
                        "2 mm/min, failure within 1 to 10 minutes (ASTM D3039)"});
  p.advice.push_back({"settings.sampling", "Sampling", 50, D::frequency, "the break is sudden"});
  if (r.fields.number("specimen.extensometer_length"))
    p.advice.push_back({"settings.removal_strain", "Take extensometer off at", 0.0045, D::elongation,
                        "past the chord, well before the sudden break"});
  want_settings(r, {{"settings.speed.elastic", "speed"}, {"settings.sampling", "sampling rate"}}, p);
  if (!p.expected) p.warnings.push_back("No force can be foreseen: enter the laminate as in the reference values.");
  return p;
}

void describe(Method& m) {
  using namespace fortitor::fields;
  m.fields = common();
  auto add = [&](FieldSpec f) { m.fields.push_back(std::move(f)); };
  for (FieldSpec f : section_fields({"flat"}, Stage::measure)) {
    if (f.kind == FieldKind::choice) f.stage = Stage::prepare;  // always flat: nothing to choose at Measure
    add(std::move(f));
  }
  add(text("specimen.layup", Stage::prepare));
  add(text("specimen.tabs", Stage::prepare));
  add(quantity("specimen.grip_separation", D::length, Stage::measure, "L", true));
  add(of_series(quantity("specimen.extensometer_length", D::length, Stage::measure, "Lₑ")));
  add(quantity("specimen.parallel_length", D::length, Stage::measure, "L_c"));
  add(of_series(quantity("specimen.gauge_length", D::length, Stage::measure, "L₀")));
  add(choice("specimen.after.failure.type", Stage::after, {"L", "A", "S", "D", "X", "G", "M", "O"}));
  add(choice("specimen.after.failure.area", Stage::after, {"G", "W", "A", "I", "M", "V", "U"}));
  add(choice("specimen.after.failure.place", Stage::after, {"T", "M", "B", "L", "R", "V", "U"}));
  m.schools = {school("settings.modulus.school", {"chord", "line"}),
               school("settings.strain_source", {"auto", "gauge", "extensometer", "crosshead"})};
  add_toe_school(m);
  add(quantity("settings.modulus.from_strain", D::microstrain, Stage::evaluate));
  add(quantity("settings.modulus.to_strain", D::microstrain, Stage::evaluate));
  add(zero_choice());
  add_drive(m.fields, true);
  add(quantity("settings.removal_strain", D::elongation, Stage::set_up));
  m.channels = {channels::time(true),
                channels::force(),
                channels::extension(),
                channels::strain(),
                channels::strain_lateral(),
                channels::gauge("strain_front", false, {"front", "vorder", "avant", "frontal", "sg1"}),
                channels::gauge("strain_back", false, {"back", "rück", "rueck", "arrière", "retro", "sg2"}),
                channels::crosshead()};
  m.equipment = {equipment::frame(), equipment::load_cell(), equipment::grips(), equipment::extensometer(),
                 equipment::caliper()};
  m.prepare_sketch = "laminate";
  m.measure_sketch = "laminate-sizes";
  m.after_sketch = "laminate-broken";
  m.setup_sketch = "load-path";
  m.run_sketch = "frame";
  m.standin = "laminate-frame";
  m.run_time = [](const TestRecord& r) { return timing::pulled(r, 0.03); };  // laminates break near it
  m.limit_keys = {key::sigma_m, key::e_chord, key::eps_m, key::nu12};
  m.measure_keys = {key::area};
  m.after_keys = {key::failure_code, key::sigma_m};
  m.timers = {{"conditions.stated", "conditions.hours", {}, "conditioning-short"}};
  m.series.key = key::sigma_m;
  m.printed_settings = {"settings.modulus", "settings.toe", "settings.prestress", "settings.speed",
                        "settings.sampling"};
  equipment::add_from_shelf(m, {"micrometer", "chamber"});
  finish(m);
}

}  // namespace fortitor::composite
