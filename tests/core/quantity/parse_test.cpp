#include "core/quantity/parse.h"

#include <gtest/gtest.h>

#include <cmath>
#include <numbers>

namespace fortitor::parse_test {
namespace {

double value(const char* text, Dimension d, UnitSet set = UnitSet::si) {
  const auto q = parse_quantity(text, d, {set, nullptr});
  EXPECT_TRUE(q) << text << ": " << (q ? "" : q.error().message);
  return q ? q->value : NAN;
}

std::string refusal(const char* text, Dimension d, UnitSet set = UnitSet::si) {
  const auto q = parse_quantity(text, d, {set, nullptr});
  EXPECT_FALSE(q) << text;
  return q ? "" : q.error().message;
}

TEST(Parse, FractionsOfAnInch) {
  for (const char* t : {"2 5/8 in", "2-5/8\"", "2 5/8", "2-5/8 in", "2.625 in", "2 5/8 inch"})
    EXPECT_DOUBLE_EQ(value(t, Dimension::length), 66.675) << t;
  EXPECT_DOUBLE_EQ(value("5/8", Dimension::length), 15.875);
  EXPECT_DOUBLE_EQ(value("1/2 rev", Dimension::angle), std::numbers::pi);
  EXPECT_NE(refusal("2 5/0 in", Dimension::length).find("0 below the line"), std::string::npos);
  EXPECT_FALSE(parse_quantity("2.5 5/8 in", Dimension::length));
}

TEST(Parse, DecimalCommaAndThousands) {
  EXPECT_DOUBLE_EQ(value("12,47 mm", Dimension::length), 12.47);
  EXPECT_NEAR(value("1,450 lbf", Dimension::force), 1450 * 4.4482216152605, 1e-9);
  EXPECT_DOUBLE_EQ(value("1,450", Dimension::none, UnitSet::us), 1450);
  EXPECT_DOUBLE_EQ(value("1,450.5 N", Dimension::force), 1450.5);
  EXPECT_DOUBLE_EQ(value("1.450,5 N", Dimension::force), 1450.5);
  EXPECT_DOUBLE_EQ(value("1,450,000 N", Dimension::force), 1450000);
  EXPECT_DOUBLE_EQ(value("1 450 N", Dimension::force), 1450);
  EXPECT_DOUBLE_EQ(value("1 450,5 N", Dimension::force), 1450.5);
  EXPECT_DOUBLE_EQ(value("0,125 mm", Dimension::length), 0.125);
  EXPECT_DOUBLE_EQ(value("12,4705 mm", Dimension::length), 12.4705);
  EXPECT_DOUBLE_EQ(value("1450,125 N", Dimension::force), 1450.125);
}

TEST(Parse, AmbiguousThousandsAreAskedFor) {
  const auto q = parse_quantity("1,450 N", Dimension::force);
  ASSERT_FALSE(q);
  EXPECT_EQ(q.error().choices, (std::vector<std::string>{"1450", "1.450"}));
}

TEST(Parse, MalformedSeparatorsAreRefused) {
  for (const char* t : {"1,45,000 N", "1.4.5 N", "1,2.3,4 N", "..5 N", ", N", "1,4500.2 N"})
    EXPECT_FALSE(parse_quantity(t, Dimension::force)) << t;
}

TEST(Parse, SignsExponentsAndSpaces) {
  EXPECT_DOUBLE_EQ(value("-3e-4", Dimension::none), -3e-4);
  EXPECT_DOUBLE_EQ(value("\u221212 \u00B0C", Dimension::temperature), -12);
  EXPECT_DOUBLE_EQ(value("  12.5\u00A0kN ", Dimension::force), 12500);
  EXPECT_FALSE(parse_quantity("1e999 N", Dimension::force));
  EXPECT_FALSE(parse_quantity("1e305 MN", Dimension::force));
  EXPECT_FALSE(parse_quantity("nan N", Dimension::force));
  EXPECT_FALSE(parse_quantity("inf N", Dimension::force));
  EXPECT_FALSE(parse_quantity("", Dimension::force));
}

TEST(Parse, WrongDimensionSaysWhichIsWanted) {
  EXPECT_EQ(refusal("10 kN", Dimension::length), "“kN” is the unit of a force; here a length is wanted.");
  EXPECT_NE(refusal("10 furlong", Dimension::length).find("There is no unit"), std::string::npos);
}

TEST(Parse, SpellingsMeanWhatTheFieldWants) {
  EXPECT_DOUBLE_EQ(value("3 t", Dimension::force), 3000 * 9.80665);
  EXPECT_DOUBLE_EQ(value("3 t", Dimension::mass), 3000);
  EXPECT_DOUBLE_EQ(value("1 lb", Dimension::mass), 0.45359237);
  EXPECT_NEAR(value("1 ft-lbf", Dimension::energy), 1.3558179483314004, 1e-12);
  EXPECT_NEAR(value("1 ft·lbf", Dimension::torque), 1355.8179483314004, 1e-9);
  EXPECT_DOUBLE_EQ(value("100 µε", Dimension::strain), 1e-4);
  EXPECT_DOUBLE_EQ(value("100 \u03BC\u03B5", Dimension::strain), 1e-4);
  EXPECT_DOUBLE_EQ(value("1 N/mm²", Dimension::stress), 1);
  EXPECT_DOUBLE_EQ(value("500 mpa", Dimension::stress), 500);
  EXPECT_DOUBLE_EQ(value("68 °F", Dimension::temperature), 20);
  EXPECT_DOUBLE_EQ(value("293.15 K", Dimension::temperature), 20);
  EXPECT_DOUBLE_EQ(value("0.2 %", Dimension::elongation), 0.002);
  EXPECT_DOUBLE_EQ(value("6 1/min", Dimension::strain_rate), 0.1);
}

// Each symbol must find itself, in its own dimension: the table has no dead entry.
TEST(Parse, EveryUnitIsReadByItsSymbol) {
  for (const Unit& u : all_units()) {
    const Unit* found = find_unit(u.symbol, u.dimension);
    ASSERT_NE(found, nullptr) << u.symbol;
    EXPECT_EQ(found->factor, u.factor) << u.symbol;
  }
}

TEST(Parse, BareNumbersTakeTheUnitOfTheSet) {
  EXPECT_DOUBLE_EQ(value("10", Dimension::length, UnitSet::us), 254);
  EXPECT_DOUBLE_EQ(value("10", Dimension::length, UnitSet::si), 10);
  EXPECT_EQ(parse_quantity("10.02", Dimension::length)->text(), "10.02 mm");
  EXPECT_EQ(parse_quantity("10.02 in", Dimension::length)->text(), "10.02 in");
}

TEST(Parse, ResolutionIsTheLastTypedDigit) {
  EXPECT_NEAR(parse_quantity("10.02 mm", Dimension::length)->resolution, 0.01, 1e-15);
  EXPECT_NEAR(parse_quantity("10 mm", Dimension::length)->resolution, 1, 1e-15);
  EXPECT_NEAR(parse_quantity("2 5/8 in", Dimension::length)->resolution, 25.4 / 8, 1e-12);
}

// What the record keeps must be read back as the same value, whatever was typed.
TEST(Parse, KeptTextReadsBackTheSame) {
  for (UnitSet set : {UnitSet::si, UnitSet::us, UnitSet::kgf})
    for (const char* t : {"12.5", "2 5/8", "1,450", "3/4", "-0.5"}) {
      const auto q = parse_quantity(t, Dimension::length, {set, nullptr});
      if (!q) continue;
      const auto again = parse_quantity(q->text(), Dimension::length);
      ASSERT_TRUE(again) << q->text();
      EXPECT_DOUBLE_EQ(again->value, q->value) << t;
    }
}

}  // namespace
}  // namespace fortitor::parse_test
