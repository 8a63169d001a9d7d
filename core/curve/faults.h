// What a channel cannot do by itself: stand still to the last digit while the test goes on, or jump where nothing else
// does.
#pragma once

#include <string>
#include <vector>

#include "core/record/record.h"

namespace fortitor {

struct ChannelFault {
  enum class Kind { frozen, jumped, dropped, noisy, burst } kind = Kind::frozen;
  std::string channel;
  double from = 0, to = 0;  ///< s; equal for a jump
  double value = 0;  ///< reading at which it froze, the step, or the standard deviation of the noise; internal units
  double elsewhere = 0;  ///< of a burst: the standard deviation of a quiet block
};

/// Faults of the channels of a run while it is loaded (from 5 % of the largest force on, until it is gone; jumps from
/// the first sample on), at most one of a kind for each channel.
/// - Frozen: one value to the last digit over 8 samples or more, ten times as long as values last elsewhere, while the
///   machine goes on at half the pace it had before or more; it leaves by four counts or more, or never though it has
///   no counts. (A coarse channel on a plateau, and a hold, leave by one.)
/// - Jumped: a step of one sample ten times all others within ten samples of it, most of which are steps too, of 16
/// counts
///   or more and above half a per cent of the range, across no gap of the clock. Of a force that loads the piece only
///   upwards, for nothing loads it in no time; of anything else only where the force does not step with it.
/// - Dropped: the same of a force downwards, before its largest value: a piece may crack or slip.
/// - Noisy: from reading to reading it scatters by more than 0.7 % of its range (standard deviation from second
///   differences, which change their sign as those of noise do, 200 samples or more): maxima read too high and slopes
///   too low by then.
/// - Burst: noise of that kind in a part of the run alone, of 32 samples or more: by more than 1.5 % of the range,
///   two counts, and eight times the scatter that a third of the blocks of 16 samples stay below. A plug came loose.
/// Nothing without "time" and a force ("force" or "torque").
std::vector<ChannelFault> channel_faults(const Samples& samples);

}  // namespace fortitor
