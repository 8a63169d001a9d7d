#include "core/methods/impact_tension/impact_tension.h"

#include <algorithm>
#include <cmath>

#include "core/methods/impact_tension/model.h"
#include "core/methods/support/blows.h"
#include "core/methods/support/skeleton.h"

namespace fortitor::impact_tension {
namespace {

using namespace ledger;
using D = Dimension;

struct State {
  blows::Set set;
  Section section;
};

State look(const TestRecord& record, const Shifts& shifts) {
  return {blows::set_of(record, shifts), section_of(record.fields, shifts)};
}

double mean(const blows::Set& set) {
  const auto counted = set.counted();
  double sum = 0;
  for (const blows::Blow* b : counted) sum += b->energy;
  return counted.empty() ? NAN : sum / double(counted.size());
}

Values compute(const TestRecord& record, const State&, const Shifts& shifts) {
  const State s = look(record, shifts);
  Values v;
  const double energy = mean(s.set) * (1 + shift(shifts, "scatter"));
  put(v, key::available, s.set.available);
  put(v, key::energy, energy);
  if (s.section.area > 0) put(v, key::kt, energy / s.section.area * 100);  // J/mm² as J/cm²
  double least = HUGE_VAL;
  for (const blows::Blow* b : s.set.counted()) least = std::min(least, b->energy);
  put(v, key::energy_min, least);
  return v;
}

std::vector<ResultSpec> specs(const TestRecord&) {
  std::vector<ResultSpec> out;
  auto add = [&](auto&&... of) { out.push_back(ledger::spec_of(of...)); };
  add(key::kt, "KT", D::impact_area, true, 3);
  add(key::energy, "K", D::energy, true, 3);
  add(key::energy_min, "K_min", D::energy, false, 3);
  add(key::available, "K_p", D::energy, false, 3);
  add(key::arrangement, "", D::none, true, 3, true);
  return out;
}

std::vector<Step> how(const std::string& key, const TestRecord&, const State& s, const Values& values) {
  const double value = get(values, key);
  if (key == key::kt) {
    std::vector<Step> steps = s.section.how;
    steps.push_back({"KT = K/S₀",
                     si(get(values, key::energy), D::energy, 4) + " / " + significant(s.section.area, 4) + " mm²",
                     value, D::impact_area, "mean of the set over the section"});
    return steps;
  }
  if (key == key::energy)
    return {{"K = ΣK/n", "n = " + std::to_string(s.set.counted().size()) + " blows that count", value, D::energy, ""}};
  if (key == key::energy_min) return {{"least of the set", "", value, D::energy, ""}};
  return {{"as entered, or m·g·L_p·(1 − cos α)", "", value, D::energy, ""}};
}

void inputs(const TestRecord& record, const State& s, std::vector<UncertainInput>& out) {
  blows::inputs_common(record, s.set, out);
  section_inputs(s.section, record.fields.number("equipment.caliper.resolution").value_or(0), out);
}

bool bounds(const State& s) {
  const auto counted = s.set.counted();
  return std::any_of(counted.begin(), counted.end(), [](const blows::Blow* b) { return b->unbroken; });
}

void words(Evaluation& e, const TestRecord& record, const State& s, const Values&) {
  if (bounds(s))
    for (const char* key : {key::kt, key::energy, key::energy_min})
      if (ResultValue* r = e.find(key)) r->censored = Censoring{true, 0, 0};
  if (e.find(key::energy) == nullptr) return;
  std::string text = "pulled by the hammer, ends screwed into hammer and cross-piece";
  if (const auto t = record.fields.number("specimen.temperature")) text += ", at " + si(*t, D::temperature, 3);
  add_text(e, specs(record), key::arrangement, text,
           {{"no designation is fixed", "the report says how it was done", 0, D::none, ""}});
}

void findings(Evaluation& e, const TestRecord& record, const State& s, const Values&) {
  dimension_findings(s.section.dims, e.findings);
  blows::judge_common(e, record, s.set, key::kt);
  if (bounds(s))
    raise(e, "not-broken", Severity::check, "A piece did not break: its energy is a lower bound, and so is the mean.",
          {}, {}, key::kt);
}

void figures(Evaluation& e, const TestRecord& record, const State& s, const Values&) {
  e.row_values = {blows::energies(s.set)};
  Figure f = blows::figure_of(e, record, s.set, key::energy, key::energy_min);
  if (!f.empty()) e.figures.push_back(std::move(f));
}

}  // namespace
}  // namespace fortitor::impact_tension

namespace fortitor::methods {

const Method& impact_tension() {
  static const Method method = [] {
    using namespace fortitor::impact_tension;
    Parts<State> parts;
    parts.describe = describe;
    parts.results = specs;
    parts.look = [](const TestRecord& r) { return look(r, {}); };
    parts.compute = compute;
    parts.how = how;
    parts.inputs = inputs;
    parts.words = words;
    parts.findings = findings;
    parts.figures = figures;
    parts.doubted = {impact_tension::key::kt};
    return method_of("impact-tension", "ISO 8256", parts);
  }();
  return method;
}

}  // namespace fortitor::methods
