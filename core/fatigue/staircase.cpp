#include "core/fatigue/staircase.h"

#include <algorithm>
#include <boost/math/distributions/normal.hpp>
#include <cmath>
#include <map>
#include <set>

#include "core/statistics/least.h"

namespace fortitor::fatigue {

double Staircase::scatter() const {
  return n > 0 ? (double(n) * double(b) - double(a) * double(a)) / (double(n) * double(n)) : 0;
}

std::optional<Staircase> dixon_mood(const std::vector<SnPoint>& points, double step) {
  size_t failures = 0, survivals = 0;
  for (const SnPoint& p : points) (p.runout ? survivals : failures) += 1;
  if (failures == 0 || survivals == 0 || !(step > 0)) return std::nullopt;
  Staircase s;
  s.step = step;
  s.survivals = survivals < failures;
  s.lowest = HUGE_VAL;
  for (const SnPoint& p : points)
    if (p.runout == s.survivals) s.lowest = std::min(s.lowest, p.range);
  std::map<long, size_t> at;
  for (const SnPoint& p : points)
    if (p.runout == s.survivals) ++at[std::lround((p.range - s.lowest) / step)];
  for (const auto& [i, count] : at) {
    s.n += count;
    s.a += size_t(i) * count;
    s.b += size_t(i) * size_t(i) * count;
  }
  s.mean = s.lowest + step * (double(s.a) / double(s.n) + (s.survivals ? 0.5 : -0.5));
  s.sd = 1.62 * step * (s.scatter() + 0.029);
  // Where 0.3 is not reached the formula says nothing; a scatter of 0.53 steps is the least that it can tell.
  const double told = std::max(s.sd, 1.62 * step * (0.3 + 0.029)), n = double(s.n);
  constexpr double kFewMean = 3, kFewScatter = 4;  // found by simulation, as the factor two of the scatter is
  s.mean_error = told / std::sqrt(n) * (1 + kFewMean / n);
  s.sd_error = 2 * told / std::sqrt(n) * (1 + kFewScatter / n);
  return s;
}

std::optional<Probit> probit(const std::vector<SnPoint>& points) {
  double highest_out = -HUGE_VAL, lowest_failed = HUGE_VAL, low = HUGE_VAL, high = -HUGE_VAL;
  for (const SnPoint& p : points) {
    if (p.runout)
      highest_out = std::max(highest_out, p.range);
    else
      lowest_failed = std::min(lowest_failed, p.range);
    low = std::min(low, p.range);
    high = std::max(high, p.range);
  }
  // Mixed at one level alone, a scatter of nothing is as likely as any: there is no largest likelihood either.
  if (!(highest_out > lowest_failed) || !(high > low)) return std::nullopt;
  // P = Φ(u), u = α + β·(S − S̄): the log-likelihood is concave in (α, β), Newton with halved steps finds its top
  // (Finney 1971, ch. 4).
  const boost::math::normal normal;
  const double middle = 0.5 * (low + high), unit = high - low;
  double alpha = 0, beta = 2;
  auto value = [&](double a, double b) {
    double sum = 0;
    for (const SnPoint& p : points) {
      const double u = a + b * (p.range - middle) / unit;
      sum += std::log(std::max(
          kLeast, p.runout ? boost::math::cdf(boost::math::complement(normal, u)) : boost::math::cdf(normal, u)));
    }
    return sum;
  };
  double now = value(alpha, beta), of_alpha = 0, of_beta = 0, of_both = 0;
  for (int round = 0; round < 200; ++round) {
    double g0 = 0, g1 = 0, h00 = 0, h01 = 0, h11 = 0;
    for (const SnPoint& p : points) {
      const double x = (p.range - middle) / unit, u = alpha + beta * x, sign = p.runout ? -1 : 1;
      const double tail = std::max(kLeast, boost::math::cdf(normal, sign * u)), r = boost::math::pdf(normal, u) / tail;
      const double first = sign * r, second = -r * (r + sign * u);
      g0 += first, g1 += first * x;
      h00 += second, h01 += second * x, h11 += second * x * x;
    }
    const double det = h00 * h11 - h01 * h01;
    if (!(std::abs(det) > kLeast)) break;
    // Covariance: the inverse of the information.
    of_alpha = -h11 / det, of_beta = -h00 / det, of_both = h01 / det;
    double da = -(h11 * g0 - h01 * g1) / det, db = -(h00 * g1 - h01 * g0) / det;
    double next = value(alpha + da, beta + db);
    for (int k = 0; k < 40 && !(next >= now - 1e-12); ++k) da /= 2, db /= 2, next = value(alpha + da, beta + db);
    alpha += da;
    beta += db;
    const bool settled = std::abs(next - now) < 1e-13;
    now = next;
    if (settled) break;
  }
  if (!(beta > 1e-9)) return std::nullopt;
  const double slope = alpha / beta;  // mean = middle − (α/β)·unit by the delta method
  const double variance = of_alpha - 2 * slope * of_both + slope * slope * of_beta;
  const double n = double(points.size()), few = n > 3 ? n / (n - 3) : n;
  constexpr double kOfScatter = 1.2;  // found by simulation, as few² is
  return Probit{middle - slope * unit, unit / beta, few * unit / beta * std::sqrt(std::max(0.0, variance)),
                kOfScatter * few * few * unit / (beta * beta) * std::sqrt(std::max(0.0, of_beta)),
                std::max(1.0, n / 2 - 2)};
}

namespace {

constexpr double kOffRung = 0.1;     // of a step: how far a level may lie off its rung
constexpr double kSameLevel = 1e-6;  // of itself: what another unit leaves

// Pieces that lie off the rungs through the level `from`.
std::vector<size_t> off_rungs(const std::vector<SnPoint>& points, double step, double from) {
  std::vector<size_t> off;
  for (size_t i = 0; i < points.size(); ++i) {
    const double rungs = (points[i].range - from) / step;
    if (std::abs(rungs - std::round(rungs)) > kOffRung) off.push_back(i);
  }
  return off;
}

// The fewest over the levels that a ladder of this step may stand on.
std::vector<size_t> fewest_off(const std::vector<SnPoint>& points, const std::set<double>& levels, double step) {
  std::vector<size_t> best(points.size());
  for (double from : levels)
    if (auto off = off_rungs(points, step, from); off.size() < best.size()) best = std::move(off);
  return best;
}

}  // namespace

Ladder ladder_of(const std::vector<SnPoint>& points, double asked) {
  std::set<double> levels;
  std::vector<double> moves;
  for (size_t i = 0; i < points.size(); ++i) {
    levels.insert(points[i].range);
    const double move = i > 0 ? std::abs(points[i].range - points[i - 1].range) : 0;
    if (move > kSameLevel * points[i].range) moves.push_back(move);
  }
  const auto held = [&](double step) {
    return std::count_if(moves.begin(), moves.end(), [&](double m) { return std::abs(m - step) <= kOffRung * step; });
  };
  double step = asked;
  auto most = asked > 0 ? held(asked) : 0;
  for (double m : moves)
    if (const auto n = held(m); n > most || (n == most && m > step && step != asked)) most = n, step = m;
  if (!(step > 0)) return {};
  return {step, fewest_off(points, levels, step)};
}

}  // namespace fortitor::fatigue
