// Shared by the files that propose a format.
#pragma once

#include <map>
#include <string>
#include <vector>

#include "core/line/parts.h"

namespace fortitor::line {

inline constexpr size_t kFewest = 3;       ///< lines from which a format can be told
inline constexpr double kNearlyAll = 0.9;  ///< of the lines: the others are halves and garbage

Outcome<Format> propose_json(const std::vector<std::string>& lines);
Outcome<Format> propose_keyed(const std::vector<std::string>& lines, char decimal);
/// Finds the device's own clock, or its counter, among the columns of a format.
void name_clock(Format& format, const std::vector<std::vector<double>>& columns);
/// The words of a status column, where all of them are known.
bool take_status(Format& format, const std::vector<std::string>& words);

}  // namespace fortitor::line
