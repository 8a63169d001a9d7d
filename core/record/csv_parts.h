// Shared by the readers of machines' files only.
#pragma once

#include <limits>
#include <optional>
#include <string_view>

namespace fortitor::csv {

inline constexpr double kMissing = std::numeric_limits<double>::quiet_NaN();
inline constexpr size_t kLongestLine = 1 << 20;
inline constexpr size_t kMostColumns = 4096;

inline bool blank(char c) {
  return c == ' ' || c == '\t' || c == '\r';
}
/// Without the blanks at both ends that are not separators.
inline std::string_view strip(std::string_view s, char separator = '\0') {
  while (!s.empty() && blank(s.front()) && s.front() != separator) s.remove_prefix(1);
  while (!s.empty() && blank(s.back()) && s.back() != separator) s.remove_suffix(1);
  return s;
}
inline std::string_view unquoted(std::string_view s) {
  return s.size() >= 2 && s.front() == '"' && s.back() == '"' ? s.substr(1, s.size() - 2) : s;
}
/// One cell; empty is NaN, anything else that is no number is nullopt.
std::optional<double> cell_number(std::string_view cell, char decimal);

}  // namespace fortitor::csv
