// Statistics of a series of specimens: location, scatter, intervals, normality, outliers, groups.
// Distributions come from Boost.Math; every figure here is checked against tables of independent values.
#pragma once

#include <cstddef>
#include <optional>
#include <string>
#include <vector>

#include "core/statistics/censoring.h"

namespace fortitor::statistics {

/// Arithmetic mean; NaN for none.
double mean_of(const std::vector<double>& v);

/// Quantile of Student's t. `p` in (0, 1), `dof` > 0; NaN outside.
double t_quantile(double p, double dof);
/// Two-sided probability of |T| ≥ |t|.
double t_two_sided(double t, double dof);

struct Interval {
  double low = 0, high = 0;
};

/// What a series says about its population. NaNs among the values are left out.
struct Summary {
  size_t n = 0;
  double mean = 0, sd = 0, cv = 0, median = 0, least = 0, most = 0;
  std::optional<Interval> of_mean;  ///< t-interval, 95 %; needs n ≥ 2
  std::optional<Interval> of_sd;    ///< χ²-interval, 95 %; needs n ≥ 2
};
Summary summarize(std::vector<double> values, double confidence = 0.95);

/// Standard uncertainty of a standard deviation out of n values such that s ± 2u holds the population's in 95 of 100
/// samples: the upper end of its χ² interval, for the lower is never farther. 0 for fewer than 2 values.
double sd_error(double sd, size_t n);
/// The same of a standard deviation and of a variance that stand on `dof` degrees of freedom, as a share of them; 0 for
/// dof ≤ 0.
double relative_sd_error(double dof);
double relative_variance_error(double dof);

/// Grubbs' test for one outlier, two-sided (Grubbs 1969; ASTM E178).
struct Grubbs {
  size_t index = 0;      ///< the value farthest from the mean
  double g = 0;          ///< |x − mean|/s
  double critical = 0;   ///< at the level asked
  bool outlier = false;  ///< g > critical
};
/// Critical value for n ≥ 3 values at two-sided level `alpha`.
double grubbs_critical(size_t n, double alpha = 0.05);
/// Empty for fewer than 3 values or when all are equal.
std::optional<Grubbs> grubbs(const std::vector<double>& values, double alpha = 0.05);
/// Grubbs repeated on what is left, each step at alpha/k for the k-th, so that the family of steps keeps
/// the level `alpha` (Bonferroni). Indices into `values`, in the order found; at most a third of them.
std::vector<size_t> grubbs_repeated(const std::vector<double>& values, double alpha = 0.05);

/// Anderson–Darling against a normal with mean and sd from the sample (Stephens 1974, case 3).
struct Normality {
  double a2 = 0;        ///< statistic
  double modified = 0;  ///< A²·(1 + 0.75/n + 2.25/n²)
  double p = 0;         ///< D'Agostino and Stephens 1986, table 4.9
};
/// Empty for fewer than 5 values or when all are equal.
std::optional<Normality> anderson_darling(std::vector<double> values);

/// Two groups with unequal variances (Welch 1947).
struct Welch {
  double t = 0, dof = 0, p = 0, difference = 0;
  Interval of_difference;  ///< 95 %
};
/// Empty unless both groups have at least 2 values and one of them scatters.
std::optional<Welch> welch(const std::vector<double>& a, const std::vector<double>& b);

/// One-sided normal tolerance factor: mean − k·s is exceeded by `content` of the population with
/// `confidence` (non-central t; CMH-17, B-basis content 0.90, A-basis 0.99, confidence 0.95). n ≥ 2.
double tolerance_factor(size_t n, double content, double confidence = 0.95);

/// A value that may be bounded instead of measured.
struct Observation {
  double value = 0;
  std::optional<Censoring> censored = {};
};
/// Normal mean and sd by maximum likelihood with lower bounds and intervals (EM; Dempster, Laird and
/// Rubin 1977). Without censored values: the mean and the sample sd with n − 1. Empty when fewer than 2
/// values were measured.
struct CensoredFit {
  double mean = 0, sd = 0;
  size_t measured = 0, censored = 0;
};
std::optional<CensoredFit> censored_normal(const std::vector<Observation>& values);

/// Bins of equal, round width (1, 2, 2.5, 5 times a power of ten) for a histogram; about √n of them, 4 to 20.
struct Histogram {
  double from = 0, width = 0;
  std::vector<size_t> counts;
};
Histogram histogram(const std::vector<double>& values);

/// How far the largest of `n` noisy readings on the top of a curve stands above it, in standard deviations of the
/// noise; at least 1. Of n independent readings on a flat top it is about √(2 ln n) (Cramér 1946, section 28.6); a top
/// is round, and fewer of them compete: with 0.7 of it value ± U holds the truth of simulated runs (bench/coverage).
double lift_of_largest(double n);

}  // namespace fortitor::statistics
