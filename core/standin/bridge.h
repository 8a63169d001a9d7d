// Strain of a bracket weld on a small bridge, as a logger would have written it: axle groups of lorries and cars, day
// and night, temperature, noise, gaps, a stretch where the logger stood still, spikes. Seeded, of any length, made in
// pieces.
#pragma once

#include <cstddef>
#include <cstdint>
#include <functional>
#include <string>
#include <vector>

#include "core/outcome.h"

namespace fortitor::standin {

struct BridgeTraffic {
  uint64_t seed = 1;
  double rate = 300;      ///< Hz, 1 to 5000
  double hours = 24 * 7;  ///< > 0
  double lorries = 900;   ///< a day
  double cars = 9000;     ///< a day
  double heaviest = 1;    ///< scale of the weights
  double noise = 0.6;     ///< standard deviation, µε
  double digit = 0.05;    ///< the logger writes multiples of it, µε; 0: all bits
  double gaps = 2;        ///< a week
  double spikes = 3;      ///< a week
  bool stuck = true;      ///< one stretch of a few minutes
};

/// Makes the history piece by piece: `take` gets samples (µε; NaN in gaps) in order and stops by returning false.
/// Pieces are made on all cores; the same seed gives the same samples however many there are.
void bridge_history(const BridgeTraffic& traffic, const std::function<bool(const std::vector<float>&)>& take);

/// Writes it as 4-byte numbers; a file that is there is refused.
Outcome<Done> write_bridge_history(const BridgeTraffic& traffic, const std::string& path,
                                   const std::function<bool(double)>& progress = {});

}  // namespace fortitor::standin
