// What a limit on the mean asks of the blows: the limit of a piece thinner than 10 mm, single values, and the three
// more pieces that are allowed when a set does not meet (EN 10021, 8.3.4.2; EN 10025-1; ISO 148-1).
#include <algorithm>
#include <cmath>

#include "core/methods/impact_pendulum/model.h"

namespace fortitor::pendulum {

using namespace ledger;
using D = Dimension;

namespace {

constexpr double kFull = 10, kThinnest = 5, kAsFull = 0.3;  // mm: breadth for which limits are stated, the least of a
                                                            // sub-size, and what a milled breadth may be off
constexpr double kSingle = 0.7;                             // of the limit: none (or one of six) below

std::string joules(double j) {
  return significant(j, 3) + " J";
}

std::string with_energy(const blows::Blow& b) {
  return b.name() + " (" + joules(b.energy) + ")";
}

// Limit of the mean as the record sets it; null where it sets none.
const Reading* stated_limit(const TestRecord& record) {
  const auto it = record.limits.find(key::energy);
  return it == record.limits.end() || !it->second.min || !it->second.min->value ? nullptr : &*it->second.min;
}

Reading times(const Reading& limit, double share) {
  if (share == 1) return limit;
  Reading r = limit;
  r.value = share * *limit.value;
  r.resolution = 0;  // worked out, not typed: no value is rounded to its digits
  r.typed = plain_number(*r.value, 5) + " J";
  return r;
}

struct Acceptance {
  Reading limit;         ///< of the mean, reduced for the breadth
  double share = 1;      ///< by which it was
  bool second = false;   ///< three more pieces were struck
  size_t may_below = 1;  ///< blows that may lie below the limit
  size_t may_far = 0;    ///< … and below 70 % of it
};

std::optional<Acceptance> acceptance_of(const TestRecord& record, const State& s) {
  const Reading* limit = stated_limit(record);
  if (limit == nullptr || s.plastic()) return std::nullopt;
  Acceptance a;
  const bool thin = s.breadth < kFull - kAsFull && s.breadth >= kThinnest - kAsFull;
  if (thin && record.fields.text("settings.subsize") != "none") a.share = s.breadth / kFull;
  a.limit = times(*limit, a.share);
  const auto counted = s.set.counted();
  a.second = std::any_of(counted.begin(), counted.end(), [](const auto* b) { return b->second; });
  if (a.second) a.may_below = 2, a.may_far = 1;
  return a;
}

}  // namespace

std::optional<double> least_single(const TestRecord& record, const State& s) {
  const auto a = acceptance_of(record, s);
  return a ? std::optional(kSingle * *a->limit.value) : std::nullopt;
}

void limits_of_set(Evaluation& e, const TestRecord& record, const State& s) {
  const auto a = acceptance_of(record, s);
  if (!a) return;
  if (a->share != 1)
    if (ResultValue* r = e.find(key::energy)) {
      r->adjusted = record.limits.at(key::energy);
      r->adjusted->min = a->limit;
      if (r->adjusted->max && r->adjusted->max->value) r->adjusted->max = times(*r->adjusted->max, a->share);
    }
  // The n-th least is the one that must hold when n − 1 may lie below.
  const char* const least[] = {key::energy_min, key::energy_second, key::energy_third};
  if (ResultValue* r = e.find(least[a->may_far])) r->derived.min = times(a->limit, kSingle);
  if (ResultValue* r = e.find(least[a->may_below])) r->derived.min = a->limit;
}

void judge_set(Evaluation& e, const TestRecord& record, const State& s) {
  const auto a = acceptance_of(record, s);
  if (!a) {
    if (s.set.second())
      raise(e, "second-set-unasked", Severity::note,
            "Blows are marked as of a second set, but no limit is set that the first could have missed: all count "
            "alike.",
            {}, {}, key::energy);
    return;
  }
  const double limit = *a->limit.value;
  if (a->share != 1)
    raise(e, "sub-size-limit", Severity::note,
          "The pieces are " + si(s.breadth, D::length, 3) + " wide: the limit of " + joules(limit / a->share) +
              " for 10 mm is taken in proportion, " + joules(limit) + ".",
          {{"limit", limit}, {"width", s.breadth}},
          {{"none", "Keep the limit as it is", {{"settings.subsize", "none"}}, true}}, key::energy);
  else if (s.breadth < kThinnest - kAsFull)
    raise(e, "sub-size-limit", Severity::check,
          "The pieces are " + si(s.breadth, D::length, 3) +
              " wide: below 5 mm no limit is taken in proportion. The one for 10 mm stands; agree one for this width.",
          {{"limit", limit}, {"width", s.breadth}}, {{"accept", "Accept with a reason", {}, true}}, key::energy);
  std::string below, far;
  size_t n_below = 0, n_far = 0, first = 0, first_below = 0, first_far = 0;
  double sum = 0;
  for (const blows::Blow* b : s.set.counted()) {
    const bool is_below = b->energy < limit, is_far = b->energy < kSingle * limit;
    if (!b->second) {
      ++first;
      sum += b->energy;
      first_below += is_below;
      first_far += is_far;
    }
    n_below += is_below;
    n_far += is_far;
    if (is_below) below += (below.empty() ? "" : ", ") + with_energy(*b);
    if (is_far) far += (far.empty() ? "" : ", ") + with_energy(*b);
  }
  const std::string of_six = a->second ? " of both sets" : "";
  if (n_far > a->may_far || n_below > a->may_below)
    raise(e, "single-value", Severity::check,
          (n_far > a->may_far
               ? (n_far == 1 ? "Blow " : "Blows ") + far + (n_far == 1 ? " lies" : " lie") + " below " +
                     joules(kSingle * limit) + ", 70 % of the limit" + (a->may_far > 0 ? "; one may." : ".")
               : "Blows " + below + " lie below " + joules(limit) + (a->may_below > 1 ? "; two may." : "; one may.")) +
              " The set" + of_six + " fails, whatever its mean.",
          {{"limit", limit}, {"below", double(n_below)}}, {}, key::energy_min);
  const bool missed = first > 0 && (sum / double(first) < limit || first_below > 1 || first_far > 0);
  if (!a->second && missed && !s.bounds())
    raise(
        e, "retest-open", Severity::check,
        "The set does not meet its limit. Three more pieces of the same sample may be struck and marked as the second "
        "set: then the mean of all six must meet it, two at most may lie below it and one at most below 70 % of it.",
        {{"limit", limit}}, {{"accept", "No second set is struck", {}, true}}, key::energy);
  if (a->second && !missed)
    raise(e, "second-set-unasked", Severity::check,
          "The first set meets its limit: a second one was not called for, and all blows together are judged now.", {},
          {{"accept", "Accept with a reason", {}, true}}, key::energy);
}

}  // namespace fortitor::pendulum
