// Groups of values of which some are known only as a bound: means and one common deviation by maximum likelihood.
#include <boost/math/distributions/chi_squared.hpp>
#include <boost/math/distributions/normal.hpp>
#include <cmath>

#include "core/statistics/groups.h"
#include "core/statistics/least.h"
#include "core/statistics/normals.h"

namespace fortitor::statistics {
namespace {

namespace bm = boost::math;

struct Ends {
  double from, to;  // standardized; to may be infinite
};

Ends ends_of(const Observation& o, double mean, double sd) {
  if (o.censored->above) return {(o.value - mean) / sd, HUGE_VAL};
  return {(o.censored->from - mean) / sd, (o.censored->to - mean) / sd};
}

double inside(const Ends& e) {
  const bm::normal unit;
  if (!std::isfinite(e.to)) return bm::cdf(bm::complement(unit, e.from));
  return e.from > 0 ? bm::cdf(bm::complement(unit, e.from)) - bm::cdf(bm::complement(unit, e.to))
                    : bm::cdf(unit, e.to) - bm::cdf(unit, e.from);
}

double log_likelihood(const std::vector<std::vector<Observation>>& groups, const std::vector<double>& means,
                      double sd) {
  double sum = 0;
  for (size_t g = 0; g < groups.size(); ++g)
    for (const Observation& o : groups[g]) {
      if (o.censored) {
        sum += std::log(std::max(inside(ends_of(o, means[g], sd)), kLeast));
        continue;
      }
      const double z = (o.value - means[g]) / sd;
      sum -= 0.5 * z * z + std::log(sd) + 0.5 * std::log(2 * M_PI);
    }
  return sum;
}

}  // namespace

void fit_normals(const std::vector<std::vector<Observation>>& groups, bool one, std::vector<double>& means,
                 double& sd) {
  const bm::normal unit;
  for (int step = 0; step < 2000; ++step) {
    std::vector<double> sums(groups.size(), 0), squares(groups.size(), 0), counts(groups.size(), 0);
    for (size_t g = 0; g < groups.size(); ++g)
      for (const Observation& o : groups[g]) {
        double first = o.value - means[g], second = first * first;
        if (o.censored) {
          const Ends e = ends_of(o, means[g], sd);
          const double share = inside(e);
          if (share > 1e-12) {
            const double pa = bm::pdf(unit, e.from), pb = std::isfinite(e.to) ? bm::pdf(unit, e.to) : 0;
            first = sd * (pa - pb) / share;
            second = sd * sd * std::max(0.0, 1 + (e.from * pa - (std::isfinite(e.to) ? e.to * pb : 0)) / share);
          } else {
            first = sd * (std::isfinite(e.to) && std::abs(e.to) < std::abs(e.from) ? e.to : e.from);
            second = first * first;
          }
        }
        sums[g] += first;
        squares[g] += second;
        counts[g] += 1;
      }
    // Moments are about the means of before, which keeps cancellation harmless.
    double variance = 0, n = 0, moved = 0, common = 0;
    for (size_t g = 0; g < groups.size(); ++g) n += counts[g], common += sums[g];
    for (size_t g = 0; g < groups.size(); ++g) {
      const double shift = one ? common / n : counts[g] > 0 ? sums[g] / counts[g] : 0;
      variance += squares[g] - 2 * shift * sums[g] + counts[g] * shift * shift;
      means[g] += shift;
      moved = std::max(moved, std::abs(shift));
    }
    const double next = std::sqrt(std::max(variance / n, 0.0));
    const bool still = moved < 1e-12 * next && std::abs(next - sd) < 1e-12 * next;
    sd = next;
    if (still || !(sd > 0)) break;
  }
}

std::optional<LikelihoodRatio> likelihood_ratio(const std::vector<std::vector<Observation>>& all) {
  std::vector<std::vector<Observation>> groups;
  std::vector<double> own;
  double total = 0, squares = 0;
  size_t measured = 0;
  for (const std::vector<Observation>& group : all) {
    double sum = 0;
    size_t n = 0;
    for (const Observation& o : group)
      if (!o.censored) sum += o.value, ++n;
    if (n == 0) continue;
    groups.push_back(group);
    own.push_back(sum / double(n));
    total += sum;
    measured += n;
  }
  const size_t k = groups.size();
  if (k < 2 || measured < k + 1) return std::nullopt;
  const double mean = total / double(measured);
  for (size_t g = 0; g < k; ++g)
    for (const Observation& o : groups[g])
      if (!o.censored) squares += (o.value - mean) * (o.value - mean);
  double sd = std::sqrt(squares / double(measured));
  if (!(sd > 1e-14 * std::abs(mean)) || !(sd > 0)) return std::nullopt;
  LikelihoodRatio r;
  std::vector<double> one(k, mean);
  r.means = own;
  r.sd = sd;
  fit_normals(groups, false, r.means, r.sd);
  fit_normals(groups, true, one, sd);
  if (!(r.sd > 0) || !(sd > 0)) return std::nullopt;
  const double apart = log_likelihood(groups, r.means, r.sd), together = log_likelihood(groups, one, sd);
  if (!std::isfinite(apart) || !std::isfinite(together)) return std::nullopt;
  r.chi2 = std::max(0.0, 2 * (apart - together));
  r.p = bm::cdf(bm::complement(bm::chi_squared(double(k) - 1), r.chi2));
  return r;
}

}  // namespace fortitor::statistics
