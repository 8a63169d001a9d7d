// Statistics against tables of independent values and closed forms.
#include "core/statistics/sample.h"

#include <gtest/gtest.h>

#include <cmath>
#include <fstream>
#include <nlohmann/json.hpp>
#include <random>
#include "tests/c_text.h"

namespace fortitor::statistics::sample_test {
namespace {  // Kept for the whole run: iterating over a member of a temporary document would read what is gone.
const nlohmann::json& figures() {
  static const nlohmann::json all = [] {
    std::ifstream in(FORTITOR_TEST_DATA "/figures.json");
    return nlohmann::json::parse(in);
  }();
  return all;
}

TEST(Sample, TQuantilesMatchTheTable) {
  for (const auto& [dof, t] : figures()["t_quantile_0.975"].items())
    EXPECT_NEAR(t_quantile(0.975, c_strtod(dof.c_str(), nullptr)), t.get<double>(), 2e-6) << dof;
  EXPECT_TRUE(std::isnan(t_quantile(0.975, 0)));
  EXPECT_TRUE(std::isnan(t_quantile(1.0, 5)));
}

TEST(Sample, GrubbsCriticalValuesMatchTheTable) {
  for (const auto& [n, g] : figures()["grubbs_critical_two_sided_5_percent"].items())
    EXPECT_NEAR(grubbs_critical(std::stoul(n)), g.get<double>(), 1e-4) << n;
}

TEST(Sample, ToleranceFactorsMatchTheTable) {
  const auto table = figures()["tolerance_factors"];
  for (const auto& [n, k] : table["B"].items())
    EXPECT_NEAR(tolerance_factor(std::stoul(n), 0.90), k.get<double>(), 2e-4) << n;
  for (const auto& [n, k] : table["A"].items())
    EXPECT_NEAR(tolerance_factor(std::stoul(n), 0.99), k.get<double>(), 3e-4) << n;
  EXPECT_TRUE(std::isnan(tolerance_factor(1, 0.9)));
}

TEST(Sample, WelchAndAndersonDarlingMatchThePublishedSamples) {
  const auto s = figures()["samples"];
  const auto a = s["a"].get<std::vector<double>>(), b = s["b"].get<std::vector<double>>();
  const auto w = welch(a, b);
  ASSERT_TRUE(w);
  EXPECT_NEAR(w->t, s["welch"]["t"].get<double>(), 1e-10);
  EXPECT_NEAR(w->p, s["welch"]["p"].get<double>(), 1e-9);
  EXPECT_LT(w->of_difference.low, w->difference);
  const auto n = anderson_darling(a);
  ASSERT_TRUE(n);
  EXPECT_NEAR(n->a2, s["anderson_darling_a_statistic"].get<double>(), 1e-9);
  EXPECT_GT(n->p, 0.4);
}

TEST(Sample, SummaryOfASmallSampleByHand) {
  const Summary s = summarize({4, 2, 6, NAN});
  EXPECT_EQ(s.n, 3u);
  EXPECT_DOUBLE_EQ(s.mean, 4);
  EXPECT_DOUBLE_EQ(s.sd, 2);
  EXPECT_DOUBLE_EQ(s.cv, 0.5);
  EXPECT_DOUBLE_EQ(s.median, 4);
  ASSERT_TRUE(s.of_mean);
  EXPECT_NEAR(s.of_mean->high - s.mean, 4.302653 * 2 / std::sqrt(3.0), 1e-5);
  EXPECT_LT(s.of_sd->low, 2);
  EXPECT_GT(s.of_sd->high, 2);
}

TEST(Sample, AwkwardSamplesGiveNothingRatherThanNonsense) {
  EXPECT_EQ(summarize({}).n, 0u);
  EXPECT_FALSE(summarize({5}).of_mean);
  EXPECT_FALSE(grubbs({1, 1, 1, 1}));
  EXPECT_FALSE(grubbs({1, 2}));
  EXPECT_FALSE(welch({1, 1}, {1, 1}));
  EXPECT_FALSE(welch({1}, {1, 2}));
  EXPECT_FALSE(anderson_darling({1, 2, 3}));
  EXPECT_FALSE(anderson_darling({2, 2, 2, 2, 2, 2}));
  EXPECT_TRUE(histogram({}).counts.empty());
}

TEST(Sample, RepeatedGrubbsFindsBothOutliersAndKeepsTheRest) {
  std::vector<double> v{10.1, 9.9, 10.0, 10.2, 9.8, 10.05, 9.95, 10.1, 9.9, 10.0, 14.0, 5.0};
  const auto found = grubbs_repeated(v);
  ASSERT_EQ(found.size(), 2u);
  EXPECT_TRUE((found[0] == 10 && found[1] == 11) || (found[0] == 11 && found[1] == 10));
  v.resize(10);
  EXPECT_TRUE(grubbs_repeated(v).empty());
}

TEST(Sample, NormalSamplesRarelyLookOtherwiseAndUniformPairsDo) {
  std::mt19937_64 random(4);
  std::normal_distribution<double> n(100, 5);
  int rejected = 0;
  for (int k = 0; k < 400; ++k) {
    std::vector<double> v(20);
    for (double& x : v) x = n(random);
    rejected += anderson_darling(v)->p < 0.05;
  }
  EXPECT_NEAR(rejected, 20, 14);
  EXPECT_LT(anderson_darling({1, 1.01, 1.02, 0.99, 1, 9, 9.01, 9.02, 8.99, 9})->p, 0.01);
}

TEST(Sample, CensoredLikelihoodEqualsTheMomentsWithoutBounds) {
  const auto fit = censored_normal({{1}, {2}, {3}, {4}});
  ASSERT_TRUE(fit);
  EXPECT_DOUBLE_EQ(fit->mean, 2.5);
  EXPECT_NEAR(fit->sd, std::sqrt(5.0 / 3), 1e-12);
}

// Cohen's relation for right censoring at one point is recovered by a large sample.
TEST(Sample, CensoredLikelihoodRecoversThePopulation) {
  std::mt19937_64 random(9);
  std::normal_distribution<double> n(50, 4);
  std::vector<Observation> values;
  for (int i = 0; i < 6000; ++i) {
    const double x = n(random);
    if (x > 53)
      values.push_back({53, Censoring{true, 0, 0}});
    else if (x > 48 && x < 49)
      values.push_back({48.5, Censoring{false, 48, 49}});
    else
      values.push_back({x});
  }
  const auto fit = censored_normal(values);
  ASSERT_TRUE(fit);
  EXPECT_NEAR(fit->mean, 50, 0.2);
  EXPECT_NEAR(fit->sd, 4, 0.15);
  EXPECT_GT(fit->censored, 1000u);
}

TEST(Sample, HistogramCountsEveryValueOnce) {
  const Histogram h = histogram({1, 2, 2, 3, 3, 3, 4, 4, 5, 9});
  size_t sum = 0;
  for (size_t c : h.counts) sum += c;
  EXPECT_EQ(sum, 10u);
  EXPECT_DOUBLE_EQ(h.width, 2) << "range 8 over four bins, a round width";
  EXPECT_DOUBLE_EQ(h.from, 0) << "edges at multiples of the width";
  EXPECT_EQ(h.counts, (std::vector<size_t>{1, 5, 3, 0, 1}));
  EXPECT_EQ(histogram({}).counts.size(), 0u);
  EXPECT_EQ(histogram({5, 5, 5}).counts, std::vector<size_t>{3});
}

}  // namespace
}  // namespace fortitor::statistics::sample_test
