#include "core/methods/proof_load/proof_load.h"

#include <algorithm>
#include <cmath>

#include "core/curve/fit.h"
#include "core/methods/proof_load/model.h"
#include "core/methods/support/skeleton.h"

namespace fortitor::proof {

using namespace ledger;
using D = Dimension;

namespace {

std::string with_index(const char* key, size_t i) {
  return std::string(key) + "_" + std::to_string(i + 1);
}

// Loads after which the piece still opened: with each grade the force it had been under.
double function_limit(const State& s, bool by_tool) {
  double most = NAN;
  for (size_t i = 0; i < s.grades.size(); ++i) {
    const bool opened = s.grades[i] == "free" || (by_tool && s.grades[i] == "by tool");
    // A piece in two opens by hand, and says nothing by it.
    const bool last = i == s.cycles.size() && s.destruction && s.censored;
    const double load = i < s.cycles.size() && !s.cycles[i].broke ? s.cycles[i].curve.top()
                        : last                                    ? s.destruction->top()
                                                                  : NAN;
    if (opened && std::isfinite(load)) most = std::isnan(most) ? load : std::max(most, load);
  }
  return most;
}

double number(const TestRecord& r, const char* path) {
  return r.fields.number(path).value_or(NAN);
}

}  // namespace

Values compute(const TestRecord& record, const State& s, const Shifts& shifts) {
  Values v;
  const double force = 1 + shift(shifts, "force"), travel = 1 + shift(shifts, "travel");
  for (size_t i = 0; i < s.cycles.size(); ++i) {
    const Cycle& c = s.cycles[i];
    put(v, with_index("stiffness", i), c.stiffness * force / travel * (1 + shift(shifts, with_index("fit", i))));
    put(v, with_index("set", i), c.set * travel + shift(shifts, "dial"));
    put(v, with_index("loop", i), c.loop * force * travel + shift(shifts, with_index("loop", i)));
    put(v, with_index("held", i), c.held * force + shift(shifts, with_index("held", i)));
  }
  if (s.any()) {
    const double most = s.largest() * force + shift(shifts, "top");
    put(v, key::force_max, most);
    if (s.rated > 0) put(v, key::design_factor, most / s.rated);
    if (const double price = number(record, "specimen.price"); price > 0)
      put(v, key::price_per_kn, price / (most / 1e3));
    put(v, key::elastic_limit_force, s.elastic_limit * force + shift(shifts, "departure"));
    if (s.destruction) {
      const Curve& d = *s.destruction;
      put(v, key::disp_max, (d.travel[d.peak] - d.travel.front()) * travel + shift(shifts, "top_place"));
      put(v, key::energy_to_break,
          work_under(d.travel, d.force, 0, broke_at(d).value_or(d.peak) + 1) / 1e3 * force * travel);
    }
    put(v, key::function_limit, function_limit(s, false) * force + shift(shifts, "graded"));
    put(v, key::function_limit_tool, function_limit(s, true) * force + shift(shifts, "graded"));
  }
  const Rule rule = rule_of(record.fields.text("specimen.rule.text"), s.rated, s.proof);
  const double required = record.fields.number("specimen.rule.required").value_or(rule.required);
  if (required > 0) put(v, key::required, required);
  const double k =
      record.fields.number("specimen.snatch.stiffness").value_or(s.cycles.empty() ? NAN : s.cycles.back().stiffness);
  const Snatch snatch = snatch_of(number(record, "specimen.snatch.mass"), number(record, "specimen.snatch.speed"),
                                  number(record, "specimen.snatch.distance"), k);
  put(v, key::snatch_mean, snatch.mean);
  put(v, key::snatch_peak, snatch.peak);
  return v;
}

std::vector<ResultSpec> specs(const TestRecord& record) {
  std::vector<ResultSpec> out;
  auto add = [&](auto&&... of) { out.push_back(spec_of(of...)); };
  add(key::force_max, "F_max", D::force, true);
  add(key::design_factor, "F/R", D::none, true, 3);
  add(key::required, "F_req", D::force, true);
  add(key::meets_rule, "", D::none, true);
  add(key::elastic_limit_force, "F_e", D::force, true);
  add(key::disp_max, "x_max", D::length, false, 4, true);
  add(key::energy_to_break, "W", D::energy, true);
  add(key::function_limit, "F_hand", D::force, true);
  add(key::function_limit_tool, "F_tool", D::force, false, 4, true);
  size_t cycles = 0;
  while (record.run.samples("cycles", cycles)) ++cycles;
  if (cycles == 0) cycles = look(record).cycles.size();
  for (size_t i = 0; i < std::max<size_t>(cycles, 1); ++i) {
    const std::string n = std::to_string(i + 1);
    add("stiffness_" + n, "k_" + n, D::stiffness, i < 3);
    add("set_" + n, "s_" + n, D::length, i < 3, 3);
    add("loop_" + n, "W_" + n, D::energy, false, 3, i < 3);
    add("held_" + n, "F_h" + n, D::force, false, 4, i < 3);
  }
  add(key::price_per_kn, "", D::none, false, 3, true);
  add(key::snatch_mean, "F_s", D::force, false, 3, true);
  add(key::snatch_peak, "F_p", D::force, false, 3, true);
  return out;
}

std::vector<Step> how(const std::string& key, const TestRecord& record, const State& s, const Values& v) {
  std::vector<Step> steps;
  const double value = get(v, key);
  const ledger::AddStep add{steps, value};
  const std::string preload = si(s.preload, D::force, 3);
  if (key == key::force_max)
    add("F_max",
        s.broken_cycle  ? "it broke in cycle " + std::to_string(*s.broken_cycle + 1)
        : s.destruction ? "largest force of the destruction"
                        : "largest force of the cycles",
        D::force);
  if (key == key::design_factor)
    add("F_max/rated", si(get(v, key::force_max), D::force) + " / " + si(s.rated, D::force), D::none,
        "the rated load is the maker's, as entered");
  if (key == key::required) {
    const Rule rule = rule_of(record.fields.text("specimen.rule.text"), s.rated, s.proof);
    steps = rule.steps;
    if (record.fields.number("specimen.rule.required"))
      add("as entered", record.fields.text("specimen.rule.text"), D::force, "written by the user");
  }
  if (key == key::elastic_limit_force && s.elastic_picked)
    add("F_e", "picked on the curve", D::force);
  else if (key == key::elastic_limit_force)
    add("x − x_ref = " + plain_number(1 + record.fields.number("settings.departure").value_or(kDeparture), 4) +
            "·(F − F_ref)/k",
        "k of the last cycle, from its own reference point at " + preload, D::force);
  if (key == key::disp_max) add("x at F_max", "from the start of the destruction", D::length);
  if (key == key::energy_to_break)
    add("W = ∫F dx",
        broke_at(*s.destruction) ? "destruction, up to the last reading before it broke" : "destruction, up to F_max",
        D::energy);
  if (key == key::function_limit) add("largest load graded “free”", "", D::force, "checked after unloading");
  if (key == key::function_limit_tool)
    add("largest load graded “free” or “by tool”", "", D::force, "checked after unloading");
  if (key.rfind("stiffness_", 0) == 0)
    add("k = ΔF/Δx", "loading, 40 to 90 % of the cycle's largest force", D::stiffness, "least squares");
  if (key.rfind("set_", 0) == 0) add("x_unloading − x_loading", "both at " + preload, D::length);
  if (key.rfind("loop_", 0) == 0) add("∮F dx", "loading and unloading", D::energy);
  if (key.rfind("held_", 0) == 0) add("F when unloading begins", "", D::force);
  if (key == key::price_per_kn) add("price/F_max", "", D::none, "price as entered, for every kN it carried");
  if (key == key::snatch_mean)
    add("F = m·v²/(2·s)",
        si(number(record, "specimen.snatch.mass"), D::mass, 4) + ", " +
            significant(number(record, "specimen.snatch.speed") / 1e3, 3) + " m/s, " +
            si(number(record, "specimen.snatch.distance"), D::length, 4),
        D::force, "m·v² in J over 2·s in m");
  if (key == key::snatch_peak) {
    const bool spring =
        record.fields.number("specimen.snatch.stiffness") || (!s.cycles.empty() && s.cycles.back().stiffness > 0);
    spring
        ? add("F = v·√(k·m)",
              "linear spring, k " +
                  std::string(record.fields.number("specimen.snatch.stiffness") ? "as entered" : "of the last cycle"),
              D::force)
        : add("F = 2·F_mean", "linear spring over the same distance", D::force);
  }
  return steps;
}

namespace {

void add_inputs(const TestRecord& record, const State& s, std::vector<UncertainInput>& inputs) {
  using Shape = UncertainInput::Shape;
  class_input(record, "equipment.load_cell.class", "force", "force", inputs);
  inputs.push_back({"travel", "displacement, 1 % taken", rectangular(kTravelTaken)});
  double noise = 0, graded = 0;
  for (size_t i = 0; i < s.cycles.size(); ++i) {
    const Cycle& c = s.cycles[i];
    noise = std::max(noise, c.noise);
    graded = std::max(graded, c.curve.lift);
    const std::string of = " of cycle " + std::to_string(i + 1);
    if (c.curve.lift > 0)
      inputs.push_back({with_index("held", i), "noise of the force at the top" + of, c.curve.lift, Shape::normal});
    if (c.loop_error > 0)
      inputs.push_back({with_index("loop", i), "noise round the loop" + of, c.loop_error, Shape::normal});
    if (s.cycles[i].stiffness > 0 && s.cycles[i].stiffness_error > 0)
      inputs.push_back({with_index("fit", i), "fit of the stiffness of cycle " + std::to_string(i + 1),
                        s.cycles[i].stiffness_error / s.cycles[i].stiffness, Shape::normal});
  }
  if (s.destruction) {
    const Curve& d = *s.destruction;
    if (s.censored) graded = std::max(graded, d.lift);
    if (d.top_half > 0)
      inputs.push_back({"top_place", "place of the largest force on its flat top", rectangular(d.top_half)});
  }
  if (const Curve* most = s.strongest(); most != nullptr && most->lift > 0)
    inputs.push_back({"top", "noise of the force at its maximum", most->lift, Shape::normal});
  if (graded > 0) inputs.push_back({"graded", "noise of the force under which it was graded", graded, Shape::normal});
  if (s.elastic_error > 0)
    inputs.push_back({"departure", "noise where it leaves its line", s.elastic_error, Shape::normal});
  if (noise > 0)
    inputs.push_back(
        {"dial", "displacement read twice at the reference preload", noise * std::sqrt(2.0), Shape::normal});
}

}  // namespace

void words(Evaluation& e, const TestRecord& record, const State& s, const Values& v) {
  if (s.any() && s.censored)
    for (const char* key : {key::force_max, key::design_factor, key::disp_max, key::energy_to_break})
      if (ResultValue* r = e.find(key)) r->censored = Censoring{true, 0, 0};
  if (s.any() && s.censored)
    if (ResultValue* r = e.find(key::price_per_kn))
      r->censored = Censoring{false, 0, r->value};  // at most: it carries more
  if (!v.count(key::required) || !v.count(key::force_max)) return;
  const double have = get(v, key::force_max), want = get(v, key::required);
  const bool meets = have >= want;
  const std::string text = meets ? "meets" : s.censored ? "open: it was stopped before" : "fails";
  add_text(e, specs(record), key::meets_rule, text,
           {{si(have, D::force, 4) + (meets ? " ≥ " : " < ") + si(want, D::force, 4),
             si(std::abs(have - want), D::force, 3) + (meets ? " to spare" : " short"), have - want, D::force,
             "rule written by the user; the program rates nothing"}});
}

}  // namespace fortitor::proof

namespace fortitor::methods {

const Method& proof_load() {
  static const Method method = [] {
    Parts<proof::State> parts;
    parts.describe = proof::describe;
    parts.results = proof::specs;
    // Any cycle has its keys, whatever record is at hand.
    parts.result = [](const std::string& key) -> std::optional<ResultSpec> {
      for (const char* base : {"stiffness_", "set_", "loop_", "held_"})
        if (key.rfind(base, 0) == 0 && key.size() > std::string(base).size() &&
            key.find_first_not_of("0123456789", std::string(base).size()) == std::string::npos) {
          auto spec = ledger::find_spec(proof::specs({}), std::string(base) + "1");
          if (!spec) return spec;
          const std::string n = key.substr(std::string(base).size());
          spec->key = key;
          spec->symbol = spec->symbol.substr(0, spec->symbol.size() - 1) + n;
          return spec;
        }
      return ledger::find_spec(proof::specs({}), key);
    };
    parts.look = proof::look;
    parts.compute = proof::compute;
    parts.how = proof::how;
    parts.inputs = proof::add_inputs;
    parts.words = proof::words;
    parts.findings = proof::findings;
    parts.figures = proof::figures;
    parts.plan = proof::plan;
    parts.no_budget = {proof::key::required, proof::key::snatch_mean, proof::key::snatch_peak};
    return method_of("proof-load", "ISO 7500-1", parts);
  }();
  return method;
}

}  // namespace fortitor::methods
