#include "core/methods/support/possible.h"

#include <algorithm>
#include <cmath>

#include "core/methods/support/ledger.h"

namespace fortitor::possible {
namespace {

constexpr double kInf = HUGE_VAL;
constexpr double kAbsoluteZero = -273.15;  // °C
constexpr double kHottest = 4000;          // °C: tantalum hafnium carbide melts there
constexpr const char* kCode = "cannot-be";

bool outside(double v, const Bound& b) {
  return std::isfinite(v) && (v < b.low || v > b.high);
}

bool holds_for(const Bound& b, const std::string& method, const std::string& family) {
  return (*b.method == 0 || method == b.method) && (*b.family == 0 || family.find(b.family) != std::string::npos);
}

std::string sentence(const std::string& name, double value, Dimension d, const char* why) {
  return name + " is " + ledger::si(value, d, 4) + ": " + why;
}

// Every number of a field or a cell.
std::vector<double> numbers_of(const FieldValue& value) {
  std::vector<double> out;
  if (const auto* one = std::get_if<Reading>(&value); one != nullptr && one->value) out.push_back(*one->value);
  if (const auto* number = std::get_if<double>(&value)) out.push_back(*number);
  if (const auto* list = std::get_if<Readings>(&value))
    for (const Reading& r : *list)
      if (r.value) out.push_back(*r.value);
  return out;
}

void judge_entries(Evaluation& e, const Fields& fields, const std::vector<FieldSpec>& specs, const std::string& prefix,
                   const std::string& where, const std::vector<const Bound*>& all) {
  for (const FieldSpec& f : specs) {
    const FieldValue* value = fields.find(f.path);
    if (value == nullptr) continue;
    for (double v : numbers_of(*value)) {
      if (base_dimension(f.dimension) == Dimension::temperature && (v < kAbsoluteZero || v > kHottest))
        cannot_be(e, sentence(f.label + where, v, f.dimension, "nothing is as cold or as hot as that."), {});
      for (const Bound* b : all)
        if (prefix + f.path == b->what && outside(v, *b))
          cannot_be(e, sentence(f.label + where, v, f.dimension, b->why), {});
    }
  }
}

}  // namespace

const std::vector<Bound>& bounds() {
  // MPa, mm, N, J, s, kg, kg/m³, °C, rad; strain as a ratio. Extremes of solid matter: osmium 560 GPa, diamond 1200
  // GPa, lithium 5 GPa; drawn steel wire 7 GPa strong; balsa 40, osmium 22,600 kg/m³ (handbooks of physics).
  static const char* const metal = "no metal is so soft or so stiff: look at the units of force, strain and sizes.";
  static const char* const laminate =
      "no laminate is so soft or so stiff: look at the units of force, strain and sizes.";
  static const char* const polymer = "no plastic is so soft or so stiff: look at the units of force, strain and sizes.";
  static const char* const wood = "no wood is: look at the units of force, travel and sizes.";
  static const char* const strength =
      "nothing that is tested so is so weak or so strong: look at the units of force and sizes.";
  static const char* const print =
      "nothing that a pyramid or ball marks is so soft or so hard: look at the force and the unit of the prints.";
  static const std::vector<Bound> table = {
      {"tension-metal", "", "e_modulus", 1e3, 600e3, metal},
      {"tension-metal", "", "rm", 1, 8000, strength},
      {"tension-plastic", "", "e_modulus", 5, 80e3, polymer},
      {"tension-plastic", "", "sigma_m", 0.3, 1500, strength},
      {"tension-composite", "", "e_chord", 1e3, 600e3, laminate},
      {"tension-composite", "", "sigma_m", 3, 8000, strength},
      {"tension-composite", "", "eps_m", 0, 0.5, "no laminate stretches so far: look at the unit of strain."},
      {"compression-solid", "", "e_modulus", 0.5, 1.2e6,
       "nothing solid is so soft or so stiff: look at the units of force, travel and sizes."},
      {"compression-solid", "", "strength", 0.02, 10000, strength},
      {"flatwise-tension", "", "strength", 0.01, 200, strength},
      {"flexure-beam", "", "moe", 5, 600e3,
       "nothing that is bent so is so soft or so stiff: look at the units of force, deflection and sizes."},
      {"flexure-beam", "wood", "moe", 300, 60e3, wood},
      {"flexure-beam", "", "mor", 0.1, 8000, strength},
      {"flexure-beam", "wood", "mor", 3, 500, wood},
      {"poisson-gauge", "", "e_modulus", 300, 1.2e6,
       "nothing that carries a gauge is so soft or so stiff: look at the units of force, strain and sizes."},
      {"torsion-bar", "", "g_modulus", 200, 300e3,
       "no bar is so soft or so stiff: look at the units of torque, strain and sizes."},
      {"torsion-bar", "", "g_twist", 200, 300e3,
       "no bar is so soft or so stiff: look at the units of torque, angle and sizes."},
      {"torsion-bar", "", "tau_rupture", 0.5, 6000, strength},
      {"density", "", "density", 1, 23000, "nothing solid is: look at the units of mass and sizes."},
      {"density", "wood", "density", 30, 1600, "no wood is: look at the units of mass and sizes."},
      {"density", "", "specimen.water_temperature", 0, 40,
       "the formula of the density of water holds from 0 to 40 °C (Tanaka et al. 2001)."},
      {"hardness-vickers", "", "hv", 1, 6000, print},
      {"hardness-vickers", "", "hv_surface", 1, 6000, print},
      {"hardness-vickers", "", "hv_core", 1, 6000, print},
      {"hardness-vickers", "", "case_depth", 0, 30, "no case reaches so deep: look at the unit of the places."},
      {"hardness-knoop", "", "hk", 1, 7000, print},
      {"hardness-brinell", "", "hb", 1, 1000, print},
      {"hardness-rockwell", "", "hr", -50, 130.5, "no scale reads that: look at the unit of the depths."},
      {"", "", "specimen.curvature.factor", 0.7, 1.4,
       "no curved surface changes a print so much (ISO 6507-1, annex B)."},
      {"impact-pendulum", "", "run.pendulum.length", 50, 5000, "no pendulum is so short or so long."},
      {"impact-tension", "", "run.pendulum.length", 50, 5000, "no pendulum is so short or so long."},
      {"", "", "equipment.pendulum.length", 50, 5000, "no pendulum is so short or so long."},
      {"", "", "run.pendulum.mass", 0.05, 500, "no hammer is so light or so heavy."},
      {"", "", "equipment.pendulum.mass", 0.05, 500, "no hammer is so light or so heavy."},
      {"", "", "blows.shear", 0, 1, "a share lies between nothing and the whole."},
      {"", "", "blows.lateral_expansion", 0, 5, "no piece of this size spreads so far: look at the unit."},
      {"", "", "blows.bend_angle", 0, M_PI + 1e-9, "joined halves make no more than a straight line."},
      {"compression-after-impact", "", "cai_strength", 5, 3000, strength},
      {"compression-after-impact", "", "cai_modulus", 1e3, 600e3, laminate},
      {"compression-after-impact", "", "eps_m", 0, 0.1, "no laminate shortens so far: look at the unit of strain."},
      {"drop-impact", "", "v_impact", 0, 60e3,
       "nothing falls so fast in a tower: look at the units of height and time."},
      {"drop-impact", "", "defl_peak", 0, 200,
       "a plate does not give way so far: look at the units of force, mass and time."},
      {"drop-impact", "", "settings.drop_height", 1, 30e3, "no tower is so low or so high."},
  };
  return table;
}

void cannot_be(Evaluation& e, const std::string& words, const std::string& result_key) {
  for (Finding& f : e.findings)
    if (f.code == kCode) {
      if (f.message.find(words) == std::string::npos) f.message += " " + words;
      if (f.result_key.empty()) f.result_key = result_key;
      return;
    }
  ledger::raise(e, kCode, Severity::check, words, {}, {}, result_key);
}

void judge(Evaluation& e, const TestRecord& record, const Method& method) {
  const std::string family = record.fields.text("specimen.family");
  std::vector<const Bound*> all;
  for (const Bound& b : bounds())
    if (holds_for(b, method.id, family)) all.push_back(&b);
  for (const ResultValue& r : e.results) {
    if (r.is_text()) continue;
    for (const Bound* b : all)
      if (r.spec.key == b->what && outside(r.value, *b)) {
        cannot_be(e, sentence("The " + r.spec.name, r.value, r.spec.dimension, b->why), r.spec.key);
        break;
      }
  }
  judge_entries(e, record.fields, method.fields, "", "", all);
  for (const TableSpec& t : method.tables) {
    const Rows& rows = record.run.rows(t.id);
    for (size_t i = 0; i < rows.size(); ++i)
      if (rows[i].used())
        judge_entries(e, rows[i].cells, t.columns, t.id + ".", " in row " + std::to_string(i + 1), all);
  }
}

}  // namespace fortitor::possible
