#include "core/methods/tension_plastic/describe.h"

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
  } else if (const auto it = r.limits.find("sigma_m");
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
  add(of_series(quantity("specimen.grip_separation", "Grip separation", D::length, Stage::measure, "L",
                         "Between the grips at the start: nominal strain.", true)));
  add(of_series(
      quantity("specimen.gauge_length", "Gauge length", D::length, Stage::measure, "L₀", "Of the dumbbell.")));
  add(of_series(quantity("specimen.extensometer_length", "Extensometer length", D::length, Stage::measure, "Lₑ",
                         "Left empty without one.")));
  add(quantity("specimen.parallel_length", "Parallel length", D::length, Stage::measure, "L_c", "Of the narrow part."));
  add(choice("specimen.print.direction", "Build direction", Stage::prepare,
             {{"none", "not printed"}, {"X", "X"}, {"Y", "Y"}, {"Z", "Z"}}, true));
  add(quantity("specimen.print.layer", "Layer height", D::length, Stage::prepare));
  add(quantity("specimen.print.infill", "Infill", D::elongation, Stage::prepare));
  add(quantity("settings.expected_elongation", "Expected elongation", D::elongation, Stage::set_up, "",
               "Decides whether an extensometer may stay on."));
  add(choice("specimen.after.fracture", "Look of the break", Stage::after,
             {{"yielded", "necked and drawn"},
              {"brittle", "brittle, across"},
              {"whitened", "whitened, short neck"},
              {"at-grip", "in or at a grip"},
              {"none", "no break"}}));
  add(quantity("specimen.after.gauge_length", "Final gauge length", D::length, Stage::after, "L_u",
               "When marks were drawn."));
  m.schools = {
      {"settings.modulus.school", "Modulus by", {{"chord", "chord 0.05–0.25 %"}, {"line", "line 0.05–0.25 %"}}},
      {"settings.strain_source",
       "Strain from",
       {{"auto", "most trusted"},
        {"gauge", "strain channel"},
        {"extensometer", "extensometer"},
        {"crosshead", "grip separation"}}}};
  add_toe_school(m);
  add(usually(quantity("settings.modulus.from_strain", "Modulus from", D::elongation, Stage::evaluate), "0.05 %"));
  add(usually(quantity("settings.modulus.to_strain", "Modulus to", D::elongation, Stage::evaluate), "0.25 %"));
  add(usually(quantity("settings.at_strain", "Stress at strain", D::elongation, Stage::evaluate), "not asked for"));
  add(zero_choice());
  add_drive(m.fields, true);
  add(quantity("settings.speed.plastic", "Speed after the modulus", D::speed, Stage::set_up, "v₂", "Crosshead."));
  add(quantity("settings.removal_strain", "Pause at", D::elongation, Stage::set_up, "",
               "The run holds there, so that the extensometer can come off, and goes on."));
  m.channels = {channels::time(true), channels::force(), channels::extension(), channels::strain(),
                channels::crosshead()};
  m.equipment = {equipment::frame(), equipment::load_cell(), equipment::grips(), equipment::extensometer(),
                 equipment::caliper()};
  auto& s = m.stages;
  s[0] = {"A plastic's results belong to its history: note it.",
          {"Temperature, humidity and hours of conditioning belong to every result.",
           "Printed pieces: build direction, layer height and infill group the series."},
          {"Brittle grades splinter: glasses on."},
          {}};
  s[1] = {"Width and thickness of the narrow part, three times each.",
          {"Do not squeeze soft pieces with the jaws of the caliper.", "Grip separation gives the nominal strain."},
          {},
          {}};
  s[2] = {"No clip-on extensometer where more than about 50 % strain is expected.",
          {"Align the dumbbell, close the top grip first.", "The run may pause at a planned strain and go on."},
          {"Jaws pinch: no hand near the grips while the drive is armed.",
           "Local safety rules and the machine's own manual go before anything written here."},
          {{"glasses", "Glasses on, guard closed", true},
           {"stand", "Everyone knows where the emergency stop is", true},
           {"aligned", "Dumbbell in line, gripped over its heads", false}}};
  s[3] = {"Slowly through the modulus, then faster to the break.",
          {"Watch for the first zero slope: that is yield.", "A drawing neck runs along the piece; let it."},
          {"Guard closed. Drawn pieces snap back when they break."},
          {}};
  s[4] = {"Look at the break.", {"A break in or at a grip counts apart."}, {"Edges are sharp."}, {}};
  s[5] = {"Judge modulus and yield, and see what follows.", {}, {}, {}};
  s[6] = {"Answer what is open, then sign.", {}, {}, {}};
  m.prepare_sketch = "dumbbell";
  m.measure_sketch = "dumbbell-sizes";
  m.after_sketch = "dumbbell-broken";
  m.setup_sketch = "load-path";
  m.run_sketch = "frame";
  m.standin = "polymer-frame";
  m.run_time = [](const TestRecord& r) { return timing::pulled(r, 1.0); };  // to the yield and drawn
  m.limit_keys = {"sigma_m", "sigma_y", "e_modulus", "eps_tb"};
  m.measure_keys = {"area"};
  m.after_keys = {"sigma_b", "eps_tb", "eps_b"};
  m.timers = {{"conditions.stated", "conditions.hours", "Conditioning", "conditioning-short"}};
  m.series.key = "sigma_m";
  m.printed_settings = {"settings.modulus", "settings.toe",      "settings.prestress",
                        "settings.speed",   "settings.sampling", "settings.at_strain"};
  m.wording = {"The look of the break comes after the run.", "The curve grows here while the dumbbell is pulled.",
               "The dumbbell broke. Look at the break at After.", "break to look at", "While it lies on the bench."};
  equipment::add_from_shelf(m, {"micrometer", "chamber"});
  finish(m);
}

}  // namespace fortitor::plastic
