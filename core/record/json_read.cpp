#include <algorithm>
#include <cmath>
#include <limits>
#include <nlohmann/json.hpp>

#include "core/methods/method.h"
#include "core/record/json.h"

namespace fortitor {
namespace {

using Json = nlohmann::ordered_json;
using Failure = std::optional<InputError>;

InputError at(const std::string& path, const std::string& what) {
  return {path + ": " + what, {}};
}

std::string joined(const std::string& path, const std::string& key) {
  return path.empty() ? key : path + "." + key;
}

// "12.02 mm", {"value": 12.02, "unit": "mm"}, or a bare number where no unit is needed.
Outcome<Reading> read_quantity(const Json& j, Dimension d, const std::string& path) {
  std::string typed;
  if (j.is_null()) return Reading{};
  if (j.is_string()) {
    typed = j.get<std::string>();
  } else if (j.is_object()) {
    for (const auto& [key, value] : j.items())
      if (key != "value" && key != "unit") return at(joined(path, key), "unknown");
    if (!j.contains("value") || !j["value"].is_number() || !j.contains("unit") || !j["unit"].is_string())
      return at(path, "expected {\"value\": number, \"unit\": \"…\"}");
    typed = j["value"].dump() + " " + j["unit"].get<std::string>();
  } else if (j.is_number() && d == Dimension::none) {
    typed = j.dump();
  } else if (j.is_number() && base_dimension(d) == Dimension::strain) {
    typed = j.dump() + " %";
  } else {
    return at(path, "expected " + std::string(dimension_phrase(d)) + " with its unit, such as \"12.5 mm\"");
  }
  auto q = parse_quantity(typed, d);
  if (!q) return at(path, q.error().message);
  return reading_of(*q);
}

Outcome<FieldValue> read_field(const Json& j, const FieldSpec& spec, const std::string& path) {
  switch (spec.kind) {
    case FieldKind::text:
      if (!j.is_string()) return at(path, "expected text");
      return FieldValue(j.get<std::string>());
    case FieldKind::choice: {
      if (!j.is_string()) return at(path, "expected text");
      const std::string word = j.get<std::string>();
      for (const Choice& c : spec.choices)
        if (c.value == word) return FieldValue(word);
      std::string list;
      for (const Choice& c : spec.choices) list += (list.empty() ? "" : ", ") + c.value;
      return at(path, "“" + word + "” is none of " + list);
    }
    case FieldKind::flag:
      if (!j.is_boolean()) return at(path, "expected true or false");
      return FieldValue(j.get<bool>());
    case FieldKind::number:
      if (!j.is_number()) return at(path, "expected a plain number");
      return FieldValue(j.get<double>());
    case FieldKind::quantity: {
      // A list of one is what older exports wrote for a single reading.
      const Json& one = j.is_array() && j.size() == 1 ? j[0] : j;
      auto r = read_quantity(one, spec.dimension, path);
      if (!r) return r.error();
      return FieldValue(*r);
    }
    case FieldKind::readings:
    case FieldKind::texts: {
      Readings list;
      if (!j.is_array()) {
        auto r = read_quantity(j, spec.dimension, path);
        if (!r) return r.error();
        list.push_back(*r);
        return FieldValue(list);
      }
      for (size_t i = 0; i < j.size(); ++i) {
        auto r = read_quantity(j[i], spec.dimension, path + "[" + std::to_string(i) + "]");
        if (!r) return r.error();
        list.push_back(*r);
      }
      return FieldValue(list);
    }
  }
  return at(path, "unknown");
}

// Walks an object along the method's field paths; whatever is not on one of them is refused.
Failure read_fields(const Json& j, const std::string& path, const Method& method, Fields& out) {
  if (!j.is_object()) return at(path, "expected an object");
  for (const auto& [key, value] : j.items()) {
    // Records of version 0.1 called the piece of the stand-in its metal.
    const std::string here = path == "equipment.standin" && key == "metal" ? path + ".piece" : joined(path, key);
    if (const FieldSpec* spec = method.field(here)) {
      if (value.is_null() && spec->kind != FieldKind::readings) continue;
      auto v = read_field(value, *spec, here);
      if (!v) return v.error();
      out.set(here, *v);
      continue;
    }
    const bool prefix = std::any_of(method.fields.begin(), method.fields.end(), [&](const FieldSpec& f) {
      return f.path.size() > here.size() && f.path.compare(0, here.size(), here) == 0 && f.path[here.size()] == '.';
    });
    if (!prefix) return at(here, "unknown");
    if (Failure f = read_fields(value, here, method, out)) return f;
  }
  return std::nullopt;
}

Failure read_text(const Json& j, const std::string& path, std::string& out) {
  if (!j.is_string()) return at(path, "expected text");
  out = j.get<std::string>();
  return std::nullopt;
}

Failure read_limits(const Json& j, const Method& method, TestRecord& record) {
  if (!j.is_object()) return at("limits", "expected an object");
  for (const auto& [key, value] : j.items()) {
    const std::string here = "limits." + key;
    const auto spec = method.result(key);
    if (!spec) return at(here, "unknown result of " + method.id);
    if (!value.is_object()) return at(here, "expected {\"min\": …, \"max\": …}");
    Limit limit;
    for (const auto& [side, bound] : value.items()) {
      if (side != "min" && side != "max") return at(here + "." + side, "unknown");
      auto r = read_quantity(bound, spec->dimension, here + "." + side);
      if (!r) return r.error();
      if (r->missed()) continue;
      (side == "min" ? limit.min : limit.max) = *r;
    }
    record.limits[key] = limit;
  }
  return std::nullopt;
}

Failure read_events(const Json& j, TestRecord& record) {
  if (!j.is_array()) return at("events", "expected a list");
  for (size_t i = 0; i < j.size(); ++i) {
    const std::string here = "events[" + std::to_string(i) + "]";
    if (!j[i].is_object() || !j[i].contains("at") || !j[i].contains("kind"))
      return at(here, "expected {\"at\": \"12.4 s\", \"kind\": \"…\"}");
    Event event;
    for (const auto& [key, value] : j[i].items()) {
      if (key == "at") {
        auto r = read_quantity(value, Dimension::time, here + ".at");
        if (!r) return r.error();
        if (r->missed()) return at(here + ".at", "expected a time");
        event.at = *r->value;
      } else if (key == "kind") {
        if (Failure f = read_text(value, here + ".kind", event.kind)) return f;
      } else if (key == "note") {
        if (Failure f = read_text(value, here + ".note", event.note)) return f;
      } else {
        return at(here + "." + key, "unknown");
      }
    }
    record.events.push_back(event);
  }
  return std::nullopt;
}

Failure read_answers(const Json& j, TestRecord& record) {
  if (!j.is_array()) return at("answers", "expected a list");
  for (size_t i = 0; i < j.size(); ++i) {
    const std::string here = "answers[" + std::to_string(i) + "]";
    if (!j[i].is_object()) return at(here, "expected an object");
    Answer a;
    for (const auto& [key, value] : j[i].items()) {
      std::string* into = key == "code"     ? &a.code
                          : key == "remedy" ? &a.remedy
                          : key == "reason" ? &a.reason
                          : key == "by"     ? &a.by
                          : key == "at"     ? &a.at
                                            : nullptr;
      if (into == nullptr) return at(here + "." + key, "unknown");
      if (Failure f = read_text(value, here + "." + key, *into)) return f;
    }
    record.answers.push_back(a);
  }
  return std::nullopt;
}

Failure read_channels(const Json& j, Run& run) {
  if (!j.is_object()) return at("run.channels", "expected an object");
  auto samples = std::make_shared<Samples>();
  bool first = true;
  size_t rows = 0;
  for (const auto& [name, value] : j.items()) {
    const std::string here = "run.channels." + name;
    const Dimension* d = channel_dimension(name);
    if (d == nullptr) return at(here, "unknown channel");
    if (!value.is_object()) return at(here, "expected an object");
    ChannelSource source;
    const Json* values = nullptr;
    for (const auto& [key, inner] : value.items()) {
      if (key == "column") {
        if (inner.is_number_unsigned())
          source.column = inner.dump();
        else if (Failure f = read_text(inner, here + ".column", source.column))
          return f;
      } else if (key == "unit") {
        if (Failure f = read_text(inner, here + ".unit", source.unit)) return f;
      } else if (key == "values") {
        values = &inner;
      } else {
        return at(here + "." + key, "unknown");
      }
    }
    const Unit* unit = nullptr;
    if (!source.unit.empty()) {
      unit = find_unit(source.unit, *d);
      if (unit == nullptr)
        return at(here + ".unit", "“" + source.unit + "” is no unit of " + std::string(dimension_phrase(*d)));
    }
    if (values != nullptr) {
      if (!run.file.empty()) return at(here + ".values", "a run has a file or values, not both");
      if (unit == nullptr) return at(here + ".unit", "missing");
      if (!values->is_array()) return at(here + ".values", "expected a list of numbers");
      if (!first && values->size() != rows)
        return at(here + ".values", "has " + std::to_string(values->size()) + " values where other channels have " +
                                        std::to_string(rows));
      rows = values->size();
      first = false;
      Channel c{name, {}};
      c.values.reserve(rows);
      for (size_t i = 0; i < rows; ++i) {
        const Json& v = (*values)[i];
        if (v.is_null())
          c.values.push_back(std::numeric_limits<double>::quiet_NaN());
        else if (v.is_number())
          c.values.push_back(v.get<double>() * unit->factor + unit->offset);
        else
          return at(here + ".values[" + std::to_string(i) + "]", "expected a number or null");
      }
      samples->channels.push_back(std::move(c));
    } else if (source.column.empty()) {
      return at(here, "needs a column or values");
    } else {
      run.mapping[name] = source;
    }
  }
  if (!samples->channels.empty()) run.samples = samples;
  return std::nullopt;
}

Failure read_station(const Json& j, const std::string& here, Station& station) {
  if (!j.is_object()) return at(here, "expected an object");
  for (const auto& [key, value] : j.items()) {
    if (key == "doubtful") {
      if (!value.is_boolean()) return at(here + ".doubtful", "expected true or false");
      station.doubtful = value.get<bool>();
      continue;
    }
    if (key == "note") {
      if (Failure f = read_text(value, here + ".note", station.note)) return f;
      continue;
    }
    const Dimension* d = channel_dimension(key);
    if (d == nullptr) return at(here + "." + key, "unknown");
    auto r = read_quantity(value, *d, here + "." + key);
    if (!r) return r.error();
    station.readings[key] = *r;
  }
  return std::nullopt;
}

Failure read_run(const Json& j, TestRecord& record) {
  if (!j.is_object()) return at("run", "expected an object");
  Run& run = record.run;
  if (j.contains("file"))
    if (Failure f = read_text(j["file"], "run.file", run.file)) return f;
  for (const auto& [key, value] : j.items()) {
    const std::string here = "run." + key;
    if (key == "file") continue;
    if (key == "stopped") {
      if (Failure f = read_text(value, here, run.stopped)) return f;
    } else if (key == "open") {
      if (!value.is_boolean()) return at(here, "expected true or false");
      run.open = value.get<bool>();
    } else if (key == "channels") {
      if (Failure f = read_channels(value, run)) return f;
    } else if (key == "stations") {
      if (!value.is_array()) return at(here, "expected a list");
      for (size_t i = 0; i < value.size(); ++i) {
        Station s;
        if (Failure f = read_station(value[i], here + "[" + std::to_string(i) + "]", s)) return f;
        run.stations.push_back(std::move(s));
      }
    } else if (key == "unload") {
      Station s;
      if (Failure f = read_station(value, here, s)) return f;
      run.unload = s.readings;
    } else if (key == "peak_force") {
      auto r = read_quantity(value, Dimension::force, here);
      if (!r) return r.error();
      run.values["peak_force"] = *r;
    } else {
      return at(here, "unknown");
    }
  }
  return std::nullopt;
}

std::string place_of(std::string_view text, size_t byte) {
  const size_t end = std::min(byte, text.size());
  size_t line = 1, column = 1;
  for (size_t i = 0; i + 1 < end; ++i) {
    ++column;
    if (text[i] == '\n') {
      ++line;
      column = 1;
    }
  }
  return "line " + std::to_string(line) + ", column " + std::to_string(column);
}

}  // namespace

Outcome<TestRecord> record_from_json(std::string_view text) {
  Json j;
  try {
    j = Json::parse(text);
  } catch (const nlohmann::json::parse_error& e) {
    return InputError{place_of(text, e.byte) + ": this is not JSON.", {}};
  } catch (const nlohmann::json::exception&) {
    return InputError{"The document holds a number or text that JSON does not allow.", {}};
  }
  if (!j.is_object()) return InputError{"expected an object at the top of the document", {}};
  if (!j.contains("fortitor")) return at("fortitor", "missing: expected \"record/1\"");
  if (j["fortitor"] != "record/1") {
    const std::string version = j["fortitor"].is_string() ? j["fortitor"].get<std::string>() : j["fortitor"].dump();
    return at("fortitor", "“" + version + "” is not a version this program reads: expected record/1");
  }
  if (!j.contains("method") || !j["method"].is_string()) return at("method", "missing");
  TestRecord record;
  record.method = j["method"].get<std::string>();
  const Method* method = methods::find(record.method);
  if (method == nullptr) return at("method", "“" + record.method + "” is unknown");
  for (const auto& [key, value] : j.items()) {
    Failure f;
    if (key == "fortitor" || key == "method") continue;
    if (key == "job")
      f = read_text(value, key, record.job);
    else if (key == "series")
      f = read_text(value, key, record.series);
    else if (key == "operator")
      f = read_text(value, key, record.operator_name);
    else if (key == "tested_at")
      f = read_text(value, key, record.tested_at);
    else if (key == "specimen" || key == "conditions" || key == "equipment" || key == "settings")
      f = read_fields(value, key, *method, record.fields);
    else if (key == "limits")
      f = read_limits(value, *method, record);
    else if (key == "events")
      f = read_events(value, record);
    else if (key == "answers")
      f = read_answers(value, record);
    else if (key == "run")
      f = read_run(value, record);
    else
      f = at(key, "unknown");
    if (f) return *f;
  }
  return record;
}

}  // namespace fortitor
