#include "core/reference/library.h"

#include <gtest/gtest.h>

#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <map>

namespace fortitor::library_test {
namespace {

TEST(Reference, HoldsWhatWasPromised) {
  std::map<std::string, int> groups;
  for (const ReferenceMaterial& m : *shipped_reference()) {
    ++groups[m.group];
    EXPECT_FALSE(m.source.empty()) << m.name;
    EXPECT_FALSE(m.values.empty()) << m.name;
    for (const auto& [key, v] : m.values) {
      if (key == "kv_min" || key == "kv_temperature") {  // one number, and a temperature may be below zero
        EXPECT_EQ(v.low, v.high) << m.name << " " << key;
        continue;
      }
      EXPECT_GT(v.mean, 0) << m.name << " " << key;
      EXPECT_LT(v.low, v.high) << m.name << " " << key << ": every value has its spread";
    }
  }
  EXPECT_GE(groups["metal"], 25);
  EXPECT_GE(groups["polymer"] + groups["laminate"], 20);
  EXPECT_GE(groups["wood"], 15);
}

TEST(Reference, DryWoodIsStrongerThanGreen) {
  for (const ReferenceMaterial& m : *shipped_reference()) {
    if (m.group != "wood") continue;
    EXPECT_GT(m.values.at("mor_12").mean, m.values.at("mor_green").mean) << m.name;
    EXPECT_GT(m.values.at("moe_12").mean, m.values.at("moe_green").mean) << m.name;
  }
}

TEST(Reference, IsFoundByNameAndAlias) {
  ASSERT_TRUE(find_reference({}, "ASH", "wood"));
  EXPECT_EQ(find_reference({}, "ASH", "wood")->name, "ash, white");
  EXPECT_TRUE(find_reference({}, "s355j2"));
  EXPECT_FALSE(find_reference({}, "ash", "metal"));
  EXPECT_FALSE(find_reference({}, ""));
  EXPECT_FALSE(find_reference({}, "unobtainium"));
}

TEST(Reference, AUsersOwnValueGoesOnTop) {
  auto own =
      read_reference(R"({"fortitor":"reference/1","materials":[{"name":"ash, white","group":"wood","family":"hardwood",
    "aliases":["ash"],"source":"our own 40 pieces","values":{"mor_12":{"mean":"97 MPa","spread":"11 %"}}}]})");
  ASSERT_TRUE(own) << own.error().message;
  const ReferenceShelf shelf = with_own_reference(*own);
  const auto ash = find_reference(shelf, "ash", "wood");
  ASSERT_TRUE(ash);
  EXPECT_TRUE(ash->own);
  EXPECT_NEAR(ash->values.at("mor_12").mean, 97, 1e-9);
  EXPECT_NEAR(ash->values.at("mor_12").low, 97 * 0.89, 1e-9);
  const auto again = read_reference(write_reference({*ash}));
  ASSERT_TRUE(again);
  EXPECT_EQ((*again)[0].values.at("mor_12").typed_second, "11 %");
}

TEST(Reference, AnOwnNameTakesThePlaceOfAShippedOneWhateverItsLetters) {
  const size_t shipped = shipped_reference()->size();
  auto own = read_reference(R"({"fortitor":"reference/1","materials":[
    {"name":"Ash, White","group":"wood","source":"ours","values":{"mor_12":{"mean":"97 MPa","spread":"11 %"}}},
    {"name":"Tarnfell larch","group":"wood","source":"ours","values":{"mor_12":{"mean":"88 MPa","spread":"9 %"}}}]})");
  ASSERT_TRUE(own) << own.error().message;
  const ReferenceShelf shelf = with_own_reference(*own);
  EXPECT_EQ(shelf->size(), shipped + 1);
  EXPECT_TRUE(find_reference(shelf, "tarnfell LARCH"));
  EXPECT_FALSE(find_reference(shelf, "Tarnfell larch", "metal")) << "asked for in another group";
  EXPECT_EQ(shipped_reference()->size(), shipped) << "what is shipped stays";
  EXPECT_EQ(with_own_reference({}), shipped_reference());
}

TEST(Reference, TheOwnFileIsWhereItWasToldToBe) {
  const auto kept = [](const char* name) {
    return std::getenv(name) == nullptr ? std::optional<std::string>() : std::getenv(name);
  };
  const auto put = [](const char* name, const std::optional<std::string>& v) {
    v ? ::setenv(name, v->c_str(), 1) : ::unsetenv(name);
  };
  const auto own = kept("FORTITOR_REFERENCE"), config = kept("XDG_CONFIG_HOME"), home = kept("HOME");
  put("FORTITOR_REFERENCE", "/a/b.json");
  put("XDG_CONFIG_HOME", "/c");
  put("HOME", "/h");
  EXPECT_EQ(own_reference_path(), "/a/b.json");
  put("FORTITOR_REFERENCE", {});
  EXPECT_EQ(own_reference_path(), "/c/fortitor/materials.json");
  put("XDG_CONFIG_HOME", "");
  EXPECT_EQ(own_reference_path(), "/h/.config/fortitor/materials.json");
  put("HOME", {});
  EXPECT_EQ(own_reference_path(), "");
  put("FORTITOR_REFERENCE", own);
  put("XDG_CONFIG_HOME", config);
  put("HOME", home);
}

TEST(Reference, BadFilesAreRefusedWithThePlace) {
  auto message = [](const char* text) {
    const auto r = read_reference(text);
    return r ? std::string() : r.error().message;
  };
  EXPECT_NE(message("nonsense"), "");
  EXPECT_NE(message(R"({"fortitor":"reference/1","materials":[{"name":"X","values":{}}]})").find("source"),
            std::string::npos);
  EXPECT_NE(
      message(
          R"({"fortitor":"reference/1","materials":[{"name":"X","source":"s","values":{"rm":{"low":"9 MPa","high":"3 MPa"}}}]})")
          .find("low lies above high"),
      std::string::npos);
  EXPECT_NE(
      message(
          R"({"fortitor":"reference/1","materials":[{"name":"X","source":"s","values":{"rm":{"low":"9 mm","high":"10 mm"}}}]})")
          .find("X, rm"),
      std::string::npos);
  EXPECT_NE(
      message(
          R"({"fortitor":"reference/1","materials":[{"name":"X","source":"s","values":{"colour":{"low":1,"high":2}}}]})")
          .find("unknown"),
      std::string::npos);
  const std::string path = testing::TempDir() + "/own.json";
  std::ofstream(path) << "{";
  EXPECT_FALSE(load_own_reference(path));
  std::filesystem::remove(path);
  EXPECT_TRUE(load_own_reference(path)) << "no file is no error";
}

}  // namespace
}  // namespace fortitor::library_test
