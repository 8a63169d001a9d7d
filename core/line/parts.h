// Shared by the reader of lines and whoever proposes a format.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/line/line.h"

namespace fortitor::line {

/// A number as instruments write it: sign (perhaps apart from its digits), digits, one decimal mark, exponent.
struct Number {
  double value = 0, resolution = 0;
  std::string digits;  ///< with a decimal point, without blanks
};
/// The number at the beginning of the text, which is taken off it (blanks before it too).
std::optional<Number> take_number(std::string_view& text, char decimal);
/// Blanks off both ends.
std::string_view trimmed(std::string_view text);
/// Cells of a line; for ' ' any number of blanks parts them, and a sign may stand apart from its digits.
std::vector<std::string> cells_of(std::string_view text, char separator);
/// Key and value pairs: "F=12.03 kN; x=1.2 mm".
struct Pair {
  std::string key, value;
};
std::vector<Pair> pairs_of(std::string_view text, char separator);
/// The guarded part of a line and what stands for its sum; nothing when there is no mark.
std::optional<std::pair<std::string, std::string>> parted(std::string_view text, const Format& format);
/// A line and the word of status behind it ("12.5 kg OL"); the line alone where there is none.
std::pair<std::string_view, std::string_view> behind(std::string_view text);
/// What usual words of instruments mean.
std::optional<State> usual_state(std::string_view word);

}  // namespace fortitor::line
