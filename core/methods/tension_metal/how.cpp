#include <cmath>

#include "core/methods/support/ledger.h"
#include "core/methods/tension_metal/model.h"

namespace fortitor::tension {

using ledger::si;

std::vector<Step> how(const std::string& key, const TestRecord& record, const Test& test, const Values& values) {
  const StressCurve& curve = test.curve;
  const Landmarks& marks = test.marks;
  const Inputs& in = test.in;
  const Section& section = test.section;
  using D = Dimension;
  std::vector<Step> steps;
  auto has = [&](const char* k) { return values.count(k) != 0; };
  auto v = [&](const std::string& k) {
    const auto it = values.find(k);
    return it == values.end() ? NAN : it->second;
  };
  const ledger::AddStep add{steps};
  auto area = [&] { steps.insert(steps.end(), section.how.begin(), section.how.end()); };
  const double stress_zero = curve.zero.off ? curve.zero.value : 0.0;
  auto stress = [&](const char* name, double value, const std::string& source) {
    const double f = value * in.area;
    if (stress_zero != 0)
      add("F = F_read − F_zero", si(f + stress_zero, D::force) + " − " + si(stress_zero, D::force), f, D::force,
          "zero: mean of " + std::to_string(curve.zero.quiet) + " samples before motion");
    area();
    add(std::string(name) + " = F/S₀", si(f, D::force) + " / " + si(in.area, D::area), value, D::stress, source);
  };
  auto origin = [&] {
    add("ε₀ = ε₁ − R₁/E", "where the modulus line meets the strain axis", v(key::toe_shift), D::strain,
        "corrected origin");
  };
  const std::string strain_source = "strain from " + curve.source_text;

  if (key == key::area) {
    area();
  } else if (key == key::proportional_length) {
    add("L₀ = 5.65·√S₀", "5.65·√(" + si(in.area, D::area) + ")", v(key), D::length,
        "ISO 6892-1, proportional test pieces");
  } else if (key == key::e_modulus && marks.elastic) {
    area();
    const ElasticWindow& w = *marks.elastic;
    if (marks.school == "chord" || marks.school == "secant") {
      const Point a = marks.modulus_points.front(), b = marks.modulus_points.back();
      add("E = (R₂ − R₁)/(ε₂ − ε₁)",
          "(" + si(b.y, D::stress) + " − " + si(a.y, D::stress) + ")/(" + si(b.x, D::strain) + " − " +
              si(a.x, D::strain) + ")",
          v(key), D::modulus, marks.school + "; " + strain_source);
    } else {
      add("E = Σ(ε−ε̄)(R−R̄)/Σ(ε−ε̄)²",
          std::to_string(w.line.n) + " samples from " + si(curve.stress[w.first], D::stress, 4) + " to " +
              si(curve.stress[w.last - 1], D::stress, 4) + ", R² " + fixed(w.line.r2, 6),
          v(key), D::modulus,
          (marks.school == "auto"
               ? "widest straight window between 5 % and 60 % of " + si(marks.yield_stress, D::stress, 4)
               : "least squares, " + marks.school) +
              "; " + strain_source);
    }
  } else if (const auto offset = offset_of_key(key)) {
    add("E", "modulus line", v(key::e_modulus), D::modulus);
    origin();
    add("R = E·(ε − ε₀ − " + plain_number(*offset * 100, 4) + " %)",
        "line parallel to E through " + si(v(key::toe_shift) + *offset, D::strain, 4), v(key), D::stress,
        "crossing with the curve; " + strain_source);
    stress(("R_p" + plain_number(*offset * 100, 4)).c_str(), v(key), "force at the crossing");
  } else if (key == key::rt05) {
    origin();
    add("R at ε₀ + 0.5 %", "ε = " + si(v(key::toe_shift) + 0.005, D::strain, 4), v(key), D::stress, strain_source);
  } else if (key == key::reh) {
    stress("R_eH", v(key), "first maximum followed by a fall of at least 0.5 %");
  } else if (key == key::rel && marks.yielding) {
    stress("R_eL", v(key),
           marks.yielding->transient_left_out ? "lowest of the plateau, the first trough left out"
                                              : "lowest of the plateau");
  } else if (key == key::ae) {
    add("A_e = Δε − ΔR/E", "start of hardening less ε at R_eH, read parallel to E", v(key), D::elongation,
        strain_source);
  } else if (key == key::fm) {
    add("F_m", curve.time.empty() ? "" : "largest force, at " + si(curve.time[marks.peak], D::time, 4), v(key),
        D::force, stress_zero != 0 ? "after taking off " + si(stress_zero, D::force) : "");
  } else if (key == key::rm) {
    stress("R_m", v(key), marks.fracture ? "largest force of the run" : "largest force before the run stopped");
  } else if (key == key::rm_top) {
    add("R_m without noise",
        "highest point of a parabola over " + std::to_string(marks.smooth->n) + " samples within 1 % of the top",
        v(key), D::stress,
        "ISO 6892-1 and E8 state the largest force: R_m; of a noisy force that is the highest of its noise");
  } else if (key == key::agt || key == key::ag) {
    origin();
    add("A_gt = ε_m − ε₀",
        "ε at F_m, middle of " + si(curve.time[marks.top.last] - curve.time[marks.top.first], D::time, 3) +
            " near the top",
        v(key::agt), D::elongation, strain_source);
    if (key == key::ag)
      add("A_g = A_gt − R_m/E",
          si(v(key::agt), D::elongation) + " − " + si(v(key::rm), D::stress) + "/" + si(v(key::e_modulus), D::modulus),
          v(key), D::elongation);
  } else if (key == key::at || key == key::a_ext) {
    origin();
    add("A_t = ε_b − ε₀", "last sample before the force falls", v(key::at), D::elongation, strain_source);
    if (key == key::a_ext && marks.fracture)
      add("A_ext = A_t − R_b/E",
          si(v(key::at), D::elongation) + " − " + si(curve.stress[marks.fracture->last_loaded], D::stress) + "/" +
              si(v(key::e_modulus), D::modulus),
          v(key), D::elongation);
  } else if (key == key::a) {
    if (record.fields.text("settings.elongation.method") == "ratio")
      add("A = (XY + YZ + YZ″ − L₀)/L₀", "marked divisions; with an even rest YZ counts twice", v(key), D::elongation,
          "ISO 6892-1, annex on breaks outside the middle third");
    else
      add("A = (L_u − L₀)/L₀",
          "(" + si(in.final_length, D::length) + " − " + si(in.gauge_length, D::length) + ")/" +
              si(in.gauge_length, D::length),
          v(key), D::elongation, "marks, halves fitted");
  } else if (key == key::a_equiv) {
    const double target = record.fields.number("settings.elongation.convert_to").value_or(proportional_length(in.area));
    add("A_eq = A·(L₀/L₁)ⁿ",
        si(v(key::a), D::elongation) + "·(" + si(in.gauge_length, D::length) + "/" + si(target, D::length) + ")ⁿ",
        v(key), D::elongation, "ISO 2566, same section; n = 0.4 carbon steels, 0.127 austenitic");
  } else if (key == key::z) {
    area();
    area_after(record.fields, section.shape, {}, &steps);
    add("Z = (S₀ − S_u)/S₀",
        "(" + si(in.area, D::area) + " − " + si(in.final_area, D::area) + ")/" + si(in.area, D::area), v(key),
        D::elongation);
  } else if (key == key::n_value || key == key::k_strength) {
    const HardeningRange range = hardening_range(record, values, curve, marks);
    add("ln σ = ln K + n·ln ε_p",
        "σ = R(1+e), ε_p = ln(1+e) − σ/E, from " + si(range.from, D::elongation, 3) + " to " +
            si(range.to, D::elongation, 3),
        v(key), key == key::n_value ? D::none : D::stress, "least squares, " + range.why);
  } else if (key == key::r_value) {
    add("r = m/(1 − m), ε_w = −m·ε_l", "true strains, least squares over the range of n", v(key), D::none, "ISO 10113");
  } else if (key == key::resilience) {
    add("U_r = ∫R dε to yield", "triangle under the modulus line, then the trapezoidal rule", v(key), D::energy_density,
        strain_source);
  } else if (key == key::toughness) {
    add("U_t = ∫R dε to the break", "triangle under the modulus line, then the trapezoidal rule", v(key),
        D::energy_density, strain_source);
  } else if (key == key::yield_ratio) {
    const char* yield = has(key::reh) ? key::reh : key::rp02;
    add(has(key::reh) ? "R_eH/R_m" : "R_p0.2/R_m", si(v(yield), D::stress) + " / " + si(v(key::rm), D::stress), v(key),
        D::none);
  } else if (key == key::toe_shift) {
    origin();
  } else if (key == key::stress_rate) {
    add("Ṙ = dR/dt", "least squares over the modulus window", v(key), D::stress_rate);
  } else if (key == key::strain_rate || key == key::strain_rate_rm) {
    add("ė = dε/dt",
        key == key::strain_rate ? "least squares around yield" : "least squares over the last fifth before R_m", v(key),
        D::strain_rate, strain_source);
  } else if (key == key::modulus_from || key == key::modulus_to) {
    add(key == key::modulus_from ? "lower end" : "upper end", "of the modulus window", v(key), D::stress);
  } else if (key == key::modulus_r2) {
    add("R² = 1 − SS_res/SS_tot", "of the modulus line", v(key), D::none);
  } else if (key == key::modulus_slope_error) {
    add("s_E/E", "standard error of the slope over the slope", v(key), D::strain);
  }
  return steps;
}

}  // namespace fortitor::tension
