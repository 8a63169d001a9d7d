// The S–N line through fatigue points: log₁₀N = log₁₀C − m·log₁₀S, with run-outs as what they are.
#pragma once

#include <cmath>
#include <cstddef>
#include <optional>
#include <vector>

namespace fortitor::fatigue {

/// One test: stress range (MPa, > 0), cycles (> 0), whether it ran out.
struct SnPoint {
  double range = 0, cycles = 0;
  bool runout = false;
};

/// log₁₀N = log_c − slope·log₁₀S with scatter `sd` of log₁₀N.
struct SnLine {
  double slope = 0, log_c = 0, sd = 0;
  bool likelihood = false;  ///< by maximum likelihood, run-outs censored; otherwise least squares over the failures
  bool slope_fixed = false;
  size_t failures = 0, runouts = 0;
  /// Independent errors: of the line's level at log₁₀S = `pivot`, of the slope there, of the scatter.
  double pivot = 0, level_error = 0, slope_error = 0, sd_error = 0;

  double log_life(double range) const;
  /// Range for a life at `deviations` of the scatter above (below, when negative) the mean line.
  double range_at(double cycles, double deviations = 0) const;
};

/// Least squares on log₁₀N given log₁₀S over the failures (ASTM E739; N depends on S), or, whenever there is a run-out
/// and `likelihood` is not refused, maximum likelihood with run-outs as lower bounds (EM for the censored normal
/// regression, Aitkin 1981). `fixed_slope`: empty when it is fitted. Scatter: n − 2 degrees of freedom (n − 1 with the
/// slope fixed), or that of the likelihood. Empty without two failures (three for a free slope), or when a free slope
/// has all failures at one range.
std::optional<SnLine> fit_sn(const std::vector<SnPoint>& points, std::optional<double> fixed_slope,
                             bool likelihood = true);

/// Factor k on the scatter for 95 % survival at 75 % two-sided confidence:
/// k = t₀.₈₇₅,ₙ₋₁/√n + 1.645·√((n − 1)/χ²₀.₁₂₅,ₙ₋₁). NaN for n < 2.
double characteristic_factor(size_t n);

/// Range that 95 % survive for so many cycles, at 75 % two-sided confidence. With the slope fixed the factor is that of
/// characteristic_factor(); with a free one its first part is the bound of the regression where that range lies, which
/// widens with the distance from the middle of the data, over n − 2 degrees of freedom. NaN where the line does not
/// reach it.
double characteristic_range(const SnLine& line, double cycles);
/// Factor that it comes to.
double characteristic_factor(const SnLine& line, double range);

/// A detail category line: `range` at 2·10⁶, slope 3 to 5·10⁶, slope 5 to 10⁸, no damage below that (EN 1993-1-9).
struct DetailLine {
  double category = 0;     ///< MPa
  double knee() const;     ///< range at 5·10⁶
  double cut_off() const;  ///< range at 10⁸
  /// Cycles; infinite at or below the cut-off. Without it slope 5 goes on.
  double life(double range, bool with_cut_off = true) const;
  /// The same at constant amplitude: slope 3 to 5·10⁶ and level beyond; infinite below the constant amplitude limit,
  /// 0.737 of the category (EN 1993-1-9, 7.1).
  double life_constant(double range) const { return range >= knee() ? life(range) : HUGE_VAL; }
};
/// The usual steps of categories, MPa, ascending.
const std::vector<double>& detail_categories();

}  // namespace fortitor::fatigue
