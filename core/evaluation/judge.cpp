#include "core/evaluation/judge.h"

#include <algorithm>
#include <cmath>

#include "core/quantity/format.h"

namespace fortitor {
namespace {

int rank(Verdict v) {
  switch (v) {
    case Verdict::void_test: return 6;
    case Verdict::fails: return 5;
    case Verdict::conditional_fail: return 4;
    case Verdict::open: return 3;
    case Verdict::conditional_pass: return 2;
    case Verdict::meets: return 1;
    case Verdict::none: break;
  }
  return 0;
}

Verdict worst(Verdict a, Verdict b) {
  return rank(a) >= rank(b) ? a : b;
}

// `margin`: how far the value clears its limit (negative: misses it); `expanded`: U.
Verdict by_rule(double margin, double expanded, DecisionRule rule) {
  const bool clear = margin >= expanded, beyond = margin < -expanded;
  switch (rule) {
    case DecisionRule::guarded_acceptance: return clear ? Verdict::meets : Verdict::fails;
    case DecisionRule::guarded_rejection: return beyond ? Verdict::fails : Verdict::meets;
    case DecisionRule::four:
      if (clear) return Verdict::meets;
      if (beyond) return Verdict::fails;
      return margin >= 0 ? Verdict::conditional_pass : Verdict::conditional_fail;
    case DecisionRule::simple: break;
  }
  return margin >= 0 ? Verdict::meets : Verdict::fails;
}

double normal_below(double z) {
  return 0.5 * std::erfc(-z / std::sqrt(2.0));
}

// Probability that a value with standard uncertainty u lies below `limit`; 0 or 1 without one.
double below(double limit, double value, double u) {
  if (u > 0) return normal_below((limit - value) / u);
  return limit >= value ? 1 : 0;
}

// The same of a value that is equally likely anywhere from a to b, each with u: the mean of the normal over the
// interval.
double below_between(double limit, double a, double b, double u) {
  if (!(b > a)) return below(limit, a, u);
  if (!(u > 0)) return std::clamp((limit - a) / (b - a), 0.0, 1.0);
  // ∫Φ(z)dz = z·Φ(z) + φ(z)
  const auto integral = [](double z) {
    return z * normal_below(z) + std::exp(-0.5 * z * z) / std::sqrt(2 * 3.14159265358979323846);
  };
  return std::clamp(u / (b - a) * (integral((limit - a) / u) - integral((limit - b) / u)), 0.0, 1.0);
}

// A limit, and on which side of it the value should lie.
struct Side {
  const Reading& limit;
  bool lower;  // the value is to be at least it
  double margin(double value, Compared compared) const {
    const double held = as_compared(value, limit, compared);
    return lower ? held - *limit.value : *limit.value - held;
  }
};

Verdict judge_side(const ResultValue& r, const Side& side, const Decision& d) {
  const double expanded = r.expanded();
  if (!r.censored) return by_rule(side.margin(r.value, d.compared), expanded, d.rule);
  if (!r.censored->above) {
    // Both ends must say the same.
    const Verdict from = by_rule(side.margin(r.censored->from, d.compared), expanded, d.rule);
    const Verdict to = by_rule(side.margin(r.censored->to, d.compared), expanded, d.rule);
    return from == to ? from : Verdict::open;
  }
  // A bound decides only what lies on its sure side: how far beyond it the truth is nobody knows. Within U of the limit
  // a guard band may ask for what only the unknown part could give.
  const double margin = side.margin(r.value, d.compared);
  if ((margin >= 0) != side.lower) return Verdict::open;
  const Verdict v = by_rule(margin, expanded, d.rule);
  const bool sure = v == (side.lower ? Verdict::meets : Verdict::fails);
  return sure || d.rule == DecisionRule::simple ? v : Verdict::open;
}

// Probability that the truth lies within the limits; empty where a bound leaves it open.
std::optional<double> conformance(const ResultValue& r, const Reading* min, const Reading* max) {
  const double u = r.standard_uncertainty;
  if (r.censored && r.censored->above) {
    // The truth lies somewhere above: that settles a lower limit under the bound and an upper one under it.
    if (max != nullptr && *max->value < r.value) return below(*max->value, r.value, u);
    if (max != nullptr || *min->value > r.value) return std::nullopt;
    return 1 - below(*min->value, r.value, u);
  }
  const double a = r.censored ? r.censored->from : r.value, b = r.censored ? r.censored->to : r.value;
  if (!std::isfinite(a) || !std::isfinite(b)) return std::nullopt;
  const double under = max != nullptr ? below_between(*max->value, a, b, u) : 1;
  // Without u the limit itself still conforms.
  const double low = min == nullptr ? 0 : (u > 0 || b > a ? below_between(*min->value, a, b, u) : (a < *min->value));
  return std::max(0.0, under - low);
}

}  // namespace

std::string_view rule_word(DecisionRule rule) {
  switch (rule) {
    case DecisionRule::guarded_acceptance: return "guarded-acceptance";
    case DecisionRule::guarded_rejection: return "guarded-rejection";
    case DecisionRule::four: return "four";
    case DecisionRule::simple: break;
  }
  return "simple";
}

std::string_view compared_word(Compared compared) {
  return compared == Compared::rounded ? "rounded" : "absolute";
}

Decision decision_of(const Fields& settings) {
  Decision d;
  const std::string rule = settings.text("settings.decision"), compared = settings.text("settings.compared");
  for (DecisionRule r : {DecisionRule::guarded_acceptance, DecisionRule::guarded_rejection, DecisionRule::four})
    if (rule == rule_word(r)) d.rule = r;
  if (compared == compared_word(Compared::rounded)) d.compared = Compared::rounded;
  return d;
}

std::string decision_words(const std::string& rule, const std::string& compared) {
  std::string out = "Simple acceptance: the value against the limit";
  if (rule == rule_word(DecisionRule::guarded_acceptance))
    out = "Guarded acceptance: a value meets its limit only when it clears it by U";
  if (rule == rule_word(DecisionRule::guarded_rejection))
    out = "Guarded rejection: a value fails its limit only when it lies beyond it by U";
  if (rule == rule_word(DecisionRule::four))
    out = "Four outcomes: within U of the limit a pass or a fail is conditional";
  return out + (compared == compared_word(Compared::rounded)
                    ? "; rounded to the last place of the limit before it is compared (ASTM E29)."
                    : "; compared as computed.");
}

double as_compared(double value, const Reading& limit, Compared compared) {
  if (compared == Compared::absolute || !(limit.resolution > 0) || !std::isfinite(value)) return value;
  const double rounded = round_to_step(value, limit.resolution, true);
  // The limit itself is a whole number of its steps but for what binary fractions leave.
  return std::abs(rounded - *limit.value) < 1e-6 * limit.resolution ? *limit.value : rounded;
}

void judge_result(ResultValue& r, const Decision& decision) {
  r.verdict = Verdict::none;
  r.near = false;
  r.probability.reset();
  if (r.is_text()) return;
  const Reading* min = r.limit.min && r.limit.min->value ? &*r.limit.min : nullptr;
  const Reading* max = r.limit.max && r.limit.max->value ? &*r.limit.max : nullptr;
  if (min == nullptr && max == nullptr) return;
  if (!std::isfinite(r.value)) {
    r.verdict = Verdict::open;
    return;
  }
  for (const Reading* limit : {min, max}) {
    if (limit == nullptr) continue;
    r.verdict = worst(r.verdict, judge_side(r, {*limit, limit == min}, decision));
    const double low = r.censored && !r.censored->above ? r.censored->from : r.value;
    const double high = r.censored && !r.censored->above ? r.censored->to : r.value;
    r.near = r.near || (r.standard_uncertainty > 0 && *limit->value >= low - r.expanded() &&
                        *limit->value <= high + r.expanded());
  }
  r.probability = conformance(r, min, max);
}

namespace {

// "22.0, wanted ≥ 22, fails" never stands without its reason.
void rounding_decides(Evaluation& e, const ResultValue& r, const Decision& decision) {
  if (r.verdict == Verdict::none) return;
  ResultValue other = r;
  judge_result(other, {decision.rule, decision.compared == Compared::rounded ? Compared::absolute : Compared::rounded});
  if (other.verdict == r.verdict) return;
  const bool rounded = decision.compared == Compared::rounded;
  Finding f;
  f.code = "rounding-decides";
  f.result_key = r.spec.key;
  f.message =
      plain_symbol(r.spec.symbol) + " is " + format_value(r.value, r.spec.dimension, UnitSet::si, 6) +
      " as computed: " + (rounded ? std::string(verdict_word(r.verdict)) : std::string(verdict_word(other.verdict))) +
      " when it is rounded to the last place of its limit, " +
      (rounded ? std::string(verdict_word(other.verdict)) : std::string(verdict_word(r.verdict))) +
      " when it is not. " +
      (rounded ? "Values are rounded here before they are compared." : "Values are compared here as computed.");
  f.evidence = {{"value", r.value}};
  e.findings.push_back(std::move(f));
}

}  // namespace

void judge(Evaluation& e, const TestRecord& record) {
  const Decision decision = decision_of(record.fields);
  e.rule = rule_word(decision.rule);
  e.compared = compared_word(decision.compared);
  e.verdict = Verdict::none;
  e.verdict_reason.clear();
  for (ResultValue& r : e.results) {
    const auto it = record.limits.find(r.spec.key);
    r.limit = r.adjusted ? *r.adjusted : it == record.limits.end() ? r.derived : it->second;
    judge_result(r, decision);
    rounding_decides(e, r, decision);
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
  if (e.verdict != Verdict::void_test) return;
  for (ResultValue& r : e.results) {
    if (r.verdict != Verdict::none) r.verdict = Verdict::void_test;
    r.near = false;
    r.probability.reset();
  }
}

}  // namespace fortitor
