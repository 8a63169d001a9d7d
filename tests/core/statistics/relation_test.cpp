// Straight relations against NIST StRD Norris and scipy 1.10 (tests/reference/statistics.py), charts and counts by
// hand.
#include "core/statistics/relation.h"

#include <gtest/gtest.h>

#include <cmath>

namespace fortitor::statistics::relation_test {
namespace {

const std::vector<double> kHardness = {180, 195, 210, 222, 240, 255, 270},
                          kStrength = {590, 640, 675, 720, 760, 815, 850};

TEST(Relation, AgainstScipy) {
  const auto r = relate(kHardness, kStrength);
  ASSERT_TRUE(r);
  EXPECT_NEAR(r->slope, 2.889998641119718, 1e-12);
  EXPECT_NEAR(r->intercept, 72.41744802282903, 1e-9);
  EXPECT_NEAR(r->r2, 0.9985500866342769 * 0.9985500866342769, 1e-12);
  EXPECT_NEAR(r->slope_error, 0.06967409362167931, 1e-12);
  EXPECT_NEAR(r->intercept_error, 15.785976926610974, 1e-9);
  EXPECT_NEAR(r->p, 1.5362841726259203e-07, 1e-15);
  EXPECT_NEAR(r->residual_sd, 5.5335945432511835, 1e-10);
  EXPECT_NEAR(r->confidence(230), 5.463583935616182, 1e-8);
  EXPECT_NEAR(r->prediction(230), 15.237742254745813, 1e-8);
  EXPECT_LT(r->confidence(r->x_mean), r->confidence(180));
}

TEST(Relation, NorrisOfNist) {
  const std::vector<double> y = {0.1, 338.8, 118.1, 888.0, 9.2,   228.1, 668.5, 998.5, 449.1, 778.9, 559.2, 0.3,
                                 0.1, 778.1, 668.8, 339.3, 448.9, 10.8,  557.7, 228.3, 998.0, 888.8, 119.6, 0.3,
                                 0.6, 557.6, 339.3, 888.0, 998.5, 778.9, 10.2,  117.6, 228.9, 668.4, 449.2, 0.2},
                            x = {0.2, 337.4, 118.2, 884.6, 10.1,  226.5, 666.3, 996.3, 448.6, 777.0, 558.2, 0.4,
                                 0.6, 775.5, 666.9, 338.0, 447.5, 11.6,  556.0, 228.1, 995.8, 887.6, 120.2, 0.3,
                                 0.3, 556.8, 339.1, 887.2, 999.0, 779.0, 11.1,  118.3, 229.2, 669.1, 448.9, 0.5};
  const auto r = relate(x, y);
  ASSERT_TRUE(r);
  EXPECT_NEAR(r->intercept, -0.262323073774029, 1e-12);
  EXPECT_NEAR(r->slope, 1.00211681802045, 1e-13);
  EXPECT_NEAR(r->residual_sd, 0.884796396144373, 1e-12);
  EXPECT_NEAR(r->slope_error, 0.429796848199937e-3, 1e-14);
}

TEST(Relation, AwkwardPairs) {
  EXPECT_FALSE(relate({1, 2}, {1, 2}));
  EXPECT_FALSE(relate({1, 1, 1}, {1, 2, 3}));
  EXPECT_FALSE(relate({1, 2, NAN}, {1, 2, 3})) << "two pairs are left";
  const auto flat = relate({1, 2, 3}, {5, 5, 5});
  ASSERT_TRUE(flat);
  EXPECT_EQ(flat->slope, 0);
  EXPECT_EQ(flat->p, 1);
  EXPECT_EQ(relate({1, 2, 3}, {2, 4, 6})->p, 0);
  EXPECT_NEAR(relate({1e9 + 1, 1e9 + 2, 1e9 + 3}, {2, 4, 6.3})->slope, 2.15, 1e-9);
}

TEST(Chart, LimitsByHand) {
  const auto c = individuals({10, 12, 11, 13, 10});
  ASSERT_TRUE(c);
  EXPECT_NEAR(c->mean, 11.2, 1e-12);
  EXPECT_NEAR(c->moving_range, 2, 1e-12);
  EXPECT_NEAR(c->high, 11.2 + 2.6587 * 2, 1e-3);
  EXPECT_NEAR(c->low, 11.2 - 2.6587 * 2, 1e-3);
  EXPECT_NEAR(c->range_high, 3.267 * 2, 2e-3);
  EXPECT_TRUE(c->beyond.empty());
  EXPECT_FALSE(individuals({1}));
  EXPECT_FALSE(individuals({2, 2, 2}));
}

TEST(Chart, WhatIsOutOfControl) {
  std::vector<double> v = {9, 12, 9, 12, 9, 12, 9, 12, 9, 12, 9, 12, 30, 9, 12};
  const auto c = individuals(v);
  ASSERT_TRUE(c);
  EXPECT_EQ(c->beyond, std::vector<size_t>{12});
  EXPECT_EQ(c->range_beyond, (std::vector<size_t>{12, 13}));
  EXPECT_FALSE(c->run);
  std::vector<double> drift;
  for (int i = 0; i < 9; ++i) drift.push_back(10 + 0.1 * (i % 2));
  for (int i = 0; i < 8; ++i) drift.push_back(11 + 0.1 * (i % 2));
  EXPECT_EQ(individuals(drift)->run, 8u) << "nine below";
  drift.erase(drift.begin());
  EXPECT_FALSE(individuals(drift)->run) << "eight on each side";
}

TEST(SampleSize, IsTheLeastThatHolds) {
  for (double half : {0.3, 0.5, 1.0, 2.0}) {
    const auto n = pieces_for(1, half);
    ASSERT_TRUE(n);
    const auto width = [](double k) { return t_quantile(0.975, k - 1) / std::sqrt(k); };
    EXPECT_LE(width(double(*n)), half);
    if (*n > 2) {
      EXPECT_GT(width(double(*n) - 1), half);
    }
  }
  EXPECT_EQ(pieces_for(1, 1), 7u);
  EXPECT_EQ(pieces_for(1, 100), 2u);
  EXPECT_FALSE(pieces_for(0, 1));
  EXPECT_FALSE(pieces_for(1, 0));
  EXPECT_FALSE(pieces_for(1, 1e-6));
}

}  // namespace
}  // namespace fortitor::statistics::relation_test
