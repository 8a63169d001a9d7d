#include "core/statistics/relation.h"

#include <algorithm>
#include <cmath>

namespace fortitor::statistics {

double Relation::confidence(double x) const {
  const double d = x - x_mean;
  return t_quantile(0.975, double(n) - 2) * residual_sd * std::sqrt(1 / double(n) + d * d / x_squares);
}

double Relation::prediction(double x) const {
  const double d = x - x_mean;
  return t_quantile(0.975, double(n) - 2) * residual_sd * std::sqrt(1 + 1 / double(n) + d * d / x_squares);
}

std::optional<Relation> relate(const std::vector<double>& xs, const std::vector<double>& ys) {
  std::vector<double> x, y;
  for (size_t i = 0; i < std::min(xs.size(), ys.size()); ++i)
    if (std::isfinite(xs[i]) && std::isfinite(ys[i])) x.push_back(xs[i]), y.push_back(ys[i]);
  Relation r;
  r.n = x.size();
  if (r.n < 3) return std::nullopt;
  const double n = double(r.n);
  double my = 0, size = 0;
  for (size_t i = 0; i < r.n; ++i) r.x_mean += x[i] / n, my += y[i] / n, size = std::max(size, std::abs(x[i]));
  double xy = 0, yy = 0;
  for (size_t i = 0; i < r.n; ++i) {
    r.x_squares += (x[i] - r.x_mean) * (x[i] - r.x_mean);
    xy += (x[i] - r.x_mean) * (y[i] - my);
    yy += (y[i] - my) * (y[i] - my);
  }
  if (!(r.x_squares > 1e-26 * size * size)) return std::nullopt;
  r.slope = xy / r.x_squares;
  r.intercept = my - r.slope * r.x_mean;
  double left = 0;
  for (size_t i = 0; i < r.n; ++i) {
    const double d = y[i] - my - r.slope * (x[i] - r.x_mean);
    left += d * d;
  }
  r.r2 = yy > 0 ? std::max(0.0, 1 - left / yy) : 0;
  r.residual_sd = std::sqrt(left / (n - 2));
  r.slope_error = r.residual_sd / std::sqrt(r.x_squares);
  r.intercept_error = r.residual_sd * std::sqrt(1 / n + r.x_mean * r.x_mean / r.x_squares);
  r.p = r.slope_error > 0 ? t_two_sided(r.slope / r.slope_error, n - 2) : r.slope != 0 ? 0 : 1;
  return r;
}

std::optional<Chart> individuals(const std::vector<double>& v) {
  if (v.size() < 2) return std::nullopt;
  Chart c;
  for (size_t i = 0; i < v.size(); ++i) {
    c.mean += v[i] / double(v.size());
    if (i > 0) c.ranges.push_back(std::abs(v[i] - v[i - 1]));
  }
  for (double r : c.ranges) c.moving_range += r / double(c.ranges.size());
  if (!(c.moving_range > 0) || !std::isfinite(c.moving_range)) return std::nullopt;
  // d₂ of two values is 2/√π = 1.128; D₄ is 3.267.
  constexpr double kD2 = 1.1283791670955126, kD4 = 3.2665;
  c.low = c.mean - 3 / kD2 * c.moving_range;
  c.high = c.mean + 3 / kD2 * c.moving_range;
  c.range_high = kD4 * c.moving_range;
  int side = 0, length = 0;
  for (size_t i = 0; i < v.size(); ++i) {
    if (v[i] < c.low || v[i] > c.high) c.beyond.push_back(i);
    if (i > 0 && c.ranges[i - 1] > c.range_high) c.range_beyond.push_back(i);
    const int now = v[i] > c.mean ? 1 : v[i] < c.mean ? -1 : 0;
    length = now != 0 && now == side ? length + 1 : now != 0;
    side = now;
    if (length >= 9) c.run = i;
  }
  return c;
}

std::optional<size_t> pieces_for(double sd, double half, double confidence) {
  if (!(sd > 0) || !(half > 0) || !(confidence > 0 && confidence < 1)) return std::nullopt;
  const auto enough = [&](double n) { return t_quantile(1 - (1 - confidence) / 2, n - 1) * sd / std::sqrt(n) <= half; };
  size_t high = 2;
  while (!enough(double(high))) {
    high *= 2;
    if (high > 2000000) return std::nullopt;
  }
  size_t low = 2;
  while (low < high) {  // the width falls with every piece
    const size_t middle = (low + high) / 2;
    if (enough(double(middle)))
      high = middle;
    else
      low = middle + 1;
  }
  return high <= 1000000 ? std::optional(high) : std::nullopt;
}

}  // namespace fortitor::statistics
