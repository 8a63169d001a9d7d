// Proof load of components: cycles to a proof load with function checks, then destruction (docs/methods/proof-load.md).
// The program rates nothing.
#pragma once

#include <cmath>
#include "core/methods/method.h"

namespace fortitor::proof {

/// A jerk: mass (kg) at a speed (mm/s) stopped within a distance (mm), or by a spring (N/mm).
struct Snatch {
  double mean = NAN, peak = NAN;  ///< N
};
Snatch snatch_of(double mass, double speed, double distance, double stiffness);

}  // namespace fortitor::proof

namespace fortitor::methods {

const Method& proof_load();

}  // namespace fortitor::methods
