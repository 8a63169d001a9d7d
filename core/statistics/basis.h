// Lower bounds for a population: A-basis (99 % of it above) and B-basis (90 % above), each with 95 % confidence.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/statistics/sample.h"

namespace fortitor::statistics {

/// Two-parameter Weibull by maximum likelihood, and how well it fits (Anderson–Darling).
struct WeibullFit {
  double shape = 0, scale = 0;
  double p = 0;  ///< significance of A² (CMH-17, 8.3.6.5.2); NaN below 5 values
};
/// Empty for fewer than 3 values, any value ≤ 0, or no scatter.
std::optional<WeibullFit> weibull(const std::vector<double>& values);

/// Factor k of the extended Hanson–Koopmans bound x_(r)·(x_(1)/x_(r))^k: found for the distribution with a straight
/// log F, which is the worst of those allowed (Vangel 1994). 2 ≤ r ≤ n; NaN outside.
double hanson_koopmans_factor(size_t n, size_t r, double content, double confidence = 0.95);
/// Order statistic that is such a bound without any shape: the largest r with P(Bin(n, 1 − content) ≥ r) ≥ confidence;
/// 0 when even the smallest value is none.
size_t nonparametric_rank(size_t n, double content, double confidence = 0.95);

enum class BasisModel { normal, weibull, nonparametric };

struct Basis {
  BasisModel model = BasisModel::normal;
  std::optional<double> a, b;
  std::string how_a, how_b;  ///< the formula with its numbers
  std::string source;
};
/// The normal where it is not contradicted (Anderson–Darling, 5 %), else the Weibull where it is not, else no shape at
/// all (CMH-17, 8.3). Empty for fewer than 3 values or no scatter.
std::optional<Basis> basis(const std::vector<double>& values);
/// The Weibull beside a normal that was taken, where it may as well be the one: not contradicted by itself, its
/// likelihood at least 15 % of both together, and its bounds lower. Six to thirty values of a Weibull of shape 8 or 20
/// mostly do not contradict a normal, whose A then holds in 50 to 90 of 100 instead of 95.
std::optional<Basis> lower_rival(const std::vector<double>& values);
/// With lower bounds among the values: mean and deviation by likelihood, the factor that of the measured values alone,
/// the deviation as a sample's. Empty for fewer than 3 measured values.
std::optional<Basis> basis_with_bounds(const CensoredFit& fit);
/// By one model, whether it fits or not; empty where it cannot be computed.
std::optional<Basis> basis_by(BasisModel model, const std::vector<double>& values);

}  // namespace fortitor::statistics
