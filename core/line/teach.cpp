#include "core/line/teach.h"

#include <algorithm>

#include "core/json/json.h"
#include "core/line/parts.h"
#include "core/record/encoding.h"

namespace fortitor::line {
namespace {

using Shape = Format::Shape;

const Field* field_at(const Format& f, const Piece& p) {
  for (const Field& field : f.fields)
    if (f.shape == Shape::cells ? field.column == p.column : field.key == p.key) return &field;
  return nullptr;
}

// Pieces as they lie in the line, without what they are taken for.
std::vector<Piece> raw_pieces(const Format& f, std::string_view line) {
  std::vector<Piece> out;
  std::string_view text = trimmed(line);
  std::string guarded(text);
  if (f.sum != Sum::none && f.shape != Shape::json) {
    const auto two = parted(text, f);
    if (!two) return {};
    guarded = two->first;
  }
  guarded = as_utf8(guarded);
  if (f.shape == Shape::json) {
    const auto j = Json::read(guarded);
    if (!j.is_object()) return {};
    for (const auto& [key, value] : j.items()) {
      if (value.is_structured() || value.is_boolean() || value.is_null()) continue;
      out.push_back({value.is_string() ? value.get<std::string>() : value.dump(), key, out.size()});
    }
  } else if (f.shape == Shape::keyed) {
    for (Pair& p : pairs_of(guarded, f.separator)) out.push_back({std::move(p.value), std::move(p.key), out.size()});
  } else {
    for (std::string& cell : cells_of(f.status_behind ? behind(guarded).first : guarded, f.separator))
      out.push_back({std::move(cell), {}, out.size()});
  }
  for (Piece& p : out) {
    std::string_view rest = p.text;
    p.number = take_number(rest, f.decimal).has_value();
  }
  return out;
}

// Values in the order of the line.
Format ordered(Format f) {
  if (f.shape == Shape::cells)
    std::stable_sort(f.fields.begin(), f.fields.end(),
                     [](const Field& a, const Field& b) { return a.column < b.column; });
  return f;
}

}  // namespace

std::string_view use_word(Use use) {
  switch (use) {
    case Use::nothing: return "nothing";
    case Use::value: return "a value";
    case Use::clock: return "the clock";
    case Use::counter: return "the counter";
    case Use::status: return "the status";
    case Use::unit: return "a unit";
  }
  return "";
}

std::vector<Piece> pieces_of(const Format& f, std::string_view line) {
  std::vector<Piece> out = raw_pieces(f, line);
  for (Piece& p : out) {
    if (f.shape == Shape::cells ? f.status_column == p.column : !f.status_key.empty() && f.status_key == p.key)
      p.use = Use::status;
    for (const Field& field : f.fields)
      if (f.shape == Shape::cells ? field.unit_column == p.column : !p.key.empty() && field.unit_key == p.key)
        p.use = Use::unit;
    const Field* field = field_at(f, p);
    if (field == nullptr) continue;
    p.use = field->channel == f.time && !f.time.empty()         ? Use::clock
            : field->channel == f.counter && !f.counter.empty() ? Use::counter
                                                                : Use::value;
    p.channel = field->channel;
    p.unit_in_line = field->unit_in_line || field->unit_column || !field->unit_key.empty();
    p.unit = p.unit_in_line ? std::string() : field->unit;
  }
  return out;
}

Outcome<Format> teach(const Format& format, std::string_view line, size_t at, const Taught& taught) {
  const std::vector<Piece> pieces = pieces_of(format, line);
  if (at >= pieces.size()) return InputError{"The line has no such part.", {}};
  const Piece& p = pieces[at];
  if (taught.use == Use::unit) return InputError{"A unit is said with the value that it belongs to.", {}};
  Format f = format;
  const Field* old = field_at(format, p);
  const Field before = old != nullptr ? *old : Field{};
  const size_t place = old != nullptr ? size_t(old - format.fields.data()) : format.fields.size();
  // What it was is forgotten first.
  std::erase_if(f.fields, [&](const Field& field) {
    return format.shape == Shape::cells ? field.column == p.column : field.key == p.key;
  });
  if (old != nullptr && f.time == before.channel) f.time.clear();
  if (old != nullptr && f.counter == before.channel) f.counter.clear();
  if (p.use == Use::status) {
    f.status_column.reset();
    f.status_key.clear();
  }
  for (Field& field : f.fields) {  // a unit of another that is something else now
    if (p.use != Use::unit || taught.use == Use::nothing) continue;
    if (field.unit_column == p.column && f.shape == Shape::cells) field.unit_column.reset(), field.unit_in_line = false;
    if (!p.key.empty() && field.unit_key == p.key) field.unit_key.clear(), field.unit_in_line = false;
  }
  // A line has as many parts as before, whether or not all of them mean something.
  if (f.shape != Shape::json) f.cells = pieces.size();
  f = ordered(std::move(f));
  if (taught.use == Use::nothing) return f;
  if (taught.use == Use::status) {
    if (p.number) return InputError{"“" + p.text + "” is a number; a status is a word.", {}};
    if (f.shape == Shape::cells)
      f.status_column = p.column;
    else
      f.status_key = p.key;
    if (const auto usual = usual_state(p.text); usual && !f.states.count(p.text)) f.states[p.text] = *usual;
    return f;
  }
  if (!p.number) return InputError{"“" + p.text + "” is no number.", {}};
  Field field = before;
  if (f.shape == Shape::cells) field.column = p.column;
  field.key = p.key;
  field.channel = taught.use == Use::clock ? "time" : taught.use == Use::counter ? "counter" : taught.channel;
  if (field.channel.empty()) return InputError{"A value needs a name, such as force.", {}};
  for (const Field& other : f.fields)
    if (other.channel == field.channel)
      return InputError{"Another part of the line is called “" + field.channel + "”.", {}};
  std::string_view rest = p.text;
  take_number(rest, f.decimal);
  const bool said = !trimmed(rest).empty();
  if (!taught.unit.empty() && find_unit(taught.unit) == nullptr)
    return InputError{"“" + taught.unit + "” is no unit that is known here.", {}};
  // A clock says times, a counter nothing but how many.
  const auto is_time = [](std::string_view unit) { return find_unit(unit, Dimension::time) != nullptr; };
  const std::string_view says = said ? trimmed(rest) : std::string_view(taught.unit);
  if (taught.use == Use::clock && !says.empty() && !is_time(says))
    return InputError{"“" + std::string(says) + "” is no unit of time.", {}};
  if (taught.use == Use::counter && said) return InputError{"“" + p.text + "” is no plain number.", {}};
  if (said) {
    field.unit_in_line = true;  // "12.034 mm": the line itself says it
    field.unit.clear();
  } else if (!taught.unit.empty() || taught.use != Use::value) {
    const std::string usual = is_time(field.unit) ? field.unit : "s";
    field.unit = taught.use == Use::counter ? std::string() : taught.unit.empty() ? usual : taught.unit;
    field.unit_in_line = false;
    field.unit_column.reset();
    field.unit_key.clear();
  } else if (!p.unit_in_line) {
    field.unit.clear();
  }
  if (taught.use == Use::clock) f.time = field.channel;
  if (taught.use == Use::counter) f.counter = field.channel;
  f.fields.insert(f.fields.begin() + long(place), std::move(field));
  return ordered(std::move(f));
}

}  // namespace fortitor::line
