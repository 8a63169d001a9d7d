// A table of readings without its looks: what to ask for next, and what every answer does to the record. With a control
// it is a call-out sheet (where to go, then what to read), without one a tally (row after row).
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
  TableSpec table;         ///< the table that is worked, as this record needs it
  size_t row = 0;          ///< index of the row that is asked for
  double control = 0;      ///< where to go, internal units; 0 in a tally
  bool again = false;      ///< this row is read again
  bool last_done = false;  ///< the planned last row has been read
  size_t column = 0;       ///< of TableSpec::columns
  size_t part = 0;         ///< readings the cell has already, where it wants several
  double step = 0;         ///< 0 in a tally
  Fields planned = {};     ///< what the plan says of a row not begun yet, by column
  /// What the line predicts for every column at this row; empty until two rows are in.
  std::vector<std::optional<double>> predicted;
};

/// The method must have a keyed table. `evaluation` may be null or older than the record by one reading.
CallOut call_out_of(const Method& method, const TestRecord& record, const Evaluation* evaluation);

namespace call_out {

/// Keeps a reading of the column asked for; opens the run with the first. A missed reading is kept as missed.
/// `at`: the control as typed where it differs from the stop called out.
void keep(TestRecord& record, const CallOut& now, const Reading& reading,
          const std::optional<Reading>& at = std::nullopt);
/// Asks for a row again; what was read first stays in its note. Nothing without rows.
void re_read(const Method& method, TestRecord& record, size_t row);
/// Turns the doubt about a row on or off.
void doubt(const Method& method, TestRecord& record, size_t row);
void note(const Method& method, TestRecord& record, size_t row, const std::string& text);
/// Puts a mark on a row, or takes it off again.
void mark(const Method& method, TestRecord& record, size_t row, const RowMark& mark);
/// Puts what was typed under a mark without a value of its own on a row.
void set_word(const Method& method, TestRecord& record, size_t row, const RowMark& mark, const FieldValue& value);
/// Cracking heard on the way to the stop asked for, `seconds` after the run began.
void cracking(TestRecord& record, const CallOut& now, double seconds);
/// The piece broke on the way to the stop asked for: keeps the bracket and ends the run.
void broke(TestRecord& record, const CallOut& now);
/// Ends the run, or goes on to the readings after unloading where the method wants them. `why` is kept.
void end(const Method& method, TestRecord& record, const std::string& why);
/// Next larger or smaller step of the row 1, 2, 2.5, 5 in the unit in which the control is called out.
double changed_step(const TableSpec& table, double step, bool larger);
/// Typed text of a control value in the record's own units: "1750 N", "12.5 deg".
std::string typed_control(const TableSpec& table, double control);

}  // namespace call_out
}  // namespace fortitor
