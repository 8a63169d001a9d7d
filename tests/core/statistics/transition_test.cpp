// The transition curve against its own closed form, and its errors against what blows do.
#include "core/statistics/transition.h"

#include <gtest/gtest.h>

#include <cmath>
#include <random>

namespace fortitor::statistics::transition_test {
namespace {

struct Curve {
  double lower, upper, t0, c;
  double at(double t) const { return 0.5 * (upper + lower) + 0.5 * (upper - lower) * std::tanh((t - t0) / c); }
  double where(double k) const { return t0 + c * std::atanh((2 * k - upper - lower) / (upper - lower)); }
};

TEST(TransitionFit, BlowsOnTheCurveGiveItBack) {
  for (const Curve& k : {Curve{6, 150, -40, 25}, Curve{2, 60, 10, 12}, Curve{20, 290, -90, 45}}) {
    std::vector<double> t, e;
    for (double x = k.t0 - 4 * k.c; x <= k.t0 + 4 * k.c; x += k.c) t.push_back(x), e.push_back(k.at(x));
    const auto f = fit_transition(t, e);
    ASSERT_TRUE(f);
    EXPECT_NEAR(f->lower, k.lower, 1e-6 * k.upper);
    EXPECT_NEAR(f->upper, k.upper, 1e-6 * k.upper);
    EXPECT_NEAR(f->t0, k.t0, 1e-5);
    EXPECT_NEAR(f->c, k.c, 1e-5);
    EXPECT_NEAR(f->temperature_at(0.5 * k.upper), k.where(0.5 * k.upper), 1e-5);
  }
}

TEST(TransitionFit, AwkwardBlows) {
  EXPECT_FALSE(fit_transition({}, {}));
  EXPECT_FALSE(fit_transition({1, 2, 3, 4}, {1, 2, 3, 4})) << "too few";
  EXPECT_FALSE(fit_transition({1, 1, 2, 2, 3, 3}, {1, 1, 2, 2, 3, 3})) << "three temperatures";
  EXPECT_FALSE(fit_transition({1, 2, 3, 4, 5}, {7, 7, 7, 7, 7})) << "no step";
  const auto gaps = fit_transition({-80, -60, NAN, -40, -20, 0, 20}, {5, 8, 20, 30, NAN, 90, 100});
  EXPECT_TRUE(gaps && gaps->n == 5);
}

// Tough blows scatter by a share of their energy, brittle ones by next to nothing: both shelves and the temperatures
// hold all the same.
TEST(TransitionFit, ErrorsHoldWhereTheScatterGrowsWithTheEnergy) {
  std::mt19937_64 random(17);
  std::normal_distribution<double> normal;
  std::uniform_real_distribution<double> share(0, 1);
  constexpr int kSeries = 300;
  int upper = 0, lower = 0, middle = 0, of_41 = 0;
  for (int k = 0; k < kSeries; ++k) {
    const Curve truth{4 + 8 * share(random), 90 + 110 * share(random), -60 + 60 * share(random),
                      15 + 25 * share(random)};
    std::vector<double> t, e;
    for (int i = 0; i < 8; ++i)
      for (int blow = 0; blow < 3; ++blow) {
        t.push_back(-140 + 25 * i);
        e.push_back(truth.at(t.back()) * (1 + 0.05 * normal(random)) + normal(random));
      }
    const auto f = fit_transition(t, e);
    ASSERT_TRUE(f);
    const double wide = 2 * f->widening();
    upper += std::abs(f->upper - truth.upper) <= wide * f->error_of(1);
    lower += std::abs(f->lower - truth.lower) <= wide * f->error_of(0);
    middle += std::abs(f->t0 - truth.t0) <= wide * f->error_of(2);
    of_41 += std::abs(f->temperature_at(41) - truth.where(41)) <= wide * f->error_of_temperature(41);
  }
  for (int held : {upper, lower, middle, of_41}) EXPECT_GE(held, 0.9 * kSeries);
}

}  // namespace
}  // namespace fortitor::statistics::transition_test
