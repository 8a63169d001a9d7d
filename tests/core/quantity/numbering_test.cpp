#include "core/quantity/numbering.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <random>

namespace fortitor::numbering_test {
namespace {

using Words = std::vector<std::string>;

TEST(Numbering, StandAsPeopleCountThem) {
  Words all = {"P-10", "P-1", "P-100", "P-2", "P-02", "A-7b", "A-7a", "A-10a", "P", "", "7", "10", "P-1-2", "ä-1"};
  std::sort(all.begin(), all.end(), numbering::before);
  EXPECT_EQ(
      all, (Words{"", "7", "10", "A-7a", "A-7b", "A-10a", "P", "P-1", "P-1-2", "P-2", "P-02", "P-10", "P-100", "ä-1"}));
}

// Numbers of any length, noughts, equal numbers: an order that std::sort may rely on.
TEST(Numbering, TheOrderIsOne) {
  std::mt19937 random(7);
  const char letters[] = "01299aB-";
  Words all;
  for (int i = 0; i < 60; ++i) {
    std::string one;
    for (unsigned n = random() % 7; n > 0; --n) one += letters[random() % 8];
    all.push_back(one);
  }
  for (const std::string& a : all)
    for (const std::string& b : all) {
      EXPECT_EQ(a == b, !numbering::before(a, b) && !numbering::before(b, a)) << a << " " << b;
      EXPECT_FALSE(numbering::before(a, b) && numbering::before(b, a)) << a << " " << b;
      for (const std::string& c : all) {
        const bool through = numbering::before(a, b) && numbering::before(b, c);
        EXPECT_TRUE(!through || numbering::before(a, c)) << a << " " << b << " " << c;
      }
    }
}

TEST(Numbering, TheNextOne) {
  EXPECT_EQ(numbering::next("B-09"), "B-10");
  EXPECT_EQ(numbering::next("9"), "10");
  EXPECT_EQ(numbering::next("B-99"), "B-100");
  EXPECT_EQ(numbering::next("B-99999999999999999999999"), "B-100000000000000000000000");
  EXPECT_EQ(numbering::next("B-7a"), "");
  EXPECT_EQ(numbering::next(""), "");
}

TEST(Numbering, RunsAreSaidInOneBreath) {
  EXPECT_EQ(numbering::in_runs({"B-3", "B-1", "B-2", "B-7", "C-1", "C-2"}), (Words{"B-1 … B-3", "B-7", "C-1", "C-2"}));
  EXPECT_EQ(numbering::in_runs({"B-08", "B-09", "B-10", "B-11"}), (Words{"B-08 … B-11"}));
  EXPECT_EQ(numbering::in_runs({"B-8", "B-09", "B-10"}), (Words{"B-8", "B-09", "B-10"})) << "8 is not followed by 09";
  EXPECT_EQ(numbering::in_runs({}), Words{});
  EXPECT_EQ(numbering::in_runs({"B-1", "B-1", "B-2", "B-3"}), (Words{"B-1", "B-1 … B-3"})) << "two of a name stay two";
}

}  // namespace
}  // namespace fortitor::numbering_test
