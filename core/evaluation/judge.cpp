#include "core/evaluation/judge.h"

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

int rank(Verdict v) {
  switch (v) {
    case Verdict::void_test: return 5;
    case Verdict::fails: return 4;
    case Verdict::open: return 3;
    case Verdict::near: return 2;
    case Verdict::meets: return 1;
    case Verdict::none: break;
  }
  return 0;
}

Verdict worst(Verdict a, Verdict b) {
  return rank(a) >= rank(b) ? a : b;
}

// `margin`: how far the value clears its limit (negative: misses it).
Verdict one_side(double margin, double expanded, DecisionRule rule, bool& conforms) {
  conforms = conforms && margin >= 0;
  const bool near = std::abs(margin) < expanded || (expanded > 0 && std::abs(margin) == expanded);
  if (!near) return margin >= 0 ? Verdict::meets : Verdict::fails;
  switch (rule) {
    case DecisionRule::guarded_acceptance: return Verdict::fails;
    case DecisionRule::guarded_rejection: return Verdict::meets;
    case DecisionRule::simple: break;
  }
  return Verdict::near;
}

}  // namespace

DecisionRule decision_rule(const Fields& settings) {
  const std::string word = settings.text("settings.decision");
  if (word == "guarded-acceptance") return DecisionRule::guarded_acceptance;
  if (word == "guarded-rejection") return DecisionRule::guarded_rejection;
  return DecisionRule::simple;
}

void judge_result(ResultValue& r, DecisionRule rule) {
  r.verdict = Verdict::none;
  r.conforms = true;
  if (r.is_text()) return;
  const auto min = r.limit.min ? r.limit.min->value : std::nullopt;
  const auto max = r.limit.max ? r.limit.max->value : std::nullopt;
  if (!min && !max) return;
  if (!std::isfinite(r.value)) {
    r.verdict = Verdict::open;
    return;
  }
  double low = r.value, high = r.value;
  if (r.censored) {
    low = r.censored->above ? r.value : r.censored->from;
    high = r.censored->above ? HUGE_VAL : r.censored->to;
  }
  Verdict v = Verdict::none;
  // A bound decides only what lies on its sure side: how far beyond it the truth is nobody knows.
  auto bounded = [&](double margin, bool sure_if_more) {
    bool conforms = true;
    const Verdict plain = one_side(margin, r.expanded(), rule, conforms);
    if (margin >= 0 && !sure_if_more) return Verdict::open;
    if (margin < 0 && sure_if_more) return Verdict::open;
    r.conforms = r.conforms && conforms;
    const bool near = std::abs(margin) <= r.expanded() && r.expanded() > 0;
    // Within U of the limit a guard band asks for what only the unknown part could give.
    return near && rule != DecisionRule::simple && plain != (margin >= 0 ? Verdict::meets : Verdict::fails)
               ? Verdict::open
               : plain;
  };
  const bool above = r.censored && r.censored->above;
  if (min) {
    if (above)
      v = worst(v, bounded(low - *min, true));
    else if (r.censored && low < *min && high >= *min)
      v = worst(v, Verdict::open);
    else
      v = worst(v, one_side((low >= *min ? low : high) - *min, r.expanded(), rule, r.conforms));
  }
  if (max) {
    if (above)
      v = worst(v, bounded(*max - low, false));
    else if (r.censored && low <= *max && high > *max)
      v = worst(v, Verdict::open);
    else
      v = worst(v, one_side(*max - (high <= *max ? high : low), r.expanded(), rule, r.conforms));
  }
  r.verdict = v;
}

void judge(Evaluation& e, const TestRecord& record) {
  const DecisionRule rule = decision_rule(record.fields);
  e.verdict = Verdict::none;
  e.verdict_reason.clear();
  for (ResultValue& r : e.results) {
    const auto it = record.limits.find(r.spec.key);
    r.limit = it == record.limits.end() ? r.derived : it->second;
    judge_result(r, rule);
    if (rank(r.verdict) > rank(e.verdict)) e.verdict_reason = plain_symbol(r.spec.symbol);
    e.verdict = worst(e.verdict, r.verdict);
  }
  for (const auto& [key, limit] : record.limits) {
    if (e.find(key) != nullptr || (!limit.min && !limit.max)) continue;
    if (rank(e.verdict) < rank(Verdict::open)) e.verdict_reason = key + " is not there yet";
    e.verdict = worst(e.verdict, Verdict::open);
  }
  for (Finding& f : e.findings) {
    if (const Answer* a = record.answer(f.code)) f.answer = *a;
    if (f.severity != Severity::void_test) continue;
    if (e.verdict != Verdict::void_test) e.verdict_reason = f.message;
    e.verdict = Verdict::void_test;
  }
  if (e.verdict == Verdict::void_test)
    for (ResultValue& r : e.results)
      if (r.verdict != Verdict::none) r.verdict = Verdict::void_test;
}

}  // namespace fortitor
