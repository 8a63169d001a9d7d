#include "core/bench/material.h"

#include <algorithm>

#include "core/quantity/format.h"
#include "core/reference/library.h"

namespace fortitor::material {

std::vector<std::string> names(const ReferenceShelf& shelf) {
  std::vector<std::string> out;
  auto add = [&](const std::string& name) {
    if (std::find(out.begin(), out.end(), name) == out.end()) out.push_back(name);
  };
  for (const ReferenceMaterial& m : *(shelf ? shelf : shipped_reference())) {
    add(m.name);
    for (const std::string& alias : m.aliases) add(alias);
  }
  return out;
}

void set(TestRecord& record, const Method& method, const FieldSpec& field, const std::string& typed) {
  const auto before = usual_of(record, field.path), now = find_reference(record.shelf, typed);
  record.fields.set(field.path, typed);
  auto bring = [&](const char* path, auto value_of) {
    if (method.field(path) == nullptr) return;
    const std::string is = record.fields.text(path), was = before ? value_of(*before) : std::string(),
                      wanted = now ? value_of(*now) : std::string();
    if (!is.empty() && is != was) return;  // a person's own word stays
    if (!wanted.empty())
      record.fields.set(path, wanted);
    else if (!is.empty())
      record.fields.erase(path);
  };
  bring("specimen.family", [](const ReferenceMaterial& m) { return m.family; });
  bring("specimen.species", [](const ReferenceMaterial& m) { return m.group == "wood" ? m.name : std::string(); });
}

std::string usual_words(const TestRecord& record, UnitSet units) {
  const auto m = usual_of(record, "specimen.material");
  if (!m) return {};
  std::string out;
  for (const ReferenceProperty& p : reference_properties()) {
    const auto it = m->values.find(std::string(p.key));
    if (it == m->values.end()) continue;
    out += (out.empty() ? "" : " · ") + std::string(p.label) + " " +
           format_number(it->second.low, p.dimension, units, 3) + "–" +
           format_value(it->second.high, p.dimension, units, 3);
  }
  return out;
}

}  // namespace fortitor::material
