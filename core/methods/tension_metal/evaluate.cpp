#include <algorithm>
#include <cmath>
#include <cstdlib>

#include "core/methods/support/fields.h"
#include "core/methods/tension_metal/model.h"
#include "core/methods/tension_metal/tension_metal.h"

namespace fortitor::tension {
namespace {

constexpr size_t kBudgetSamples = 4000;

// Results in the order of the ledger, proof strengths after the yield strengths.
std::vector<std::string> ledger_order(const Inputs& in) {
  std::vector<std::string> keys = {"e_modulus", "reh", "rel"};
  for (double offset : in.offsets) keys.push_back(offset_key(offset));
  for (const char* k : {"rt05",
                        "rm",
                        "a",
                        "z",
                        "agt",
                        "ag",
                        "at",
                        "a_ext",
                        "ae",
                        "a_equiv",
                        "yield_ratio",
                        "n_value",
                        "k_strength",
                        "r_value",
                        "resilience",
                        "toughness",
                        "fm",
                        "area",
                        "proportional_length",
                        "toe_shift",
                        "modulus_from",
                        "modulus_to",
                        "modulus_r2",
                        "modulus_slope_error",
                        "stress_rate",
                        "strain_rate",
                        "strain_rate_rm"})
    keys.push_back(k);
  return keys;
}

bool needs_strain(const std::string& key) {
  static const std::vector<std::string> keys = {"e_modulus",  "rt05",      "agt",      "ag",         "at",
                                                "a_ext",      "ae",        "n_value",  "k_strength", "r_value",
                                                "resilience", "toughness", "toe_shift"};
  return offset_of_key(key) || std::find(keys.begin(), keys.end(), key) != keys.end();
}

void add_text(Evaluation& e, const char* key, std::string text, std::vector<Step> how) {
  ResultValue r;
  r.spec = *result_spec(key);
  r.text = std::move(text);
  r.how = std::move(how);
  e.results.push_back(std::move(r));
}

double class_of(const TestRecord& record, const char* path, double otherwise) {
  const std::string text = record.fields.text(path);
  return text.empty() ? otherwise : std::strtod(text.c_str(), nullptr);
}

std::string class_text(double c) {
  return c == std::floor(c) ? fixed(c, 0) : significant(c, 1);
}

}  // namespace

UncertaintyModel uncertainty_model(const TestRecord& record, const Curve& curve) {
  UncertaintyModel model;
  const double cell = class_of(record, "equipment.load_cell.class", 1);
  const std::string assumed = record.fields.text("equipment.load_cell.class").empty() ? " (assumed)" : "";
  model.inputs.push_back({"force", "force, class " + class_text(cell) + assumed, rectangular(cell / 100)});
  if (curve.source == StrainSource::extensometer || curve.source == StrainSource::gauge) {
    const double ext = class_of(record, "equipment.extensometer.class", 1);
    const std::string e_assumed = record.fields.text("equipment.extensometer.class").empty() ? " (assumed)" : "";
    model.inputs.push_back({"extension", "extension, class " + class_text(ext) + e_assumed, rectangular(ext / 100)});
  } else if (curve.source != StrainSource::none) {
    model.inputs.push_back({"extension", "crosshead travel over parallel length, 5 % taken", rectangular(0.05)});
  }
  const double resolution = record.fields.number("equipment.caliper.resolution").value_or(0);
  section_inputs(section_of(record.fields), resolution, model.inputs);
  const double scale = resolution > 0 ? std::max(resolution, 0.1) : 0.1;
  for (const auto& [path, label] : {std::pair{"specimen.gauge_length", "gauge length L₀, marks read to "},
                                    std::pair{"specimen.after.gauge_length", "final length L_u, halves fitted to "}}) {
    const bool after = std::string(path).find("after") != std::string::npos;
    const double half = after ? 0.25 : scale;
    if (record.fields.number(path))
      model.inputs.push_back({path, label + significant(half, 2) + " mm", rectangular(half)});
  }
  for (const char* name : {"diameter", "width", "thickness"}) {
    const Dim d = dimension_of(record.fields, std::string("specimen.after.") + name, "", name);
    if (!d.given()) continue;
    const double half = resolution > 0 ? resolution : std::min(d.finest_digit, 0.1);
    model.inputs.push_back({d.path, std::string("neck ") + name + ", " + std::to_string(d.values.size()) + " readings",
                            reading_uncertainty(d.values, half), UncertainInput::Shape::normal});
  }
  // The budget sees the same evaluation on a thinned curve with its landmarks held.
  const Inputs plain = inputs_of(record, {});
  auto small = std::make_shared<Curve>(thinned(curve, kBudgetSamples));
  auto marks = std::make_shared<Landmarks>(landmarks_of(*small, record, plain));
  if (marks->elastic && marks->fitted && marks->elastic->line.slope_error > 0)
    model.inputs.push_back({"modulus", "modulus fit, " + std::to_string(marks->elastic->line.n) + " samples",
                            marks->elastic->line.slope_error / marks->elastic->line.slope,
                            UncertainInput::Shape::normal});
  model.values = [small, marks, record](const Shifts& shifts) {
    return compute(*small, *marks, inputs_of(record, shifts), record);
  };
  return model;
}

UncertaintyModel uncertainty(const TestRecord& record) {
  return uncertainty_model(record, curve_of(record, inputs_of(record, {})));
}

static Evaluation evaluate(const TestRecord& record, const EvaluateOptions& options) {
  Evaluation e;
  const Inputs in = inputs_of(record, {});
  const Section section = section_of(record.fields);
  const Curve curve = curve_of(record, in);
  const Landmarks marks = landmarks_of(curve, record, in);
  const Values values = compute(curve, marks, in, record);
  for (const std::string& key : ledger_order(in)) {
    const auto it = values.find(key);
    if (it == values.end() || !std::isfinite(it->second)) continue;
    ResultValue r;
    r.spec = *result_spec(key);
    r.value = it->second;
    if (needs_strain(key)) r.source = curve.source_text;
    const bool strength = key == "rm" || key == "fm";
    if (strength && !marks.fracture) r.censored = Censoring{true, r.value, 0};
    r.how = how(key, record, curve, marks, in, values, section);
    e.results.push_back(std::move(r));
  }
  if (marks.elastic && values.count(offset_key(in.offsets.front())) + size_t(marks.yielding.has_value()) > 0)
    add_text(e, "yielding", marks.yielding ? "discontinuous" : "continuous",
             {{"force falls by ≥ 0.5 % after a first maximum", marks.yielding ? "it does" : "it does not", 0,
               Dimension::none, ""}});
  if (const auto z = values.find("z"); z != values.end()) {
    const auto a = values.find("a");
    const double elongation = a == values.end() ? 0 : a->second;
    const bool brittle = z->second < 0.10 && elongation < 0.05;
    add_text(e, "ductility",
             brittle           ? "brittle"
             : z->second > 0.4 ? "ductile"
                               : "moderately ductile",
             {{"from Z and A", "brittle below Z 10 % and A 5 %, ductile above Z 40 %", 0, Dimension::none, ""}});
  }
  if (options.uncertainty && (curve.size() >= 3 || values.count("a") + values.count("z") + values.count("area") > 0))
    attach_budgets(e, uncertainty_model(record, curve));
  add_findings(e, record, curve, marks, in, values);
  add_constructions(e, curve, marks, in, values);
  return e;
}

}  // namespace fortitor::tension

namespace fortitor::methods {

const Method& tension_metal() {
  static const Method method = [] {
    Method m;
    m.id = "tension-metal";
    m.name = "Tension of metals";
    m.short_name = "Tension";
    m.standard = "ISO 6892-1, ASTM E8/E8M";
    m.fields = tension::fields();
    m.channels = {{"time", "time", Dimension::time, true},
                  {"force", "force", Dimension::force, true},
                  {"extension", "extension", Dimension::length, false},
                  {"strain", "strain", Dimension::strain, false},
                  {"strain_lateral", "lateral strain", Dimension::strain, false},
                  {"crosshead", "crosshead travel", Dimension::length, false}};
    m.schools = tension::schools();
    m.prepare_sketch = "tagged-bar";
    m.measure_sketch = "bar";
    m.after_sketch = "halves";
    m.setup_sketch = "load-path";
    m.run_sketch = "frame";
    m.standin = "universal-frame";
    m.limit_keys = {"reh", "rp02", "rm", "a", "z", "e_modulus", "yield_ratio"};
    m.measure_keys = {"area", "proportional_length"};
    m.after_keys = {"a", "z", "a_equiv"};
    m.series.key = "rm";
    m.result = tension::result_spec;
    m.evaluate = tension::evaluate;
    m.plan = tension::plan;
    m.uncertainty = tension::uncertainty;
    tension::stage_guides(m);
    fields::add_standin(m);
    return m;
  }();
  return method;
}

}  // namespace fortitor::methods
