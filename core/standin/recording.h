// A run as it grows: every sample kept once, and a picture of it whose cost does not grow with it.
#pragma once

#include <cstddef>
#include <vector>

#include "core/standin/machine.h"

namespace fortitor {

/// Takes 8 bytes a channel and sample, and a fixed number of samples beside them for the live view.
class Recording {
 public:
  explicit Recording(std::vector<MachineChannel> channels = {});
  void append(const MachineColumns& more);
  size_t rows() const { return rows_; }
  /// Rows from `from` on, for the book.
  MachineColumns since(size_t from) const;
  /// Every so-manieth row, at most kLive of them, with the rows of least and largest reading of the channel that the
  /// machine is led by, and the newest; channels without a reading are left out. What is evaluated and drawn while
  /// the run goes on.
  SamplesPtr live() const;
  /// Every row as the samples of a run, channel by channel; nothing of it is kept here afterwards.
  SamplesPtr take();

  static constexpr size_t kLive = 40000;

 private:
  static constexpr size_t kChunk = 1 << 16;  // rows; growing never copies what is there
  std::vector<MachineChannel> channels_;
  std::vector<std::vector<std::vector<double>>> chunks_;  // channel, chunk, row
  std::vector<bool> seen_;                                // channels with a reading
  size_t rows_ = 0;
  std::vector<size_t> shown_;  // rows of the live view
  size_t stride_ = 1, least_ = 0, most_ = 0;
};

}  // namespace fortitor
