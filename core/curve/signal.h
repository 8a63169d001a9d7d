// From raw samples to clean signals: order, gaps, noise, the quiet stretch before motion.
#pragma once

#include <cstddef>
#include <string>
#include <vector>

#include "core/record/record.h"

namespace fortitor {

/// Channels of a run in time order, rows without time or force left out. Absent channels are empty.
struct Signals {
  std::vector<double> time, force, extension, strain, strain_lateral, crosshead;
  bool sorted_by_us = false;   ///< the file was not in time order
  size_t dropped = 0;          ///< rows without time or force
  size_t duplicates = 0;       ///< rows with the same time as the one before, left out
  bool time_invented = false;  ///< no time channel: the sample number stands in for it
  bool sign_flipped = false;   ///< force was logged negative
  size_t size() const { return force.size(); }
};

/// Cleans the samples of a force test. When the largest magnitude of force is negative all of force
/// and of those travels that run against it are turned round and `sign_flipped` is set. `travel` names
/// the channel taken as crosshead travel.
Signals clean(const Samples& samples, const std::string& travel = "crosshead");

/// Standard deviation of the noise of a slowly varying signal: scaled median absolute first
/// difference (robust against steps), σ = 1.4826·median|Δ|/√2. 0 for fewer than 3 samples.
double noise_of(const std::vector<double>& y, size_t first, size_t last);

/// Number of leading samples taken before anything moved, judged on `motion` (crosshead travel,
/// else extension, else force): the stretch that stays within 6 σ of its own noise or 2·10⁻⁵ of the
/// range. 0 when motion starts with the first samples (fewer than 3 quiet ones).
size_t quiet_stretch(const std::vector<double>& motion);

/// Force before anything moved.
struct ForceZero {
  double value = 0;    ///< mean over the quiet stretch, in the unit of the force
  size_t quiet = 0;    ///< samples of it
  bool beyond = false; ///< more than 0.2 % of the largest force and more than 5 N: worth a finding
  bool off = false;    ///< it was taken off the force
};

/// Finds the zero and takes it off when it is beyond that and not kept as a preload. Below it the offset is
/// noise of the channel and stays.
ForceZero take_zero(std::vector<double>& force, const std::vector<double>& motion, bool keep);

/// Mean over [first, last); 0 when empty.
double mean_of(const std::vector<double>& y, size_t first, size_t last);

}  // namespace fortitor
