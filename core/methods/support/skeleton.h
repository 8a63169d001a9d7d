// The one skeleton of a method: describe (fields, stages, guides), look at the record, compute, results with How,
// findings, figures, plan. A method fills in the parts; this makes evaluate and the budget of them.
#pragma once

#include <memory>
#include <vector>

#include "core/methods/support/fields.h"
#include "core/methods/support/ledger.h"
#include "core/methods/support/recording.h"

namespace fortitor {

/// `State`: what looking at the record gives once (cleaned curve, landmarks) and every other part rests on.
template <class State>
struct Parts {
  std::string id = {};  ///< of the method; set by method_of
  /// Fields, channels, tables, equipment, stages, sketches, plan.
  void (*describe)(Method&) = nullptr;
  /// Results in the order of the ledger; what a record asks for may add some.
  std::vector<ResultSpec> (*results)(const TestRecord&) = nullptr;
  /// Spec of any key the method may report; by default one of results({}).
  std::optional<ResultSpec> (*result)(const std::string& key) = nullptr;
  State (*look)(const TestRecord&) = nullptr;
  /// Every number by result key, under the shifts of a budget; absent keys could not be computed.
  Values (*compute)(const TestRecord&, const State&, const Shifts&) = nullptr;
  std::vector<Step> (*how)(const std::string& key, const TestRecord&, const State&, const Values&) = nullptr;
  /// Inputs of the budget. May add terms of its own to the evaluation's keys through Values under shifts.
  void (*inputs)(const TestRecord&, const State&, std::vector<UncertainInput>&) = nullptr;
  /// The same state on fewer samples, for budgets; by default the state itself.
  State (*thin)(const TestRecord&, const State&) = nullptr;
  /// Results in words, sources, what is known only as a bound.
  void (*words)(Evaluation&, const TestRecord&, const State&, const Values&) = nullptr;
  void (*findings)(Evaluation&, const TestRecord&, const State&, const Values&) = nullptr;
  void (*figures)(Evaluation&, const TestRecord&, const State&, const Values&) = nullptr;
  /// Other choices and what they would give.
  void (*alternatives)(Evaluation&, const TestRecord&, const State&) = nullptr;
  Plan (*plan)(const TestRecord&) = nullptr;
  /// Keys compared with and without rows that a person marked doubtful.
  std::vector<std::string> doubted = {};
  /// Keys that say how good a fit is and have no uncertainty of their own.
  std::vector<std::string> no_budget = {};
};

namespace skeleton {

template <class State>
UncertaintyModel model(const Parts<State>& parts, const TestRecord& record, const State& state) {
  UncertaintyModel m;
  if (parts.inputs == nullptr) return m;
  const auto held = std::make_shared<State>(parts.thin != nullptr ? parts.thin(record, state) : state);
  parts.inputs(record, state, m.inputs);
  m.values = [held, record, compute = parts.compute, drop = parts.no_budget](const Shifts& shifts) {
    Values v = compute(record, *held, shifts);
    for (const std::string& key : drop) v.erase(key);
    return v;
  };
  return m;
}

/// What a record may report, each result with its name.
template <class State>
std::vector<ResultSpec> results(const Parts<State>& parts, const TestRecord& record) {
  std::vector<ResultSpec> specs = parts.results(record);
  for (ResultSpec& s : specs) ledger::name_result(s, parts.id);
  return specs;
}

template <class State>
Evaluation evaluate(const Parts<State>& parts, const TestRecord& record, const EvaluateOptions& options) {
  Evaluation e;
  const State state = parts.look(record);
  const Values values = parts.compute(record, state, {});
  const std::vector<ResultSpec> specs = results(parts, record);
  ledger::add_results(e, specs, values, [&](const std::string& key) { return parts.how(key, record, state, values); });
  if (parts.words != nullptr) parts.words(e, record, state, values);
  for (ResultValue& r : e.results) ledger::name_result(r.spec, parts.id);
  if (options.uncertainty && !values.empty()) attach_budgets(e, model(parts, record, state));
  parts.findings(e, record, state, values);
  if (!parts.doubted.empty())
    ledger::doubtful_finding(e, record, specs, parts.doubted,
                             [&](const TestRecord& r) { return parts.compute(r, parts.look(r), {}); });
  parts.figures(e, record, state, values);
  if (options.uncertainty && parts.alternatives != nullptr) parts.alternatives(e, record, state);
  return e;
}

}  // namespace skeleton

/// The method of these parts.
template <class State>
Method method_of(std::string id, std::string standard, Parts<State> parts) {
  Method m;
  m.id = id;
  parts.id = std::move(id);
  m.standard = std::move(standard);
  m.result = [parts](const std::string& key) {
    auto spec = parts.result != nullptr ? parts.result(key) : ledger::find_spec(parts.results({}), key);
    if (spec) ledger::name_result(*spec, parts.id);
    return spec;
  };
  m.reported = [parts](const TestRecord& r) { return skeleton::results(parts, r); };
  m.evaluate = [parts](const TestRecord& r, const EvaluateOptions& o) { return skeleton::evaluate(parts, r, o); };
  m.uncertainty = [parts](const TestRecord& whole) {
    std::vector<Spike> spikes;
    const TestRecord r = without_spikes(whole, spikes);
    return skeleton::model(parts, r, parts.look(r));
  };
  m.plan = parts.plan;
  parts.describe(m);
  if (!m.channels.empty()) {
    FieldSpec spikes = spike_choice();
    fields::say_field(m, spikes);
    m.fields.push_back(std::move(spikes));
  }
  return m;
}

}  // namespace fortitor
