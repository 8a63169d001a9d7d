#include "core/methods/density/density.h"
#include "core/methods/density/model.h"
#include "core/methods/support/equipment.h"
#include "core/methods/support/fields.h"
#include "core/section/section.h"

namespace fortitor::density {
namespace {

using D = Dimension;

Plan plan(const TestRecord& r) {
  Plan p;
  const bool in_water = r.fields.flag("specimen.immersed");
  if (in_water && !r.fields.number("specimen.water_temperature"))
    p.blocking.push_back("Read the temperature of the water.");
  if (!in_water) {
    const std::string missing = section_of(r.fields).missing;
    if (!missing.empty()) p.blocking.push_back(missing);
    if (r.fields.readings("specimen.length").empty()) p.blocking.push_back("The length is not measured yet.");
  }
  if (in_water && r.fields.text("specimen.family").find("wood") != std::string::npos &&
      !r.fields.number("specimen.wax_mass"))
    p.warnings.push_back("Bare wood soaks while it hangs in water: coat it with wax and enter the mass of the coat.");
  return p;
}

}  // namespace

void describe(Method& m) {
  using namespace fortitor::fields;
  m.fields = common();
  auto add = [&](FieldSpec f) { m.fields.push_back(std::move(f)); };
  auto unless_in_water = [](FieldSpec f) {
    f.when_path = f.when_path.empty() ? "specimen.immersed" : f.when_path;
    f.required = false;  // a piece weighed in water has no sizes
    return f;
  };
  add(text("specimen.species", "Species", Stage::prepare, "Of wood: swelling and usual values."));
  add(of_series(flag("specimen.immersed", "Weighed in water", Stage::prepare)));
  for (FieldSpec f : section_fields({"flat", "round", "tube"}, Stage::measure)) add(unless_in_water(std::move(f)));
  add(readings("specimen.length", "Length", D::length, Stage::measure, 3, "l", "At three places."));
  auto in_water = [&](FieldSpec f) {
    f.when_path = "specimen.immersed";
    f.when_value = "true";
    add(std::move(f));
  };
  in_water(quantity("specimen.water_temperature", "Water temperature", D::temperature, Stage::measure, "T",
                    "Of the water the piece hangs in."));
  in_water(quantity("specimen.wax_mass", "Mass of the coat", D::mass, Stage::measure, "",
                    "Wax that keeps the water out; coated less bare."));
  in_water(quantity("specimen.wax_density", "Density of the coat", D::density, Stage::measure, "",
                    "900 kg/m³ for paraffin wax, unless known."));
  add(quantity("specimen.mass_dry", "Mass when dry", D::mass, Stage::after, "m₀",
               "After drying at 103 °C until it no longer changes."));
  for (FieldSpec& f : m.fields)
    if (f.dimension == D::mass) f.unit = "g";
  m.equipment = {equipment::scale(), equipment::caliper()};
  TableSpec readings_table;
  readings_table.id = kReadings;
  readings_table.label = "Readings";
  readings_table.row = "reading";
  FieldSpec mass = quantity("mass", "mass", D::mass, Stage::run, "m");
  FieldSpec wet = quantity("mass_immersed", "mass in water", D::mass, Stage::run, "m_w");
  wet.when_path = "specimen.immersed";
  wet.when_value = "true";
  wet.may_be_zero = wet.may_be_negative = true;  // what floats is pulled under by a sinker
  mass.unit = wet.unit = "g";
  readings_table.columns = {mass, wet};
  readings_table.least = 1;
  readings_table.usual = 3;
  readings_table.instruction = "Take it off the scale, let it settle at zero, weigh again";
  m.tables = {readings_table};
  auto& s = m.stages;
  s[0] = {"A clean, whole piece at the room's moisture and temperature.",
          {"Note species or material and how it was stored.", "Weigh in water when its shape cannot be measured."},
          {},
          {}};
  s[1] = {"The sizes, three times each, or the temperature of the water.",
          {"Sizes enter with their product: one per cent in each of three is three in the density.",
           "Enter goes to the next reading, M says it was missed."},
          {},
          {}};
  s[2] = {"Level the scale, let it warm up, set it to zero.",
          {"For weighing in water: hang the empty holder in the water and set the scale to zero with it.",
           "Water that has stood is free of air; brush bubbles off the piece."},
          {"Wet hands and mains: keep the bath away from plugs.",
           "Local safety rules and the device's own manual go before anything written here."},
          {{"level", "Scale level and warm", false},
           {"zero", "Scale at zero, holder hanging", false},
           {"dry", "Bath away from mains, floor dry", true}}};
  s[3] = {"Weigh three times, from zero each time.",
          {"Readings that go one way tell that the piece dries or soaks."},
          {"Water and mains: dry hands before you touch the scale."},
          {}};
  s[4] = {"For moisture: dry it, let it cool in a desiccator, weigh again.",
          {"Wood is dry when two weighings six hours apart agree."},
          {"The oven is hot: gloves and tongs. Resin gives off vapour: air."},
          {}};
  s[5] = {"Look at the density against what the material usually has.", {}, {}, {}};
  s[6] = {"Answer what is open, then sign.", {}, {}, {}};
  m.prepare_sketch = m.run_sketch = m.after_sketch = m.setup_sketch = "block";
  m.measure_sketch = "block-sizes";
  m.standin = "scale-bench";
  m.minutes = {5, 5, 3};
  m.limit_keys = {"density", "moisture", "density_12"};
  m.measure_keys = {"volume"};
  m.after_keys = {"density", "moisture", "density_12"};
  m.series.key = "density";
  m.wording = {"The dry mass comes after the weighing.", "The readings stand here, one after the other.",
               "Weighed. For the moisture dry it and weigh it again at After.", "to dry and weigh again",
               "While it is dry and cool."};
  m.plan = plan;
  equipment::add_from_shelf(m, {"micrometer", "bath"});
  finish(m);
}

}  // namespace fortitor::density
