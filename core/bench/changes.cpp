#include "core/bench/changes.h"

#include <set>

#include "core/quantity/format.h"

namespace fortitor {
namespace {

std::string words(const Fields& fields, const std::string& path, const FieldSpec* spec) {
  const FieldValue* v = fields.find(path);
  if (v == nullptr) return "–";
  if (const auto* flag = std::get_if<bool>(v)) return *flag ? "yes" : "no";
  if (const auto* text = std::get_if<std::string>(v)) {
    if (spec != nullptr)
      for (const Choice& c : spec->choices)
        if (c.value == *text) return c.label;
    return text->empty() ? "–" : *text;
  }
  if (const auto* number = std::get_if<double>(v)) return plain_number(*number, 10);
  std::string out;
  for (const Reading& r : fields.readings(path))
    out += (out.empty() ? "" : ", ") + (r.missed()        ? std::string("missed")
                                        : r.typed.empty() ? plain_number(*r.value, 10)
                                                          : r.typed);
  return out.empty() ? "–" : out;
}

std::string limit_words(const Limit& l) {
  std::string out;
  if (l.min) out = "≥ " + l.min->typed;
  if (l.max) out += (out.empty() ? "≤ " : ", ≤ ") + l.max->typed;
  return out.empty() ? "–" : out;
}

}  // namespace

std::string record_changes(const TestRecord& before, const TestRecord& after, const Schema& schema, size_t most) {
  std::string out;
  size_t parts = 0;
  const auto put = [&](const std::string& what, const std::string& was, const std::string& is) {
    if (was == is || ++parts > most) return;
    out += (out.empty() ? "" : "; ") + what + ": " + was + " → " + is;
  };
  std::set<std::string> paths;
  for (const auto& [path, value] : before.fields.all()) paths.insert(path);
  for (const auto& [path, value] : after.fields.all()) paths.insert(path);
  for (const std::string& path : paths) {
    const FieldSpec* spec = schema.field(path);
    put(spec != nullptr ? spec->label : path, words(before.fields, path, spec), words(after.fields, path, spec));
  }
  std::set<std::string> keys;
  for (const auto& [key, limit] : before.limits) keys.insert(key);
  for (const auto& [key, limit] : after.limits) keys.insert(key);
  for (const std::string& key : keys) {
    const auto b = before.limits.find(key), a = after.limits.find(key);
    put("limit of " + key, b == before.limits.end() ? "–" : limit_words(b->second),
        a == after.limits.end() ? "–" : limit_words(a->second));
  }
  for (const TableSpec& t : schema.tables) {
    const auto b = before.run.tables.find(t.id), a = after.run.tables.find(t.id);
    const size_t nb = b == before.run.tables.end() ? 0 : b->second.size(),
                 na = a == after.run.tables.end() ? 0 : a->second.size();
    if (nb != na) put(t.label, std::to_string(nb) + " rows", std::to_string(na) + " rows");
    for (size_t i = 0; i < std::min(na, nb); ++i)
      for (const FieldSpec& column : t.columns)
        put(t.label + " " + std::to_string(i + 1) + ", " + column.label,
            words(b->second[i].cells, column.path, &column), words(a->second[i].cells, column.path, &column));
  }
  for (const Answer& now : after.answers) {
    std::string was = "–";
    for (const Answer& old : before.answers)
      if (old.code == now.code) was = old.remedy + (old.reason.empty() ? "" : ", “" + old.reason + "”");
    put(now.code, was, now.remedy + (now.reason.empty() ? "" : ", “" + now.reason + "”"));
  }
  for (const Answer& old : before.answers) {
    bool there = false;
    for (const Answer& now : after.answers) there = there || now.code == old.code;
    if (!there) put(old.code, old.remedy, "–");
  }
  if (parts > most) out += "; and " + std::to_string(parts - most) + " more";
  return out;
}

}  // namespace fortitor
