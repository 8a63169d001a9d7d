// A record and the file of its run: what is read beside it, and what is refused with a sentence.
#include <gtest/gtest.h>
#include <unistd.h>

#include <filesystem>
#include <fstream>

#include "core/bench/records.h"

namespace fortitor::run_file_test {
namespace {

namespace fs = std::filesystem;

class RunFiles : public testing::Test {
 protected:
  void SetUp() override {
    folder_ = fs::temp_directory_path() / ("fortitor-run-file-" + std::to_string(::getpid()));
    fs::create_directories(folder_ / "folder");
  }
  void TearDown() override { fs::remove_all(folder_); }
  void write(const std::string& name, const std::string& text) const {
    std::ofstream(folder_ / name, std::ios::binary) << text;
  }
  Outcome<TestRecord> record_with(const std::string& file) const {
    write("record.json",
          R"({"fortitor": "record/1", "method": "tension-metal", "specimen": {"id": "T-1"}, "run": {"file": ")" + file +
              R"("}})");
    return load_record((folder_ / "record.json").string());
  }
  std::string refusal(const std::string& file) const {
    const auto r = record_with(file);
    return r ? "" : r.error().message;
  }
  static std::string rows(int n, const std::string& between) {
    std::string out;
    for (int i = 0; i < n; ++i) out += std::to_string(i) + ".0" + between + std::to_string(100 * i) + ".5\n";
    return out;
  }
  fs::path folder_;
};

TEST_F(RunFiles, APlainTableAndOneOfAMachineAreRead) {
  write("plain.csv", "time [s],force [N]\n" + rows(60, ","));
  write("machine.txt", "Specimen 1\nOperator K.\n\nTime;Load\ns;kN\n" + rows(50, ";"));
  const auto plain = record_with("plain.csv");
  ASSERT_TRUE(plain) << plain.error().message;
  ASSERT_TRUE(plain->run.samples());
  EXPECT_EQ(plain->run.samples()->size(), 60u);
  EXPECT_EQ(plain->run.samples()->find("force")->values[3], 300.5);
  const auto machine = record_with("machine.txt");
  ASSERT_TRUE(machine) << machine.error().message;
  EXPECT_EQ(machine->run.samples()->size(), 50u);
  EXPECT_EQ(machine->run.samples()->find("force")->values[3], 300.5e3);
}

TEST_F(RunFiles, OneFileIsOneRun) {
  const std::string one = "\nTime;Load\ns;kN\n" + rows(50, ";");
  write("two.txt", "Series\n\nSpecimen: 1" + one + "\nSpecimen: 2" + one);
  write("three.txt", "Series\n\nSpecimen: 1" + one + "\nSpecimen: 2" + one + "\nSpecimen: 3" + one);
  EXPECT_NE(refusal("two.txt").find("holds 2 tables; a record wants a file of its own run."), std::string::npos)
      << refusal("two.txt");
  EXPECT_NE(refusal("three.txt").find("holds 3 tables"), std::string::npos) << refusal("three.txt");
}

TEST_F(RunFiles, WhatIsNotBesideTheRecordIsNotRead) {
  const std::string outside = folder_.string() + "-outside.csv";
  std::ofstream(outside) << "time [s],force [N]\n" + rows(60, ",");
  EXPECT_NE(refusal("absent.csv").find("there is no such file"), std::string::npos);
  EXPECT_NE(refusal("folder").find("is no plain file"), std::string::npos);
  EXPECT_NE(refusal(outside).find("must name a file beside the record"), std::string::npos);
  EXPECT_NE(refusal("../" + fs::path(outside).filename().string()).find("outside the folder"), std::string::npos);
  fs::create_symlink(outside, folder_ / "link.csv");
  EXPECT_NE(refusal("link.csv").find("outside the folder"), std::string::npos);
  write("words.csv", "nothing, to be\nread, here\n");
  EXPECT_NE(refusal("words.csv"), "");
  fs::remove(outside);
}

}  // namespace
}  // namespace fortitor::run_file_test
