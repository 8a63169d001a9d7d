#include "core/record/csv.h"

#include <gtest/gtest.h>

#include "core/methods/method.h"

#include <cmath>
#include <cstdlib>
#include <random>

#include "core/record/mapping.h"
#include "tests/c_text.h"

namespace fortitor::csv_test {
namespace {

const Schema& metal() {
  return *methods::find("tension-metal");
}

TEST(Csv, SemicolonCommaHeaderAndUnits) {
  const auto t = parse_csv("Prüfstand 2\nLauf 17\nZeit;Kraft\ns;kN\n0;1,5\n0,1;2,5\n");
  ASSERT_TRUE(t) << t.error().message;
  EXPECT_EQ(t->dialect.header_lines, 4u);
  EXPECT_EQ(t->dialect.columns, (std::vector<std::string>{"Zeit", "Kraft"}));
  EXPECT_EQ(t->dialect.units, (std::vector<std::string>{"s", "kN"}));
  EXPECT_DOUBLE_EQ(t->columns[1][1], 2.5);
}

TEST(Csv, UnitsInNames) {
  const auto t = parse_csv("Time [s],Load (kN),\"Ext / mm\"\n0,1,2\n1,2,3\n");
  ASSERT_TRUE(t);
  EXPECT_EQ(t->dialect.columns[1], "Load");
  EXPECT_EQ(t->dialect.units[1], "kN");
  EXPECT_EQ(t->dialect.units[2], "mm");
}

TEST(Csv, TabsNoHeaderWindowsEnds) {
  const auto t = parse_csv(
      "\xEF\xBB\xBF"
      "0\t1\r\n1\t2\r\n\r\n2\t3");
  ASSERT_TRUE(t);
  EXPECT_EQ(t->rows(), 3u);
  EXPECT_EQ(t->dialect.columns[1], "column 2");
}

TEST(Csv, CarriageReturnsAlone) {
  const auto t = parse_csv("a,b\r1,2\r3,4\r");
  ASSERT_TRUE(t);
  EXPECT_EQ(t->rows(), 2u);
  EXPECT_EQ(t->dialect.columns[0], "a");
}

// Every length and every neighbour, at the end of the text too.
TEST(Csv, NumbersOfEveryLengthReadAsTheyStand) {
  std::mt19937_64 random(3);
  for (int whole = 0; whole <= 17; ++whole)
    for (int fraction = 0; fraction <= 17; ++fraction) {
      if (whole + fraction == 0) continue;
      std::string number = random() % 2 ? "-" : "";
      for (int i = 0; i < whole; ++i) number += char('0' + random() % 10);
      if (fraction > 0) number += '.';
      for (int i = 0; i < fraction; ++i) number += char('0' + random() % 10);
      const double want = c_strtod(number.c_str(), nullptr);
      for (const char* form : {"a,b\n1,2\n%s,5\n", "a,b\n1,2\n5,%s\n", "a,b\n1,2\n5,%s", "a,b\n1,2\r\n%s,%s\r\n"}) {
        std::string text = form;
        for (size_t at = text.find("%s"); at != std::string::npos; at = text.find("%s")) text.replace(at, 2, number);
        const auto t = parse_csv(text);
        ASSERT_TRUE(t) << text;
        EXPECT_EQ(t->columns[text.find(number) > text.rfind(',') ? 1 : 0].back(), want) << text;
      }
    }
}

TEST(Csv, EmptyCellsAreMissing) {
  const auto t = parse_csv("t,F,e\n0,1,\n1,,2\n2,3,4\n");
  ASSERT_TRUE(t);
  EXPECT_TRUE(std::isnan(t->columns[2][0]));
  EXPECT_TRUE(std::isnan(t->columns[1][1]));
  EXPECT_DOUBLE_EQ(t->columns[2][2], 4);
}

TEST(Csv, ErrorsNameLineAndColumn) {
  const auto bad = parse_csv("t,F\n0,1\n1,2\n2,3\n3,zwölf\n");
  ASSERT_FALSE(bad);
  EXPECT_EQ(bad.error().message, "line 5, column 2: “zwölf” is not a number.");
  const auto narrow = parse_csv("t,F\n0,1\n1,2\n2,3\n4\n");
  ASSERT_FALSE(narrow);
  EXPECT_NE(narrow.error().message.find("line 5, column 1"), std::string::npos);
  const auto wide = parse_csv("t,F\n0,1\n1,2\n2,3\n4,5,6\n");
  ASSERT_FALSE(wide);
  EXPECT_NE(wide.error().message.find("line 5, column 3"), std::string::npos);
}

TEST(Csv, NoNumbersIsASentence) {
  EXPECT_FALSE(parse_csv(""));
  EXPECT_FALSE(parse_csv("hello\nworld\n"));
  EXPECT_FALSE(parse_csv(std::string("\xFF\xFE\x31\x00", 4)));
}

TEST(Csv, MachineWordsForMissing) {
  const auto t = parse_csv("t,F\n0,1\n1,nan\n2,inf\n3,4\n");
  ASSERT_TRUE(t) << t.error().message;
  EXPECT_TRUE(std::isnan(t->columns[1][1]));
  EXPECT_TRUE(std::isnan(t->columns[1][2]));
}

TEST(Mapping, GuessesByNameThenUnit) {
  const auto d = sniff_csv("Zeit;Kraft;Dehnung;Weg\ns;N;mm;mm\n0;1;2;3\n1;2;3;4\n");
  ASSERT_TRUE(d);
  const auto m = guess_mapping(*d, metal());
  EXPECT_EQ(m.at("time").column, "Zeit");
  EXPECT_EQ(m.at("force").column, "Kraft");
  EXPECT_EQ(m.at("extension").column, "Dehnung");
  EXPECT_EQ(m.at("crosshead").column, "Weg");
}

TEST(Mapping, TheUnitDecidesBetweenExtensionAndStrain) {
  const auto d = sniff_csv("t,F,Dehnung\ns,kN,%\n0,1,2\n1,2,3\n");
  ASSERT_TRUE(d);
  EXPECT_EQ(guess_mapping(*d, metal()).at("strain").column, "Dehnung");
}

TEST(Mapping, ValuesComeInInternalUnits) {
  const auto t = parse_csv("t,F\nmin,kN\n0,1\n1,2\n");
  ASSERT_TRUE(t);
  const auto s = samples_from_table(*t, {{"time", {"t", ""}}, {"force", {"F", "kN"}}}, metal());
  ASSERT_TRUE(s) << s.error().message;
  EXPECT_DOUBLE_EQ((*s)->find("time")->values[1], 60);
  EXPECT_DOUBLE_EQ((*s)->find("force")->values[1], 2000);
}

TEST(Mapping, MissingColumnAndWrongUnitAreNamed) {
  const auto t = parse_csv("t,F\ns,kN\n0,1\n1,2\n");
  ASSERT_TRUE(t);
  EXPECT_NE(samples_from_table(*t, {{"force", {"Load", "kN"}}}, metal()).error().message.find("Load"),
            std::string::npos);
  EXPECT_NE(samples_from_table(*t, {{"force", {"F", "mm"}}}, metal()).error().message.find("force"), std::string::npos);
}

}  // namespace
}  // namespace fortitor::csv_test
