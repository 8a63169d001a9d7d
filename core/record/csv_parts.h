// Shared by the sniffer and the reader of CSV files only.
#pragma once

#include <limits>
#include <optional>
#include <string_view>

namespace fortitor::csv {

inline constexpr double kMissing = std::numeric_limits<double>::quiet_NaN();
inline constexpr size_t kLongestLine = 1 << 20;

inline bool blank(char c) {
  return c == ' ' || c == '\t' || c == '\r';
}
/// Without the blanks at both ends that are not separators.
std::string_view strip(std::string_view s, char separator);
/// One cell; empty is NaN, anything else that is no number is nullopt.
std::optional<double> cell_number(std::string_view cell, char decimal);

}  // namespace fortitor::csv
