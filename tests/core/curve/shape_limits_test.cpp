// Limits of what counts as a break, a yield point, a top: a curve just this side of each and one just beyond it.
#include <gtest/gtest.h>

#include <cmath>
#include <random>

#include "core/curve/shape.h"

namespace fortitor::shape_limits_test {
namespace {

std::vector<double> times(size_t n, double dt) {
  std::vector<double> t(n);
  for (size_t i = 0; i < n; ++i) t[i] = dt * double(i);
  return t;
}

// A force of 1000 that falls to `left` within one sample.
std::optional<BreakPoint> fallen_to(double left, double dt = 0.01) {
  std::vector<double> f(50, 1000.0);
  f.insert(f.end(), 20, left);
  return find_break(times(f.size(), dt), f, 10);
}

TEST(BreakLimits, FortyPerCentOfTheTopAtOnce) {
  EXPECT_TRUE(fallen_to(595));
  EXPECT_FALSE(fallen_to(605));
  EXPECT_EQ(fallen_to(500)->last_loaded, 49u);
}

// The fall spread over `steps` samples of `dt`.
std::optional<BreakPoint> falling(int steps, double dt) {
  std::vector<double> f(50, 1000.0);
  for (int i = 1; i <= steps; ++i) f.push_back(1000 - 450.0 * i / steps);
  f.insert(f.end(), 20, 550.0);
  return find_break(times(f.size(), dt), f, 10);
}

TEST(BreakLimits, WithinFiveSamplesAndFiftyMilliseconds) {
  EXPECT_TRUE(falling(5, 0.008));
  EXPECT_FALSE(falling(6, 0.008)) << "six samples: five of them fall by 37.5 %";
  EXPECT_TRUE(falling(4, 0.012)) << "48 ms";
  EXPECT_FALSE(falling(4, 0.014)) << "56 ms: three of the four samples lie within 50";
  EXPECT_TRUE(falling(1, 5.0)) << "neighbours are always compared";
}

TEST(BreakLimits, WhatIsLeftBelowTwoPerCentIsNothing) {
  auto fading = [](double to) {
    std::vector<double> f(50, 1000.0);
    for (int i = 1; i <= 100; ++i) f.push_back(1000 + (to - 1000) * i / 100);
    return find_break(times(f.size(), 0.05), f, 10);
  };
  EXPECT_TRUE(fading(15));
  EXPECT_FALSE(fading(25));
}

TEST(BreakLimits, TheLastLoadedSampleIsBeforeAllOfTheFall) {
  std::vector<double> f(50, 1000.0);
  f.insert(f.end(), {930, 700, 300, 0});
  EXPECT_EQ(find_break(times(f.size(), 0.005), f, 10)->last_loaded, 49u) << "930 has begun to fall";
  f[50] = 960;
  EXPECT_EQ(find_break(times(f.size(), 0.005), f, 10)->last_loaded, 50u) << "960 is carried still";
}

struct Steel {
  double drop = 0.02;     ///< of R_eH
  double plastic = 0.0;   ///< strain at R_eH beyond the line
  double unload = -0.1;   ///< strain that goes with the fall, of the elastic one; negative: goes back
  double hardening = 60;  ///< MPa gained by the end
  double plateau_strain = 0.01;
};

// 400 MPa over 200 GPa, a fall, a plateau, hardening to 10 %.
std::optional<Yielding> yielding_of(const Steel& s, std::vector<double>* stress = nullptr) {
  std::vector<double> e, r;
  auto add = [&](double x, double y) {
    e.push_back(x);
    r.push_back(y);
  };
  for (int i = 0; i < 380; ++i) add(i * 5e-6, i);
  for (int i = 0; i <= 40; ++i) add(0.0019 + i / 40.0 * (1e-4 + s.plastic), 380 + i / 2.0);
  const double low = 400 * (1 - s.drop), from = e.back();
  for (int i = 1; i <= 10; ++i) add(from + i / 10.0 * s.unload * (400 - low) / 200e3, 400 - i / 10.0 * (400 - low));
  const double begin = e.back();
  for (int i = 1; i <= 300; ++i) add(begin + s.plateau_strain * i / 300, low);
  for (int i = 1; i <= 500; ++i) add(begin + s.plateau_strain + 0.08 * i / 500, low + s.hardening * i / 500);
  if (stress != nullptr) *stress = r;
  return find_yielding(e, r, *window_between(e, r, 379, 40, 300), e.size());
}

TEST(YieldingLimits, AFallOfHalfAPerCentIsOne) {
  EXPECT_TRUE(yielding_of({.drop = 0.0055}));
  EXPECT_FALSE(yielding_of({.drop = 0.0045}));
}

TEST(YieldingLimits, AnUpperYieldPointLiesNearTheLine) {
  EXPECT_TRUE(yielding_of({.plastic = 0.0095}));
  EXPECT_FALSE(yielding_of({.plastic = 0.0105})) << "beyond 1 % plastic strain it is no upper yield point";
}

TEST(YieldingLimits, AFallAlongTheElasticLineIsASlip) {
  EXPECT_TRUE(yielding_of({.unload = -0.2}));
  EXPECT_FALSE(yielding_of({.unload = -0.3}));
  EXPECT_TRUE(yielding_of({.unload = 0.5}));
}

TEST(YieldingLimits, AFallBelowHalfIsABreak) {
  EXPECT_TRUE(yielding_of({.drop = 0.15}));
  EXPECT_FALSE(yielding_of({.drop = 0.52, .unload = 0.1}));
}

TEST(YieldingLimits, WhatNeverComesBackAfterPlasticStrainIsNecking) {
  // Hardening that comes back to 99.5 % of R_eH after a fall of 2 %: 6 MPa of 400.
  EXPECT_TRUE(yielding_of({.plastic = 0.006, .hardening = 8}));
  EXPECT_FALSE(yielding_of({.plastic = 0.006, .hardening = 4}));
  EXPECT_TRUE(yielding_of({.plastic = 0.003, .hardening = 4})) << "near the line a plateau is one all the same";
}

TEST(YieldingLimits, AJoltOfTheExtensometerBeforeTheFallDoesNoHarm) {
  std::vector<double> e, r;
  for (int i = 0; i <= 400; ++i) {
    e.push_back(i * 5e-6);
    r.push_back(i);
  }
  for (int i = 1; i <= 10; ++i) {
    e.push_back(0.002);
    r.push_back(400 - i);
  }
  for (int i = 1; i <= 300; ++i) {
    e.push_back(0.002 + 3e-5 * i);
    r.push_back(390);
  }
  const auto window = *window_between(e, r, 379, 40, 300);
  for (size_t at : {size_t(5), size_t(320), size_t(401), size_t(500)}) {
    std::vector<double> jolted = e;
    jolted[at] = 0.09;  // one sample, far beyond what follows
    const auto y = find_yielding(jolted, r, window, e.size());
    EXPECT_TRUE(!y || y->upper <= y->plateau_end) << at;
  }
  const auto y = find_yielding(e, r, window, e.size());
  ASSERT_TRUE(y);
  EXPECT_NEAR(y->plateau, 390, 0.1);
}

TEST(YieldingLimits, ThePlateauEndsWhereStressLeavesItByAPerCent) {
  std::vector<double> r;
  const auto y = yielding_of({.hardening = 200}, &r);
  ASSERT_TRUE(y);
  EXPECT_NEAR(y->plateau, 392, 0.4);
  ASSERT_LT(y->lower, r.size());
  EXPECT_NEAR(r[y->lower], 392, 1e-9) << "one trough is the lower yield point, no transient";
  EXPECT_FALSE(y->transient_left_out);
  EXPECT_NEAR(r[y->plateau_end], 1.01 * y->plateau, 0.5);
  EXPECT_DOUBLE_EQ(r[y->upper], 400);
}

TEST(YieldingLimits, NoiseMakesNoFallHoweverLongItIsLookedAt) {
  int found = 0;
  for (unsigned seed = 1; seed <= 40; ++seed) {
    std::mt19937 random(seed);
    std::normal_distribution<double> n(0, 2.0);  // 0.5 % of the top
    std::vector<double> e, r;
    for (int i = 0; i < 4000; ++i) {
      const double x = i * 1e-5;
      e.push_back(x);
      r.push_back((x < 0.002 ? 200e3 * x : 400 + 300 * (x - 0.002)) + n(random));
    }
    found += find_yielding(e, r, *window_between(e, r, 190, 40, 300), e.size()).has_value();
  }
  EXPECT_EQ(found, 0);
}

TEST(OffsetLimits, TheCrossingOfANoisyCurveLiesWhereTheCleanOneDoes) {
  double sum = 0, squares = 0;
  constexpr int n = 60;
  for (unsigned seed = 1; seed <= n; ++seed) {
    std::mt19937 random(seed);
    std::normal_distribution<double> noise(0, 0.6);
    std::vector<double> e, r;
    for (int i = 0; i < 6000; ++i) {
      const double x = i * 2e-6;
      e.push_back(x);
      r.push_back((x < 0.0015 ? 200e3 * x : 300 + 1000 * (x - 0.0015)) + noise(random));
    }
    const auto c = offset_crossing(e, r, 200e3, 0, 0.002, 800, e.size());
    ASSERT_TRUE(c);
    sum += c->stress;
    squares += c->stress * c->stress;
  }
  const double mean = sum / n, sd = std::sqrt(squares / n - mean * mean);
  const double truth = 200e3 * ((300 - 1000 * 0.0015 + 200e3 * 0.002) / (200e3 - 1000) - 0.002);
  EXPECT_NEAR(mean, truth, 0.25);
  EXPECT_LT(sd, 0.6) << "a fitted zero is steadier than a first touch";
}

// ε = σ/E + 0.002·(σ/σ₀)ⁿ has its 0.2 % offset at σ₀. Noise of the strain touches the line early, the more samples
// there are the earlier: read at the first touch the mean of the noisiest was 1.3 MPa low.
TEST(OffsetLimits, NoiseOfTheStrainTouchesEarlyAndIsNotBelieved) {
  constexpr double modulus = 70e3, yield = 300;
  for (double noise_of_strain : {0.0, 1e-5, 2e-5, 5e-5})
    for (double step : {0.02, 0.1, 0.5}) {
      double sum = 0;
      constexpr int n = 30;
      for (unsigned seed = 1; seed <= n; ++seed) {
        std::mt19937 random(seed);
        std::normal_distribution<double> noise(0, 1);
        std::vector<double> e, r;
        for (double s = 0; s < 340; s += step) {
          e.push_back(s / modulus + 0.002 * std::pow(s / yield, 10) + noise_of_strain * noise(random));
          r.push_back(s);
        }
        const auto c = offset_crossing(e, r, modulus, 0, 0.002, size_t(180 / step), e.size());
        ASSERT_TRUE(c);
        EXPECT_NEAR(c->stress, yield, 1.5) << noise_of_strain << " " << step << " seed " << seed;
        sum += c->stress / n;
      }
      EXPECT_NEAR(sum, yield, noise_of_strain == 0 ? 0.01 : 0.3) << noise_of_strain << " " << step;
    }
}

// Unloaded and loaded again where the offset is reached: the stress there is that of the curve, not the middle of the
// loop.
TEST(OffsetLimits, ALoopAtTheCrossingIsNoNoise) {
  constexpr double modulus = 70e3, yield = 300;
  std::vector<double> e, r;
  const auto add = [&](double s, double plastic) { e.push_back(s / modulus + plastic), r.push_back(s); };
  const auto plastic = [&](double s) { return 0.002 * std::pow(s / yield, 10); };
  for (double s = 0; s < 300.2; s += 0.5) add(s, plastic(s));
  for (double s = 300; s > 100; s -= 5) add(s, plastic(300) + 1e-7 * (int(s) % 2 ? 1 : -1));
  for (double s = 100; s < 300; s += 5) add(s, plastic(300) + 1e-7 * (int(s) % 2 ? 1 : -1));
  for (double s = 300; s < 330; s += 0.5) add(s, plastic(s));
  const auto c = offset_crossing(e, r, modulus, 0, 0.002, 400, e.size());
  ASSERT_TRUE(c);
  EXPECT_NEAR(c->stress, yield, 0.6);
}

TEST(FlatTopLimits, AGapOfTwoPerCentDoesNotEndATop) {
  auto stretch_over = [](int gap) {
    std::vector<double> r(2000, 500.0);
    for (int i = 0; i < gap; ++i) r[size_t(1200 + i)] = 400;
    r[1000] = 500.5;
    return flat_top(r, 1000, 1.0, r.size());
  };
  EXPECT_EQ(stretch_over(38).last, 1999u);
  EXPECT_EQ(stretch_over(42).last, 1199u);
  EXPECT_EQ(stretch_over(42).first, 0u);
}

TEST(FlatTopLimits, TheBandIncludesItsEdge) {
  const std::vector<double> r = {1, 4, 5, 6, 5, 4, 1};
  const Stretch s = flat_top(r, 3, 1.0, r.size());
  EXPECT_EQ(s.first, 2u);
  EXPECT_EQ(s.last, 4u);
  EXPECT_EQ(flat_top(r, 3, 2.0, r.size()).last, 5u);
  EXPECT_EQ(flat_top(r, 3, 2.0, 5).last, 4u) << "never beyond the end";
}

TEST(TopPlaceLimits, IsAsUncertainAsTheTopIsFlatAndNeverBetterThanTheSamples) {
  std::vector<double> x, y;
  for (int i = 0; i <= 100; ++i) {
    x.push_back(i);
    y.push_back(100 - 0.01 * (i - 50) * (i - 50));
  }
  // Within 3 · 1/3 = 1 of the top: |i − 50| ≤ 10, half of it over √3.
  EXPECT_NEAR(top_place(x, y, 50, 1.0 / 3, y.size()).standard, 10 / std::sqrt(3.0), 1e-9);
  // Without noise: half of what lies between the neighbours.
  EXPECT_NEAR(top_place(x, y, 50, 0, y.size()).standard, 1 / std::sqrt(3.0), 1e-9);
  EXPECT_NEAR(top_place(x, y, 50, 0, 51).standard, 0.5 / std::sqrt(3.0), 1e-9) << "the last sample has one neighbour";
}

TEST(WindowLimits, BetweenTwoStressesInEitherOrder) {
  std::vector<double> e, r;
  for (int i = 0; i <= 100; ++i) {
    e.push_back(i * 1e-5);
    r.push_back(2.0 * i);
  }
  const auto w = window_between(e, r, 100, 40, 120), turned = window_between(e, r, 100, 120, 40);
  ASSERT_TRUE(w && turned);
  EXPECT_EQ(w->first, 20u);
  EXPECT_EQ(w->last, 61u);
  EXPECT_EQ(turned->first, w->first);
  EXPECT_EQ(turned->last, w->last);
  EXPECT_NEAR(w->line.slope, 200e3, 1e-6);
  EXPECT_FALSE(window_between(e, r, 100, 60, 60)) << "one sample is no line";
  EXPECT_EQ(window_between(e, r, 100, 40, 1e9)->last, 101u) << "never beyond the peak";
}

TEST(FirstReaching, IsTheFirstAndBeyondThePeakWhereThereIsNone) {
  const std::vector<double> y = {0, 3, 2, 5, 9, 4};
  EXPECT_EQ(first_reaching(y, 4, 3), 1u);
  EXPECT_EQ(first_reaching(y, 4, 4), 3u);
  EXPECT_EQ(first_reaching(y, 4, 9), 4u);
  EXPECT_EQ(first_reaching(y, 4, 10), 5u);
  EXPECT_EQ(first_reaching(y, 2, 5), 3u) << "the search ends at the peak";
}

}  // namespace
}  // namespace fortitor::shape_limits_test
