#include <map>

#include "core/methods/support/fields.h"
#include "core/methods/tension_metal/model.h"

namespace fortitor::tension {
namespace {

using D = Dimension;
using R = RoundingClass;
using fortitor::fields::choice;
using fortitor::fields::quantity;
using fortitor::fields::under;
using fortitor::fields::usually;

const std::vector<ResultSpec>& table() {
  // The order of the ledger.
  static const std::vector<ResultSpec> specs = {
      {"e_modulus", "E", "modulus of elasticity", D::modulus, R::other, 4, true},
      {"reh", "R_eH", "upper yield strength", D::stress, R::strength, 4, true},
      {"rel", "R_eL", "lower yield strength", D::stress, R::strength, 4, true},
      {"rt05", "R_t0.5", "stress at 0.5 % total strain", D::stress, R::strength, 4, false},
      {"rm", "R_m", "tensile strength", D::stress, R::strength, 4, true},
      {"rm_top", "R_m,0", "tensile strength without the noise of the force", D::stress, R::strength, 4, false},
      {"a", "A", "elongation after fracture", D::elongation, R::elongation, 3, true},
      {"z", "Z", "reduction of area", D::elongation, R::reduction, 3, true},
      {"agt", "A_gt", "total strain at maximum force", D::elongation, R::elongation, 3, false},
      {"ag", "A_g", "plastic strain at maximum force", D::elongation, R::elongation, 3, true},
      {"at", "A_t", "total strain at break", D::elongation, R::elongation, 3, false},
      {"a_ext", "A_ext", "plastic strain at break", D::elongation, R::elongation, 3, false},
      {"ae", "A_e", "yield point elongation", D::elongation, R::yield_elongation, 3, true},
      {"a_equiv", "A_eq", "elongation, converted gauge length", D::elongation, R::elongation, 3, false},
      {"yield_ratio", "Y/T", "yield ratio", D::none, R::other, 3, false},
      {"yielding", "yielding", "kind of yielding", D::none, R::other, 0, false, true},
      {"n_value", "n", "strain hardening exponent", D::none, R::other, 3, false},
      {"k_strength", "K", "strength coefficient", D::stress, R::other, 4, false},
      {"r_value", "r", "plastic strain ratio", D::none, R::other, 3, false},
      {"resilience", "U_r", "resilience", D::energy_density, R::other, 3, false},
      {"toughness", "U_t", "toughness", D::energy_density, R::other, 3, false},
      {"fm", "F_m", "maximum force", D::force, R::other, 4, false, true},
      {"area", "S_0", "cross-section area", D::area, R::other, 4, false, true},
      {"proportional_length", "5.65·√S_0", "proportional gauge length", D::length, R::other, 4, false},
      {"toe_shift", "ε_0", "toe shift", D::strain, R::other, 2, false},
      {"modulus_from", "R_from", "modulus window, from", D::stress, R::other, 3, false},
      {"modulus_to", "R_to", "modulus window, to", D::stress, R::other, 3, false},
      {"modulus_r2", "R²", "modulus fit, R²", D::none, R::other, 6, false},
      {"modulus_slope_error", "s_E", "modulus fit, slope error", D::strain, R::other, 2, false},
      {"stress_rate", "Ṙ", "stress rate, elastic", D::stress_rate, R::other, 3, false},
      {"strain_rate", "ė_y", "strain rate around yield", D::strain_rate, R::other, 2, false},
      {"strain_rate_rm", "ė_m", "strain rate before R_m", D::strain_rate, R::other, 2, false},
      {"ductility", "look", "what the numbers suggest", D::none, R::other, 0, false},
  };
  return specs;
}

FieldSpec after_readings(const char* name, const char* label, const char* symbol, const char* hint, const char* shape) {
  FieldSpec f;
  f.path = std::string("specimen.after.") + name;
  f.label = label;
  f.kind = FieldKind::readings;
  f.dimension = D::length;
  f.stage = Stage::after;
  f.wanted = 2;
  f.symbol = symbol;
  f.hint = hint;
  f.when_path = "specimen.section.shape";
  f.when_value = shape;
  return f;
}

}  // namespace

std::optional<ResultSpec> result_spec(const std::string& key) {
  for (const ResultSpec& s : table())
    if (s.key == key) return s;
  if (const auto offset = offset_of_key(key)) {
    const std::string percent = significant(*offset * 100, 4);
    std::string plain = percent;
    if (plain.find('.') != std::string::npos) {
      while (plain.back() == '0') plain.pop_back();
      if (plain.back() == '.') plain.pop_back();
    }
    return ResultSpec{key, "R_p" + plain, "proof strength, " + plain + " % offset", D::stress, R::strength, 4, true};
  }
  return std::nullopt;
}

std::vector<ResultSpec> results(const TestRecord& record) {
  std::vector<ResultSpec> out;
  for (const ResultSpec& s : table()) {
    out.push_back(s);
    if (s.key == "rel")  // proof strengths stand after the yield strengths
      for (double offset : inputs_of(record, {}).offsets) out.push_back(*result_spec(offset_key(offset)));
  }
  return out;
}

std::vector<School> schools() {
  return {
      {"settings.modulus.school",
       "Modulus by",
       {{"auto", "best line"},
        {"line", "line between"},
        {"chord", "chord"},
        {"secant", "secant"},
        {"tangent", "tangent"}}},
      {"settings.strain_source",
       "Strain from",
       {{"auto", "most trusted"},
        {"gauge", "strain channel"},
        {"extensometer", "extensometer"},
        {"crosshead-corrected", "crosshead, corrected"},
        {"crosshead", "crosshead"}}},
      {"settings.hardening.range", "n between", {{"2-ag", "2 % and Ag"}, {"10-20", "10 % and 20 %"}}},
      {"settings.rounding", "Rounding", {{"iso", "ISO 6892-1"}, {"astm", "ASTM E29"}, {"significant", "4 figures"}}},
  };
}

std::vector<FieldSpec> fields() {
  std::vector<FieldSpec> all = fortitor::fields::common();
  for (FieldSpec& f : section_fields({"round", "flat", "tube", "by-mass"}, Stage::measure)) all.push_back(std::move(f));
  all.push_back(
      fortitor::fields::of_series(quantity("specimen.gauge_length", "Gauge length", D::length, Stage::measure, "L₀",
                                           "Between two light punch marks; lighter still on soft metal.", true)));
  all.push_back(fortitor::fields::of_series(quantity("specimen.extensometer_length", "Extensometer length", D::length,
                                                     Stage::measure, "Lₑ", "Between the blades.")));
  all.push_back(quantity("specimen.parallel_length", "Parallel length", D::length, Stage::measure, "L_c",
                         "Between the fillets.", true));
  all.push_back(quantity("specimen.after.gauge_length", "Final gauge length", D::length, Stage::after, "L_u",
                         "Halves fitted together, mark to mark.", true));
  all.push_back(
      after_readings("diameter", "Smallest diameter", "d_u", "In the neck, two readings at right angles.", "round"));
  all.push_back(after_readings("width", "Final width", "w_u", "At the narrowest place.", "flat"));
  all.push_back(after_readings("thickness", "Final thickness", "t_u", "At the thinnest place.", "flat"));
  all.push_back(quantity("specimen.after.break_to_mark", "Break to nearest mark", D::length, Stage::after, "x",
                         "From the break to the nearer gauge mark.", true));
  all.back().may_be_zero = true;
  all.push_back(choice("specimen.after.fracture", "Fracture", Stage::after,
                       {{"cup-and-cone", "cup and cone"},
                        {"partial-cup", "partial cup"},
                        {"flat", "flat"},
                        {"shear", "shear at 45°"},
                        {"star", "star"},
                        {"other", "other"}}));
  for (const auto& [name, label, hint] :
       {std::tuple{"count", "Divisions of L₀", "Equal parts marked before the test."},
        std::tuple{"between", "Divisions X to Y",
                   "Parts between the end mark X and the mark Y as far from the break."}}) {
    FieldSpec f = quantity(std::string("specimen.after.divisions.") + name, label, D::none, Stage::after, "", hint);
    f.kind = FieldKind::number;
    f.when_path = "settings.elongation.method";
    f.when_value = "ratio";
    all.push_back(f);
  }
  for (const auto& [name, label] :
       {std::pair{"xy", "X to Y"}, std::pair{"yz", "Y to Z"}, std::pair{"yz2", "Y to Z″"}}) {
    FieldSpec f = quantity(std::string("specimen.after.divisions.") + name, label, D::length, Stage::after, "",
                           "After fracture; Z″ only when the parts left over are odd.");
    f.when_path = "settings.elongation.method";
    f.when_value = "ratio";
    all.push_back(f);
  }

  auto setting = [&](FieldSpec f) { all.push_back(std::move(f)); };
  // Each belongs to the ways of the modulus that use it.
  const auto of_modulus = [&](const char* name, const char* label, D d, const char* ways, const char* usual) {
    setting(under(usually(quantity(std::string("settings.modulus.") + name, label, d, Stage::evaluate), usual),
                  "settings.modulus.school", ways));
  };
  of_modulus("from", "Modulus from", D::stress, "line|chord", "0.1 of the yield strength");
  of_modulus("to", "Modulus to", D::stress, "line|chord", "0.4 of the yield strength");
  of_modulus("at", "Modulus at", D::stress, "secant|tangent", "0.4 of the yield strength");
  of_modulus("from_strain", "Modulus from strain", D::strain, "line", "by the stresses");
  of_modulus("to_strain", "Modulus to strain", D::strain, "line", "by the stresses");
  FieldSpec offset =
      quantity("settings.offset", "Offsets", D::elongation, Stage::evaluate, "", "Proof strengths asked for.");
  offset.kind = FieldKind::texts;
  offset.usual = "0.2 %";
  offset.common = true;
  setting(offset);
  setting(fortitor::fields::zero_choice());
  setting(choice("settings.elongation.method", "Elongation by", Stage::evaluate,
                 {{"marks", "end marks"}, {"ratio", "ratio method"}}, true));
  setting(usually(quantity("settings.elongation.convert_to", "Convert A to", D::length, Stage::evaluate, "", ""),
                  "not converted"));
  setting(choice("settings.rate_plan", "Rate plan", Stage::set_up,
                 {{"A2", "ISO 6892-1, method A"},
                  {"B", "ISO 6892-1, method B"},
                  {"E8-A", "ASTM E8, control A"},
                  {"E8-B", "ASTM E8, control B"},
                  {"E8-C", "ASTM E8, control C"}}));
  fortitor::fields::add_drive(all, true);
  for (FieldSpec& f : all)
    if (f.path == "settings.speed.elastic") {
      f.label = "Speed to yield";
      f.symbol = "v₁";
      f.hint = "Crosshead, up to yield.";
    }
  setting(quantity("settings.speed.plastic", "Speed after yield", D::speed, Stage::set_up, "v₂",
                   "Crosshead, after yield.", true));
  setting(quantity("settings.removal_strain", "Take extensometer off at", D::elongation, Stage::set_up, "",
                   "Strain at which it comes off, before the neck can throw it."));
  return all;
}

}  // namespace fortitor::tension
