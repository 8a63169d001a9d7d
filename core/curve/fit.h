// Straight lines through parts of a curve, any window in constant time.
#pragma once

#include <cstddef>
#include <optional>
#include <vector>

namespace fortitor {

/// Least-squares line y = intercept + slope·x over n points.
struct LineFit {
  double slope = 0.0, intercept = 0.0;
  double r2 = 0.0;           ///< coefficient of determination
  double slope_error = 0.0;  ///< standard error of the slope, absolute
  double residual_sd = 0.0;
  size_t n = 0;
  double at(double x) const { return intercept + slope * x; }
};

/// Running sums that give the line through any index range [first, last) in O(1). Sums are taken
/// about the middle of the data, which keeps cancellation harmless (Chan, Golub and LeVeque 1983).
class LineSums {
 public:
  LineSums() = default;
  LineSums(const std::vector<double>& x, const std::vector<double>& y, size_t first, size_t last);
  /// Empty for fewer than 2 points or when all x are equal.
  std::optional<LineFit> fit(size_t first, size_t last) const;

 private:
  size_t offset_ = 0;
  double x0_ = 0, y0_ = 0;
  std::vector<double> x_, y_, xx_, xy_, yy_;
};

/// Line through the points [first, last), two-pass for full precision.
std::optional<LineFit> fit_line(const std::vector<double>& x, const std::vector<double>& y, size_t first, size_t last);
std::optional<LineFit> fit_line(const std::vector<double>& x, const std::vector<double>& y);

/// ∫ y dx by the trapezoidal rule over [first, last]; NaN points are passed over.
double work_under(const std::vector<double>& x, const std::vector<double>& y, size_t first, size_t last);

/// y at x by straight line between the samples around the first crossing at or after `from`; when
/// the signal is noisy, the value of the local line through ± `half` samples. Empty if x is never
/// reached.
std::optional<double> value_at(const std::vector<double>& x, const std::vector<double>& y, double wanted, size_t from,
                               size_t last, size_t half = 0);

}  // namespace fortitor
