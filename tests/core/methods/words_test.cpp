// Every key has its words and all words have their key: words.json of each method against what the method is made of.
#include "core/record/words.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <set>
#include <stdexcept>

#include "core/laboratory/entry.h"
#include "core/methods/method.h"
#include "core/methods/support/equipment.h"
#include "core/spectrum/spectrum.h"
#include "tests/core/methods/method_records.h"
#include "tests/core/methods/source_text.h"

namespace fortitor::words_test {
namespace {

std::string folder_of(const std::string& method) {
  std::string folder = method;
  for (char& c : folder)
    if (c == '-') c = '_';
  return std::string(FORTITOR_SOURCE_DIR) + "/core/methods/" + folder;
}

std::set<std::string> paths_of(const std::vector<FieldSpec>& fields) {
  std::set<std::string> out;
  for (const FieldSpec& f : fields) out.insert(f.path);
  return out;
}

class WordsOfMethods : public testing::TestWithParam<const Method*> {
 protected:
  const Method& m_ = *GetParam();
  const Words& words_ = Words::of(m_.id);
  static void named(const FieldSpec& f) {
    EXPECT_FALSE(f.label.empty()) << f.path;
    for (const Choice& c : f.choices) EXPECT_FALSE(c.label.empty()) << f.path << " " << c.value;
  }
};

TEST_P(WordsOfMethods, EveryKeyHasItsWords) {
  EXPECT_FALSE(m_.name.empty());
  EXPECT_FALSE(m_.short_name.empty());
  for (const FieldSpec& f : m_.fields) named(f);
  for (const FieldSpec& f : m_.series.fields) named(f);
  for (const TableSpec& t : m_.tables) {
    EXPECT_FALSE(t.label.empty()) << t.id;
    EXPECT_FALSE(t.row.empty()) << t.id;
    if (t.control) named(*t.control);
    for (const FieldSpec& c : t.columns) named(c);
    for (const RowMark& k : t.marks) EXPECT_FALSE(k.label.empty()) << t.id << " " << k.key;
  }
  for (const ChannelSpec& c : m_.channels) EXPECT_FALSE(c.label.empty()) << c.name;
  for (const SegmentSpec& s : m_.segments) {
    EXPECT_FALSE(s.label.empty()) << s.id;
    for (const ChannelSpec& c : s.channels) EXPECT_FALSE(c.label.empty()) << s.id << " " << c.name;
  }
  for (const EquipmentSlot& s : m_.equipment) EXPECT_FALSE(s.label.empty()) << s.id;
  for (const TimerSpec& t : m_.timers) EXPECT_FALSE(t.name.empty()) << t.elapsed_path;
  for (const StageGuide& s : m_.stages) EXPECT_FALSE(s.lead.empty());
  for (const ResultSpec& r : m_.reported({})) EXPECT_FALSE(r.name.empty()) << r.key;
}

TEST_P(WordsOfMethods, AllWordsHaveTheirKey) {
  for (const auto& [path, words] : words_.fields) {
    if (path.starts_with("equipment.") && path.ends_with(".id")) continue;
    const FieldSpec* f = m_.field(path);
    ASSERT_NE(f, nullptr) << path;
    for (const auto& [value, label] : words.choices)
      EXPECT_TRUE(
          std::ranges::any_of(f->choices, [&](const Choice& c) { return c.value == value && c.label == label; }))
          << path << " " << value;
  }
  for (const auto& [setting, words] : words_.schools)
    EXPECT_TRUE(std::ranges::any_of(m_.schools, [&](const School& s) { return s.setting == setting; })) << setting;
  for (const auto& [id, words] : words_.tables) {
    const TableSpec* t = m_.table(id);
    ASSERT_NE(t, nullptr) << id;
    for (const auto& [column, said] : words.columns)
      EXPECT_TRUE(t->column(column) != nullptr || (t->control && t->control->path == column)) << id << " " << column;
    for (const auto& [letter, said] : words.marks)
      EXPECT_TRUE(std::ranges::any_of(t->marks, [&](const RowMark& k) { return letter == std::string(1, k.key); }))
          << id << " " << letter;
  }
  for (const auto& [name, label] : words_.channels)
    EXPECT_NE(m_.channel(name.ends_with("#") ? name.substr(0, name.size() - 1) + "1" : name), nullptr) << name;
  for (const auto& [id, label] : words_.segments)
    EXPECT_TRUE(std::ranges::any_of(m_.segments, [&](const SegmentSpec& s) { return s.id == id; })) << id;
  for (const auto& [path, name] : words_.timers)
    EXPECT_TRUE(std::ranges::any_of(m_.timers, [&](const TimerSpec& t) { return t.elapsed_path == path; })) << path;
  const std::set<std::string> series = paths_of(m_.series.fields);
  for (const auto& [path, said] : words_.series) EXPECT_TRUE(series.contains(path)) << path;
  static const std::set<std::string> stages = {"prepare", "measure", "set_up", "run", "after", "evaluate", "sign_off"};
  for (const auto& [stage, said] : words_.stages) EXPECT_TRUE(stages.contains(stage)) << stage;
  for (const auto& [key, said] : words_.wording) EXPECT_TRUE(Words::shared().wording.contains(key)) << key;
}

// Names of results that no single piece has (of a series, of a value in the record) stand in the code of the method.
TEST_P(WordsOfMethods, EveryNameIsOfAResult) {
  std::string code;
  for (const auto& file : std::filesystem::directory_iterator(folder_of(m_.id)))
    if (file.path().extension() == ".cpp") code += text_of(file.path());
  for (const auto& [key, name] : words_.results) {
    const std::string one = key.ends_with("#") ? key.substr(0, key.size() - 1) + "1" : key;
    if (m_.result(one)) continue;
    const std::string last = key.starts_with("group_") ? key.substr(5) : key;
    EXPECT_TRUE(code.find('"' + last + '"') != std::string::npos || code.find("key::" + last) != std::string::npos)
        << key << " is no result";
  }
}

// A key stands once, in the model: whoever puts a value, asks for it or says how it came has its constant. A slip of a
// letter does not compile; as text it was a value that was never found, in silence.
TEST_P(WordsOfMethods, NoKeyIsTypedTwice) {
  static const std::regex typed(
      R"re((\b(put|get)\(\w+, |spec_of\(|\bkey [=!]= |\be\.find\(|\b(v|values)\[)"[a-z_0-9]+")re");
  for (const auto& file : std::filesystem::directory_iterator(folder_of(m_.id))) {
    if (file.path().extension() != ".cpp") continue;
    const std::string code = text_of(file.path());
    std::smatch found;
    EXPECT_FALSE(std::regex_search(code, found, typed)) << file.path().filename() << ": " << found.str();
  }
}

INSTANTIATE_TEST_SUITE_P(OfEveryMethod, WordsOfMethods, testing::ValuesIn(methods::all().begin(), methods::all().end()),
                         method_test_name);

// What methods share is used by one of them at least, or by the Kit.
TEST(Words, WhatIsSharedIsUsed) {
  std::set<std::string> used, kinds, channels;
  for (const Method* m : methods::all()) {
    used.merge(paths_of(m->fields));
    for (const EquipmentSlot& s : m->equipment) kinds.insert(s.id);
    for (const ChannelSpec& c : m->channels) channels.insert(c.name);
  }
  for (const EquipmentSlot& s : equipment::shelf()) {
    kinds.insert(s.id);
    for (const auto* fields : {&s.fields, &s.papers}) used.merge(paths_of(*fields));
  }
  for (const auto& [path, said] : Words::shared().fields) {
    if (path.starts_with("equipment.") && path.ends_with(".id")) continue;
    const std::string any = "equipment.*";
    EXPECT_TRUE(path.starts_with(any) ? std::ranges::any_of(used,
                                                            [&](const std::string& u) {
                                                              return u.starts_with("equipment.") &&
                                                                     u.ends_with(path.substr(any.size()));
                                                            })
                                      : used.contains(path))
        << path;
  }
  for (const auto& [kind, name] : Words::shared().equipment) EXPECT_TRUE(kinds.contains(kind)) << kind;
  for (const auto& [name, label] : Words::shared().channels) EXPECT_TRUE(channels.contains(name)) << name;
}

TEST(Words, OfSpectraAndEntriesToo) {
  for (const FieldSpec& f : spectrum::schema().fields) EXPECT_FALSE(f.label.empty()) << f.path;
  for (const auto& [path, said] : Words::of("fatigue-spectrum").fields)
    EXPECT_NE(spectrum::schema().field(path), nullptr) << path;
  std::set<std::string> paths;
  for (const auto kind : {lab::kCustomer, lab::kJob, lab::kHead, lab::kTemplate, lab::kPerson})
    for (const FieldSpec& f : lab::schema(kind).fields) {
      EXPECT_FALSE(f.label.empty()) << f.path;
      paths.insert(std::string(kind) + f.path.substr(8));
    }
  for (const auto& [path, said] : Words::of("laboratory").fields) EXPECT_TRUE(paths.contains(path)) << path;
}

TEST(Words, ASlipInAFileIsRefused) {
  EXPECT_THROW(Words::of("tension-meta"), std::logic_error);
  EXPECT_THROW(read_words("x", R"({"fields": {"a": {"lable": "A"}}})"), std::logic_error);
  EXPECT_THROW(read_words("x", R"({"result": {}})"), std::logic_error);
  EXPECT_THROW(read_words("x", R"({"stages": {"run": {"lead": "L", "caution": []}}})"), std::logic_error);
  const Words w = read_words("x", R"({"fields": {"equipment.*.serial": "Mark", "a": {"label": "A", "hint": "h"}},
                                      "results": {"set_#": "set of cycle {n}"}, "equipment": {"dial": "Dial"}})");
  EXPECT_EQ(w.field("a")->hint, "h");
  EXPECT_EQ(w.field("equipment.rig.serial")->label, "Mark");
  EXPECT_EQ(w.field("equipment.dial.id")->label, "Dial");
  EXPECT_EQ(w.field("b"), nullptr);
  EXPECT_EQ(w.result("set_12"), "set of cycle 12");
  EXPECT_EQ(w.result("set_"), "");
}

}  // namespace
}  // namespace fortitor::words_test
