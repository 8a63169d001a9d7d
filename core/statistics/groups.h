// Several groups of values against each other: whether they differ, which of them, and whether they are alike enough.
#pragma once

#include <cstddef>
#include <optional>
#include <vector>

#include "core/statistics/sample.h"

namespace fortitor::statistics {

using Groups = std::vector<std::vector<double>>;

/// One-way analysis of variance (ISO 16269; Montgomery, Design and Analysis of Experiments).
struct Anova {
  double f = 0, p = 0;
  double between = 0, within = 0;  ///< mean squares
  double dof_between = 0, dof_within = 0;
};
/// Groups without a value are passed over. Empty for fewer than 2 groups, no degree of freedom within, or no scatter.
std::optional<Anova> anova(const Groups& groups);

/// Distribution of the studentized range of k means: P(range/s ≤ q), s with `dof` degrees of freedom. Double Gauss
/// quadrature of its definition (Copenhaver and Holland 1988). k ≥ 2, dof ≥ 1, q ≥ 0; NaN outside. Good to 1e-9.
double studentized_range(double q, size_t k, double dof);
/// q that is not exceeded with probability p in (0, 1). Good to 1e-8.
double studentized_range_quantile(double p, size_t k, double dof);

/// Two of several means, the family of all pairs held at one level (Tukey 1953; Kramer 1956 for unequal numbers).
struct Pair {
  size_t first = 0, second = 0;  ///< indices into the groups
  double difference = 0;         ///< mean of the first less mean of the second
  double q = 0, p = 0;
  Interval of_difference;  ///< 95 % for all pairs together
};
/// Empty when anova() is.
std::vector<Pair> tukey_kramer(const Groups& groups, double alpha = 0.05);

/// Two groups by ranks (Mann and Whitney 1947), two-sided.
struct MannWhitney {
  double u = 0;  ///< of the first group; ties count half
  double p = 0;
  bool exact =
      false;  ///< by counting all orders: no ties and at most 400 pairs; else by the normal, corrected for ties
};
/// Empty when a group has no value or all values are equal.
std::optional<MannWhitney> mann_whitney(const std::vector<double>& a, const std::vector<double>& b);

/// Two one-sided Welch tests against a margin (Schuirmann 1987).
struct Equivalence {
  double difference = 0, margin = 0;
  double p = 0;             ///< the larger of the two
  Interval of_difference;   ///< 90 %: lies within ± margin exactly when p < 0.05
  bool equivalent = false;  ///< p < 0.05
};
/// Empty unless both groups have 2 values, one of them scatters, and the margin is positive.
std::optional<Equivalence> equivalence(const std::vector<double>& a, const std::vector<double>& b, double margin);

/// Whether groups with bounds among their values have one mean: ratio of the likelihoods of normals with one common
/// deviation (Cohen 1991, Truncated and Censored Samples), χ² with k − 1 degrees of freedom.
struct LikelihoodRatio {
  double chi2 = 0, p = 0;
  std::vector<double> means;  ///< of the groups
  double sd = 0;              ///< common
};
/// Empty for fewer than 2 groups with a measured value, or fewer than k + 1 measured values in all.
std::optional<LikelihoodRatio> likelihood_ratio(const std::vector<std::vector<Observation>>& groups);

}  // namespace fortitor::statistics
