// What a bench that is loaded from stop to stop looks like to the program: a control that is set and
// instruments that are read. Stand-ins implement it; so would a driver of real instruments.
#pragma once

#include <cstdint>
#include <map>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "core/outcome.h"
#include "core/record/record.h"

namespace fortitor {

struct StepStatus {
  double control = 0;  ///< where the bench stands, internal units
  bool broken = false;
  size_t cracks = 0;    ///< cracking heard on the way to this stop
  double bend = 0;      ///< 0…1 share of the way to the end, for drawing
  std::string message;  ///< what the bench has to say
};

/// What an eyepiece shows of an indent: a picture to measure on. Lengths in divisions of its drum, from the left and
/// the upper edge of the field.
struct Sight {
  double field = 0;                              ///< across the whole picture
  double left = 0, right = 0, up = 0, down = 0;  ///< corners of the indent along its two diagonals
  double focus = 0.5;                            ///< where the picture is sharp, 0 … 1 of the knob
  double division = 0;                           ///< length of one, mm
  uint64_t grain = 1;                            ///< seed of grain and scratches
  bool scratched = false;                        ///< a scratch runs out of the right corner
  bool slender = false, round = false;           ///< one diagonal only (Knoop); the print of a ball
};

/// A dial with two hands: the small one comes to a set mark under the preliminary force, the large one is read.
struct DialFace {
  double small = 0;             ///< 0 … 1, 1 at the set mark
  double large = 0;             ///< 0 … 100 of its ring
  bool loaded = false;          ///< the lever is forward: the whole force is on
  bool reading_counts = false;  ///< the lever is back and the hand stands
  std::string next;             ///< what the hand on the machine does next: "Turn up to the set mark"
};

class StepMachine {
 public:
  virtual ~StepMachine() = default;
  /// What is typed by now: a level that was chosen at the row in hand.
  virtual void know(const TestRecord&) {}
  /// Zeroes the instruments where the bench stands.
  virtual void balance() = 0;
  /// Drives to a stop and holds. Refused, with a sentence, for a broken piece.
  virtual Outcome<Done> go_to(double control) = 0;
  /// What the instruments show, by channel, as typed text with its unit; a channel without a reading
  /// (open circuit) is left out.
  virtual std::map<std::string, std::string> read() = 0;
  virtual Outcome<Done> unload() = 0;
  virtual StepStatus status() const = 0;
  /// What is looked at instead of read off; none for an instrument that shows numbers.
  virtual std::optional<Sight> sight() const { return std::nullopt; }
  virtual std::optional<DialFace> dial() const { return std::nullopt; }
  /// The next hand movement at the machine (DialFace::next). Refused, with a sentence, where there is none.
  virtual Outcome<Done> act() { return InputError{"There is nothing to do at the machine.", {}}; }
};

}  // namespace fortitor
