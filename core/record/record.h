// One specimen's test, from readings to settings. The single input of every evaluation.
#pragma once

#include <map>
#include <memory>
#include <optional>
#include <string>
#include <variant>
#include <vector>

#include "core/quantity/parse.h"
#include "core/quantity/unit.h"

namespace fortitor {

/// One keyed reading. Kept as typed; a missed reading has no value and is never invented.
struct Reading {
  std::string typed;            ///< empty when missed
  std::optional<double> value;  ///< internal units
  double resolution = 0.0;      ///< step of the last typed digit, internal units
  bool counted = false;         ///< value and resolution are divisions of an instrument, not internal units
  std::string source = {};      ///< instrument on a wire that said it, and when: "CAL-1, 2026-11-26T10:05:33"
  std::string heard = {};       ///< what that instrument had said, where it was typed over
  double standard = 0.0;        ///< standard uncertainty that came with it (a distance on a photograph), internal units
  bool missed() const { return !value.has_value(); }
  bool operator==(const Reading&) const = default;
};
using Readings = std::vector<Reading>;

/// Reading from a parsed quantity.
Reading reading_of(const Quantity& q);

using FieldValue = std::variant<std::string, Reading, Readings, double, bool>;

/// Dotted path → value. Absent means not given.
class Fields {
 public:
  const FieldValue* find(const std::string& path) const;
  void set(const std::string& path, FieldValue value) { values_[path] = std::move(value); }
  void erase(const std::string& path) { values_.erase(path); }
  bool has(const std::string& path) const { return values_.count(path) != 0; }
  /// Whether any field lies under "prefix.".
  bool any_under(const std::string& prefix) const;

  /// Text of a text or choice field, or "".
  std::string text(const std::string& path) const;
  /// Value of a quantity or number in internal units; empty when absent or missed.
  std::optional<double> number(const std::string& path) const;
  bool flag(const std::string& path, bool otherwise = false) const;
  /// All readings of a list (a single quantity is a list of one); missed ones included.
  Readings readings(const std::string& path) const;
  /// The one reading there, of a list of one too; null for none and for several.
  const Reading* reading(const std::string& path) const;

  const std::map<std::string, FieldValue>& all() const { return values_; }
  bool empty() const { return values_.empty(); }
  bool operator==(const Fields&) const = default;

 private:
  std::map<std::string, FieldValue> values_;
};

/// Limits of one result; either side may be open.
struct Limit {
  std::optional<Reading> min, max;
  bool operator==(const Limit&) const = default;
};

/// Something that happened during a run.
struct Event {
  double at = 0.0;   ///< s
  std::string kind;  ///< "extensometer-removed", "hold", "resumed", "heard-cracking", "note", …
  std::string note;
  bool operator==(const Event&) const = default;
};

/// A person's word on a finding.
struct Answer {
  std::string code, remedy, reason, by, at;
  bool operator==(const Answer&) const = default;
};

/// One measured channel; samples not taken are NaN.
struct Channel {
  std::string name;
  std::vector<double> values;  ///< internal units
};

/// Samples of a segment: columns of equal length. Shared, never changed once the run is closed.
struct Samples {
  std::vector<Channel> channels;
  size_t size() const { return channels.empty() ? 0 : channels.front().values.size(); }
  const Channel* find(const std::string& name) const;
  Channel& column(const std::string& name);  ///< existing or new, padded with NaN to size()
};
using SamplesPtr = std::shared_ptr<const Samples>;

/// Where a channel comes from in a data file.
struct ChannelSource {
  std::string column, unit;
  bool operator==(const ChannelSource&) const = default;
};

/// A part of a run with its own channels: one without a name is the usual case.
struct Segment {
  std::string name;                              ///< "", "cycles", "destruction"
  std::string file;                              ///< CSV beside the record; empty when inline
  std::map<std::string, ChannelSource> mapping;  ///< channel → column and unit
  SamplesPtr samples;                            ///< null until read
};

/// One row of a table: a stop, an indent, a blow, a point.
struct Row {
  enum class State { used, set_aside, doubtful };
  Fields cells;
  State state = State::used;
  std::string note;
  bool used() const { return state == State::used; }
  bool doubtful() const { return state == State::doubtful; }
  bool has(const std::string& column) const { return cells.has(column); }
  std::optional<double> number(const std::string& column) const { return cells.number(column); }
  /// The reading as typed; null when the cell is empty or no single reading.
  const Reading* reading(const std::string& column) const { return cells.reading(column); }
  bool operator==(const Row&) const = default;
};
using Rows = std::vector<Row>;

struct Run {
  std::vector<Segment> segments;
  std::map<std::string, Rows> tables;  ///< by TableSpec::id
  std::string stopped;                 ///< why the run ended before a break, if it says
  bool open = false;                   ///< a keyed run that is still going on: the piece is loaded

  /// Samples of the segment of that name (of the `index`-th of a repeated one); null when there are none.
  SamplesPtr samples(const std::string& segment = {}, size_t index = 0) const;
  void set_samples(SamplesPtr samples, const std::string& segment = {});
  /// The segment of that name, made when it is not there.
  Segment& segment(const std::string& name = {});
  const Segment* find_segment(const std::string& name = {}) const;
  /// Rows of a table; empty when it has none.
  const Rows& rows(const std::string& table) const;
  size_t row_count() const;
  bool has_samples() const;
  /// Takes the samples away, keeps files and mappings: what a store keeps as text.
  void drop_samples();
  bool empty() const { return !has_samples() && row_count() == 0 && !open; }
};

/// An entry of a stored record that its rules do not allow: "specimen.mass: “-1 g” is not above zero".
struct RecordFault {
  std::string message;
  bool kept = false;  ///< it stands in the record all the same, to be seen and mended; else it could not be taken over
  std::string path() const { return message.substr(0, message.find(": ")); }
  bool operator==(const RecordFault&) const = default;
};

struct ReferenceMaterial;
/// Usual values of materials (core/reference/library.h); null: those that are shipped.
using ReferenceShelf = std::shared_ptr<const std::vector<ReferenceMaterial>>;

struct TestRecord {
  std::string method, job, series, operator_name, tested_at;
  Fields fields;
  std::map<std::string, Limit> limits;
  std::vector<Event> events;
  std::vector<Answer> answers;
  Run run;
  ReferenceShelf shelf = {};  ///< what it is judged beside: never written, put there by whoever read the record
  std::vector<RecordFault> faults = {};  ///< of what was read out of a book (core/record/rules.h)

  std::string specimen_id() const { return fields.text("specimen.id"); }
  const Answer* answer(const std::string& code) const;
  /// Something was measured: samples, rows, or single values of the run. A tick ("run.new_indenter") is said before it
  /// and is none, nor is what was drawn of a piece (table "drawn").
  bool has_run() const;
};

/// Carries out a remedy on a row: "run.stations.5.state" = "doubtful". False when the path names no row.
bool mark_row(TestRecord& record, const std::string& path, const std::string& typed);
/// "used", "set aside", "doubtful".
std::string_view row_state_word(Row::State state);

}  // namespace fortitor
