// A machine that works by itself for hours or days and is asked now and then: a fatigue rig. Its counter is its own, so
// that it goes on while nobody looks and while the program is not running.
#pragma once

#include <map>
#include <optional>
#include <string>
#include <vector>

#include "core/outcome.h"
#include "core/record/record.h"

namespace fortitor {

/// What a rig is told at the start of a piece.
struct LongOrder {
  size_t row = 0;         ///< of the keyed table that the piece belongs to
  Fields cells;           ///< of that row as far as they are known: the level
  double frequency = 10;  ///< Hz, > 0
  double most = 1e7;      ///< cycles after which it stops by itself: the piece ran out
};

struct LongStatus {
  double cycles = 0;
  double stiffness = 1;  ///< share of what it was at the start: falls as a crack grows
  bool ended = false, broken = false, ran_out = false;
  std::string message;                       ///< why it stopped
  std::vector<double> gauges;                ///< strain along the toe at peak load, microstrain; as many as were glued
  std::map<std::string, std::string> cells;  ///< of an ended piece: what its row takes, typed
};

class LongMachine {
 public:
  virtual ~LongMachine() = default;
  /// Where the piece is after `seconds` (≥ 0) of the machine's own time. Never goes back.
  virtual LongStatus after(double seconds) const = 0;
};

}  // namespace fortitor
