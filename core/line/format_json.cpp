
#include "core/json/json.h"
#include "core/line/line.h"

namespace fortitor::line {
namespace {

const char* shape_word(Format::Shape s) {
  return s == Format::Shape::json ? "json" : s == Format::Shape::keyed ? "keyed" : "cells";
}

InputError at(const std::string& where, const std::string& what) {
  return {where + ": " + what, {}};
}

}  // namespace

std::string format_to_json(const Format& f) {
  Json j = {{"fortitor", "line/1"}, {"shape", shape_word(f.shape)}};
  if (f.shape != Format::Shape::json) j["separator"] = std::string(1, f.separator);
  if (f.decimal != '.') j["decimal"] = std::string(1, f.decimal);
  if (f.cells > 0) j["cells"] = f.cells;
  if (f.head_lines > 0) j["head_lines"] = f.head_lines;
  j["fields"] = Json::array();
  for (const Field& field : f.fields) {
    Json one = {{"channel", field.channel}};
    if (f.shape == Format::Shape::cells) one["column"] = field.column;
    if (!field.key.empty()) one["key"] = field.key;
    if (!field.unit.empty()) one["unit"] = field.unit;
    if (field.unit_in_line) one["unit_in_line"] = true;
    if (field.unit_column) one["unit_column"] = *field.unit_column;
    if (!field.unit_key.empty()) one["unit_key"] = field.unit_key;
    if (field.scale != 1) one["scale"] = field.scale;
    if (field.offset != 0) one["offset"] = field.offset;
    j["fields"].push_back(std::move(one));
  }
  if (f.status_column) j["status_column"] = *f.status_column;
  if (f.status_behind) j["status_behind"] = true;
  if (!f.status_key.empty()) j["status_key"] = f.status_key;
  for (const auto& [word, state] : f.states) j["states"][word] = state_word(state);
  if (f.sum != Sum::none) j["sum"] = sum_word(f.sum);
  if (f.sum_mark != 0) j["sum_mark"] = std::string(1, f.sum_mark);
  if (!f.time.empty()) j["time"] = f.time;
  if (!f.counter.empty()) j["counter"] = f.counter;
  if (f.rate > 0) j["rate"] = f.rate;
  return j.dump();
}

Outcome<Format> format_from_json(std::string_view text) {
  auto j = Json::read(text);
  j.sort_keys();
  if (!j.is_object() || j.value("fortitor", "") != "line/1") return at("fortitor", "expected \"line/1\"");
  Format f;
  const auto mark = [](const Json& v, char& into) {
    if (!v.is_string() || v.get<std::string>().size() != 1) return false;
    into = v.get<std::string>()[0];
    return true;
  };
  const auto state_of = [](const std::string& word) -> std::optional<State> {
    for (State s : {State::stable, State::moving, State::overload, State::low_battery})
      if (word == state_word(s)) return s;
    return std::nullopt;
  };
  for (const auto& [key, v] : j.items()) {
    if (key == "fortitor") continue;
    bool fine = true;
    if (key == "shape") {
      fine = false;
      for (Format::Shape s : {Format::Shape::cells, Format::Shape::keyed, Format::Shape::json})
        if (v == shape_word(s)) f.shape = s, fine = true;
    } else if (key == "separator") {
      fine = mark(v, f.separator);
    } else if (key == "decimal") {
      fine = mark(v, f.decimal) && (f.decimal == '.' || f.decimal == ',');
    } else if (key == "sum_mark") {
      fine = mark(v, f.sum_mark);
    } else if (key == "cells" || key == "head_lines") {
      fine = v.is_number_unsigned() && v.get<size_t>() < 4096;
      if (fine) (key == "cells" ? f.cells : f.head_lines) = v.get<size_t>();
    } else if (key == "status_column") {
      fine = v.is_number_unsigned() && v.get<size_t>() < 4096;
      if (fine) f.status_column = v.get<size_t>();
    } else if (key == "status_behind") {
      fine = v.is_boolean();
      if (fine) f.status_behind = v.get<bool>();
    } else if (key == "status_key" || key == "time" || key == "counter") {
      fine = v.is_string();
      if (fine) (key == "status_key" ? f.status_key : key == "time" ? f.time : f.counter) = v.get<std::string>();
    } else if (key == "rate") {
      fine = v.is_number() && v.get<double>() >= 0;
      if (fine) f.rate = v.get<double>();
    } else if (key == "sum") {
      fine = false;
      for (Sum s : {Sum::sum, Sum::exclusive_or, Sum::crc16})
        if (v == sum_word(s)) f.sum = s, fine = true;
    } else if (key == "states") {
      fine = v.is_object();
      for (const auto& [word, state] : v.items()) {
        const auto s = state.is_string() ? state_of(state.get<std::string>()) : std::nullopt;
        if (!s) return at("states." + word, "expected stable, moving, overload or low battery");
        f.states[word] = *s;
      }
    } else if (key == "fields") {
      fine = v.is_array();
      for (size_t i = 0; fine && i < v.size(); ++i) {
        const std::string here = "fields[" + std::to_string(i) + "]";
        if (!v[i].is_object()) return at(here, "expected an object");
        Field field;
        for (const auto& [name, value] : v[i].items()) {
          bool good = true;
          if (name == "channel" || name == "key" || name == "unit" || name == "unit_key") {
            good = value.is_string();
            if (good)
              (name == "channel" ? field.channel
               : name == "key"   ? field.key
               : name == "unit"  ? field.unit
                                 : field.unit_key) = value.get<std::string>();
          } else if (name == "column" || name == "unit_column") {
            good = value.is_number_unsigned() && value.get<size_t>() < 4096;
            if (good && name == "column") field.column = value.get<size_t>();
            if (good && name == "unit_column") field.unit_column = value.get<size_t>();
          } else if (name == "unit_in_line") {
            good = value.is_boolean();
            if (good) field.unit_in_line = value.get<bool>();
          } else if (name == "scale" || name == "offset") {
            good = value.is_number();
            if (good) (name == "scale" ? field.scale : field.offset) = value.get<double>();
          } else {
            return at(here + "." + name, "unknown");
          }
          if (!good) return at(here + "." + name, "is not what belongs there");
        }
        if (field.channel.empty()) return at(here + ".channel", "missing");
        if (!field.unit.empty() && find_unit(field.unit) == nullptr)
          return at(here + ".unit", "“" + field.unit + "” is no unit");
        f.fields.push_back(field);
      }
    } else {
      return at(key, "unknown");
    }
    if (!fine) return at(key, "is not what belongs there");
  }
  if (f.fields.empty()) return at("fields", "a format needs at least one value");
  return f;
}

}  // namespace fortitor::line
