// A format taught by pointing: the pieces of a line, what a format takes each for, and the format that takes one of
// them for something else.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/line/line.h"

namespace fortitor::line {

enum class Use { nothing, value, clock, counter, status, unit };
std::string_view use_word(Use use);

/// A piece of a line that can be pointed at.
struct Piece {
  std::string text;  ///< "12.034", "12.034 mm", "ST"
  std::string key;   ///< of a keyed or JSON line
  size_t column = 0;
  bool number = false;  ///< begins with one
  Use use = Use::nothing;
  std::string channel = {}, unit = {};  ///< of a value, as the format has it; unit "" where the line says it
  bool unit_in_line = false;
};
/// In the order of the line; empty where the line does not come apart as the format says.
std::vector<Piece> pieces_of(const Format& format, std::string_view line);

/// What a piece is said to be.
struct Taught {
  Use use = Use::value;
  std::string channel;  ///< of a value: what it is called
  std::string unit;     ///< as typed; empty: none, or as the line says
};
/// The format that takes the piece for that. Errors: no such piece, a value without a number or a name, a name that
/// another value has, a unit that nobody knows.
Outcome<Format> teach(const Format& format, std::string_view line, size_t piece, const Taught& taught);

}  // namespace fortitor::line
