// What the four hardness methods judge alike: indents as rows, the reference block, the reading that seats the parts,
// spacing and edge, thickness, scatter (docs/methods/hardness-vickers.md).
#pragma once

#include <cmath>
#include <functional>
#include <optional>
#include <string>
#include <vector>

#include "core/methods/support/ledger.h"
#include "core/plan/indents.h"

namespace fortitor::indents {

/// What every hardness method reports beyond its own results.
namespace key {
inline constexpr auto block_error = "block_error", block_repeatability = "block_repeatability", converted = "converted",
                      rm_estimate = "rm_estimate", designation = "designation", case_depth = "case_depth";
}  // namespace key

/// One indent as the record has it.
struct Indent {
  size_t row = 0;
  double hardness = NAN;  ///< NaN while it is not read
  double size = NAN;      ///< mean diagonal or diameter, mm; Rockwell: depth
  std::optional<double> x, y;
  bool counts = false;  ///< read and used
};

/// The readings of a record and the block they were checked on.
struct IndentSet {
  std::vector<Indent> all;   ///< one a row
  bool first_aside = false;  ///< the first reading seated the parts and does not count
  bool first_kept = false;   ///< … and somebody took it back in
  std::optional<double> certified, tolerance;
  std::vector<double> block, block_after;  ///< readings on the block before and after
  double block_count = 0;                  ///< to which they were read
  IndentFace face;
  bool traverse = false;  ///< along a line from the edge: x is the distance from it
  double limit = 550;     ///< of the traverse

  std::vector<double> hardnesses() const;  ///< of those that count
  std::vector<double> sizes() const;
  double mean() const;  ///< NaN without readings
  double mean_size() const;
  size_t count() const;
};

/// The finest digit so far and one more: a typed zero at the end is often left away, never added.
inline double finer(double so_far, double digit) {
  return so_far > 0 && !(digit > 0 && digit < so_far) ? so_far : digit;
}

/// Reads table, block, face and traverse of a record. `measure` fills hardness and size of a row; both NaN while
/// something is missing.
IndentSet set_of(const TestRecord& record, const std::string& table,
                 const std::function<void(const Row&, Indent&)>& measure);

/// Mean, sd and range under `key`, `key`_sd, `key`_range, block error and repeatability. Shifts: "scatter" and "block"
/// move the mean.
void put_common(Values& values, const IndentSet& set, const std::string& key, double mean, const Shifts& shifts);
std::vector<Step> how_common(const std::string& key, const std::string& main, const IndentSet& set);
/// Specs of those keys: symbol of the scale ("HV 0.5") and its name in words.
std::vector<ResultSpec> specs_common(const std::string& key, const std::string& symbol);

/// Standard uncertainty of one hardness that goes with the square of a length read to `resolution`, mm, at both ends.
double reading_error(const IndentSet& set, double resolution);
/// What a machine may be off by where no block was read, and whether that of a block goes with the level.
struct Machine {
  double allowed = 0;
  std::string words;
  bool in_proportion = true;
};
/// Scatter of the indents, and the block: its certified value holds within its tolerance, its reading scatters; without
/// a block what a machine in order may be off. `read`: standard uncertainty of one hardness by its reading.
void inputs_common(const IndentSet& set, const Machine& machine, double read, std::vector<UncertainInput>& inputs);

struct Spacing {
  double apart = 3, edge = 2.5;  ///< in sizes
  std::string word = "diagonal";
};
/// first-reading, block-off, too-thin, too-close, few readings. `needed`: least thickness, NaN when unknown.
void judge_common(Evaluation& e, const TestRecord& record, const IndentSet& set, const std::string& key, double needed,
                  const std::string& needed_words, const Spacing& spacing, const std::vector<double>& widths);

/// Fields and guidance all four have: block, thickness, face, plan. Columns x and y go to the keyed table, whose rows
/// are planned by places_of() for an indent of `expected_size(record)` mm.
void describe_common(Method& m, Spacing (*spacing)(const TestRecord&), double (*expected_size)(const TestRecord&));
/// Columns x and y of a planned row.
Fields cells_of(const IndentSpot& spot);
/// The planned places of a record: kept by hand, or laid out by its pattern.
Outcome<std::vector<IndentSpot>> places_of(const TestRecord& record, double size, const Spacing& spacing);

/// Readings in the order of work, or along the traverse with its limit; beside it the map of the indents when their
/// places are known; then the chart of all scales with this piece on it. `scale` as the conversion table names it.
void add_figures(Evaluation& e, const TestRecord& record, const IndentSet& set, const std::string& key,
                 const std::string& symbol, const std::string& scale);

/// Converted value and strength estimate for the ledger; `scale` as the conversion table names it, empty: none.
void put_derived(Values& values, const TestRecord& record, const std::string& scale, double mean, const Shifts& shifts);
/// What conversion and estimate are good for, where they are asked for.
/// conversion-refused: a conversion that was asked for and is not made, and why.
void judge_derived(Evaluation& e, const TestRecord& record, const std::string& scale, double mean);
void inputs_derived(const TestRecord& record, const std::string& scale, std::vector<UncertainInput>& inputs);
std::vector<ResultSpec> specs_derived(const TestRecord& record);
std::vector<Step> how_derived(const std::string& key, const TestRecord& record, const std::string& scale, double mean);

/// Room of a row: neighbour, edge, thickness, block. A row without a place of its own lies where it is planned; without
/// a size it counts as large as `size` (of the one before, or as expected).
std::vector<Clearance> room_of(const TestRecord& record, const IndentSet& set, size_t row, double size,
                               double thickness, const Spacing& spacing, const TableSpec& table);

/// "/20": the dwell in a designation when it is none of the usual 10 to 15 s, with its explanation put behind `parts`.
std::string dwell_in(const TestRecord& record, std::string& parts);

/// Pattern and face of the record's indent plan, for an indent of `size` mm.
IndentPattern pattern_of(const TestRecord& record, double size, const Spacing& spacing);
IndentFace face_of(const Fields& fields);

}  // namespace fortitor::indents
