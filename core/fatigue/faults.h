// What a measured strain history tells of its own logger, besides spikes and stuck stretches: a range that ended, and a
// zero that moved.
#pragma once

#include <cstddef>
#include <cstdint>
#include <vector>

namespace fortitor::fatigue {

/// Samples that stand exactly on the largest (or least) value of a signal.
struct RangeEnd {
  double value = 0;                               ///< unit of the signal, as measured
  uint64_t samples = 0, stretches = 0, near = 0;  ///< `stretches`: of two samples or more; `near`: just short of it
  /// A live signal turns at its extremes one after the other and is seldom twice on the same; one that is cut off
  /// stands on the end of the range more often than just short of it, again and again.
  bool cut_off() const;
};

/// A level that moved from one sample to the next and stayed there.
struct ZeroStep {
  uint64_t at = 0;  ///< first sample after it
  double by = 0;    ///< between the medians before and after, unit of the signal
};

/// 1.4826 times the median of |v|: the deviation of normal noise about zero, untouched by a few that stray. Leaves `v`
/// in disorder, without signs; 0 without values.
double robust_deviation(std::vector<double>& v);

/// Counts x[from, to) for the ends `top` and `bottom`; `near`: how far from an end a sample is just short of it.
void count_ends(const std::vector<double>& x, size_t from, size_t to, double near, RangeEnd& top, RangeEnd& bottom);

/// The finest step between neighbours of x[from, to); 0 where nothing moves.
double digit_of(const std::vector<double>& x, size_t from, size_t to);

/// Steps of x[from, to): one sample to the next by more than twelve robust deviations of such differences and three
/// times what but one of a thousand of them reach, and the medians of a quarter of a second (sixteen samples at least)
/// before and after differ by as much, each side quiet beside it. A load that comes on takes more than one sample at
/// the rates of such loggers. `rate` in Hz.
void find_steps(const std::vector<double>& x, size_t from, size_t to, uint64_t origin, double rate,
                std::vector<ZeroStep>& out);
/// Samples on either side that find_steps() looks at.
size_t step_surroundings(double rate);

}  // namespace fortitor::fatigue
