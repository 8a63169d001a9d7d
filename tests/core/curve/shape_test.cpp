#include "core/curve/shape.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <numeric>

namespace fortitor::shape_test {
namespace {

std::vector<double> times(size_t n, double dt) {
  std::vector<double> t(n);
  for (size_t i = 0; i < n; ++i) t[i] = dt * double(i);
  return t;
}

TEST(Break, SuddenFallWithinFiveSamples) {
  std::vector<double> f;
  for (int i = 0; i < 100; ++i) f.push_back(i * 10.0);
  f.insert(f.end(), {980, 700, 300, 50, 0});
  const auto b = find_break(times(f.size(), 0.01), f, 99);
  ASSERT_TRUE(b);
  EXPECT_EQ(b->last_loaded, 100u);
}

TEST(Break, SlowDeclineIsNone) {
  std::vector<double> f;
  for (int i = 0; i < 100; ++i) f.push_back(i * 10.0);
  for (int i = 0; i < 100; ++i) f.push_back(990 - i * 5.0);
  EXPECT_FALSE(find_break(times(f.size(), 0.01), f, 99));
}

// At 1 kHz fifty samples fit into 50 ms: five samples are the shorter.
TEST(Break, FiveSamplesAreTheShorterWhenFast) {
  std::vector<double> f(100, 1000.0);
  for (int i = 0; i < 20; ++i) f.push_back(1000 - 50.0 * i);  // 40 % takes eight samples
  EXPECT_FALSE(find_break(times(f.size(), 0.001), f, 0));
}

TEST(Break, SlowSamplingComparesNeighbours) {
  const std::vector<double> f = {0, 500, 1000, 20, 0};
  const auto b = find_break(times(5, 0.5), f, 2);
  ASSERT_TRUE(b);
  EXPECT_EQ(b->last_loaded, 2u);
  EXPECT_FALSE(find_break({0}, {5}, 0));
  EXPECT_FALSE(find_break({}, {}, 0));
  EXPECT_FALSE(find_break({0, 1}, {0, 0}, 0));
}

TEST(Window, FindsTheLineOfALinearThenFlatCurve) {
  std::vector<double> e, r;
  for (int i = 0; i <= 4000; ++i) {
    const double x = i * 1e-6;
    e.push_back(x + (x < 2e-4 ? 0.3 * (2e-4 - x) : 0.0));  // bent foot
    r.push_back(std::min(200e3 * x, 400.0));
  }
  const auto w = auto_window(e, r, 3000, 400, false);
  ASSERT_TRUE(w);
  EXPECT_FALSE(w->poor);
  EXPECT_NEAR(w->line.slope, 200e3, 2000);  // R² ≥ 0.9995 lets the end of the foot in
}

TEST(Window, ShortAndFlatCurvesGiveNone) {
  EXPECT_FALSE(auto_window({0, 1}, {0, 1}, 1, 1, false));
  EXPECT_FALSE(auto_window({0, 0, 0, 0}, {0, 1, 2, 3}, 3, 3, false));
  EXPECT_FALSE(auto_window({0, 1, 2}, {0, 1, 2}, 2, 0, false));
}

TEST(Window, NoisyCurveIsMarkedPoor) {
  std::vector<double> e, r;
  for (int i = 0; i <= 200; ++i) {
    e.push_back(i * 1e-5);
    r.push_back(2.0 * i + 60 * std::sin(0.9 * i));
  }
  const auto w = auto_window(e, r, 200, 400, false);
  ASSERT_TRUE(w);
  EXPECT_TRUE(w->poor);
}

// Elastic, perfectly plastic with slope h: the offset line meets it at a point known by hand.
TEST(Offset, CrossingInClosedForm) {
  const double modulus = 200e3, yield = 300, h = 1000;
  std::vector<double> e, r;
  for (int i = 0; i <= 20000; ++i) {
    const double x = i * 1e-6;
    e.push_back(x);
    r.push_back(x < yield / modulus ? modulus * x : yield + h * (x - yield / modulus));
  }
  const auto c = offset_crossing(e, r, modulus, 0, 0.002, 100, e.size());
  ASSERT_TRUE(c);
  const double expected_e = (yield - h * yield / modulus + modulus * 0.002) / (modulus - h);
  EXPECT_NEAR(c->strain, expected_e, 1e-9);
  EXPECT_NEAR(c->stress, modulus * (expected_e - 0.002), 1e-4);
  EXPECT_FALSE(offset_crossing(e, r, modulus, 0, 0.05, 100, e.size()));
}

ElasticWindow elastic(const std::vector<double>& e, const std::vector<double>& r, double top) {
  return *window_between(e, r, r.size() - 1, 0.1 * top, 0.6 * top);
}

TEST(Yielding, DropAndPlateau) {
  std::vector<double> e, r;
  auto add = [&](double x, double y) {
    e.push_back(x);
    r.push_back(y);
  };
  for (int i = 0; i <= 400; ++i) add(i * 5e-6, i * 1.0);               // to 400 MPa at 0.2 %
  for (int i = 1; i <= 50; ++i) add(0.002 + i * 1e-5, 400 - 0.7 * i);  // transient trough 365
  for (int i = 1; i <= 50; ++i) add(0.0025 + i * 1e-5, 365 + 0.3 * i);
  for (int i = 1; i <= 500; ++i) add(0.003 + i * 2e-5, 377 + 3 * std::cos(i * 0.05));
  for (int i = 1; i <= 500; ++i) add(0.013 + i * 1e-4, 380 + 0.3 * i);
  const auto y = find_yielding(e, r, elastic(e, r, 400), e.size());
  ASSERT_TRUE(y);
  EXPECT_DOUBLE_EQ(r[y->upper], 400);
  EXPECT_TRUE(y->transient_left_out);
  EXPECT_NEAR(r[y->lower], 374, 0.1);  // not the transient's 365
  EXPECT_NEAR(y->plateau, 377, 1.5);
}

TEST(Yielding, RoundCurveAndNeckingAreContinuous) {
  std::vector<double> e, r;
  for (int i = 0; i <= 2000; ++i) {
    const double x = i * 1e-4;
    e.push_back(x);
    r.push_back(x < 0.0015 ? 200e3 * x
                           : 300 + 250 * (1 - std::exp(-(x - 0.0015) * 30)) -
                                 (x > 0.12 ? 3000 * (x - 0.12) * (x - 0.12) * 10 : 0));
  }
  EXPECT_FALSE(find_yielding(e, r, elastic(e, r, 300), e.size()));
}

TEST(FlatTop, MiddleOfTheStretchNearTheMaximum) {
  std::vector<double> r;
  for (int i = 0; i <= 1000; ++i) r.push_back(500 - 0.001 * (i - 600) * (i - 600));
  const Stretch s = flat_top(r, 600, 1.0, r.size());
  EXPECT_NEAR(double(s.first + s.last) / 2, 600, 2);
  EXPECT_NEAR(double(s.last - s.first), 2 * std::sqrt(1000.0), 3);
}

}  // namespace
}  // namespace fortitor::shape_test
