// What a proof load is judged by.
#include <algorithm>
#include <cmath>

#include "core/methods/proof_load/model.h"

namespace fortitor::proof {

using namespace ledger;
using D = Dimension;

namespace {

constexpr double kOtherRule = 0.01;     // of what the rule gives: an entered load further off is another one
constexpr double kOverFixture = 1.001;  // of its limit: the last digit of the force is no excess
constexpr double kReached = 0.98;       // of the proof load
constexpr double kSoftened = 0.1;       // change of the stiffness from the second cycle on

}  // namespace

void findings(Evaluation& e, const TestRecord& record, const State& s, const Values& v) {
  const Fields& f = record.fields;
  const std::string rule_text = f.text("specimen.rule.text");
  const Rule rule = rule_of(rule_text, s.rated, s.proof);
  const auto typed = f.number("specimen.rule.required");
  if (!rule_text.empty() && !rule.problem.empty() && !typed)
    raise(e, "rule-unclear", Severity::check,
          "The rule “" + rule_text + "” could not be worked out: " + rule.problem + ".", {}, {}, key::required);
  if (typed && rule.problem.empty() && std::abs(*typed / rule.required - 1) > kOtherRule)
    raise(e, "rule-arithmetic", Severity::check,
          "The rule “" + rule_text + "” gives " + si(rule.required, D::force) + "; entered are " +
              si(*typed, D::force) + ", a factor of " +
              significant(std::max(*typed / rule.required, rule.required / *typed), 3) +
              ". Look for a slip by ten, or kgf against kN.",
          {{"worked_out", rule.required}, {"entered", *typed}}, {}, key::required);
  if (!s.any()) return;
  run_findings(e, record, s.facts, key::force_max);
  if (s.broken_cycle)
    raise(e, "broke-in-cycle", Severity::check,
          "The piece broke in cycle " + std::to_string(*s.broken_cycle + 1) + " at " + si(s.largest(), D::force, 4) +
              (s.proof > 0 ? ", with " + si(s.proof, D::force, 3) + " to be held" : std::string()) +
              ": that is what it carries, whatever it held before.",
          {{"force", s.largest()}, {"cycle", double(*s.broken_cycle + 1)}}, {}, key::force_max);
  std::string open, lost;
  for (size_t i = 0; i < s.cycles.size(); ++i)
    if (!s.cycles[i].broke && !s.cycles[i].travel_lost && !s.cycles[i].unloaded)
      open += (open.empty() ? "" : ", ") + std::to_string(i + 1);
  for (size_t i = 0; i < s.cycles.size(); ++i)
    if (s.cycles[i].travel_lost) lost += (lost.empty() ? "" : ", ") + std::to_string(i + 1);
  if (!lost.empty())
    raise(e, "travel-lost", Severity::check,
          "In cycle " + lost +
              " the force fell and the travel did not go back, and yet the piece carried on: the travel was "
              "lost, not the piece. Stiffness, set and loop of it are not given.",
          {}, {}, key::force_max);
  if (!open.empty())
    raise(e, "not-unloaded", Severity::check,
          "The recording of cycle " + open +
              " ends under load: no loop is closed, and what did not come back is not known. "
              "Neither is given.",
          {}, {}, "loop_1");
  if (s.fixture > 0 && s.largest() > s.fixture * kOverFixture)
    raise(e, "fixture-over", Severity::check,
          "The force reached " + si(s.largest(), D::force, 4) + ", above the fixture's limit of " +
              si(s.fixture, D::force, 3) + ": look the whole load path over before it is used again.",
          {{"force", s.largest()}}, {}, key::force_max);
  if (const auto picked = record.fields.number("settings.elastic_limit");
      picked && !s.elastic_picked && std::isfinite(s.elastic_limit))
    raise(e, "pick-outside", Severity::check,
          "The force of " + si(*picked, D::force, 4) +
              " picked for leaving the line is none that the destruction went through: the departure says where.",
          {{"force", *picked}}, {}, key::elastic_limit_force);
  if (s.censored && s.destruction)
    raise(e, "censored", Severity::note,
          "The destruction was stopped at " + si(s.destruction->top(), D::force, 4) +
              " before the piece broke: its load is a lower bound.",
          {}, {}, key::force_max);
  for (size_t i = 0; i < s.cycles.size(); ++i)
    if (s.proof > 0 && !s.cycles[i].broke && s.cycles[i].curve.top() < kReached * s.proof)
      raise(e, "proof-not-reached", Severity::check,
            "Cycle " + std::to_string(i + 1) + " reached " + si(s.cycles[i].curve.top(), D::force, 4) + " of the " +
                si(s.proof, D::force, 3) + " asked for.",
            {{"force", s.cycles[i].curve.top()}}, {}, key::force_max);
  // From the second cycle on a sound piece is a spring: the first may seat.
  if (s.cycles.size() >= 2) {
    const double first = s.cycles[s.cycles.size() > 2 ? 1 : 0].stiffness, last = s.cycles.back().stiffness;
    if (std::abs(last / first - 1) > kSoftened)
      raise(e, "stiffness-departure", Severity::check,
            "The stiffness went from " + si(first, D::stiffness, 3) + " to " + si(last, D::stiffness, 3) + ", " +
                percent(std::abs(last / first - 1)) + (last < first ? " less" : " more") +
                ": something gives or binds.",
            {{"first", first}, {"last", last}}, {}, "stiffness_" + std::to_string(s.cycles.size()));
    if (const double a = s.cycles.front().set, b = s.cycles.back().set; std::isfinite(a) && b > std::max(0.05, 1.5 * a))
      raise(e, "set-grows", Severity::check,
            "What does not come back grows from cycle to cycle (" + si(a, D::length, 2) + ", then " +
                si(b, D::length, 2) + "): the piece does not settle.",
            {{"first", a}, {"last", b}}, {}, "set_" + std::to_string(s.cycles.size()));
  }
  for (size_t i = 0; i < std::min(s.grades.size(), s.cycles.size()); ++i) {
    if (s.grades[i] == "free") continue;
    raise(e, "function-lost", Severity::check,
          "After cycle " + std::to_string(i + 1) + " to " + si(s.cycles[i].curve.top(), D::force, 3) + " it opened " +
              (s.grades[i] == "stuck" ? "not at all." : "only by tool."),
          {}, {}, key::function_limit);
    break;
  }
  if (!s.cycles.empty() && s.grades.size() < s.cycles.size())
    raise(e, "function-unchecked", Severity::note,
          std::to_string(s.cycles.size() - s.grades.size()) + " of " + std::to_string(s.cycles.size()) +
              " cycles have no grade of function.",
          {}, {}, key::function_limit);
  (void)v;
}

}  // namespace fortitor::proof
