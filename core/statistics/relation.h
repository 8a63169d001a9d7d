// One result against another, values in the order of time, and how many pieces an interval wants.
#pragma once

#include <cstddef>
#include <optional>
#include <vector>

#include "core/statistics/sample.h"

namespace fortitor::statistics {

/// Straight line y = intercept + slope·x by least squares, with what it leaves open (Draper and Smith 1998).
struct Relation {
  size_t n = 0;
  double slope = 0, intercept = 0, r2 = 0, residual_sd = 0;
  double slope_error = 0, intercept_error = 0;  ///< standard errors
  double p = 0;                                 ///< of the slope, two-sided t
  double x_mean = 0, x_squares = 0;             ///< Σ(x − x̄)²

  double at(double x) const { return intercept + slope * x; }
  /// Half width at x of the 95 % band for the mean, and for one more piece.
  double confidence(double x) const;
  double prediction(double x) const;
};
/// Pairs with a NaN are passed over. Empty for fewer than 3 pairs or when all x are equal.
std::optional<Relation> relate(const std::vector<double>& x, const std::vector<double>& y);

/// Individuals and moving ranges in order of time (ISO 7870-2; Shewhart).
struct Chart {
  double mean = 0, moving_range = 0;  ///< mean of |xᵢ − xᵢ₋₁|
  double low = 0, high = 0;           ///< mean ± 2.660·moving range (3/1.128)
  double range_high = 0;              ///< 3.267·moving range
  std::vector<double> ranges;         ///< from the second value on
  std::vector<size_t> beyond;         ///< values outside of low … high
  std::vector<size_t> range_beyond;   ///< values whose moving range is too large
  std::optional<size_t> run;          ///< last of nine in a row on one side of the mean
};
/// Empty for fewer than 2 values or when no value differs from the one before.
std::optional<Chart> individuals(const std::vector<double>& values);

/// Least number of pieces whose 95 % t-interval of the mean is ± half or narrower when they scatter by sd; at least 2.
/// Empty unless both are positive and it comes to at most a million.
std::optional<size_t> pieces_for(double sd, double half, double confidence = 0.95);

}  // namespace fortitor::statistics
