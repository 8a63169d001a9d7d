// What tension-metal asks.
#include "core/methods/support/channels.h"
#include "core/methods/support/equipment.h"
#include "core/methods/support/fields.h"
#include "core/methods/support/timing.h"
#include "core/methods/tension_metal/model.h"
#include "core/section/section.h"

namespace fortitor::tension {
namespace {

using D = Dimension;
using fortitor::fields::choice;
using fortitor::fields::quantity;
using fortitor::fields::under;

FieldSpec after_readings(const char* name, const char* symbol, const char* shape) {
  return under(fortitor::fields::readings(std::string("specimen.after.") + name, D::length, Stage::after, 2, symbol),
               "specimen.section.shape", shape);
}

std::vector<School> schools() {
  return {
      fortitor::fields::school("settings.modulus.school", {"auto", "line", "chord", "secant", "tangent"}),
      fortitor::fields::school("settings.strain_source",
                               {"auto", "gauge", "extensometer", "crosshead-corrected", "crosshead"}),
      fortitor::fields::school("settings.hardening.range", {"2-ag", "10-20"}),
      fortitor::fields::school("settings.rounding", {"iso", "astm", "significant"}),
  };
}

std::vector<FieldSpec> fields() {
  std::vector<FieldSpec> all = fortitor::fields::common();
  for (FieldSpec& f : section_fields({"round", "flat", "tube", "by-mass"}, Stage::measure)) all.push_back(std::move(f));
  all.push_back(fortitor::fields::of_series(quantity("specimen.gauge_length", D::length, Stage::measure, "L₀", true)));
  all.push_back(fortitor::fields::of_series(quantity("specimen.extensometer_length", D::length, Stage::measure, "Lₑ")));
  all.push_back(quantity("specimen.parallel_length", D::length, Stage::measure, "L_c", true));
  all.push_back(quantity("specimen.after.gauge_length", D::length, Stage::after, "L_u", true));
  all.push_back(after_readings("diameter", "d_u", "round"));
  all.push_back(after_readings("width", "w_u", "flat"));
  all.push_back(after_readings("thickness", "t_u", "flat"));
  all.push_back(quantity("specimen.after.break_to_mark", D::length, Stage::after, "x", true));
  all.back().may_be_zero = true;
  all.push_back(choice("specimen.after.fracture", Stage::after,
                       {"cup-and-cone", "partial-cup", "flat", "shear", "star", "other"}));
  const auto of_divisions = [&](const char* name, D d) {
    all.push_back(under(quantity(std::string("specimen.after.divisions.") + name, d, Stage::after),
                        "settings.elongation.method", "ratio"));
    if (d == D::none) all.back().kind = FieldKind::number;
  };
  of_divisions("count", D::none);
  of_divisions("between", D::none);
  for (const char* name : {"xy", "yz", "yz2"}) of_divisions(name, D::length);

  auto setting = [&](FieldSpec f) { all.push_back(std::move(f)); };
  // Each belongs to the ways of the modulus that use it.
  const auto of_modulus = [&](const char* name, D d, const char* ways) {
    setting(
        under(quantity(std::string("settings.modulus.") + name, d, Stage::evaluate), "settings.modulus.school", ways));
  };
  of_modulus("from", D::stress, "line|chord");
  of_modulus("to", D::stress, "line|chord");
  of_modulus("at", D::stress, "secant|tangent");
  of_modulus("from_strain", D::strain, "line");
  of_modulus("to_strain", D::strain, "line");
  FieldSpec offset = quantity("settings.offset", D::elongation, Stage::evaluate);
  offset.kind = FieldKind::texts;
  offset.common = true;
  setting(offset);
  setting(fortitor::fields::zero_choice());
  setting(choice("settings.elongation.method", Stage::evaluate, {"marks", "ratio"}, true));
  setting(quantity("settings.elongation.convert_to", D::length, Stage::evaluate));
  setting(choice("settings.rate_plan", Stage::set_up, {"A2", "B", "E8-A", "E8-B", "E8-C"}));
  fortitor::fields::add_drive(all, true);
  for (FieldSpec& f : all)
    if (f.path == "settings.speed.elastic") f.symbol = "v₁";
  setting(quantity("settings.speed.plastic", D::speed, Stage::set_up, "v₂", true));
  setting(quantity("settings.removal_strain", D::elongation, Stage::set_up));
  return all;
}

}  // namespace

void describe(Method& m) {
  m.fields = fields();
  m.channels = {channels::time(true), channels::force(),          channels::extension(),
                channels::strain(),   channels::strain_lateral(), channels::crosshead()};
  m.schools = schools();
  m.equipment = {equipment::frame(), equipment::load_cell(), equipment::grips(), equipment::extensometer(),
                 equipment::caliper()};
  m.prepare_sketch = "tagged-bar";
  m.measure_sketch = "bar";
  m.after_sketch = "halves";
  m.setup_sketch = "load-path";
  m.run_sketch = "frame";
  m.standin = "universal-frame";
  m.run_time = [](const TestRecord& r) { return timing::pulled(r, 0.3); };  // a ductile steel
  m.limit_keys = {key::reh, key::rp02, key::rm, key::a, key::z, key::e_modulus, key::yield_ratio};
  m.measure_keys = {key::area, key::proportional_length};
  m.after_keys = {key::a, key::z, key::a_equiv};
  m.series.key = key::rm;
  m.printed_settings = {"settings.modulus", "settings.speed", "settings.sampling", "settings.offset"};
  equipment::add_from_shelf(m, {"micrometer", "chamber"});
  fortitor::fields::finish(m);
}

}  // namespace fortitor::tension
