// Files of testing machines as they are in the world: any spelling of letters and numbers, preambles, clock times, text
// between the columns, summaries behind the numbers, several specimens in one file, workbooks.
#pragma once

#include <functional>
#include <string>
#include <string_view>
#include <vector>

#include "core/outcome.h"
#include "core/record/csv.h"

namespace fortitor {

/// The numbers of one specimen.
struct MachineBlock {
  std::string title;  ///< what stands above it: "Specimen 2"; may be empty
  CsvTable table;     ///< columns of numbers only; times of the clock as seconds from the first
};

struct MachineFile {
  std::string encoding;   ///< "utf-8", "utf-16", "latin-1", "workbook"
  std::string separator;  ///< ";", ",", "tab", "blanks"
  char decimal = '.';
  std::vector<MachineBlock> blocks;  ///< one at least
  std::vector<std::string> notes;    ///< what was passed over, in sentences
};

/// Reads the text of a file. `progress` as in read_csv(). A line among the numbers that holds words is an error that
/// names it: nothing between two rows is passed over in silence.
Outcome<MachineFile> machine_file(std::string_view bytes, const std::function<bool(double)>& progress = {});

/// Reads a file: plain tables of numbers at full speed block by block, anything else whole (up to 256 MB), workbooks
/// (.xlsx) sheet after sheet. Errors name the file.
Outcome<MachineFile> read_machine_file(const std::string& path, const std::function<bool(double)>& progress = {});

/// Sheets of a workbook as tab-separated text, each under a line with its name; times of the clock as such. Errors: no
/// workbook; sheets that unpack, or come, to more than `most` bytes
/// (most_unpacked()).
Outcome<std::string> workbook_text(std::string_view bytes, size_t most = size_t(512) << 20);

}  // namespace fortitor
