// The call-out sheet without its looks: what to ask for next, and what every answer does to the record.
// The whole state lives in the record, so that a run survives a restart between two readings.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/evaluation/evaluation.h"
#include "core/methods/method.h"

namespace fortitor {

/// What the sheet asks for now.
struct CallOut {
  enum class Phase { not_begun, reading, unloading, ended };
  Phase phase = Phase::not_begun;
  size_t stop = 0;         ///< index of the stop that is asked for
  double control = 0;      ///< where to go, internal units
  bool again = false;      ///< this stop is read again
  bool last_done = false;  ///< the planned last stop has been read
  size_t channel = 0;      ///< of Stepwise::read
  double step = 0;
  /// What the line predicts for every channel at this stop; empty until two stops are in.
  std::vector<std::optional<double>> predicted;
};

/// `evaluation` may be null or older than the record by one reading.
CallOut call_out_of(const Method& method, const TestRecord& record, const Evaluation* evaluation);

namespace call_out {

/// Keeps a reading of the channel asked for; opens the run with the first. A missed reading is kept as
/// missed. `at`: the control as typed where it differs from the stop called out.
void keep(const Method& method, TestRecord& record, const CallOut& now, const Reading& reading,
          const std::optional<Reading>& at = std::nullopt);
/// Asks for a stop again; what was read first stays in its note. Nothing without stops.
void re_read(const Method& method, TestRecord& record, size_t stop);
/// Turns the doubt about a stop on or off.
void doubt(TestRecord& record, size_t stop);
void note(TestRecord& record, size_t stop, const std::string& text);
/// Cracking heard on the way to the stop asked for, `seconds` after the run began.
void cracking(const Method& method, TestRecord& record, const CallOut& now, double seconds);
/// The piece broke on the way to the stop asked for: keeps the bracket and ends the run.
void broke(const Method& method, TestRecord& record, const CallOut& now);
/// Ends the run, or goes on to the readings after unloading where the method wants them. `why` is kept.
void end(const Method& method, TestRecord& record, const std::string& why);
/// Next larger or smaller step of the row 1, 2, 2.5, 5 in the unit in which the control is called out.
double changed_step(const Method& method, double step, bool larger);
/// Typed text of a control value in the record's own units: "1750 N", "12.5 deg".
std::string typed_control(const Method& method, double control);

}  // namespace call_out
}  // namespace fortitor
