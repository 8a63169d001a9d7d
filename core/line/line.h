// What a line of text from an instrument means. A line format is data: taught by example, kept with an item of the Kit.
// No input or output here.
#pragma once

#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/outcome.h"
#include "core/quantity/unit.h"

namespace fortitor::line {

/// What an instrument says of the value it sends. Only `stable` and `unsaid` are readings; a moving value is shown.
enum class State { unsaid, stable, moving, overload, low_battery, bad };
std::string_view state_word(State state);

/// How a line is guarded: the last characters say what the others come to.
enum class Sum { none, sum, exclusive_or, crc16 };
std::string_view sum_word(Sum sum);
/// Sum of the bytes modulo 256; their exclusive or; CRC-16 with the polynomial 0x8005 reflected, begun with 0xFFFF
/// (as Modbus over a serial line has it). Written as hexadecimal digits, two or four.
std::string sum_of(std::string_view guarded, Sum sum);

/// A value of a line.
struct Field {
  std::string channel;        ///< "force", "1"
  size_t column = 0;          ///< number of its cell, from 0; of a keyed line the place of its key
  std::string key;            ///< of a keyed line or a JSON line
  std::string unit;           ///< as it is fixed; empty: none, or read from the line
  bool unit_in_line = false;  ///< the cell holds "12.03 mm", or the one at unit_column its unit
  std::optional<size_t> unit_column;
  std::string unit_key;          ///< JSON: where the unit stands
  double scale = 1, offset = 0;  ///< of what is read: value = scale·read + offset
  bool operator==(const Field&) const = default;
};

struct Format {
  enum class Shape { cells, keyed, json };
  Shape shape = Shape::cells;
  char separator = ' ';  ///< ' ' stands for blanks of any number
  char decimal = '.';
  size_t cells = 0;       ///< of a line, all of them; 0: not said
  size_t head_lines = 0;  ///< lines that a device sends first, without values
  std::vector<Field> fields;
  std::optional<size_t> status_column;
  std::string status_key;
  bool status_behind = false;           ///< a word of status stands behind the cells where there is something to say
  std::map<std::string, State> states;  ///< what its words mean
  Sum sum = Sum::none;
  char sum_mark = 0;    ///< stands before the sum: '*'; 0: it is the last cell
  std::string time;     ///< channel that is the device's own clock; empty: none
  std::string counter;  ///< channel that counts lines; empty: none
  double rate = 0;      ///< lines a second; 0: not known
  bool operator==(const Format&) const = default;
};

struct Value {
  std::string channel;
  double value = 0;       ///< in the unit said
  std::string unit;       ///< as the instrument said it; empty: none
  double resolution = 0;  ///< step of the last digit sent, in that unit
  std::string typed;      ///< "12.034 mm": as a person would have typed it
};

struct Reading {
  std::vector<Value> values;
  State state = State::unsaid;
  std::string text;  ///< the line
  std::string why;   ///< of a bad one: what does not fit
  bool good() const { return state == State::unsaid || state == State::stable; }
  const Value* find(const std::string& channel) const;
};

/// Reads a line (without its end). What does not fit the format in every place is bad; nothing is guessed.
Reading read(const Format& format, std::string_view text);

/// The format that most likely wrote these lines, for its fields, units, states, sum and clock. Errors: fewer than
/// three lines with numbers, lines that have nothing in common.
Outcome<Format> propose(const std::vector<std::string>& lines);

/// The format in words: "value and unit, with a status; 10 lines a second".
std::string words_of(const Format& format);

std::string format_to_json(const Format& format);
/// Unknown keys and units are refused with their path.
Outcome<Format> format_from_json(std::string_view text);

/// Takes bytes as they come and gives whole lines: ended by LF, CR or CR LF, at most 4096 bytes long; what is longer is
/// given up and counted. The rest of an unfinished line is held.
class Splitter {
 public:
  void put(std::string_view bytes);
  /// The next whole line; nothing when there is none yet.
  std::optional<std::string> next();
  /// Lines that were given up.
  size_t given_up() const { return given_up_; }

 private:
  std::string held_;
  size_t from_ = 0, given_up_ = 0;
  bool skipping_ = false, after_cr_ = false;
};

}  // namespace fortitor::line
