#include "core/bench/marks.h"

#include <gtest/gtest.h>

namespace fortitor::marks_test {
namespace {

using List = std::vector<std::string>;

TEST(Marks, ARowIsTypedOnce) {
  const List six = {"B-1", "B-2", "B-3", "B-4", "B-5", "B-6"},
             padded = {"B-01", "B-02", "B-03", "B-04", "B-05", "B-06"};
  for (const char* typed : {"B-1..B-6", "B-1..6", "B-1…B-6", "B-1 to 6", "B-1 .. B-6", "B-1 – B-6", "6 × B-", "6×B-",
                            "6 * B-1", "B-1, B-2; B-3 B-4,B-5 B-6", "B-1..3, B-4..6"}) {
    const auto marks = specimen_marks(typed);
    ASSERT_TRUE(marks) << typed << ": " << marks.error().message;
    EXPECT_EQ(*marks, six) << typed;
  }
  for (const char* typed : {"B-01 to 06", "B-01..B-06", "6 × B-01"})
    EXPECT_EQ(specimen_marks(typed).value(), padded) << typed;
  EXPECT_EQ(specimen_marks("98..101").value(), (List{"98", "99", "100", "101"}));
  EXPECT_EQ(specimen_marks("HB-7").value(), List{"HB-7"});
  EXPECT_EQ(specimen_marks("  ").value(), List{});
}

TEST(Marks, WhatIsNoRowIsSaid) {
  for (const char* typed : {"B-6..B-1", "B-1..C-6", "B..6", "B-1..", "0 × B-", "x × B-", "6 ×", "B-1, B-1", "1..100000",
                            "9999 × B-", "B-1..B-99999999999"}) {
    const auto marks = specimen_marks(typed);
    ASSERT_FALSE(marks) << typed;
    EXPECT_FALSE(marks.error().message.empty()) << typed;
  }
}

TEST(Marks, ALabelIsAMarkOrAJobAndAMark) {
  const auto says = [](const char* typed) {
    const ScannedMark l = read_label(typed);
    return l.job + "|" + l.mark;
  };
  EXPECT_EQ(says("B-01"), "|B-01");
  EXPECT_EQ(says("*B-01*"), "|B-01");
  EXPECT_EQ(says("TC-031/B-01\r\n"), "TC-031|B-01");
  EXPECT_EQ(says("*TC-031 B-01*"), "TC-031|B-01");
  EXPECT_EQ(says("2 5/8 in to mm"), "|");
  EXPECT_EQ(says(""), "|");
  EXPECT_TRUE(same_mark("b-01", "B-01"));
  EXPECT_FALSE(same_mark("B-01", "B-010"));
}

TEST(Labels, AnAddressOnAPrintedLabelIsTakenWhole) {
  EXPECT_EQ(read_label("fortitor:TC-031/HB-02").mark, "HB-02");
  EXPECT_EQ(read_label("FORTITOR:TC-031/HB-02").job, "TC-031");
  EXPECT_EQ(read_label("fortitor:Job 7/B 1").job, "Job 7");
  EXPECT_EQ(read_label("fortitor:Job 7/B 1").mark, "B 1");
  EXPECT_EQ(read_label("fortitor:").mark, "fortitor:");
}

TEST(Marks, AreSaidInShort) {
  EXPECT_EQ(marks_in_short({"HC-05"}), "HC-05");
  EXPECT_EQ(marks_in_short({"HC-05", "HC-09"}), "HC-05, HC-09");
  EXPECT_EQ(marks_in_short({"HC-08", "HC-09", "HC-10"}), "HC-08…10");
  EXPECT_EQ(marks_in_short({"HC-01", "HC-03", "HC-09"}), "HC-01 and 2 more");
  EXPECT_EQ(marks_in_short({"A", "B", "C"}), "A and 2 more");
}

}  // namespace
}  // namespace fortitor::marks_test
