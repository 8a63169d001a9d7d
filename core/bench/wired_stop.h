// A stop of a call-out sheet whose machine and gauges speak over wires: when it stands, and all of its readings at
// once.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/bench/call_out.h"
#include "core/line/line.h"

namespace fortitor {

/// What an item of the Kit says on its wire, of one of its channels.
struct WiredValue {
  std::string item;
  std::string channel;       ///< of the method, as its name and unit say ("force"); empty: none fits
  line::Value value;         ///< newest
  bool good = false;         ///< that is a reading: no overload, not moving, not silent
  bool known = false;        ///< the whole settling time was heard
  double low = 0, high = 0;  ///< over the settling time, in the unit it says
};

/// s that the machine stands and the gauges are quiet before a stop is read.
constexpr double kSettling = 3;

/// Who says what of a stop, and whether it stands.
struct WiredStop {
  enum class State {
    unwired,  ///< the control or a column of the table is on no wire, or on two
    away,     ///< the control is not at the stop that is called
    moves,    ///< it is, but not for the settling time, or a gauge is not quiet
    stands,   ///< everything may be read
  };
  State state = State::unwired;
  std::string words;                         ///< a sentence for the bench: "1.2 kN to go"
  std::optional<size_t> control;             ///< which of the values says where it is; nothing where none or two do
  std::vector<std::optional<size_t>> reads;  ///< of each column of the table; nothing where it is not asked for
};

/// `stop`: where to go (internal units), where a person typed another than is called. The control is at its stop within
/// 1 % of it or 5 % of the step, never beyond a quarter of the step, and within three counts always; a gauge is quiet
/// that moved by three counts or 0.3 % of what it says at most.
WiredStop wired_stop(const CallOut& now, const std::vector<WiredValue>& values, std::optional<double> stop = {});

namespace call_out {

/// Keeps one reading of every column of the row asked for, as one act; opens the run with the first. `at`: what the
/// control says. Columns that were read already stay as they are.
void keep_all(const Method& method, TestRecord& record, const std::map<std::string, Reading>& by_column,
              const std::optional<Reading>& at);

}  // namespace call_out
}  // namespace fortitor
