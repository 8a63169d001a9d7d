#include <algorithm>
#include <cmath>

#include "core/methods/support/skeleton.h"
#include "core/methods/tension_metal/model.h"
#include "core/methods/tension_metal/tension_metal.h"
#include "core/statistics/sample.h"

namespace fortitor::tension {
namespace {

constexpr double kMarksRead = 0.1, kHalvesFitted = 0.25;  // mm, half widths, by a caliper at best

constexpr size_t kBudgetSamples = 4000;

bool needs_strain(const std::string& key) {
  static const std::vector<std::string> keys = {
      key::e_modulus, key::rt05,       key::agt,     key::ag,         key::at,        key::a_ext,    key::ae,
      key::n_value,   key::k_strength, key::r_value, key::resilience, key::toughness, key::toe_shift};
  return offset_of_key(key) || std::find(keys.begin(), keys.end(), key) != keys.end();
}

std::vector<double> true_width(const StressCurve& curve) {
  std::vector<double> out;
  out.reserve(curve.lateral.size());
  for (double e : curve.lateral) out.push_back(std::log1p(e));
  return out;
}

Test look(const TestRecord& record) {
  Test t;
  t.in = inputs_of(record, {});
  t.section = section_of(record.fields);
  t.curve = stress_curve(record, t.in);
  t.marks = landmarks_of(t.curve, record);
  t.true_width = true_width(t.curve);
  return t;
}

// The budget sees the same evaluation on a thinned curve with landmarks of its own.
Test thin(const TestRecord& record, const Test& test) {
  if (test.curve.size() <= kBudgetSamples) return test;
  Test t{thinned(test.curve, kBudgetSamples), {}, test.in, test.section};
  t.marks = landmarks_of(t.curve, record);
  t.true_width = true_width(t.curve);
  return t;
}

void add_words(Evaluation& e, const TestRecord& record, const Test& test, const Values& values) {
  const Landmarks& marks = test.marks;
  for (ResultValue& r : e.results) {
    if (needs_strain(r.spec.key)) r.source = test.curve.source_text;
    if (r.spec.key == key::ae && marks.outside) r.source = "crosshead, the band started beyond the blades";
    const bool strength = r.spec.key == key::rm || r.spec.key == key::fm;
    // Without a break the maximum was not seen, and what lies at it is a bound as it is.
    const bool at_maximum = r.spec.key == key::agt || r.spec.key == key::ag;
    if ((strength || at_maximum) && !marks.fracture) r.censored = Censoring{true, r.value, 0};
  }
  // Yield over a strength that is only known from below says nothing: not given.
  if (!marks.fracture) std::erase_if(e.results, [](const ResultValue& r) { return r.spec.key == key::yield_ratio; });
  const auto specs = results(record);
  if (marks.elastic && values.count(offset_key(test.in.offsets.front())) + size_t(marks.yielding.has_value()) > 0)
    ledger::add_text(e, specs, key::yielding, marks.yielding ? "discontinuous" : "continuous",
                     {{"force falls by ≥ 0.5 % after a first maximum", marks.yielding ? "it does" : "it does not", 0,
                       Dimension::none, ""}});
  if (const auto z = values.find(key::z); z != values.end()) {
    const auto a = values.find(key::a);
    const double elongation = a == values.end() ? 0 : a->second;
    const bool brittle = z->second < kBrittleZ && elongation < kBrittleA;
    ledger::add_text(
        e, specs, key::ductility,
        brittle                 ? "brittle"
        : z->second > kDuctileZ ? "ductile"
                                : "moderately ductile",
        {{"from Z and A", "brittle below Z 10 % and A 5 %, ductile above Z 40 %", 0, Dimension::none, ""}});
  }
}

}  // namespace

void add_inputs(const TestRecord& record, const Test& test, std::vector<UncertainInput>& inputs) {
  curve_inputs(record, test.curve, inputs);
  const double resolution = record.fields.number("equipment.caliper.resolution").value_or(0);
  section_inputs(test.section, resolution, inputs);
  const double scale = resolution > 0 ? std::max(resolution, kMarksRead) : kMarksRead;
  for (const auto& [path, label] : {std::pair{"specimen.gauge_length", "gauge length L₀, marks read to "},
                                    std::pair{"specimen.after.gauge_length", "final length L_u, halves fitted to "}}) {
    const bool after = std::string(path).find("after") != std::string::npos;
    const double half = after ? kHalvesFitted : scale;
    if (record.fields.number(path)) inputs.push_back({path, label + significant(half, 2) + " mm", rectangular(half)});
  }
  for (const char* name : {"diameter", "width", "thickness"}) {
    const Dim d = dimension_of(record.fields, std::string("specimen.after.") + name, "", name);
    if (!d.given()) continue;
    const double half = resolution > 0 ? resolution : std::min(d.finest_digit, kMarksRead);
    inputs.push_back({d.path, std::string("neck ") + name + ", " + std::to_string(d.values.size()) + " readings",
                      reading_uncertainty(d.values, half), UncertainInput::Shape::normal, reading_dof(d.values, half)});
  }
  const Landmarks& marks = test.marks;
  const double top = test.curve.size() > 0 ? test.curve.stress[marks.peak] : 0;
  if (marks.stress_noise > 0 && top > 0) {
    const double n = double(marks.top.last - marks.top.first + 1);
    const double lift = statistics::lift_of_largest(n);
    inputs.push_back({"noise_peak", "noise of the force at its maximum, the largest of " + std::to_string(int(n)),
                      lift * marks.stress_noise / top, UncertainInput::Shape::normal});
    if (marks.yield_stress > 0)
      inputs.push_back({"noise_yield", "noise of the force at yield", marks.stress_noise / marks.yield_stress,
                        UncertainInput::Shape::normal});
  }
  if (marks.yielding && marks.yielding->upper > 1) {
    // The point of a sharp maximum lies between two samples: up to as much higher as the stress rose from one to the
    // next on the way to it.
    const auto& r = test.curve.stress;
    const size_t up = marks.yielding->upper;
    const double step = std::max(r[up] - r[up - 1], r[up - 1] - r[up - 2]);
    if (step > 0) inputs.push_back({"sample_yield", "R_eH between two samples", 0.5 * step / r[up]});
  }
  if (marks.top_standard > 0) inputs.push_back({"top", "place of the maximum on its flat top", marks.top_standard});
  Values read;
  const Values values = compute(record, test, {}, &read);
  for (const auto& [key, error] : read) {
    const auto spec = result_spec(key);
    if (error > 0 && values.count(key))
      inputs.push_back({"read:" + key, "reading of the " + (spec ? spec->name : key) + " off the samples", error,
                        UncertainInput::Shape::normal, HUGE_VAL, key});
  }
  if (marks.elastic && marks.fitted) ledger::straightness_inputs(marks.elastic->line, inputs);
  if (marks.elastic && marks.fitted && marks.elastic->line.slope_error > 0)
    inputs.push_back(
        {"modulus", "modulus fit, " + std::to_string(marks.elastic->line.n) + " samples, and the choice of its window",
         std::hypot(marks.elastic->line.slope_error / marks.elastic->line.slope, marks.elastic->spread),
         UncertainInput::Shape::normal});
}

static Values numbers(const TestRecord& record, const Test& test, const Shifts& shifts) {
  return compute(record, test, shifts, nullptr);
}

}  // namespace fortitor::tension

namespace fortitor::methods {

const Method& tension_metal() {
  static const Method method = [] {
    Parts<tension::Test> parts;
    parts.describe = tension::describe;
    parts.results = tension::results;
    parts.result = tension::result_spec;
    parts.look = tension::look;
    parts.compute = tension::numbers;
    parts.how = tension::how;
    parts.inputs = tension::add_inputs;
    parts.thin = tension::thin;
    parts.words = tension::add_words;
    parts.findings = tension::add_findings;
    parts.figures = tension::add_figures;
    parts.plan = tension::plan;
    return method_of("tension-metal", "ISO 6892-1, ASTM E8/E8M", parts);
  }();
  return method;
}

}  // namespace fortitor::methods
