// Numbers and letters as programs exchange them: the same in every locale. A Qt application sets the C locale, which
// strtod, printf, tolower and the streams follow ("0,5" under de_DE, "i" for "I" not under tr_TR): nothing outside this
// file may use those (cmake/same_everywhere.cmake).
#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <string_view>

namespace fortitor::plain {

/// ASCII alone; every byte of a longer letter is none of these.
constexpr bool is_digit(char c) {
  return c >= '0' && c <= '9';
}
constexpr bool is_lower(char c) {
  return c >= 'a' && c <= 'z';
}
constexpr bool is_letter(char c) {
  return is_lower(c) || (c >= 'A' && c <= 'Z');
}
constexpr bool is_letter_or_digit(char c) {
  return is_letter(c) || is_digit(c);
}
constexpr bool is_space(char c) {
  return c == ' ' || (c >= '\t' && c <= '\r');
}
constexpr char lower(char c) {
  return c >= 'A' && c <= 'Z' ? char(c - 'A' + 'a') : c;
}
constexpr char upper(char c) {
  return is_lower(c) ? char(c - 'a' + 'A') : c;
}
std::string lower(std::string_view text);

/// The whole text as a number with a decimal point ("-1.5", "+2e3"), blanks around it allowed; nothing for anything
/// else. What is beyond the range of a double is nothing too.
std::optional<double> number(std::string_view text);
/// The number at the beginning of the text, which is taken off it (blanks before it too).
std::optional<double> take_number(std::string_view& text);
/// The same for whole numbers.
std::optional<int64_t> whole(std::string_view text);
std::optional<int64_t> take_whole(std::string_view& text);

/// The fewest digits that are read back as the same number.
std::string shortest(double value);
/// Exactly `decimals` places: what "%.*f" writes in the C locale.
std::string fixed(double value, int decimals);
/// `digits` significant ones: what "%.*g" writes in the C locale.
std::string general(double value, int digits);
/// At least so many digits, with noughts before them.
std::string padded(int64_t value, int width);

}  // namespace fortitor::plain
