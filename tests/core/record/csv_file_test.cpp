// Files read block by block give what the whole text gives; what is no table is refused soon and with little memory.
#include <gtest/gtest.h>

#include <cmath>
#include <cstdio>
#include <filesystem>
#include <fstream>
#include <random>

#include "core/record/csv.h"
#include "tests/c_text.h"

namespace fortitor::csv_file_test {
namespace {

class CsvFile : public testing::Test {
 protected:
  void SetUp() override {
    folder_ = std::filesystem::temp_directory_path() / ("fortitor-csv-" + std::to_string(std::random_device()()));
    std::filesystem::create_directories(folder_);
  }
  void TearDown() override { std::filesystem::remove_all(folder_); }
  std::string file(const std::string& text, const char* name = "d.csv") {
    const std::string path = (folder_ / name).string();
    std::ofstream(path, std::ios::binary) << text;
    return path;
  }
  // A table of that many rows: 4 columns, some cells empty, with that line end.
  static std::string table(size_t rows, const char* end, bool comma = false, bool last_end = true) {
    std::string out = std::string("machine 4") + end + (comma ? "t;F;e;x" : "t,F,e,x") + end +
                      (comma ? "s;kN;mm;mm" : "s,kN,mm,mm") + end;
    std::mt19937 random(7);
    char line[96];
    for (size_t i = 0; i < rows; ++i) {
      c_snprintf(line, sizeof line, "%.3f,%.5f,%s,%.4e", 0.001 * double(i), double(random() % 100000) / 997.0,
                 i % 97 == 0 ? "" : "0.125", double(random() % 1000) - 500);
      std::string text = line;
      if (comma) {
        for (char& c : text) c = c == ',' ? ';' : c == '.' ? ',' : c;
      }
      out += text;
      if (last_end || i + 1 < rows) out += end;
    }
    return out;
  }
  std::filesystem::path folder_;
};

void same(const CsvTable& a, const CsvTable& b) {
  ASSERT_EQ(a.columns.size(), b.columns.size());
  EXPECT_EQ(a.dialect.columns, b.dialect.columns);
  EXPECT_EQ(a.dialect.units, b.dialect.units);
  for (size_t c = 0; c < a.columns.size(); ++c) {
    ASSERT_EQ(a.columns[c].size(), b.columns[c].size()) << c;
    for (size_t i = 0; i < a.columns[c].size(); ++i)
      ASSERT_TRUE(a.columns[c][i] == b.columns[c][i] || (std::isnan(a.columns[c][i]) && std::isnan(b.columns[c][i])))
          << "column " << c << " row " << i;
  }
}

TEST_F(CsvFile, BlocksGiveWhatTheWholeTextGives) {
  for (const char* end : {"\n", "\r\n", "\r"})
    for (const bool comma : {false, true})
      for (const bool last : {true, false}) {
        const std::string text = table(260000, end, comma, last);  // three blocks of 4 MB and some
        ASSERT_GT(text.size(), size_t(8) << 20);
        const auto whole = parse_csv(text), blocks = read_csv(file(text));
        ASSERT_TRUE(whole) << whole.error().message;
        ASSERT_TRUE(blocks) << blocks.error().message;
        EXPECT_EQ(blocks->rows(), 260000u);
        same(*whole, *blocks);
      }
}

TEST_F(CsvFile, SmallFilesAndMarksAreRead) {
  const auto t = read_csv(file("\xEF\xBB\xBFt;F\ns;kN\n0;1,5\n0,1;2,5"));
  ASSERT_TRUE(t) << t.error().message;
  EXPECT_EQ(t->rows(), 2u);
  EXPECT_EQ(t->dialect.columns[0], "t");
  EXPECT_EQ(t->columns[1][1], 2.5);
}

TEST_F(CsvFile, ErrorsNameFileAndLineBeyondTheFirstBlock) {
  std::string text = table(260000, "\n");
  const size_t at = text.find('\n', text.size() - 2000);
  text.insert(at + 1, "0.1,broken,0.1,0.1\n");
  const std::string path = file(text);
  const auto t = read_csv(path);
  ASSERT_FALSE(t);
  EXPECT_NE(t.error().message.find(path), std::string::npos);
  const size_t line = size_t(std::count(text.begin(), text.begin() + long(at) + 1, '\n')) + 1;
  EXPECT_NE(t.error().message.find("line " + std::to_string(line) + ", column 2"), std::string::npos)
      << t.error().message;
}

TEST_F(CsvFile, ProgressGrowsAndMayStopIt) {
  const std::string path = file(table(260000, "\n"));
  std::vector<double> seen;
  ASSERT_TRUE(read_csv(path, [&](double share) {
    seen.push_back(share);
    return true;
  }));
  ASSERT_GE(seen.size(), 3u);
  EXPECT_TRUE(std::is_sorted(seen.begin(), seen.end()));
  EXPECT_EQ(seen.back(), 1.0);
  size_t calls = 0;
  const auto stopped = read_csv(path, [&](double) { return ++calls < 2; });
  ASSERT_FALSE(stopped);
  EXPECT_EQ(calls, 2u);
  EXPECT_NE(stopped.error().message.find("stopped"), std::string::npos);
}

TEST_F(CsvFile, WhatIsNoTableIsRefusedSoon) {
  struct Case {
    const char* name;
    std::string text;
    const char* word;
  };
  const size_t large = size_t(24) << 20;
  for (const Case& c :
       {Case{"separators", std::string(large, ';'), "more than 1 MB"},
        Case{"commas", std::string(large, ','), "more than 1 MB"},
        Case{"blanks", std::string(large, ' '), "more than 1 MB"},
        Case{"lines", std::string(large, '\n'), "No row of numbers"},
        Case{"zeros", std::string(large, '\0'), "more than 1 MB"},
        Case{"digits", std::string(large, '1'), "more than 1 MB"}, Case{"nothing", "", "No row of numbers"},
        Case{"words", "no numbers here\nnor here\n", "No row of numbers"}}) {
    const auto t = read_csv(file(c.text, c.name));
    ASSERT_FALSE(t) << c.name;
    EXPECT_NE(t.error().message.find(c.word), std::string::npos) << c.name << ": " << t.error().message;
  }
  EXPECT_NE(read_csv("/no/such/file.csv").error().message.find("/no/such/file.csv"), std::string::npos);
  EXPECT_FALSE(read_csv(folder_.string())) << "a folder";
}

TEST_F(CsvFile, MoreThan4096ColumnsAreRefusedAndAsManyAreRead) {
  auto wide = [](size_t columns) {
    std::string line;
    for (size_t i = 0; i < columns; ++i) line += (i > 0 ? ",1.5" : "1.5");
    return line + "\n" + line + "\n" + line + "\n";
  };
  const auto most = parse_csv(wide(4096));
  ASSERT_TRUE(most) << most.error().message;
  EXPECT_EQ(most->columns.size(), 4096u);
  for (size_t columns : {4097u, 5000u, 60000u}) {
    const auto t = parse_csv(wide(columns));
    ASSERT_FALSE(t) << columns;
    EXPECT_NE(t.error().message.find("4096 columns"), std::string::npos) << t.error().message;
  }
}

TEST_F(CsvFile, ALineThatGrowsLongLaterIsRefused) {
  std::string text = table(150000, "\n");
  text += std::string(size_t(3) << 20, '7');
  const auto t = read_csv(file(text + std::string(size_t(6) << 20, '7')));
  ASSERT_FALSE(t);
  EXPECT_NE(t.error().message.find("more than 1 MB"), std::string::npos) << t.error().message;
}

// Memory follows the numbers: no more is set aside than an eighth above them.
TEST_F(CsvFile, NoMoreIsSetAsideThanIsKept) {
  std::string text = "t,F\n0,1\n";  // a short first row misleads the guess
  for (int i = 1; i < 100000; ++i) text += "0.00000000000000" + std::to_string(i) + ",1.0000000000000" + "\n";
  const auto t = read_csv(file(text));
  ASSERT_TRUE(t) << t.error().message;
  for (const auto& c : t->columns) EXPECT_LE(c.capacity(), c.size() + c.size() / 8 + 1024);
}

}  // namespace
}  // namespace fortitor::csv_file_test
