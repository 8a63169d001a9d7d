// A run with channels as a loading curve: zero taken off, peak, break, the usual findings about them.
#pragma once

#include <string>
#include <vector>

#include "core/curve/shape.h"
#include "core/curve/signal.h"
#include "core/evaluation/evaluation.h"

namespace fortitor {

struct Loading {
  Signals s;              ///< force with its zero taken off unless it is kept as preload
  ForceZero zero;         ///< of the quiet stretch before motion
  size_t peak = 0;        ///< index of the largest force
  std::optional<BreakPoint> fracture;
  size_t end = 0;  ///< one past the last loaded sample
  bool empty() const { return s.size() < 3; }
  double peak_force() const { return empty() ? 0 : s.force[peak]; }
};

/// Cleans a run. `travel`: channel names of which the first present is taken as Signals::crosshead.
/// The sign of force and travel is turned so that the test's own direction is positive.
Loading loading_of(const TestRecord& record, const std::vector<std::string>& travel);

/// not-zeroed, cell-low, cell-over, sign-flipped, time-unsorted, samples-dropped, censored.
/// `stress_area` > 0 lets the sentence name a stress. `key`: the result the force leads to.
void loading_findings(Evaluation& e, const TestRecord& record, const Loading& loading, double stress_area,
                      const std::string& key);

}  // namespace fortitor
