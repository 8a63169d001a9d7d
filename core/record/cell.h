// One cell of a machine's file: a number as people and machines write it, a time of the clock, words.
#pragma once

#include <string_view>

namespace fortitor {

struct Cell {
  enum class Kind { empty, number, clock, text };
  Kind kind = Kind::empty;
  double value = 0.0;    ///< number; clock: seconds since midnight
  bool grouped = false;  ///< digits stood in groups of three
};

/// Reads a cell, quotes and blanks around it left away. Numbers: `decimal` ('.' or ','), groups of three parted by the
/// other mark, an apostrophe or a blank ("1,234.5", "1.234,5", "1'234.5", "1 234,5"), an exponent. Words for missing
/// ("nan", "-", "n/a") are empty. Clock: "12:31:05.2", "1:05,2" (minutes and seconds), with a date before it
/// ("2026-11-24 12:31:05", "24.11.2026 12:31:05,2") and AM or PM behind it.
Cell read_cell(std::string_view text, char decimal);

}  // namespace fortitor
