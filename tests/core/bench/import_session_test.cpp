// What an import knows of a file, without a window: columns guessed, corrected, remembered; several tables in units of
// their own; what the file says of itself.
#include "core/bench/import_session.h"

#include <gtest/gtest.h>

#include <unistd.h>

#include <filesystem>
#include <fstream>
#include <string>

#include "core/methods/method.h"
#include "core/quantity/format.h"

namespace fortitor::import_session_test {
namespace {

class ImportSessionTest : public testing::Test {
 protected:
  void SetUp() override { std::filesystem::create_directories(folder_); }
  void TearDown() override { std::filesystem::remove_all(folder_); }
  std::shared_ptr<ImportSession> read(const std::string& text) {
    const std::string path = folder_ / "machine.csv";
    std::ofstream(path) << text;
    auto session = ImportSession::read(path);
    EXPECT_TRUE(session) << session.error().message;
    return session ? *session : nullptr;
  }
  static std::string rows(double force_step) {
    std::string out;
    for (int i = 0; i < 40; ++i)
      out += plain_number(0.1 * i, 6) + "," + plain_number(force_step * i, 6) + "," + plain_number(0.01 * i, 6) + "\n";
    return out;
  }
  const Method& method_ = *methods::find("tension-metal");
  const std::filesystem::path folder_ =
      std::filesystem::temp_directory_path() / ("fortitor-import-" + std::to_string(::getpid()));
};

TEST_F(ImportSessionTest, ColumnsAreGuessedCorrectedAndRemembered) {
  const std::string file = "Time (s),Load (kN),Column B (mm)\n" + rows(0.5);
  auto s = read(file);
  ASSERT_NE(s, nullptr);
  s->choose(0, method_);
  ASSERT_EQ(s->columns().size(), 3u);
  EXPECT_FALSE(s->as_remembered());
  EXPECT_EQ(s->columns()[1].channel, "force");
  EXPECT_EQ(s->columns()[1].unit, "kN");
  EXPECT_DOUBLE_EQ(s->columns()[1].peak, 0.5 * 39);
  EXPECT_EQ(s->missing(method_), "");
  s->set_channel(2, "extension");
  s->set_unit(1, "N");
  const std::string memory = s->memory();
  auto again = read(file);
  again->choose(0, method_, memory);
  EXPECT_TRUE(again->as_remembered());
  EXPECT_EQ(again->columns()[2].channel, "extension");
  EXPECT_EQ(again->columns()[1].unit, "N");
  const auto samples = again->conversion({0}, method_)();
  ASSERT_TRUE(samples) << samples.error().message;
  EXPECT_DOUBLE_EQ(samples->front()->find("force")->values[10], 5) << "as typed: newtons";
  EXPECT_DOUBLE_EQ(samples->front()->find("extension")->values[10], 0.1);
}

TEST_F(ImportSessionTest, WhatCannotBeReadIsNoMemory) {
  auto s = read("Time (s),Load (kN),Extension (mm)\n" + rows(0.5));
  for (const char* memory : {"", "[", "[]", "{\"force\": 3}", "{\"force\": {\"column\": 1, \"unit\": \"kN\"}}",
                             "{\"force\": {\"column\": \"Load\"}}"}) {
    s->choose(0, method_, memory);
    EXPECT_FALSE(s->as_remembered()) << memory;
    EXPECT_EQ(s->columns()[1].channel, "force") << memory;
  }
  // A channel that the method does not have any more is left out.
  s->choose(0, method_, R"({"gone": {"column": "Load", "unit": "kN"}})");
  EXPECT_TRUE(s->as_remembered());
  EXPECT_EQ(s->columns()[1].channel, "");
}

TEST_F(ImportSessionTest, AMissingChannelIsNamed) {
  auto s = read("Time (s),Load (kN),Extension (mm)\n" + rows(0.5));
  s->choose(0, method_);
  s->set_channel(1, "");
  EXPECT_EQ(s->missing(method_), method_.channel("force")->label);
}

TEST_F(ImportSessionTest, TablesInOtherUnitsCountAsTheyAre) {
  const std::string file = "Specimen: A-1\nTime (s),Load (kN),Extension (mm)\n" + rows(0.5) +
                           "\nSpecimen: A-2\nTime (s),Load (N),Extension (mm)\n" + rows(500);
  auto s = read(file);
  ASSERT_EQ(s->blocks(), 2u);
  s->choose(0, method_);
  const auto both = s->conversion({0, 1}, method_)();
  ASSERT_TRUE(both) << both.error().message;
  EXPECT_DOUBLE_EQ((*both)[0]->find("force")->values[10], 5000);
  EXPECT_DOUBLE_EQ((*both)[1]->find("force")->values[10], 5000);
  EXPECT_EQ(s->rows({0, 1}), 80u);
  // A unit typed for the one says nothing about the other.
  s->set_unit(1, "MN");
  const auto refused = s->conversion({0, 1}, method_)();
  ASSERT_FALSE(refused);
  EXPECT_EQ(refused.error().choices, std::vector<std::string>{"1"}) << "the second of those asked for";
}

TEST_F(ImportSessionTest, SaysWhatTheFileSays) {
  auto s = read(
      "Operator: R. Vale\nDate: 2026-11-24\nZeit (s);Kraft (kN);Verlängerung (mm)\n"
      "0,0;0,0;0,0\n0,1;0,5;0,01\n0,2;1,0;0,02\n0,3;1,5;0,03\n");
  s->choose(0, method_);
  EXPECT_NE(s->words().find("4 rows, 3 columns, decimal comma"), std::string::npos) << s->words();
  EXPECT_NE(s->words().find("24 Nov 2026 by R. Vale"), std::string::npos) << s->words();
  EXPECT_EQ(s->says(0).operator_name, "R. Vale");
}

}  // namespace
}  // namespace fortitor::import_session_test
