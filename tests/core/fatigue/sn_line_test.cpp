// The S–N line against hand sums and drawn samples, detail lines, characteristic factors.
#include <gtest/gtest.h>
#include <array>

#include <cmath>
#include <fstream>
#include <nlohmann/json.hpp>
#include <random>

#include "core/fatigue/sn_line.h"

namespace fortitor::fatigue::sn_line_test {
namespace {

TEST(SnLine, ThroughPointsOnALine) {
  std::vector<SnPoint> p;
  for (double s : {100.0, 125.0, 160.0, 200.0}) p.push_back({s, std::pow(10, 12.3 - 3.1 * std::log10(s)), false});
  const auto l = fit_sn(p, std::nullopt);
  ASSERT_TRUE(l);
  EXPECT_NEAR(l->slope, 3.1, 1e-10);
  EXPECT_NEAR(l->log_c, 12.3, 1e-9);
  EXPECT_NEAR(l->sd, 0, 1e-9);
  EXPECT_NEAR(l->range_at(2e6), std::pow(10, (12.3 - std::log10(2e6)) / 3.1), 1e-9);
  EXPECT_FALSE(l->likelihood);
}

TEST(SnLine, LeastSquaresByHand) {
  // x = log S: 2, 2.1, 2.3; y = log N: 6.2, 5.8, 5.3.
  const std::vector<SnPoint> p = {{100, std::pow(10, 6.2), false},
                                  {std::pow(10, 2.1), std::pow(10, 5.8), false},
                                  {std::pow(10, 2.3), std::pow(10, 5.3), false}};
  const double mx = 6.4 / 3, my = 17.3 / 3;
  const double sxx = std::pow(2 - mx, 2) + std::pow(2.1 - mx, 2) + std::pow(2.3 - mx, 2);
  const double sxy = (2 - mx) * (6.2 - my) + (2.1 - mx) * (5.8 - my) + (2.3 - mx) * (5.3 - my);
  const auto free = fit_sn(p, std::nullopt);
  ASSERT_TRUE(free);
  EXPECT_NEAR(free->slope, -sxy / sxx, 1e-10);
  const auto fixed = fit_sn(p, 3.0);
  ASSERT_TRUE(fixed);
  EXPECT_DOUBLE_EQ(fixed->slope, 3);
  double sse = 0;
  for (const auto& [x, y] : {std::pair{2.0, 6.2}, {2.1, 5.8}, {2.3, 5.3}})
    sse += std::pow(y - (fixed->log_c - 3 * x), 2);
  EXPECT_NEAR(fixed->sd, std::sqrt(sse / 2), 1e-10) << "n − 1 with the slope fixed";
}

TEST(SnLine, RunoutsAreBounds) {
  // The likelihood of a run-out pulls the line up beside what the failures alone say.
  const std::vector<SnPoint> p = {{200, 2.1e5, false}, {200, 2.9e5, false}, {160, 4.8e5, false},
                                  {160, 6.1e5, false}, {125, 1.1e6, false}, {125, 1.5e6, false},
                                  {100, 2.2e6, false}, {100, 1e7, true},    {100, 1e7, true}};
  const auto with = fit_sn(p, std::nullopt), without = fit_sn(p, std::nullopt, false);
  ASSERT_TRUE(with && without);
  EXPECT_TRUE(with->likelihood);
  EXPECT_FALSE(without->likelihood);
  EXPECT_GT(with->log_life(100), without->log_life(100));
  EXPECT_GT(with->sd, without->sd);
  EXPECT_EQ(with->runouts, 2u);
}

TEST(SnLine, LikelihoodFindsTheTruthOverManySamples) {
  std::mt19937_64 random(5);
  std::normal_distribution<double> n;
  double slope = 0, at = 0, sd = 0;
  int held = 0;
  const int of = 150;
  for (int trial = 0; trial < of; ++trial) {
    std::vector<SnPoint> p;
    for (double s : {200.0, 160.0, 130.0, 105.0, 90.0})
      for (int i = 0; i < 5; ++i) {
        const double life = std::pow(10, 12.6 - 3.3 * std::log10(s) + 0.2 * n(random));
        p.push_back({s, std::min(life, 2e6), life > 2e6});
      }
    const auto l = fit_sn(p, std::nullopt);
    ASSERT_TRUE(l);
    slope += l->slope / of;
    at += l->log_life(130) / of;
    sd += l->sd / of;
    held += std::abs(l->slope - 3.3) <= 2.1 * l->slope_error;
  }
  EXPECT_NEAR(slope, 3.3, 0.05);
  EXPECT_NEAR(at, 12.6 - 3.3 * std::log10(130), 0.01);
  EXPECT_NEAR(sd, 0.2, 0.02);
  EXPECT_GE(held, int(0.9 * of));
}

TEST(SnLine, TooLittleOrNonsenseGivesNone) {
  EXPECT_FALSE(fit_sn({}, std::nullopt));
  EXPECT_FALSE(fit_sn({{100, 1e6, false}, {100, 2e6, false}, {100, 3e6, false}}, std::nullopt))
      << "one level tells no slope";
  EXPECT_TRUE(fit_sn({{100, 1e6, false}, {100, 2e6, false}, {100, 3e6, false}}, 3.0));
  EXPECT_FALSE(fit_sn({{100, 1e6, true}, {120, 1e6, true}, {140, 1e6, true}}, std::nullopt)) << "nothing failed";
  EXPECT_FALSE(fit_sn({{-1, 1e6, false}, {0, 1e6, false}, {NAN, 1e6, false}, {100, NAN, false}}, std::nullopt));
  EXPECT_FALSE(fit_sn({{100, 1e5, false}, {150, 1e6, false}, {200, 1e7, false}}, std::nullopt))
      << "longer lives at higher ranges";
}

TEST(SnLine, CharacteristicFactorsOfTheTable) {
  std::ifstream in(FORTITOR_TEST_DATA "/figures.json");
  const auto j = nlohmann::json::parse(in);
  int seen = 0;
  for (const auto& [n, k] : j["characteristic_k"].items()) {
    if (!k.is_number()) continue;
    EXPECT_NEAR(characteristic_factor(size_t(std::stoul(n))), k.get<double>(), 2e-5) << n;
    ++seen;
  }
  EXPECT_GE(seen, 9);
  EXPECT_TRUE(std::isnan(characteristic_factor(1)));
}

TEST(DetailLine, KneeAndCutOff) {
  const DetailLine d{71};
  EXPECT_NEAR(d.knee(), 52.3, 0.05);
  EXPECT_NEAR(d.cut_off(), 28.7, 0.05);
  EXPECT_NEAR(d.life(71), 2e6, 1e-6);
  EXPECT_NEAR(d.life(d.knee()), 5e6, 1);
  EXPECT_NEAR(d.life(d.cut_off() * 1.0000001), 1e8, 1e3);
  EXPECT_TRUE(std::isinf(d.life(d.cut_off())));
  EXPECT_NEAR(d.life(d.cut_off(), false), 1e8, 1);
  EXPECT_NEAR(d.life(142), 2e6 / 8, 1e-6);
  EXPECT_TRUE(std::isinf(d.life(0)));
}

// 95 % survival at 75 % two-sided confidence: at least 87.5 of 100 characteristic ranges lie below what 95 % survive.
TEST(SnLine, CoverageOfTheCharacteristicRange) {
  std::mt19937_64 random(3);
  std::normal_distribution<double> z;
  constexpr double kSlope = 3.5, kLogC = 12.8, kSd = 0.15;
  const double truth = std::pow(10, (kLogC - 1.644854 * kSd - std::log10(2e6)) / kSlope);
  for (bool fixed : {false, true})
    for (int n : {6, 10, 20}) {
      constexpr int kOf = 500;
      int held = 0;
      for (int k = 0; k < kOf; ++k) {
        std::vector<SnPoint> points;
        for (int i = 0; i < n; ++i) {
          const double range = std::array{260.0, 210.0, 170.0, 140.0}[size_t(i % 4)];
          points.push_back({range, std::pow(10, kLogC - kSlope * std::log10(range) + kSd * z(random))});
        }
        const auto line = fit_sn(points, fixed ? std::optional(kSlope) : std::nullopt);
        ASSERT_TRUE(line);
        const double range = characteristic_range(*line, 2e6);
        held += !(range > truth);
      }
      EXPECT_GE(held, int(0.865 * kOf)) << fixed << " " << n;
    }
}

}  // namespace
}  // namespace fortitor::fatigue::sn_line_test
