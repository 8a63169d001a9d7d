#include "core/methods/tension_plastic/tension_plastic.h"

#include <algorithm>
#include <cmath>

#include "core/methods/support/fields.h"
#include "core/methods/support/pulled.h"
#include "core/methods/tension_plastic/describe.h"
#include "core/reference/library.h"

namespace fortitor::plastic {
namespace {

using D = Dimension;
using R = RoundingClass;
using ledger::get;
using ledger::put;
using ledger::raise;
using ledger::si;

constexpr size_t kBudgetSamples = 3000;
constexpr double kFrom = 0.0005, kTo = 0.0025;  // ISO 527-1, modulus

// First stress maximum after which stress falls while strain goes on: the first zero slope. The fall must
// pass the noise, 0.3 % at least; a plateau that ends in the break is none.
std::optional<size_t> first_zero_slope(const Pulled& p) {
  const auto& y = p.curve.stress;
  const double noise = noise_of(y, p.curve.zero.quiet, p.end);
  const double fall = std::max(0.003 * y[p.peak], 4 * noise);
  size_t top = 0;
  for (size_t i = 0; i < p.end; ++i) {
    if (y[i] > y[top]) top = i;
    if (y[top] > 0.05 * y[p.peak] && y[top] - y[i] > fall && p.curve.strain[i] > p.curve.strain[top]) return top;
  }
  return std::nullopt;
}

struct Found {
  std::optional<size_t> yield;
  std::optional<ModulusFit> modulus;
};

Found landmarks(const TestRecord& r, const Pulled& p) {
  Found f;
  if (p.empty() || p.curve.source == tension::StrainSource::none) return f;
  f.yield = first_zero_slope(p);
  f.modulus = modulus_between(p, r.fields.number("settings.modulus.from_strain").value_or(kFrom),
                              r.fields.number("settings.modulus.to_strain").value_or(kTo),
                              r.fields.text("settings.modulus.school") != "line");
  return f;
}

// Seating that bends the foot shifts the origin; the small offset of a curve that was bent from the start
// does not.
double origin_of(const Found& f) {
  return f.modulus && f.modulus->toe > 0.0005 ? f.modulus->toe : 0;
}

bool nominal(const Pulled& p) {
  return p.curve.source == tension::StrainSource::crosshead ||
         p.curve.source == tension::StrainSource::crosshead_corrected || p.curve.removed_index < p.end;
}

Values compute(const TestRecord& r, const Pulled& p, double area) {
  Values v;
  if (area > 0) put(v, "area", area);
  if (p.empty()) return v;
  const Found f = landmarks(r, p);
  const double origin = origin_of(f);
  put(v, "sigma_m", p.curve.stress[p.peak]);
  put(v, "fm", p.curve.stress[p.peak] * area);
  const bool strained = p.curve.source != tension::StrainSource::none;
  if (strained) put(v, "eps_m", p.curve.strain[p.peak] - origin);
  if (f.yield) {
    put(v, "sigma_y", p.curve.stress[*f.yield]);
    put(v, "eps_y", p.curve.strain[*f.yield] - origin);
  }
  if (p.fracture) {
    const size_t last = p.fracture->last_loaded;
    put(v, "sigma_b", p.curve.stress[last]);
    if (strained) put(v, nominal(p) ? "eps_tb" : "eps_b", p.curve.strain[last] - origin);
  }
  if (f.modulus) {
    put(v, "e_modulus", f.modulus->slope);
    put(v, "modulus_r2", f.modulus->r2);
    put(v, "toe_shift", f.modulus->toe);
  }
  if (const auto x = r.fields.number("settings.at_strain"); x && strained) put(v, "sigma_x", p.stress_at(*x + origin));
  return v;
}

const std::vector<ResultSpec>& specs() {
  static const std::vector<ResultSpec> table = {
      {"e_modulus", "E_t", "tensile modulus", D::modulus, R::other, 3, true},
      {"sigma_y", "σ_y", "yield stress", D::stress, R::other, 3, true},
      {"eps_y", "ε_y", "yield strain", D::elongation, R::other, 2, true},
      {"sigma_m", "σ_m", "tensile strength", D::stress, R::other, 3, true},
      {"eps_m", "ε_m", "strain at tensile strength", D::elongation, R::other, 2, true},
      {"sigma_b", "σ_b", "stress at break", D::stress, R::other, 3, true},
      {"eps_b", "ε_b", "strain at break", D::elongation, R::other, 2, true},
      {"eps_tb", "ε_tb", "nominal strain at break", D::elongation, R::other, 2, true},
      {"sigma_x", "σ_x", "stress at the strain asked", D::stress, R::other, 3, true},
      {"fm", "F_m", "maximum force", D::force, R::other, 4, false},
      {"area", "A", "cross-section area", D::area, R::other, 4, false},
      {"toe_shift", "ε_0", "toe shift", D::strain, R::other, 2, false},
      {"modulus_r2", "R²", "straightness of the modulus part, R²", D::none, R::other, 6, false},
      {"build", "build", "how it was printed", D::none, R::other, 0, false},
  };
  return table;
}

std::vector<Step> how(const std::string& key, const TestRecord& r, const Pulled& p, const Section& section,
                      const Values& v) {
  std::vector<Step> steps;
  auto add = [&](std::string expression, std::string with, double value, D d, std::string source = {}) {
    steps.push_back({std::move(expression), std::move(with), value, d, std::move(source)});
  };
  const std::string source = "strain from " + p.curve.source_text;
  auto stress = [&](const char* name, const std::string& where) {
    steps = section.how;
    add(std::string(name) + " = F/A", si(get(v, key) * section.area, D::force) + " / " + si(section.area, D::area),
        get(v, key), D::stress, where);
  };
  if (key == "area") steps = section.how;
  if (key == "fm") add("F_m", "largest force", get(v, key), D::force);
  if (key == "sigma_m") stress("σ_m", "largest force of the run");
  if (key == "sigma_y") stress("σ_y", "first zero slope: force falls while the strain goes on");
  if (key == "sigma_b") stress("σ_b", "last sample before the break");
  if (key == "sigma_x")
    stress("σ_x", "at " + si(r.fields.number("settings.at_strain").value_or(0), D::elongation) + " strain");
  if (key.compare(0, 3, "eps") == 0)
    add("ε = ΔL/L₀",
        key == "eps_tb" ? "grip separation " + si(length_of(r), D::length) + ", nominal" : "at that sample",
        get(v, key), D::elongation, source);
  if (key == "e_modulus") {
    const double from = r.fields.number("settings.modulus.from_strain").value_or(kFrom),
                 to = r.fields.number("settings.modulus.to_strain").value_or(kTo);
    const bool line = r.fields.text("settings.modulus.school") == "line";
    add(line ? "E = Σ(ε−ε̄)(σ−σ̄)/Σ(ε−ε̄)²" : "E = (σ₂ − σ₁)/(ε₂ − ε₁)",
        line ? "samples between " + si(from, D::strain, 3) + " and " + si(to, D::strain, 3)
             : "(" + si(p.stress_at(to), D::stress) + " − " + si(p.stress_at(from), D::stress) + ")/(" +
                   si(to, D::strain, 3) + " − " + si(from, D::strain, 3) + ")",
        get(v, key), D::modulus, "ISO 527-1; " + source);
  }
  if (key == "toe_shift")
    add("ε₀ = ε₁ − σ₁/E", "where the modulus line meets the strain axis", get(v, key), D::strain,
        get(v, key) > 0.0005 ? "taken off the strains" : "too small to be seating, not taken off");
  if (key == "modulus_r2") add("R² = 1 − SS_res/SS_tot", "samples of the modulus part", get(v, key), D::none);
  return steps;
}

void add_findings(Evaluation& e, const TestRecord& r, const Pulled& p, const Section& section, const Values& v) {
  dimension_findings(section.dims, 0.01, 3, e.findings);
  pulled_findings(e, r, p, "sigma_m", "tension");
  if (p.empty()) return;
  if (!p.fracture) censored_note(e, r, "sigma_m");
  const bool clip = p.curve.source == tension::StrainSource::extensometer;
  double largest = 0;
  const size_t on = std::min(p.end, p.curve.removed_index);  // as long as it was on
  for (size_t i = 0; i < on; ++i)
    largest = std::max(largest, std::isfinite(p.curve.strain[i]) ? p.curve.strain[i] : 0.0);
  const double expected = r.fields.number("settings.expected_elongation").value_or(0);
  const bool stayed = p.curve.removed_index >= p.end;
  if (clip && (largest > 0.5 || (stayed && expected > 0.5)))
    raise(e, "extensometer-unsuited", Severity::check,
          "A clip-on extensometer was used where the strain goes " +
              std::string(largest > 0.5 ? "to " + ledger::percent(largest, 3) : "beyond 50 %") +
              "; its blades slip or cut beyond about 50 %. Use nominal strain from the grip separation.",
          {{"strain", std::max(largest, expected)}}, {}, "eps_b");
  const auto m = find_reference(r.fields.text("specimen.material"));
  if (m && m->values.count("e_modulus") && v.count("e_modulus") && p.curve.source != tension::StrainSource::crosshead) {
    const ReferenceValue& usual = m->values.at("e_modulus");
    const double modulus = get(v, "e_modulus");
    if (modulus < 0.8 * usual.low || modulus > 1.2 * usual.high)
      raise(e, "modulus-unlikely", Severity::check,
            "E is " + si(modulus, D::modulus, 3) + "; " + m->name + " usually lies between " +
                si(usual.low, D::modulus, 3) + " and " + si(usual.high, D::modulus, 3) + ".",
            {{"e_modulus", modulus}}, {}, "e_modulus");
  }
  if (!v.count("e_modulus") && p.curve.source != tension::StrainSource::none)
    raise(e, "modulus-missing", Severity::note,
          "The curve does not hold the strains between which the modulus is taken.", {}, {}, "e_modulus");
  if (std::abs(get(v, "toe_shift")) > 0.0005 && v.count("toe_shift") && get(v, "toe_shift") > 0)
    raise(e, "toe-large", Severity::check,
          "The foot of the curve is bent: the modulus line meets the strain axis at " +
              ledger::percent(get(v, "toe_shift")) + ". The strains are counted from there.",
          {{"toe_shift", get(v, "toe_shift")}}, {}, "toe_shift");
  for (const char* path : {"conditions.temperature", "conditions.humidity", "conditions.hours"})
    if (!r.fields.number(path)) {
      raise(
          e, "conditions-missing", Severity::note,
          "Temperature, humidity and hours of conditioning belong to every result of a plastic; not all are entered.");
      break;
    }
}

UncertaintyModel uncertainty_model(const TestRecord& r, const Pulled& full) {
  UncertaintyModel m;
  const Section section = section_of(r.fields);
  pulled_inputs(r, full, section, m.inputs);
  auto small = std::make_shared<Pulled>(thinned(full, kBudgetSamples));
  const Found f = landmarks(r, *small);
  if (f.modulus && f.modulus->error > 0)
    m.inputs.push_back(
        {"modulus", "fit of the modulus", f.modulus->error / f.modulus->slope, UncertainInput::Shape::normal});
  m.values = [small, r](const Shifts& shifts) {
    const double area = section_of(r.fields, shifts).area, plain = section_of(r.fields).area;
    const double stress = (1 + ledger::shift(shifts, "force")) * (area > 0 ? plain / area : 1);
    Values v = compute(r, scaled(*small, stress, 1 + ledger::shift(shifts, "extension")), area);
    if (v.count("e_modulus")) v["e_modulus"] *= 1 + ledger::shift(shifts, "modulus");
    v.erase("modulus_r2");  // a measure of the fit, not of the piece
    return v;
  };
  return m;
}

Evaluation evaluate(const TestRecord& r, const EvaluateOptions& options) {
  Evaluation e;
  const Section section = section_of(r.fields);
  const Pulled p = pulled_of(r, length_of(r));
  const Values v = compute(r, p, section.area);
  ledger::add_results(e, specs(), v, [&](const std::string& key) { return how(key, r, p, section, v); });
  for (ResultValue& x : e.results)
    if (x.spec.key.compare(0, 3, "eps") == 0 || x.spec.key == "e_modulus") x.source = p.curve.source_text;
  std::string build;
  for (const auto& [path, word] : {std::pair{"specimen.print.direction", "direction "},
                                   {"specimen.print.layer", "layer "},
                                   {"specimen.print.infill", "infill "}}) {
    const FieldValue* x = r.fields.find(path);
    if (x == nullptr) continue;
    const std::string text =
        std::holds_alternative<std::string>(*x) ? std::get<std::string>(*x) : std::get<Reading>(*x).typed;
    build += (build.empty() ? "" : ", ") + std::string(word) + text;
  }
  ledger::add_text(e, specs(), "build", build, {{"entered at Prepare", build, 0, D::none, "groups the series"}});
  if (!p.fracture)
    for (const char* key : {"sigma_m", "fm"})
      if (ResultValue* x = e.find(key); x != nullptr && !e.find("sigma_y")) x->censored = Censoring{true, 0, 0};
  if (options.uncertainty && (!p.empty() || section.area > 0)) attach_budgets(e, uncertainty_model(r, p));
  add_findings(e, r, p, section, v);
  if (!p.empty()) {
    const Found f = landmarks(r, p);
    const double origin = origin_of(f);
    auto data = pulled_curve(p, origin, f.modulus ? 4 * f.modulus->to : 0);
    using Kind = Construction::Kind;
    if (f.modulus) {
      const ModulusFit& m = *f.modulus;
      const double top = 2.4 * m.to;
      const double lo = m.slope * (m.from - m.toe), hi = m.slope * (m.to - m.toe);
      data->lens_caption = "modulus between " + si(m.from, D::strain, 3) + " and " + si(m.to, D::strain, 3) + " · R² " +
                           fixed(std::floor(m.r2 * 1e5) / 1e5, 5);
      e.constructions.push_back(
          {Kind::window, "e_modulus", "modulus part", {{m.from - origin, lo}, {m.to - origin, hi}}, {}});
      e.constructions.push_back(
          {Kind::line, "e_modulus", "E", {{m.toe - origin, 0}, {top - origin, m.slope * (top - m.toe)}}, {}});
    }
    auto point = [&](const char* key, const char* strain, const char* label, bool always) {
      if (v.count(key) && v.count(strain))
        e.constructions.push_back({Kind::point, key, label, {{get(v, strain), get(v, key)}}, {}, always});
    };
    point("sigma_y", "eps_y", "σy", true);
    if (!v.count("sigma_y")) point("sigma_m", "eps_m", "σm", true);
    if (p.fracture && p.curve.source != tension::StrainSource::none)
      e.constructions.push_back({Kind::marker,
                                 "sigma_b",
                                 "break",
                                 {{data->x[p.fracture->last_loaded], data->y[p.fracture->last_loaded]}},
                                 {}});
    e.curve = data;
  }
  return e;
}

}  // namespace
}  // namespace fortitor::plastic

namespace fortitor::methods {

const Method& tension_plastic() {
  static const Method method = [] {
    Method m;
    m.id = "tension-plastic";
    m.name = "Tension of plastics";
    m.short_name = "Tension";
    m.standard = "ISO 527-1, ISO 527-2, ASTM D638";
    m.result = [](const std::string& key) { return ledger::find_spec(plastic::specs(), key); };
    m.evaluate = plastic::evaluate;
    m.uncertainty = [](const TestRecord& r) {
      return plastic::uncertainty_model(r, pulled_of(r, plastic::length_of(r)));
    };
    plastic::describe(m);
    fields::add_derived(m);
    return m;
  }();
  return method;
}

}  // namespace fortitor::methods
