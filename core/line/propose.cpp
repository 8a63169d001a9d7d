// From twenty lines to the format that wrote them: what all of them have in common, tried from the most telling on.
#include <algorithm>
#include <cmath>
#include <nlohmann/json.hpp>
#include <set>

#include "core/line/parts.h"
#include "core/quantity/plain.h"

namespace fortitor::line {
namespace {

constexpr size_t kFewest = 3;       // lines from which a format can be told
constexpr double kNearlyAll = 0.9;  // of the lines: the others are halves and garbage

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

// A column of the device's own clock: it rises, by steps that are nearly the same.
bool is_clock(const std::vector<double>& v) {
  if (v.size() < 4) return false;
  std::vector<double> steps;
  for (size_t i = 1; i < v.size(); ++i) steps.push_back(v[i] - v[i - 1]);
  std::sort(steps.begin(), steps.end());
  const double usual = steps[steps.size() / 2];
  if (!(usual > 0) || steps.front() <= 0) return false;
  return double(std::count_if(steps.begin(), steps.end(), [&](double s) {
           return std::abs(s - usual) < 0.3 * usual;
         })) >= 0.8 * double(steps.size());
}

bool all_whole(const std::vector<double>& v) {
  return std::all_of(v.begin(), v.end(), [](double x) { return x == std::round(x); });
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

void name_clock(Format& f, const std::vector<std::vector<double>>& columns) {
  for (size_t i = 0; i < f.fields.size(); ++i) {
    Field& field = f.fields[i];
    const bool named = field.channel == "t" || field.channel.rfind("time", 0) == 0;
    if (!is_clock(columns[i]) || f.fields.size() < 2) continue;
    const double step = (columns[i].back() - columns[i].front()) / double(columns[i].size() - 1);
    if (!named && all_whole(columns[i]) && std::abs(step - 1) < 0.3) {
      f.counter = field.channel = "counter";
      continue;
    }
    if (!f.time.empty()) continue;
    f.time = field.channel = "time";
    // Whole numbers that rise by many are milliseconds unless a unit says otherwise.
    if (field.unit.empty() && !field.unit_in_line) field.unit = all_whole(columns[i]) && step >= 1 ? "ms" : "s";
    const Unit* unit = find_unit(field.unit, Dimension::time);
    f.rate = unit != nullptr && step > 0 ? 1 / (step * unit->factor) : 0;
  }
}

Outcome<Format> propose_json(const std::vector<std::string>& lines) {
  Format f;
  f.shape = Format::Shape::json;
  std::map<std::string, size_t> numbers, units, words;
  std::map<std::string, std::set<std::string>> said;
  std::vector<nlohmann::ordered_json> all;
  for (const std::string& l : lines) {
    auto j = nlohmann::ordered_json::parse(l, nullptr, false);
    if (!j.is_object()) continue;
    for (const auto& [key, value] : j.items()) {
      std::string_view rest;
      const std::string text = value.is_string() ? value.get<std::string>() : "";
      rest = text;
      if (value.is_number() || (!text.empty() && take_number(rest, '.')))
        ++numbers[key];
      else if (!text.empty() && find_unit(text) != nullptr && !usual_state(text))
        ++units[key];
      else if (!text.empty()) {
        ++words[key];
        said[key].insert(text);
      }
    }
    all.push_back(std::move(j));
  }
  if (all.size() < kFewest) return InputError{"fewer than three lines are JSON objects", {}};
  const auto most = [&](size_t n) { return double(n) >= kNearlyAll * double(all.size()); };
  for (const auto& [key, value] : all.front().items()) {
    if (!most(numbers[key])) continue;
    Field field;
    field.channel = key;
    field.key = key;
    const std::string text = value.is_string() ? value.get<std::string>() : "";
    std::string_view rest = text;
    if (!text.empty() && take_number(rest, '.') && !trimmed(rest).empty()) field.unit_in_line = true;
    for (const auto& [unit, n] : units)
      if (most(n) &&
          (unit == key + "_unit" || unit == key + "unit" || (numbers.size() == 1 || unit == "unit" || unit == "u")))
        if (field.unit_key.empty() || unit == key + "_unit") {
          field.unit_key = unit;
          field.unit_in_line = true;
        }
    f.fields.push_back(field);
  }
  for (const auto& [key, n] : words)
    if (most(n) && f.status_key.empty()) {
      bool known = true;
      for (const std::string& w : said[key]) known = known && usual_state(w).has_value();
      if (!known) continue;
      f.status_key = key;
      for (const std::string& w : said[key]) f.states[w] = *usual_state(w);
    }
  if (f.fields.empty()) return InputError{"no key of these lines has numbers", {}};
  std::vector<std::vector<double>> columns(f.fields.size());
  for (const auto& j : all)
    for (size_t i = 0; i < f.fields.size(); ++i)
      if (j.contains(f.fields[i].key) && j[f.fields[i].key].is_number())
        columns[i].push_back(j[f.fields[i].key].get<double>());
  // A clock among them is no value with the unit of the others.
  for (size_t i = 0; i < f.fields.size(); ++i)
    if (is_clock(columns[i]) && f.fields.size() > 1) {
      f.fields[i].unit_key.clear();
      f.fields[i].unit_in_line = false;
    }
  name_clock(f, columns);
  return f;
}

// The words of a status column, where all of them are known.
bool take_status(Format& f, const std::vector<std::string>& words) {
  std::map<std::string, State> states;
  for (const std::string& w : words) {
    const auto s = usual_state(w);
    if (!s) return false;
    states[w] = *s;
  }
  f.states = std::move(states);
  return true;
}

Outcome<Format> propose_keyed(const std::vector<std::string>& lines, char decimal) {
  // What parts the lines into most pairs parts them.
  const auto pairs_by = [&](char separator) {
    size_t n = 0;
    for (const std::string& l : lines) n += pairs_of(l, separator).size();
    return n;
  };
  std::vector<char> separators = {';', ',', '\t', ' '};
  std::erase(separators, decimal);
  std::stable_sort(separators.begin(), separators.end(), [&](char a, char b) { return pairs_by(a) > pairs_by(b); });
  for (const char separator : separators) {
    std::map<std::vector<std::string>, size_t> shapes;
    for (const std::string& l : lines) {
      std::vector<std::string> keys;
      for (const Pair& p : pairs_of(l, separator)) keys.push_back(p.key);
      if (!keys.empty()) ++shapes[keys];
    }
    const auto best = std::max_element(shapes.begin(), shapes.end(),
                                       [](const auto& a, const auto& b) { return a.second < b.second; });
    if (best == shapes.end() || double(best->second) < kNearlyAll * double(lines.size())) continue;
    Format f;
    f.shape = Format::Shape::keyed;
    f.separator = separator;
    f.decimal = decimal;
    std::vector<std::vector<double>> columns;
    for (size_t i = 0; i < best->first.size(); ++i) {
      size_t numbers = 0, with_unit = 0, all = 0;
      std::vector<std::string> words;
      std::vector<double> values;
      for (const std::string& l : lines) {
        const auto pairs = pairs_of(l, separator);
        if (pairs.size() != best->first.size()) continue;
        ++all;
        std::string_view rest = pairs[i].value;
        const auto n = take_number(rest, decimal);
        const bool unit = find_unit(trimmed(rest)) != nullptr;
        if (n && (unit || trimmed(rest).empty())) {
          ++numbers;
          values.push_back(n->value);
          with_unit += unit;
        } else {
          words.push_back(pairs[i].value);
        }
      }
      if (double(numbers) >= kNearlyAll * double(all)) {
        Field field;
        field.channel = plain::lower(best->first[i]);
        field.key = best->first[i];
        field.unit_in_line = double(with_unit) >= kNearlyAll * double(all);
        f.fields.push_back(field);
        columns.push_back(std::move(values));
      } else if (f.status_key.empty() && take_status(f, words)) {
        f.status_key = best->first[i];
      } else {
        return InputError{"“" + best->first[i] + "” is neither a number nor a status", {}};
      }
    }
    if (f.fields.empty()) continue;
    name_clock(f, columns);
    return f;
  }
  return InputError{"these lines have no keys in common", {}};
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
      heads.emplace_back(trimmed(l));
    else if (has_digit(l) && !comment)
      lines.emplace_back(trimmed(l));
  }
  if (lines.size() < kFewest) return InputError{"Fewer than three lines have numbers: wait for more of them.", {}};
  if (lines.front().front() == '{') {
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

std::string words_of(const Format& f) {
  std::string out = f.shape == Format::Shape::json    ? "JSON lines"
                    : f.shape == Format::Shape::keyed ? "keys and values"
                    : f.fields.size() == 1            ? "one value"
                                                      : std::to_string(f.fields.size()) + " columns";
  bool with_unit = false;
  for (const Field& field : f.fields) with_unit = with_unit || field.unit_in_line || !field.unit.empty();
  out += with_unit ? " with units" : ", no unit";
  if (f.status_behind) out += ", a status behind some";
  if (!f.status_key.empty() || f.status_column) out += ", a status";
  if (f.sum != Sum::none) out += ", a check sum (" + std::string(sum_word(f.sum)) + ")";
  if (f.shape == Format::Shape::cells && f.fields.size() > 1)
    out += f.separator == ' '    ? ", parted by blanks"
           : f.separator == '\t' ? ", parted by tabs"
                                 : std::string(", parted by “") + f.separator + "”";
  if (f.decimal == ',') out += ", decimal comma";
  if (!f.time.empty()) out += ", with its own clock";
  if (f.rate > 0) out += "; " + plain::general(f.rate, 3) + " lines a second";
  return out;
}

}  // namespace fortitor::line
