#include "core/methods/tension_composite/tension_composite.h"

#include <algorithm>
#include <cmath>

#include "core/methods/support/skeleton.h"
#include "core/methods/tension_composite/model.h"
#include "core/reference/library.h"

namespace fortitor::composite {
namespace {

using D = Dimension;
using R = RoundingClass;
using ledger::get;
using ledger::put;
using ledger::raise;
using ledger::si;

constexpr size_t kLeastAside = 15;                  // samples on each side of a bend
constexpr double kBends = 0.05, kBendsOfError = 6;  // change of the slope; times its standard error
constexpr double kExplains = 0.5;                   // of what one line leaves over
constexpr double kBendingUsual = 0.10;              // ASTM D3039, 11.7
constexpr double kModulusOff = 0.15;                // of the usual range

double length_of(const TestRecord& r) {
  const double grips = r.fields.number("specimen.grip_separation").value_or(0);
  return grips > 0 ? grips : r.fields.number("specimen.parallel_length").value_or(0);
}

// Two straight lines that meet: the break of slope with the least sum of squares over the loading branch,
// when the slopes differ by more than 5 % and far more than their errors (ASTM D3039, transition region).
std::optional<Transition> bilinear(const Pulled& p) {
  const Pulled t = thinned(p, 400);
  const auto &x = t.curve.strain, &y = t.curve.stress;
  const size_t first = touch_of(t.curve.stress, t.peak);
  size_t last = std::min(t.end, t.peak + 1);
  // Where the extensometer comes off the strain changes its source, and with it the slope.
  if (p.curve.removed_index < p.curve.size())
    while (last > first && t.curve.time[last - 1] > p.curve.time[p.curve.removed_index]) --last;
  if (last < first + 2 * kLeastAside + 10) return std::nullopt;
  const LineSums sums(x, y, first, last);
  const auto whole = sums.fit(first, last);
  if (!whole) return std::nullopt;
  auto sse = [](const LineFit& f) { return f.residual_sd * f.residual_sd * double(f.n - 2); };
  std::optional<Transition> best;
  double least = sse(*whole);
  for (size_t k = first + kLeastAside; k + kLeastAside < last; ++k) {
    const auto a = sums.fit(first, k), b = sums.fit(k, last);
    if (!a || !b || a->slope == b->slope) continue;
    const double both = sse(*a) + sse(*b);
    if (both >= least) continue;
    const double meet = (a->intercept - b->intercept) / (b->slope - a->slope);
    if (meet < x[first] || meet > x[last - 1]) continue;
    least = both;
    const double error = std::hypot(a->slope_error, b->slope_error);
    best = std::abs(b->slope / a->slope - 1) > kBends && std::abs(b->slope - a->slope) > kBendsOfError * error
               ? std::optional(Transition{meet, a->slope, b->slope})
               : std::nullopt;
  }
  // A bend must explain most of what one line leaves over; noise does not.
  return best && least < kExplains * sse(*whole) ? best : std::nullopt;
}

// Slope of a strain over the stress between both ends of the chord, as means over the samples around them.
double chord_of(const Laminate& l, const std::vector<double>& strain) {
  const Pulled& p = l.pulled;
  const size_t half = std::min<size_t>(5, p.curve.size() / 200);
  const auto a = value_at(p.curve.strain, strain, l.origin.strain + l.from, 0, p.end, half);
  const auto b = value_at(p.curve.strain, strain, l.origin.strain + l.to, 0, p.end, half);
  return a && b && l.to > l.from ? (*b - *a) / (l.to - l.from) : NAN;
}

// Poisson's ratio over the window of the chord: the line of the lateral on the axial strain. Lateral strain may be
// logged as it shrinks or as it grows narrower; the ratio of a laminate is taken positive
// (docs/methods/tension-composite.md).
struct Lateral {
  double ratio = NAN, error = 0;
  bool same_sign = false;
};
Lateral lateral_of(const Laminate& l) {
  Lateral out;
  const auto& lateral = l.pulled.curve.lateral;
  if (lateral.size() != l.pulled.curve.size() || !l.origin.modulus) return out;
  const auto a = l.pulled.reaching(l.origin.strain + l.from), b = l.pulled.reaching(l.origin.strain + l.to);
  const double chord = chord_of(l, lateral);
  if (!a || !b || !std::isfinite(chord)) return out;
  out.same_sign = chord > 0;
  out.ratio = std::abs(chord);
  if (const auto line = fit_line(l.pulled.curve.strain, lateral, *a, *b + 1)) {
    const double half = double(std::min<size_t>(5, l.pulled.curve.size() / 200));
    out.error = std::max(line->slope_error, line->residual_sd * std::sqrt(2 / (2 * half + 1)) / (l.to - l.from));
  }
  return out;
}

std::string part_of(const TestRecord& r, const char* which) {
  return r.fields.text(std::string("specimen.after.failure.") + which);
}

}  // namespace

namespace {

void find_landmarks(const TestRecord& record, Laminate& l) {
  const Pulled& p = l.pulled;
  if (!p.strained()) return;
  double last = -HUGE_VAL;
  for (size_t i = 0; i < std::min(p.end, p.peak + 1); ++i) last = std::max(last, p.curve.strain[i]);
  const bool chord = record.fields.text("settings.modulus.school") != "line";
  // Failure strain decides the window, and counts from the origin that the window leads to.
  for (int round = 0; round < 3; ++round) {
    const double failure = last - l.origin.strain;
    l.from = record.fields.number("settings.modulus.from_strain").value_or(failure < 0.006 ? 0.25 * failure : 0.001);
    l.to = record.fields.number("settings.modulus.to_strain").value_or(failure < 0.006 ? 0.5 * failure : 0.003);
    l.origin = origin_of(p, l.from, l.to, chord, toe_school(record));
  }
}

}  // namespace

Laminate laminate_of(const TestRecord& record) {
  Laminate l;
  l.section = section_of(record.fields);
  SamplesPtr samples = record.run.samples();
  const Channel *front = samples ? samples->find("strain_front") : nullptr,
                *back = samples ? samples->find("strain_back") : nullptr;
  // Back-to-back gauges without a mean: their mean is the strain of the piece.
  if (front != nullptr && back != nullptr && samples->find("strain") == nullptr) {
    auto with_mean = std::make_shared<Samples>(*samples);
    Channel mean{"strain", front->values};
    for (size_t i = 0; i < mean.values.size(); ++i) mean.values[i] = 0.5 * (front->values[i] + back->values[i]);
    with_mean->channels.push_back(std::move(mean));
    samples = with_mean;
  }
  l.pulled = pulled_of(record, length_of(record), samples);
  const Pulled& p = l.pulled;
  if (!p.strained()) return l;
  if (front != nullptr && back != nullptr) {
    auto take = [&](const Channel& c) {
      std::vector<double> out;
      for (size_t i = 0; i < p.curve.size(); ++i) out.push_back(c.values[p.curve.rows.empty() ? i : p.curve.rows[i]]);
      const double zero = p.curve.zero.quiet > 0 ? mean_of(out, 0, p.curve.zero.quiet) : 0;
      for (double& v : out) v -= zero;  // zeroed with the others at the quiet stretch
      return out;
    };
    l.front = take(*front);
    l.back = take(*back);
  }
  find_landmarks(record, l);
  l.transition = bilinear(p);
  if (l.transition) l.transition->strain -= l.origin.strain;
  return l;
}

namespace {

Values compute(const TestRecord& r, const Laminate& test, const Shifts& shifts) {
  Values v;
  const double area = shifts.empty() ? test.section.area : section_of(r.fields, shifts).area;
  if (area > 0) put(v, key::area, area);
  if (test.pulled.empty()) return v;
  // Stress scales with force and area, strain with its instrument: every value follows from its kind.
  const double force = 1 + ledger::shift(shifts, "force");
  const double stress = force * (area > 0 && test.section.area > 0 ? test.section.area / area : 1);
  const Pulled& p = test.pulled;
  const double top = 1 + ledger::shift(shifts, "peak");
  put(v, key::sigma_m, p.curve.stress[p.peak] * stress * top);
  put(v, key::fm, p.curve.force[p.peak] * force * top);
  if (!p.strained()) return v;
  const std::vector<double> moved = shifts.empty() ? std::vector<double>{} : shifted_strain(p.curve, shifts);
  const double gauge = 1 + ledger::shift(shifts, "extension"), toe = ledger::shift(shifts, "toe");
  const double origin = test.origin.strain * gauge + toe;
  put(v, key::toe_shift, origin);
  put(v, key::eps_m, (shifts.empty() ? p.curve.strain : moved)[p.peak] - origin + ledger::shift(shifts, "top"));
  if (test.origin.modulus) {
    put(v, key::e_chord, test.origin.modulus->slope * stress / gauge * (1 + ledger::shift(shifts, "modulus")));
    put(v, key::chord_from, test.from);
    put(v, key::chord_to, test.to);
    // The gauges carry their own errors: what the axial one reads wrong the lateral one does not.
    put(v, key::nu12,
        lateral_of(test).ratio * (1 + ledger::shift(shifts, "lateral")) / gauge + ledger::shift(shifts, "nu"));
  }
  if (test.transition) {
    put(v, key::transition_strain, test.transition->strain * gauge - toe + ledger::shift(shifts, "knee"));
    put(v, key::e_second, test.transition->second * stress / gauge * (1 + ledger::shift(shifts, "second")));
  }
  if (!test.front.empty()) {
    const double front = chord_of(test, test.front) * (1 + ledger::shift(shifts, "front")),
                 back = chord_of(test, test.back) * (1 + ledger::shift(shifts, "back"));
    if (std::isfinite(front) && front + back != 0)
      put(v, key::bending_percent, (front - back) / (front + back) + ledger::shift(shifts, "bending"));
  }
  return v;
}

}  // namespace

std::vector<ResultSpec> specs(const TestRecord&) {
  return {
      ledger::spec_of(key::sigma_m, "σ_m", D::stress, R::other, 4, true),
      ledger::spec_of(key::e_chord, "E", D::modulus, R::other, 4, true),
      ledger::spec_of(key::eps_m, "ε_m", D::elongation, R::other, 3, true),
      ledger::spec_of(key::nu12, "ν_12", D::none, R::other, 3, true),
      ledger::spec_of(key::transition_strain, "ε_tr", D::elongation, R::other, 3, true),
      ledger::spec_of(key::e_second, "E_2", D::modulus, R::other, 4, false),
      ledger::spec_of(key::bending_percent, "B_y", D::elongation, R::other, 2, true),
      ledger::spec_of(key::failure_code, "failure", D::none, R::other, 0, true),
      ledger::spec_of(key::fm, "F_m", D::force, R::other, 4, false, true),
      ledger::spec_of(key::area, "A", D::area, R::other, 4, false, true),
      ledger::spec_of(key::chord_from, "ε_1", D::microstrain, R::other, 4, false),
      ledger::spec_of(key::chord_to, "ε_2", D::microstrain, R::other, 4, false),
      ledger::spec_of(key::toe_shift, "ε_0", D::strain, R::other, 2, false),
  };
}

static std::vector<Step> how(const std::string& key, const TestRecord& r, const Laminate& l, const Values& v) {
  const Section& section = l.section;
  const double origin = l.origin.strain;
  std::vector<Step> steps;
  const ledger::AddStep add{steps};
  const std::string source = "strain from " + l.pulled.curve.source_text;
  const std::string window = si(l.from, D::microstrain, 4) + " and " + si(l.to, D::microstrain, 4);
  if (key == key::area) steps = section.how;
  if (key == key::fm) add("F_m", "largest force", get(v, key), D::force);
  if (key == key::sigma_m) {
    steps = section.how;
    add("σ_m = F_m/A", si(get(v, key::fm), D::force) + " / " + si(section.area, D::area), get(v, key), D::stress);
  }
  if (key == key::eps_m) add("ε_m", "strain at the largest force", get(v, key), D::elongation, source);
  if (key == key::e_chord)
    add("E = Δσ/Δε",
        "(" + si(l.pulled.stress_at(origin + l.to), D::stress) + " − " +
            si(l.pulled.stress_at(origin + l.from), D::stress) + ") between " + window,
        get(v, key), D::modulus,
        l.to < 0.0029 ? "failure below 0.6 %: 25 to 50 % of it; " + source : "ASTM D3039; " + source);
  if (key == key::nu12) add("ν₁₂ = |Δε_t/Δε_l|", "chord between " + window, get(v, key), D::none, "lateral channel");
  if (key == key::transition_strain || key == key::e_second)
    add("where two least-squares lines meet",
        "slopes " + si(l.transition->first, D::modulus, 4) + " and " + si(l.transition->second, D::modulus, 4),
        get(v, key), key == key::e_second ? D::modulus : D::elongation, "least sum of squares");
  if (key == key::bending_percent)
    add("B = (ε_f − ε_b)/(ε_f + ε_b)", "rise of the back-to-back strains over the chord", get(v, key), D::elongation,
        "ASTM D3039");
  if (key == key::toe_shift) steps.push_back(toe_step(l.origin, toe_school(r), get(v, key)));
  if (key == key::chord_from || key == key::chord_to) add("window of the chord", window, get(v, key), D::microstrain);
  return steps;
}

static void add_findings(Evaluation& e, const TestRecord& r, const Laminate& l, const Values& v) {
  dimension_findings(l.section.dims, e.findings);
  pulled_findings(e, r, l.pulled, key::sigma_m, "tension", false, key::e_chord);
  if (!l.pulled.empty() && !l.pulled.fracture) censored_note(e, r, key::sigma_m);
  const ToeSchool school = toe_school(r);
  if (l.pulled.strained() && !school.preload) toe_finding(e, l.pulled.curve.source, get(v, key::toe_shift));
  prestress_finding(e, l.origin, school, key::e_chord);
  if (lateral_of(l).same_sign)
    raise(e, "sign-lateral", Severity::note,
          "The lateral strain was logged with the sign of the axial one; ν₁₂ is taken from its magnitude.", {}, {},
          key::nu12);
  if (v.count(key::bending_percent) && std::abs(get(v, key::bending_percent)) > kBendingUsual)
    raise(e, "bending-high", Severity::check,
          "Front and back strains differ: " + ledger::percent(std::abs(get(v, key::bending_percent)), 3) +
              " bending, where up to 10 % is usual. Check the alignment of grips and tabs.",
          {{"bending", get(v, key::bending_percent)}}, {}, key::sigma_m);
  const std::string area = part_of(r, "area");
  if (area == "I" || area == "A")
    raise(e, "break-at-grip", Severity::check,
          std::string("It failed ") + (area == "I" ? "inside" : "at") +
              " the grip or tab: the strength is that of the gripped end. Say why it may count, or leave it out of the "
              "series.",
          {}, {}, key::sigma_m);
  if (l.pulled.curve.source == StrainSource::extensometer && !l.pulled.curve.removed_at && l.pulled.fracture)
    raise(e, "extensometer-at-break", Severity::note,
          "The extensometer stayed on to the sudden break; check it before the next piece.");
  const auto m = usual_of(r, "specimen.material", "laminate");
  if (m && m->values.count("e_modulus") && v.count(key::e_chord) && l.pulled.curve.source != StrainSource::crosshead) {
    const ReferenceValue& usual = m->values.at("e_modulus");
    const double modulus = get(v, key::e_chord);
    if (modulus < (1 - kModulusOff) * usual.low || modulus > (1 + kModulusOff) * usual.high)
      raise(e, "modulus-unlikely", Severity::check,
            "E is " + si(modulus, D::modulus, 4) + "; " + m->name + " usually lies between " +
                si(usual.low, D::modulus, 3) + " and " + si(usual.high, D::modulus, 3) + ".",
            {{"e_chord", modulus}}, {}, key::e_chord);
  }
}

static void add_inputs(const TestRecord& r, const Laminate& l, std::vector<UncertainInput>& out) {
  const auto normal = UncertainInput::Shape::normal;
  curve_inputs(r, l.pulled.curve, out);
  if (!l.pulled.empty()) peak_input(l.pulled.curve.force, l.pulled.peak, l.pulled.end, out);
  section_inputs(l.section, r.fields.number("equipment.caliper.resolution").value_or(0), out);
  if (!l.origin.modulus) return;
  const ModulusFit& m = *l.origin.modulus;
  if (m.error > 0) out.push_back({"modulus", "fit of the modulus", m.error / m.slope, normal});
  if (m.toe_error > 0) out.push_back({"toe", "foot of the modulus line", m.toe_error, normal});
  const Lateral lateral = lateral_of(l);
  if (std::isfinite(lateral.ratio)) {
    ledger::class_input(r, "equipment.extensometer.class", "lateral", "lateral strain", out);
    if (lateral.error > 0) out.push_back({"nu", "noise of the lateral strain over the chord", lateral.error, normal});
  }
  if (l.front.empty()) return;
  const double noise = std::hypot(noise_of(l.front, 0, l.pulled.end), noise_of(l.back, 0, l.pulled.end));
  const double half = double(std::min<size_t>(5, l.pulled.curve.size() / 200));
  ledger::class_input(r, "equipment.extensometer.class", "front", "front gauge", out);
  ledger::class_input(r, "equipment.extensometer.class", "back", "back gauge", out);
  if (noise > 0)
    out.push_back({"bending", "noise of both gauges over the chord",
                   noise * std::sqrt(2 / (2 * half + 1)) / (2 * (l.to - l.from)), normal});
}

static void add_words(Evaluation& e, const TestRecord& r, const Laminate& l, const Values&) {
  for (ResultValue& x : e.results)
    if (x.spec.key == key::eps_m || x.spec.key == key::e_chord || x.spec.key == key::transition_strain)
      x.source = l.pulled.curve.source_text;
  const std::string code = part_of(r, "type") + part_of(r, "area") + part_of(r, "place");
  if (!code.empty()) {
    std::string words;
    for (const char* part : {"type", "area", "place"}) {
      const FieldSpec* f = methods::tension_composite().field(std::string("specimen.after.failure.") + part);
      for (const Choice& c : f->choices)
        if (c.value == part_of(r, part)) words += (words.empty() ? "" : ", ") + c.label;
    }
    ledger::add_text(e, specs(r), key::failure_code, code,
                     {{"type, area, place", words, 0, D::none, "three-letter code, ASTM D3039"}});
  }
  if (l.pulled.fracture) return;
  for (const char* key : {key::sigma_m, key::fm, key::eps_m})
    if (ResultValue* x = e.find(key)) x->censored = Censoring{true, 0, 0};
}

static void add_figures(Evaluation& e, const TestRecord&, const Laminate& l, const Values& v) {
  const Pulled& p = l.pulled;
  if (p.empty()) return;
  CurveSheet sheet = pulled_sheet(p, l.origin.strain, l.origin.modulus ? 1.6 * l.to : 0);
  auto& out = sheet.constructions;
  using Kind = Construction::Kind;
  if (l.origin.modulus) {
    const double slope = l.origin.modulus->slope, top = 1.3 * l.to;
    sheet.lens_caption = "chord between " + si(l.from, D::microstrain, 4) + " and " + si(l.to, D::microstrain, 4);
    const Point from{l.from, slope * l.from}, to{l.to, slope * l.to};
    Construction window{Kind::window, key::e_chord, "chord", {from, to}, {}};
    window.handles =
        window_handles({"settings.modulus.from_strain", "settings.modulus.to_strain", D::microstrain}, from, to);
    out.push_back(std::move(window));
    out.push_back({Kind::line, key::e_chord, "E", {{0, 0}, {top, slope * top}}, {}});
  }
  if (l.transition)
    out.push_back({Kind::point,
                   key::transition_strain,
                   "transition",
                   {{l.transition->strain, p.stress_at(l.origin.strain + l.transition->strain)}},
                   {},
                   true});
  if (v.count(key::eps_m))
    out.push_back({Kind::point, key::sigma_m, "σm", {{get(v, key::eps_m), get(v, key::sigma_m)}}, {}, true});
  if (p.curve.removed_index < p.curve.size())
    out.push_back({Kind::marker,
                   "removal",
                   "extensometer off",
                   {{sheet.x[p.curve.removed_index], sheet.y[p.curve.removed_index]}},
                   {}});
  e.figures.push_back(std::move(sheet).figure(e));
}

}  // namespace fortitor::composite

namespace fortitor::methods {

const Method& tension_composite() {
  static const Method method = [] {
    Parts<composite::Laminate> parts;
    parts.describe = composite::describe;
    parts.results = composite::specs;
    parts.look = composite::laminate_of;
    parts.compute = composite::compute;
    parts.how = composite::how;
    parts.inputs = composite::add_inputs;
    parts.words = composite::add_words;
    parts.findings = composite::add_findings;
    parts.figures = composite::add_figures;
    parts.plan = composite::plan;
    return method_of("tension-composite", "ISO 527-4, ISO 527-5, ASTM D3039", parts);
  }();
  return method;
}

}  // namespace fortitor::methods
