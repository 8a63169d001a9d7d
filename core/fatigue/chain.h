// The chain from a measured strain history to its turning points, streamed: the samples stay in their files, and what
// is held is small. Every step keeps what it found, so that a changed setting is computed from its own step on.
#pragma once

#include <memory>
#include <string>
#include <vector>

#include "core/fatigue/faults.h"
#include "core/fatigue/level.h"
#include "core/fatigue/signal.h"
#include "core/fatigue/turning.h"

namespace fortitor::fatigue {

constexpr size_t kListed = 1000;  ///< gaps, spikes and stuck stretches kept one by one; the rest are counted

struct Stretch {
  uint64_t from = 0, count = 0;  ///< samples
};

/// Least and largest of `per` samples each; NaN where nothing was measured.
struct Overview {
  size_t per = 0;
  std::vector<float> least, largest;
};

/// What the first reading of a signal gives.
struct Raw {
  size_t samples = 0, missing = 0;
  std::vector<Stretch> gaps;  ///< the first thousand
  size_t gap_count = 0;
  std::vector<LevelSums> blocks;
  size_t block = 0;  ///< samples
  bool medians = false;
  Overview overview;
};

/// What smoothing gives.
struct Smoothed {
  std::vector<Extreme> extremes;
  size_t spike_count = 0, stuck_samples = 0;
  std::vector<uint64_t> spikes;  ///< the first thousand
  std::vector<Stretch> stuck;
  RangeEnd top, bottom;         ///< how often the signal stands on its largest and on its least value
  std::vector<ZeroStep> steps;  ///< the first thousand
  double mean = 0;              ///< of the levelled signal
  double noise = 0;             ///< standard, of one sample as measured: the median over its pieces
};

struct Workers {
  size_t threads = 0;  ///< 0: as many as the machine has
};

/// Reads the signal once: sums of the level's blocks, gaps, overview. Errors: a file that cannot be read, stopped.
Outcome<Raw> read_raw(const Signal& signal, double block_seconds, bool medians, const Progress& progress = {},
                      Workers workers = {});

/// Takes the drift off, smooths with zero phase below `cut` (Hz; 0 or at least half the rate: not at all), finds every
/// extreme. Gaps part the signal: every stretch is smoothed for itself. Spikes (single samples more than 12 robust
/// deviations from their surroundings) and stuck stretches (the same value for five seconds, at least 50 samples) are
/// found on the signal as measured and stay in it, unless `leave_out` says that they are gaps.
Outcome<Smoothed> smooth_signal(const Signal& signal, const Raw& raw, const Drift& drift, double cut, bool leave_out,
                                const Progress& progress = {}, Workers workers = {});

/// Samples [from, from + count) as measured, levelled, and smoothed: for a picture. NaN in gaps.
struct Piece {
  std::vector<double> measured, levelled, smooth;
};
Outcome<Piece> look_at(const Signal& signal, const Drift& drift, double cut, uint64_t from, size_t count);

/// Mean loss of the hundred largest swings by smoothing, as a share: each is compared with the levelled signal a
/// quarter of the cut's period around its two ends, averaged over a sixteenth of that period so that noise does not
/// count. NaN without swings or without a filter.
Outcome<double> peak_loss(const Signal& signal, const Drift& drift, double cut, const std::vector<Extreme>& turning);

/// The same swings under other cuts (Hz): what each would take off them.
Outcome<std::vector<double>> peak_losses(const Signal& signal, const Drift& drift, double cut,
                                         const std::vector<Extreme>& turning, const std::vector<double>& others,
                                         Workers workers = {});

}  // namespace fortitor::fatigue
