#include "core/fatigue/faults.h"

#include <algorithm>
#include <cmath>

namespace fortitor::fatigue {
namespace {

constexpr uint64_t kStretches = 5;  // a live signal may stand twice on its peak by chance, but not so often
constexpr double kMedianOfDeviations = 1.4826;
constexpr double kStep = 12;        // robust deviations of differences between neighbours
constexpr double kAboveOthers = 3;  // times the difference that one of a thousand exceeds
constexpr double kOfThousand = 0.999;
constexpr double kStays = 0.8;       // of the jump must be found between the medians, and no more than its inverse
constexpr double kQuiet = 6;         // deviations of either side that the jump stands above
constexpr double kSide = 0.25;       // seconds
constexpr size_t kLeastSide = 16;    // samples
constexpr size_t kLooked = 1 << 15;  // differences that tell what is usual; all of them would take as long as smoothing

double quantile(std::vector<double>& v, double share) {
  const auto at = v.begin() + std::ptrdiff_t(std::min(double(v.size() - 1), share * double(v.size())));
  std::nth_element(v.begin(), at, v.end());
  return *at;
}

// Median of x[from, to) and the robust deviation about it; NaN with a gap.
struct Side {
  double median = NAN, deviation = NAN;
};
Side side_of(const std::vector<double>& x, size_t from, size_t to) {
  std::vector<double> v(x.begin() + std::ptrdiff_t(from), x.begin() + std::ptrdiff_t(to));
  if (v.empty() || std::any_of(v.begin(), v.end(), [](double a) { return std::isnan(a); })) return {};
  Side s;
  s.median = quantile(v, 0.5);
  for (double& a : v) a -= s.median;
  s.deviation = robust_deviation(v);
  return s;
}

}  // namespace

double robust_deviation(std::vector<double>& v) {
  if (v.empty()) return 0;
  for (double& x : v) x = std::abs(x);
  return kMedianOfDeviations * quantile(v, 0.5);
}

bool RangeEnd::cut_off() const {
  return stretches >= kStretches && samples > near;
}

void count_ends(const std::vector<double>& x, size_t from, size_t to, double near, RangeEnd& top, RangeEnd& bottom) {
  const auto count = [&](RangeEnd& end, double short_of, bool here, bool before, bool after) {
    if (here) {
      ++end.samples;
      end.stretches += !before && after;
    } else if (short_of <= near) {
      ++end.near;
    }
  };
  for (size_t i = from; i < to; ++i) {
    if (std::isnan(x[i])) continue;
    const double before = i > 0 ? x[i - 1] : NAN, after = i + 1 < x.size() ? x[i + 1] : NAN;
    count(top, top.value - x[i], x[i] >= top.value, before >= top.value, after >= top.value);
    count(bottom, x[i] - bottom.value, x[i] <= bottom.value, before <= bottom.value, after <= bottom.value);
  }
}

double digit_of(const std::vector<double>& x, size_t from, size_t to) {
  double digit = HUGE_VAL;
  for (size_t i = std::max<size_t>(1, from); i < to; ++i)
    if (const double d = std::abs(x[i] - x[i - 1]); d > 0) digit = std::min(digit, d);
  return std::isfinite(digit) ? digit : 0;
}

size_t step_surroundings(double rate) {
  return std::max(kLeastSide, size_t(kSide * rate)) + 1;
}

void find_steps(const std::vector<double>& x, size_t from, size_t to, uint64_t origin, double rate,
                std::vector<ZeroStep>& out) {
  const size_t side = step_surroundings(rate) - 1;
  std::vector<double> jumps;
  const size_t stride = std::max<size_t>(1, (to - from) / kLooked);
  for (size_t i = std::max<size_t>(1, from); i < to; i += stride)
    if (const double d = std::abs(x[i] - x[i - 1]); std::isfinite(d)) jumps.push_back(d);
  if (jumps.size() < 4 * side) return;
  const double least = std::max(kStep * robust_deviation(jumps), kAboveOthers * quantile(jumps, kOfThousand));
  for (size_t i = std::max(side, from); i < to && i + side <= x.size(); ++i) {
    const double jump = x[i] - x[i - 1];
    if (!(std::abs(jump) > least)) continue;
    const Side before = side_of(x, i - side, i), after = side_of(x, i, i + side);
    const double by = after.median - before.median;
    if (!(by / jump > kStays) || !(by / jump < 1 / kStays)) continue;
    if (!(std::abs(jump) > kQuiet * std::max(before.deviation, after.deviation))) continue;
    out.push_back({origin + i, by});
  }
}

}  // namespace fortitor::fatigue
