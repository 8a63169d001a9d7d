// Landmarks of a loading curve: maximum, break, elastic window, yielding, plateau.
#pragma once

#include <cstddef>
#include <optional>
#include <vector>

#include "core/curve/fit.h"

namespace fortitor {

/// Where and how a run ended.
struct BreakPoint {
  size_t last_loaded = 0;  ///< last sample that still carried the piece
  size_t fallen = 0;       ///< first sample after the drop
};

/// The break after index `peak`: force drops by ≥ 40 % of the maximum within the shorter of 5
/// samples or 50 ms, or falls below 2 % of the maximum. Empty: the run stopped before a break.
std::optional<BreakPoint> find_break(const std::vector<double>& time, const std::vector<double>& force, size_t peak);

/// Elastic window chosen on a stress–strain curve.
struct ElasticWindow {
  size_t first = 0, last = 0;  ///< index range [first, last)
  LineFit line;
  bool poor = false;  ///< no window met the criteria; this is the one with the least slope error
  bool loop = false;  ///< an unloading loop lay in the range and was left out
  double spread = 0;  ///< standard deviation of the slope over the windows that would also do, relative
};

/// The widest straight window of the first loading, both ends between 5 % and 60 % of `yield_stress`, at least a fifth
/// of that range wide and of at least 8 samples: its quadratic term changes the slope by less than 1 % from end to end
/// or is not significant at 1 %, and its relative slope error is ≤ 1 %. If there is none, the one with the least slope
/// error, and `poor`. Searches [0, peak]. Empty when no window is wide enough.
/// `steepest_only` leaves out windows flatter than 70 % of the steepest good one; it guards the first
/// guess, when `yield_stress` may still be the tensile strength of a strongly hardening metal.
std::optional<ElasticWindow> auto_window(const std::vector<double>& strain, const std::vector<double>& stress,
                                         size_t peak, double yield_stress, bool steepest_only);

/// Least-squares window between two stresses on the loading branch.
std::optional<ElasticWindow> window_between(const std::vector<double>& strain, const std::vector<double>& stress,
                                            size_t peak, double from, double to);

/// First index at which the running maximum of `y` reaches `level` (peak + 1 if never).
size_t first_reaching(const std::vector<double>& y, size_t peak, double level);

/// Crossing of the curve with the line stress = slope·(strain − origin − offset) after `from`.
struct Crossing {
  double strain = 0.0, stress = 0.0;
  size_t index = 0;  ///< first sample beyond the line
};
/// Noise is averaged out by a local line through the samples around the first crossing.
std::optional<Crossing> offset_crossing(const std::vector<double>& strain, const std::vector<double>& stress,
                                        double slope, double origin, double offset, size_t from, size_t last);

/// Discontinuous yielding, indices into the curve.
struct Yielding {
  size_t upper = 0;        ///< R_eH
  size_t lower = 0;        ///< R_eL
  double plateau = 0.0;    ///< mean stress of the plateau
  size_t plateau_end = 0;  ///< last sample at plateau level
  bool transient_left_out = false;
};

/// Upper and lower yield (ISO 6892-1, clauses on R_eH and R_eL): the first local maximum after which
/// stress falls by at least 0.5 % before rising above it again, at a plastic strain below 1 %;
/// serrations of later flow do not count. Empty for continuous yielding.
std::optional<Yielding> find_yielding(const std::vector<double>& strain, const std::vector<double>& stress,
                                      const ElasticWindow& elastic, size_t end);

/// Index range over which stress stays within `band` of the maximum at `peak`.
struct Stretch {
  size_t first = 0, last = 0;
};
Stretch flat_top(const std::vector<double>& stress, size_t peak, double band, size_t end);

/// Where a maximum lies on a noisy flat top: the middle, in x, of the stretch that stays within three noises of it.
struct TopPlace {
  Stretch stretch;
  double standard = 0;  ///< of the place: the true maximum lies somewhere on the stretch (rectangular), in x
};
/// `noise`: standard deviation of y around the peak.
TopPlace top_place(const std::vector<double>& x, const std::vector<double>& y, size_t peak, double noise, size_t end);
/// The top of a curve without its noise: the highest point of a parabola, by least squares, over the stretch around the
/// highest block whose blocks stay within a hundredth of it. The largest single reading stands above it by what the
/// largest of so many noisy ones does.
struct SmoothTop {
  double value = 0, error = 0;  ///< with its standard error
  Stretch stretch;
  size_t n = 0;
};
/// Over [first, end); empty for fewer than 40 samples, or a top of fewer than 8.
std::optional<SmoothTop> smooth_top(const std::vector<double>& y, size_t first, size_t end);

/// Middle of the stretch; NaN where x was not read.
double middle_of(const std::vector<double>& x, const Stretch& stretch);

}  // namespace fortitor
