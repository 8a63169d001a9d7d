// Marks of pieces as people number them: B-2 stands before B-10, and ten in a row are said in one breath.
#pragma once

#include <string>
#include <string_view>
#include <vector>

namespace fortitor::numbering {

/// Order of two marks: runs of digits by their number, all else by its bytes. Of equal numbers the one with fewer
/// noughts before it is first (B-1, B-01, B-2); a strict weak order in which only equal texts are equal.
bool before(std::string_view a, std::string_view b);

/// The mark that follows in numbering, "B-09" → "B-10", "9" → "10"; empty when the mark does not end in a number.
std::string next(std::string_view mark);

/// Marks in their order, three and more that follow one another as the first and the last: {"B-1 … B-12", "C-3"}.
std::vector<std::string> in_runs(const std::vector<std::string>& marks);

}  // namespace fortitor::numbering
