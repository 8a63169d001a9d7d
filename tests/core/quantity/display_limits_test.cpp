// Where the unit of a display changes, and where a printed step does.
#include <gtest/gtest.h>

#include "core/quantity/format.h"
#include "core/quantity/parse.h"
#include "core/quantity/unit.h"
#include "core/record/record.h"

namespace fortitor::display_limits_test {
namespace {

using D = Dimension;

struct Switch {
  D dimension;
  UnitSet set;
  double below, at;  ///< internal units
  const char *small, *large;
};

class DisplaySwitch : public testing::TestWithParam<Switch> {};

TEST_P(DisplaySwitch, HappensAtItsLimitAndForEitherSign) {
  const Switch& s = GetParam();
  EXPECT_EQ(display_unit(s.dimension, s.set, s.below).symbol, s.small);
  EXPECT_EQ(display_unit(s.dimension, s.set, s.at).symbol, s.large);
  EXPECT_EQ(display_unit(s.dimension, s.set, -s.below).symbol, s.small);
  EXPECT_EQ(display_unit(s.dimension, s.set, -s.at).symbol, s.large);
}

constexpr double lbf = 4.4482216152605, kgf = 9.80665;

INSTANTIATE_TEST_SUITE_P(Units, DisplaySwitch,
                         testing::Values(Switch{D::length, UnitSet::si, 9999, 10000, "mm", "m"},
                                         Switch{D::force, UnitSet::si, 9999, 10000, "N", "kN"},
                                         Switch{D::force, UnitSet::us, 9999 * lbf, 10001 * lbf, "lbf", "kip"},
                                         Switch{D::force, UnitSet::kgf, 9999 * kgf, 10001 * kgf, "kgf", "tf"},
                                         Switch{D::time, UnitSet::si, 599, 600, "s", "min"},
                                         Switch{D::time, UnitSet::si, 7199, 7200, "min", "h"},
                                         Switch{D::time, UnitSet::si, 172799, 172800, "h", "d"},
                                         Switch{D::mass, UnitSet::si, 0.999, 1, "g", "kg"},
                                         Switch{D::speed, UnitSet::si, 99, 100, "mm/min", "m/s"},
                                         Switch{D::frequency, UnitSet::si, 9999, 10000, "Hz", "kHz"},
                                         Switch{D::stiffness, UnitSet::si, 9999, 10000, "N/mm", "kN/mm"},
                                         Switch{D::force_rate, UnitSet::si, 999, 1000, "N/s", "kN/s"}));

TEST(DisplayUnits, OfEverySet) {
  for (const auto& [d, si, us, kgf_unit] : {std::tuple{D::stress, "MPa", "ksi", "kgf/mm²"},
                                            {D::modulus, "GPa", "Mpsi", "kgf/mm²"},
                                            {D::energy, "J", "ft·lbf", "kgf·m"},
                                            {D::torque, "N·m", "in·lbf", "kgf·m"},
                                            {D::area, "mm²", "in²", "mm²"},
                                            {D::temperature, "°C", "°F", "°C"},
                                            {D::impact_area, "J/cm²", "ft·lbf/in²", "kgf·m/cm²"},
                                            {D::stress_rate, "MPa/s", "ksi/min", "MPa/s"},
                                            {D::energy_density, "MJ/m³", "in·lbf/in³", "MJ/m³"},
                                            {D::second_moment, "mm⁴", "in⁴", "mm⁴"},
                                            {D::section_modulus, "mm³", "in³", "mm³"}}) {
    EXPECT_EQ(display_unit(d, UnitSet::si, 1).symbol, si);
    EXPECT_EQ(display_unit(d, UnitSet::us, 1).symbol, us);
    EXPECT_EQ(display_unit(d, UnitSet::kgf, 1).symbol, kgf_unit);
  }
  EXPECT_EQ(display_unit(D::mass, UnitSet::si, 0).symbol, "kg") << "nothing is no gram";
}

TEST(PrintedSteps, ChangeAtTheirLimits) {
  auto astm = [](double v, RoundingClass c, D d = D::stress) {
    return printed(v, d, c, RoundingSchool::astm, UnitSet::si).number;
  };
  EXPECT_EQ(astm(499.4, RoundingClass::strength), "499");
  EXPECT_EQ(astm(502, RoundingClass::strength), "500") << "steps of 5 from 500 on";
  EXPECT_EQ(astm(997, RoundingClass::strength), "995");
  EXPECT_EQ(astm(1004, RoundingClass::strength), "1000") << "steps of 10 from 1000 on";
  EXPECT_EQ(astm(0.0960, RoundingClass::elongation, D::elongation), "9.5");
  EXPECT_EQ(astm(0.1040, RoundingClass::elongation, D::elongation), "10");
  EXPECT_EQ(astm(0.0960, RoundingClass::reduction, D::elongation), "9.5");
  EXPECT_EQ(astm(0.1060, RoundingClass::reduction, D::elongation), "11");
}

TEST(SignificantLimits, PowersOfTenFromTheEighthPlaceOn) {
  EXPECT_EQ(significant(12345678, 3), "12300000");
  EXPECT_EQ(significant(123456789, 3), "1.23·10⁸");
  EXPECT_EQ(significant(0.000123, 2), "0.00012");
  EXPECT_EQ(significant(0.0000123, 2), "1.2·10⁻⁵");
}

TEST(Typed, GroupsOfThreeAndZerosInFront) {
  auto mm = [](const char* text, UnitSet set = UnitSet::si) { return parse_quantity(text, D::length, {set, nullptr}); };
  EXPECT_DOUBLE_EQ(mm("0,125 mm")->value, 0.125) << "a leading zero makes it a decimal";
  EXPECT_FALSE(mm("1,125 mm")) << "1.125 or 1125: asked back";
  EXPECT_DOUBLE_EQ(mm("1,12 mm")->value, 1.12);
  EXPECT_DOUBLE_EQ(mm("1,1250 mm")->value, 1.125) << "four digits are no group";
  EXPECT_DOUBLE_EQ(mm("1,234,567 mm")->value, 1234567);
  EXPECT_DOUBLE_EQ(mm("1.234,5 mm")->value, 1234.5);
  EXPECT_DOUBLE_EQ(mm("1,234.5 mm")->value, 1234.5);
  EXPECT_FALSE(mm("0,234,567 mm"));
  EXPECT_FALSE(mm("12,34.5 mm"));
}

TEST(Typed, TheLastDigitCountsItsExponentToo) {
  const auto q = parse_quantity("1.25e3 N", D::force);
  ASSERT_TRUE(q);
  EXPECT_DOUBLE_EQ(q->value, 1250);
  EXPECT_DOUBLE_EQ(reading_of(*q).resolution, 10) << "two decimals of thousands";
  EXPECT_DOUBLE_EQ(reading_of(*parse_quantity("1.25 kN", D::force)).resolution, 10);
  EXPECT_DOUBLE_EQ(reading_of(*parse_quantity("1250 N", D::force)).resolution, 1);
}

TEST(Typed, MegaAndMilliAreNotTwins) {
  EXPECT_DOUBLE_EQ(parse_quantity("5 MPa", D::stress)->value, 5);
  EXPECT_DOUBLE_EQ(parse_quantity("5 mPa", D::stress)->value, 5e-9);
  EXPECT_DOUBLE_EQ(parse_quantity("5 MN", D::force)->value, 5e6);
  EXPECT_DOUBLE_EQ(parse_quantity("5 mN", D::force)->value, 5e-3);
}

}  // namespace
}  // namespace fortitor::display_limits_test
