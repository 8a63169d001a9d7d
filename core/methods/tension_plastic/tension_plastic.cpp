#include "core/methods/tension_plastic/tension_plastic.h"

#include <algorithm>
#include <cmath>

#include "core/methods/support/pulled.h"
#include "core/methods/support/skeleton.h"
#include "core/methods/tension_plastic/model.h"
#include "core/reference/library.h"

namespace fortitor::plastic {

namespace {

using D = Dimension;
using R = RoundingClass;
using ledger::get;
using ledger::put;
using ledger::raise;
using ledger::si;

constexpr double kFalls = 0.003;                     // of the largest stress: a fall of the curve
constexpr double kFallsOfNoise = 7;                  // largest and smallest of so many means of noise differ by no more
constexpr double kRisen = 0.05;                      // of the largest stress: a first maximum lies above it
constexpr size_t kBlocks = 500, kLargestBlock = 50;  // means are taken over; samples
constexpr double kModulusOff = 0.2;                  // of the usual range

constexpr size_t kBudgetSamples = 3000;
constexpr double kFrom = 0.0005, kTo = 0.0025;  // ISO 527-1, modulus

// First stress maximum after which stress falls while strain goes on: the first zero slope. A plateau that ends in
// the break is none. The fall must be one of the curve, 0.3 % at least: on a slowly rising curve the largest of a
// thousand noisy samples always stands above its neighbours, so means over blocks are compared, by more than the
// largest and the smallest of so many noisy means differ.
std::optional<size_t> first_zero_slope(const Pulled& p) {
  const auto &y = p.curve.stress, &x = p.curve.strain;
  const size_t block = std::clamp<size_t>(p.end / kBlocks, 1, kLargestBlock);
  const double noise = noise_of_bent(y, p.curve.zero.quiet, p.end) / std::sqrt(double(block));
  const double fall = std::max(kFalls * y[p.peak], kFallsOfNoise * noise);
  double top = -HUGE_VAL, at = 0;
  size_t best = 0;
  for (size_t from = 0; from + block <= p.end; from += block) {
    double mean = 0, strain = 0;
    for (size_t i = from; i < from + block; ++i) {
      mean += y[i] / double(block);
      strain += x[i] / double(block);
    }
    if (mean > top) {
      top = mean;
      at = strain;
      best = from;
    }
    if (!(top > kRisen * y[p.peak]) || top - mean <= fall || !(strain > at)) continue;
    const size_t a = best > block ? best - block : 0, b = std::min(p.end, best + 2 * block);
    return size_t(std::max_element(y.begin() + long(a), y.begin() + long(b)) - y.begin());
  }
  return std::nullopt;
}

struct Test {
  Section section;
  Pulled pulled;
  Origin origin;
  std::optional<size_t> yield;
  TopPlace top, yield_top;  ///< where maximum and yield lie on their flat tops
};

double from_of(const TestRecord& r) {
  return r.fields.number("settings.modulus.from_strain").value_or(kFrom);
}
double to_of(const TestRecord& r) {
  return r.fields.number("settings.modulus.to_strain").value_or(kTo);
}

void find_landmarks(const TestRecord& r, Test& t) {
  if (!t.pulled.strained()) return;
  const Pulled& p = t.pulled;
  t.yield = first_zero_slope(p);
  auto place = [&](size_t at) {
    const double noise = noise_of_bent(p.curve.stress, at > 200 ? at - 200 : 0, std::min(p.end, at + 200));
    return top_place(p.curve.strain, p.curve.stress, at, noise, p.end);
  };
  t.top = place(p.peak);
  if (t.yield) t.yield_top = place(*t.yield);
  t.origin =
      origin_of(t.pulled, from_of(r), to_of(r), r.fields.text("settings.modulus.school") != "line", toe_school(r));
}

Test look(const TestRecord& r) {
  Test t{section_of(r.fields), pulled_of(r, length_of(r)), {}, {}, {}, {}};
  find_landmarks(r, t);
  return t;
}

Test thin(const TestRecord& r, const Test& test) {
  Test t{test.section, thinned(test.pulled, kBudgetSamples), test.origin, test.yield, test.top, test.yield_top};
  find_landmarks(r, t);
  return t;
}

bool nominal(const Pulled& p) {
  return by_travel(p.curve.source) || p.curve.removed_index < p.end;
}

Values compute(const TestRecord& r, const Test& test, const Shifts& shifts) {
  Values v;
  const double area = shifts.empty() ? test.section.area : section_of(r.fields, shifts).area;
  if (area > 0) put(v, key::area, area);
  if (test.pulled.empty()) return v;
  Test moved;
  if (!shifts.empty()) {
    moved.pulled = shifted(test.pulled, r, shifts);
    moved.origin = test.pulled.strained() ? origin_of(moved.pulled, from_of(r), to_of(r),
                                                      r.fields.text("settings.modulus.school") != "line", toe_school(r))
                                          : Origin{};
    moved.yield = test.yield;
    moved.top = test.top;
    moved.yield_top = test.yield_top;
  }
  const Test& t = shifts.empty() ? test : moved;
  const Pulled& p = t.pulled;
  const double origin = t.origin.strain + ledger::shift(shifts, "toe");
  const double top = 1 + ledger::shift(shifts, "peak");
  put(v, key::sigma_m, p.curve.stress[p.peak] * top);
  put(v, key::fm, p.curve.force[p.peak] * top);
  const bool strained = p.strained();
  if (strained) put(v, key::eps_m, middle_of(p.curve.strain, t.top.stretch) - origin + ledger::shift(shifts, "top"));
  if (t.yield) {
    put(v, key::sigma_y, p.curve.stress[*t.yield] * (*t.yield == p.peak ? top : 1));
    // One and the same maximum has one place.
    const bool same = t.yield_top.stretch.first == t.top.stretch.first;
    put(v, key::eps_y,
        middle_of(p.curve.strain, t.yield_top.stretch) - origin + ledger::shift(shifts, same ? "top" : "yield_top"));
  }
  if (p.fracture) {
    const size_t last = p.fracture->last_loaded;
    put(v, key::sigma_b, p.curve.stress[last] * (last == p.peak ? top : 1));
    if (strained) put(v, nominal(p) ? key::eps_tb : key::eps_b, p.curve.strain[last] - origin);
  }
  if (strained) put(v, key::toe_shift, origin);
  if (t.origin.modulus) {
    put(v, key::e_modulus, t.origin.modulus->slope * (1 + ledger::shift(shifts, "modulus")));
    put(v, key::modulus_r2, t.origin.modulus->line.r2 + ledger::shift(shifts, "r2"));
  }
  if (const auto x = r.fields.number("settings.at_strain"); x && strained)
    put(v, key::sigma_x, p.stress_at(*x + origin));
  return v;
}

std::vector<ResultSpec> specs(const TestRecord&) {
  return {
      ledger::spec_of(key::e_modulus, "E_t", D::modulus, R::other, 3, true),
      ledger::spec_of(key::sigma_y, "σ_y", D::stress, R::other, 3, true),
      ledger::spec_of(key::eps_y, "ε_y", D::elongation, R::other, 2, true),
      ledger::spec_of(key::sigma_m, "σ_m", D::stress, R::other, 3, true),
      ledger::spec_of(key::eps_m, "ε_m", D::elongation, R::other, 2, true),
      ledger::spec_of(key::sigma_b, "σ_b", D::stress, R::other, 3, true),
      ledger::spec_of(key::eps_b, "ε_b", D::elongation, R::other, 2, true),
      ledger::spec_of(key::eps_tb, "ε_tb", D::elongation, R::other, 2, true),
      ledger::spec_of(key::sigma_x, "σ_x", D::stress, R::other, 3, true),
      ledger::spec_of(key::fm, "F_m", D::force, R::other, 4, false, true),
      ledger::spec_of(key::area, "A", D::area, R::other, 4, false, true),
      ledger::spec_of(key::toe_shift, "ε_0", D::strain, R::other, 2, false),
      ledger::spec_of(key::modulus_r2, "R²", D::none, R::other, 6, false),
      ledger::spec_of(key::build, "build", D::none, R::other, 0, false),
  };
}

std::vector<Step> how(const std::string& key, const TestRecord& r, const Test& t, const Values& v) {
  const Pulled& p = t.pulled;
  const Section& section = t.section;
  std::vector<Step> steps;
  const ledger::AddStep add{steps};
  const std::string source = "strain from " + p.curve.source_text;
  auto stress = [&](const char* name, const std::string& where) {
    steps = section.how;
    add(std::string(name) + " = F/A", si(get(v, key) * section.area, D::force) + " / " + si(section.area, D::area),
        get(v, key), D::stress, where);
  };
  if (key == key::area) steps = section.how;
  if (key == key::fm) add("F_m", "largest force", get(v, key), D::force);
  if (key == key::sigma_m) stress("σ_m", "largest force of the run");
  if (key == key::sigma_y) stress("σ_y", "first zero slope: force falls while the strain goes on");
  if (key == key::sigma_b) stress("σ_b", "last sample before the break");
  if (key == key::sigma_x)
    stress("σ_x", "at " + si(r.fields.number("settings.at_strain").value_or(0), D::elongation) + " strain");
  if (key.compare(0, 3, "eps") == 0)
    add("ε = ΔL/L₀",
        key == key::eps_tb ? "grip separation " + si(length_of(r), D::length) + ", nominal" : "at that sample",
        get(v, key), D::elongation, source);
  if (key == key::e_modulus) {
    const double from = from_of(r), to = to_of(r), origin = t.origin.strain;
    const bool line = r.fields.text("settings.modulus.school") == "line";
    add(line ? "E = Σ(ε−ε̄)(σ−σ̄)/Σ(ε−ε̄)²" : "E = (σ₂ − σ₁)/(ε₂ − ε₁)",
        line ? "samples between " + si(from, D::strain, 3) + " and " + si(to, D::strain, 3)
             : "(" + si(p.stress_at(origin + to), D::stress) + " − " + si(p.stress_at(origin + from), D::stress) +
                   ")/(" + si(to, D::strain, 3) + " − " + si(from, D::strain, 3) + ")",
        get(v, key), D::modulus,
        "ISO 527-1; strains from " + std::string(toe_school(r).preload ? "the prestress; " : "the corrected origin; ") +
            source);
  }
  if (key == key::toe_shift) steps.push_back(toe_step(t.origin, toe_school(r), get(v, key)));
  if (key == key::modulus_r2) add("R² = 1 − SS_res/SS_tot", "samples of the modulus part", get(v, key), D::none);
  return steps;
}

void add_findings(Evaluation& e, const TestRecord& r, const Test& t, const Values& v) {
  const Pulled& p = t.pulled;
  dimension_findings(t.section.dims, e.findings);
  const bool planned_by_travel = !r.fields.number("specimen.extensometer_length") &&
                                 (r.run.samples() == nullptr || r.run.samples()->find("strain") == nullptr);
  pulled_findings(e, r, p, key::sigma_m, "tension", planned_by_travel, key::e_modulus);
  if (p.empty()) return;
  if (!p.fracture) censored_note(e, r, key::sigma_m);
  const bool clip = p.curve.source == StrainSource::extensometer;
  double largest = 0;
  const size_t on = std::min(p.end, p.curve.removed_index);  // as long as it was on
  for (size_t i = 0; i < on; ++i)
    if (p.curve.strain[i] > largest) largest = p.curve.strain[i];  // what is missing is not
  const double expected = r.fields.number("settings.expected_elongation").value_or(0);
  const bool stayed = p.curve.removed_index >= p.end;
  if (clip && (largest > 0.5 || (stayed && expected > 0.5)))
    raise(e, "extensometer-unsuited", Severity::check,
          "A clip-on extensometer was used where the strain goes " +
              std::string(largest > 0.5 ? "to " + ledger::percent(largest, 3) : "beyond 50 %") +
              "; its blades slip or cut beyond about 50 %. Use nominal strain from the grip separation.",
          {{"strain", std::max(largest, expected)}}, {}, key::eps_b);
  const auto m = usual_of(r, "specimen.material");
  if (m && m->values.count("e_modulus") && v.count(key::e_modulus) && p.curve.source != StrainSource::crosshead) {
    const ReferenceValue& usual = m->values.at("e_modulus");
    const double modulus = get(v, key::e_modulus);
    if (modulus < (1 - kModulusOff) * usual.low || modulus > (1 + kModulusOff) * usual.high)
      raise(e, "modulus-unlikely", Severity::check,
            "E is " + si(modulus, D::modulus, 3) + "; " + m->name + " usually lies between " +
                si(usual.low, D::modulus, 3) + " and " + si(usual.high, D::modulus, 3) + ".",
            {{"e_modulus", modulus}}, {}, key::e_modulus);
  }
  if (!v.count(key::e_modulus) && p.curve.source != StrainSource::none)
    raise(e, "modulus-missing", Severity::note,
          "The curve does not hold the strains between which the modulus is taken.", {}, {}, key::e_modulus);
  const ToeSchool school = toe_school(r);
  if (p.strained() && !school.preload) toe_finding(e, p.curve.source, get(v, key::toe_shift));
  prestress_finding(e, t.origin, school, key::e_modulus);
  for (const char* path : {"conditions.temperature", "conditions.humidity", "conditions.hours"})
    if (!r.fields.number(path)) {
      raise(
          e, "conditions-missing", Severity::note,
          "Temperature, humidity and hours of conditioning belong to every result of a plastic; not all are entered.");
      break;
    }
}

void add_inputs(const TestRecord& r, const Test& t, std::vector<UncertainInput>& out) {
  curve_inputs(r, t.pulled.curve, out);
  if (!t.pulled.empty()) peak_input(t.pulled.curve.force, t.pulled.peak, t.pulled.end, out);
  section_inputs(t.section, r.fields.number("equipment.caliper.resolution").value_or(0), out);
  if (t.pulled.strained() && t.top.standard > 0)
    out.push_back({"top", "place of the maximum on its flat top", t.top.standard});
  if (t.yield && t.yield_top.standard > 0 && t.yield_top.stretch.first != t.top.stretch.first)
    out.push_back({"yield_top", "place of the yield point on its flat top", t.yield_top.standard});
  if (!t.origin.modulus) return;
  const ModulusFit& m = *t.origin.modulus;
  ledger::straightness_inputs(m.line, out);
  if (m.error > 0) out.push_back({"modulus", "fit of the modulus", m.error / m.slope, UncertainInput::Shape::normal});
  if (m.toe_error > 0) out.push_back({"toe", "foot of the modulus line", m.toe_error, UncertainInput::Shape::normal});
}

void add_words(Evaluation& e, const TestRecord& r, const Test& t, const Values&) {
  for (ResultValue& x : e.results)
    if (x.spec.key.compare(0, 3, "eps") == 0 || x.spec.key == key::e_modulus) x.source = t.pulled.curve.source_text;
  std::string build;
  for (const auto& [path, word] : {std::pair{"specimen.print.direction", "direction "},
                                   {"specimen.print.layer", "layer "},
                                   {"specimen.print.infill", "infill "}}) {
    const FieldValue* x = r.fields.find(path);
    if (x == nullptr) continue;
    const auto* reading = std::get_if<Reading>(x);
    const auto* text = std::get_if<std::string>(x);
    const std::string typed = text != nullptr ? *text : reading != nullptr ? reading->typed : std::string();
    if (!typed.empty()) build += (build.empty() ? "" : ", ") + std::string(word) + typed;
  }
  ledger::add_text(e, specs(r), key::build, build, {{"entered at Prepare", build, 0, D::none, "groups the series"}});
  if (t.pulled.fracture) return;
  for (const char* key : {key::sigma_m, key::fm, key::eps_m})
    if (ResultValue* x = e.find(key); x != nullptr) x->censored = Censoring{true, 0, 0};
}

void add_figures(Evaluation& e, const TestRecord& r, const Test& t, const Values& v) {
  const Pulled& p = t.pulled;
  if (p.empty()) return;
  const double origin = t.origin.strain;
  CurveSheet sheet = pulled_sheet(p, origin, t.origin.modulus ? 4 * t.origin.modulus->to : 0);
  auto& out = sheet.constructions;
  using Kind = Construction::Kind;
  if (t.origin.modulus) {
    const ModulusFit& m = *t.origin.modulus;
    const double top = 2.4 * m.to;
    sheet.lens_caption = "window " + plain_number(100 * m.from, 3) + " to " + plain_number(100 * m.to, 3) + " % · R² " +
                         fixed(std::floor(m.line.r2 * 1e5) / 1e5, 5);
    const Point from{m.from, m.slope * m.from}, to{m.to, m.slope * m.to};
    Construction window{Kind::window, key::e_modulus, "modulus part", {from, to}, {}};
    window.handles =
        window_handles({"settings.modulus.from_strain", "settings.modulus.to_strain", D::elongation}, from, to);
    out.push_back(std::move(window));
    out.push_back({Kind::line, key::e_modulus, "E", {{0, 0}, {top, m.slope * top}}, {}});
  }
  auto point = [&](const char* key, const char* strain, const char* label, bool always) {
    if (v.count(key) && v.count(strain))
      out.push_back({Kind::point, key, label, {{get(v, strain), get(v, key)}}, {}, always});
  };
  point(key::sigma_y, key::eps_y, "σy", true);
  if (!v.count(key::sigma_y)) point(key::sigma_m, key::eps_m, "σm", true);
  if (const auto at = r.fields.number("settings.at_strain"); at && v.count(key::sigma_x)) {
    const Point place{*at, get(v, key::sigma_x)};
    out.push_back({Kind::point,
                   key::sigma_x,
                   "σx",
                   {place},
                   {place_handle("settings.at_strain", place, D::elongation, "strain asked for")},
                   true});
  }
  if (p.fracture && p.strained())
    out.push_back({Kind::marker,
                   key::sigma_b,
                   "break",
                   {{sheet.x[p.fracture->last_loaded], sheet.y[p.fracture->last_loaded]}},
                   {}});
  e.figures.push_back(std::move(sheet).figure(e));
}

}  // namespace
}  // namespace fortitor::plastic

namespace fortitor::methods {

const Method& tension_plastic() {
  static const Method method = [] {
    Parts<plastic::Test> parts;
    parts.describe = plastic::describe;
    parts.results = plastic::specs;
    parts.look = plastic::look;
    parts.compute = plastic::compute;
    parts.how = plastic::how;
    parts.inputs = plastic::add_inputs;
    parts.thin = plastic::thin;
    parts.words = plastic::add_words;
    parts.findings = plastic::add_findings;
    parts.figures = plastic::add_figures;
    parts.plan = plastic::plan;
    return method_of("tension-plastic", "ISO 527-1, ISO 527-2, ASTM D638", parts);
  }();
  return method;
}

}  // namespace fortitor::methods
