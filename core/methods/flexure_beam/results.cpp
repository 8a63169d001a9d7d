#include "core/methods/flexure_beam/model.h"
#include "core/methods/support/fields.h"
#include "core/reference/library.h"

namespace fortitor::flexure {
namespace {

using D = Dimension;
using R = RoundingClass;
using ledger::get;
using ledger::si;

}  // namespace

std::vector<ResultSpec> specs(const TestRecord&) {
  return {
      {"moe", "E", "modulus of elasticity in bending", D::modulus, R::other, 4, true},
      {"mor", "σ_b", "modulus of rupture", D::stress, R::other, 3, true},
      {"pl_stress", "σ_PL", "stress at the proportional limit", D::stress, R::other, 3, true},
      {"pl_force", "P_PL", "load at the proportional limit", D::force, R::other, 4, true},
      {"pl_deflection", "δ_PL", "deflection at the proportional limit", D::length, R::other, 4, false},
      {"stiffness", "P/δ", "stiffness", D::stiffness, R::other, 4, true},
      {"moe_shear_free", "E_0", "modulus, shear deflection taken off", D::modulus, R::other, 4, false},
      {"moe_12", "E_12", "modulus at 12 % moisture", D::modulus, R::other, 4, true},
      {"mor_12", "σ_b12", "modulus of rupture at 12 % moisture", D::stress, R::other, 3, true},
      {"moe_ratio", "E_12/E_ref", "modulus against the species' mean", D::none, R::other, 3, false},
      {"mor_ratio", "σ_b12/σ_ref", "modulus of rupture against the species' mean", D::none, R::other, 3, false},
      {"max_force", "P_max", "largest load", D::force, R::other, 4, false},
      {"work_to_max", "w", "work to the largest load, per volume", D::energy_density, R::other, 3, false},
      {"i_moment", "I", "second moment of area", D::second_moment, R::other, 5, false},
      {"section_modulus", "W", "section modulus", D::section_modulus, R::other, 5, false},
      {"span_depth", "L/h", "span to depth", D::none, R::other, 3, false},
      {"stiffness_r2", "R²", "fit of the stiffness, R²", D::none, R::other, 6, false},
  };
}

std::vector<School> schools() {
  return {
      {"settings.proportional_limit.school",
       "Proportional limit",
       {{"auto", "last straight stop"}, {"pick", "picked stop"}, {"deviation", "5 % off the first line"}}},
      {"settings.modulus.school", "Modulus by", {{"slope", "slope of the line"}, {"point", "one point at the limit"}}}};
}

std::vector<FieldSpec> fields() {
  using namespace fortitor::fields;
  std::vector<FieldSpec> all = common();
  auto add = [&](FieldSpec f) { all.push_back(std::move(f)); };
  add(text("specimen.species", "Species", Stage::prepare, "As in the reference values: ash, larch, oak …"));
  add(of_piece(quantity("specimen.moisture", "Moisture content", D::elongation, Stage::prepare, "",
                        "By meter or oven, on the day.")));
  add(of_piece(quantity("specimen.density", "Density", D::density, Stage::prepare, "", "Mass over volume at test.")));
  add(of_piece(quantity("specimen.rings", "Ring width", D::length, Stage::prepare, "", "Mean over the end.")));
  add(of_piece(
      quantity("specimen.slope_of_grain", "Slope of grain", D::angle, Stage::prepare, "", "Against the long edge.")));
  add(of_piece(text("specimen.knots", "Knots", Stage::prepare, "Where and how large, or none.")));
  add(readings("specimen.width", "Width", D::length, Stage::measure, 3, "b", "Across the load, at mid-span and thirds.",
               true));
  add(readings("specimen.depth", "Depth", D::length, Stage::measure, 3, "h", "In the direction of the load.", true));
  add(of_series(quantity("specimen.span", "Span", D::length, Stage::measure, "L", "Between the supports.", true)));
  add(choice("specimen.loading", "Loading", Stage::measure,
             {{"three-point", "three-point"}, {"third-point", "at thirds"}, {"quarter-point", "at quarters"}}, true));
  add(choice("specimen.placed", "Placed", Stage::measure, {{"on-edge", "on edge"}, {"flat", "flat"}}));
  FieldSpec bracket = readings("specimen.after.broke_between", "Broke between", D::force, Stage::after, 2, "P",
                               "Last load that held, first load not reached.");
  bracket.may_be_zero = true;
  bracket.spread_limit = 0;  // two ends of an interval, not two readings of one size
  add(bracket);
  add(quantity("specimen.after.max_force", "Largest load seen", D::force, Stage::after, "P_max",
               "By the machine's pointer, when it has one."));
  add(choice("specimen.after.fracture", "Break", Stage::after,
             {{"tension", "simple tension"},
              {"splinter", "splintering"},
              {"brash", "brash, across"},
              {"cross-grain", "sloping grain"},
              {"compression", "compression"},
              {"shear", "horizontal shear"},
              {"none", "no break"}}));
  add(flag("specimen.after.support_crush", "Crushed at a support", Stage::after));
  add(quantity("settings.step", "Step", D::force, Stage::set_up, "ΔP",
               "From stop to stop; can be changed on the fly."));
  add(quantity("settings.last_stop", "Last stop", D::force, Stage::set_up, "", "Left empty: to the break."));
  add(under(usually(quantity("settings.proportional_limit.force", "Limit at", D::force, Stage::evaluate),
                    "the last straight stop"),
            "settings.proportional_limit.school", "pick"));
  add(usually(quantity("settings.proportional_limit.tolerance", "Straight within", D::elongation, Stage::evaluate),
              "3 %; 1 % of a continuous run"));
  FieldSpec kept = readings("settings.proportional_limit.what_if", "What-ifs kept", D::force, Stage::evaluate, 0);
  kept.kind = FieldKind::texts;
  add(kept);
  add(usually(number("settings.shear_ratio", "E/G", Stage::evaluate, "Corrects the modulus for shear."),
              "16 for wood; others are not corrected"));
  add(usually(quantity("settings.moisture.moe", "Modulus per % moisture", D::elongation, Stage::evaluate), "2 %"));
  add(usually(quantity("settings.moisture.mor", "Rupture per % moisture", D::elongation, Stage::evaluate), "4 %"));
  add(zero_choice());
  add(quantity("settings.speed.elastic", "Speed", D::speed, Stage::set_up, "v", "Crosshead."));
  return all;
}

std::vector<Step> how(const std::string& key, const TestRecord& record, const Bending& b, const Values& v) {
  std::vector<Step> steps;
  auto add = [&](std::string expression, std::string with, double value, D d, std::string source = {}) {
    steps.push_back({std::move(expression), std::move(with), value, d, std::move(source)});
  };
  const Beam beam = beam_of(record);
  const std::string b_ = si(beam.width, D::length), h = si(beam.depth, D::length), l = si(beam.span, D::length);
  auto inertia = [&] {
    add("I = b·h³/12", b_ + "·(" + h + ")³/12", beam.i, D::second_moment, "means of the readings");
  };
  auto modulus = [&] {
    add("W = b·h²/6", b_ + "·(" + h + ")²/6", beam.w, D::section_modulus, "means of the readings");
  };
  auto stress = [&](double p, double value) {
    modulus();
    add("M = " + beam.loads.moment_text, beam.loads.label + ", P = " + si(p, D::force) + ", L = " + l,
        beam.loads.m * p * beam.span, D::torque);
    add("σ = M/W", si(beam.loads.m * p * beam.span, D::torque) + " / " + si(beam.w, D::section_modulus), value,
        D::stress);
  };
  const std::string span =
      b.limit ? std::to_string(b.limit->last + 1) + " points up to " + si(b.limit->load, D::force) : "";
  if (key == "i_moment") inertia();
  if (key == "section_modulus") modulus();
  if (key == "span_depth") add("L/h", l + " / " + h, get(v, key), D::none);
  if (key == "pl_force" || key == "pl_deflection" || key == "pl_stress") {
    const std::string rule =
        b.school == "pick" ? "picked by hand"
        : b.school == "deviation"
            ? "first departure of 5 % from the initial line, between two points"
            : "largest stop whose whole line stays within " + ledger::percent(b.tolerance) + " of δ";
    if (key == "pl_stress")
      stress(get(v, "pl_force"), get(v, key));
    else
      add(key == "pl_force" ? "P_PL" : "δ_PL", span, get(v, key), key == "pl_force" ? D::force : D::length, rule);
  }
  if (key == "stiffness" || key == "stiffness_r2")
    add(key == "stiffness" ? "P/δ = Σ(δ−δ̄)(P−P̄)/Σ(δ−δ̄)²" : "R² = 1 − SS_res/SS_tot", span, get(v, key),
        key == "stiffness" ? D::stiffness : D::none, "least squares");
  if (key == "moe") {
    inertia();
    const bool point = record.fields.text("settings.modulus.school") == "point";
    const std::string slope = point ? si(get(v, "pl_force"), D::force) + " / " + si(get(v, "pl_deflection"), D::length)
                                    : si(get(v, "stiffness"), D::stiffness);
    add("E = (P/δ)·L³/(" + beam.loads.deflection_text + ")",
        slope + " · (" + l + ")³ / (" + beam.loads.deflection_text + ")", get(v, key), D::modulus,
        point ? "one point at the limit" : "slope of the line");
  }
  if (key == "moe_shear_free") {
    const double ratio = record.fields.number("settings.shear_ratio").value_or(16);
    add("E_0 = E·(1 + 1.2·(m/12k)·(E/G)·(h/L)²)",
        "E/G = " + significant(ratio, 3) + ", h/L = " + significant(beam.depth / beam.span, 3), get(v, key), D::modulus,
        "shear deflection of a rectangle, coefficient 6/5");
  }
  if (key == "max_force")
    add("P_max", b.continuous ? "largest force of the run" : "largest load that was held, or the bracket", get(v, key),
        D::force);
  if (key == "mor") stress(get(v, "max_force"), get(v, key));
  if (key == "mor_12" || key == "moe_12") {
    const bool e = key == "moe_12";
    const auto species = usual_of(record, "specimen.species", "wood");
    const double m = record.fields.number("specimen.moisture").value_or(0);
    const bool known = species && species->values.count(e ? "moe_green" : "mor_green");
    const std::string text = ledger::percent(m, 3) + " moisture, " + (e ? "E = " : "σ_b = ") +
                             si(get(v, e ? "moe" : "mor"), e ? D::modulus : D::stress);
    if (known)
      add("P_12 = P·(P_12ref/P_green)^((M−12)/(M_p−12))", text, get(v, key), e ? D::modulus : D::stress,
          species->name + ", " + species->source + (species->own ? ", changed by the user" : ""));
    else
      add(std::string("P_12 = P·(1 + c·(M−12)), c = ") + (e ? "2 %" : "4 %") + " per % unless set", text, get(v, key),
          e ? D::modulus : D::stress, "no green value is known for this species");
  }
  if (key == "mor_ratio" || key == "moe_ratio") {
    const auto species = usual_of(record, "specimen.species", "wood");
    const std::string base = key == "moe_ratio" ? "moe_12" : "mor_12";
    if (species)
      add("ratio to the mean of " + species->name,
          si(get(v, base), D::stress) + " / " + si(species->values.at(base).mean, D::stress), get(v, key), D::none,
          species->source);
  }
  if (key == "work_to_max")
    add("w = ∫P dδ/(b·h·L)", "trapezoidal rule over " + std::to_string(b.path.size()) + " points", get(v, key),
        D::energy_density);
  return steps;
}

}  // namespace fortitor::flexure
