// Delimited text from testing machines: separators, decimal mark, header and units rows detected.
#pragma once

#include <functional>
#include <string>
#include <string_view>
#include <vector>

#include "core/outcome.h"

namespace fortitor {

/// How a file is written. Detected by sniff_csv(); a person may correct it.
struct CsvDialect {
  char separator = ',';
  char decimal = '.';
  size_t header_lines = 0;           ///< lines before the first row of numbers
  std::vector<std::string> columns;  ///< names, "column 1" … when the file has none
  std::vector<std::string> units;    ///< one per column, empty where unknown
  std::vector<std::string> head;     ///< lines above the names, as they stand
};

struct CsvTable {
  CsvDialect dialect;
  std::vector<std::vector<double>> columns;  ///< NaN where a cell is empty
  size_t rows() const { return columns.empty() ? 0 : columns.front().size(); }
};

/// Reads the head of the text and says how it is written. Units are taken from a units row or from
/// names like "Load [kN]" and "Ext (mm)". Errors: no row of numbers found; more than 4096 columns; a line of more than
/// a megabyte.
Outcome<CsvDialect> sniff_csv(std::string_view text);

/// Reads every row after the header. An empty cell is NaN; a blank line is passed over; a cell that
/// is no number, or a row of another width, is an error that names line and column (both from 1).
/// Line ends may be LF, CRLF or CR; a UTF-8 byte order mark is passed over; UTF-16 is refused.
Outcome<CsvTable> parse_csv(std::string_view text, const CsvDialect& dialect);

/// sniff_csv() then parse_csv().
Outcome<CsvTable> parse_csv(std::string_view text);

/// Reads a file block by block, so that beside the numbers only a few megabytes are held. `progress` is told the share
/// that was read, 0 … 1, and stops the reading by returning false. Errors name the file.
Outcome<CsvTable> read_csv(const std::string& path, const std::function<bool(double)>& progress = {});

/// The same without keeping the numbers: `take` gets the rows of every block (their columns in `part`, which it may
/// empty) and the share that was read, and stops the reading by returning false.
Outcome<Done> stream_csv(const std::string& path, const std::function<bool(const CsvTable& part, double share)>& take);

/// Whole file as text. Error: one sentence with the path; a file of more than `most` bytes is refused.
Outcome<std::string> read_file(const std::string& path, size_t most = size_t(-1));

}  // namespace fortitor
