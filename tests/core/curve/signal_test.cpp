#include "core/curve/signal.h"

#include <gtest/gtest.h>

#include <cmath>
#include <random>

namespace fortitor::signal_test {
namespace {

Samples samples(std::vector<double> t, std::vector<double> f, std::vector<double> x = {}) {
  Samples s;
  s.channels = {{"time", std::move(t)}, {"force", std::move(f)}};
  if (!x.empty()) s.channels.push_back({"crosshead", std::move(x)});
  return s;
}

TEST(Clean, SortsDropsAndSaysSo) {
  std::vector<double> time, force;
  for (int i = 0; i < 12; ++i) {
    time.push_back(i);
    force.push_back(10 * i);
  }
  time.insert(time.end(), {3, 4, NAN, 30});
  force.insert(force.end(), {30, 41, 5, NAN});
  const Signals s = clean(samples(time, force));
  EXPECT_TRUE(s.sorted_by_us);
  EXPECT_EQ(s.dropped, 2u);
  EXPECT_EQ(s.duplicates, 1u) << "the row at 3 s is there twice; at 4 s two different rows share a stamp";
  ASSERT_EQ(s.size(), 13u);
  EXPECT_TRUE(s.clock_coarse);
  EXPECT_EQ(s.time[4], 4);
  EXPECT_EQ(s.time[5], 4.5) << "spread evenly up to the next stamp";
  EXPECT_EQ(s.force[5], 41);
}

TEST(Clean, ACoarseClockKeepsEverySample) {
  std::vector<double> time, force;
  for (int i = 0; i < 100; ++i) {
    time.push_back(i / 10);  // whole seconds, ten samples each
    force.push_back(i % 7 == 0 ? 7 : 0.1 * i);
  }
  const Signals s = clean(samples(time, force));
  EXPECT_EQ(s.size(), 100u);
  EXPECT_EQ(s.duplicates, 0u);
  EXPECT_TRUE(s.clock_coarse);
  for (size_t i = 1; i < s.size(); ++i) EXPECT_NEAR(s.time[i] - s.time[i - 1], 0.1, 1e-9);
}

TEST(Clean, TurnsCompressiveSignRound) {
  const Signals s = clean(samples({0, 1, 2}, {0, -10, -20}, {0, -1, -2}));
  EXPECT_TRUE(s.sign_flipped);
  EXPECT_DOUBLE_EQ(s.force[2], 20);
  EXPECT_DOUBLE_EQ(s.crosshead[2], 2);
  const Signals other = clean(samples({0, 1, 2}, {0, -10, -20}, {0, 1, 2}));
  EXPECT_DOUBLE_EQ(other.crosshead[2], 2);
}

TEST(Clean, NothingThere) {
  EXPECT_EQ(clean(Samples{}).size(), 0u);
  EXPECT_EQ(clean(samples({NAN}, {NAN})).size(), 0u);
  Samples only_force;
  only_force.channels = {{"force", {1, 2, 3}}};
  const Signals s = clean(only_force);
  EXPECT_TRUE(s.time_invented);
  EXPECT_EQ(s.time, (std::vector<double>{0, 1, 2}));
}

TEST(Noise, OfARampIsTheNoiseNotTheRamp) {
  std::mt19937 random(7);
  std::normal_distribution<double> noise(0, 2.0);
  std::vector<double> y;
  for (int i = 0; i < 20000; ++i) y.push_back(5.0 * i + noise(random));
  EXPECT_NEAR(noise_of(y, 0, y.size()), 2.0, 0.1);
  EXPECT_DOUBLE_EQ(noise_of({1, 1, 1, 1}, 0, 4), 0);
  EXPECT_DOUBLE_EQ(noise_of({1, 2}, 0, 2), 0);
}

TEST(Quiet, EndsBeforeMotionBegins) {
  std::mt19937 random(3);
  std::normal_distribution<double> noise(0, 0.001);
  std::vector<double> x;
  for (int i = 0; i < 300; ++i) x.push_back(0.5 + noise(random));
  for (int i = 0; i < 2000; ++i) x.push_back(0.5 + 0.01 * i + noise(random));
  const size_t n = quiet_stretch({&x});
  EXPECT_GT(n, 200u);
  EXPECT_LE(n, 300u);
  const std::vector<double> still(100, 1.0);
  EXPECT_EQ(quiet_stretch({&still}), 0u) << "nothing ever moved";
  const std::vector<double> dead(x.size(), 1.0);
  EXPECT_EQ(quiet_stretch({&dead, &x}), n) << "a dead channel says nothing";
  std::vector<double> moving;
  for (int i = 0; i < 100; ++i) moving.push_back(i);
  EXPECT_EQ(quiet_stretch({&moving}), 0u);
}

}  // namespace
}  // namespace fortitor::signal_test
