// Records with independently computed answers, and the findings that must and must not appear.
#include <gtest/gtest.h>

#include <filesystem>
#include <fstream>
#include <nlohmann/json.hpp>

#include "core/bench/records.h"
#include "core/evaluation/evaluation_json.h"
#include "core/methods/method.h"

namespace fortitor::cases_test {
namespace {

class Case : public testing::TestWithParam<std::string> {};

TEST_P(Case, HoldsAllItsAnswers) {
  const std::string folder = std::string(FORTITOR_TEST_DATA "/") + GetParam();
  const auto record = load_record(folder + "/record.json");
  ASSERT_TRUE(record) << record.error().message;
  const Evaluation e = methods::evaluate(*record);
  std::ifstream in(folder + "/expected.json");
  const auto expected = nlohmann::json::parse(in);
  if (expected.contains("verdict")) {
    EXPECT_EQ(verdict_word(e.verdict), expected["verdict"].get<std::string>());
  }
  // The document of the command line is what a laboratory's script sees: judge that.
  const auto document = nlohmann::json::parse(evaluation_to_json(e, record->fields));
  for (const auto& [key, want] : expected["results"].items()) {
    const nlohmann::json* found = nullptr;
    for (const auto& r : document["results"])
      if (r["key"] == key) found = &r;
    ASSERT_NE(found, nullptr) << key;
    if (want.contains("text")) {
      EXPECT_EQ((*found)["text"], want["text"]) << key;
      continue;
    }
    if (want.contains("from")) {
      const auto& c = (*found)["censored"];
      EXPECT_NEAR(c["from"].get<double>(), want["from"].get<double>(),
                  want["rel"].get<double>() * want["from"].get<double>())
          << key;
      EXPECT_NEAR(c["to"].get<double>(), want["to"].get<double>(), want["rel"].get<double>() * want["to"].get<double>())
          << key;
      continue;
    }
    const double value = want["value"].get<double>();
    const double allowed =
        want.contains("abs") ? want["abs"].get<double>() : want["rel"].get<double>() * std::abs(value);
    EXPECT_NEAR((*found)["value"].get<double>(), value, allowed) << key;
    if (want.contains("censored")) {
      EXPECT_EQ((*found)["censored"], want["censored"]) << key;
    }
  }
  for (const auto& code : expected["must"]) EXPECT_NE(e.finding(code), nullptr) << code;
  for (const auto& code : expected["must_not"]) EXPECT_EQ(e.finding(code), nullptr) << code;
}

std::vector<std::string> cases() {
  std::vector<std::string> names;
  for (const auto& entry : std::filesystem::directory_iterator(FORTITOR_TEST_DATA))
    if (entry.is_directory() && std::filesystem::exists(entry.path() / "record.json") &&
        std::filesystem::exists(entry.path() / "expected.json"))
      names.push_back(entry.path().filename().string());
  std::sort(names.begin(), names.end());
  return names;
}

INSTANTIATE_TEST_SUITE_P(Reference, Case, testing::ValuesIn(cases()), [](const auto& test) {
  std::string name = test.param;
  std::replace(name.begin(), name.end(), '-', '_');
  return name;
});

}  // namespace
}  // namespace fortitor::cases_test
