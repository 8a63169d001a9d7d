#include "core/quantity/parse.h"

#include <charconv>
#include <cmath>
#include <initializer_list>
#include <optional>
#include <utility>
#include <vector>

#include "core/quantity/parse_parts.h"
#include "core/quantity/plain.h"
#include "core/quantity/unit_table.h"

namespace fortitor {

using typed::in_quotes;
using typed::is_digit;
using typed::trimmed;

namespace {

struct Number {
  double value = 0.0;
  double resolution = 1.0;
  bool fraction = false;
};

// "2×10³", "2 x 10^3", "2·10⁻³" → "2e3".
void powers_to_exponents(std::string& s) {
  static constexpr std::string_view kSuper[] = {"⁰", "¹", "²", "³", "⁴", "⁵", "⁶", "⁷", "⁸", "⁹"};
  for (std::string_view times : {"×", "·", "x", "*"})
    for (size_t at = s.find(times); at != std::string::npos; at = s.find(times, at + 1)) {
      size_t before = at, i = at + times.size();
      while (before > 0 && s[before - 1] == ' ') --before;
      while (i < s.size() && s[i] == ' ') ++i;
      if (before == 0 || !is_digit(s[before - 1]) || s.compare(i, 2, "10") != 0) continue;
      i += 2;
      std::string power;
      if (i < s.size() && s[i] == '^') {
        ++i;
        if (i < s.size() && (s[i] == '-' || s[i] == '+')) power += s[i++];
        while (i < s.size() && is_digit(s[i])) power += s[i++];
      } else {
        if (s.compare(i, 3, "⁻") == 0) {
          power = "-";
          i += 3;
        }
        for (bool more = true; more;) {
          more = false;
          for (int d = 0; d < 10; ++d)
            if (s.compare(i, kSuper[d].size(), kSuper[d]) == 0) {
              power += char('0' + d);
              i += kSuper[d].size();
              more = true;
              break;
            }
        }
      }
      if (power.empty() || !is_digit(power.back())) continue;
      s.replace(before, i - before, "e" + power);
    }
}

// "1'450" → "1450": an apostrophe between digits that is followed by just three of them parts thousands.
void apostrophes_to_groups(std::string& s) {
  for (size_t at = s.find('\''); at != std::string::npos; at = s.find('\'', at + 1)) {
    size_t n = 0;
    while (at + 1 + n < s.size() && is_digit(s[at + 1 + n])) ++n;
    if (at == 0 || !is_digit(s[at - 1]) || n != 3) continue;
    s.erase(at, 1);
  }
}

// Groups of a thousands-separated integer: one to three digits, then threes; never a leading zero
// alone ("0,125" is a decimal).
bool valid_groups(std::string_view digits, char separator) {
  size_t start = 0;
  bool first = true;
  while (true) {
    const size_t end = digits.find(separator, start);
    const size_t length = (end == std::string_view::npos ? digits.size() : end) - start;
    if (first ? (length < 1 || length > 3) : length != 3) return false;
    first = false;
    if (end == std::string_view::npos) return true;
    start = end + 1;
  }
}

std::string without(std::string_view digits, char separator) {
  std::string out;
  for (char c : digits)
    if (c != separator) out += c;
  return out;
}

size_t count(std::string_view s, char c) {
  size_t n = 0;
  for (char x : s) n += x == c;
  return n;
}

// `body`: digits, points and commas only. Gives plain decimal text ("1450.5").
Outcome<std::string> plain_decimal(std::string_view body, bool us_customary) {
  const size_t commas = count(body, ',');
  const size_t points = count(body, '.');
  const InputError bad{"Cannot read " + in_quotes(body) + " as a number: check its points and commas.", {}};
  if (commas > 0 && points > 0) {
    const bool point_last = body.rfind('.') > body.rfind(',');
    const char decimal = point_last ? '.' : ',';
    const char group = point_last ? ',' : '.';
    const size_t at = body.rfind(decimal);
    if (count(body, decimal) != 1 || !valid_groups(body.substr(0, at), group)) return bad;
    return without(body.substr(0, at), group) + "." + std::string(body.substr(at + 1));
  }
  if (points > 1 || commas > 1) {
    const char group = points > 1 ? '.' : ',';
    if (!valid_groups(body, group) || body.front() == '0') return bad;
    return without(body, group);
  }
  if (commas == 1) {
    const size_t at = body.find(',');
    const std::string_view whole = body.substr(0, at), rest = body.substr(at + 1);
    const bool may_group = rest.size() == 3 && valid_groups(body, ',') && whole.front() != '0';
    if (may_group && us_customary) return without(body, ',');
    if (may_group) {
      const std::string one = without(body, ','), other = std::string(whole) + "." + std::string(rest);
      return InputError{in_quotes(body) + " could mean " + one + " or " + other + ": type one of them.", {one, other}};
    }
    return std::string(whole) + "." + std::string(rest);
  }
  return std::string(body);
}

// Splits "1 450,5 N" into number text and unit text; consumes the number's grammar greedily.
struct Split {
  std::string sign;
  std::string body;      // digits . ,
  std::string exponent;  // digits with sign, without e
  std::string numerator, denominator;
  std::string unit;
};

std::optional<Split> split(const std::string& s) {
  Split out;
  size_t i = 0;
  if (i < s.size() && (s[i] == '-' || s[i] == '+')) out.sign = s[i++];
  while (i < s.size() && s[i] == ' ') ++i;
  auto digits_at = [&](size_t at) {
    size_t n = 0;
    while (at + n < s.size() && is_digit(s[at + n])) ++n;
    return n;
  };
  auto fraction_at = [&](size_t at) -> size_t {  // length of "5/8" at `at`, or 0
    const size_t top = digits_at(at);
    if (top == 0 || at + top >= s.size() || s[at + top] != '/') return 0;
    const size_t bottom = digits_at(at + top + 1);
    return bottom == 0 ? 0 : top + 1 + bottom;
  };
  auto take_fraction = [&](size_t at, size_t length) {
    const std::string f = s.substr(at, length);
    const size_t slash = f.find('/');
    out.numerator = f.substr(0, slash);
    out.denominator = f.substr(slash + 1);
  };
  if (const size_t whole = fraction_at(i)) {
    take_fraction(i, whole);
    i += whole;
  } else {
    while (i < s.size() && (is_digit(s[i]) || s[i] == '.' || s[i] == ',')) out.body += s[i++];
    if (out.body.find_first_of("0123456789") == std::string::npos) return std::nullopt;
    // Space-separated groups ("1 450"), only when what follows is exactly three digits.
    if (out.body.size() <= 3) {
      while (i + 3 < s.size() && s[i] == ' ' && digits_at(i + 1) == 3 && fraction_at(i + 1) == 0 &&
             out.body.find_first_of(".,") == std::string::npos && out.body.front() != '0') {
        out.body += s.substr(i + 1, 3);
        i += 4;
        if (i < s.size() && (s[i] == '.' || s[i] == ',')) {
          out.body += '.';
          ++i;
          while (i < s.size() && is_digit(s[i])) out.body += s[i++];
          break;
        }
      }
    }
    if (i < s.size() && (s[i] == 'e' || s[i] == 'E')) {
      size_t j = i + 1;
      std::string e;
      if (j < s.size() && (s[j] == '-' || s[j] == '+')) {
        if (s[j] == '-') e = "-";
        ++j;
      }
      if (const size_t n = digits_at(j)) {
        out.exponent = e + s.substr(j, n);
        i = j + n;
      }
    }
    if (i < s.size() && (s[i] == ' ' || s[i] == '-')) {  // 2 5/8, 2-5/8
      size_t j = i + 1;
      while (j < s.size() && s[j] == ' ') ++j;
      if (const size_t n = fraction_at(j)) {
        take_fraction(j, n);
        i = j + n;
      }
    }
  }
  while (i < s.size() && s[i] == ' ') ++i;
  out.unit = s.substr(i);
  // "3/8-in", "12 in.": a joint before the unit and the full stop of an abbreviation.
  if (out.unit.size() > 1 && out.unit.front() == '-') out.unit.erase(0, 1);
  if (out.unit.size() > 1 && out.unit.back() == '.') out.unit.pop_back();
  return out;
}

Outcome<Number> number_from(const Split& parts, bool us_customary) {
  Number n;
  if (!parts.body.empty()) {
    auto plain = plain_decimal(parts.body, us_customary);
    if (!plain) return plain.error();
    const std::string text = *plain + (parts.exponent.empty() ? "" : "e" + parts.exponent);
    const char* end = text.data() + text.size();
    const auto [stop, error] = std::from_chars(text.data(), end, n.value);
    if (error == std::errc::result_out_of_range || !std::isfinite(n.value))
      return InputError{in_quotes(text) + " is beyond what can be counted.", {}};
    if (error != std::errc() || stop != end)
      return InputError{"Cannot read " + in_quotes(parts.body) + " as a number.", {}};
    const size_t point = plain->find('.');
    const double decimals = point == std::string::npos ? 0.0 : double(plain->size() - point - 1);
    int exponent = 0;
    std::from_chars(parts.exponent.data(), parts.exponent.data() + parts.exponent.size(), exponent);
    n.resolution = std::pow(10.0, exponent - decimals);
  }
  if (!parts.denominator.empty()) {
    if (parts.body.find_first_of(".,") != std::string::npos || !parts.exponent.empty())
      return InputError{"A fraction needs a whole number before it, not " + in_quotes(parts.body) + ".", {}};
    const double top = plain::number(parts.numerator).value_or(INFINITY);
    const double bottom = plain::number(parts.denominator).value_or(INFINITY);
    if (!parts.body.empty() && top >= bottom && bottom > 0)
      return InputError{in_quotes(parts.numerator + "/" + parts.denominator) +
                            " behind a whole number is more than one: check the fraction.",
                        {}};
    if (bottom == 0) return InputError{"A fraction cannot have 0 below the line.", {}};
    n.value += top / bottom;
    n.resolution = 1.0 / bottom;
    n.fraction = true;
    if (!std::isfinite(n.value)) return InputError{"That fraction is beyond what can be counted.", {}};
  }
  if (parts.sign == "-") n.value = -n.value;
  return n;
}

Outcome<Quantity> finish(const std::string& typed, const Split& parts, const Unit* unit, UnitSet set) {
  // A length with a comma before three digits is asked back whatever the set: 1,250 in may be either.
  const bool length = unit != nullptr && unit->dimension == Dimension::length;
  const bool us = !length && (set == UnitSet::us || (unit != nullptr && unit->us_customary && !parts.unit.empty()));
  // Nobody reads a psi to a thousandth: "50.000 psi" is fifty, or fifty thousand with a point for the thousands.
  const size_t point = parts.body.find('.');
  if (unit != nullptr && unit->symbol == "psi" && point != std::string::npos &&
      parts.body.find(',') == std::string::npos && parts.body.size() - point == 4 && point >= 1 && point <= 3 &&
      parts.body.front() != '0' && parts.exponent.empty()) {
    const std::string other = without(parts.body, '.'), one = parts.body.substr(0, point);
    return InputError{in_quotes(parts.body) + " could mean " + one + " or " + other + ": type one of them.",
                      {one, other}};
  }
  auto number = number_from(parts, us);
  if (!number) return number.error();
  Quantity q;
  q.typed = typed;
  q.unit = unit;
  q.unit_typed = !parts.unit.empty();
  const double factor = unit != nullptr ? unit->factor : 1.0;
  q.value = number->value * factor + (unit != nullptr ? unit->offset : 0.0);
  q.resolution = number->resolution * factor;
  if (!std::isfinite(q.value)) return InputError{in_quotes(typed) + " is beyond what can be counted.", {}};
  return q;
}

}  // namespace

namespace typed {

std::string trimmed(std::string_view text) {
  std::string s(text);
  // No-break and thin spaces come in with pasted numbers; dashes and fractions with pasted tables.
  for (std::string_view wide : {"\u00A0", "\u2002", "\u2003", "\u2007", "\u2008", "\u2009", "\u202F"})
    units::replace_all(s, wide, " ");
  for (std::string_view dash : {"−", "–"}) units::replace_all(s, dash, "-");
  for (std::string_view quote : {"’", "′"}) units::replace_all(s, quote, "'");
  for (std::string_view quote : {"”", "″"}) units::replace_all(s, quote, "\"");
  units::replace_all(s, "⁄", "/");
  units::replace_all(s, "º", "°");
  for (const auto& [sign, plain] : std::initializer_list<std::pair<std::string_view, std::string_view>>{{"½", " 1/2"},
                                                                                                        {"¼", " 1/4"},
                                                                                                        {"¾", " 3/4"},
                                                                                                        {"⅓", " 1/3"},
                                                                                                        {"⅔", " 2/3"},
                                                                                                        {"⅛", " 1/8"},
                                                                                                        {"⅜", " 3/8"},
                                                                                                        {"⅝", " 5/8"},
                                                                                                        {"⅞", " 7/8"}})
    units::replace_all(s, sign, plain);
  powers_to_exponents(s);
  apostrophes_to_groups(s);
  const size_t first = s.find_first_not_of(" \t\r\n");
  if (first == std::string::npos) return {};
  return s.substr(first, s.find_last_not_of(" \t\r\n") - first + 1);
}

}  // namespace typed

std::string Quantity::text() const {
  if (unit_typed || unit == nullptr || unit->symbol.empty()) return typed;
  return typed + " " + std::string(unit->symbol);
}

Outcome<Quantity> parse_quantity(std::string_view text, Dimension dimension, const TypingContext& context) {
  const std::string typed = trimmed(text);
  if (typed.empty()) return InputError{"Type " + std::string(dimension_phrase(dimension)) + ".", {}};
  // Feet and inches: 5' 6 1/2".
  const size_t foot = base_dimension(dimension) == Dimension::length ? typed.find('\'') : std::string::npos;
  if (foot != std::string::npos && foot + 1 < typed.size() && typed[foot + 1] != '\'') {
    const auto feet = parse_quantity(typed.substr(0, foot + 1), dimension, context);
    std::string rest = typed.substr(foot + 1);
    while (!rest.empty() && (rest.front() == ' ' || rest.front() == '-')) rest.erase(0, 1);  // 5'-6 1/2": a joint
    if (rest.empty()) return feet;
    if (rest.back() != '"' && rest.find("in") == std::string::npos) rest += "\"";
    const auto inches = feet ? parse_quantity(rest, dimension, context) : feet;
    if (!inches) return inches.error();
    Quantity q = *inches;
    q.typed = typed;
    q.unit_typed = true;
    q.value = feet->value + (feet->value < 0 ? -inches->value : inches->value);
    return q;
  }
  if (auto several = typed::in_steps(typed, dimension, context)) return *several;
  const auto parts = split(typed);
  if (!parts) {
    return InputError{in_quotes(typed) + " has no number: type " + std::string(dimension_phrase(dimension)) + ".", {}};
  }
  const Unit* unit = nullptr;
  if (parts->unit.empty()) {
    if (base_dimension(dimension) == Dimension::length && !parts->denominator.empty())
      unit = find_unit("in", Dimension::length);
    else if (context.default_unit != nullptr)
      unit = context.default_unit;
    else if (dimension != Dimension::none)
      unit = &display_unit(dimension, context.set);
  } else {
    unit = find_unit(parts->unit, dimension);
    if (unit == nullptr && dimension == Dimension::none && parts->unit == "%") unit = find_unit("%", Dimension::strain);
    if (unit == nullptr) {
      const Unit* other = find_unit(parts->unit);
      if (other != nullptr) {
        return InputError{in_quotes(parts->unit) + " is the unit of " +
                              std::string(dimension_phrase(other->dimension)) + "; here " +
                              std::string(dimension_phrase(dimension)) + " is wanted.",
                          {}};
      }
      const std::vector<std::string> alike = units_alike(parts->unit, dimension);
      if (alike.size() > 1) {
        std::string list;
        for (const std::string& a : alike) list += (list.empty() ? "" : " or ") + a;
        return InputError{in_quotes(parts->unit) + " could mean " + list + ": type it with its capitals.", alike};
      }
      return InputError{"There is no unit " + in_quotes(parts->unit) + " here; " +
                            std::string(dimension_phrase(dimension)) + " is wanted.",
                        {}};
    }
  }
  return finish(typed, *parts, unit, context.set);
}

Outcome<Quantity> parse_any_quantity(std::string_view text, const TypingContext& context) {
  const std::string typed = trimmed(text);
  if (typed.empty()) return InputError{"Type a number with its unit.", {}};
  const auto parts = split(typed);
  if (!parts) return InputError{in_quotes(typed) + " has no number.", {}};
  const Unit* unit = nullptr;
  if (!parts->unit.empty()) {
    unit = find_unit(parts->unit);
    if (unit == nullptr) return InputError{"There is no unit " + in_quotes(parts->unit) + ".", {}};
  } else if (!parts->denominator.empty()) {
    unit = find_unit("in", Dimension::length);
  }
  return finish(typed, *parts, unit, context.set);
}

Outcome<Converted> convert(std::string_view typed, std::string_view wanted) {
  const Unit* unit = find_unit(wanted);
  if (unit == nullptr) return InputError{"there is no unit “" + std::string(wanted) + "”", {}};
  auto q = parse_quantity(typed, unit->dimension);
  if (!q)
    if (const auto any = parse_any_quantity(typed); any && any->unit != nullptr)
      if (const Unit* same = find_unit(wanted, any->unit->dimension)) unit = same, q = any;
  if (!q) return q.error();
  if (!q->unit_typed && q->unit != nullptr && q->typed.find('/') == std::string::npos)
    return InputError{"“" + std::string(typed) + "” has no unit", {}};
  return Converted{*q, unit, (q->value - unit->offset) / unit->factor};
}

}  // namespace fortitor
