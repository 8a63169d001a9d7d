#include "core/methods/compression_solid/compression_solid.h"

#include <algorithm>
#include <cmath>

#include "core/methods/compression_solid/describe.h"
#include "core/methods/support/fields.h"
#include "core/methods/support/pulled.h"

namespace fortitor::compression {
namespace {

using D = Dimension;
using R = RoundingClass;
using ledger::get;
using ledger::put;
using ledger::raise;
using ledger::si;

constexpr size_t kBudgetSamples = 3000;

struct Squeezed {
  Pulled pulled;
  std::optional<ElasticWindow> elastic;
  double toe = 0;
  std::vector<double> offsets;
};

Squeezed squeezed_of(const TestRecord& r) {
  Squeezed s;
  s.pulled = pulled_of(r, height_of(r));
  start_at_touch(s.pulled);
  s.offsets = perpendicular(r) ? std::vector{0.01} : std::vector{0.002};
  const Pulled& p = s.pulled;
  if (p.empty() || p.curve.source == tension::StrainSource::none) return s;
  // Yield region for the window: where the curve leaves its steepest part, else the peak.
  double yield = p.curve.stress[p.peak];
  for (int i = 0; i < 6; ++i) {
    const auto w = auto_window(p.curve.strain, p.curve.stress, p.peak, yield, i == 0);
    if (!w) break;
    s.elastic = w;
    const double origin = -w->line.intercept / w->line.slope;
    const auto c = offset_crossing(p.curve.strain, p.curve.stress, w->line.slope, origin, 0.002, w->last, p.end - 1);
    if (!c || std::abs(c->stress - yield) < 1e-3 * yield) break;
    yield = c->stress;
  }
  if (s.elastic) s.toe = -s.elastic->line.intercept / s.elastic->line.slope;
  return s;
}

// A maximum that the run ends on is no maximum: soft pieces take ever more force.
bool reached_maximum(const Pulled& p) {
  return !p.empty() && (p.fracture || p.peak + 1 < p.end - std::max<size_t>(1, p.end / 50));
}

std::string offset_name(double offset) {
  return tension::offset_key(offset);
}

Values compute(const TestRecord& r, const Squeezed& s, const Shifts& shifts) {
  Values v;
  const Section section = section_of(r.fields, shifts);
  const double height = height_of(r) + ledger::shift(shifts, "specimen.height");
  if (section.area > 0) put(v, "area", section.area);
  if (height > 0 && least_width(section) > 0) put(v, "slenderness", height / least_width(section));
  const double after = r.fields.number("specimen.after.diameter").value_or(0);
  if (after > 0 && least_width(section) > 0) put(v, "barrelling", after / least_width(section));
  const Pulled& p = s.pulled;
  if (p.empty()) return v;
  const double plain = section_of(r.fields).area;
  const double stress = (1 + ledger::shift(shifts, "force")) * (section.area > 0 ? plain / section.area : 1);
  const double strain = 1 + ledger::shift(shifts, "extension");
  put(v, "fm", p.curve.force[p.peak] * (1 + ledger::shift(shifts, "force")));
  if (s.elastic) {
    put(v, "e_modulus", s.elastic->line.slope * stress / strain * (1 + ledger::shift(shifts, "modulus")));
    put(v, "toe_shift", s.toe * strain);
    put(v, "modulus_r2", s.elastic->line.r2);
    for (double offset : s.offsets)
      if (const auto c = offset_crossing(p.curve.strain, p.curve.stress,
                                         s.elastic->line.slope * (1 + ledger::shift(shifts, "modulus")), s.toe,
                                         offset / strain, s.elastic->last, p.end - 1))
        put(v, offset_name(offset), c->stress * stress);
  }
  const auto at = r.fields.number("settings.at_strain");
  const bool maximum = reached_maximum(p);
  if (at)
    put(v, "strength", p.stress_at(*at / strain + s.toe) * stress);
  else if (maximum || !perpendicular(r))
    put(v, "strength", p.curve.stress[p.peak] * stress);
  if (at) put(v, "at_strain", *at);
  if (perpendicular(r) && p.curve.source != tension::StrainSource::none)
    put(v, "sigma_25", p.stress_at(0.025 / strain + s.toe) * stress);
  return v;
}

const std::vector<ResultSpec>& specs() {
  static const std::vector<ResultSpec> table = {
      {"strength", "σ_c", "compressive strength", D::stress, R::other, 4, true},
      {"e_modulus", "E_c", "modulus in compression", D::modulus, R::other, 3, true},
      {"rp02", "R_c0.2", "compressive proof strength, 0.2 %", D::stress, R::other, 4, true},
      {"rp1", "σ_1", "stress at 1 % offset", D::stress, R::other, 3, true},
      {"sigma_25", "σ_2.5", "stress at 2.5 % strain", D::stress, R::other, 3, true},
      {"slenderness", "L/D", "slenderness", D::none, R::other, 3, true},
      {"barrelling", "D_u/D", "barrelling", D::none, R::other, 4, false},
      {"fm", "F_m", "largest force", D::force, R::other, 4, false},
      {"area", "A", "cross-section area", D::area, R::other, 4, false},
      {"at_strain", "ε_x", "strain of the stated strength", D::elongation, R::other, 3, false},
      {"toe_shift", "ε_0", "toe shift, seating of the platens", D::strain, R::other, 2, false},
      {"modulus_r2", "R²", "modulus fit, R²", D::none, R::other, 6, false},
  };
  return table;
}

std::vector<Step> how(const std::string& key, const TestRecord& r, const Squeezed& s, const Values& v) {
  std::vector<Step> steps;
  auto add = [&](std::string expression, std::string with, double value, D d, std::string source = {}) {
    steps.push_back({std::move(expression), std::move(with), value, d, std::move(source)});
  };
  const Section section = section_of(r.fields);
  const std::string source = "strain from " + s.pulled.curve.source_text;
  auto stress = [&](const std::string& where) {
    steps = section.how;
    add("σ = F/A", si(get(v, key) * section.area, D::force) + " / " + si(section.area, D::area), get(v, key), D::stress,
        where);
  };
  if (key == "area") steps = section.how;
  if (key == "strength")
    stress(v.count("at_strain") ? "at " + ledger::percent(get(v, "at_strain"), 3) + " strain; " + source
                                : "largest force of the run");
  if (key == "sigma_25") stress("at 2.5 % strain from the corrected origin; " + source);
  if (key == "rp02" || key == "rp1") {
    add("σ = E·(ε − ε₀ − " + std::string(key == "rp1" ? "1 %" : "0.2 %") + ")",
        "parallel to E = " + si(get(v, "e_modulus"), D::modulus), get(v, key), D::stress,
        "crossing with the curve; " + source);
  }
  if (key == "e_modulus" && s.elastic)
    add("E = Σ(ε−ε̄)(σ−σ̄)/Σ(ε−ε̄)²",
        std::to_string(s.elastic->line.n) + " samples, " + si(s.pulled.curve.stress[s.elastic->first], D::stress, 4) +
            " to " + si(s.pulled.curve.stress[s.elastic->last - 1], D::stress, 4),
        get(v, key), D::modulus, "widest straight window; " + source);
  if (key == "slenderness")
    add("L/D", si(height_of(r), D::length) + " / " + si(least_width(section), D::length), get(v, key), D::none,
        "least width");
  if (key == "barrelling")
    add("D_u/D",
        si(r.fields.number("specimen.after.diameter").value_or(0), D::length) + " / " +
            si(least_width(section), D::length),
        get(v, key), D::none, "largest width afterwards");
  if (key == "fm") add("F_m", "largest force", get(v, key), D::force);
  if (key == "toe_shift")
    add("ε₀ = ε₁ − σ₁/E", "where the modulus line meets the strain axis", get(v, key), D::strain,
        "seating of platens and faces");
  if (key == "modulus_r2") add("R² = 1 − SS_res/SS_tot", "of the modulus line", get(v, key), D::none);
  if (key == "at_strain") add("asked for", "", get(v, key), D::elongation);
  return steps;
}

void add_findings(Evaluation& e, const TestRecord& r, const Squeezed& s, const Values& v) {
  const Section section = section_of(r.fields);
  dimension_findings(section.dims, 0.01, 3, e.findings);
  Pulled p = s.pulled;
  p.curve.sign_flipped = false;  // either sign is usual in compression and said below
  pulled_findings(e, r, p, "strength", "compression");
  if (s.pulled.curve.sign_flipped)
    raise(e, "sign-flipped", Severity::note,
          "Force was logged negative, as compression often is; magnitudes are used.");
  if (!s.pulled.empty() && !reached_maximum(s.pulled) && !v.count("at_strain")) censored_note(e, r, "strength");
  const double slender = get(v, "slenderness");
  if (slender > 2)
    raise(
        e, "buckling-risk", Severity::check,
        "The piece is " + significant(slender, 3) + " times as high as wide; above 2 it may buckle before it crushes.",
        {{"slenderness", slender}}, {}, "strength");
  const bool crosshead = s.pulled.curve.source == tension::StrainSource::crosshead ||
                         s.pulled.curve.source == tension::StrainSource::crosshead_corrected;
  if (std::abs(get(v, "toe_shift")) > (crosshead ? 0.005 : 0.0005))
    raise(e, "toe-large", Severity::check,
          "The platens seated over " + ledger::percent(std::abs(get(v, "toe_shift"))) +
              " strain: faces not parallel, or loose fibres. Strains are counted from the corrected origin.",
          {{"toe_shift", get(v, "toe_shift")}}, {}, "toe_shift");
  if (s.elastic && s.elastic->poor)
    raise(e, "modulus-fit-poor", Severity::check,
          "No straight part meets the rule; the best has R² " + fixed(s.elastic->line.r2, 5) + ".",
          {{"r2", s.elastic->line.r2}}, {}, "e_modulus");
}

UncertaintyModel uncertainty_model(const TestRecord& r) {
  UncertaintyModel m;
  auto s = std::make_shared<Squeezed>(squeezed_of(r));
  pulled_inputs(r, s->pulled, section_of(r.fields), m.inputs);
  ledger::length_input(r, "specimen.height", "height", 0.1, m.inputs);
  if (s->elastic && s->elastic->line.slope_error > 0)
    m.inputs.push_back({"modulus", "fit of the modulus", s->elastic->line.slope_error / s->elastic->line.slope,
                        UncertainInput::Shape::normal});
  // The offset crossing is sought from where the window ended, found again on the thinned curve.
  const double top = s->elastic ? s->pulled.curve.stress[s->elastic->last - 1] : 0;
  s->pulled = thinned(s->pulled, kBudgetSamples);
  if (s->elastic) s->elastic->last = first_reaching(s->pulled.curve.stress, s->pulled.peak, top);
  m.values = [s, r](const Shifts& shifts) {
    Values v = compute(r, *s, shifts);
    v.erase("modulus_r2");  // a measure of the fit, not of the piece
    return v;
  };
  return m;
}

Evaluation evaluate(const TestRecord& r, const EvaluateOptions& options) {
  Evaluation e;
  const Squeezed s = squeezed_of(r);
  const Values v = compute(r, s, {});
  ledger::add_results(e, specs(), v, [&](const std::string& key) { return how(key, r, s, v); });
  for (ResultValue& x : e.results)
    if (x.spec.key == "e_modulus" || x.spec.key == "rp02" || x.spec.key == "rp1" || x.spec.key == "sigma_25")
      x.source = s.pulled.curve.source_text;
  const Pulled& p = s.pulled;
  const bool maximum = reached_maximum(p);
  if (!maximum && !v.count("at_strain"))
    for (const char* key : {"strength", "fm"})
      if (ResultValue* x = e.find(key)) x->censored = Censoring{true, 0, 0};
  if (options.uncertainty && v.size() > 0) attach_budgets(e, uncertainty_model(r));
  add_findings(e, r, s, v);
  if (p.empty()) return e;
  auto data = pulled_curve(p, s.elastic ? s.toe : 0, 0);
  using Kind = Construction::Kind;
  if (s.elastic) {
    const LineFit& line = s.elastic->line;
    const double a = p.curve.stress[s.elastic->first], b = p.curve.stress[s.elastic->last - 1];
    data->lens_x = 4 * b / line.slope + s.offsets.front();
    e.constructions.push_back(
        {Kind::window, "e_modulus", "modulus window", {{a / line.slope, a}, {b / line.slope, b}}, {}});
    e.constructions.push_back({Kind::line, "e_modulus", "E", {{0, 0}, {1.6 * b / line.slope, 1.6 * b}}, {}});
    for (double offset : s.offsets) {
      const std::string key = offset_name(offset);
      if (!v.count(key)) continue;
      const double y = get(v, key);
      e.constructions.push_back(
          {Kind::line, key, ledger::percent(offset) + " offset", {{offset, 0}, {offset + y / line.slope, y}}, {}});
      e.constructions.push_back({Kind::point,
                                 key,
                                 plain_symbol(ledger::find_spec(specs(), key)->symbol),
                                 {{offset + y / line.slope, y}},
                                 {}});
    }
  }
  if (maximum)
    e.constructions.push_back({Kind::point, "strength", "σc", {{data->x[p.peak], data->y[p.peak]}}, {}, true});
  e.curve = data;
  return e;
}

}  // namespace
}  // namespace fortitor::compression

namespace fortitor::methods {

const Method& compression_solid() {
  static const Method method = [] {
    Method m;
    m.id = "compression-solid";
    m.name = "Compression of solid pieces";
    m.short_name = "Compression";
    m.standard = "ISO 604, ISO 13061-17, ASTM E9";
    m.result = [](const std::string& key) { return ledger::find_spec(compression::specs(), key); };
    m.evaluate = compression::evaluate;
    m.uncertainty = compression::uncertainty_model;
    compression::describe(m);
    fields::add_derived(m);
    return m;
  }();
  return method;
}

}  // namespace fortitor::methods
