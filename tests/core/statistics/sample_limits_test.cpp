// Statistics against their definitions written out again, over samples on every branch.
#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <random>

#include "core/statistics/sample.h"

namespace fortitor::statistics::sample_limits_test {
namespace {

double phi(double z) {
  return 0.5 * std::erfc(-z / std::sqrt(2.0));
}

// A², its modification and p after Stephens 1974 and D'Agostino and Stephens 1986, table 4.9.
Normality by_hand(std::vector<double> v) {
  std::sort(v.begin(), v.end());
  const double n = double(v.size());
  double mean = 0, sd = 0, sum = 0;
  for (double x : v) mean += x / n;
  for (double x : v) sd += (x - mean) * (x - mean) / (n - 1);
  sd = std::sqrt(sd);
  for (size_t i = 0; i < v.size(); ++i)
    sum += (2 * double(i) + 1) *
           (std::log(phi((v[i] - mean) / sd)) + std::log(1 - phi((v[v.size() - 1 - i] - mean) / sd)));
  Normality out;
  out.a2 = -n - sum / n;
  const double a = out.modified = out.a2 * (1 + 0.75 / n + 2.25 / (n * n));
  out.p = a >= 0.6   ? std::exp(1.2937 - 5.709 * a + 0.0186 * a * a)
          : a > 0.34 ? std::exp(0.9177 - 4.279 * a - 1.38 * a * a)
          : a > 0.2  ? 1 - std::exp(-8.318 + 42.796 * a - 59.938 * a * a)
                     : 1 - std::exp(-13.436 + 101.14 * a - 223.73 * a * a);
  return out;
}

TEST(SampleLimits, NormalityOnEveryBranchOfItsTable) {
  std::mt19937_64 random(12);
  std::normal_distribution<double> n;
  int branch[4] = {};
  for (int k = 0; k < 600; ++k) {
    std::vector<double> v(size_t(6 + k % 25));
    const double skew = k % 5 == 0 ? 1.2 : k % 5 == 1 ? 0.5 : 0.0;
    for (double& x : v) x = std::exp(skew * n(random)) + (skew == 0 ? n(random) : 0);
    const auto found = anderson_darling(v);
    ASSERT_TRUE(found);
    const Normality want = by_hand(v);
    EXPECT_NEAR(found->a2, want.a2, 1e-9 * std::max(1.0, want.a2));
    EXPECT_NEAR(found->modified, want.modified, 1e-9 * std::max(1.0, want.modified));
    const double a = want.modified;
    if (std::abs(a - 0.2) > 1e-6 && std::abs(a - 0.34) > 1e-6 && std::abs(a - 0.6) > 1e-6) {
      EXPECT_NEAR(found->p, want.p, 1e-9) << "A* = " << a;
    }
    ++branch[a >= 0.6 ? 3 : a > 0.34 ? 2 : a > 0.2 ? 1 : 0];
  }
  for (int seen : branch) EXPECT_GT(seen, 10) << "every branch was tried";
}

TEST(SampleLimits, IntervalsByTheirQuantiles) {
  const Summary s = summarize({10.1, 9.7, 10.4, 10.0, 9.9, 10.3, 9.8, 10.2});
  // n = 8: t(0.975; 7) = 2.364624, χ²(0.025; 7) = 1.689869, χ²(0.975; 7) = 16.012764.
  EXPECT_NEAR(s.of_mean->high - s.mean, 2.364624 * s.sd / std::sqrt(8.0), 1e-6);
  EXPECT_NEAR(s.mean - s.of_mean->low, 2.364624 * s.sd / std::sqrt(8.0), 1e-6);
  EXPECT_NEAR(s.of_sd->low, s.sd * std::sqrt(7 / 16.012764), 1e-6);
  EXPECT_NEAR(s.of_sd->high, s.sd * std::sqrt(7 / 1.689869), 1e-6);
  EXPECT_NEAR(s.median, 10.05, 1e-12);
  EXPECT_DOUBLE_EQ(s.least, 9.7);
  EXPECT_DOUBLE_EQ(s.most, 10.4);
}

TEST(SampleLimits, OneAndTwoAndNoValues) {
  EXPECT_EQ(summarize({3, NAN}).n, 1u);
  EXPECT_FALSE(summarize({3, NAN}).of_sd);
  const Summary two = summarize({3, 5});
  ASSERT_TRUE(two.of_mean);
  EXPECT_NEAR(two.of_mean->high - 4, 12.706205 * std::sqrt(2.0) / std::sqrt(2.0), 1e-5);
}

TEST(SampleLimits, TheOutlierIsBeyondTheCriticalValueAndNotBefore) {
  // Seven values with a last one at `x`: G grows with it through the critical 2.020 (two-sided 5 %, n = 7).
  auto tested = [](double x) { return *grubbs({1, 2, 3, 4, 5, 6, x}); };
  EXPECT_NEAR(tested(8).critical, 2.0200, 5e-4);
  double low = 8, high = 40;
  while (high - low > 1e-9) (tested((low + high) / 2).outlier ? high : low) = (low + high) / 2;
  EXPECT_NEAR(tested(high).g, tested(high).critical, 1e-6);
  EXPECT_FALSE(tested(low - 0.01).outlier);
  EXPECT_TRUE(tested(high + 0.01).outlier);
  EXPECT_EQ(tested(30).index, 6u);
}

TEST(SampleLimits, RepeatedStepsShareTheLevelAndLeaveTwoThirds) {
  std::vector<double> v = {10.0, 10.1, 9.9, 10.05, 9.95, 10.02, 9.98, 10.08, 9.92};
  for (double far : {30.0, 50.0, 80.0, 120.0, 200.0}) v.push_back(far);
  EXPECT_LE(grubbs_repeated(v).size(), v.size() / 3);
  // The k-th step is held to alpha/k: what passes the first at 5 % may not pass the second.
  const std::vector<double> base = {1, 2, 3, 4, 5, 6, 2.5, 3.5, 4.5, 3.2, 3.8};
  std::vector<double> two = base;
  two.push_back(40);
  double low = 7, high = 40;
  auto second = [&](double x) {
    std::vector<double> w = two;
    w.push_back(x);
    return grubbs_repeated(w).size() == 2;
  };
  while (high - low > 1e-9) (second((low + high) / 2) ? high : low) = (low + high) / 2;
  std::vector<double> rest = base;
  rest.push_back(high);
  const auto alone = grubbs(rest, 0.025);
  EXPECT_NEAR(alone->g, alone->critical, 1e-6) << "the second step at half the level";
}

TEST(SampleLimits, TwoGroupsByWelchsFormula) {
  const std::vector<double> a = {5.1, 4.9, 5.3, 5.0, 5.2}, b = {4.2, 4.9, 4.4, 4.0};
  auto mean = [](const std::vector<double>& v) {
    double s = 0;
    for (double x : v) s += x;
    return s / double(v.size());
  };
  auto variance = [&](const std::vector<double>& v) {
    double s = 0;
    for (double x : v) s += (x - mean(v)) * (x - mean(v));
    return s / double(v.size() - 1);
  };
  const double va = variance(a) / 5, vb = variance(b) / 4, se = std::sqrt(va + vb);
  const auto w = welch(a, b);
  ASSERT_TRUE(w);
  EXPECT_NEAR(w->difference, mean(a) - mean(b), 1e-12);
  EXPECT_NEAR(w->t, (mean(a) - mean(b)) / se, 1e-12);
  EXPECT_NEAR(w->dof, (va + vb) * (va + vb) / (va * va / 4 + vb * vb / 3), 1e-9);
  EXPECT_NEAR(w->p, t_two_sided(w->t, w->dof), 1e-12);
  EXPECT_NEAR(w->of_difference.high - w->difference, t_quantile(0.975, w->dof) * se, 1e-9);
  EXPECT_NEAR(w->difference - w->of_difference.low, t_quantile(0.975, w->dof) * se, 1e-9);
}

TEST(SampleLimits, QuantilesAndTails) {
  EXPECT_NEAR(t_quantile(0.95, 10), 1.812461, 1e-6);
  EXPECT_NEAR(t_two_sided(1.812461, 10), 0.10, 1e-6);
  EXPECT_NEAR(t_two_sided(-1.812461, 10), 0.10, 1e-6);
  EXPECT_TRUE(std::isnan(t_quantile(0, 10)));
  EXPECT_TRUE(std::isnan(t_quantile(1, 10)));
  EXPECT_TRUE(std::isnan(t_quantile(0.5, 0)));
}

TEST(SampleLimits, TheMedianOfEvenAndOddCounts) {
  EXPECT_DOUBLE_EQ(summarize({4, 1, 3}).median, 3);
  EXPECT_DOUBLE_EQ(summarize({4, 1, 3, 2}).median, 2.5);
}

TEST(SampleLimits, BinsAreAboutTheRootOfTheCountAndFourToTwenty) {
  std::vector<double> v;
  for (int i = 0; i < 5; ++i) v.push_back(i);
  EXPECT_GE(histogram(v).counts.size(), 4u);
  v.clear();
  for (int i = 0; i < 2000; ++i) v.push_back(0.37 * i);
  EXPECT_LE(histogram(v).counts.size(), 24u) << "round edges may add a few";
  EXPECT_GE(histogram(v).counts.size(), 10u);
}

TEST(SampleLimits, ABoundRaisesTheMeanAndAnIntervalPinsIt) {
  const auto plain = censored_normal({{10}, {11}, {12}, {13}, {14}});
  const auto bound = censored_normal({{10}, {11}, {12}, {13}, {14, Censoring{true, 0, 0}}});
  const auto pinned = censored_normal({{10}, {11}, {12}, {13}, {14, Censoring{false, 13.999, 14.001}}});
  ASSERT_TRUE(plain && bound && pinned);
  EXPECT_GT(bound->mean, plain->mean);
  EXPECT_EQ(bound->censored, 1u);
  EXPECT_EQ(bound->measured, 4u);
  // The likelihood's own deviation divides by n: pinned to its place the bound is a value.
  EXPECT_NEAR(pinned->mean, 12, 1e-3);
  EXPECT_FALSE(censored_normal({{10}, {11, Censoring{true, 0, 0}}})) << "one measured value has no scatter";
}

}  // namespace
}  // namespace fortitor::statistics::sample_limits_test
