#include "core/methods/flexure_beam/model.h"
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
      ledger::spec_of(key::moe, "E", D::modulus, R::other, 4, true),
      ledger::spec_of(key::mor, "σ_b", D::stress, R::other, 3, true),
      ledger::spec_of(key::pl_stress, "σ_PL", D::stress, R::other, 3, true),
      ledger::spec_of(key::pl_force, "P_PL", D::force, R::other, 4, true),
      ledger::spec_of(key::pl_deflection, "δ_PL", D::length, R::other, 4, false),
      ledger::spec_of(key::stiffness, "P/δ", D::stiffness, R::other, 4, true),
      ledger::spec_of(key::moe_shear_free, "E_0", D::modulus, R::other, 4, false),
      ledger::spec_of(key::moe_12, "E_12", D::modulus, R::other, 4, true),
      ledger::spec_of(key::mor_12, "σ_b12", D::stress, R::other, 3, true),
      ledger::spec_of(key::moe_ratio, "E_12/E_ref", D::none, R::other, 3, false),
      ledger::spec_of(key::mor_ratio, "σ_b12/σ_ref", D::none, R::other, 3, false),
      ledger::spec_of(key::max_force, "P_max", D::force, R::other, 4, false),
      ledger::spec_of(key::work_to_max, "w", D::energy_density, R::other, 3, false),
      ledger::spec_of(key::i_moment, "I", D::second_moment, R::other, 5, false),
      ledger::spec_of(key::section_modulus, "W", D::section_modulus, R::other, 5, false),
      ledger::spec_of(key::span_depth, "L/h", D::none, R::other, 3, false),
      ledger::spec_of(key::stiffness_r2, "R²", D::none, R::other, 6, false),
  };
}

std::vector<Step> how(const std::string& key, const TestRecord& record, const Bending& b, const Values& v) {
  std::vector<Step> steps;
  const ledger::AddStep add{steps};
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
  if (key == key::i_moment) inertia();
  if (key == key::section_modulus) modulus();
  if (key == key::span_depth) add("L/h", l + " / " + h, get(v, key), D::none);
  if (key == key::pl_force || key == key::pl_deflection || key == key::pl_stress) {
    const std::string rule =
        b.school == "pick" ? "picked by hand"
        : b.school == "deviation"
            ? "first departure of 5 % from the initial line, between two points"
            : "largest stop whose whole line stays within " + ledger::percent(b.tolerance) + " of δ";
    if (key == key::pl_stress)
      stress(get(v, key::pl_force), get(v, key));
    else
      add(key == key::pl_force ? "P_PL" : "δ_PL", span, get(v, key), key == key::pl_force ? D::force : D::length, rule);
  }
  if (key == key::stiffness || key == key::stiffness_r2)
    add(key == key::stiffness ? "P/δ = Σ(δ−δ̄)(P−P̄)/Σ(δ−δ̄)²" : "R² = 1 − SS_res/SS_tot", span, get(v, key),
        key == key::stiffness ? D::stiffness : D::none, "least squares");
  if (key == key::moe) {
    inertia();
    const bool point = record.fields.text("settings.modulus.school") == "point";
    const std::string slope =
        point ? si(get(v, key::pl_force), D::force) + " / " + si(get(v, key::pl_deflection), D::length)
              : si(get(v, key::stiffness), D::stiffness);
    add("E = (P/δ)·L³/(" + beam.loads.deflection_text + ")",
        slope + " · (" + l + ")³ / (" + beam.loads.deflection_text + ")", get(v, key), D::modulus,
        point ? "one point at the limit" : "slope of the line");
  }
  if (key == key::moe_shear_free) {
    const double ratio = record.fields.number("settings.shear_ratio").value_or(16);
    add("E_0 = E·(1 + 1.2·(m/12k)·(E/G)·(h/L)²)",
        "E/G = " + significant(ratio, 3) + ", h/L = " + significant(beam.depth / beam.span, 3), get(v, key), D::modulus,
        "shear deflection of a rectangle, coefficient 6/5");
  }
  if (key == key::max_force)
    add("P_max", b.continuous ? "largest force of the run" : "largest load that was held, or the bracket", get(v, key),
        D::force);
  if (key == key::mor) stress(get(v, key::max_force), get(v, key));
  if (key == key::mor_12 || key == key::moe_12) {
    const bool e = key == key::moe_12;
    const auto species = usual_of(record, "specimen.species", "wood");
    const double m = record.fields.number("specimen.moisture").value_or(0);
    const bool known = species && species->values.count(e ? "moe_green" : "mor_green");
    const std::string text = ledger::percent(m, 3) + " moisture, " + (e ? "E = " : "σ_b = ") +
                             si(get(v, e ? key::moe : key::mor), e ? D::modulus : D::stress);
    if (known)
      add("P_12 = P·(P_12ref/P_green)^((M−12)/(M_p−12))", text, get(v, key), e ? D::modulus : D::stress,
          species->name + ", " + species->source + (species->own ? ", changed by the user" : ""));
    else
      add(std::string("P_12 = P·(1 + c·(M−12)), c = ") + (e ? "2 %" : "4 %") + " per % unless set", text, get(v, key),
          e ? D::modulus : D::stress, "no green value is known for this species");
  }
  if (key == key::mor_ratio || key == key::moe_ratio) {
    const auto species = usual_of(record, "specimen.species", "wood");
    const std::string base = key == key::moe_ratio ? key::moe_12 : key::mor_12;
    if (species)
      add("ratio to the mean of " + species->name,
          si(get(v, base), D::stress) + " / " + si(species->values.at(base).mean, D::stress), get(v, key), D::none,
          species->source);
  }
  if (key == key::work_to_max)
    add("w = ∫P dδ/(b·h·L)", "trapezoidal rule over " + std::to_string(b.path.size()) + " points", get(v, key),
        D::energy_density);
  return steps;
}

}  // namespace fortitor::flexure
