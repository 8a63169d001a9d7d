#include <algorithm>
#include <cmath>
#include <nlohmann/json.hpp>

#include "core/line/parts.h"
#include "core/quantity/plain.h"
#include "core/record/encoding.h"

namespace fortitor::line {

std::string_view state_word(State s) {
  switch (s) {
    case State::unsaid: return "unsaid";
    case State::stable: return "stable";
    case State::moving: return "moving";
    case State::overload: return "overload";
    case State::low_battery: return "low battery";
    case State::bad: return "bad";
  }
  return "";
}

std::string_view sum_word(Sum s) {
  return s == Sum::sum ? "sum" : s == Sum::exclusive_or ? "xor" : s == Sum::crc16 ? "crc-16" : "none";
}

std::string sum_of(std::string_view guarded, Sum sum) {
  constexpr char kHex[] = "0123456789ABCDEF";
  unsigned value = sum == Sum::crc16 ? 0xFFFF : 0;
  for (const char c : guarded) {
    const unsigned byte = static_cast<unsigned char>(c);
    if (sum == Sum::sum) value = (value + byte) & 0xFF;
    if (sum == Sum::exclusive_or) value ^= byte;
    if (sum != Sum::crc16) continue;
    value ^= byte;
    for (int bit = 0; bit < 8; ++bit) value = (value & 1) != 0 ? (value >> 1) ^ 0xA001 : value >> 1;
  }
  std::string out;
  for (int shift = sum == Sum::crc16 ? 12 : 4; shift >= 0; shift -= 4) out += kHex[(value >> shift) & 0xF];
  return out;
}

const Value* Reading::find(const std::string& channel) const {
  for (const Value& v : values)
    if (v.channel == channel) return &v;
  return nullptr;
}

std::string_view trimmed(std::string_view text) {
  while (!text.empty() && plain::is_space(text.front())) text.remove_prefix(1);
  while (!text.empty() && plain::is_space(text.back())) text.remove_suffix(1);
  return text;
}

std::optional<Number> take_number(std::string_view& text, char decimal) {
  std::string_view rest = trimmed(text);
  std::string digits;
  if (!rest.empty() && (rest[0] == '+' || rest[0] == '-')) {
    if (rest[0] == '-') digits = "-";
    rest = trimmed(rest.substr(1));
  }
  size_t i = 0, whole = 0, after = 0;
  for (; i < rest.size() && plain::is_digit(rest[i]); ++i, ++whole) digits += rest[i];
  if (i < rest.size() && rest[i] == decimal && i + 1 < rest.size() && plain::is_digit(rest[i + 1])) {
    digits += '.';
    for (++i; i < rest.size() && plain::is_digit(rest[i]); ++i, ++after) digits += rest[i];
  }
  // A second mark makes it a date, a version, a number with thousands: no reading of an instrument.
  if (whole == 0 ||
      (i < rest.size() && (rest[i] == '.' || rest[i] == ',') && i + 1 < rest.size() && plain::is_digit(rest[i + 1])))
    return std::nullopt;
  int exponent = 0;
  if (i < rest.size() && (rest[i] == 'e' || rest[i] == 'E')) {
    size_t k = i + 1;
    if (k < rest.size() && (rest[k] == '+' || rest[k] == '-')) ++k;
    const size_t first = k;
    while (k < rest.size() && plain::is_digit(rest[k])) ++k;
    if (k > first && k - first <= 3) {
      const auto e = plain::whole(rest[i + 1] == '+' ? rest.substr(i + 2, k - i - 2) : rest.substr(i + 1, k - i - 1));
      exponent = int(e.value_or(0));
      digits += "e" + std::to_string(exponent);
      i = k;
    }
  }
  const auto value = plain::number(digits);
  if (!value || !std::isfinite(*value)) return std::nullopt;
  text = rest.substr(i);
  return Number{*value, std::pow(10.0, exponent - int(after)), digits};
}

std::vector<std::string> cells_of(std::string_view text, char separator) {
  std::vector<std::string> out;
  if (separator != ' ') {
    for (size_t at = 0; at <= text.size();) {
      const size_t end = std::min(text.find(separator, at), text.size());
      out.emplace_back(trimmed(text.substr(at, end - at)));
      at = end + 1;
    }
    return out;
  }
  for (size_t at = 0; at < text.size();) {
    while (at < text.size() && plain::is_space(text[at])) ++at;
    size_t end = at;
    while (end < text.size() && !plain::is_space(text[end])) ++end;
    if (end > at) {
      // A sign alone belongs to the digits after it.
      if (!out.empty() && (out.back() == "+" || out.back() == "-") && plain::is_digit(text[at]))
        out.back() += text.substr(at, end - at);
      else
        out.emplace_back(text.substr(at, end - at));
    }
    at = end;
  }
  return out;
}

std::pair<std::string_view, std::string_view> behind(std::string_view text) {
  text = trimmed(text);
  const size_t at = text.find_last_of(" ,;\t");
  if (at == std::string_view::npos || !usual_state(text.substr(at + 1))) return {text, {}};
  std::string_view before = text.substr(0, at);
  while (!before.empty() && (plain::is_space(before.back()) || before.back() == ',' || before.back() == ';'))
    before.remove_suffix(1);
  return {before, text.substr(at + 1)};
}

std::vector<Pair> pairs_of(std::string_view text, char separator) {
  std::vector<Pair> out;
  if (separator == ' ') {
    // "F=12.03 kN x=1.2 mm": what follows a pair without a sign of its own belongs to it.
    for (const std::string& cell : cells_of(text, ' ')) {
      const size_t at = cell.find_first_of("=:");
      if (at != std::string::npos && at > 0)
        out.push_back({cell.substr(0, at), cell.substr(at + 1)});
      else if (!out.empty())
        out.back().value += (out.back().value.empty() ? "" : " ") + cell;
      else
        return {};
    }
    return out;
  }
  for (const std::string& cell : cells_of(text, separator)) {
    const size_t at = cell.find_first_of("=:");
    if (at == std::string::npos || at == 0) return {};
    out.push_back({std::string(trimmed(std::string_view(cell).substr(0, at))),
                   std::string(trimmed(std::string_view(cell).substr(at + 1)))});
  }
  return out;
}

std::optional<std::pair<std::string, std::string>> parted(std::string_view text, const Format& f) {
  size_t at = std::string_view::npos;
  if (f.sum_mark != 0) {
    at = text.rfind(f.sum_mark);
    if (at == std::string_view::npos) return std::nullopt;
    return std::pair(std::string(text.substr(0, at)), std::string(trimmed(text.substr(at + 1))));
  }
  text = trimmed(text);
  at = f.separator == ' ' ? text.find_last_of(" \t") : text.rfind(f.separator);
  if (at == std::string_view::npos) return std::nullopt;
  return std::pair(std::string(text.substr(0, at)), std::string(trimmed(text.substr(at + 1))));
}

std::optional<State> usual_state(std::string_view word) {
  // Single letters are large: small ones are units.
  if (word == "S") return State::stable;
  if (word == "U" || word == "D" || word == "M") return State::moving;
  static const std::map<std::string, State> words = {
      {"st", State::stable},      {"ok", State::stable},       {"stable", State::stable},     {"us", State::moving},
      {"mov", State::moving},     {"moving", State::moving},   {"unstable", State::moving},   {"ol", State::overload},
      {"ovl", State::overload},   {"over", State::overload},   {"overload", State::overload}, {"err", State::overload},
      {"lb", State::low_battery}, {"bat", State::low_battery}, {"lowbat", State::low_battery}};
  const auto it = words.find(plain::lower(word));
  return it == words.end() ? std::nullopt : std::optional(it->second);
}

namespace {

Reading bad(std::string_view text, const std::string& why) {
  Reading r;
  r.state = State::bad;
  r.text = as_utf8(text);
  r.why = why;
  return r;
}

// A cell as a value of the field: "12.034", "12.034 mm", "12.034mm". Empty: it is none, `why` says what it is.
std::optional<Value> value_of(const Format& f, const Field& field, std::string_view cell, std::string_view unit_cell,
                              std::string& why) {
  std::string_view rest = cell;
  const auto n = take_number(rest, f.decimal);
  if (!n) {
    why = "“" + std::string(cell.substr(0, 40)) + "” is no number";
    return std::nullopt;
  }
  Value v;
  v.channel = field.channel;
  std::string_view said = trimmed(rest);
  if (field.unit_column || !field.unit_key.empty()) {
    if (!said.empty()) {
      why = "“" + std::string(cell.substr(0, 40)) + "” has more than a number";
      return std::nullopt;
    }
    said = trimmed(unit_cell);
  }
  v.unit = field.unit;
  if (field.unit_in_line) {
    const Unit* unit = find_unit(said);
    if (unit == nullptr) {
      why = said.empty() ? "the unit is missing" : "“" + std::string(said.substr(0, 40)) + "” is no unit";
      return std::nullopt;
    }
    v.unit = said;
  } else if (!said.empty()) {
    why = "“" + std::string(cell.substr(0, 40)) + "” has more than a number";
    return std::nullopt;
  }
  v.value = field.scale * n->value + field.offset;
  v.resolution = std::abs(field.scale) * n->resolution;
  const bool as_sent = field.scale == 1 && field.offset == 0;
  v.typed = (as_sent ? n->digits : plain::general(v.value, 10)) + (v.unit.empty() ? "" : " " + v.unit);
  return v;
}

// A status word, or what none of its words says.
bool take_state(const Format& f, const std::string& word, Reading& into) {
  if (const auto it = f.states.find(word); it != f.states.end()) {
    into.state = it->second;
    return true;
  }
  // A format that was told from few lines has not met every word; the usual ones mean what they always do.
  const auto usual = usual_state(word);
  if (usual) into.state = *usual;
  return usual.has_value();
}

// Values of an object as they were sent: "-73.3670" keeps the nought that says how fine it is.
struct Flat : nlohmann::json_sax<nlohmann::json> {
  std::map<std::string, std::string> texts, numbers;
  std::string at;
  int depth = 0;
  bool failed = false;

  bool put(std::map<std::string, std::string>& into, const std::string& what) {
    if (depth == 1) into[at] = what;
    return depth > 0;  // a value alone is no object
  }
  bool null() override { return depth > 0; }
  bool boolean(bool) override { return depth > 0; }
  bool number_integer(number_integer_t v) override { return put(numbers, std::to_string(v)); }
  bool number_unsigned(number_unsigned_t v) override { return put(numbers, std::to_string(v)); }
  bool number_float(number_float_t, const string_t& s) override {
    std::string sent = s;
    std::replace(sent.begin(), sent.end(), ',', '.');  // the reader hands it over with the mark of the user's locale
    return put(numbers, sent);
  }
  bool string(string_t& s) override { return put(texts, s); }
  bool binary(binary_t&) override { return false; }
  bool start_object(std::size_t) override { return ++depth < 8; }
  bool end_object() override { return depth-- > 0; }
  bool start_array(std::size_t) override { return depth > 0 && ++depth < 8; }
  bool end_array() override { return depth-- > 0; }
  bool key(string_t& k) override {
    if (depth == 1) at = k;
    return true;
  }
  bool parse_error(std::size_t, const std::string&, const nlohmann::detail::exception&) override {
    failed = true;
    return false;
  }
};

Reading read_json_line(const Format& f, const std::string& text) {
  Flat j;
  if (text.front() != '{' || !nlohmann::json::sax_parse(text, &j) || j.failed)
    return bad(text, "this is no JSON object");
  Reading r;
  r.text = text;
  if (!f.status_key.empty()) {
    if (!j.texts.count(f.status_key) || !take_state(f, j.texts[f.status_key], r))
      return bad(text, "its status says nothing known");
    if (!r.good() && r.state != State::moving) return r;
  }
  for (const Field& field : f.fields) {
    const bool number = j.numbers.count(field.key) != 0;
    if (!number && !j.texts.count(field.key)) return bad(text, "“" + field.key + "” is missing");
    const std::string typed = number ? j.numbers[field.key] : j.texts[field.key];
    std::string unit;
    if (!field.unit_key.empty()) {
      if (!j.texts.count(field.unit_key)) return bad(text, "“" + field.unit_key + "” is missing");
      unit = j.texts[field.unit_key];
    }
    std::string why;
    const auto v = value_of(f, field, typed, unit, why);
    if (!v) return bad(text, why);
    r.values.push_back(*v);
  }
  return r;
}

}  // namespace

Reading read(const Format& f, std::string_view whole) {
  std::string_view text = trimmed(whole);
  if (text.empty()) return bad(whole, "the line is empty");
  if (f.shape == Format::Shape::json) return read_json_line(f, as_utf8(text));
  std::string guarded(text);
  if (f.sum != Sum::none) {
    const auto two = parted(text, f);
    if (!two) return bad(whole, "its check sum is missing");
    if (sum_of(two->first, f.sum) != two->second) {
      std::string large = two->second;
      for (char& c : large) c = plain::upper(c);
      if (sum_of(two->first, f.sum) != large) return bad(whole, "its check sum does not hold");
    }
    guarded = two->first;
  }
  guarded = as_utf8(guarded);  // the sum was that of the bytes
  Reading r;
  r.text = as_utf8(whole);
  if (f.shape == Format::Shape::keyed) {
    const auto pairs = pairs_of(guarded, f.separator);
    const auto find = [&](const std::string& key) -> const Pair* {
      for (const Pair& p : pairs)
        if (p.key == key) return &p;
      return nullptr;
    };
    if (!f.status_key.empty()) {
      const Pair* status = find(f.status_key);
      if (status == nullptr || !take_state(f, status->value, r)) return bad(whole, "its status says nothing known");
      if (!r.good() && r.state != State::moving) return r;
    }
    // As many as the format says; where it says nothing, those that it knows.
    if (pairs.size() != (f.cells > 0 ? f.cells : f.fields.size() + (f.status_key.empty() ? 0 : 1)))
      return bad(whole, "it has other keys than the format");
    for (const Field& field : f.fields) {
      const Pair* p = find(field.key);
      if (p == nullptr) return bad(whole, "“" + field.key + "” is missing");
      std::string why;
      const auto v = value_of(f, field, p->value, {}, why);
      if (!v) return bad(whole, why);
      r.values.push_back(*v);
    }
    return r;
  }
  std::string_view line = guarded;
  if (f.status_behind) {
    const auto [before, word] = behind(guarded);
    if (!word.empty()) {
      if (!take_state(f, std::string(word), r)) r.state = *usual_state(word);
      if (!r.good() && r.state != State::moving) return r;
      line = before;
    }
  }
  const auto cells = cells_of(line, f.separator);
  size_t wanted = 0;
  for (const Field& field : f.fields) wanted = std::max({wanted, field.column + 1, field.unit_column.value_or(0) + 1});
  if (f.status_column) wanted = std::max(wanted, *f.status_column + 1);
  if (f.status_column) {
    // An instrument in overload may send fewer cells: its status is looked for first where it always stands.
    if (cells.size() <= *f.status_column || !take_state(f, cells[*f.status_column], r)) {
      for (const std::string& c : cells)
        if (const auto it = f.states.find(c); it != f.states.end() && it->second == State::overload) {
          r.state = State::overload;
          return r;
        }
      return bad(whole, "its status says nothing known");
    }
    if (!r.good() && r.state != State::moving) return r;
  }
  if (f.cells > 0) wanted = f.cells;
  if (cells.size() < wanted || (f.cells > 0 && cells.size() != f.cells))
    return bad(whole, "it has " + std::to_string(cells.size()) + " cells, not " + std::to_string(wanted));
  for (const Field& field : f.fields) {
    std::string why;
    const auto v =
        value_of(f, field, cells[field.column], field.unit_column ? cells[*field.unit_column] : std::string(), why);
    if (!v) return bad(whole, why);
    r.values.push_back(*v);
  }
  return r;
}

}  // namespace fortitor::line
