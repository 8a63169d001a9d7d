#include "core/quantity/format.h"

#include <gtest/gtest.h>

#include <cmath>

namespace fortitor::format_test {
namespace {

std::string rounded(double mpa, RoundingClass c, RoundingSchool s, Dimension d = Dimension::stress) {
  return printed(mpa, d, c, s, UnitSet::si).number;
}

TEST(Format, IsoStepsOfTheClasses) {
  EXPECT_EQ(rounded(366.5, RoundingClass::strength, RoundingSchool::iso), "367");
  EXPECT_EQ(rounded(0.01325, RoundingClass::yield_elongation, RoundingSchool::iso, Dimension::elongation), "1.3");
  EXPECT_EQ(rounded(0.2326, RoundingClass::elongation, RoundingSchool::iso, Dimension::elongation), "23.5");
  EXPECT_EQ(rounded(0.5556, RoundingClass::reduction, RoundingSchool::iso, Dimension::elongation), "56");
}

TEST(Format, AstmHalfToEvenAndClasses) {
  EXPECT_EQ(rounded(366.5, RoundingClass::strength, RoundingSchool::astm), "366");
  EXPECT_EQ(rounded(367.5, RoundingClass::strength, RoundingSchool::astm), "368");
  EXPECT_EQ(rounded(702.5, RoundingClass::strength, RoundingSchool::astm), "700");
  EXPECT_EQ(rounded(707.5, RoundingClass::strength, RoundingSchool::astm), "710");
  EXPECT_EQ(rounded(1236, RoundingClass::strength, RoundingSchool::astm), "1240");
  EXPECT_EQ(rounded(0.0925, RoundingClass::elongation, RoundingSchool::astm, Dimension::elongation), "9.0");
  EXPECT_EQ(rounded(0.2350, RoundingClass::elongation, RoundingSchool::astm, Dimension::elongation), "24");
}

TEST(Format, SignificantFigures) {
  EXPECT_EQ(significant(206123.4, 4), "206100");
  EXPECT_EQ(significant(0.00025, 2), "0.00025");
  EXPECT_EQ(significant(9.9996, 4), "10.00");
  EXPECT_EQ(significant(0, 4), "0");
  EXPECT_EQ(significant(-1.5, 2), "−1.5");
  EXPECT_EQ(significant(1.25e-6, 3), "1.25·10⁻⁶");
  EXPECT_EQ(significant(NAN, 3), "–");
}

TEST(Format, RoundingHasNoSurprises) {
  EXPECT_DOUBLE_EQ(round_to_step(-0.2, 1, false), 0.0);
  EXPECT_EQ(std::signbit(round_to_step(-0.2, 1, false)), false);
  EXPECT_DOUBLE_EQ(round_to_step(0.15, 0.1, true), 0.2);
  EXPECT_DOUBLE_EQ(round_to_step(0.25, 0.1, true), 0.2);
  EXPECT_DOUBLE_EQ(round_to_step(-2.5, 1, false), -3);
  EXPECT_TRUE(std::isnan(round_to_step(NAN, 1, true)));
  EXPECT_DOUBLE_EQ(round_significant(5e-324, 3), round_significant(5e-324, 3));
}

TEST(Format, DisplaySets) {
  EXPECT_EQ(format_value(366, Dimension::stress, UnitSet::us, 4), "53.08 ksi");
  EXPECT_EQ(format_value(206000, Dimension::modulus, UnitSet::si, 4), "206.0 GPa");
  EXPECT_EQ(format_value(206000, Dimension::modulus, UnitSet::us, 4), "29.88 Mpsi");
  EXPECT_EQ(format_value(98.0665, Dimension::stress, UnitSet::kgf, 4), "10.00 kgf/mm²");
  EXPECT_EQ(format_value(28860, Dimension::force, UnitSet::si, 4), "28.86 kN");
  EXPECT_EQ(format_value(20, Dimension::temperature, UnitSet::us, 3), "68.0 °F");
  EXPECT_EQ(typed_value(50, Dimension::frequency, UnitSet::si), "50 Hz");
}

TEST(Format, UncertaintyIgnoresTheOffsetOfScales) {
  EXPECT_EQ(printed_uncertainty(1, 20, Dimension::temperature, UnitSet::us).number, "1.8");
  EXPECT_EQ(printed_uncertainty(4.08, 366, Dimension::stress, UnitSet::si).text(), "4.1 MPa");
}

}  // namespace
}  // namespace fortitor::format_test
