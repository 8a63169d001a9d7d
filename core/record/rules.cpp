#include "core/record/rules.h"

#include <algorithm>
#include <cmath>

#include "core/quantity/plain.h"
#include "core/record/json.h"

namespace fortitor {
namespace {

// The reader parses what was typed: the last bits of a value may differ, nothing else.
bool same(double a, double b) {
  return a == b || std::abs(a - b) <= 1e-9 * std::max(std::abs(a), std::abs(b)) || (std::isnan(a) && std::isnan(b));
}

bool same(const Reading& a, const Reading& b) {
  if (a.missed() || b.missed()) return a.missed() == b.missed();
  return a.counted == b.counted && same(*a.value, *b.value);
}

bool same(const FieldValue& a, const FieldValue& b) {
  if (const auto* list = std::get_if<Readings>(&a)) {
    const auto* other = std::get_if<Readings>(&b);
    return other != nullptr && std::equal(list->begin(), list->end(), other->begin(), other->end(),
                                          [](const Reading& x, const Reading& y) { return same(x, y); });
  }
  if (const auto* one = std::get_if<Reading>(&a)) {
    const auto* other = std::get_if<Reading>(&b);
    return other != nullptr && same(*one, *other);
  }
  if (const auto* number = std::get_if<double>(&a)) {
    const auto* other = std::get_if<double>(&b);
    return other != nullptr && same(*number, *other);
  }
  return a == b;
}

// A missed reading is written as null, which a field that is no list reads as nothing at all.
bool says_nothing(const FieldValue& v) {
  const auto* one = std::get_if<Reading>(&v);
  return one != nullptr && one->missed();
}

struct Comparison {
  std::vector<RecordFault>& faults;
  void differs(const std::string& path) {
    for (const RecordFault& f : faults)
      if (f.path().rfind(path, 0) == 0) return;  // the reader has said why
    faults.push_back({path + ": it would be read back as something else", true});
  }
  void fields(const Fields& is, const Fields& back, const std::string& prefix) {
    for (const auto& [path, value] : is.all()) {
      const FieldValue* other = back.find(path);
      if (other == nullptr ? !says_nothing(value) : !same(value, *other)) differs(prefix + path);
    }
  }
  void limits(const TestRecord& is, const TestRecord& back) {
    for (const auto& [key, limit] : is.limits) {
      const auto other = back.limits.find(key);
      const auto one = [](const std::optional<Reading>& a, const std::optional<Reading>& b) {
        return a.has_value() == b.has_value() && (!a || same(*a, *b));
      };
      const Limit none;
      const Limit& there = other == back.limits.end() ? none : other->second;
      if (!one(limit.min, there.min) || !one(limit.max, there.max)) differs("limits." + key);
    }
  }
  void rows(const TestRecord& is, const TestRecord& back) {
    for (const auto& [id, rows] : is.run.tables) {
      const Rows& other = back.run.rows(id);
      if (rows.size() != other.size()) {
        differs("run." + id);
        continue;
      }
      for (size_t i = 0; i < rows.size(); ++i)
        fields(rows[i].cells, other[i].cells, "run." + id + "[" + std::to_string(i) + "].");
    }
  }
};

// A step of a path: a name, or the number in brackets behind one.
struct Step {
  std::string name;
  std::optional<size_t> index;
};

std::vector<Step> steps_of(const std::string& path) {
  std::vector<Step> out;
  size_t start = 0;
  while (start <= path.size()) {
    const size_t dot = std::min(path.find('.', start), path.size());
    Step s{path.substr(start, dot - start), {}};
    if (const size_t bracket = s.name.find('['); bracket != std::string::npos) {
      std::string_view number = std::string_view(s.name).substr(bracket + 1);
      if (const auto n = plain::take_whole(number); n && *n >= 0) s.index = size_t(*n);
      s.name.resize(bracket);
    }
    out.push_back(std::move(s));
    start = dot + 1;
  }
  return out;
}

void leave_out(Fields& fields, const std::string& path, const std::optional<size_t>& index) {
  const FieldValue* value = fields.find(path);
  const auto* list = value == nullptr ? nullptr : std::get_if<Readings>(value);
  if (list == nullptr || !index || *index >= list->size()) {
    fields.erase(path);
    return;
  }
  Readings missed = *list;
  missed[*index] = Reading{};
  fields.set(path, missed);
}

}  // namespace

std::vector<RecordFault> faults_of(const TestRecord& record, const Schema& schema) {
  TestRecord typed = record;
  typed.run.drop_samples();
  const auto back = read_stored_record(write_record(typed, schema, -1),
                                       [&](const std::string& id) { return id == schema.id ? &schema : nullptr; });
  if (!back) return {{back.error().message, false}};
  std::vector<RecordFault> faults = back->faults;
  Comparison compare{faults};
  compare.fields(typed.fields, back->fields, "");
  compare.limits(typed, *back);
  compare.rows(typed, *back);
  return faults;
}

std::optional<RecordFault> new_fault(const std::vector<RecordFault>& faults, const std::vector<RecordFault>& known) {
  for (const RecordFault& f : faults)
    if (std::find(known.begin(), known.end(), f) == known.end()) return f;
  return std::nullopt;
}

TestRecord without_faults(TestRecord record, const std::vector<RecordFault>& faults) {
  for (const RecordFault& fault : faults) {
    const std::string path = fault.path();
    const std::vector<Step> steps = steps_of(path);
    if (steps.size() >= 2 && steps[0].name == "limits") record.limits.erase(steps[1].name);
    if (steps.size() >= 3 && steps[0].name == "run" && steps[1].index && record.run.tables.count(steps[1].name) != 0) {
      Rows& rows = record.run.tables[steps[1].name];
      if (*steps[1].index < rows.size()) leave_out(rows[*steps[1].index].cells, steps[2].name, steps[2].index);
      continue;
    }
    const size_t bracket = path.find('[');
    leave_out(record.fields, path.substr(0, bracket), steps.back().index);
  }
  return record;
}

}  // namespace fortitor
