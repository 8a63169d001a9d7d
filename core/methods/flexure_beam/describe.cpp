// What flexure-beam asks.
#include "core/methods/flexure_beam/model.h"
#include "core/methods/support/channels.h"
#include "core/methods/support/equipment.h"
#include "core/methods/support/fields.h"
#include "core/plan/plan.h"

namespace fortitor::flexure {
namespace {

using D = Dimension;

std::vector<School> schools() {
  return {fortitor::fields::school("settings.proportional_limit.school", {"auto", "pick", "deviation"}),
          fortitor::fields::school("settings.modulus.school", {"slope", "point"})};
}

std::vector<FieldSpec> fields() {
  using namespace fortitor::fields;
  std::vector<FieldSpec> all = common();
  auto add = [&](FieldSpec f) { all.push_back(std::move(f)); };
  add(text("specimen.species", Stage::prepare));
  add(of_piece(quantity("specimen.moisture", D::elongation, Stage::prepare)));
  add(of_piece(quantity("specimen.density", D::density, Stage::prepare)));
  add(of_piece(quantity("specimen.rings", D::length, Stage::prepare)));
  add(of_piece(quantity("specimen.slope_of_grain", D::angle, Stage::prepare)));
  add(of_piece(text("specimen.knots", Stage::prepare)));
  add(readings("specimen.width", D::length, Stage::measure, 3, "b", true));
  add(readings("specimen.depth", D::length, Stage::measure, 3, "h", true));
  add(of_series(quantity("specimen.span", D::length, Stage::measure, "L", true)));
  add(choice("specimen.loading", Stage::measure, {"three-point", "third-point", "quarter-point"}, true));
  add(choice("specimen.placed", Stage::measure, {"on-edge", "flat"}));
  FieldSpec bracket = readings("specimen.after.broke_between", D::force, Stage::after, 2, "P");
  bracket.may_be_zero = true;
  bracket.spread_limit = 0;  // two ends of an interval, not two readings of one size
  add(bracket);
  add(quantity("specimen.after.max_force", D::force, Stage::after, "P_max"));
  add(choice("specimen.after.fracture", Stage::after,
             {"tension", "splinter", "brash", "cross-grain", "compression", "shear", "none"}));
  add(flag("specimen.after.support_crush", Stage::after));
  add(quantity("settings.step", D::force, Stage::set_up, "ΔP"));
  add(quantity("settings.last_stop", D::force, Stage::set_up));
  add(under(quantity("settings.proportional_limit.force", D::force, Stage::evaluate),
            "settings.proportional_limit.school", "pick"));
  add(quantity("settings.proportional_limit.tolerance", D::elongation, Stage::evaluate));
  FieldSpec kept = readings("settings.proportional_limit.what_if", D::force, Stage::evaluate, 0);
  kept.kind = FieldKind::texts;
  add(kept);
  add(number("settings.shear_ratio", Stage::evaluate));
  add(quantity("settings.moisture.moe", D::elongation, Stage::evaluate));
  add(quantity("settings.moisture.mor", D::elongation, Stage::evaluate));
  add(zero_choice());
  add(quantity("settings.speed.elastic", D::speed, Stage::set_up, "v"));
  return all;
}

double first_step(const TestRecord& record) {
  if (const auto set = record.fields.number("settings.step"); set && *set > 0) return *set;
  const Plan p = plan(record);
  // A dozen stops below a limit that lies near half the strength.
  return p.expected ? round_step(p.expected->likely / 20) : 100;
}

TableSpec stops() {
  TableSpec t;
  t.id = kStops;
  t.control = fields::column("force", Dimension::force);
  t.columns = {fields::column("deflection", Dimension::length)};
  t.broke_path = "specimen.after.broke_between";
  t.may_crack = true;
  t.ends_in_break = true;
  t.first_step = first_step;
  t.last_stop = [](const TestRecord& r) { return r.fields.number("settings.last_stop").value_or(0); };
  return t;
}

}  // namespace

void describe(Method& m) {
  m.fields = fields();
  m.channels = {channels::time(false), channels::force(), channels::displacement("deflection", true),
                channels::crosshead()};
  m.tables = {stops()};
  m.equipment = {equipment::frame(), equipment::load_cell(), equipment::grips(), equipment::caliper()};
  m.schools = schools();
  m.prepare_sketch = m.run_sketch = "beam";
  m.measure_sketch = "beam-sizes";
  m.after_sketch = "beam-broken";
  m.setup_sketch = "load-path";
  m.standin = "bending-bench";
  m.minutes = {8, 20, 10};
  m.limit_keys = {key::moe, key::mor, key::pl_stress, key::mor_12, key::moe_12};
  m.measure_keys = {key::i_moment, key::section_modulus, key::span_depth};
  m.after_keys = {key::max_force, key::mor, key::moe};
  m.series.key = key::mor;
  m.printed_settings = {"settings.proportional_limit", "settings.modulus", "settings.step"};
  equipment::add_from_shelf(m, {"fixture", "dial", "micrometer"});
  fortitor::fields::finish(m);
}

}  // namespace fortitor::flexure
