// The lines of a machine's file as rows of cells: where the numbers begin and end. For machine_file.cpp only.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/outcome.h"
#include "core/record/cell.h"

namespace fortitor::machine {

using Lines = std::vector<std::string_view>;
Lines lines_of(std::string_view text);
bool blank_line(std::string_view line);

struct Writing {
  char separator = ';';  ///< ' ': runs of blanks
  char decimal = ',';
};

enum class Column { unknown, number, clock, text };

/// A stretch of rows [first, last) of the lines whose columns hold what `columns` say.
struct Stretch {
  size_t first = 0, last = 0, rows = 0;
  std::vector<Column> columns;
  size_t numbers() const;
};

class RowReader {
 public:
  RowReader(const Lines& lines, Writing how) : lines_(lines), how_(how) {}
  /// Whether the line is a row of `columns`; what is learnt of columns not known yet is put into them.
  bool fits(size_t line, std::vector<Column>& columns);
  /// The stretch of rows that begins at `line`; empty when fewer than `least` follow one another.
  std::optional<Stretch> from(size_t line, size_t least);
  /// Cells of a line; valid until the next call.
  const std::vector<Cell>& read(size_t line);
  std::vector<std::string> words(size_t line);
  /// Whether the cell of the line that was read last begins as a number does.
  bool begins_with_digit(size_t cell) const;

 private:
  const Lines& lines_;
  Writing how_;
  std::vector<std::string_view> texts_;
  std::vector<Cell> cells_;
};

/// How much of the head of the file a way of writing reads as rows of numbers, and whether its mark parts them: two
/// columns of numbers or more, and none of words that begin as numbers do ("1.0 2.0").
struct Worth {
  double score = 0;
  bool parts = false;
};
Worth worth(const Lines& lines, Writing how, size_t least);

/// The word in a line right behind a stretch that is like its rows otherwise: as many cells, half of them numbers. At
/// the end of a table, where summaries stand, only a line that begins like a row is one.
std::optional<InputError> odd_word(const Lines& lines, RowReader& rows, size_t line, const Stretch& s, bool at_end);

/// Whether cells above a table are those of a damaged row of it: two numbers or more, and more numbers than words.
bool like_a_row(const std::vector<Cell>& cells);
/// The damaged row right above a stretch, below its names and not before line `after`: it would be taken for a header.
std::optional<InputError> row_above(const Lines& lines, RowReader& rows, const Stretch& s, size_t after);
/// The line that parts two stretches of one table: the second goes on, in its first column, where the first ended.
std::optional<InputError> line_between(const Lines& lines, RowReader& rows, const Stretch& before, const Stretch& s);

}  // namespace fortitor::machine
