// Readings that stand alone: one sample, or two, far off a course that goes on behind them as before them.
#pragma once

#include <string>
#include <vector>

#include "core/record/record.h"

namespace fortitor {

struct Spike {
  std::string channel;
  size_t first = 0, width = 1;  ///< samples
  double at = 0;                ///< s
  double read = 0, beside = 0;  ///< the reading farthest off, and what the line between its neighbours says there
};

/// Every one in every channel but time. A reading is one when it lies off the line between its neighbours by eight
/// times what any other within ten samples lies off its own, by three times what the neighbours differ, beyond where
/// the courses on both sides go on to, and by a hundredth of the range of all others; a channel that comes in counts
/// wants sixteen of them. What turns, rises to a break and falls, rings, is serrated or merely noisy has none. Linear
/// in the samples.
std::vector<Spike> spikes_of(const Samples& samples);

/// The samples with those readings on the line between their neighbours.
SamplesPtr without_spikes(const SamplesPtr& samples, const std::vector<Spike>& spikes);

}  // namespace fortitor
