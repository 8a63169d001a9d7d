// Numbers of an axis: round whatever the range and in whatever unit, and decades of a log axis.
#include "core/figure/ticks.h"

#include <gtest/gtest.h>

#include <cmath>

namespace fortitor::figure::ticks_test {
namespace {

TEST(Ticks, AreRoundWhateverTheRange) {
  for (const auto& [low, high] :
       {std::pair{12.77, 16.17}, {0.0, 1.0}, {-3.3, 871.0}, {1e-7, 9.3e-7}, {12345.0, 12399.0}}) {
    const auto ticks = linear_ticks(low, high, 6);
    ASSERT_GE(ticks.size(), 3u);
    const double step = ticks[1].value - ticks[0].value;
    const double mantissa = step / std::pow(10, std::floor(std::log10(step) + 1e-9));
    EXPECT_TRUE(std::abs(mantissa - 1) < 1e-6 || std::abs(mantissa - 2) < 1e-6 || std::abs(mantissa - 5) < 1e-6)
        << step;
    for (const Tick& t : ticks) {
      EXPECT_GE(t.value, low - 1e-9 * step);
      EXPECT_LE(t.value, high + 1e-9 * step);
      EXPECT_NEAR(t.value / step, std::round(t.value / step), 1e-6);
      EXPECT_FALSE(t.label.empty());
    }
  }
  EXPECT_TRUE(linear_ticks(1, 1, 5).empty());
  EXPECT_TRUE(linear_ticks(NAN, 1, 5).empty());
  EXPECT_TRUE(linear_ticks(0, 1, 5, 0).empty());
}

TEST(Ticks, AreRoundInTheUnitThatIsShown) {
  const double psi = 0.006894757;
  for (const Tick& t : linear_ticks(0, 500, 5, 1000 * psi))
    EXPECT_NEAR(std::fmod(t.value / (1000 * psi) + 1e-9, 10), 0, 1e-6) << t.label;
}

TEST(Ticks, DecadesOfALogAxis) {
  const auto ticks = log_ticks(1e3, 1e8);
  std::vector<std::string> worded;
  for (const Tick& t : ticks)
    if (!t.minor) worded.push_back(t.label);
  EXPECT_EQ(worded, (std::vector<std::string>{"1000", "10000", "10⁵", "10⁶", "10⁷", "10⁸"}));
  EXPECT_GT(ticks.size(), worded.size()) << "lines without words between the decades";
  EXPECT_TRUE(log_ticks(0, 10).empty());
  EXPECT_TRUE(log_ticks(-1, 10).empty());
}

}  // namespace
}  // namespace fortitor::figure::ticks_test
