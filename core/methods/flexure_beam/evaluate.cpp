#include <cmath>

#include "core/methods/flexure_beam/flexure_beam.h"
#include "core/methods/flexure_beam/model.h"
#include "core/methods/support/fields.h"

namespace fortitor::flexure {
namespace {

// What is known of the largest load holds for every result that is proportional to it.
void bound(Evaluation& e, const Bending& b) {
  if (!b.censored) return;
  for (const char* key : {"max_force", "mor", "mor_12", "mor_ratio", "work_to_max"}) {
    ResultValue* r = e.find(key);
    if (r == nullptr) continue;
    const double scale = r->value / b.max_force;
    const bool work = std::string(key) == "work_to_max";  // counted to the last reading only
    r->censored = b.censored->above || work ? Censoring{true, 0, 0}
                                            : Censoring{false, b.censored->from * scale, b.censored->to * scale};
  }
}

Evaluation evaluate(const TestRecord& record, const EvaluateOptions& options) {
  Evaluation e;
  const Bending b = bending_of(record);
  const Values values = compute(record, b, {});
  ledger::add_results(e, specs(), values, [&](const std::string& key) { return how(key, record, b, values); });
  if (options.uncertainty) attach_budgets(e, uncertainty_model(record, b));
  bound(e, b);
  add_findings(e, record, b, values);
  ledger::doubtful_finding(e, record, specs(), {"moe", "pl_force"},
                           [](const TestRecord& r) { return compute(r, bending_of(r), {}); });
  add_constructions(e, record, b, values);
  if (options.uncertainty) add_alternatives(e, record, b);
  return e;
}

}  // namespace
}  // namespace fortitor::flexure

namespace fortitor::methods {

const Method& flexure_beam() {
  static const Method method = [] {
    Method m;
    m.id = "flexure-beam";
    m.name = "Bending of beams";
    m.short_name = "Bending";
    m.standard = "ISO 178, ISO 13061-3/-4, ASTM D143";
    m.fields = flexure::fields();
    m.channels = {{"time", "time", Dimension::time, false},
                  {"force", "load", Dimension::force, true},
                  {"deflection", "deflection", Dimension::length, true}};
    m.schools = flexure::schools();
    m.prepare_sketch = m.run_sketch = "beam";
    m.measure_sketch = "beam-sizes";
    m.after_sketch = "beam-broken";
    m.setup_sketch = "load-path";
    m.standin = "bending-bench";
    m.limit_keys = {"moe", "mor", "pl_stress", "mor_12", "moe_12"};
    m.measure_keys = {"i_moment", "section_modulus", "span_depth"};
    m.after_keys = {"max_force", "mor", "moe"};
    m.series.key = "mor";
    m.result = [](const std::string& key) { return ledger::find_spec(flexure::specs(), key); };
    m.evaluate = flexure::evaluate;
    m.plan = flexure::plan;
    m.uncertainty = [](const TestRecord& r) { return flexure::uncertainty_model(r, flexure::bending_of(r)); };
    flexure::stage_guides(m);
    fields::add_derived(m);
    m.fields.push_back(
        fields::quantity("settings.speed.elastic", "Speed", Dimension::speed, Stage::set_up, "v", "Crosshead."));
    return m;
  }();
  return method;
}

}  // namespace fortitor::methods
