// What a record can hold: the fields, tables, channels and segments a method asks for. The JSON reader is
// handed such a schema and knows no method.
#pragma once

#include <functional>
#include <optional>
#include <string>
#include <vector>

#include "core/quantity/date.h"
#include "core/quantity/unit.h"

namespace fortitor {

struct TestRecord;
class Fields;

/// The seven stages of a test, in the order of work.
enum class Stage { prepare, measure, set_up, run, after, evaluate, sign_off };
inline constexpr int kStageCount = 7;

enum class FieldKind {
  text,      ///< free text
  choice,    ///< one of `choices`
  choices,   ///< any of `choices`, in order, kept as words parted by semicolons
  quantity,  ///< one typed quantity
  readings,  ///< a list of typed quantities, each of which may be missed
  number,    ///< a plain number
  flag,      ///< true or false
  texts,     ///< a list of typed quantities kept as a set (offsets asked for)
  date,      ///< a day, kept as text: "2026-11-27"
  picture,   ///< a photograph, kept as text: "data:image/jpeg;base64,…"
};

struct Choice {
  std::string value, label;
};

/// One field of a record, or one column of a table. `path` is the dotted key in the JSON document
/// ("specimen.section.width"); single values of the run stand under "run."; a column's path is its key in the row.
struct FieldSpec {
  std::string path;
  std::string label;
  FieldKind kind = FieldKind::text;
  Dimension dimension = Dimension::none;
  Stage stage = Stage::prepare;
  int wanted = 1;         ///< readings the method wants
  bool required = false;  ///< the stage is not complete without it
  std::string symbol;     ///< as drawn on the sketch ("d", "L₀")
  std::string hint;       ///< one line on how it is read
  std::string usual;      ///< what holds without an entry, in words; a first choice that is usual says it itself
  std::vector<Choice> choices;
  std::string when_path, when_value;  ///< asked for only when that field has that value ("a", or "a|b")
  double when_at_least = 0;           ///< … or, above 0, when that number is at least this
  bool when_default = false;          ///< … or when nothing is chosen there yet
  bool first_is_usual = false;        ///< without an entry the first choice holds
  double spread_limit = 0.01;  ///< range/mean above which a dimension is judged uneven; 0: no readings of one size
  bool may_be_zero = false;    ///< a size that may be nothing (a gap, a zero reading)
  bool may_be_negative = false;
  std::string
      unit;  ///< in which a bare number is meant where the usual one would mislead (a lab scale shows g, not kg)
  std::optional<bool> common;         ///< the same for all pieces of a series; unset: see holds_for_series()
  bool brought = false;               ///< comes with an item of the Kit: no form asks for it
  bool from_reference = false;        ///< a name out of the reference library is expected
  DaySense sense = DaySense::coming;  ///< which day a short form means
  std::string division_path;          ///< a bare number counts divisions; the length of one stands at that path
  int drum = 0;                       ///< divisions to a coarse mark: "2:11" is two marks and 11 divisions; 0: no drum
  bool planned = false;   ///< column that is known before the machine (where a row lies): not asked for there
  bool in_order = false;  ///< words of `choices` come one after another, one a cycle: the same may come again
  bool of_item = false;   ///< says where the piece comes from (heat, direction): asked for apart, never at the bench
  std::string record_of;  ///< a method: the field names a specimen tested by it, whose record belongs to this one
};

/// Whether a field is typed once for all pieces of a series: what the piece is, how it is set up and with what, by
/// what rule it is judged. Readings, ticks and single sizes belong to the one piece, whatever the last one had.
bool holds_for_series(const FieldSpec& field);

/// The words of a field of kind `choices`.
std::vector<std::string> words_of(const std::string& kept);
std::string kept_words(const std::vector<std::string>& words);

/// Unit of a bare number typed into a field, also the one written beside it.
const Unit& bare_unit(const FieldSpec& field, UnitSet set);

/// True when the field is asked for under the record's present choices.
bool field_applies(const FieldSpec& field, const TestRecord& record);

/// A channel a run may carry, with the words by which an import recognises it.
struct ChannelSpec {
  std::string name, label;
  Dimension dimension = Dimension::none;
  bool required = false;
  /// Lower-case parts of column names, most telling first; "=x" must be the whole name. English, German, French,
  /// Italian, Spanish.
  std::vector<std::string> words = {};
  bool by_unit = false;  ///< a column without a telling name but with a unit of this dimension is this channel
};

/// A named part of a run with channels of its own ("cycles", "destruction"). Methods that name none have one
/// segment without a name.
struct SegmentSpec {
  std::string id, label;
  bool repeated = false;  ///< a list: "cycles" 1…n
  std::vector<ChannelSpec> channels;
};

/// A letter that says something of the row in hand: "J" jammed, "U" did not break. Without a value the letter opens the
/// field and the value is typed.
struct RowMark {
  char key = 0;
  std::string column, value;  ///< value as typed; "true" of a flag; empty: asked for
  std::string label = {};
  std::string when = {};  ///< "path=value": only where a field has that value
};

/// Rows of readings: stops of a loading ladder, indents, blows, points. With a control column it is worked as a
/// call-out sheet (the control is set from row to row), without one as a tally (row after row).
struct TableSpec {
  std::string id;                  ///< key under "run"
  std::string label;               ///< "Stops", "Readings"
  std::string row;                 ///< one of them: "stop", "reading"
  std::vector<FieldSpec> columns;  ///< read in this order; the control column is not among them
  std::optional<FieldSpec> control;
  Stage stage = Stage::run;     ///< when it is filled; at another stage than Run it is drawn or noted, never called out
  size_t least = 1, usual = 3;  ///< rows without which there is no result; rows planned without a control
  std::string instruction;      ///< "then read the dial gauge"
  std::string stopwatch;   ///< column whose time is taken: Space when the piece leaves the bath, then the row itself
  std::string broke_path;  ///< list field that takes the bracket when the piece breaks; empty: no bracket
  bool ends_in_break = false;   ///< B ends the run
  bool may_crack = false;       ///< cracking can be heard before the break
  bool read_unloaded = false;   ///< the columns are read again after unloading ("run.unload.…")
  bool runs_by_itself = false;  ///< a machine carries a row for hours: Space starts and halts it
  std::vector<RowMark> marks = {};
  std::string instrument;  ///< what rows are read on ("eyepiece", "dial"): the window draws it; empty: typed alone
  /// Plain lists a record may hold instead of rows: key under "run", column that its values fill.
  std::vector<std::pair<std::string, std::string>> lists = {};
  std::function<double(const TestRecord&)> first_step;  ///< proposed step of the control, internal units, > 0
  std::function<double(const TestRecord&)> last_stop;   ///< planned last stop; 0: to the break
  /// Values of the planned columns, row by row, in the order of work (where the next indent goes).
  std::function<std::vector<Fields>(const TestRecord&)> planned_rows = {};

  const FieldSpec* column(const std::string& name) const;
  /// The same for a record: columns it has no instrument for are left out.
  TableSpec for_record(const TestRecord& record) const;
  bool stepped() const { return control.has_value(); }
};

/// Everything a record of one method may hold.
struct Schema {
  std::string id;                 ///< method
  std::vector<FieldSpec> fields;  ///< common fields included
  std::vector<ChannelSpec> channels;
  std::vector<SegmentSpec> segments;  ///< empty: one segment with `channels`
  std::vector<TableSpec> tables;
  /// Dimension of a result that may be limited; empty when there is no such result.
  std::function<std::optional<Dimension>(const std::string& key)> limit_dimension;

  const FieldSpec* field(const std::string& path) const;
  const TableSpec* table(const std::string& id) const;
  /// A channel of any segment; null when there is none of that name.
  const ChannelSpec* channel(const std::string& name) const;
};

/// Schema of a method by id; null when there is none.
using Schemas = std::function<const Schema*(const std::string& method)>;

}  // namespace fortitor
