#include "core/record/words.h"

#include <algorithm>
#include <stdexcept>

#include "core/json/json.h"
#include "core/language/language.h"

namespace fortitor {

/// The files as they were built in: folder with "-" for "_", text.
const std::vector<std::pair<std::string, std::string_view>>& word_files();

namespace {

using Texts = std::map<std::string, std::string>;

[[noreturn]] void refuse(const std::string& where) {
  throw std::logic_error("words.json: nothing is looked for at " + where);
}

void only(const Json& j, const std::string& where, std::initializer_list<const char*> keys) {
  for (const auto& [key, value] : j.items())
    if (std::ranges::find(keys, key) == keys.end()) refuse(where + "/" + key);
}

std::string text(const Json& j, const char* key) {
  return j.value(key, std::string());
}

template <class T, class Read>
std::map<std::string, T> each(const Json& j, const char* key, Read read) {
  std::map<std::string, T> out;
  if (j.contains(key))
    for (const auto& [name, value] : j.at(key).items()) out[name] = read(value, name);
  return out;
}

Texts texts(const Json& j, const char* key) {
  return each<std::string>(j, key, [](const Json& v, const std::string&) { return v.get<std::string>(); });
}

FieldWords field_words(const Json& j, const std::string& where) {
  if (j.is_string()) return {j.get<std::string>(), {}, {}, {}};
  only(j, where, {"label", "hint", "usual", "choices"});
  return {text(j, "label"), text(j, "hint"), text(j, "usual"), texts(j, "choices")};
}

TableWords table_words(const Json& j, const std::string& where) {
  only(j, where, {"label", "row", "instruction", "columns", "marks"});
  return {text(j, "label"), text(j, "row"), text(j, "instruction"), each<FieldWords>(j, "columns", field_words),
          texts(j, "marks")};
}

StageWords stage_words(const Json& j, const std::string& where) {
  only(j, where, {"lead", "guidance", "cautions", "checklist"});
  StageWords s{text(j, "lead")};
  s.guidance = j.value("guidance", std::vector<std::string>());
  s.cautions = j.value("cautions", std::vector<std::string>());
  for (const Json& c : j.value("checklist", Json::array())) {
    only(c, where + "/checklist", {"id", "text", "safety"});
    s.checklist.push_back({text(c, "id"), text(c, "text"), c.value("safety", false)});
  }
  return s;
}

}  // namespace

Words read_words(const std::string& method, std::string_view file) {
  const Json j = Json::parse(file);
  only(j, method,
       {"name", "short", "fields", "schools", "series", "tables", "channels", "segments", "equipment", "timers",
        "stages", "wording", "results"});
  Words w;
  w.name = text(j, "name");
  w.short_name = text(j, "short");
  w.fields = each<FieldWords>(j, "fields", field_words);
  w.schools = each<FieldWords>(j, "schools", field_words);
  w.series = each<FieldWords>(j, "series", field_words);
  w.tables = each<TableWords>(j, "tables", table_words);
  w.stages = each<StageWords>(j, "stages", stage_words);
  w.channels = texts(j, "channels");
  w.segments = texts(j, "segments");
  w.equipment = texts(j, "equipment");
  w.timers = texts(j, "timers");
  w.wording = texts(j, "wording");
  w.results = texts(j, "results");
  // What an item of a kind of equipment is called by.
  for (const auto& [kind, name] : w.equipment)
    w.fields.try_emplace("equipment." + kind + ".id", FieldWords{name, {}, {}});
  return w;
}

const Words& Words::of(const std::string& method) {
  static const std::map<std::string, Words> all = [] {
    std::map<std::string, Words> out;
    for (const auto& [of, file] : word_files()) out.emplace(of, read_words(of, file));
    return out;
  }();
  const auto it = all.find(method);
  if (it == all.end()) throw std::logic_error("no words.json of " + method);
  return it->second;
}

std::vector<std::string> described() {
  std::vector<std::string> out;
  for (const auto& [name, file] : word_files()) out.push_back(name);
  return out;
}

const FieldWords* Words::field(const std::string& path) const {
  if (const auto it = fields.find(path); it != fields.end()) return &it->second;
  if (!path.starts_with("equipment.")) return nullptr;
  const auto it = fields.find("equipment.*" + path.substr(path.rfind('.')));
  return it == fields.end() ? nullptr : &it->second;
}

namespace {

// What is said of a key, or of all keys that differ from it in their last number.
std::string numbered(const Texts& texts, const std::string& key) {
  if (const auto it = texts.find(key); it != texts.end()) return it->second;
  const size_t number = key.find_last_not_of("0123456789") + 1;
  const auto it = texts.find(key.substr(0, number) + "#");
  return it == texts.end() || number == key.size() ? std::string() : Tongue()(it->second, {{"n", key.substr(number)}});
}

}  // namespace

std::string Words::result(const std::string& key) const {
  return numbered(results, key);
}

std::string Words::channel(const std::string& channel_name) const {
  return numbered(channels, channel_name);
}

void say(FieldSpec& field, const FieldWords& words) {
  field.label = words.label;
  field.hint = words.hint;
  field.usual = words.usual;
  for (Choice& c : field.choices) {
    const auto it = words.choices.find(c.value);
    if (it != words.choices.end()) c.label = it->second;
  }
}

}  // namespace fortitor
