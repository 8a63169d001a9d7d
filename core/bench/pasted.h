// Tables of readings that were written elsewhere: pasted out of a spreadsheet, or in a file. Cells are kept as typed.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/outcome.h"
#include "core/record/csv.h"
#include "core/record/field.h"
#include "core/record/record.h"

namespace fortitor {

struct PastedTable {
  std::vector<std::string> names, units;        ///< of the columns; empty where the table says none
  std::vector<std::vector<std::string>> cells;  ///< row by row, each as long as `names`
  bool empty() const { return cells.empty(); }
};

/// Reads pasted text: columns parted by tabs, else by semicolons, else by commas that are no decimal marks, else one
/// column. A first line without any number holds the names ("Load (N)"), a second without any the units. Blank lines
/// are passed over. Errors: nothing there; more than 10,000 rows or 200 columns.
Outcome<PastedTable> read_pasted(std::string_view text);
/// The same of a table that was read from a file. Errors: more than 10,000 rows.
Outcome<PastedTable> pasted_of(const CsvTable& table);

/// What a column of the pasted table is: a column of the method's table, or its control; empty: left out.
struct PastedUse {
  std::string column, unit;  ///< unit of bare numbers; empty: the usual one
  bool operator==(const PastedUse&) const = default;
};

/// Guesses by name, symbol and unit; without names, columns in the order in which they are called out. A guess is for a
/// person to look at.
std::vector<PastedUse> guess_use(const PastedTable& pasted, const TableSpec& table);

/// The rows as they would have been keyed. Ticks are words of yes and no, or what is ticked itself ("run-out"). An
/// empty cell stays empty, "missed", "m", "-" and "n/a" are missed readings; several columns that are the same list of
/// readings fill it in order. Errors name row and column.
Outcome<Rows> rows_of(const PastedTable& pasted, const std::vector<PastedUse>& use, const TableSpec& table,
                      UnitSet units);

/// Puts the rows behind those that the record has; the run is over with them unless `open`.
void append_rows(TestRecord& record, const TableSpec& table, const Rows& rows, bool open = false);

/// Key under which a use is remembered: the same names and units give the same.
std::string signature_of(const PastedTable& pasted);

}  // namespace fortitor
