// Formats whose lines name what they say, JSON and keys with values, and what every proposal asks of its columns.
#include <algorithm>
#include <cmath>
#include <set>

#include "core/json/json.h"
#include "core/line/propose_parts.h"
#include "core/quantity/plain.h"

namespace fortitor::line {
namespace {

constexpr double kClockStep = 0.3, kClockSteps = 0.8;  // of the usual step; of the steps that keep to it
constexpr double kCounterStep = 0.3;                   // by which a counter's step may differ from one

// A column of the device's own clock: it rises, by steps that are nearly the same.
bool is_clock(const std::vector<double>& v) {
  if (v.size() < 4) return false;
  std::vector<double> steps;
  for (size_t i = 1; i < v.size(); ++i) steps.push_back(v[i] - v[i - 1]);
  std::sort(steps.begin(), steps.end());
  const double usual = steps[steps.size() / 2];
  if (!(usual > 0) || steps.front() <= 0) return false;
  return double(std::count_if(steps.begin(), steps.end(), [&](double s) {
           return std::abs(s - usual) < kClockStep * usual;
         })) >= kClockSteps * double(steps.size());
}

bool all_whole(const std::vector<double>& v) {
  return std::all_of(v.begin(), v.end(), [](double x) { return x == std::round(x); });
}

}  // namespace

void name_clock(Format& f, const std::vector<std::vector<double>>& columns) {
  for (size_t i = 0; i < f.fields.size(); ++i) {
    Field& field = f.fields[i];
    const bool named = field.channel == "t" || field.channel.rfind("time", 0) == 0;
    if (!is_clock(columns[i]) || f.fields.size() < 2) continue;
    const double step = (columns[i].back() - columns[i].front()) / double(columns[i].size() - 1);
    if (!named && all_whole(columns[i]) && std::abs(step - 1) < kCounterStep) {
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
  std::vector<Json> all;
  for (const std::string& l : lines) {
    auto j = Json::read(l);
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
