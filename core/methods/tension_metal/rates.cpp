// Speeds of a pull against the plan that was chosen: a range for each part of the test. ISO 6892-1, 10.3.2 (method A)
// and 10.3.3 (method B); ASTM E8/E8M, 7.6 (control methods A, B, C). Without a plan the rates are printed, no more.
#include <algorithm>
#include <cmath>

#include "core/curve/fit.h"
#include "core/methods/support/ledger.h"
#include "core/methods/tension_metal/model.h"

namespace fortitor::tension {
namespace {

struct Range {
  double low, high;
  bool holds(double v) const { return v >= low && v <= high; }
};

// ISO 6892-1: ranges 2, 3 and 4 of method A, 1/s, each kept within a fifth.
Range within_a_fifth(double rate) {
  constexpr double kFifth = 0.2;
  return {(1 - kFifth) * rate, (1 + kFifth) * rate};
}
const Range kIso2 = within_a_fifth(0.00025), kIso3 = within_a_fifth(0.002), kIso4 = within_a_fifth(0.0067);
// Method B: MPa/s below yield, 1/s while R_eL is read and after it.
constexpr double kStiffMetal = 150e3;  // MPa
constexpr Range kBStiff{6, 60}, kBSoft{2, 20}, kBYielding{0.00025, 0.0025}, kBAfter{0, 0.008};
// E8: MPa/s; 1/min of strain, and of the parallel length by the crosshead.
constexpr Range kE8Stress{1.15, 11.5}, kE8Strain{0.009 / 60, 0.021 / 60}, kE8Crosshead{0.012 / 60, 0.018 / 60},
    kE8After{0.05 / 60, 0.5 / 60};

std::string words(const std::vector<Range>& ranges, Dimension d) {
  std::string out;
  for (const Range& r : ranges)
    out += (out.empty() ? "" : " or ") + (r.low > 0 ? significant(r.low, 2) + " to " : std::string("at most ")) +
           ledger::si(r.high, d, 2);
  return out;
}

// Shares of the time since the elastic part: either side of yield without a yield point, and before R_m.
constexpr double kAroundYield = 0.1, kBeforeMaximum = 0.2;

// Rate of the parallel length by the crosshead over the elastic part: what control method C holds.
std::optional<double> crosshead_rate(const TestRecord& record, const StressCurve& c, const Landmarks& m) {
  const double length = record.fields.number("specimen.parallel_length").value_or(0);
  if (!(length > 0) || !m.elastic || c.crosshead.size() != c.time.size()) return std::nullopt;
  const auto line = fit_line(c.time, c.crosshead, m.elastic->first, m.elastic->last);
  return line ? std::optional(line->slope / length) : std::nullopt;
}

}  // namespace

void put_rates(Values& v, Values& errors, const StressCurve& c, const Landmarks& m, size_t yield_index) {
  const auto &e = c.strain, &r = c.stress;
  if (c.time_invented) return;
  auto put = [&](const char* key, const std::optional<LineFit>& f) {
    if (!f) return;
    v[key] = f->slope;
    errors[key] = ledger::of_few(f->slope_error, f->n);
  };
  put(key::stress_rate, fit_line(c.time, r, m.elastic->first, m.elastic->last));
  size_t a = yield_index, b = yield_index;
  if (m.yielding) {
    a = m.yielding->upper;
    b = std::max(m.yielding->plateau_end, a + 3);
  } else {
    const double half = kAroundYield * (c.time[yield_index] - c.time[m.elastic->first]);
    while (a > m.elastic->last && c.time[yield_index] - c.time[a] < half) --a;
    while (b + 1 < m.end && c.time[b] - c.time[yield_index] < half) ++b;
  }
  if (yield_index > 0)
    if (b > a + 2) put(key::strain_rate, fit_line(c.time, e, a, b + 1));
  const double from = c.time[m.peak] - kBeforeMaximum * (c.time[m.peak] - c.time[m.elastic->last]);
  size_t k = m.peak;
  while (k > m.elastic->last && c.time[k] > from) --k;
  if (m.peak > k + 2) put(key::strain_rate_rm, fit_line(c.time, e, k, m.peak + 1));
}

void rate_findings(const TestRecord& record, const Test& test, const Values& values, Evaluation& e) {
  const std::string plan = record.fields.text("settings.rate_plan");
  if (plan.empty() || plan == "none") return;
  const bool e8 = plan.rfind("E8", 0) == 0;
  auto hold = [&](const char* what, double value, const std::vector<Range>& ranges, Dimension d, const char* key) {
    if (!std::isfinite(value) ||
        std::any_of(ranges.begin(), ranges.end(), [&](const Range& r) { return r.holds(value); }))
      return;
    ledger::raise(e, "rate-outside-plan", Severity::check,
                  std::string(what) + " was " + ledger::si(value, d, 2) + ", planned " + words(ranges, d) +
                      (e8 ? " (ASTM E8/E8M, control method " + plan.substr(3) : " (ISO 6892-1, method " + plan) + ").",
                  {{"rate", value}, {"low", ranges.front().low}, {"high", ranges.back().high}},
                  {{"accept", "Accept with a reason", {}, true}}, key);
  };
  const double yield = ledger::get(values, key::strain_rate), late = ledger::get(values, key::strain_rate_rm);
  const double stress = ledger::get(values, key::stress_rate);
  const bool yields = values.count(key::reh) != 0;
  const auto rate = Dimension::strain_rate;
  if (plan == "A2") {
    hold(yields ? "The strain rate while it yields" : "The strain rate around yield", yield,
         yields ? std::vector{kIso2, kIso3} : std::vector{kIso2}, rate, key::strain_rate);
    hold("The strain rate before R_m", late, {kIso2, kIso3, kIso4}, rate, key::strain_rate_rm);
  }
  if (plan == "B") {
    hold("The stress rate below yield", stress, {ledger::get(values, key::e_modulus) >= kStiffMetal ? kBStiff : kBSoft},
         Dimension::stress_rate, key::stress_rate);
    if (yields) hold("The strain rate while it yields", yield, {kBYielding}, rate, key::strain_rate);
    hold("The strain rate before R_m", late, {kBAfter}, rate, key::strain_rate_rm);
  }
  if (plan == "E8-A")
    hold("The stress rate below yield", stress, {kE8Stress}, Dimension::stress_rate, key::stress_rate);
  if (plan == "E8-B") hold("The strain rate around yield", yield, {kE8Strain}, rate, key::strain_rate);
  if (plan == "E8-C")
    if (const auto travel = crosshead_rate(record, test.curve, test.marks))
      hold("The rate of the parallel length, by the crosshead, below yield", *travel, {kE8Crosshead}, rate,
           key::strain_rate);
  if (e8) hold("The strain rate before R_m", late, {kE8After}, rate, key::strain_rate_rm);
}

}  // namespace fortitor::tension
