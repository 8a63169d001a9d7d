// Quantities as people type them (docs/record-format.md): each reads as what was meant, or is asked back.
#include <gtest/gtest.h>

#include <cmath>
#include <numbers>
#include <tuple>

#include "core/quantity/parse.h"

namespace fortitor::typing_test {
namespace {

struct Typed {
  const char* text;
  Dimension dimension;
  double value;  ///< internal units
};

class Typing : public testing::TestWithParam<Typed> {};

TEST_P(Typing, IsReadAsMeant) {
  const auto q = parse_quantity(GetParam().text, GetParam().dimension);
  ASSERT_TRUE(q) << GetParam().text << ": " << q.error().message;
  EXPECT_NEAR(q->value, GetParam().value, 1e-9 * std::max(1.0, std::abs(GetParam().value))) << GetParam().text;
}

using D = Dimension;
constexpr double kIn = 25.4, kLbf = 4.4482216152605, kG = 9.80665;

INSTANTIATE_TEST_SUITE_P(Lengths, Typing,
                         testing::Values(Typed{"½ in", D::length, 12.7}, Typed{"1½ in", D::length, 1.5 * kIn},
                                         Typed{"2 5⁄8 in", D::length, 2.625 * kIn},
                                         Typed{"2 5/8 in", D::length, 2.625 * kIn},
                                         Typed{"2-5/8\"", D::length, 2.625 * kIn},
                                         Typed{"3/8-in", D::length, 0.375 * kIn}, Typed{"12 in.", D::length, 12 * kIn},
                                         Typed{"5' 6 1/2\"", D::length, 66.5 * kIn}, Typed{"5'6", D::length, 66 * kIn},
                                         Typed{"5'6\"", D::length, 66 * kIn}, Typed{"5'", D::length, 60 * kIn},
                                         Typed{"5''", D::length, 5 * kIn}, Typed{"5′ 6½″", D::length, 66.5 * kIn},
                                         Typed{"6'", D::length, 72 * kIn}, Typed{"5 mils", D::length, 0.127},
                                         Typed{"–5 mm", D::length, -5}, Typed{"−5 mm", D::length, -5},
                                         Typed{"12,5 mm", D::length, 12.5}, Typed{"12.47", D::length, 12.47},
                                         Typed{"3 µm", D::length, 0.003}, Typed{"⅞ in", D::length, 0.875 * kIn}));

INSTANTIATE_TEST_SUITE_P(Forces, Typing,
                         testing::Values(Typed{"5 daN", D::force, 50}, Typed{"100 kp", D::force, 100 * kG},
                                         Typed{"5 mN", D::force, 0.005}, Typed{"5 MN", D::force, 5e6},
                                         Typed{"1'450 N", D::force, 1450}, Typed{"1’450,5 N", D::force, 1450.5},
                                         Typed{"2×10³ N", D::force, 2000}, Typed{"2 x 10^3 N", D::force, 2000},
                                         Typed{"2·10⁻³ N", D::force, 0.002}, Typed{"2.5e3 N", D::force, 2500},
                                         Typed{"1,450 lbf", D::force, 1450 * kLbf}, Typed{"2 t", D::force, 2000 * kG},
                                         Typed{"3 lbs", D::force, 3 * kLbf}));

INSTANTIATE_TEST_SUITE_P(Others, Typing,
                         testing::Values(Typed{"3 bar", D::stress, 0.3}, Typed{"4 kN/cm²", D::stress, 40},
                                         Typed{"4 kN/cm2", D::stress, 40}, Typed{"500 mPa", D::stress, 5e-7},
                                         Typed{"500 mpa", D::stress, 500}, Typed{"500 MPA", D::stress, 500},
                                         Typed{"1 J/mm²", D::impact_area, 100}, Typed{"1 J/mm2", D::impact_area, 100},
                                         Typed{"30 ft-lbs", D::energy, 30 * 1.3558179483314004},
                                         Typed{"30 lb-in", D::torque, 30 * kLbf* kIn},
                                         Typed{"20 ºC", D::temperature, 20}, Typed{"70 °F", D::temperature, 190.0 / 9},
                                         Typed{"3 hrs", D::time, 10800}, Typed{"5 mins", D::time, 300},
                                         Typed{"5 seconds", D::time, 5}, Typed{"2 weeks", D::time, 1209600},
                                         Typed{"5 m/min", D::speed, 5000.0 / 60}, Typed{"3 mm/m", D::strain, 0.003},
                                         Typed{"0.3 ‰", D::strain, 0.0003}));

TEST(TypingRefused, ALengthWithAGroupOfThreeIsAskedBackInAnySet) {
  for (UnitSet set : {UnitSet::si, UnitSet::us})
    for (const char* text : {"1,250 mm", "1,250 in", "12,470 mm"}) {
      const auto q = parse_quantity(text, D::length, {set, nullptr});
      ASSERT_FALSE(q) << text;
      EXPECT_EQ(q.error().choices.size(), 2u) << text;
    }
  EXPECT_TRUE(parse_quantity("12,47 mm", D::length));
  EXPECT_TRUE(parse_quantity("1,250.5 mm", D::length)) << "another separator makes it certain";
}

TEST(TypingRefused, NonsenseGetsASentence) {
  for (const char* text :
       {"", "  ", "mm", "½", "x10^3 N", "5'' 6'", "1/0 in", "5 ' x", "1''450 N", "×10³", "2×10 N", "-", "."}) {
    const auto q = parse_quantity(text, D::force);
    if (!q) {
      EXPECT_FALSE(q.error().message.empty()) << text;
    }
  }
  EXPECT_FALSE(parse_quantity("5 kg", D::length));
  EXPECT_FALSE(parse_quantity("5' 6 kg", D::length));
}

// A prefix of the SI stands before any SI unit; words, products and powers of units.
TEST(TypedUnits, UnitsThatArePutTogether) {
  struct Case {
    const char* typed;
    D dimension;
    double internal;
  };
  for (const Case& c : std::initializer_list<Case>{{"5 mJ", D::energy, 0.005},
                                                   {"3 MJ", D::energy, 3e6},
                                                   {"2 mN·m", D::torque, 2},
                                                   {"3 cN·m", D::torque, 30},
                                                   {"5 hPa", D::stress, 5e-4},
                                                   {"3 dN", D::force, 0.3},
                                                   {"7 dm", D::length, 700},
                                                   {"12 N·mm⁻²", D::stress, 12},
                                                   {"12 N mm-2", D::stress, 12},
                                                   {"3 kN/cm2", D::stress, 30},
                                                   {"2 kg·m/s²", D::force, 2},
                                                   {"1.2 g/cc", D::density, 1200},
                                                   {"1.2 g/mL", D::density, 1200},
                                                   {"0.4 g/ml", D::density, 400},
                                                   {"0.1 lb/in³", D::density, 2767.990471},
                                                   {"4 t/m³", D::density, 4000},
                                                   {"6 cm/min", D::speed, 1},
                                                   {"4 J·m⁻²", D::impact_area, 4e-4},
                                                   {"300 µm/m", D::strain, 3e-4},
                                                   {"12 newtons", D::force, 12},
                                                   {"5 pounds", D::force, 22.24110808},
                                                   {"5 pounds", D::mass, 2.26796185},
                                                   {"3 joules", D::energy, 3},
                                                   {"2 revolutions", D::angle, 4 * std::numbers::pi},
                                                   {"5 microns", D::length, 0.005},
                                                   {"3 kp", D::force, 29.41995},
                                                   {"5 Mm", D::length, 5},  // a slip for mm, no megametres
                                                   {"5 MPA", D::stress, 5},
                                                   {"5 mPa", D::stress, 5e-9},
                                                   {"2 nm", D::torque, 2000},
                                                   {"1\u2007450\u2008N", D::force, 1450}}) {
    const auto q = parse_quantity(c.typed, c.dimension);
    ASSERT_TRUE(q) << c.typed << ": " << q.error().message;
    EXPECT_NEAR(q->value, c.internal, 1e-9 * std::abs(c.internal)) << c.typed;
    const auto again = parse_quantity(q->text(), c.dimension);
    ASSERT_TRUE(again) << q->text();
    EXPECT_EQ(again->value, q->value) << "what a record keeps reads back";
  }
  for (const auto& [typed, dimension] : {std::pair{"5 N·", D::torque},
                                         {"5 N/", D::stress},
                                         {"5 N//mm", D::stiffness},
                                         {"5 mmm", D::length},
                                         {"5 N·s", D::force},
                                         {"5 kkN", D::force}})
    EXPECT_FALSE(parse_quantity(typed, dimension)) << typed;
}

TEST(TypedUnits, FeetAndInchesHoursAndMinutes) {
  for (const auto& [typed, inches] : {std::pair{"2 ft 3 in", 27.0},
                                      {"2 ft 6 1/2 in", 30.5},
                                      {"3 ft. 2 in.", 38.0},
                                      {"-2 ft 3 in", -27.0},
                                      {"5'-6 1/2\"", 66.5},
                                      {"5' 6 1/2\"", 66.5},
                                      {"6'", 72.0}}) {
    const auto q = parse_quantity(typed, D::length);
    ASSERT_TRUE(q) << typed;
    EXPECT_NEAR(q->value, inches * 25.4, 1e-9) << typed;
  }
  for (const auto& [typed, seconds] : {std::pair{"12 h 30 min", 45000.0},
                                       {"1:30 h", 5400.0},
                                       {"1:30 min", 90.0},
                                       {"1:02:30", 3750.0},
                                       {"2 d 3 h", 183600.0}}) {
    const auto q = parse_quantity(typed, D::time);
    ASSERT_TRUE(q) << typed;
    EXPECT_NEAR(q->value, seconds, 1e-9) << typed;
  }
}

TEST(TypedUnits, WhatMayMeanTwoThingsIsAskedBack) {
  for (const auto& [typed, dimension, choices] : {std::tuple{"5 mn", D::force, size_t(2)},
                                                  {"50.000 psi", D::stress, size_t(2)},
                                                  {"1:30", D::time, size_t(2)},
                                                  {"10 16/8 in", D::length, size_t(0)},
                                                  {"-1450 500 N", D::force, size_t(0)},
                                                  {"1450 500 N", D::force, size_t(0)},
                                                  {"2 ft 14 in", D::length, size_t(0)}}) {
    const auto q = parse_quantity(typed, dimension);
    ASSERT_FALSE(q) << typed;
    EXPECT_EQ(q.error().choices.size(), choices) << typed << ": " << q.error().message;
  }
  EXPECT_TRUE(parse_quantity("50.00 psi", D::stress));
  EXPECT_TRUE(parse_quantity("0.125 psi", D::stress));
  EXPECT_TRUE(parse_quantity("50.000 mm", D::length)) << "a micrometer reads so";
}

}  // namespace
}  // namespace fortitor::typing_test
