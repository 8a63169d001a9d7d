// Basis values: factors against CMH-17's tables, the Weibull fit against scipy 1.10 (tests/reference/statistics.py),
// and the promise itself: in 95 of 100 samples the bound lies below the quantile.
#include "core/statistics/basis.h"

#include <gtest/gtest.h>

#include <boost/random/mersenne_twister.hpp>
#include <boost/random/normal_distribution.hpp>
#include <boost/random/weibull_distribution.hpp>
#include <cmath>

namespace fortitor::statistics::basis_test {
namespace {

const std::vector<double> kTwelve = {612, 655, 701, 590, 640, 688, 720, 575, 630, 660, 699, 710};

TEST(Basis, WeibullFit) {
  const auto w = weibull(kTwelve);
  ASSERT_TRUE(w);
  EXPECT_NEAR(w->shape, 17.194258687986363, 1e-4);
  EXPECT_NEAR(w->scale, 677.7673434675944, 1e-3);
  EXPECT_GT(w->p, 0.05);
  std::vector<double> tiny, huge;
  for (double x : kTwelve) tiny.push_back(x * 1e-200), huge.push_back(x * 1e200);
  EXPECT_NEAR(weibull(tiny)->shape, w->shape, 1e-9);
  EXPECT_NEAR(weibull(huge)->shape, w->shape, 1e-9);
  EXPECT_FALSE(weibull({1, 2}));
  EXPECT_FALSE(weibull({5, 5, 5, 5}));
  EXPECT_FALSE(weibull({5, 0, 6}));
  EXPECT_FALSE(weibull({5, -1, 6}));
  EXPECT_FALSE(weibull({5, NAN, 6}));
  EXPECT_TRUE(std::isnan(weibull({5, 6, 7})->p)) << "too few to judge the fit";
  EXPECT_GT(weibull({100, 100.001, 100.002, 100.003, 100.0005})->shape, 5e4);
}

TEST(Basis, HansonKoopmansFactors) {
  // CMH-17, tables 8.5.14 and 8.5.15.
  EXPECT_NEAR(hanson_koopmans_factor(2, 2, 0.90), 35.177, 0.01);
  EXPECT_NEAR(hanson_koopmans_factor(5, 4, 0.90), 4.101, 0.001);
  EXPECT_NEAR(hanson_koopmans_factor(10, 6, 0.90), 2.137, 0.001);
  EXPECT_NEAR(hanson_koopmans_factor(20, 10, 0.90), 1.253, 0.001);
  EXPECT_NEAR(hanson_koopmans_factor(28, 12, 0.90), 1.010, 0.001);
  EXPECT_NEAR(hanson_koopmans_factor(2, 2, 0.99), 80.0038, 0.01);
  EXPECT_NEAR(hanson_koopmans_factor(5, 5, 0.99), 6.89049, 1e-4);
  EXPECT_TRUE(std::isnan(hanson_koopmans_factor(5, 1, 0.9)));
  EXPECT_TRUE(std::isnan(hanson_koopmans_factor(5, 6, 0.9)));
}

TEST(Basis, RanksOfOrderStatistics) {
  // CMH-17, tables 8.5.12 and 8.5.13.
  EXPECT_EQ(nonparametric_rank(28, 0.90), 0u);
  EXPECT_EQ(nonparametric_rank(29, 0.90), 1u);
  EXPECT_EQ(nonparametric_rank(45, 0.90), 1u);
  EXPECT_EQ(nonparametric_rank(46, 0.90), 2u);
  EXPECT_EQ(nonparametric_rank(61, 0.90), 3u);
  EXPECT_EQ(nonparametric_rank(298, 0.99), 0u);
  EXPECT_EQ(nonparametric_rank(299, 0.99), 1u);
  EXPECT_EQ(nonparametric_rank(473, 0.99), 2u);
  EXPECT_EQ(nonparametric_rank(0, 0.99), 0u);
}

TEST(Basis, TheModelThatIsNotContradicted) {
  EXPECT_EQ(basis(kTwelve)->model, BasisModel::normal);
  const Summary s = summarize(kTwelve);
  EXPECT_NEAR(*basis(kTwelve)->b, s.mean - tolerance_factor(12, 0.9) * s.sd, 1e-9);
  EXPECT_NEAR(*basis(kTwelve)->a, s.mean - tolerance_factor(12, 0.99) * s.sd, 1e-9);
  // A long tail to small values is what a Weibull does and a normal does not.
  const std::vector<double> tail = {300, 420, 470, 500, 515, 530, 540, 548, 552, 556,
                                    560, 563, 566, 569, 572, 575, 578, 581, 585, 590};
  ASSERT_LT(anderson_darling(tail)->p, 0.05);
  const auto w = basis(tail);
  ASSERT_TRUE(w);
  EXPECT_EQ(w->model, weibull(tail)->p >= 0.05 ? BasisModel::weibull : BasisModel::nonparametric);
  // Two lots in one: no shape fits.
  std::vector<double> mixed;
  for (int i = 0; i < 15; ++i) mixed.push_back(500 + i), mixed.push_back(900 + 0.5 * i);
  ASSERT_EQ(basis(mixed)->model, BasisModel::nonparametric);
  EXPECT_EQ(*basis(mixed)->b, 500) << "30 values: the smallest one";
  EXPECT_LT(*basis(mixed)->a, 500);
  mixed.resize(28);
  EXPECT_LT(*basis(mixed)->b, 500);
  EXPECT_NE(basis(mixed)->how_b.find("r = 12"), std::string::npos);
}

// Values of a Weibull mostly do not contradict a normal, whose bounds then lie too high: the other bounds are known
// beside them. With many values of a normal the Weibull is out of the question.
TEST(Basis, TheRivalThatLiesLower) {
  boost::random::mt19937_64 random(11);
  boost::random::weibull_distribution<double> weibull_of(20, 500);
  int normal = 0, told = 0;
  for (int k = 0; k < 200; ++k) {
    std::vector<double> v;
    for (int i = 0; i < 18; ++i) v.push_back(weibull_of(random));
    const auto taken = basis(v);
    if (!taken || taken->model != BasisModel::normal || *taken->a <= 500 * std::pow(-std::log(0.99), 1 / 20.0))
      continue;
    ++normal;
    if (const auto rival = lower_rival(v)) told += *rival->a < *taken->a && *rival->b < *taken->b;
  }
  EXPECT_GT(normal, 20);
  EXPECT_GE(told, normal * 9 / 10) << "of the bounds that lie too high nearly all have their warning";
  boost::random::normal_distribution<double> normal_of(500, 25);
  std::vector<double> many;
  for (int i = 0; i < 400; ++i) many.push_back(normal_of(random));
  EXPECT_FALSE(lower_rival(many));
  EXPECT_FALSE(lower_rival({1, 2}));
  EXPECT_FALSE(lower_rival({5, 5, 5}));
  EXPECT_FALSE(lower_rival({-1, 2, 3, 4}));
}

TEST(Basis, AwkwardSamples) {
  EXPECT_FALSE(basis({1, 2}));
  EXPECT_FALSE(basis({2, 2, 2, 2}));
  EXPECT_FALSE(basis({1, 2, NAN, 4}));
  ASSERT_TRUE(basis({1, 2, 3}));
  // No bound by ratios where a value is not positive.
  EXPECT_FALSE(basis_by(BasisModel::nonparametric, {-1, 2, 3})->b);
  EXPECT_FALSE(basis_by(BasisModel::weibull, {-1, 2, 3}));
}

// The bound is below the true quantile in 95 of 100 samples: 2000 samples leave ± 1.5 of 100.
TEST(Basis, KeepsItsConfidence) {
  boost::random::mt19937_64 random(31);
  boost::random::weibull_distribution<double> draw(8, 100);
  const double b_true = 100 * std::pow(-std::log(0.90), 1 / 8.0), a_true = 100 * std::pow(-std::log(0.99), 1 / 8.0);
  for (size_t n : {5u, 10u, 30u}) {
    int a = 0, b = 0, without = 0;
    for (int i = 0; i < 2000; ++i) {
      std::vector<double> x(n);
      for (double& v : x) v = draw(random);
      const auto w = basis_by(BasisModel::weibull, x);
      a += *w->a <= a_true;
      b += *w->b <= b_true;
      if (i % 10 == 0) without += *basis_by(BasisModel::nonparametric, x)->b <= b_true;
    }
    EXPECT_NEAR(a, 1900, 30) << n;
    EXPECT_NEAR(b, 1900, 30) << n;
    EXPECT_GE(without, 182) << n << ": of 200";
  }
}

}  // namespace
}  // namespace fortitor::statistics::basis_test
