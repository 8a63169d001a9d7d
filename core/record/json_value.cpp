#include "core/record/json_value.h"

#include <algorithm>
#include <cmath>
#include <map>

#include "core/quantity/format.h"
#include "core/record/keyed.h"

namespace fortitor {

bool must_be_positive(const FieldSpec& f) {
  if (f.may_be_zero || f.may_be_negative || (f.kind != FieldKind::quantity && f.kind != FieldKind::readings))
    return false;
  const bool sized = f.dimension == Dimension::length || f.dimension == Dimension::mass ||
                     f.dimension == Dimension::force || f.dimension == Dimension::torque ||
                     f.dimension == Dimension::density || f.dimension == Dimension::stiffness ||
                     f.dimension == Dimension::speed || f.dimension == Dimension::frequency;
  return sized && (f.path.compare(0, 9, "specimen.") == 0 || f.path.compare(0, 10, "equipment.") == 0 ||
                   f.path.compare(0, 15, "settings.speed.") == 0 || f.path == "settings.sampling" ||
                   f.path.compare(0, 4, "run.") == 0 || f.path.find('.') == std::string::npos);  // a column
}

Reading readable(Reading r, Dimension d) {
  if (r.missed() || r.counted) return r;
  const auto back = parse_quantity(r.typed, d);
  if (back && std::abs(back->value - *r.value) <= 1e-9 * std::abs(*r.value)) return r;
  r.typed = typed_value(*r.value, d, UnitSet::si, 12);
  return r;
}

std::optional<std::string> broken_rule(const Reading& r, const FieldSpec& spec) {
  if (r.missed() || r.counted) return std::nullopt;
  if (must_be_positive(spec) && !(*r.value > 0)) return "“" + r.typed + "” is not above zero";
  // An absorbed energy of −1.2 J was taken, and the set's least energy printed as that.
  if (spec.may_be_zero && !spec.may_be_negative && *r.value < 0) return "“" + r.typed + "” is below zero";
  return std::nullopt;
}

std::optional<std::string> broken_rule(const Limit& limit) {
  if (limit.min && limit.max && *limit.min->value > *limit.max->value)
    return "the lower limit " + limit.min->typed + " lies above the upper limit " + limit.max->typed;
  return std::nullopt;
}

Outcome<Reading> read_limit(const std::string& typed, Dimension d, const TypingContext& context) {
  auto q = parse_quantity(typed, d, context);
  if (!q) return q.error();
  if (!q->unit_typed && base_dimension(d) == Dimension::strain) {
    // A bare number was understood as per cent; as a ratio it would be a hundred times as much.
    const std::string percent = typed_value(q->value, Dimension::elongation, UnitSet::si, 6),
                      ratio = typed_value(100 * q->value, Dimension::elongation, UnitSet::si, 6);
    return InputError{"“" + q->typed + "” may be " + percent + " or, as a ratio, " + ratio + ": type it with %",
                      {percent, ratio}};
  }
  return reading_of(*q);
}

namespace record_json {

// {"typed", "source", "heard"}: a reading that came over a wire; {"typed", "uncertainty"}: one off a photograph.
bool is_heard(const Json& j) {
  return j.is_object() && j.contains("typed");
}

Failure fault_of_heard(const Json& j, const std::string& path) {
  for (const auto& [key, value] : j.items()) {
    if (key != "typed" && key != "source" && key != "heard" && key != "uncertainty")
      return at(joined(path, key), "unknown");
    if (!value.is_string()) return at(joined(path, key), "expected text");
  }
  if (!j.contains("source") && !j.contains("uncertainty")) return at(path, "says no source");
  return std::nullopt;
}

Outcome<Reading> with_source(Outcome<Reading> r, const Json& j, Dimension d, const std::string& path) {
  if (!r) return r;
  if (j.contains("source")) r->source = j["source"].get<std::string>();
  if (j.contains("heard")) r->heard = j["heard"].get<std::string>();
  if (!j.contains("uncertainty")) return r;
  const auto u = parse_quantity(j["uncertainty"].get<std::string>(), d);
  if (!u) return at(joined(path, "uncertainty"), u.error().message);
  if (!(u->value > 0)) return at(joined(path, "uncertainty"), "is not above zero");
  r->standard = u->value;
  return r;
}

Outcome<Reading> read_quantity(const Json& j, Dimension d, const std::string& path) {
  if (is_heard(j)) {
    if (auto fault = fault_of_heard(j, path)) return *fault;
    return with_source(read_quantity(j["typed"], d, path), j, d, path);
  }
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

Outcome<Reading> read_one(const Json& j, const FieldSpec& spec, const std::string& path, const Faults& faults) {
  if (is_heard(j)) {
    if (auto fault = fault_of_heard(j, path)) return *fault;
    return with_source(read_one(j["typed"], spec, path, faults), j, spec.dimension, path);
  }
  Outcome<Reading> r = Reading{};
  if (!spec.division_path.empty() && (j.is_number() || j.is_string())) {
    r = read_keyed(j.is_string() ? j.get<std::string>() : j.dump(), spec);
    if (!r) return at(path, r.error().message);
  } else {
    r = read_quantity(j, spec.dimension, path);
  }
  if (r)
    if (const auto broken = broken_rule(*r, spec))
      if (Failure f = faults.take(at(path, *broken), true)) return *f;
  return r;
}

static bool counts_beside_lengths(const Readings& list) {
  bool counts = false, lengths = false;
  for (const Reading& r : list)
    if (!r.missed()) (r.counted ? counts : lengths) = true;
  return counts && lengths;
}

static Outcome<FieldValue> read_choice(const Json& j, const FieldSpec& spec, const std::string& path) {
  if (!j.is_string()) return at(path, "expected text");
  const std::string word = j.get<std::string>();
  std::string list;
  for (const Choice& c : spec.choices) {
    if (c.value == word) return FieldValue(word);
    list += (list.empty() ? "" : ", ") + c.value;
  }
  return at(path, "“" + word + "” is none of " + list);
}

Outcome<FieldValue> read_field(const Json& j, const FieldSpec& spec, const std::string& path, const Faults& faults) {
  auto one = [&](const Json& value, const std::string& where) { return read_one(value, spec, where, faults); };
  switch (spec.kind) {
    case FieldKind::text:
      if (!j.is_string()) return at(path, "expected text");
      return FieldValue(j.get<std::string>());
    case FieldKind::date: {
      if (!j.is_string() || !is_day(j.get<std::string>())) return at(path, "expected a day, such as \"2026-11-27\"");
      return FieldValue(j.get<std::string>());
    }
    case FieldKind::picture:
      if (!j.is_string() || j.get<std::string>().rfind("data:image/", 0) != 0)
        return at(path, "expected a picture, \"data:image/jpeg;base64,…\"");
      return FieldValue(j.get<std::string>());
    case FieldKind::choice: return read_choice(j, spec, path);
    case FieldKind::choices: {
      if (!j.is_array()) return at(path, "expected a list of words");
      std::vector<std::string> words;
      for (size_t i = 0; i < j.size(); ++i) {
        auto word = read_choice(j[i], spec, path + "[" + std::to_string(i) + "]");
        if (!word) return word.error();
        words.push_back(std::get<std::string>(*word));
      }
      return FieldValue(kept_words(words));
    }
    case FieldKind::flag:
      if (!j.is_boolean()) return at(path, "expected true or false");
      return FieldValue(j.get<bool>());
    case FieldKind::number:
      if (!j.is_number()) return at(path, "expected a plain number");
      return FieldValue(j.get<double>());
    case FieldKind::quantity: {
      // A list of one is what older exports wrote for a single reading.
      auto r = one(j.is_array() && j.size() == 1 ? j[0] : j, path);
      if (!r) return r.error();
      return FieldValue(*r);
    }
    case FieldKind::readings:
    case FieldKind::texts: {
      Readings list;
      if (!j.is_array()) {
        auto r = one(j, path);
        if (!r) return r.error();
        list.push_back(*r);
        return FieldValue(list);
      }
      for (size_t i = 0; i < j.size(); ++i) {
        auto r = one(j[i], path + "[" + std::to_string(i) + "]");
        if (!r) return r.error();
        list.push_back(*r);
      }
      // Neither is left out in silence: cell_value() would make nothing of them.
      if (!spec.division_path.empty() && counts_beside_lengths(list))
        if (Failure f = faults.take(at(path, "a length beside a count of divisions makes no size"), true)) return *f;
      return FieldValue(list);
    }
  }
  return at(path, "unknown");
}

// Fields that earlier versions wrote under another path.
static std::string as_named_now(const std::string& path) {
  static const std::map<std::string, std::string> renamed = {{"equipment.standin.metal", "equipment.standin.piece"},
                                                             {"settings.speed.method", "settings.rate_plan"}};
  const auto it = renamed.find(path);
  return it == renamed.end() ? path : it->second;
}

Failure read_fields(const Json& j, const std::string& path, const Schema& schema, Fields& out, const Faults& faults) {
  if (!j.is_object()) return at(path, "expected an object");
  for (const auto& [key, value] : j.items()) {
    const std::string here = as_named_now(joined(path, key));
    if (const FieldSpec* spec = schema.field(here)) {
      if (value.is_null() && spec->kind != FieldKind::readings) continue;
      if (auto v = read_field(value, *spec, here, faults))
        out.set(here, *v);
      else if (Failure f = faults.take(v.error(), false))
        return f;
      continue;
    }
    const bool prefix = std::any_of(schema.fields.begin(), schema.fields.end(), [&](const FieldSpec& f) {
      return f.path.size() > here.size() && f.path.compare(0, here.size(), here) == 0 && f.path[here.size()] == '.';
    });
    if (prefix) {
      if (Failure f = read_fields(value, here, schema, out, faults)) return f;
    } else if (Failure f = faults.take(at(here, "unknown"), false)) {
      return f;
    }
  }
  return std::nullopt;
}

Failure read_text(const Json& j, const std::string& path, std::string& out) {
  if (!j.is_string()) return at(path, "expected text");
  out = j.get<std::string>();
  return std::nullopt;
}

}  // namespace record_json
}  // namespace fortitor
