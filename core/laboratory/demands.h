// Demand sheets: what a product standard, a drawing or a customer demands, as data.
#pragma once

#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/evaluation/judge.h"
#include "core/methods/method.h"
#include "core/outcome.h"
#include "core/record/record.h"

namespace fortitor::lab {

/// A thickness above `above` and up to `to`; either end may be open.
struct ThicknessRange {
  std::optional<Reading> above, to;
  bool open() const { return !above && !to; }
  /// Whether a thickness (mm) lies in it.
  bool holds(double thickness) const;
  std::string words() const;
  bool operator==(const ThicknessRange&) const = default;
};

/// How a set of pieces answers a demand. `every`: each piece meets. `mean_of_three`: the mean meets, at most one piece
/// lies below and none below 70 % (EN 10021 with ISO 148-1). `retest`: for each piece that fails two more may be made,
/// which must both meet (EN 10021).
enum class SetRule { every, mean_of_three, retest };
std::string_view set_rule_word(SetRule rule);

struct DemandRow {
  std::string method, key;
  Limit limit;
  ThicknessRange thickness;            ///< of the product, where the limit depends on it
  std::optional<Reading> temperature;  ///< of the piece
  int pieces = 1;                      ///< wanted of each sample
  SetRule rule = SetRule::every;
  std::string compared = "absolute";  ///< or "rounded"
  bool needed = true;                 ///< false: for information
  bool operator==(const DemandRow&) const = default;
  /// "R_m ≥ 470 MPa", with units as typed.
  std::string words() const;
};

struct DemandSheet {
  long long id = 0;  ///< in the book; 0: shipped or not kept yet
  std::string name, source, edition, entered_by, product, grade, direction;
  ThicknessRange thickness;
  std::vector<DemandRow> rows;
  /// "S355J2 · EN 10025-2:2019": as it stands in a record.
  std::string title() const;
};

/// Reads a document `demands/1`. Unknown keys, methods, results and units are refused with their place.
Outcome<std::vector<DemandSheet>> demands_from_json(std::string_view text);
std::string demands_to_json(const std::vector<DemandSheet>& sheets, int indent = 2);
/// The same as a table parted by commas, a line a row.
Outcome<std::vector<DemandSheet>> demands_from_csv(std::string_view text);
std::string demands_to_csv(const std::vector<DemandSheet>& sheets);
/// A row out of what was typed into a form: "method", "key", "min", "max", "above", "to", "temperature", "pieces",
/// "rule", "compared"; empty texts say nothing.
Outcome<DemandRow> demand_row_of(const std::map<std::string, std::string>& typed);
Outcome<ThicknessRange> thickness_of(const std::string& above, const std::string& to);
/// By the ending of its name (.csv, else JSON).
Outcome<std::vector<DemandSheet>> read_demands(const std::string& path);

/// A sentence when the sheet cannot be kept: no name, no rows, two rows for the same that contradict each other.
Outcome<Done> check(const DemandSheet& sheet);
/// Shipped sheets of common grades. Values are those of the standards named; the standard itself decides.
const std::vector<DemandSheet>& shipped_demands();

/// What putting a sheet to a record did, and what it could not, each as a sentence.
struct Applied {
  std::vector<std::string> set, left;
};
/// Puts the limits of the rows that hold for the record (method, grade, direction, thickness, temperature) in place of
/// those that a sheet gave it before, with the way they are compared and the name of the sheet.
Applied apply(const DemandSheet& sheet, TestRecord& record);
/// Whether the piece is of the grade of the sheet, as far as both say: "S355J2" is for S355J2 and S355J2+N.
bool of_grade(const DemandSheet& sheet, const TestRecord& record);
/// Whether a row speaks of this record; nothing when it depends on what the record does not say.
std::optional<bool> speaks_of(const DemandSheet& sheet, const DemandRow& row, const TestRecord& record);
/// What another edition of a sheet demands otherwise, a sentence a row; empty: the same.
std::vector<std::string> differences(const DemandSheet& copied, const DemandSheet& now);

/// A piece as completeness sees it.
struct DemandPiece {
  long long id = 0;
  std::string code;
  const TestRecord* record = nullptr;
  const Evaluation* evaluation = nullptr;  ///< null: not run yet
};
enum class CellState { not_wanted, waiting, tested, meets, near, fails, open, void_test };
std::string_view cell_word(CellState state);
struct Completeness {
  struct Line {
    DemandRow row;
    std::string name, symbol;        ///< of the result
    std::vector<CellState> cells;    ///< one a piece
    std::vector<std::string> shown;  ///< the value of each, in SI; empty: none
    int wanted = 0, cut = 0, tested = 0, met = 0, failed = 0;
    bool retest_open = false;
    CellState set = CellState::waiting;  ///< of all pieces together, by the rule of the set
    std::string words;                   ///< "3 of 3 meet", "2 more pieces wanted"
    int still_to_make() const { return wanted > cut ? wanted - cut : 0; }
  };
  std::vector<Line> lines;
  bool complete() const;
};
/// Demand × piece, at a glance.
Completeness completeness(const DemandSheet& sheet, const std::vector<DemandPiece>& pieces);

}  // namespace fortitor::lab
