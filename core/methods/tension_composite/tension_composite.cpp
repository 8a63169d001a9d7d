#include "core/methods/tension_composite/tension_composite.h"

#include <algorithm>
#include <cmath>

#include "core/methods/support/fields.h"
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

constexpr size_t kBudgetSamples = 3000;

double length_of(const TestRecord& r) {
  const double grips = r.fields.number("specimen.grip_separation").value_or(0);
  return grips > 0 ? grips : r.fields.number("specimen.parallel_length").value_or(0);
}

// Two straight lines that meet: the break of slope with the least sum of squares over the loading branch,
// when the slopes differ by more than 5 % and far more than their errors (ASTM D3039, transition region).
std::optional<Transition> bilinear(const Pulled& p) {
  const Pulled t = thinned(p, 400);
  const auto &x = t.curve.strain, &y = t.curve.stress;
  const size_t first = t.reaching(0.0002).value_or(0);
  size_t last = std::min(t.end, t.peak + 1);
  // Where the extensometer comes off the strain changes its source, and with it the slope.
  if (p.curve.removed_index < p.curve.size())
    while (last > first && t.curve.time[last - 1] > p.curve.time[p.curve.removed_index]) --last;
  if (last < first + 40) return std::nullopt;
  const LineSums sums(x, y, first, last);
  const auto whole = sums.fit(first, last);
  if (!whole) return std::nullopt;
  auto sse = [](const LineFit& f) { return f.residual_sd * f.residual_sd * double(f.n - 2); };
  std::optional<Transition> best;
  double least = sse(*whole);
  for (size_t k = first + 15; k + 15 < last; ++k) {
    const auto a = sums.fit(first, k), b = sums.fit(k, last);
    if (!a || !b || a->slope == b->slope) continue;
    const double both = sse(*a) + sse(*b);
    if (both >= least) continue;
    const double meet = (a->intercept - b->intercept) / (b->slope - a->slope);
    if (meet < x[first] || meet > x[last - 1]) continue;
    least = both;
    const double error = std::hypot(a->slope_error, b->slope_error);
    best = std::abs(b->slope / a->slope - 1) > 0.05 && std::abs(b->slope - a->slope) > 6 * error
               ? std::optional(Transition{meet, a->slope, b->slope})
               : std::nullopt;
  }
  // A bend must explain most of what one line leaves over; noise does not.
  return best && least < 0.5 * sse(*whole) ? best : std::nullopt;
}

// Chord of the lateral strain over the same window.
double lateral_ratio(const Laminate& l) {
  const auto& lateral = l.pulled.curve.lateral;
  if (lateral.size() != l.pulled.curve.size()) return NAN;
  const auto a = value_at(l.pulled.curve.strain, lateral, l.from, 0, l.pulled.end, 3);
  const auto b = value_at(l.pulled.curve.strain, lateral, l.to, 0, l.pulled.end, 3);
  return a && b && l.to > l.from ? -(*b - *a) / (l.to - l.from) : NAN;
}

std::string part_of(const TestRecord& r, const char* which) {
  return r.fields.text(std::string("specimen.after.failure.") + which);
}

}  // namespace

Laminate laminate_of(const TestRecord& record) {
  Laminate l;
  TestRecord r = record;
  // Back-to-back gauges without a mean: their mean is the strain of the piece.
  if (record.run.samples) {
    const Channel *front = record.run.samples->find("strain_front"), *back = record.run.samples->find("strain_back");
    if (front != nullptr && back != nullptr && record.run.samples->find("strain") == nullptr) {
      auto samples = std::make_shared<Samples>(*record.run.samples);
      Channel mean{"strain", front->values};
      for (size_t i = 0; i < mean.values.size(); ++i) mean.values[i] = 0.5 * (front->values[i] + back->values[i]);
      samples->channels.push_back(std::move(mean));
      r.run.samples = samples;
    }
  }
  l.pulled = pulled_of(r, length_of(r));
  Pulled& p = l.pulled;
  if (p.empty() || p.curve.source == tension::StrainSource::none) return l;
  if (const Samples* s = record.run.samples.get()) {
    const Channel *front = s->find("strain_front"), *back = s->find("strain_back");
    if (front != nullptr && back != nullptr && front->values.size() == p.curve.size()) {
      l.front = front->values;
      l.back = back->values;
    }
  }
  double last = 0;
  for (size_t i = 0; i < std::min(p.end, p.peak + 1); ++i) last = std::max(last, p.curve.strain[i]);
  l.from = record.fields.number("settings.modulus.from_strain").value_or(last < 0.006 ? 0.25 * last : 0.001);
  l.to = record.fields.number("settings.modulus.to_strain").value_or(last < 0.006 ? 0.5 * last : 0.003);
  l.chord = modulus_between(p, l.from, l.to, record.fields.text("settings.modulus.school") != "line");
  l.transition = bilinear(p);
  return l;
}

Values compute(const TestRecord&, const Laminate& l, double area) {
  Values v;
  if (area > 0) put(v, "area", area);
  const Pulled& p = l.pulled;
  if (p.empty()) return v;
  put(v, "sigma_m", p.curve.stress[p.peak]);
  put(v, "fm", p.curve.stress[p.peak] * area);
  if (p.curve.source == tension::StrainSource::none) return v;
  put(v, "eps_m", p.curve.strain[p.peak]);
  if (l.chord) {
    put(v, "e_chord", l.chord->slope);
    put(v, "chord_from", l.from);
    put(v, "chord_to", l.to);
    put(v, "nu12", lateral_ratio(l));
  }
  if (l.transition) {
    put(v, "transition_strain", l.transition->strain);
    put(v, "e_second", l.transition->second);
  }
  if (!l.front.empty()) {
    const auto mid = p.reaching(0.5 * (l.from + l.to));
    // Front and back are gauges that were zeroed with the others at the quiet stretch.
    if (mid) {
      const double f = l.front[*mid] - mean_of(l.front, 0, p.curve.zero.quiet),
                   b = l.back[*mid] - mean_of(l.back, 0, p.curve.zero.quiet);
      put(v, "bending_percent", (f - b) / (f + b));
    }
  }
  return v;
}

const std::vector<ResultSpec>& specs() {
  static const std::vector<ResultSpec> table = {
      {"sigma_m", "σ_m", "tensile strength", D::stress, R::other, 4, true},
      {"e_chord", "E", "chord modulus", D::modulus, R::other, 4, true},
      {"eps_m", "ε_m", "strain at the strength", D::elongation, R::other, 3, true},
      {"nu12", "ν_12", "Poisson's ratio", D::none, R::other, 3, true},
      {"transition_strain", "ε_tr", "transition strain", D::elongation, R::other, 3, true},
      {"e_second", "E_2", "slope beyond the transition", D::modulus, R::other, 4, false},
      {"bending_percent", "B_y", "bending", D::elongation, R::other, 2, true},
      {"failure_code", "failure", "failure: type, area, place", D::none, R::other, 0, true},
      {"fm", "F_m", "maximum force", D::force, R::other, 4, false},
      {"area", "A", "cross-section area", D::area, R::other, 4, false},
      {"chord_from", "ε_1", "chord, from", D::microstrain, R::other, 4, false},
      {"chord_to", "ε_2", "chord, to", D::microstrain, R::other, 4, false},
  };
  return table;
}

static std::vector<Step> how(const std::string& key, const Laminate& l, const Section& section, const Values& v) {
  std::vector<Step> steps;
  auto add = [&](std::string expression, std::string with, double value, D d, std::string source = {}) {
    steps.push_back({std::move(expression), std::move(with), value, d, std::move(source)});
  };
  const std::string source = "strain from " + l.pulled.curve.source_text;
  const std::string window = si(l.from, D::microstrain, 4) + " and " + si(l.to, D::microstrain, 4);
  if (key == "area") steps = section.how;
  if (key == "fm") add("F_m", "largest force", get(v, key), D::force);
  if (key == "sigma_m") {
    steps = section.how;
    add("σ_m = F_m/A", si(get(v, "fm"), D::force) + " / " + si(section.area, D::area), get(v, key), D::stress);
  }
  if (key == "eps_m") add("ε_m", "strain at the largest force", get(v, key), D::elongation, source);
  if (key == "e_chord")
    add("E = Δσ/Δε",
        "(" + si(l.pulled.stress_at(l.to), D::stress) + " − " + si(l.pulled.stress_at(l.from), D::stress) +
            ") between " + window,
        get(v, key), D::modulus,
        l.to < 0.0029 ? "failure below 0.6 %: 25 to 50 % of it; " + source : "ASTM D3039; " + source);
  if (key == "nu12") add("ν₁₂ = −Δε_t/Δε_l", "chord between " + window, get(v, key), D::none, "lateral channel");
  if (key == "transition_strain" || key == "e_second")
    add("where two least-squares lines meet",
        "slopes " + si(l.transition->first, D::modulus, 4) + " and " + si(l.transition->second, D::modulus, 4),
        get(v, key), key == "e_second" ? D::modulus : D::elongation, "least sum of squares");
  if (key == "bending_percent")
    add("B = (ε_f − ε_b)/(ε_f + ε_b)", "back-to-back strains in the middle of the chord", get(v, key), D::elongation,
        "ASTM D3039");
  if (key == "chord_from" || key == "chord_to") add("window of the chord", window, get(v, key), D::microstrain);
  return steps;
}

static void add_findings(Evaluation& e, const TestRecord& r, const Laminate& l, const Section& section,
                         const Values& v) {
  dimension_findings(section.dims, 0.01, 3, e.findings);
  pulled_findings(e, r, l.pulled, "sigma_m", "tension");
  if (!l.pulled.empty() && !l.pulled.fracture) censored_note(e, r, "sigma_m");
  if (v.count("bending_percent") && std::abs(get(v, "bending_percent")) > 0.10)
    raise(e, "bending-high", Severity::check,
          "Front and back strains differ: " + ledger::percent(std::abs(get(v, "bending_percent")), 3) +
              " bending, where up to 10 % is usual. Check the alignment of grips and tabs.",
          {{"bending", get(v, "bending_percent")}}, {}, "sigma_m");
  const std::string area = part_of(r, "area");
  if (area == "I" || area == "A")
    raise(e, "break-at-grip", Severity::check,
          std::string("It failed ") + (area == "I" ? "inside" : "at") +
              " the grip or tab: the strength is that of the gripped end. Say why it may count, or leave it out of the "
              "series.",
          {}, {}, "sigma_m");
  if (l.pulled.curve.source == tension::StrainSource::extensometer && !l.pulled.curve.removed_at && l.pulled.fracture)
    raise(e, "extensometer-at-break", Severity::note,
          "The extensometer stayed on to the sudden break; check it before the next piece.");
  const auto m = find_reference(r.fields.text("specimen.material"), "laminate");
  if (m && m->values.count("e_modulus") && v.count("e_chord") &&
      l.pulled.curve.source != tension::StrainSource::crosshead) {
    const ReferenceValue& usual = m->values.at("e_modulus");
    const double modulus = get(v, "e_chord");
    if (modulus < 0.85 * usual.low || modulus > 1.15 * usual.high)
      raise(e, "modulus-unlikely", Severity::check,
            "E is " + si(modulus, D::modulus, 4) + "; " + m->name + " usually lies between " +
                si(usual.low, D::modulus, 3) + " and " + si(usual.high, D::modulus, 3) + ".",
            {{"e_chord", modulus}}, {}, "e_chord");
  }
}

static UncertaintyModel uncertainty_model(const TestRecord& r) {
  UncertaintyModel m;
  Laminate l = laminate_of(r);
  pulled_inputs(r, l.pulled, section_of(r.fields), m.inputs);
  if (l.front.empty()) l.pulled = thinned(l.pulled, kBudgetSamples);
  if (l.chord && l.chord->error > 0)
    m.inputs.push_back(
        {"modulus", "fit of the modulus", l.chord->error / l.chord->slope, UncertainInput::Shape::normal});
  auto held = std::make_shared<Laminate>(std::move(l));
  m.values = [held, r](const Shifts& shifts) {
    // Stress scales with force and area, strain with its instrument: every value follows from its kind.
    const double area = section_of(r.fields, shifts).area, plain = section_of(r.fields).area;
    const double stress = (1 + ledger::shift(shifts, "force")) * (area > 0 ? plain / area : 1),
                 strain = 1 + ledger::shift(shifts, "extension");
    Values v = compute(r, *held, plain);
    for (auto& [key, value] : v) {
      if (key == "sigma_m")
        value *= stress;
      else if (key == "fm")
        value *= 1 + ledger::shift(shifts, "force");
      else if (key == "e_chord" || key == "e_second")
        value *= stress / strain * (1 + ledger::shift(shifts, "modulus"));
      else if (key == "eps_m" || key == "transition_strain")
        value *= strain;
      else if (key == "area")
        value = area;
    }
    return v;
  };
  return m;
}

static Evaluation evaluate(const TestRecord& r, const EvaluateOptions& options) {
  Evaluation e;
  const Section section = section_of(r.fields);
  const Laminate l = laminate_of(r);
  const Values v = compute(r, l, section.area);
  ledger::add_results(e, specs(), v, [&](const std::string& key) { return how(key, l, section, v); });
  for (ResultValue& x : e.results)
    if (x.spec.key == "eps_m" || x.spec.key == "e_chord" || x.spec.key == "transition_strain")
      x.source = l.pulled.curve.source_text;
  const std::string code = part_of(r, "type") + part_of(r, "area") + part_of(r, "place");
  if (!code.empty()) {
    std::string words;
    for (const char* part : {"type", "area", "place"}) {
      const FieldSpec* f = methods::tension_composite().field(std::string("specimen.after.failure.") + part);
      for (const Choice& c : f->choices)
        if (c.value == part_of(r, part)) words += (words.empty() ? "" : ", ") + c.label;
    }
    ledger::add_text(e, specs(), "failure_code", code,
                     {{"type, area, place", words, 0, D::none, "three-letter code, ASTM D3039"}});
  }
  if (!l.pulled.fracture)
    for (const char* key : {"sigma_m", "fm", "eps_m"})
      if (ResultValue* x = e.find(key)) x->censored = Censoring{true, 0, 0};
  if (options.uncertainty && (!l.pulled.empty() || section.area > 0)) attach_budgets(e, uncertainty_model(r));
  add_findings(e, r, l, section, v);
  if (l.pulled.empty()) return e;
  const Pulled& p = l.pulled;
  auto data = pulled_curve(p, 0, l.chord ? 1.6 * l.to : 0);
  using Kind = Construction::Kind;
  if (l.chord) {
    const double y0 = p.stress_at(l.from), y1 = p.stress_at(l.to), top = 1.3 * y1;
    data->lens_caption = "chord between " + si(l.from, D::microstrain, 4) + " and " + si(l.to, D::microstrain, 4);
    e.constructions.push_back({Kind::window, "e_chord", "chord", {{l.from, y0}, {l.to, y1}}, {}});
    e.constructions.push_back(
        {Kind::line, "e_chord", "E", {{l.chord->toe, 0}, {l.chord->toe + top / l.chord->slope, top}}, {}});
  }
  if (l.transition)
    e.constructions.push_back({Kind::point,
                               "transition_strain",
                               "transition",
                               {{l.transition->strain, p.stress_at(l.transition->strain)}},
                               {},
                               true});
  if (v.count("eps_m"))
    e.constructions.push_back({Kind::point, "sigma_m", "σm", {{get(v, "eps_m"), get(v, "sigma_m")}}, {}, true});
  if (p.curve.removed_index < p.curve.size())
    e.constructions.push_back({Kind::marker,
                               "removal",
                               "extensometer off",
                               {{data->x[p.curve.removed_index], data->y[p.curve.removed_index]}},
                               {}});
  e.curve = data;
  return e;
}

}  // namespace fortitor::composite

namespace fortitor::methods {

const Method& tension_composite() {
  static const Method method = [] {
    Method m;
    m.id = "tension-composite";
    m.name = "Tension of composites";
    m.short_name = "Tension";
    m.standard = "ISO 527-4, ISO 527-5, ASTM D3039";
    m.result = [](const std::string& key) { return ledger::find_spec(composite::specs(), key); };
    m.evaluate = composite::evaluate;
    m.uncertainty = composite::uncertainty_model;
    composite::describe(m);
    fields::add_derived(m);
    return m;
  }();
  return method;
}

}  // namespace fortitor::methods
