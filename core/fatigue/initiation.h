// When a crack began, from short gauges along a weld toe read at peak load over the cycles.
#pragma once

#include <cmath>
#include <optional>
#include <vector>

namespace fortitor::fatigue {

/// A reading over cycles that runs straight and then turns: continuous, two slopes.
struct Turn {
  double cycles = 0;
  double before = 0, after = 0;  ///< slopes
  double error = 0;  ///< standard, of `cycles`: the scatter about both lines, and how far apart readings are
};
/// Least squares over all places of the turn, on the running median of five (a single jump is no turn). Taken when two
/// slopes explain the readings themselves better than one line at 0.1 % (F, two more parameters, the best of many
/// places) and differ by more than their noise. Readings before `from` and after `to` are left out. Empty for fewer
/// than 8 readings.
std::optional<Turn> turn_of(const std::vector<double>& cycles, const std::vector<double>& strain,
                            double from = -HUGE_VAL, double to = HUGE_VAL);
/// The first of several turns: looked for again before the one that stands out most, until there is none.
std::optional<Turn> first_turn_of(const std::vector<double>& cycles, const std::vector<double>& strain);

std::vector<double> running_median(const std::vector<double>& y, size_t of);

}  // namespace fortitor::fatigue
