// What a bench that is loaded from stop to stop looks like to the program: a control that is set and
// instruments that are read. Stand-ins implement it; so would a driver of real instruments.
#pragma once

#include <map>
#include <memory>
#include <string>
#include <vector>

#include "core/outcome.h"

namespace fortitor {

struct StepStatus {
  double control = 0;  ///< where the bench stands, internal units
  bool broken = false;
  size_t cracks = 0;    ///< cracking heard on the way to this stop
  double bend = 0;      ///< 0…1 share of the way to the end, for drawing
  std::string message;  ///< what the bench has to say
};

class StepMachine {
 public:
  virtual ~StepMachine() = default;
  /// Zeroes the instruments where the bench stands.
  virtual void balance() = 0;
  /// Drives to a stop and holds. Refused, with a sentence, for a broken piece.
  virtual Outcome<Done> go_to(double control) = 0;
  /// What the instruments show, by channel, as typed text with its unit; a channel without a reading
  /// (open circuit) is left out.
  virtual std::map<std::string, std::string> read() = 0;
  virtual Outcome<Done> unload() = 0;
  virtual StepStatus status() const = 0;
};

}  // namespace fortitor
