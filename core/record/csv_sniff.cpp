// How a delimited file is written: separator, decimal mark, header, units.
#include <algorithm>
#include <charconv>
#include <cmath>

#include "core/record/cell.h"
#include "core/record/csv.h"
#include "core/record/csv_parts.h"
#include "core/record/encoding.h"
#include "core/record/header.h"
#include "core/record/machine_rows.h"

namespace fortitor {
namespace {

constexpr size_t kSniffLines = 200;

}  // namespace

namespace csv {

// Parses one cell; empty is NaN, anything else that is no number is nullopt.
std::optional<double> cell_number(std::string_view cell, char decimal) {
  cell = unquoted(cell);
  if (cell.empty()) return kMissing;
  char buffer[64];
  if (decimal != '.') {
    if (cell.size() >= sizeof buffer) return std::nullopt;
    for (size_t i = 0; i < cell.size(); ++i) {
      if (cell[i] == '.') return std::nullopt;
      buffer[i] = cell[i] == decimal ? '.' : cell[i];
    }
    cell = std::string_view(buffer, cell.size());
  }
  if (cell.front() == '+') cell.remove_prefix(1);
  double value = 0;
  const auto [stop, error] = std::from_chars(cell.data(), cell.data() + cell.size(), value);
  if (error == std::errc::result_out_of_range && stop == cell.data() + cell.size())
    return cell.find("e-") != std::string_view::npos || cell.find("E-") != std::string_view::npos ? 0.0 : kMissing;
  if (error != std::errc() || stop != cell.data() + cell.size()) return std::nullopt;
  return std::isfinite(value) ? value : kMissing;  // "nan" and "inf" are how some machines say missing
}

}  // namespace csv

using csv::cell_number;
using csv::kLongestLine;
using csv::kMostColumns;
using csv::strip;
using csv::unquoted;

namespace {

std::vector<std::string_view> head_lines(std::string_view text) {
  std::vector<std::string_view> lines;
  size_t at = 0;
  while (at < text.size() && lines.size() < kSniffLines) {
    size_t end = text.find_first_of("\r\n", at);
    if (end == std::string_view::npos) end = text.size();
    lines.push_back(text.substr(at, end - at));
    at = end + 1;
    if (end + 1 < text.size() && text[end] == '\r' && text[end + 1] == '\n') ++at;
  }
  return lines;
}

std::vector<std::string_view> cells_of(std::string_view line, char separator) {
  std::vector<std::string_view> cells;
  bool in_quotes = false;
  size_t start = 0;
  for (size_t i = 0; i <= line.size(); ++i) {
    if (i < line.size() && line[i] == '"') in_quotes = !in_quotes;
    if (i == line.size() || (line[i] == separator && !in_quotes)) {
      cells.push_back(unquoted(strip(line.substr(start, i - start), separator)));
      start = i + 1;
      if (cells.size() > kMostColumns) break;  // no table; nobody needs the rest
    }
  }
  return cells;
}

// Cells that are numbers in this dialect, or 0 when the line is not a data row.
size_t numeric_cells(std::string_view line, char separator, char decimal) {
  const auto cells = cells_of(line, separator);
  size_t numbers = 0;
  for (std::string_view c : cells) {
    if (separator == ' ' && c.empty()) return 0;  // aligned columns are for another reader
    const auto v = cell_number(c, decimal);
    if (!v) return 0;
    if (!c.empty()) ++numbers;
  }
  return numbers == 0 ? 0 : cells.size();
}

}  // namespace

Outcome<CsvDialect> sniff_csv(std::string_view text) {
  if (text.size() >= 2 &&
      (static_cast<unsigned char>(text[0]) == 0xFF || text.substr(0, 64).find('\0') != std::string_view::npos))
    return InputError{"The file is not plain text (UTF-16 or binary): save it as UTF-8 CSV.", {}};
  if (text.substr(0, 3) == "\xEF\xBB\xBF") text.remove_prefix(3);
  const auto lines = head_lines(text);
  for (std::string_view line : lines) {
    if (!is_utf8(line)) return InputError{"The file is not UTF-8.", {}};
    if (line.size() > kLongestLine) return InputError{"The file has a line of more than 1 MB: it is no table.", {}};
  }
  CsvDialect best;
  size_t best_score = 0, best_columns = 0;
  struct Try {
    char separator, decimal;
  };
  // A comma can part cells or decimals; where both readings work the one with a stabler width wins.
  for (const Try t :
       {Try{';', ','}, Try{';', '.'}, Try{'\t', ','}, Try{'\t', '.'}, Try{',', '.'}, Try{' ', '.'}, Try{' ', ','}}) {
    for (size_t first = 0; first < lines.size(); ++first) {
      const size_t width = numeric_cells(lines[first], t.separator, t.decimal);
      if (width == 0) continue;
      size_t run = 0;
      for (size_t i = first; i < lines.size(); ++i) {
        if (strip(lines[i], t.separator).empty()) continue;
        if (numeric_cells(lines[i], t.separator, t.decimal) != width) break;
        ++run;
      }
      const size_t remaining = lines.size() - first;
      if (run * 2 < remaining && run < 3) continue;
      size_t decimals = 0;
      for (size_t i = first; i < std::min(lines.size(), first + run); ++i)
        decimals += lines[i].find(t.decimal) != std::string_view::npos;
      const size_t score = run * 4 + (width > 1 ? run * 3 : 0) + (decimals > 0 ? 1 : 0);
      if (score > best_score) {
        best_score = score;
        best_columns = width;
        best.separator = t.separator;
        best.decimal = t.decimal;
        best.header_lines = first;
      }
      break;
    }
  }
  if (best_score == 0) return InputError{"No row of numbers was found in the file.", {}};
  if (best_columns > kMostColumns)
    return InputError{"The file has more than " + std::to_string(kMostColumns) + " columns.", {}};
  // Rows above the plain ones, damaged or in another spelling, are no header: another reader says what they are.
  for (size_t i = 0; i < best.header_lines; ++i) {
    std::vector<Cell> cells;
    for (std::string_view c : cells_of(lines[i], best.separator)) cells.push_back(read_cell(c, best.decimal));
    if (machine::like_a_row(cells)) return InputError{"The numbers of the file are not all plain.", {}};
  }
  std::vector<std::vector<std::string>> above;
  for (size_t i = 0; i < best.header_lines; ++i) {
    const auto cells = cells_of(lines[i], best.separator);
    above.emplace_back(cells.begin(), cells.end());
    // Aligned columns: several blanks part two cells.
    if (best.separator == ' ') std::erase(above.back(), std::string());
  }
  Header header = header_of(above, best_columns);
  for (size_t i = 0; i < std::min(header.first, best.header_lines); ++i) best.head.emplace_back(lines[i]);
  best.columns = std::move(header.names);
  best.units = std::move(header.units);
  name_columns(best.columns);
  return best;
}

}  // namespace fortitor
