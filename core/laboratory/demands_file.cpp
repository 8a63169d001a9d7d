// Demand sheets as documents: JSON `demands/1`, and a table parted by commas.

#include "core/bench/records.h"
#include "core/json/json.h"
#include "core/laboratory/demands.h"
#include "core/quantity/plain.h"
#include "core/record/csv.h"
#include "core/record/json.h"

namespace fortitor::lab {
namespace {

constexpr size_t kMostBytes = size_t(16) << 20;

InputError at(const std::string& where, const std::string& what) {
  return {where + ": " + what, {}};
}

Outcome<std::string> text_of(const Json& j, const std::string& where) {
  if (j.is_string()) return j.get<std::string>();
  if (j.is_null()) return std::string();
  return at(where, "expected a text");
}

// A bound as a record would have it: "355 MPa", or a number in internal units.
Outcome<std::optional<Reading>> quantity_of(const Json& j, Dimension d, const std::string& where) {
  if (j.is_null()) return std::optional<Reading>();
  if (!j.is_string() && !j.is_number()) return at(where, "expected a quantity such as \"355 MPa\"");
  const std::string typed = j.is_string() ? j.get<std::string>() : plain::shortest(j.get<double>());
  const auto read = read_limit(typed, d);
  if (!read) return at(where, read.error().message);
  return read->missed() ? std::optional<Reading>() : std::optional(*read);
}

Outcome<ThicknessRange> range_of(const Json& j, const std::string& where) {
  ThicknessRange out;
  if (j.is_null()) return out;
  if (!j.is_object()) return at(where, "expected {\"above\": …, \"to\": …}");
  for (const auto& [key, value] : j.items()) {
    if (key != "above" && key != "to") return at(where + "." + key, "unknown");
    const auto read = quantity_of(value, Dimension::length, where + "." + key);
    if (!read) return read.error();
    (key == "above" ? out.above : out.to) = *read;
  }
  if (out.above && out.to && *out.above->value >= *out.to->value) return at(where, "its ends are the wrong way round");
  return out;
}

Outcome<SetRule> rule_of(const std::string& word, const std::string& where) {
  for (SetRule r : {SetRule::every, SetRule::mean_of_three, SetRule::retest})
    if (word == set_rule_word(r)) return r;
  if (word.empty()) return SetRule::every;
  return at(where, "“" + word + "” is no rule: expected every, mean-of-three or retest");
}

Outcome<DemandRow> row_of(const Json& j, const std::string& where) {
  if (!j.is_object()) return at(where, "expected an object");
  DemandRow row;
  for (const char* key : {"method", "key"}) {
    if (!j.contains(key) || !j[key].is_string()) return at(where + "." + key, "missing");
    (std::string(key) == "method" ? row.method : row.key) = j[key].get<std::string>();
  }
  const Method* m = methods::find(row.method);
  if (m == nullptr) return at(where + ".method", "“" + row.method + "” is unknown");
  const auto spec = m->result(row.key);
  if (!spec) return at(where + ".key", "“" + row.key + "” is no result of " + row.method);
  for (const auto& [key, value] : j.items()) {
    const std::string here = where + "." + key;
    if (key == "method" || key == "key") continue;
    if (key == "min" || key == "max") {
      const auto read = quantity_of(value, spec->dimension, here);
      if (!read) return read.error();
      (key == "min" ? row.limit.min : row.limit.max) = *read;
    } else if (key == "temperature") {
      const auto read = quantity_of(value, Dimension::temperature, here);
      if (!read) return read.error();
      row.temperature = *read;
    } else if (key == "thickness") {
      const auto read = range_of(value, here);
      if (!read) return read.error();
      row.thickness = *read;
    } else if (key == "pieces") {
      if (!value.is_number_integer()) return at(here, "expected a whole number");
      row.pieces = int(std::clamp<int64_t>(value.get<int64_t>(), -1, 100000));
    } else if (key == "needed") {
      if (!value.is_boolean()) return at(here, "expected true or false");
      row.needed = value.get<bool>();
    } else if (key == "rule") {
      const auto word = text_of(value, here);
      if (!word) return word.error();
      const auto rule = rule_of(*word, here);
      if (!rule) return rule.error();
      row.rule = *rule;
    } else if (key == "compared") {
      const auto word = text_of(value, here);
      if (!word) return word.error();
      if (!word->empty() && *word != "absolute" && *word != "rounded")
        return at(here, "“" + *word + "”: expected absolute or rounded");
      if (!word->empty()) row.compared = *word;
    } else {
      return at(here, "unknown");
    }
  }
  return row;
}

Outcome<DemandSheet> sheet_of(const Json& j, const std::string& where) {
  if (!j.is_object()) return at(where, "expected an object");
  DemandSheet s;
  for (const auto& [key, value] : j.items()) {
    const std::string here = where + "." + key;
    std::string* into = key == "name"         ? &s.name
                        : key == "source"     ? &s.source
                        : key == "edition"    ? &s.edition
                        : key == "entered_by" ? &s.entered_by
                        : key == "product"    ? &s.product
                        : key == "grade"      ? &s.grade
                        : key == "direction"  ? &s.direction
                                              : nullptr;
    if (into != nullptr) {
      const auto words = text_of(value, here);
      if (!words) return words.error();
      *into = *words;
    } else if (key == "thickness") {
      const auto range = range_of(value, here);
      if (!range) return range.error();
      s.thickness = *range;
    } else if (key == "rows") {
      if (!value.is_array()) return at(here, "expected a list");
      for (size_t i = 0; i < value.size(); ++i) {
        const auto row = row_of(value[i], here + "[" + std::to_string(i) + "]");
        if (!row) return row.error();
        s.rows.push_back(*row);
      }
    } else {
      return at(here, "unknown");
    }
  }
  if (!s.direction.empty() && s.direction != "longitudinal" && s.direction != "transverse" && s.direction != "through")
    return at(where + ".direction", "“" + s.direction + "”: expected longitudinal, transverse or through");
  if (const auto fine = check(s); !fine) return at(where, fine.error().message);
  return s;
}

Json range_json(const ThicknessRange& r) {
  Json j = Json::object();
  if (r.above) j["above"] = r.above->typed;
  if (r.to) j["to"] = r.to->typed;
  return j;
}

}  // namespace

Outcome<std::vector<DemandSheet>> demands_from_json(std::string_view text) {
  Json j;
  try {
    j = Json::parse(text);
    j.sort_keys();
  } catch (const Json::Error&) {
    return InputError{"this is not JSON", {}};
  }
  if (!j.is_object() || j.value("fortitor", Json()) != "demands/1")
    return InputError{"fortitor: expected \"demands/1\"", {}};
  for (const auto& [key, value] : j.items())
    if (key != "fortitor" && key != "sheets") return at(key, "unknown");
  if (!j.contains("sheets") || !j["sheets"].is_array()) return at("sheets", "expected a list");
  std::vector<DemandSheet> out;
  for (size_t i = 0; i < j["sheets"].size(); ++i) {
    auto sheet = sheet_of(j["sheets"][i], "sheets[" + std::to_string(i) + "]");
    if (!sheet) return sheet.error();
    for (const DemandSheet& other : out)
      if (other.name == sheet->name) return at("sheets", "“" + sheet->name + "” stands there twice");
    out.push_back(std::move(*sheet));
  }
  return out;
}

std::string demands_to_json(const std::vector<DemandSheet>& sheets, int indent) {
  Json all = Json::array();
  for (const DemandSheet& s : sheets) {
    Json one = {{"name", s.name}};
    for (const auto& [key, value] : {std::pair("source", &s.source),
                                     {"edition", &s.edition},
                                     {"entered_by", &s.entered_by},
                                     {"product", &s.product},
                                     {"grade", &s.grade},
                                     {"direction", &s.direction}})
      if (!value->empty()) one[key] = *value;
    if (!s.thickness.open()) one["thickness"] = range_json(s.thickness);
    one["rows"] = Json::array();
    for (const DemandRow& r : s.rows) {
      Json row = {{"method", r.method}, {"key", r.key}};
      if (r.limit.min) row["min"] = r.limit.min->typed;
      if (r.limit.max) row["max"] = r.limit.max->typed;
      if (!r.thickness.open()) row["thickness"] = range_json(r.thickness);
      if (r.temperature) row["temperature"] = r.temperature->typed;
      row["pieces"] = r.pieces;
      row["rule"] = set_rule_word(r.rule);
      row["compared"] = r.compared;
      row["needed"] = r.needed;
      one["rows"].push_back(std::move(row));
    }
    all.push_back(std::move(one));
  }
  return Json{{"fortitor", "demands/1"}, {"sheets", std::move(all)}}.dump(indent);
}

namespace {

constexpr const char* kColumns[] = {"name",        "source", "edition", "product",  "grade", "direction", "sheet_above",
                                    "sheet_to",    "method", "key",     "min",      "max",   "above",     "to",
                                    "temperature", "pieces", "rule",    "compared", "needed"};

std::string quoted(const std::string& s) {
  if (s.find_first_of(",;\"\n\r") == std::string::npos) return s;
  std::string out = "\"";
  for (char c : s) out += c == '"' ? std::string("\"\"") : std::string(1, c);
  return out + "\"";
}

// Cells of a line (RFC 4180); a quoted cell may hold what parts them.
std::vector<std::vector<std::string>> cells_of(std::string_view text) {
  if (text.substr(0, 3) == "\xEF\xBB\xBF") text.remove_prefix(3);
  const char part = text.substr(0, text.find('\n')).find(';') != std::string_view::npos ? ';' : ',';
  std::vector<std::vector<std::string>> out(1, {""});
  bool in = false;
  for (size_t i = 0; i < text.size(); ++i) {
    const char c = text[i];
    if (in) {
      if (c == '"' && i + 1 < text.size() && text[i + 1] == '"')
        out.back().back() += text[++i];
      else if (c == '"')
        in = false;
      else
        out.back().back() += c;
    } else if (c == '"') {
      in = true;
    } else if (c == part) {
      out.back().emplace_back();
    } else if (c == '\n') {
      out.push_back({""});
    } else if (c != '\r') {
      out.back().back() += c;
    }
  }
  std::erase_if(out, [](const auto& line) { return line.size() == 1 && line[0].empty(); });
  return out;
}

}  // namespace

std::string demands_to_csv(const std::vector<DemandSheet>& sheets) {
  std::string out;
  for (const char* c : kColumns) out += (out.empty() ? "" : ",") + std::string(c);
  out += "\n";
  const auto typed = [](const std::optional<Reading>& r) { return r ? r->typed : std::string(); };
  for (const DemandSheet& s : sheets)
    for (const DemandRow& r : s.rows) {
      const std::string cells[] = {s.name,
                                   s.source,
                                   s.edition,
                                   s.product,
                                   s.grade,
                                   s.direction,
                                   typed(s.thickness.above),
                                   typed(s.thickness.to),
                                   r.method,
                                   r.key,
                                   typed(r.limit.min),
                                   typed(r.limit.max),
                                   typed(r.thickness.above),
                                   typed(r.thickness.to),
                                   typed(r.temperature),
                                   std::to_string(r.pieces),
                                   std::string(set_rule_word(r.rule)),
                                   r.compared,
                                   r.needed ? "yes" : "no"};
      for (size_t i = 0; i < std::size(cells); ++i) out += (i > 0 ? "," : "") + quoted(cells[i]);
      out += "\n";
    }
  return out;
}

Outcome<std::vector<DemandSheet>> demands_from_csv(std::string_view text) {
  const auto lines = cells_of(text);
  if (lines.size() < 2) return InputError{"line 1: expected a head and a line for each row", {}};
  std::vector<std::string> head = lines[0];
  for (const std::string& name : head)
    if (std::find(std::begin(kColumns), std::end(kColumns), name) == std::end(kColumns))
      return InputError{"line 1: “" + name + "” is no column of a demand sheet", {}};
  Json sheets = Json::array();
  for (size_t n = 1; n < lines.size(); ++n) {
    if (lines[n].size() != head.size())
      return InputError{"line " + std::to_string(n + 1) + ": has " + std::to_string(lines[n].size()) + " cells, not " +
                            std::to_string(head.size()),
                        {}};
    Json sheet = Json::object(), row = Json::object();
    for (size_t i = 0; i < head.size(); ++i) {
      const std::string &name = head[i], &cell = lines[n][i];
      if (cell.empty()) continue;
      if (name == "sheet_above" || name == "sheet_to")
        sheet["thickness"][name.substr(6)] = cell;
      else if (name == "above" || name == "to")
        row["thickness"][name] = cell;
      else if (name == "name" || name == "source" || name == "edition" || name == "product" || name == "grade" ||
               name == "direction")
        sheet[name] = cell;
      else if (name == "pieces")
        row[name] = plain::whole(cell) ? Json(*plain::whole(cell)) : Json(cell);
      else if (name == "needed")
        row[name] = cell != "no" && cell != "false";
      else
        row[name] = cell;
    }
    const std::string name = sheet.value("name", "");
    auto it = std::find_if(sheets.begin(), sheets.end(), [&](const Json& s) { return s.value("name", "") == name; });
    if (it == sheets.end()) {
      sheet["rows"] = Json::array();
      sheets.push_back(sheet);
      it = sheets.end() - 1;
    }
    (*it)["rows"].push_back(row);
  }
  return demands_from_json(Json{{"fortitor", "demands/1"}, {"sheets", sheets}}.dump());
}

Outcome<ThicknessRange> thickness_of(const std::string& above, const std::string& to) {
  Json j = Json::object();
  if (!above.empty()) j["above"] = above;
  if (!to.empty()) j["to"] = to;
  return range_of(j, "thickness");
}

Outcome<DemandRow> demand_row_of(const std::map<std::string, std::string>& typed) {
  Json row = Json::object();
  for (const auto& [name, words] : typed) {
    if (words.empty()) continue;
    if (name == "above" || name == "to")
      row["thickness"][name] = words;
    else if (name == "pieces")
      row[name] = plain::whole(words) ? Json(*plain::whole(words)) : Json(words);
    else
      row[name] = words;
  }
  auto read = row_of(row, "");
  if (!read && read.error().message.starts_with(".")) return InputError{read.error().message.substr(1), {}};
  return read;
}

Outcome<std::vector<DemandSheet>> read_demands(const std::string& path) {
  const auto text = read_file(path, kMostBytes);
  if (!text) return text.error();
  auto read = path.ends_with(".csv") ? demands_from_csv(*text) : demands_from_json(*text);
  if (!read) return InputError{path + ": " + read.error().message, {}};
  return read;
}

extern const std::string_view kShippedDemands;

const std::vector<DemandSheet>& shipped_demands() {
  static const std::vector<DemandSheet> all = [] {
    const auto read = demands_from_json(kShippedDemands);
    return read ? *read : std::vector<DemandSheet>{};  // a test reads them and says why where it fails
  }();
  return all;
}

}  // namespace fortitor::lab
