#include "core/record/header.h"

#include <algorithm>
#include <array>
#include <map>

#include "core/quantity/unit.h"
#include "core/record/csv_parts.h"

namespace fortitor {
namespace {

constexpr std::array<std::pair<char, char>, 4> kBrackets = {std::pair{'[', ']'}, {'(', ')'}, {'{', '}'}, {'<', '>'}};

std::string_view unbracketed(std::string_view s) {
  s = csv::strip(s);
  for (const auto& [open, close] : kBrackets)
    if (s.size() >= 2 && s.front() == open && s.back() == close) return csv::strip(s.substr(1, s.size() - 2));
  return s;
}

bool is_unit(std::string_view s) {
  return !s.empty() && (find_unit(s) != nullptr || is_clock_unit(s));
}

void split_unit(std::string& name, std::string& unit) {
  auto take = [&](size_t name_end, std::string_view inside) {
    unit = std::string(inside);
    name = std::string(csv::strip(std::string_view(name).substr(0, name_end)));
  };
  for (const auto& [open, close] : kBrackets) {
    const size_t from = name.rfind(open);
    if (from == std::string::npos || from == 0 || name.back() != close) continue;
    const std::string_view inside = csv::strip(std::string_view(name).substr(from + 1, name.size() - from - 2));
    if (is_unit(inside)) return take(from, std::string(inside));
  }
  // "Load kN", "Stress N/mm²": the last word, where it can be nothing else.
  const size_t blank = name.rfind(' ');
  if (blank != std::string::npos && blank > 0 && name.find('/') != blank - 1) {
    const std::string_view tail = csv::strip(std::string_view(name).substr(blank + 1));
    const bool plain = tail.size() > 1 || tail == "N" || tail == "s" || tail == "%";
    const bool joined = csv::strip(std::string_view(name).substr(0, blank)).ends_with(" in");
    // "Load, kN": the comma parts name and unit and is of neither.
    if (plain && !joined && is_unit(tail)) return take(name[blank - 1] == ',' ? blank - 1 : blank, std::string(tail));
  }
  // "Force / N", "Force/N", "F in kN": the longest tail that is a unit.
  for (size_t at = name.find('/'); at != std::string::npos; at = name.find('/', at + 1)) {
    const std::string_view tail = csv::strip(std::string_view(name).substr(at + 1));
    if (at > 0 && find_unit(name) == nullptr && is_unit(tail)) return take(at, std::string(tail));
  }
  for (const char* word : {" in ", ", ", " - "}) {
    const size_t at = name.rfind(word);
    if (at == std::string::npos || at == 0) continue;
    const std::string_view tail = csv::strip(std::string_view(name).substr(at + std::string_view(word).size()));
    if (is_unit(tail)) return take(at, std::string(tail));
  }
}

bool looks_like_units(const std::vector<std::string>& cells) {
  size_t known = 0, filled = 0;
  for (const std::string& c : cells) {
    const std::string_view inside = unbracketed(c);
    if (inside.empty() || inside == "-") continue;
    ++filled;
    known += is_unit(inside);
  }
  return filled > 0 && known * 2 > filled;
}

bool bracketed(const std::vector<std::string>& cells) {
  for (const std::string& c : cells) {
    const std::string_view s = csv::strip(c);
    if (s.empty()) continue;
    return unbracketed(s).size() != s.size();
  }
  return false;
}

bool any_words(const std::vector<std::string>& cells) {
  return std::any_of(cells.begin(), cells.end(), [](const std::string& c) { return !csv::strip(c).empty(); });
}

}  // namespace

bool is_clock_unit(std::string_view unit) {
  std::string low;
  for (char c : unit) low += c >= 'A' && c <= 'Z' ? char(c - 'A' + 'a') : c;
  for (const char* known : {"h:min:s", "hh:mm:ss", "h:m:s", "h:mm:ss", "hms", "min:s", "mm:ss", "hh:mm:ss.fff",
                            "hh:mm:ss.sss", "hh:mm:ss,fff", "hh:mm:ss.000"})
    if (low == known) return true;
  return false;
}

Header header_of(const std::vector<std::vector<std::string>>& given, size_t width) {
  // "# time, force": names behind the mark of a comment, and their units in the next such line.
  std::vector<std::vector<std::string>> lines = given;
  for (auto& cells : lines)
    if (!cells.empty()) {
      const size_t at = cells.front().find_first_not_of(" \t");
      if (at != std::string::npos && cells.front()[at] == '#')
        cells.front() = std::string(csv::strip(std::string_view(cells.front()).substr(at + 1)));
    }
  Header h;
  h.names.assign(width, {});
  h.units.assign(width, {});
  h.first = lines.size();
  size_t at = lines.size();
  while (at > 0 && !any_words(lines[at - 1])) --at;  // a blank line between names and numbers
  auto wide = [&](const std::vector<std::string>& cells) {
    size_t filled = cells.size();
    while (filled > width && csv::strip(cells[filled - 1]).empty()) --filled;
    return filled == width;
  };
  if (at > 0 && (wide(lines[at - 1]) || lines[at - 1].size() < width)) {
    // "t,F,x" may read as units too; they are names when no row of as many words stands above them.
    const bool named = at > 1 && wide(lines[at - 2]) && any_words(lines[at - 2]);
    if ((named || (bracketed(lines[at - 1]) && wide(lines[at - 1]))) && looks_like_units(lines[at - 1])) {
      for (size_t i = 0; i < std::min(width, lines[at - 1].size()); ++i) {
        const std::string_view unit = unbracketed(lines[at - 1][i]);
        if (unit != "-") h.units[i] = std::string(unit);
      }
      h.first = --at;
    }
  }
  if (at > 0 && wide(lines[at - 1])) {
    for (size_t i = 0; i < std::min(width, lines[at - 1].size()); ++i)
      h.names[i] = std::string(csv::strip(lines[at - 1][i]));
    h.first = at - 1;
  }
  for (size_t i = 0; i < width; ++i)
    if (!h.names[i].empty() && h.units[i].empty()) split_unit(h.names[i], h.units[i]);
  return h;
}

void name_columns(std::vector<std::string>& names) {
  for (size_t i = 0; i < names.size(); ++i)
    if (names[i].empty()) names[i] = "column " + std::to_string(i + 1);
  std::map<std::string, int> seen;
  for (std::string& name : names)
    if (const int n = ++seen[name]; n > 1) name += " (" + std::to_string(n) + ")";
}

}  // namespace fortitor
