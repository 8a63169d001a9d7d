#include "core/curve/fit.h"

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

LineFit line_from(double n, double mean_x, double mean_y, double sxx, double sxy, double syy) {
  LineFit f;
  f.n = size_t(n);
  f.slope = sxy / sxx;
  f.intercept = mean_y - f.slope * mean_x;
  const double residual = std::max(0.0, syy - f.slope * sxy);
  f.r2 = syy > 0 ? std::clamp(1 - residual / syy, 0.0, 1.0) : 1.0;
  if (n > 2) {
    f.residual_sd = std::sqrt(residual / (n - 2));
    f.slope_error = f.residual_sd / std::sqrt(sxx);
  }
  return f;
}

}  // namespace

LineSums::LineSums(const std::vector<double>& x, const std::vector<double>& y, size_t first, size_t last)
    : offset_(first) {
  last = std::min({last, x.size(), y.size()});
  if (last <= first) return;
  x0_ = x[(first + last) / 2];
  y0_ = y[(first + last) / 2];
  const size_t n = last - first;
  for (auto* v : {&x_, &y_, &xx_, &xy_, &yy_}) v->resize(n + 1);
  for (size_t i = 0; i < n; ++i) {
    const double dx = x[first + i] - x0_, dy = y[first + i] - y0_;
    x_[i + 1] = x_[i] + dx;
    y_[i + 1] = y_[i] + dy;
    xx_[i + 1] = xx_[i] + dx * dx;
    xy_[i + 1] = xy_[i] + dx * dy;
    yy_[i + 1] = yy_[i] + dy * dy;
  }
}

std::optional<LineFit> LineSums::fit(size_t first, size_t last) const {
  if (first < offset_ || x_.empty()) return std::nullopt;
  const size_t a = first - offset_, b = std::min(last - offset_, x_.size() - 1);
  if (b < a + 2) return std::nullopt;
  const double n = double(b - a);
  const double mx = (x_[b] - x_[a]) / n, my = (y_[b] - y_[a]) / n;
  const double sxx = xx_[b] - xx_[a] - n * mx * mx;
  const double sxy = xy_[b] - xy_[a] - n * mx * my;
  const double syy = yy_[b] - yy_[a] - n * my * my;
  if (!(sxx > 0)) return std::nullopt;
  return line_from(n, mx + x0_, my + y0_, sxx, sxy, syy);
}

std::optional<LineFit> fit_line(const std::vector<double>& x, const std::vector<double>& y, size_t first, size_t last) {
  last = std::min({last, x.size(), y.size()});
  while (first < last && (!std::isfinite(x[first]) || !std::isfinite(y[first]))) ++first;
  if (first >= last) return std::nullopt;
  // Means from the first point on: nothing cancels, and no division a sample.
  double n = 0, mx = 0, my = 0;
  for (size_t i = first; i < last; ++i) {
    if (!std::isfinite(x[i]) || !std::isfinite(y[i])) continue;
    n += 1;
    mx += x[i] - x[first];
    my += y[i] - y[first];
  }
  if (n < 2) return std::nullopt;
  mx = x[first] + mx / n;
  my = y[first] + my / n;
  double sxx = 0, sxy = 0, syy = 0;
  for (size_t i = first; i < last; ++i) {
    if (!std::isfinite(x[i]) || !std::isfinite(y[i])) continue;
    sxx += (x[i] - mx) * (x[i] - mx);
    sxy += (x[i] - mx) * (y[i] - my);
    syy += (y[i] - my) * (y[i] - my);
  }
  if (!(sxx > 0)) return std::nullopt;
  LineFit f = line_from(n, mx, my, sxx, sxy, syy);
  // Residuals one by one: their sum of squares loses no digits to the difference of large sums.
  double residual = 0;
  for (size_t i = first; i < last; ++i) {
    if (!std::isfinite(x[i]) || !std::isfinite(y[i])) continue;
    const double r = (y[i] - my) - f.slope * (x[i] - mx);
    residual += r * r;
  }
  f.r2 = syy > 0 ? std::clamp(1 - residual / syy, 0.0, 1.0) : 1.0;
  f.residual_sd = n > 2 ? std::sqrt(residual / (n - 2)) : 0;
  f.slope_error = f.residual_sd / std::sqrt(sxx);
  return f;
}

std::optional<LineFit> fit_line(const std::vector<double>& x, const std::vector<double>& y) {
  return fit_line(x, y, 0, std::min(x.size(), y.size()));
}

double work_under(const std::vector<double>& x, const std::vector<double>& y, size_t first, size_t last) {
  double sum = 0;
  size_t before = first;
  bool have = false;
  for (size_t i = first; i <= last && i < std::min(x.size(), y.size()); ++i) {
    if (!std::isfinite(x[i]) || !std::isfinite(y[i])) continue;
    if (have) sum += 0.5 * (y[i] + y[before]) * (x[i] - x[before]);
    before = i;
    have = true;
  }
  return sum;
}

std::optional<double> value_at(const std::vector<double>& x, const std::vector<double>& y, double wanted, size_t from,
                               size_t last, size_t half) {
  last = std::min({last, x.size(), y.size()});
  for (size_t i = from; i < last; ++i) {
    if (!(x[i] >= wanted)) continue;
    if (half > 0) {
      const size_t a = i > from + half ? i - half : from, b = std::min(last, i + half + 1);
      if (b > a + 3)
        if (const auto line = fit_line(x, y, a, b)) return line->at(wanted);
    }
    if (i == from || x[i] == x[i - 1]) return y[i];
    return y[i - 1] + (y[i] - y[i - 1]) * (wanted - x[i - 1]) / (x[i] - x[i - 1]);
  }
  return std::nullopt;
}

}  // namespace fortitor
