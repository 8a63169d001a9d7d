#include "core/fatigue/sn_line.h"

#include <algorithm>
#include <boost/math/distributions/chi_squared.hpp>
#include <boost/math/distributions/normal.hpp>
#include <boost/math/distributions/students_t.hpp>
#include <cmath>

#include "core/statistics/least.h"
#include "core/statistics/sample.h"

namespace fortitor::fatigue {
namespace {

struct Data {
  std::vector<double> x, y;
  std::vector<bool> out;
  size_t failures = 0;
};

Data data_of(const std::vector<SnPoint>& points) {
  Data d;
  for (const SnPoint& p : points) {
    if (!(p.range > 0) || !(p.cycles > 0) || !std::isfinite(p.range) || !std::isfinite(p.cycles)) continue;
    d.x.push_back(std::log10(p.range));
    d.y.push_back(std::log10(p.cycles));
    d.out.push_back(p.runout);
    d.failures += !p.runout;
  }
  return d;
}

// Least squares of y = a − m·x with m free or given; weights one. x about its mean.
struct Line {
  double a = 0, m = 0, mx = 0, sxx = 0, sse = 0;
};
Line least_squares(const std::vector<double>& x, const std::vector<double>& y, std::optional<double> fixed) {
  Line l;
  const double n = double(x.size());
  double my = 0, sxy = 0;
  for (size_t i = 0; i < x.size(); ++i) l.mx += x[i] / n, my += y[i] / n;
  for (size_t i = 0; i < x.size(); ++i) {
    l.sxx += (x[i] - l.mx) * (x[i] - l.mx);
    sxy += (x[i] - l.mx) * (y[i] - my);
  }
  l.m = fixed ? *fixed : -sxy / l.sxx;
  l.a = my + l.m * l.mx;
  for (size_t i = 0; i < x.size(); ++i) {
    const double r = y[i] - (l.a - l.m * x[i]);
    l.sse += r * r;
  }
  return l;
}

double log_likelihood(const Data& d, double a, double m, double sd) {
  const boost::math::normal normal;
  double sum = 0;
  for (size_t i = 0; i < d.x.size(); ++i) {
    const double z = (d.y[i] - (a - m * d.x[i])) / sd;
    sum += d.out[i] ? std::log(std::max(kLeast, boost::math::cdf(boost::math::complement(normal, z))))
                    : -0.5 * z * z - std::log(sd);
  }
  return sum;
}

// Expected value and square of a normal deviate that lies above z.
void above(double z, double& mean, double& square) {
  const boost::math::normal normal;
  const double tail = boost::math::cdf(boost::math::complement(normal, z));
  const double hazard = tail > kLeast ? boost::math::pdf(normal, z) / tail : z + 1 / std::max(z, 1e-9);
  mean = hazard;
  square = 1 + z * hazard;
}

// Inverse of the observed information of (a, m, log sd) by central differences; false when it is not positive.
bool covariance(const Data& d, const SnLine& l, double c[3][3]) {
  const double p[3] = {l.log_c, l.slope, std::log(l.sd)}, h[3] = {1e-3 * l.sd, 1e-3 * l.sd, 1e-3};
  auto at = [&](double da, double dm, double ds) {
    return log_likelihood(d, p[0] + da, p[1] + dm, std::exp(p[2] + ds));
  };
  double info[3][3];
  for (int i = 0; i < 3; ++i)
    for (int j = 0; j <= i; ++j) {
      double s[3] = {0, 0, 0}, t[3] = {0, 0, 0};
      s[i] = h[i];
      t[j] = h[j];
      const double second =
          i == j ? (at(s[0], s[1], s[2]) - 2 * at(0, 0, 0) + at(-s[0], -s[1], -s[2])) / (h[i] * h[i])
                 : (at(s[0] + t[0], s[1] + t[1], s[2] + t[2]) - at(s[0] - t[0], s[1] - t[1], s[2] - t[2]) -
                    at(t[0] - s[0], t[1] - s[1], t[2] - s[2]) + at(-s[0] - t[0], -s[1] - t[1], -s[2] - t[2])) /
                       (4 * h[i] * h[j]);
      info[i][j] = info[j][i] = -second;
    }
  if (l.slope_fixed)  // the slope is given: nothing is uncertain about it
    for (int i = 0; i < 3; ++i) info[1][i] = info[i][1] = i == 1 ? 1e30 : 0;
  const double det = info[0][0] * (info[1][1] * info[2][2] - info[1][2] * info[1][2]) -
                     info[0][1] * (info[0][1] * info[2][2] - info[1][2] * info[0][2]) +
                     info[0][2] * (info[0][1] * info[1][2] - info[1][1] * info[0][2]);
  if (!(det > 0)) return false;
  c[0][0] = (info[1][1] * info[2][2] - info[1][2] * info[1][2]) / det;
  c[1][1] = (info[0][0] * info[2][2] - info[0][2] * info[0][2]) / det;
  c[2][2] = (info[0][0] * info[1][1] - info[0][1] * info[0][1]) / det;
  c[0][1] = c[1][0] = -(info[0][1] * info[2][2] - info[0][2] * info[1][2]) / det;
  return c[0][0] > 0 && c[1][1] > 0 && c[2][2] > 0;
}

void maximise(const Data& d, std::optional<double> fixed, SnLine& l) {
  const double n = double(d.x.size());
  std::vector<double> y = d.y;
  for (int round = 0; round < 20000; ++round) {
    double spread = 0;
    for (size_t i = 0; i < d.x.size(); ++i) {
      if (!d.out[i]) continue;
      const double mean = l.log_c - l.slope * d.x[i];
      double e = 0, square = 0;
      above((d.y[i] - mean) / l.sd, e, square);
      y[i] = mean + l.sd * e;
      spread += l.sd * l.sd * std::max(0.0, square - e * e);
    }
    const Line next = least_squares(d.x, y, fixed);
    const double sd = std::sqrt((next.sse + spread) / n);
    const bool settled =
        std::abs(next.a - l.log_c) + std::abs(next.m - l.slope) + std::abs(sd - l.sd) < 1e-12 * (1 + std::abs(l.log_c));
    l.log_c = next.a;
    l.slope = next.m;
    l.sd = std::max(sd, 1e-12);
    if (settled) break;
  }
  double c[3][3];
  if (!covariance(d, l, c)) return;
  // About this stress level and slope are independent.
  l.pivot = l.slope_fixed ? least_squares(d.x, y, fixed).mx : c[0][1] / c[1][1];
  l.level_error = std::sqrt(std::max(0.0, l.slope_fixed ? c[0][0] : c[0][0] - c[0][1] * c[0][1] / c[1][1]));
  l.slope_error = l.slope_fixed ? 0 : std::sqrt(c[1][1]);
  // What the curvature leaves of a χ² of the scatter: all points less what run-outs keep back, less the parameters. The
  // likelihood divides its squares by n and not by those.
  const double informed = 0.5 / c[2][2], dof = std::max(1.0, informed - (l.slope_fixed ? 1 : 2));
  l.sd_error = l.sd * (std::sqrt(informed / dof) * (1 + 2 * statistics::relative_sd_error(dof)) - 1) / 2;
}

}  // namespace

double SnLine::log_life(double range) const {
  return log_c - slope * std::log10(range);
}

double SnLine::range_at(double cycles, double deviations) const {
  return std::pow(10, (log_c + deviations * sd - std::log10(cycles)) / slope);
}

std::optional<SnLine> fit_sn(const std::vector<SnPoint>& points, std::optional<double> fixed, bool likelihood) {
  const Data all = data_of(points);
  Data failed;
  for (size_t i = 0; i < all.x.size(); ++i)
    if (!all.out[i]) failed.x.push_back(all.x[i]), failed.y.push_back(all.y[i]);
  const size_t n = failed.x.size();
  if (n < (fixed ? 2u : 3u)) return std::nullopt;
  if (!fixed) {
    const auto [low, high] = std::minmax_element(failed.x.begin(), failed.x.end());
    if (!(*high - *low > 1e-9)) return std::nullopt;
  }
  const Line line = least_squares(failed.x, failed.y, fixed);
  const double dof = double(n) - (fixed ? 1 : 2);
  SnLine l;
  l.slope = line.m;
  l.log_c = line.a;
  l.sd = std::sqrt(line.sse / dof);
  l.slope_fixed = fixed.has_value();
  l.failures = n;
  l.runouts = all.x.size() - n;
  l.pivot = line.mx;
  l.level_error = l.sd / std::sqrt(double(n));
  l.slope_error = fixed ? 0 : l.sd / std::sqrt(line.sxx);
  l.sd_error = l.sd * statistics::relative_sd_error(dof);
  if (l.runouts > 0 && likelihood) {
    l.likelihood = true;
    l.sd = std::max(l.sd, 1e-6);
    maximise(all, fixed, l);
  }
  return std::isfinite(l.slope) && std::isfinite(l.log_c) && std::isfinite(l.sd) && l.slope > 0 ? std::optional(l)
                                                                                                : std::nullopt;
}

double characteristic_factor(size_t n) {
  if (n < 2) return NAN;
  const double dof = double(n - 1);
  return boost::math::quantile(boost::math::students_t(dof), 0.875) / std::sqrt(double(n)) +
         boost::math::quantile(boost::math::normal(), 0.95) *
             std::sqrt(dof / boost::math::quantile(boost::math::chi_squared(dof), 0.125));
}

double characteristic_factor(const SnLine& line, double range) {
  const size_t n = line.likelihood ? line.failures + line.runouts : line.failures;
  if (line.slope_fixed) return characteristic_factor(n);
  if (n < 3 || !(line.sd > 0)) return NAN;
  const double dof = double(n) - 2;
  const double of_line = std::hypot(line.level_error, (std::log10(range) - line.pivot) * line.slope_error) / line.sd;
  return boost::math::quantile(boost::math::students_t(dof), 0.875) * of_line +
         boost::math::quantile(boost::math::normal(), 0.95) *
             std::sqrt(dof / boost::math::quantile(boost::math::chi_squared(dof), 0.125));
}

double characteristic_range(const SnLine& line, double cycles) {
  double range = line.range_at(cycles);
  // The factor depends on where the range lies: a fixed point, reached from the mean line downwards.
  for (int round = 0; round < 200; ++round) {
    const double next = line.range_at(cycles, -characteristic_factor(line, range));
    if (!std::isfinite(next) || !(next > 0)) return NAN;
    const bool settled = std::abs(next - range) <= 1e-12 * range;
    range = next;
    if (settled) return range;
  }
  return NAN;  // a slope so unsure that the bound runs away from the data
}

double DetailLine::knee() const {
  return category * std::cbrt(2.0 / 5.0);
}

double DetailLine::cut_off() const {
  return knee() * std::pow(5.0 / 100.0, 0.2);
}

double DetailLine::life(double range, bool with_cut_off) const {
  if (!(range > 0)) return HUGE_VAL;
  if (range >= knee()) return 2e6 * std::pow(category / range, 3);
  if (with_cut_off && range <= cut_off()) return HUGE_VAL;
  return 5e6 * std::pow(knee() / range, 5);
}

const std::vector<double>& detail_categories() {
  static const std::vector<double> steps = {36, 40, 45, 50, 56, 63, 71, 80, 90, 100, 112, 125, 140, 160};
  return steps;
}

}  // namespace fortitor::fatigue
