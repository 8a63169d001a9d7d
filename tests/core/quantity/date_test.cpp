// Days as people type them, against a calendar (2026-11-25 is a Wednesday).
#include "core/quantity/date.h"

#include <gtest/gtest.h>

namespace fortitor::date_test {
namespace {

const std::string kToday = "2026-11-25";

std::string read(const std::string& typed, DaySense sense = DaySense::coming) {
  const auto d = parse_day(typed, kToday, sense);
  return d ? *d : "! " + d.error().message;
}

TEST(Day, ReadsWhatPeopleType) {
  const std::pair<const char*, const char*> cases[] = {{"2026-11-27", "2026-11-27"},
                                                       {"27.11.2026", "2026-11-27"},
                                                       {"27.11.26", "2026-11-27"},
                                                       {"27.11.", "2026-11-27"},
                                                       {" 27. 11. ", "2026-11-27"},
                                                       {"27 Nov", "2026-11-27"},
                                                       {"Nov 27", "2026-11-27"},
                                                       {"27 november 2026", "2026-11-27"},
                                                       {"November 27, 2026", "2026-11-27"},
                                                       {"27 Sept", "2027-09-27"},
                                                       {"Fri", "2026-11-27"},
                                                       {"friday", "2026-11-27"},
                                                       {"next Fri", "2026-11-27"},
                                                       {"Wed", "2026-11-25"},
                                                       {"Tue", "2026-12-01"},
                                                       {"today", "2026-11-25"},
                                                       {"Tomorrow", "2026-11-26"},
                                                       {"yesterday", "2026-11-24"},
                                                       {"in 3 days", "2026-11-28"},
                                                       {"3 days", "2026-11-28"},
                                                       {"in 2 weeks", "2026-12-09"},
                                                       {"in a week", "2026-12-02"},
                                                       {"in 1 month", "2026-12-25"},
                                                       {"in 3 months", "2027-02-25"},
                                                       {"2 weeks ago", "2026-11-11"},
                                                       {"27/11/2026", "2026-11-27"},
                                                       {"11/27/2026", "2026-11-27"},
                                                       {"5/5/2027", "2027-05-05"},
                                                       {"24.11.", "2027-11-24"},
                                                       {"25.11.", "2026-11-25"},
                                                       {"29.2.", "2028-02-29"},
                                                       {"27-11-2026", "2026-11-27"},
                                                       {"1 year", "2027-11-25"}};
  for (const auto& [typed, day] : cases) EXPECT_EQ(read(typed), day) << typed;
}

TEST(Day, LooksBackWhereACalibrationIsMeant) {
  EXPECT_EQ(read("27.11.", DaySense::past), "2025-11-27");
  EXPECT_EQ(read("25.11.", DaySense::past), "2026-11-25");
  EXPECT_EQ(read("Fri", DaySense::past), "2026-11-20");
  EXPECT_EQ(read("Wed", DaySense::past), "2026-11-25");
  EXPECT_EQ(read("3 days", DaySense::past), "2026-11-22");
  EXPECT_EQ(read("in 3 days", DaySense::past), "2026-11-28");
  EXPECT_EQ(read("29.2.", DaySense::past), "2024-02-29");
}

TEST(Day, RefusesWhatNoCalendarHas) {
  for (const char* typed :
       {"", "soon", "31.11.2026", "29.2.2026", "0.5.2026", "13.13.", "2026-02-30", "27", "3/4/2026", "fr", "in x days",
        "-3 days", "27.11.026", "99999999999 days", "Nov", "12.5 mm", "00.00.", "31 Feb"})
    EXPECT_EQ(read(typed)[0], '!') << typed << " read as " << read(typed);
  EXPECT_NE(read("3/4/2026").find("either of two days"), std::string::npos);
  EXPECT_NE(read("31.11.2026").find("no day of the calendar"), std::string::npos);
}

TEST(Day, AMonthWithoutThatDayEndsOnItsLast) {
  EXPECT_EQ(months_after("2026-01-31", 1), "2026-02-28");
  EXPECT_EQ(months_after("2027-12-31", 2), "2028-02-29");
  EXPECT_EQ(months_after("2026-11-25", 12), "2027-11-25");
  EXPECT_EQ(months_after("2026-03-31", -1), "2026-02-28");
}

TEST(Day, CountsDaysOverLeapYears) {
  EXPECT_EQ(days_between("2024-02-28", "2024-03-01"), 2);
  EXPECT_EQ(days_between("2026-02-28", "2026-03-01"), 1);
  EXPECT_EQ(days_between("2026-11-25", "2025-11-25"), -365);
}

TEST(Day, IsSaidShort) {
  EXPECT_EQ(day_words("2026-11-27"), "27 Nov 2026");
  EXPECT_EQ(day_words("2026-11-07", kToday), "7 Nov");
  EXPECT_EQ(day_words("2027-01-03", kToday), "3 Jan 2027");
  EXPECT_EQ(day_words("Thursday", kToday), "Thursday");
  EXPECT_TRUE(is_day("2024-02-29"));
  for (const char* no : {"2023-02-29", "2026-1-1", "27.11.2026", "", "2026-11-2x", "0000-01-01"})
    EXPECT_FALSE(is_day(no)) << no;
}

TEST(Day, AMomentIsSaidWithItsZone) {
  EXPECT_EQ(moment_words("2026-11-23T09:12:00+01:00"), "23 Nov 2026, 09:12 (UTC+01:00)");
  EXPECT_EQ(moment_words("2026-11-23T09:12:00.250-03:30"), "23 Nov 2026, 09:12 (UTC-03:30)");
  EXPECT_EQ(moment_words("2026-11-23T09:12Z"), "23 Nov 2026, 09:12 (UTC)");
  EXPECT_EQ(moment_words("2026-11-23 09:12"), "23 Nov 2026, 09:12");
  EXPECT_EQ(moment_words("2026-11-23"), "23 Nov 2026");
  for (const char* as_it_is :
       {"", "in the morning", "2026-02-30T09:12:00Z", "2026-11-23T9:12", "2026-11-23T09", "2026-11-23 late"})
    EXPECT_EQ(moment_words(as_it_is), as_it_is);
}

}  // namespace
}  // namespace fortitor::date_test
