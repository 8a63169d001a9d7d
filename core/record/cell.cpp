#include "core/record/cell.h"

#include <charconv>
#include <cmath>
#include <limits>
#include <string>

#include "core/record/csv_parts.h"

namespace fortitor {
namespace {

bool digit(char c) {
  return c >= '0' && c <= '9';
}

bool missing(std::string_view s) {
  if (s.find_first_not_of('-') == std::string_view::npos) return true;
  std::string low;
  for (char c : s) low += c >= 'A' && c <= 'Z' ? char(c - 'A' + 'a') : c;
  for (const char* word : {"nan", "inf", "-inf", "+inf", "n/a", "na", "#n/a", "null", "none", "–", "—", "*", "***"})
    if (low == word) return true;
  return false;
}

// Width of a mark that parts groups at `i`: apostrophe, blank, no-break or thin space, or the mark that is not the
// decimal one.
size_t group_mark(std::string_view s, size_t i, char decimal) {
  if (s[i] == '\'' || s[i] == ' ' || s[i] == (decimal == '.' ? ',' : '.')) return 1;
  if (s.substr(i, 2) == "\u00A0") return 2;
  if (s.substr(i, 3) == "\u2009" || s.substr(i, 3) == "\u202F" || s.substr(i, 3) == "’") return 3;
  return 0;
}

bool read_number(std::string_view s, char decimal, Cell& out) {
  std::string plain;
  size_t i = 0;
  if (s.substr(0, 3) == "−") {
    plain = "-";
    i = 3;
  } else if (s[0] == '-' || s[0] == '+') {
    if (s[0] == '-') plain = "-";
    i = 1;
  }
  size_t run = 0;
  bool grouped = false, any = false;
  std::string_view mark;
  while (i < s.size()) {
    if (digit(s[i])) {
      plain += s[i++];
      ++run;
      any = true;
      if (grouped && run > 3) return false;
      continue;
    }
    const size_t width = any ? group_mark(s, i, decimal) : 0;
    if (width == 0) break;
    if (run == 0 || run > 3 || (grouped && run != 3)) return false;
    if (!grouped && plain[plain.size() - run] == '0') return false;  // "0,125" is a decimal
    const std::string_view here = s.substr(i, width);
    if (!mark.empty() && here != mark) return false;
    if (i + width >= s.size() || !digit(s[i + width])) return false;
    mark = here;
    grouped = true;
    run = 0;
    i += width;
  }
  if (grouped && run != 3) return false;
  if (i < s.size() && s[i] == decimal) {
    plain += '.';
    ++i;
    while (i < s.size() && digit(s[i])) {
      plain += s[i++];
      any = true;
    }
  }
  if (!any) return false;
  if (i < s.size() && (s[i] == 'e' || s[i] == 'E')) {
    size_t k = i + 1;
    if (k < s.size() && (s[k] == '-' || s[k] == '+')) ++k;
    if (k >= s.size() || !digit(s[k])) return false;
    plain += 'e';
    if (s[i + 1] == '-') plain += '-';
    for (; k < s.size() && digit(s[k]); ++k) plain += s[k];
    i = k;
  }
  if (i != s.size()) return false;
  double value = 0;
  const auto [stop, error] = std::from_chars(plain.data(), plain.data() + plain.size(), value);
  if (stop != plain.data() + plain.size()) return false;
  if (error == std::errc::result_out_of_range)
    value = plain.find("e-") != std::string::npos ? 0.0 : std::numeric_limits<double>::quiet_NaN();
  else if (error != std::errc())
    return false;
  out = {Cell::Kind::number, value, grouped};
  return true;
}

// A date at the head of a time: figures parted twice by the same mark, then a blank or T.
std::string_view without_date(std::string_view s) {
  size_t i = 0, parts = 0;
  char mark = 0;
  while (i < s.size() && (digit(s[i]) || s[i] == '-' || s[i] == '.' || s[i] == '/')) {
    if (!digit(s[i])) {
      if (mark != 0 && s[i] != mark) return s;
      mark = s[i];
      ++parts;
    }
    ++i;
  }
  if (parts != 2 || i >= s.size() || (s[i] != ' ' && s[i] != 'T')) return s;
  while (i < s.size() && (s[i] == ' ' || s[i] == 'T')) ++i;
  return s.substr(i);
}

bool read_clock(std::string_view s, Cell& out) {
  if (s.find(':') == std::string_view::npos || s.size() > 40) return false;
  s = without_date(s);
  int half = 0;  // 1: AM, 2: PM
  if (s.size() > 2) {
    const char last = s.back(), before = s[s.size() - 2];
    if ((last == 'M' || last == 'm') && (before == 'A' || before == 'a' || before == 'P' || before == 'p')) {
      half = before == 'A' || before == 'a' ? 1 : 2;
      s.remove_suffix(2);
      while (!s.empty() && s.back() == ' ') s.remove_suffix(1);
    }
  }
  double parts[3] = {};
  int n = 0;
  size_t i = 0;
  while (n < 3) {
    size_t end = i;
    while (end < s.size() && digit(s[end])) ++end;
    if (end == i || end - i > 6) return false;
    std::string text(s.substr(i, end - i));
    bool last = end == s.size();
    if (!last && (s[end] == '.' || s[end] == ',')) {
      text += '.';
      ++end;
      const size_t from = end;
      while (end < s.size() && digit(s[end])) text += s[end++];
      if (end == from || end != s.size()) return false;
      last = true;
    }
    double v = 0;
    std::from_chars(text.data(), text.data() + text.size(), v);
    parts[n++] = v;
    i = end;
    if (last) break;
    if (s[i] != ':') return false;
    ++i;
  }
  if (i != s.size() || n < 2) return false;
  double hours = n == 3 ? parts[0] : 0;
  const double minutes = n == 3 ? parts[1] : parts[0], seconds = n == 3 ? parts[2] : parts[1];
  if (seconds >= 61 || (n == 3 && minutes >= 60)) return false;
  if (half != 0) hours = std::fmod(hours, 12) + (half == 2 ? 12 : 0);
  out = {Cell::Kind::clock, 3600 * hours + 60 * minutes + seconds, false};
  return true;
}

}  // namespace

Cell read_cell(std::string_view text, char decimal) {
  const std::string_view s = csv::strip(csv::unquoted(csv::strip(text)));
  Cell out;
  if (s.empty()) return out;
  const char c = s.front();
  if (digit(c) || c == '-' || c == '+' || c == decimal || c == '\xE2') {
    if (read_number(s, decimal, out) || read_clock(s, out)) return out;
  }
  if (missing(s)) return out;
  out.kind = Cell::Kind::text;
  return out;
}

}  // namespace fortitor
