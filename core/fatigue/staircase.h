// Fatigue limit from a staircase: one piece after the other, a step down after a failure, a step up after a run-out.
#pragma once

#include <optional>
#include <vector>

#include "core/fatigue/sn_line.h"

namespace fortitor::fatigue {

/// Dixon and Mood 1948: the less frequent event, levels counted from its lowest.
struct Staircase {
  double mean = 0, sd = 0;
  /// Standard errors of both, wide enough for few pieces: `mean_error` with Student's t of n − 1, twice `sd_error`.
  /// They hold in 93 to 100 of 100 simulated staircases of 10 to 50 pieces with steps of 0.7 to 1.5 deviations; with
  /// steps below half a deviation the scatter comes out too small (Dixon and Mood 1948, section 6).
  double mean_error = 0, sd_error = 0;
  double step = 0, lowest = 0;  ///< MPa; of the less frequent event
  size_t n = 0, a = 0, b = 0;   ///< N, A = Σ i·nᵢ, B = Σ i²·nᵢ
  bool survivals = false;       ///< the less frequent event is a run-out
  double scatter() const;       ///< (N·B − A²)/N²; the estimate of sd holds from 0.3 on
};
/// `step` MPa, > 0. Levels are rounded to whole steps. Empty without both events.
std::optional<Staircase> dixon_mood(const std::vector<SnPoint>& points, double step);

/// Probit by maximum likelihood: P(failure at S) = Φ((S − mean)/sd). Empty when the data part cleanly (every failure
/// above every run-out) or mix at one level alone: the likelihood has no maximum then, and the scatter is not known.
struct Probit {
  double mean = 0, sd = 0;
  /// From the curvature of the likelihood, widened for few pieces (a staircase looks at the middle of its distribution
  /// only, and the likelihood's scatter comes out small): with `dof` they hold in 92 to 99 of 100 simulated staircases
  /// of 12 to 50 pieces with steps of 0.7 to 1.4 deviations.
  double mean_error = 0, sd_error = 0, dof = 0;
};
std::optional<Probit> probit(const std::vector<SnPoint>& points);

/// The step in which the levels were run: the one by which most pieces were moved from the one before (the larger of
/// two that do as well; the one asked for where it does as well as any), 0 where fewer than two levels are there. And
/// the pieces that lie at no whole number of it from the others.
struct Ladder {
  double step = 0;
  std::vector<size_t> off;  ///< pieces off every rung, by their place in the list
};
Ladder ladder_of(const std::vector<SnPoint>& points, double asked = 0);

}  // namespace fortitor::fatigue
