#include <cmath>
#include <numbers>

#include "core/methods/support/channels.h"
#include "core/methods/support/equipment.h"
#include "core/methods/support/fields.h"
#include "core/methods/support/load_path.h"
#include "core/methods/torsion_bar/model.h"
#include "core/methods/torsion_bar/torsion_bar.h"
#include "core/reference/library.h"
#include "core/reference/materials.h"

namespace fortitor::torsion {
namespace {

using D = Dimension;

struct Expected {
  double yield = 0, strength_low = 0, strength_high = 0, g = 0;
  std::string from;
};

// Shear values from tension by von Mises: τ = R/√3.
Expected expected_of(const TestRecord& r) {
  Expected x;
  const MaterialFamily* f = find_family(r.fields.text("specimen.family"));
  const auto m = usual_of(r, "specimen.material");
  if (f != nullptr)
    x = {f->yield_low / std::sqrt(3), f->rm_low / std::sqrt(3), f->rm_high / std::sqrt(3),
         0.5 * (f->e_low + f->e_high) / 2 / (1 + f->poisson), "usual R_m of " + std::string(f->name) + " over √3"};
  if (m && m->values.count("rm") && m->values.count("yield")) {
    x.yield = m->values.at("yield").low / std::sqrt(3);
    x.strength_low = m->values.at("rm").low / std::sqrt(3);
    x.strength_high = m->values.at("rm").high / std::sqrt(3);
    x.from = "usual R_m of " + m->name + " over √3";
  }
  return x;
}

double step_of(const TestRecord& r) {
  const Bar b = bar_of(r);
  const Expected x = expected_of(r);
  if (!(b.radius() > 0) || !(b.length > 0) || !(x.g > 0) || !(x.yield > 0)) return from_unit(5, "deg", D::angle);
  // About eight stops below yield; γ_y = τ_y/G, θ = γL/r.
  const double yield_angle = x.yield / x.g * b.length / b.radius() / from_unit(1, "deg", D::angle);
  double step = 10;
  for (double s : {10.0, 5.0, 2.0, 1.0, 0.5, 0.2})
    if (step * 8 > yield_angle) step = s;
  return from_unit(step, "deg", D::angle);
}

Plan plan(const TestRecord& r) {
  Plan p;
  const Bar b = bar_of(r);
  const Expected x = expected_of(r);
  if (!(b.j > 0)) p.blocking.push_back("The diameter is not measured yet.");
  if (!(b.length > 0)) p.blocking.push_back("The length between the chucks is wanted for the shear strain.");
  if (b.j > 0 && x.strength_high > 0) {
    const double plastic = 2 * std::numbers::pi / 3 * (std::pow(b.radius(), 3) - std::pow(b.inner / 2, 3));
    const double low = x.strength_low * plastic, high = x.strength_high * plastic;
    p.expected = Expectation{D::torque, low, 0.5 * (low + high), high, x.from + ", fully plastic"};
    p.yield = x.yield * b.j / b.radius();
  }
  judge_load_path(methods::torsion_bar(), r, "torque_cell", p);
  p.advice.push_back(
      {"settings.step", "First step", step_of(r), D::angle, "about eight stops below yield; wider later"});
  return p;
}

}  // namespace

void describe(Method& m) {
  using namespace fortitor::fields;
  m.fields = common();
  auto add = [&](FieldSpec f) { m.fields.push_back(std::move(f)); };
  FieldSpec d = readings("specimen.diameter", D::length, Stage::measure, 3, "d", true);
  d.spread_limit = 0.005;
  add(d);
  add(readings("specimen.inner", D::length, Stage::measure, 2, "d_i"));
  add(quantity("specimen.length", D::length, Stage::measure, "L", true));
  add(number("specimen.gauges", Stage::measure));
  add(number("specimen.poisson", Stage::measure));
  add(quantity("settings.step", D::angle, Stage::set_up, "Δθ"));
  add(quantity("specimen.after.angle", D::angle, Stage::after, "θ_f", true));
  add(quantity("specimen.after.torque_max", D::torque, Stage::after, "T_max", true));
  add(choice("specimen.after.fracture", Stage::after, {"flat", "helical", "fibrous", "at-chuck", "other", "none"}));
  add(under(quantity("settings.proportional_limit.torque", D::torque, Stage::evaluate),
            "settings.proportional_limit.school", "pick"));
  add(quantity("settings.proportional_limit.tolerance", D::elongation, Stage::evaluate));
  FieldSpec kept = readings("settings.proportional_limit.what_if", D::torque, Stage::evaluate, 0);
  kept.kind = FieldKind::texts;
  add(kept);
  m.schools = {school("settings.proportional_limit.school", {"auto", "pick", "deviation"}),
               school("settings.offset", {"0.2", "0.04"})};
  m.channels = {channels::angle(), channels::torque(),
                channels::gauge("strain_45", false, {"strain_45", "45", "gauge", "strain", "dms", "=e"}),
                channels::gauge("strain_minus_45", false, {"strain_minus_45", "-45", "−45", "minus"})};
  m.equipment = {equipment::torque_cell(), equipment::strain_gauges(), equipment::indicator(), equipment::caliper()};
  TableSpec stops;
  stops.id = kStops;
  stops.control = column("angle", D::angle);
  FieldSpec minus = column("strain_minus_45", D::microstrain);
  minus.when_path = "specimen.gauges";
  minus.when_at_least = 2;
  stops.columns = {column("torque", D::torque), column("strain_45", D::microstrain), minus};
  stops.least = 4;
  stops.first_step = [](const TestRecord& r) {
    const auto set = r.fields.number("settings.step");
    return set && *set > 0 ? *set : step_of(r);
  };
  stops.last_stop = [](const TestRecord&) { return 0.0; };
  stops.ends_in_break = true;
  m.tables = {stops};
  m.prepare_sketch = m.run_sketch = "shaft";
  m.measure_sketch = "shaft-sizes";
  m.after_sketch = "shaft-broken";
  m.setup_sketch = "torsion-bench";
  m.standin = "torsion-bench";
  m.minutes = {8, 25, 10};
  m.limit_keys = {key::g_modulus, key::tau_y, key::tau_rupture, key::tau_plastic, key::turns};
  m.measure_keys = {key::j_moment};
  m.after_keys = {key::torque_max, key::tau_rupture, key::turns, key::gamma_f};
  m.series.key = key::tau_rupture;
  m.printed_settings = {"settings.proportional_limit", "settings.offset", "settings.step"};
  m.plan = plan;
  equipment::add_from_shelf(m, {"micrometer"});
  finish(m);
}

}  // namespace fortitor::torsion
