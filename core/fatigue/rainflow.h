// Rainflow counting: closed cycles of a sequence of turning points.
#pragma once

#include <cstddef>
#include <vector>

namespace fortitor::fatigue {

struct Cycle {
  double from = 0, to = 0;  ///< turning points that close it, in the order in which they came
  double count = 1;         ///< 1, or 0.5 in the three-point school
  double range() const { return from < to ? to - from : from - to; }
};

/// Points that go on in the same direction are one; equal neighbours too.
std::vector<double> alternating(const std::vector<double>& points);

/// Four-point count: an inner range that is not larger than either neighbour is a cycle (Amzallag et al. 1994). The
/// residue is put after itself and counted again, so that all cycles are closed. `residue` gets what was left first.
std::vector<Cycle> rainflow_four_point(const std::vector<double>& points, std::vector<double>* residue = nullptr);

/// Three-point count with half cycles (ASTM E1049, 5.4.4).
std::vector<Cycle> rainflow_three_point(const std::vector<double>& points);

}  // namespace fortitor::fatigue
