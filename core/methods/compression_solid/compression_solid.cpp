#include "core/methods/compression_solid/compression_solid.h"

#include <algorithm>
#include <cmath>

#include "core/methods/compression_solid/model.h"
#include "core/methods/support/pulled.h"
#include "core/methods/support/skeleton.h"

namespace fortitor::compression {

namespace {

using D = Dimension;
using R = RoundingClass;
using ledger::get;
using ledger::put;
using ledger::raise;
using ledger::si;

constexpr double kOffset = 0.002, kOffsetAcross = 0.01;  // of the proof strength; of wood across the grain
constexpr double kReportedAt = 0.025;                    // mm/mm, of wood across the grain (ASTM D143)
constexpr double kSettled = 1e-3;  // of the yield region: two rounds that differ by less are the same
constexpr int kRounds = 6;
constexpr size_t kStillRising = 50;  // part of the samples: a maximum nearer to the end is none
constexpr double kHeightRead = 0.1;  // mm, half of what a caliper is read to across a piece

constexpr size_t kBudgetSamples = 3000;

struct Squeezed {
  Section section;
  Pulled pulled;
  std::optional<ElasticWindow> elastic;
  double toe = 0;
  std::vector<double> offsets;
};

void find_landmarks(Squeezed& s) {
  const Pulled& p = s.pulled;
  if (!p.strained()) return;
  // Yield region for the window: where the curve leaves its steepest part, else the peak.
  double yield = p.curve.stress[p.peak];
  for (int i = 0; i < kRounds; ++i) {
    const auto w = auto_window(p.curve.strain, p.curve.stress, p.peak, yield, i == 0);
    if (!w) break;
    s.elastic = w;
    const double origin = -w->line.intercept / w->line.slope;
    const auto c = offset_crossing(p.curve.strain, p.curve.stress, w->line.slope, origin, kOffset, w->last, p.end - 1);
    if (!c || std::abs(c->stress - yield) < kSettled * yield) break;
    yield = c->stress;
  }
  s.toe =
      s.elastic ? -s.elastic->line.intercept / s.elastic->line.slope : p.curve.strain[touch_of(p.curve.stress, p.peak)];
}

// The gap above the piece is no strain: travel counts from the touch, the first sample above half a per cent of the
// largest force and above its noise.
void start_at_touch(Pulled& p) {
  if (p.empty() || !by_travel(p.curve.source)) return;
  const double start = p.curve.strain[touch_of(p.curve.stress, p.peak)];
  for (double& e : p.curve.strain) e -= start;
}

Squeezed look(const TestRecord& r) {
  Squeezed s;
  s.section = section_of(r.fields);
  s.pulled = pulled_of(r, height_of(r));
  start_at_touch(s.pulled);
  s.offsets = perpendicular(r) ? std::vector{kOffsetAcross} : std::vector{kOffset};
  find_landmarks(s);
  return s;
}

// The window ends where it did, found again on the thinned curve.
Squeezed thin(const TestRecord&, const Squeezed& full) {
  const double top = full.elastic ? full.pulled.curve.stress[full.elastic->last - 1] : 0;
  Squeezed s{full.section, thinned(full.pulled, kBudgetSamples), full.elastic, full.toe, full.offsets};
  if (s.elastic) s.elastic->last = first_reaching(s.pulled.curve.stress, s.pulled.peak, top);
  return s;
}

// A maximum that the run ends on is no maximum: soft pieces take ever more force.
bool reached_maximum(const Pulled& p) {
  return !p.empty() && (p.fracture || p.peak + 1 < p.end - std::max<size_t>(1, p.end / kStillRising));
}

// 0.2 % → "rp02", 1 % → "rp1".
std::string offset_name(double offset) {
  return offset == kOffsetAcross ? key::rp1 : key::rp02;
}

Values compute(const TestRecord& r, const Squeezed& s, const Shifts& shifts) {
  Values v;
  const Section section = shifts.empty() ? s.section : section_of(r.fields, shifts);
  const double height = height_of(r) + ledger::shift(shifts, "specimen.height");
  if (section.area > 0) put(v, key::area, section.area);
  // Least width of the readings as they are shifted: the ratio rests on them.
  const double width = least_width(section, shifts);
  if (height > 0 && width > 0) put(v, key::slenderness, height / width);
  const double after = r.fields.number("specimen.after.diameter").value_or(0);
  if (after > 0 && width > 0)
    put(v, key::barrelling, (after + ledger::shift(shifts, "specimen.after.diameter")) / width);
  const Pulled& p = s.pulled;
  if (p.empty()) return v;
  const double force = 1 + ledger::shift(shifts, "force");
  const double stress = force * (section.area > 0 && s.section.area > 0 ? s.section.area / section.area : 1);
  // Travel is divided by the height: an error of either moves every strain.
  const double strain =
      (1 + ledger::shift(shifts, "extension")) * (by_travel(p.curve.source) && height > 0 ? height_of(r) / height : 1);
  const double top = 1 + ledger::shift(shifts, "peak");
  put(v, key::fm, p.curve.force[p.peak] * force * top);
  const double toe = s.toe + ledger::shift(shifts, "toe");
  if (p.strained()) put(v, key::toe_shift, toe * strain);
  if (s.elastic) {
    put(v, key::e_modulus, s.elastic->line.slope * stress / strain * (1 + ledger::shift(shifts, "modulus")));
    put(v, key::modulus_r2, s.elastic->line.r2 + ledger::shift(shifts, "r2"));
    // The line turns about the middle of its window when its slope is off.
    const double slope = s.elastic->line.slope * (1 + ledger::shift(shifts, "modulus"));
    for (double offset : s.offsets)
      if (const auto c =
              offset_crossing(p.curve.strain, p.curve.stress, slope, toe, offset / strain, s.elastic->last, p.end - 1))
        put(v, offset_name(offset), c->stress * stress);
  }
  const auto at = r.fields.number("settings.at_strain");
  if (at)
    put(v, key::strength, p.stress_at(*at / strain + toe) * stress);
  else if (reached_maximum(p) || !perpendicular(r))
    put(v, key::strength, p.curve.stress[p.peak] * stress * top);
  if (at) put(v, key::at_strain, *at);
  if (perpendicular(r) && p.strained()) put(v, key::sigma_25, p.stress_at(kReportedAt / strain + toe) * stress);
  return v;
}

std::vector<ResultSpec> specs(const TestRecord&) {
  return {
      ledger::spec_of(key::strength, "σ_c", D::stress, R::other, 4, true),
      ledger::spec_of(key::e_modulus, "E_c", D::modulus, R::other, 3, true),
      ledger::spec_of(key::rp02, "R_c0.2", D::stress, R::other, 4, true),
      ledger::spec_of(key::rp1, "σ_1", D::stress, R::other, 3, true),
      ledger::spec_of(key::sigma_25, "σ_2.5", D::stress, R::other, 3, true),
      ledger::spec_of(key::slenderness, "L/D", D::none, R::other, 3, true),
      ledger::spec_of(key::barrelling, "D_u/D", D::none, R::other, 4, false),
      ledger::spec_of(key::fm, "F_m", D::force, R::other, 4, false, true),
      ledger::spec_of(key::area, "A", D::area, R::other, 4, false, true),
      ledger::spec_of(key::at_strain, "ε_x", D::elongation, R::other, 3, false),
      ledger::spec_of(key::toe_shift, "ε_0", D::strain, R::other, 2, false),
      ledger::spec_of(key::modulus_r2, "R²", D::none, R::other, 6, false),
  };
}

std::vector<Step> how(const std::string& key, const TestRecord& r, const Squeezed& s, const Values& v) {
  std::vector<Step> steps;
  const ledger::AddStep add{steps};
  const Section& section = s.section;
  const std::string source = "strain from " + s.pulled.curve.source_text;
  auto stress = [&](const std::string& where) {
    steps = section.how;
    add("σ = F/A", si(get(v, key) * section.area, D::force) + " / " + si(section.area, D::area), get(v, key), D::stress,
        where);
  };
  if (key == key::area) steps = section.how;
  if (key == key::strength)
    stress(v.count(key::at_strain) ? "at " + ledger::percent(get(v, key::at_strain), 3) + " strain; " + source
                                   : "largest force of the run");
  if (key == key::sigma_25) stress("at 2.5 % strain from the corrected origin; " + source);
  if (key == key::rp02 || key == key::rp1) {
    add("σ = E·(ε − ε₀ − " + std::string(key == key::rp1 ? "1 %" : "0.2 %") + ")",
        "parallel to E = " + si(get(v, key::e_modulus), D::modulus), get(v, key), D::stress,
        "crossing with the curve; " + source);
  }
  if (key == key::e_modulus && s.elastic)
    add("E = Σ(ε−ε̄)(σ−σ̄)/Σ(ε−ε̄)²",
        std::to_string(s.elastic->line.n) + " samples, " + si(s.pulled.curve.stress[s.elastic->first], D::stress, 4) +
            " to " + si(s.pulled.curve.stress[s.elastic->last - 1], D::stress, 4),
        get(v, key), D::modulus, "widest straight window; " + source);
  if (key == key::slenderness)
    add("L/D", si(height_of(r), D::length) + " / " + si(least_width(section), D::length), get(v, key), D::none,
        "least width");
  if (key == key::barrelling)
    add("D_u/D",
        si(r.fields.number("specimen.after.diameter").value_or(0), D::length) + " / " +
            si(least_width(section), D::length),
        get(v, key), D::none, "largest width afterwards");
  if (key == key::fm) add("F_m", "largest force", get(v, key), D::force);
  if (key == key::toe_shift)
    add(s.elastic ? "ε₀ = ε₁ − σ₁/E" : "ε₀",
        s.elastic ? "where the modulus line meets the strain axis" : "where the load is first felt", get(v, key),
        D::strain, "seating of platens and faces, taken off all strains");
  if (key == key::modulus_r2) add("R² = 1 − SS_res/SS_tot", "of the modulus line", get(v, key), D::none);
  if (key == key::at_strain) add("asked for", "", get(v, key), D::elongation);
  return steps;
}

void add_findings(Evaluation& e, const TestRecord& r, const Squeezed& s, const Values& v) {
  dimension_findings(s.section.dims, e.findings);
  pulled_findings(e, r, s.pulled, key::strength, "compression", !r.fields.number("specimen.extensometer_length"),
                  key::e_modulus);
  if (!s.pulled.empty() && !reached_maximum(s.pulled) && !v.count(key::at_strain)) censored_note(e, r, key::strength);
  const double slender = get(v, key::slenderness);
  // Up to twice as high as wide nothing buckles; a hundredth more is the caliper's.
  if (slender > kSlender)
    raise(
        e, "buckling-risk", Severity::check,
        "The piece is " + significant(slender, 3) + " times as high as wide; above 2 it may buckle before it crushes.",
        {{"slenderness", slender}}, {}, key::strength);
  if (s.pulled.strained()) toe_finding(e, s.pulled.curve.source, get(v, key::toe_shift));
  if (s.elastic && s.elastic->poor)
    raise(e, "modulus-fit-poor", Severity::check,
          "No straight part meets the rule; the best has R² " + fixed(s.elastic->line.r2, 5) + ".",
          {{"r2", s.elastic->line.r2}}, {}, key::e_modulus);
}

void add_inputs(const TestRecord& r, const Squeezed& s, std::vector<UncertainInput>& out) {
  curve_inputs(r, s.pulled.curve, out);
  if (!s.pulled.empty()) peak_input(s.pulled.curve.force, s.pulled.peak, s.pulled.end, out);
  section_inputs(s.section, r.fields.number("equipment.caliper.resolution").value_or(0), out);
  ledger::length_input(r, "specimen.height", "height", kHeightRead, out);
  ledger::length_input(r, "specimen.after.diameter", "largest width afterwards", kHeightRead, out);
  if (s.elastic) ledger::straightness_inputs(s.elastic->line, out);
  if (!s.elastic || !(s.elastic->line.slope_error > 0)) return;
  const LineFit& line = s.elastic->line;
  const double slope = std::hypot(line.slope_error / line.slope, s.elastic->spread);
  out.push_back({"modulus", "fit of the modulus and the choice of its window", slope, UncertainInput::Shape::normal});
  const double middle = 0.5 * (s.pulled.curve.strain[s.elastic->first] + s.pulled.curve.strain[s.elastic->last - 1]);
  const double fit = std::hypot(line.residual_sd / std::sqrt(double(line.n)) / line.slope, slope * (middle - s.toe));
  const double foot = std::hypot(fit, zero_error(s.pulled.curve, line.slope));
  if (foot > 0) out.push_back({"toe", "foot of the modulus line", foot, UncertainInput::Shape::normal});
}

void add_words(Evaluation& e, const TestRecord&, const Squeezed& s, const Values& v) {
  for (ResultValue& x : e.results)
    if (x.spec.key == key::e_modulus || x.spec.key == key::rp02 || x.spec.key == key::rp1 ||
        x.spec.key == key::sigma_25)
      x.source = s.pulled.curve.source_text;
  if (reached_maximum(s.pulled) || v.count(key::at_strain)) return;
  for (const char* key : {key::strength, key::fm})
    if (ResultValue* x = e.find(key)) x->censored = Censoring{true, 0, 0};
}

void add_figures(Evaluation& e, const TestRecord& r, const Squeezed& s, const Values& v) {
  const Pulled& p = s.pulled;
  if (p.empty()) return;
  CurveSheet sheet = pulled_sheet(p, s.toe, 0);
  auto& out = sheet.constructions;
  using Kind = Construction::Kind;
  if (s.elastic) {
    const LineFit& line = s.elastic->line;
    const double a = p.curve.stress[s.elastic->first], b = p.curve.stress[s.elastic->last - 1];
    sheet.lens_x = 4 * b / line.slope + s.offsets.front();
    out.push_back({Kind::window, key::e_modulus, "modulus window", {{a / line.slope, a}, {b / line.slope, b}}, {}});
    out.push_back({Kind::line, key::e_modulus, "E", {{0, 0}, {1.6 * b / line.slope, 1.6 * b}}, {}});
    for (double offset : s.offsets) {
      const std::string key = offset_name(offset);
      if (!v.count(key)) continue;
      const double y = get(v, key);
      out.push_back(
          {Kind::line, key, ledger::percent(offset) + " offset", {{offset, 0}, {offset + y / line.slope, y}}, {}});
      out.push_back({Kind::point,
                     key,
                     plain_symbol(ledger::find_spec(specs(r), key)->symbol),
                     {{offset + y / line.slope, y}},
                     {}});
    }
  }
  if (v.count(key::at_strain) && v.count(key::strength)) {
    const Point place{get(v, key::at_strain), get(v, key::strength)};
    out.push_back({Kind::point,
                   key::strength,
                   "σc",
                   {place},
                   {place_handle("settings.at_strain", place, D::elongation, "strain asked for")},
                   true});
  } else if (reached_maximum(p))
    out.push_back({Kind::point, key::strength, "σc", {{sheet.x[p.peak], sheet.y[p.peak]}}, {}, true});
  e.figures.push_back(std::move(sheet).figure(e));
}

}  // namespace
}  // namespace fortitor::compression

namespace fortitor::methods {

const Method& compression_solid() {
  static const Method method = [] {
    Parts<compression::Squeezed> parts;
    parts.describe = compression::describe;
    parts.results = compression::specs;
    parts.look = compression::look;
    parts.compute = compression::compute;
    parts.how = compression::how;
    parts.inputs = compression::add_inputs;
    parts.thin = compression::thin;
    parts.words = compression::add_words;
    parts.findings = compression::add_findings;
    parts.figures = compression::add_figures;
    parts.plan = compression::plan;
    return method_of("compression-solid", "ISO 604, ISO 13061-17, ASTM E9", parts);
  }();
  return method;
}

}  // namespace fortitor::methods
