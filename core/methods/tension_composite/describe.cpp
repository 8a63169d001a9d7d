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
  add(text("specimen.layup", "Layup", Stage::prepare, "Such as [0/90]4s, fibre direction against the load."));
  add(text("specimen.tabs", "Tabs", Stage::prepare, "Material, bevel, or none."));
  add(quantity("specimen.grip_separation", "Length between tabs", D::length, Stage::measure, "L",
               "Between the tabs or grips.", true));
  add(of_series(quantity("specimen.extensometer_length", "Extensometer length", D::length, Stage::measure, "Lₑ",
                         "Between the blades.")));
  add(quantity("specimen.parallel_length", "Parallel length", D::length, Stage::measure, "L_c"));
  add(of_series(quantity("specimen.gauge_length", "Gauge length", D::length, Stage::measure, "L₀")));
  add(choice("specimen.after.failure.type", "What it looks like", Stage::after,
             {{"L", "across"},
              {"A", "at an angle"},
              {"S", "split"},
              {"D", "delaminated"},
              {"X", "explosive"},
              {"G", "tab came off"},
              {"M", "several kinds"},
              {"O", "other"}}));
  add(choice("specimen.after.failure.area", "How far from the grip", Stage::after,
             {{"G", "gauge length"},
              {"W", "near the grip"},
              {"A", "at the grip"},
              {"I", "inside the grip"},
              {"M", "several"},
              {"V", "various"},
              {"U", "unknown"}}));
  add(choice("specimen.after.failure.place", "Where", Stage::after,
             {{"T", "top"},
              {"M", "middle"},
              {"B", "bottom"},
              {"L", "left"},
              {"R", "right"},
              {"V", "various"},
              {"U", "unknown"}}));
  m.schools = {
      {"settings.modulus.school", "Modulus by", {{"chord", "chord"}, {"line", "fitted line"}}},
      {"settings.strain_source",
       "Strain from",
       {{"auto", "most trusted"}, {"gauge", "gauges"}, {"extensometer", "extensometer"}, {"crosshead", "crosshead"}}}};
  add_toe_school(m);
  add(usually(quantity("settings.modulus.from_strain", "Chord from", D::microstrain, Stage::evaluate),
              "1000 µε; a quarter of a failure strain under 0.6 %"));
  add(usually(quantity("settings.modulus.to_strain", "Chord to", D::microstrain, Stage::evaluate),
              "3000 µε; half of a failure strain under 0.6 %"));
  add(zero_choice());
  add_drive(m.fields, true);
  add(quantity("settings.removal_strain", "Take extensometer off at", D::elongation, Stage::set_up, "",
               "Well before the sudden break."));
  m.channels = {
      channels::time(true),
      channels::force(),
      channels::extension(),
      channels::strain(),
      channels::strain_lateral(),
      channels::gauge("strain_front", "front gauge", false, {"front", "vorder", "avant", "frontal", "sg1"}),
      channels::gauge("strain_back", "back gauge", false, {"back", "rück", "rueck", "arrière", "retro", "sg2"}),
      channels::crosshead()};
  m.equipment = {equipment::frame(), equipment::load_cell(), equipment::grips(), equipment::extensometer(),
                 equipment::caliper()};
  auto& s = m.stages;
  s[0] = {"Know the layup, the direction and the tabs.",
          {"Note layup, fibre direction against the load, tabs and their adhesive.",
           "Conditioning belongs to the result: moisture softens the matrix."},
          {"Cut edges and splinters of fibre pierce gloves: eyes and hands covered."},
          {}};
  s[1] = {"Width and thickness at three places.",
          {"Measure between the tabs; the tabs are not part of the section."},
          {},
          {}};
  s[2] = {"Align the tabs in the grips; the strip forgives nothing.",
          {"Back-to-back gauges tell bending before it is too late.",
           "Plan the strain at which the extensometer comes off: the break is sudden."},
          {"Jaws pinch: no hand near the grips while the drive is armed.",
           "Local safety rules and the machine's own manual go before anything written here."},
          {{"glasses", "Glasses on, guard closed, dust extracted", true},
           {"stand", "Everyone knows where the emergency stop is", true},
           {"aligned", "Strip in line, tabs fully in the grips", false}}};
  s[3] = {"Straight to the break; take the extensometer off in time.",
          {"Single fibres crack first: listen.", "Front and back strains should climb together."},
          {"Guard closed. A laminate bursts and throws splinters and dust."},
          {}};
  s[4] = {"Say how it failed: what, how far from the grip, where.",
          {"The three answers make the failure code.", "Keep the pieces: the look of the failure is evidence."},
          {"Splinters of fibre: gloves and glasses while handling."},
          {}};
  s[5] = {"Judge the chord and what bends away from it.", {}, {}, {}};
  s[6] = {"Answer what is open, then sign.", {}, {}, {}};
  m.prepare_sketch = "laminate";
  m.measure_sketch = "laminate-sizes";
  m.after_sketch = "laminate-broken";
  m.setup_sketch = "load-path";
  m.run_sketch = "frame";
  m.standin = "laminate-frame";
  m.run_time = [](const TestRecord& r) { return timing::pulled(r, 0.03); };  // laminates break near it
  m.limit_keys = {"sigma_m", "e_chord", "eps_m", "nu12"};
  m.measure_keys = {"area"};
  m.after_keys = {"failure_code", "sigma_m"};
  m.timers = {{"conditions.stated", "conditions.hours", "Conditioning", "conditioning-short"}};
  m.series.key = "sigma_m";
  m.printed_settings = {"settings.modulus", "settings.toe", "settings.prestress", "settings.speed",
                        "settings.sampling"};
  m.wording = {"The failure code comes after the run.", "The curve grows here while the strip is pulled.",
               "The laminate broke. Say how it failed at After.", "failure to describe",
               "While the pieces lie on the bench."};
  equipment::add_from_shelf(m, {"micrometer", "chamber"});
  finish(m);
}

}  // namespace fortitor::composite
