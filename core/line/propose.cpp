// From twenty lines to the format that wrote them: what all of them have in common, tried from the most telling on.
#include <algorithm>
#include <cmath>
#include <set>

#include "core/line/propose_parts.h"
#include "core/quantity/plain.h"
#include "core/record/encoding.h"

namespace fortitor::line {
namespace {

bool has_digit(std::string_view text) {
  return std::any_of(text.begin(), text.end(), plain::is_digit);
}

// Names of columns and their units: no word of it begins like a number.
bool is_head(std::string_view text) {
  if (text.find_first_of("={") != std::string_view::npos) return false;
  for (size_t at = 0; at < text.size();) {
    const size_t end = std::min(text.find_first_of(" ,;\t", at), text.size());
    if (end > at && (plain::is_digit(text[at]) || ((text[at] == '-' || text[at] == '+') && end > at + 1))) return false;
    at = end + 1;
  }
  return true;
}

// A line's cells as kinds: number, number with unit, unit, word.
enum class Kind { number, measured, unit, word, empty };

Kind kind_of(std::string_view cell, char decimal) {
  if (cell.empty()) return Kind::empty;
  std::string_view rest = cell;
  if (take_number(rest, decimal)) {
    rest = trimmed(rest);
    if (rest.empty()) return Kind::number;
    return find_unit(rest) != nullptr ? Kind::measured : Kind::word;
  }
  return find_unit(cell) != nullptr && !usual_state(cell) ? Kind::unit : Kind::word;
}

// A way to take the lines apart, and how well it does.
struct Way {
  char separator = ' ', decimal = '.';
  size_t cells = 0;
  std::vector<Kind> kinds;
  double fits = 0;  // share of the lines
  int numbers = 0;
  int odd = 0;  // cells that are no number, no unit and no status
};

// "12,5" in every line: one number with a decimal comma rather than two whole ones, as long as what stands after the
// comma has as many digits everywhere.
bool is_decimal_comma(const std::vector<std::string>& lines) {
  std::set<size_t> digits;
  for (const std::string& l : lines) {
    const size_t comma = l.find(',');
    if (comma == std::string::npos || l.find(',', comma + 1) != std::string::npos) return false;
    size_t n = 0;
    while (comma + 1 + n < l.size() && plain::is_digit(l[comma + 1 + n])) ++n;
    digits.insert(n);
  }
  return digits.size() == 1 && *digits.begin() > 0;
}

Way way_of(const std::vector<std::string>& lines, char separator, char decimal) {
  std::map<std::vector<Kind>, size_t> shapes;
  for (const std::string& l : lines) {
    std::vector<Kind> kinds;
    for (const std::string& c : cells_of(l, separator)) kinds.push_back(kind_of(c, decimal));
    // A column may say a unit in one line and a word that is none in another: both are what stands there.
    ++shapes[kinds];
  }
  Way w;
  w.separator = separator;
  w.decimal = decimal;
  std::map<size_t, size_t> counts;
  for (const auto& [kinds, n] : shapes) counts[kinds.size()] += n;
  for (const auto& [cells, n] : counts)
    if (n > counts[w.cells] || w.cells == 0) w.cells = cells;
  // Column by column, what most lines have there.
  size_t fit = 0;
  for (size_t c = 0; c < w.cells; ++c) {
    std::map<Kind, size_t> here;
    for (const auto& [kinds, n] : shapes)
      if (kinds.size() == w.cells) here[kinds[c]] += n;
    Kind best = Kind::word;
    size_t most = 0;
    for (const auto& [k, n] : here)
      if (n > most) best = k, most = n;
    if (best == Kind::word) {
      std::vector<std::string> words;
      for (const std::string& l : lines)
        if (const auto cells = cells_of(l, separator); cells.size() == w.cells) words.push_back(cells[c]);
      w.odd +=
          !std::all_of(words.begin(), words.end(), [](const std::string& x) { return usual_state(x).has_value(); });
    }
    w.kinds.push_back(best);
    w.numbers += best == Kind::number || best == Kind::measured;
  }
  for (const auto& [kinds, n] : shapes) {
    bool same = kinds.size() == w.cells;
    for (size_t c = 0; same && c < w.cells; ++c)
      same = (kinds[c] == Kind::number || kinds[c] == Kind::measured) ==
             (w.kinds[c] == Kind::number || w.kinds[c] == Kind::measured);
    if (same) fit += n;
  }
  w.fits = double(fit) / double(lines.size());
  return w;
}

// The part of every line that a sum guards, where nearly all of them say one that holds.
struct Guard {
  Sum sum = Sum::none;
  char mark = 0;
  char separator = ' ';
};
std::optional<Guard> guard_of(const std::vector<std::string>& lines) {
  for (const Sum sum : {Sum::crc16, Sum::exclusive_or, Sum::sum})
    for (const auto& [mark, separator] :
         {std::pair('*', ' '), {'#', ' '}, {'\0', ','}, {'\0', ';'}, {'\0', '\t'}, {'\0', ' '}}) {
      Format f;
      f.sum_mark = mark;
      f.separator = separator;
      size_t holds = 0;
      for (const std::string& l : lines) {
        const auto two = parted(trimmed(l), f);
        if (!two) continue;
        std::string said = two->second;
        for (char& c : said) c = plain::upper(c);
        holds += said == sum_of(two->first, sum);
      }
      if (double(holds) >= kNearlyAll * double(lines.size())) return Guard{sum, mark, separator};
    }
  return std::nullopt;
}

// Names and units of a head: "t/s;Force [kN];Ext (mm)".
void take_head(const std::string& head, Format& f) {
  const auto cells = cells_of(head[0] == '#' ? std::string_view(head).substr(1) : std::string_view(head), f.separator);
  if (cells.size() != f.cells) return;
  for (Field& field : f.fields) {
    std::string name = cells[field.column];
    const size_t open = name.find_first_of("[(/");
    if (open != std::string::npos) {
      std::string unit = name.substr(open + 1);
      while (!unit.empty() && (unit.back() == ']' || unit.back() == ')' || unit.back() == ' ')) unit.pop_back();
      if (field.unit.empty() && !field.unit_in_line && find_unit(unit) != nullptr) field.unit = unit;
      name = std::string(trimmed(std::string_view(name).substr(0, open)));
    }
    if (!name.empty()) field.channel = plain::lower(name);
  }
}

Outcome<Format> propose_cells(const std::vector<std::string>& lines, const std::vector<std::string>& heads) {
  std::vector<Way> ways;
  for (const auto& [separator, decimal] :
       {std::pair('\t', '.'), {'\t', ','}, {';', ','}, {';', '.'}, {',', '.'}, {' ', '.'}, {' ', ','}})
    if (separator != ',' || !is_decimal_comma(lines)) ways.push_back(way_of(lines, separator, decimal));
  // Every line alike before most numbers; a mark that is seen to part cells before blanks.
  const auto better = [](const Way& a, const Way& b) {
    const bool fit_a = a.fits >= kNearlyAll, fit_b = b.fits >= kNearlyAll;
    if (fit_a != fit_b) return fit_a;
    if (a.odd != b.odd) return a.odd < b.odd;
    if (a.numbers != b.numbers) return a.numbers > b.numbers;
    const bool plain_a = a.separator == ' ', plain_b = b.separator == ' ';
    if (plain_a != plain_b) return plain_b && a.cells > 1;
    return a.cells > b.cells;
  };
  const Way w = *std::min_element(ways.begin(), ways.end(), better);
  if (w.fits < kNearlyAll || w.numbers == 0) return InputError{"these lines have no form in common", {}};
  Format f;
  f.separator = w.separator;
  f.decimal = w.decimal;
  f.cells = w.cells;
  std::vector<std::vector<std::string>> columns(w.cells);
  for (const std::string& l : lines) {
    const auto cells = cells_of(l, w.separator);
    if (cells.size() == w.cells)
      for (size_t c = 0; c < w.cells; ++c) columns[c].push_back(cells[c]);
  }
  std::vector<std::vector<double>> values;
  for (size_t c = 0; c < w.cells; ++c) {
    if (w.kinds[c] == Kind::number || w.kinds[c] == Kind::measured) {
      Field field;
      field.column = c;
      field.channel = std::to_string(f.fields.size() + 1);
      field.unit_in_line = w.kinds[c] == Kind::measured;
      if (w.kinds[c] == Kind::number && c + 1 < w.cells && w.kinds[c + 1] == Kind::unit) {
        field.unit_column = c + 1;
        field.unit_in_line = true;
      }
      std::vector<double> numbers;
      for (const std::string& cell : columns[c]) {
        std::string_view rest = cell;
        if (const auto n = take_number(rest, w.decimal)) numbers.push_back(n->value);
      }
      f.fields.push_back(field);
      values.push_back(std::move(numbers));
    } else if (w.kinds[c] == Kind::word && !f.status_column && take_status(f, columns[c])) {
      f.status_column = c;
    }
  }
  f.head_lines = heads.size();
  for (const std::string& head : heads) take_head(head, f);
  name_clock(f, values);
  return f;
}

}  // namespace

Outcome<Format> propose(const std::vector<std::string>& given) {
  std::vector<std::string> lines, heads;
  for (const std::string& l : given) {
    if (trimmed(l).empty()) continue;
    const bool comment = trimmed(l)[0] == '#';
    if (lines.empty() && (!has_digit(l) || comment || is_head(trimmed(l))))
      heads.push_back(as_utf8(trimmed(l)));
    else if (has_digit(l) && !comment)
      lines.emplace_back(trimmed(l));
  }
  if (lines.size() < kFewest) return InputError{"Fewer than three lines have numbers: wait for more of them.", {}};
  if (lines.front().front() == '{') {
    for (std::string& l : lines) l = as_utf8(l);
    auto f = propose_json(lines);
    return f ? f
             : Outcome<Format>(InputError{"These lines are no format that is known: " + f.error().message + ".", {}});
  }
  const auto guard = guard_of(lines);
  std::vector<std::string> guarded = lines;
  if (guard) {
    guarded.clear();
    Format by;
    by.sum_mark = guard->mark;
    by.separator = guard->separator;
    for (const std::string& l : lines)
      if (auto two = parted(l, by)) guarded.emplace_back(trimmed(two->first));
  }
  for (std::string& l : guarded) l = as_utf8(l);  // the sum was that of the bytes
  auto finish = [&](Format f) {
    if (guard) {
      f.sum = guard->sum;
      f.sum_mark = guard->mark;
    }
    return f;
  };
  const bool keyed = double(std::count_if(guarded.begin(), guarded.end(), [](const std::string& l) {
                       return l.find('=') != std::string::npos;
                     })) >= kNearlyAll * double(guarded.size());
  if (keyed)
    for (const char decimal : {'.', ','})
      if (auto f = propose_keyed(guarded, decimal)) return finish(*f);
  // A status that is said only when there is something to say.
  std::vector<std::string> before;
  std::map<std::string, State> states;
  for (const std::string& l : guarded) {
    const auto [line, word] = behind(l);
    before.emplace_back(line);
    if (!word.empty()) states[std::string(word)] = *usual_state(word);
  }
  size_t said = 0;
  for (size_t i = 0; i < guarded.size(); ++i) said += before[i].size() < guarded[i].size() ? 1 : 0;
  if (said > 0 && said < guarded.size())
    if (auto f = propose_cells(before, heads); f && !f->status_column) {
      f->status_behind = true;
      f->states = std::move(states);
      return finish(*f);
    }
  auto f = propose_cells(guarded, heads);
  if (!f) return InputError{"These lines are no format that is known: " + f.error().message + ".", {}};
  return finish(*f);
}

}  // namespace fortitor::line
