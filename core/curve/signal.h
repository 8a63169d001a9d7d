// From raw samples to clean signals: order, clock, gaps, noise, the quiet stretch before motion.
#pragma once

#include <cstddef>
#include <string>
#include <vector>

#include "core/curve/faults.h"
#include "core/record/record.h"

namespace fortitor {

/// Channels of a run in time order, rows without time or force left out. Absent channels are empty.
struct Signals {
  std::vector<double> time, force, extension, strain, strain_lateral, crosshead;
  bool sorted_by_us = false;         ///< the file was not in time order
  size_t dropped = 0;                ///< rows without time or force
  size_t duplicates = 0;             ///< true repeats of a whole row, left out
  bool clock_coarse = false;         ///< several rows under one time stamp: spread evenly over it
  bool time_invented = false;        ///< no time channel: the sample number stands in for it
  bool sign_flipped = false;         ///< force was logged negative
  bool strain_flipped = false;       ///< strain ran against the load and was turned round
  std::vector<ChannelFault> faults;  ///< of a run in the order of time
  std::vector<size_t> rows;          ///< row of the file behind every sample; empty: all of them in order
  size_t size() const { return force.size(); }
  /// Any other channel of the file in the rows that were kept; empty when it has none of that name.
  std::vector<double> aligned(const Samples& samples, const std::string& name) const;
};

/// Cleans the samples of a force test. When the largest magnitude of force is negative, force is turned round and
/// `sign_flipped` is set; travel and strain that run against the load are turned round too, the lateral strain
/// together with the strain. Samples that share a time stamp because the clock is coarse are all kept and spread
/// evenly over it; only true repeats of a whole row are dropped. `travel` names the channel taken as crosshead
/// travel.
Signals clean(const Samples& samples, const std::string& travel = "crosshead");

/// Standard deviation of the noise of a slowly varying signal: scaled median absolute first
/// difference (robust against steps), σ = 1.4826·median|Δ|/√2. 0 for fewer than 3 samples.
double noise_of(const std::vector<double>& y, size_t first, size_t last);

/// The same from second differences, σ = 1.4826·median|Δ²|/√6: blind to the slope of a coarsely sampled curve.
double noise_of_bent(const std::vector<double>& y, size_t first, size_t last);

/// Number of leading samples during which nothing moved: every channel stays within its own noise and count and
/// shows no trend. 0 when that holds for fewer than ten samples: the recording starts while moving.
/// Empty channels and missing samples say nothing.
size_t quiet_stretch(const std::vector<const std::vector<double>*>& channels);

/// Force before anything moved.
struct ForceZero {
  double value = 0;     ///< mean over the quiet stretch, in the unit of the force; 0 without one
  double error = 0;     ///< standard error of that mean
  size_t quiet = 0;     ///< samples of it; 0: the recording starts while moving or being loaded
  bool beyond = false;  ///< more than 0.2 % of the largest force and more than 5 N: worth a finding
  bool off = false;     ///< it was taken off the force
  double first = 0;     ///< force at the very first sample, as read
  bool after = false;   ///< read after the break, with nothing on the machine: before it nothing was quiet
};

/// Finds the zero and takes it off when it is beyond that and not kept as a preload. Below it the offset is
/// noise of the channel and stays. `others`: the channels that move with the test.
ForceZero take_zero(std::vector<double>& force, const std::vector<const std::vector<double>*>& others, bool keep);

/// Mean over [first, last); 0 when empty.
double mean_of(const std::vector<double>& y, size_t first, size_t last);
bool any_finite(const std::vector<double>& y);

}  // namespace fortitor
