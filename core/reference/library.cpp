#include "core/reference/library.h"

#include <algorithm>
#include <cstdlib>
#include <filesystem>
#include <stdexcept>

#include "core/json/json.h"
#include "core/quantity/parse.h"
#include "core/quantity/plain.h"
#include "core/record/bounds.h"
#include "core/record/csv.h"

namespace fortitor {

extern const std::string_view kShippedReference;

namespace {

std::string lower(std::string s) {
  for (char& c : s) c = plain::lower(c);
  return s;
}

Outcome<double> number_of(const Json& j, Dimension d, const std::string& place, std::string& typed) {
  typed = j.is_string() ? j.get<std::string>() : j.dump();
  auto q = parse_quantity(typed, d);
  if (!q) return InputError{place + ": " + q.error().message, {}};
  return q->value;
}

Outcome<ReferenceValue> value_of(const Json& j, Dimension d, const std::string& place) {
  ReferenceValue v;
  v.from_spread = j.is_object() && j.contains("mean");
  const char* first = v.from_spread ? "mean" : "low";
  const char* second = v.from_spread ? "spread" : "high";
  if (!j.is_object() || j.size() != 2 || !j.contains(first) || !j.contains(second))
    return InputError{place + ": expected low and high, or mean and spread", {}};
  const auto a = number_of(j[first], d, place, v.typed_first);
  if (!a) return a.error();
  const auto b = number_of(j[second], v.from_spread ? Dimension::elongation : d, place, v.typed_second);
  if (!b) return b.error();
  if (v.from_spread) {
    if (*b < 0 || *b >= 1) return InputError{place + ": the spread is a share below 100 %", {}};
    v.mean = *a;
    v.low = *a * (1 - *b);
    v.high = *a * (1 + *b);
  } else {
    if (*b < *a) return InputError{place + ": low lies above high", {}};
    v.low = *a;
    v.high = *b;
    v.mean = 0.5 * (*a + *b);
  }
  return v;
}

// The fields in which a record names what it is made of.
constexpr const char* kNaming[] = {"specimen.material", "specimen.species"};

const std::vector<ReferenceMaterial>& shipped() {
  static const std::vector<ReferenceMaterial> list = [] {
    auto read = read_reference(kShippedReference);
    if (!read) throw std::logic_error("shipped reference: " + read.error().message);
    return *read;
  }();
  return list;
}

}  // namespace

const std::vector<ReferenceProperty>& reference_properties() {
  using D = Dimension;
  static const std::vector<ReferenceProperty> list = {
      {"e_modulus", "modulus of elasticity", D::modulus, 1},
      {"nu", "Poisson's ratio", D::none},
      {"yield", "yield strength", D::stress, 2},
      {"rm", "tensile strength", D::stress, 3},
      {"strength", "tensile strength", D::stress, 4},
      {"elongation", "elongation at break", D::elongation, 5},
      {"mor_green", "modulus of rupture, green", D::stress},
      {"mor_12", "modulus of rupture, 12 % moisture", D::stress, 6},
      {"moe_green", "modulus of elasticity, green", D::modulus},
      {"moe_12", "modulus of elasticity, 12 % moisture", D::modulus, 7},
      {"specific_gravity", "specific gravity, 12 % moisture", D::none, 8},
      {"volumetric_shrinkage", "volumetric shrinkage, green to dry", D::elongation},
      {"moisture_point", "moisture where drying sets in", D::elongation},
      {"density", "density", D::density, 9},
      {"kv", "KV₂, usual", D::energy},
      {"kv_min", "KV₂, least", D::energy},
      {"kv_temperature", "KV₂ holds at", D::temperature},
  };
  return list;
}

Outcome<std::vector<ReferenceMaterial>> read_reference(std::string_view text) {
  Json j = Json::read(text);
  if (j.is_discarded() || !j.is_object() || !j.contains("fortitor") || j["fortitor"] != "reference/1" ||
      !j.contains("materials") || !j["materials"].is_array())
    return InputError{"This is not a list of reference values (fortitor: reference/1).", {}};
  std::vector<ReferenceMaterial> out;
  for (const Json& m : j["materials"]) {
    if (!m.is_object() || !m.contains("name") || !m["name"].is_string() || !m.contains("values") ||
        !m["values"].is_object())
      return InputError{"material " + std::to_string(out.size() + 1) + ": expected a name and values", {}};
    ReferenceMaterial r;
    r.name = m["name"].get<std::string>();
    for (auto [key, into] :
         {std::pair{"group", &r.group}, {"family", &r.family}, {"source", &r.source}, {"use", &r.use}})
      if (m.contains(key) && m[key].is_string()) *into = m[key].get<std::string>();
    if (r.source.empty()) return InputError{r.name + ": a source is wanted for every material", {}};
    if (m.contains("aliases") && m["aliases"].is_array())
      for (const Json& a : m["aliases"])
        if (a.is_string()) r.aliases.push_back(a.get<std::string>());
    for (const auto& [key, value] : m["values"].items()) {
      const auto& known = reference_properties();
      const auto p =
          std::find_if(known.begin(), known.end(), [&wanted = key](const auto& x) { return x.key == wanted; });
      if (p == known.end()) return InputError{r.name + ", " + key + ": unknown property", {}};
      auto v = value_of(value, p->dimension, r.name + ", " + key);
      if (!v) return v.error();
      r.values[key] = *v;
    }
    out.push_back(std::move(r));
  }
  return out;
}

std::string write_reference(const std::vector<ReferenceMaterial>& materials) {
  Json j = {{"fortitor", "reference/1"}, {"materials", Json::array()}};
  for (const ReferenceMaterial& m : materials) {
    Json item = {
        {"name", m.name}, {"group", m.group}, {"family", m.family}, {"aliases", m.aliases}, {"source", m.source}};
    if (!m.use.empty()) item["use"] = m.use;
    item["values"] = Json::object();
    for (const auto& [key, v] : m.values)
      item["values"][key] = {{v.from_spread ? "mean" : "low", v.typed_first},
                             {v.from_spread ? "spread" : "high", v.typed_second}};
    j["materials"].push_back(std::move(item));
  }
  return j.dump(1);
}

const ReferenceShelf& shipped_reference() {
  static const ReferenceShelf shelf = std::make_shared<const std::vector<ReferenceMaterial>>(shipped());
  return shelf;
}

ReferenceShelf with_own_reference(std::vector<ReferenceMaterial> own) {
  if (own.empty()) return shipped_reference();
  auto merged = std::make_shared<std::vector<ReferenceMaterial>>(shipped());
  for (ReferenceMaterial& m : own) {
    m.own = true;
    const auto same =
        std::find_if(merged->begin(), merged->end(), [&](const auto& x) { return lower(x.name) == lower(m.name); });
    if (same != merged->end())
      *same = std::move(m);
    else
      merged->push_back(std::move(m));
  }
  return merged;
}

std::shared_ptr<const ReferenceMaterial> find_reference(const ReferenceShelf& given, const std::string& name,
                                                        const std::string& group) {
  if (name.empty()) return nullptr;
  const ReferenceShelf& shelf = given ? given : shipped_reference();
  const std::string wanted = lower(name);
  for (const bool by_alias : {false, true})
    for (const ReferenceMaterial& m : *shelf) {
      if (!group.empty() && m.group != group) continue;
      const bool hit = by_alias ? std::any_of(m.aliases.begin(), m.aliases.end(),
                                              [&](const std::string& a) { return lower(a) == wanted; })
                                : lower(m.name) == wanted;
      if (hit) return {shelf, &m};
    }
  return nullptr;
}

std::shared_ptr<const ReferenceMaterial> usual_of(const TestRecord& record, const std::string& path,
                                                  const std::string& group) {
  return find_reference(record.shelf, record.fields.text(path), group);
}

ReferenceShelf used_of(const TestRecord& record) {
  auto used = std::make_shared<std::vector<ReferenceMaterial>>();
  for (const char* path : kNaming)
    for (const char* group : {"", "metal", "polymer", "laminate", "wood"}) {
      const auto m = usual_of(record, path, group);
      if (m && std::none_of(used->begin(), used->end(),
                            [&](const auto& u) { return u.name == m->name && u.group == m->group; }))
        used->push_back(*m);
    }
  return used;
}

Outcome<ReferenceShelf> load_own_reference(const std::string& path) {
  if (path.empty() || !std::filesystem::exists(path)) return shipped_reference();
  const auto text = read_file(path, kMostJson);
  if (!text) return text.error();
  auto read = read_reference(*text);
  if (!read) return InputError{path + ": " + read.error().message, {}};
  return with_own_reference(std::move(*read));
}

std::string own_reference_path() {
  if (const char* set = std::getenv("FORTITOR_REFERENCE")) return set;
  if (const char* config = std::getenv("XDG_CONFIG_HOME"); config != nullptr && *config != 0)
    return std::string(config) + "/fortitor/materials.json";
  if (const char* home = std::getenv("HOME"); home != nullptr && *home != 0)
    return std::string(home) + "/.config/fortitor/materials.json";
  return {};
}

}  // namespace fortitor
