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
  FieldSpec d = readings("specimen.diameter", "Diameter", D::length, Stage::measure, 3, "d",
                         "At three places or more along the twisted length.", true);
  d.spread_limit = 0.005;
  add(d);
  add(readings("specimen.inner", "Bore", D::length, Stage::measure, 2, "d_i",
               "Of a tube; left empty for a solid bar."));
  add(quantity("specimen.length", "Length between chucks", D::length, Stage::measure, "L", "The part that twists.",
               true));
  add(number("specimen.gauges", "Gauges at 45°", Stage::measure, "1 or 2 (+45° and −45°)."));
  add(number("specimen.poisson", "Poisson's ratio", Stage::measure, "For a cross-check of E from G."));
  add(quantity("settings.step", "First step", D::angle, Stage::set_up, "Δθ",
               "5 or 10° first, wider later; smaller when yield comes early."));
  add(quantity("specimen.after.angle", "Angle at the end", D::angle, Stage::after, "θ_f",
               "Turns of the line on the bar, or the counter; 2.35 rev.", true));
  add(quantity("specimen.after.torque_max", "Largest torque", D::torque, Stage::after, "T_max",
               "Of the fast part to failure.", true));
  add(choice("specimen.after.fracture", "Fracture", Stage::after,
             {{"flat", "flat across"},
              {"helical", "helical, 45°"},
              {"fibrous", "fibrous, split"},
              {"at-chuck", "at a chuck"},
              {"other", "other"},
              {"none", "no fracture"}}));
  add(under(usually(quantity("settings.proportional_limit.torque", "Limit at", D::torque, Stage::evaluate),
                    "the last straight stop"),
            "settings.proportional_limit.school", "pick"));
  add(usually(quantity("settings.proportional_limit.tolerance", "Straight within", D::elongation, Stage::evaluate),
              "3 %"));
  FieldSpec kept = readings("settings.proportional_limit.what_if", "What-ifs kept", D::torque, Stage::evaluate, 0);
  kept.kind = FieldKind::texts;
  add(kept);
  m.schools = {{"settings.proportional_limit.school",
                "Proportional limit",
                {{"auto", "last straight stop"}, {"pick", "picked stop"}, {"deviation", "5 % off the first line"}}},
               {"settings.offset", "Yield offset", {{"0.2", "0.2 %"}, {"0.04", "0.04 %"}}}};
  m.channels = {
      channels::angle(), channels::torque(),
      channels::gauge("strain_45", "strain at 45°", false, {"strain_45", "45", "gauge", "strain", "dms", "=e"}),
      channels::gauge("strain_minus_45", "strain at −45°", false, {"strain_minus_45", "-45", "−45", "minus"})};
  m.equipment = {equipment::torque_cell(), equipment::strain_gauges(), equipment::indicator(), equipment::caliper()};
  auto& s = m.stages;
  s[0] = {"Draw a line along the bar: it shows the turns.",
          {"A straight line in ink from chuck to chuck; after the test it is a helix to count.",
           "Log the lot and the heat treatment."},
          {"Rotating chuck: no loose sleeves, no gloves, long hair tied."},
          {}};
  s[1] = {"Diameter at three places or more, and the length that twists.",
          {"The diameter enters with its third power: a hundredth counts.",
           "Enter goes to the next reading, M says it was missed."},
          {},
          {}};
  s[2] = {"Centre the bar in the chucks, tighten hard, zero torque and angle.",
          {"Connect the 45° gauge and balance it.", "Steps of 5 or 10° first, wider once it yields."},
          {"Hands off the chuck key before the drive is armed.",
           "Local safety rules and the machine's own manual go before anything written here."},
          {{"key", "Chuck keys out, chucks tight, bar centred", true},
           {"sleeves", "No loose sleeves or gloves near the chuck", true},
           {"guard", "Guard closed, emergency stop within reach", true},
           {"balanced", "Gauge balanced, torque and angle at zero", false}}};
  s[3] = {
      "Turn to the next stop, hold, read torque and strain.",
      {"Wider steps once the torque stops climbing.", "Then fast to failure: largest torque and turns go to After."},
      {"The chuck rotates: no loose sleeves or gloves. The bar gets hot when it yields fast.",
       "A brittle bar breaks along a helix and throws splinters."},
      {}};
  s[4] = {"Count the turns, read the fracture.",
          {"Flat across: ductile shear. A helix at 45°: brittle. Fibres: splitting."},
          {"The bar is hot after fast twisting, and the fracture edge is sharp."},
          {}};
  s[5] = {"Judge where the straight part ends, and see what follows from it.", {}, {}, {}};
  s[6] = {"Answer what is open, then sign.", {}, {}, {}};
  TableSpec stops;
  stops.id = kStops;
  stops.label = "Stops";
  stops.row = "stop";
  stops.control = column("angle", "angle", D::angle);
  FieldSpec minus = column("strain_minus_45", "gauge at −45°", D::microstrain);
  minus.when_path = "specimen.gauges";
  minus.when_at_least = 2;
  stops.columns = {column("torque", "torque", D::torque), column("strain_45", "gauge at 45°", D::microstrain), minus};
  stops.least = 4;
  stops.instruction = "then read torque and strain";
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
  m.limit_keys = {"g_modulus", "tau_y", "tau_rupture", "tau_plastic", "turns"};
  m.measure_keys = {"j_moment"};
  m.after_keys = {"torque_max", "tau_rupture", "turns", "gamma_f"};
  m.series.key = "tau_rupture";
  m.printed_settings = {"settings.proportional_limit", "settings.offset", "settings.step"};
  m.wording = {"Turns and fracture come after the run.", "The curve grows here, stop by stop.",
               "Twisted to the end. Count the turns and look at the fracture at After.", "turns to count",
               "While the bar and its line are at hand."};
  m.plan = plan;
  equipment::add_from_shelf(m, {"micrometer"});
  finish(m);
}

}  // namespace fortitor::torsion
