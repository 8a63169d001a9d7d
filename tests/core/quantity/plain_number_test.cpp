// Numbers that are typed for a person must read back as what they were.
#include <gtest/gtest.h>

#include <cmath>

#include "core/quantity/format.h"
#include "core/quantity/parse.h"

namespace fortitor::plain_number_test {
namespace {

TEST(PlainNumber, HasNoExponentAndReadsBack) {
  EXPECT_EQ(plain_number(1500, 4), "1500");
  EXPECT_EQ(plain_number(0.000025, 5), "0.000025");
  EXPECT_EQ(plain_number(123456789, 4), "123500000");
  EXPECT_EQ(plain_number(0, 4), "0");
  for (double v : {1.234567e-9, 3.3e-5, 0.02, 1.5, 250.75, 8.1e7})
    for (double sign : {1.0, -1.0}) {
      const auto q = parse_quantity(plain_number(sign * v, 6) + " mm", Dimension::length);
      ASSERT_TRUE(q) << plain_number(sign * v, 6);
      EXPECT_NEAR(q->value, sign * v, 1e-5 * v);
    }
}

TEST(PlainNumber, AdvisedSamplingIsTypedPlainly) {
  EXPECT_EQ(typed_value(1500, Dimension::frequency, UnitSet::si, 2), "1500 Hz");
  EXPECT_EQ(typed_value(2.5e-5, Dimension::none, UnitSet::si, 5), "0.000025");
}

}  // namespace
}  // namespace fortitor::plain_number_test
