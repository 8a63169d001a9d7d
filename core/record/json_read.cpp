#include <algorithm>
#include <cmath>

#include "core/json/json.h"
#include "core/record/bounds.h"
#include "core/record/json_value.h"

namespace fortitor {
namespace {

using namespace record_json;

Failure read_limit_of(const Json& value, const std::string& key, const Schema& schema, TestRecord& record,
                      const Faults& faults) {
  const std::string here = "limits." + key;
  const auto dimension = schema.limit_dimension ? schema.limit_dimension(key) : std::nullopt;
  if (!dimension) return at(here, "unknown result of " + schema.id);
  if (!value.is_object()) return at(here, "expected {\"min\": …, \"max\": …}");
  Limit limit;
  for (const auto& [side, bound] : value.items()) {
    if (side != "min" && side != "max") return at(here + "." + side, "unknown");
    if (bound.is_null()) continue;
    const bool bare = bound.is_number() || bound.is_string();
    auto r = bare && base_dimension(*dimension) == Dimension::strain
                 ? read_limit(bound.is_string() ? bound.get<std::string>() : bound.dump(), *dimension)
                 : read_quantity(bound, *dimension, here + "." + side);
    if (!r) {
      const std::string prefix = here + "." + side + ": ";
      return InputError{r.error().message.rfind(prefix, 0) == 0 ? r.error().message : prefix + r.error().message,
                        r.error().choices};
    }
    if (r->missed()) continue;
    (side == "min" ? limit.min : limit.max) = *r;
  }
  if (const auto broken = broken_rule(limit))
    if (Failure f = faults.take(at(here, *broken), true)) return f;
  record.limits[key] = limit;
  return std::nullopt;
}

Failure read_limits(const Json& j, const Schema& schema, TestRecord& record, const Faults& faults) {
  if (!j.is_object()) return at("limits", "expected an object");
  for (const auto& [key, value] : j.items())
    if (Failure f = read_limit_of(value, key, schema, record, faults))
      if (Failure g = faults.take(*f, false)) return g;
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

// Brackets beyond any record would overflow the stack of whoever takes the document apart again.
constexpr size_t kDeepest = 64;

std::optional<size_t> too_deep(std::string_view text) {
  size_t depth = 0;
  bool in_text = false;
  for (size_t i = 0; i < text.size(); ++i) {
    const char c = text[i];
    if (in_text) {
      if (c == '\\')
        ++i;
      else if (c == '"')
        in_text = false;
    } else if (c == '"') {
      in_text = true;
    } else if (c == '[' || c == '{') {
      if (++depth > kDeepest) return i + 1;
    } else if ((c == ']' || c == '}') && depth > 0) {
      --depth;
    }
  }
  return std::nullopt;
}

}  // namespace

namespace {

Outcome<TestRecord> read_document(std::string_view text, const Schemas& schemas, bool stored) {
  if (text.size() > kMostJson)
    return InputError{"a record of more than " + std::to_string(kMostJson >> 20) +
                          " MB is not read; put its samples into a CSV beside it",
                      {}};
  if (const auto deep = too_deep(text))
    return InputError{place_of(text, *deep) + ": nested deeper than " + std::to_string(kDeepest) + " levels.", {}};
  Json j;
  try {
    j = Json::parse(text);
    j.sort_keys();  // in which order a document has them means nothing
  } catch (const Json::ParseError& e) {
    if (!e.syntax) return InputError{"The document holds a number or text that JSON does not allow.", {}};
    return InputError{place_of(text, e.byte) + ": this is not JSON.", {}};
  }
  if (!j.is_object()) return InputError{"expected an object at the top of the document", {}};
  if (!j.contains("fortitor")) return at("fortitor", "missing: expected \"record/1\"");
  if (j["fortitor"] != "record/1") {
    const std::string version = j["fortitor"].is_string() ? j["fortitor"].get<std::string>() : j["fortitor"].dump();
    return at("fortitor", "“" + version.substr(0, 40) + "” is not a version this program reads: expected record/1");
  }
  if (!j.contains("method") || !j["method"].is_string()) return at("method", "missing");
  TestRecord record;
  const Faults faults{stored ? &record.faults : nullptr};
  record.method = j["method"].get<std::string>();
  const Schema* schema = schemas(record.method);
  if (schema == nullptr) return at("method", "“" + record.method + "” is unknown");
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
      f = read_fields(value, key, *schema, record.fields, faults);
    else if (key == "limits")
      f = read_limits(value, *schema, record, faults);
    else if (key == "events")
      f = read_events(value, record);
    else if (key == "answers")
      f = read_answers(value, record);
    else if (key == "run")
      f = read_run(value, *schema, record, faults);
    else
      f = faults.take(at(key, "unknown"), false);
    if (f) return *f;
  }
  return record;
}

}  // namespace

Outcome<TestRecord> read_record(std::string_view text, const Schemas& schemas) {
  return read_document(text, schemas, false);
}

Outcome<TestRecord> read_stored_record(std::string_view text, const Schemas& schemas) {
  return read_document(text, schemas, true);
}

}  // namespace fortitor
