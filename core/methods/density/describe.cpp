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
  add(text("specimen.species", Stage::prepare));
  add(of_series(flag("specimen.immersed", Stage::prepare)));
  for (FieldSpec f : section_fields({"flat", "round", "tube"}, Stage::measure)) add(unless_in_water(std::move(f)));
  add(readings("specimen.length", D::length, Stage::measure, 3, "l"));
  auto in_water = [&](FieldSpec f) {
    f.when_path = "specimen.immersed";
    f.when_value = "true";
    add(std::move(f));
  };
  in_water(quantity("specimen.water_temperature", D::temperature, Stage::measure, "T"));
  in_water(quantity("specimen.wax_mass", D::mass, Stage::measure));
  in_water(quantity("specimen.wax_density", D::density, Stage::measure));
  add(quantity("specimen.mass_dry", D::mass, Stage::after, "m₀"));
  for (FieldSpec& f : m.fields)
    if (f.dimension == D::mass) f.unit = "g";
  m.equipment = {equipment::scale(), equipment::caliper()};
  TableSpec readings_table;
  readings_table.id = kReadings;
  FieldSpec mass = quantity("mass", D::mass, Stage::run, "m");
  FieldSpec wet = quantity("mass_immersed", D::mass, Stage::run, "m_w");
  wet.when_path = "specimen.immersed";
  wet.when_value = "true";
  wet.may_be_zero = wet.may_be_negative = true;  // what floats is pulled under by a sinker
  mass.unit = wet.unit = "g";
  readings_table.columns = {mass, wet};
  readings_table.least = 1;
  readings_table.usual = 3;
  m.tables = {readings_table};
  m.prepare_sketch = m.run_sketch = m.after_sketch = m.setup_sketch = "block";
  m.measure_sketch = "block-sizes";
  m.standin = "scale-bench";
  m.minutes = {5, 5, 3};
  m.limit_keys = {key::density, key::moisture, key::density_12};
  m.measure_keys = {key::volume};
  m.after_keys = {key::density, key::moisture, key::density_12};
  m.series.key = key::density;
  m.plan = plan;
  equipment::add_from_shelf(m, {"micrometer", "bath"});
  finish(m);
}

}  // namespace fortitor::density
