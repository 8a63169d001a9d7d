// The lines above the numbers of a machine's file: names, units, titles.
#pragma once

#include <string>
#include <string_view>
#include <vector>

namespace fortitor {

struct Header {
  std::vector<std::string> names, units;  ///< one a column; empty where the file says nothing
  size_t first = 0;                       ///< index of the line the names stand in; as many as given when none does
};

/// Names and units out of the cells of the lines above the numbers, the nearest last. Units stand in a row of their own
/// or with the names: "Load [kN]", "Ext (mm)", "Force/N", "F in kN", "Weg {mm}".
Header header_of(const std::vector<std::vector<std::string>>& lines, size_t width);

/// Names for columns that have none ("column 3"), and a number behind the second of a name ("F (2)").
void name_columns(std::vector<std::string>& names);

/// Whether the words stand for a time of the clock: "h:min:s", "hh:mm:ss".
bool is_clock_unit(std::string_view unit);

}  // namespace fortitor
