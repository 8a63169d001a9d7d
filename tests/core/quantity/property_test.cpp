// Whatever is written is read back: every unit, every set, random magnitudes.
#include <gtest/gtest.h>

#include <cmath>
#include <random>

#include "core/quantity/format.h"
#include "core/quantity/parse.h"
#include "core/quantity/unit_table.h"
#include "tests/c_text.h"

namespace fortitor::property_test {
namespace {

TEST(Property, TypedValuesReadBack) {
  std::mt19937 random(4);
  std::uniform_real_distribution<double> exponent(-3, 5), sign(-1, 1);
  for (int d = 1; d <= int(Dimension::section_modulus); ++d) {
    for (UnitSet set : {UnitSet::si, UnitSet::us, UnitSet::kgf}) {
      for (int i = 0; i < 40; ++i) {
        const double v = std::copysign(std::pow(10.0, exponent(random)), sign(random));
        const std::string text = typed_value(v, Dimension(d), set, 12);
        const auto q = parse_quantity(text, Dimension(d), {set, nullptr});
        ASSERT_TRUE(q) << text << ": " << q.error().message;
        EXPECT_NEAR(q->value, v, 1e-9 * std::abs(v) + 1e-9) << text;
      }
    }
  }
}

// No unit is taken for a quantity that it does not measure: 23 °C are no 23 N.
TEST(Property, AUnitMeasuresWhatIsWanted) {
  std::vector<std::string> spellings = {"degC", "degF", "deg C", "° C", "DEGC", "1/min", "mN·m", "kg m⁻³", "lb/in³"};
  for (const Unit& u : units::kUnits) spellings.emplace_back(u.symbol);
  for (const units::Alias& a : units::kAliases) spellings.emplace_back(a.spelling);
  for (const std::string& spelling : spellings)
    for (int d = 1; d <= int(Dimension::section_modulus); ++d) {
      const Dimension wanted = base_dimension(Dimension(d));
      if (const Unit* u = find_unit(spelling, Dimension(d)))
        EXPECT_EQ(base_dimension(u->dimension), wanted) << spelling << " for " << dimension_phrase(wanted);
      else
        EXPECT_FALSE(parse_quantity("23 " + spelling, Dimension(d))) << spelling << " for " << dimension_phrase(wanted);
    }
  EXPECT_TRUE(find_unit("°C", Dimension::temperature));
  EXPECT_TRUE(find_unit("degF"));
}

TEST(Property, DecimalPointAndCommaAgree) {
  std::mt19937 random(8);
  for (int i = 0; i < 500; ++i) {
    const int whole = int(random() % 2000), part = int(random() % 10000);
    char point[40], comma[40];
    c_snprintf(point, sizeof point, "%d.%04d mm", whole, part);  // four decimals are never thousands
    c_snprintf(comma, sizeof comma, "%d,%04d mm", whole, part);
    EXPECT_EQ(parse_quantity(point, Dimension::length)->value, parse_quantity(comma, Dimension::length)->value)
        << point;
  }
}

TEST(Property, FractionsAgreeWithDecimals) {
  for (int whole = 0; whole < 4; ++whole)
    for (int bottom : {2, 4, 8, 16, 32, 64})
      for (int top = 1; top < bottom; ++top) {
        std::string text;
        if (whole > 0) text.append(std::to_string(whole)).append(" ");
        text.append(std::to_string(top)).append("/").append(std::to_string(bottom)).append(" in");
        EXPECT_NEAR(parse_quantity(text, Dimension::length)->value, 25.4 * (whole + double(top) / bottom), 1e-12)
            << text;
      }
}

TEST(Property, RoundingIsWithinHalfAStep) {
  std::mt19937 random(2);
  std::uniform_real_distribution<double> value(-2000, 2000);
  for (int i = 0; i < 2000; ++i) {
    const double v = value(random);
    for (double step : {0.1, 0.5, 1.0, 5.0, 10.0})
      for (bool even : {false, true}) {
        const double r = round_to_step(v, step, even);
        EXPECT_LE(std::abs(r - v), step / 2 * (1 + 1e-9));
        EXPECT_NEAR(r / step, std::round(r / step), 1e-9);
      }
    EXPECT_LE(std::abs(round_significant(v, 3) - v), std::abs(v) * 0.005 + 1e-12);
  }
}

TEST(Property, UnitsOfTheSameDimensionConvertThereAndBack) {
  for (const Unit& a : all_units())
    for (const Unit& b : all_units()) {
      if (a.dimension != b.dimension) continue;
      const double internal = 7.25 * a.factor + a.offset;
      const double back = ((internal - b.offset) / b.factor) * b.factor + b.offset;
      EXPECT_NEAR((back - a.offset) / a.factor, 7.25, 1e-9) << a.symbol << " " << b.symbol;
    }
}

}  // namespace
}  // namespace fortitor::property_test
