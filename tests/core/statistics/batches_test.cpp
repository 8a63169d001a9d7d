// Batches: whether they may be thrown together, and bounds that hold where they may not.
#include "core/statistics/batches.h"

#include <gtest/gtest.h>

#include <cmath>
#include <random>

namespace fortitor::statistics::batches_test {
namespace {

// Smoothness of paper from four laboratories: Scholz and Stephens 1987, section 7; A²akN = 8.3926, of which ADK is the
// third part.
TEST(Batches, ThePublishedSamplesAreNotOfOnePopulation) {
  const std::vector<std::vector<double>> laboratories = {{38.7, 41.5, 43.8, 44.5, 45.5, 46.0, 47.7, 58.0},
                                                         {39.2, 39.3, 39.7, 41.4, 41.8, 42.9, 43.3, 45.8},
                                                         {34.0, 35.0, 39.0, 40.0, 43.0, 43.0, 44.0, 45.0},
                                                         {34.0, 34.8, 34.8, 35.4, 37.2, 37.8, 41.2, 42.8}};
  const auto test = same_population(laboratories);
  ASSERT_TRUE(test);
  EXPECT_NEAR(test->statistic, 8.3926 / 3, 2e-4);
  EXPECT_FALSE(test->alike());
}

TEST(Batches, WhatCannotBeTestedIsNot) {
  EXPECT_FALSE(same_population({}));
  EXPECT_FALSE(same_population({{1, 2, 3, 4}}));
  EXPECT_FALSE(same_population({{1}, {2}, {3}}));
  EXPECT_FALSE(same_population({{2, 2, 2}, {2, 2, 2}}));
  EXPECT_FALSE(same_population({{1, 2, NAN}, {NAN, NAN}}));
  EXPECT_FALSE(batch_basis({{1}, {2}})) << "no scatter within";
  EXPECT_TRUE(basis_of_batches({{98, 100, 102, 101, 99}}).pooled()) << "one batch is all there is";
}

TEST(Batches, AlikeTheyAreOneSample) {
  const std::vector<std::vector<double>> two = {{98, 100, 102, 104}, {99, 101, 103, 105}};
  const BatchedBasis b = basis_of_batches(two);
  ASSERT_TRUE(b.pooled());
  EXPECT_DOUBLE_EQ(*b.basis->b, *basis({98, 100, 102, 104, 99, 101, 103, 105})->b);
}

// Whatever lies between the batches, nine bounds in ten and more lie below what they stand for.
TEST(Batches, CoverageOverBatches) {
  std::mt19937_64 random(7);
  std::normal_distribution<double> z;
  for (double between : {0.0, 3.0, 6.0, 12.0})
    for (int per : {2, 4, 6, 10}) {
      constexpr int kOf = 400;
      const double sd = std::hypot(6, between);
      int a = 0, b = 0;
      for (int k = 0; k < kOf; ++k) {
        std::vector<std::vector<double>> batches(3);
        for (auto& one : batches) {
          const double mean = 100 + between * z(random);
          for (int i = 0; i < per; ++i) one.push_back(mean + 6 * z(random));
        }
        const auto basis = basis_of_batches(batches).basis;
        ASSERT_TRUE(basis && basis->a && basis->b);
        a += *basis->a <= 100 - 2.326348 * sd;
        b += *basis->b <= 100 - 1.281552 * sd;
      }
      EXPECT_GE(a, int(0.88 * kOf)) << between << " " << per;
      EXPECT_GE(b, int(0.88 * kOf)) << between << " " << per;
    }
}

}  // namespace
}  // namespace fortitor::statistics::batches_test
