#include "core/curve/fit.h"

#include <gtest/gtest.h>

#include <cmath>
#include <fstream>
#include <nlohmann/json.hpp>

namespace fortitor::fit_test {
namespace {

nlohmann::json figures() {
  std::ifstream in(FORTITOR_TEST_DATA "/figures.json");
  return nlohmann::json::parse(in);
}

TEST(Fit, OfTwoLengthsTheShorterCounts) {
  const std::vector<double> four = {0, 1, 2, 3}, two = {5, 7};
  EXPECT_EQ(work_under(four, two, 0, 3), 6);
  EXPECT_EQ(work_under(two, four, 0, 3), 1);
  ASSERT_TRUE(fit_line(four, std::vector<double>{1, 3, 5}));
  EXPECT_NEAR(fit_line(four, std::vector<double>{1, 3, 5})->slope, 2, 1e-12);
}

// Certified values of the NIST StRD set Norris.
TEST(Fit, AgreesWithCertifiedRegression) {
  const auto r = figures()["regression"];
  std::vector<double> x, y;
  for (const auto& p : r["data"]) {
    y.push_back(p[0].get<double>());
    x.push_back(p[1].get<double>());
  }
  const auto f = fit_line(x, y);
  ASSERT_TRUE(f);
  EXPECT_NEAR(f->slope, r["slope"].get<double>(), 1e-12);
  EXPECT_NEAR(f->intercept, r["intercept"].get<double>(), 1e-10);
  EXPECT_NEAR(f->residual_sd, r["residual_sd"].get<double>(), 1e-11);
  EXPECT_NEAR(f->r2, r["r_squared"].get<double>(), 1e-12);
}

TEST(Fit, SumsGiveTheSameLineAsTwoPasses) {
  std::vector<double> x, y;
  for (int i = 0; i < 5000; ++i) {
    x.push_back(1e-6 * i + 3);
    y.push_back(2e5 * (x.back() - 3) + 0.3 * std::sin(i));
  }
  const LineSums sums(x, y, 100, 4900);
  const auto fast = sums.fit(700, 3100), slow = fit_line(x, y, 700, 3100);
  ASSERT_TRUE(fast && slow);
  EXPECT_NEAR(fast->slope, slow->slope, 1e-6 * slow->slope);
  EXPECT_NEAR(fast->r2, slow->r2, 1e-9);
}

TEST(Fit, AwkwardInputs) {
  EXPECT_FALSE(fit_line({1}, {2}));
  EXPECT_FALSE(fit_line({}, {}));
  EXPECT_FALSE(fit_line({2, 2, 2}, {1, 2, 3}));
  EXPECT_FALSE(fit_line({NAN, NAN}, {1, 2}));
  const auto flat = fit_line({1, 2, 3}, {5, 5, 5});
  ASSERT_TRUE(flat);
  EXPECT_DOUBLE_EQ(flat->slope, 0);
  const auto gap = fit_line({1, 2, NAN, 3}, {1, 2, 9, 3});
  ASSERT_TRUE(gap);
  EXPECT_DOUBLE_EQ(gap->slope, 1);
}

TEST(Work, TrapezoidalRuleOnAParabola) {
  std::vector<double> x, y;
  for (int i = 0; i <= 1000; ++i) {
    x.push_back(i / 1000.0);
    y.push_back(x.back() * x.back());
  }
  EXPECT_NEAR(work_under(x, y, 0, 1000), 1.0 / 3, 1e-6);
  y[500] = NAN;
  EXPECT_NEAR(work_under(x, y, 0, 1000), 1.0 / 3, 1e-5);
}

TEST(ValueAt, InterpolatesAndRefusesBeyondTheEnd) {
  EXPECT_DOUBLE_EQ(*value_at({0, 1, 2}, {0, 10, 40}, 1.5, 0, 3), 25);
  EXPECT_FALSE(value_at({0, 1, 2}, {0, 10, 40}, 2.5, 0, 3));
  EXPECT_DOUBLE_EQ(*value_at({0, 1, 1, 2}, {0, 10, 12, 40}, 1, 0, 4), 10);
}

}  // namespace
}  // namespace fortitor::fit_test
