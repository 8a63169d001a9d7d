// The cases of the guide: every one raises the finding it stands for and has a figure to show it on.
#include "core/practice/cases.h"

#include <gtest/gtest.h>
#include <stdlib.h>

#include <filesystem>
#include <fstream>
#include <sstream>

#include "core/methods/method.h"

namespace fortitor::cases_test {
namespace {

std::string text_of(const std::string& path) {
  std::ifstream in(path);
  std::stringstream all;
  all << in.rdbuf();
  return all.str();
}

TEST(Cases, EachRaisesItsFinding) {
  const auto all = cases::read(text_of(FORTITOR_SOURCE_DIR "/data/guide/cases.json"));
  ASSERT_TRUE(all) << all.error().message;
  const std::string pages = text_of(FORTITOR_SOURCE_DIR "/docs/findings.md");
  std::istringstream lines(pages);
  for (std::string line; std::getline(lines, line);)
    if (line.rfind("### ", 0) == 0) {
      EXPECT_TRUE(all->count(line.substr(4)) != 0) << line << " shows no case";
    }
  for (const auto& [code, recipe] : *all) {
    EXPECT_NE(pages.find("\n### " + code + "\n"), std::string::npos) << code << " has no page";
    const auto e = cases::evaluated(recipe);
    ASSERT_TRUE(e) << code << ": " << e.error().message;
    EXPECT_NE(e->finding(code), nullptr) << code;
    EXPECT_FALSE(e->figures.empty()) << code;
  }
}

TEST(Cases, TheSameEveryTime) {
  const auto all = cases::read(
      R"({"noise-high": {"method": "tension-metal", "piece": "mild-steel", "spoil": [{"channel": "force", "noise": 0.02}]}})");
  ASSERT_TRUE(all);
  const auto a = cases::made(all->at("noise-high")), b = cases::made(all->at("noise-high"));
  EXPECT_EQ(a->run.samples()->find("force")->values, b->run.samples()->find("force")->values);
}

// A history is made, written, read and left behind nowhere.
TEST(Cases, OfASpectrumLeaveNoFiles) {
  // A place of its own: other tests make cases at the same time.
  std::string own = (std::filesystem::temp_directory_path() / "fortitor-test-XXXXXX").string();
  ASSERT_NE(::mkdtemp(own.data()), nullptr);
  const char* const was = std::getenv("TMPDIR");
  const std::string before = was != nullptr ? was : "";
  ::setenv("TMPDIR", own.c_str(), 1);
  const auto all = cases::read(
      R"({"gaps": {"method": "fatigue-spectrum", "spoil": [{"channel": "strain", "from": 0.25, "to": 0.5, "missing": true}]}})");
  ASSERT_TRUE(all) << all.error().message;
  const auto e = cases::evaluated(all->at("gaps"));
  if (was != nullptr)
    ::setenv("TMPDIR", before.c_str(), 1);
  else
    ::unsetenv("TMPDIR");
  ASSERT_TRUE(e) << e.error().message;
  ASSERT_NE(e->finding("gaps"), nullptr);
  EXPECT_EQ(e->finding("gaps")->evidence.at("missing"), 45000) << "a quarter of an hour at 50 Hz";
  EXPECT_TRUE(std::filesystem::is_empty(own));
  std::filesystem::remove_all(own);
}

TEST(Cases, BadRecipesAreSaid) {
  for (const char* json : {"", "[]", "{\"x\": {}}", "{\"x\": {\"method\": \"none\"}}",
                           "{\"x\": {\"method\": \"density\", \"seed\": \"a\"}}"}) {
    const auto read = cases::read(json);
    if (std::string(json) == "[]") continue;  // nothing is in it
    ASSERT_FALSE(read) << json;
    EXPECT_FALSE(read.error().message.empty());
  }
  const auto refused = cases::read(R"({"x": {"method": "density", "record": {"specimen": {"mass": ["-1 g"]}}}})");
  ASSERT_TRUE(refused);
  EXPECT_FALSE(cases::made(refused->at("x")));
  const auto nobody = cases::read(R"({"x": {"method": "density", "piece": "moon-rock"}})");
  ASSERT_TRUE(nobody);
  EXPECT_FALSE(cases::made(nobody->at("x")));
}

}  // namespace
}  // namespace fortitor::cases_test
