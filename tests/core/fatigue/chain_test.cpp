// Level, filter, turning points and the streaming around them, against scipy and against the whole at once.
#include <gtest/gtest.h>

#include <cmath>
#include <random>

#include "core/fatigue/chain.h"
#include "core/fatigue/smooth.h"

namespace fortitor::fatigue::chain_test {
namespace {

// The signal of which scipy made the values below (tests/reference/statistics.py).
std::vector<double> known() {
  std::vector<double> x;
  for (int i = 0; i < 400; ++i)
    x.push_back(10 * std::sin(2 * M_PI * 1.3 * i / 50) + 3 * std::cos(2 * M_PI * 7 * i / 50) + 0.02 * i +
                ((i * 37) % 11) / 11.0);
  return x;
}

TEST(LowPass, AsScipySosfiltfilt) {
  struct Case {
    double cut;
    std::vector<std::pair<size_t, double>> values;
  };
  for (const Case& c :
       {Case{2.0,
             {{0, 3.189614483915196},
              {1, 4.223117751142083},
              {7, 9.23892269026155},
              {100, -3.2460926179725536},
              {200, 13.678251328585205},
              {398, 18.09990483428514},
              {399, 18.077492547194307}}},
        Case{0.5,
             {{0, 0.4032740226706271}, {7, 0.9665196419787963}, {200, 4.449577851062937}, {399, 7.921805882005638}}},
        Case{
            12.0,
            {{0, 2.999379497636543}, {7, 12.805516542570242}, {333, -3.4514096065743827}, {399, 17.10269642826339}}}}) {
    std::vector<double> x = known();
    LowPass(c.cut, 50).both_ways(x);
    for (const auto& [i, value] : c.values) EXPECT_NEAR(x[i], value, 1e-10) << c.cut << " Hz at " << i;
  }
}

TEST(LowPass, ShortAndOddInput) {
  for (size_t n : {0, 1, 2, 5, 15, 16, 17}) {
    std::vector<double> x(n, 3.0);
    LowPass(2, 50).both_ways(x);
    for (double v : x) EXPECT_NEAR(v, 3, 1e-12) << n;
  }
  std::vector<double> x = known(), same = x;
  LowPass(25, 50).both_ways(x);
  EXPECT_EQ(x, same) << "half the rate passes everything";
  EXPECT_TRUE(LowPass(0, 50).passes_all());
  EXPECT_FALSE(LowPass(24.9, 50).passes_all());
}

TEST(Level, AsLeastSquaresOfHats) {
  const std::vector<double> x = known();
  const auto signal = signal_of(x, 50);
  const auto raw = read_raw(*signal, 1.8, false);  // 90 samples a block, a short last one
  ASSERT_TRUE(raw);
  const Drift d = level_by_squares(raw->blocks, raw->block, raw->samples);
  for (const auto& [i, value] : {std::pair{0, 2.5278301093036575},
                                 {45, 2.2422222001152323},
                                 {90, 1.9566142909268074},
                                 {200, 4.368453653723079},
                                 {359, 7.1096078030187275},
                                 {360, 7.121428357867442},
                                 {399, 11.96903640198143}})
    EXPECT_NEAR(d(i), value, 1e-9) << i;
  std::vector<double> off = x;
  d.take_off(off.data() + 77, 200, 77);
  for (size_t i = 77; i < 277; ++i) EXPECT_NEAR(off[i], x[i] - d(double(i)), 1e-12) << i;
}

TEST(Level, MediansAreNotPulledByTraffic) {
  std::mt19937 random(3);
  std::normal_distribution<double> noise(0, 0.3);
  std::vector<double> x;
  for (int i = 0; i < 36000; ++i)
    x.push_back(0.001 * i + noise(random) - (i % 300 < 60 && i > 9000 && i < 18000 ? 80 : 0));
  const auto signal = signal_of(x, 10);
  const auto raw = read_raw(*signal, 360, true);
  ASSERT_TRUE(raw);
  const Drift quiet = level_by_medians(raw->blocks, raw->block, raw->samples),
              squares = level_by_squares(raw->blocks, raw->block, raw->samples);
  EXPECT_NEAR(quiet(13500), 13.5, 1);
  EXPECT_GT(std::abs(squares(13500) - 13.5), 8);
  EXPECT_NEAR(quiet(0), 0, 0.2);
  EXPECT_NEAR(quiet(36000), 36, 0.2);
}

TEST(Level, BlocksWithoutSamplesAreCarried) {
  std::vector<double> x;
  for (int i = 0; i < 1000; ++i) x.push_back(i >= 300 && i < 700 ? NAN : 0.1 * i);
  const auto raw = read_raw(*signal_of(x, 1), 100, false);
  ASSERT_TRUE(raw);
  EXPECT_EQ(raw->missing, 400u);
  EXPECT_EQ(raw->gap_count, 1u);
  const Drift d = level_by_squares(raw->blocks, raw->block, raw->samples);
  for (double i : {0.0, 150.0, 299.0, 750.0, 999.0}) EXPECT_NEAR(d(i), 0.1 * i, 1e-3) << i;
  for (double i : {400.0, 500.0, 600.0}) EXPECT_TRUE(std::isfinite(d(i))) << i;
  std::vector<double> nothing(500, NAN);
  EXPECT_FALSE(read_raw(*signal_of(nothing, 1), 100, false)) << "no measured sample";
  EXPECT_FALSE(read_raw(*signal_of({}, 1), 100, false));
  EXPECT_FALSE(read_raw(*signal_of({1, 2, 3}, 1), 0.5, false)) << "a block of less than two samples";
}

// A week of traffic in small, at 20 Hz: long enough for several pieces.
std::vector<double> busy(size_t n, uint64_t seed = 5) {
  std::mt19937_64 random(seed);
  std::normal_distribution<double> noise;
  std::vector<double> x;
  double walk = 0, lorry = -1e9;
  for (size_t i = 0; i < n; ++i) {
    walk = 0.98 * walk + noise(random);
    if (random() % 700 == 0) lorry = double(i) + 8;
    const double s = (double(i) - lorry) / 2.5;
    x.push_back(5 * walk + 30 * std::sin(double(i) / 40000) + 60 * std::exp(-s * s));
  }
  return x;
}

TEST(Chain, PiecesGiveTheSameAsTheWhole) {
  const std::vector<double> x = busy(900000);
  const auto signal = signal_of(x, 20);
  const auto raw = read_raw(*signal, 3600, false);
  ASSERT_TRUE(raw);
  const Drift d = level_by_squares(raw->blocks, raw->block, raw->samples);
  std::vector<double> whole = x;
  d.take_off(whole.data(), whole.size(), 0);
  LowPass(0.8, 20).both_ways(whole);
  const auto smooth = smooth_signal(*signal, *raw, d, 0.8, false);
  ASSERT_TRUE(smooth);
  double worst = 0;
  for (const Extreme& e : smooth->extremes) worst = std::max(worst, std::abs(e.value - whole[e.at]));
  EXPECT_LT(worst, 1e-9);
  std::vector<Extreme> of_whole;
  extremes_of(whole.data(), whole.size(), 0, of_whole);
  const auto a = turning_points(smooth->extremes, 0.5), b = turning_points(of_whole, 0.5);
  ASSERT_EQ(a.size(), b.size());
  for (size_t i = 0; i < a.size(); ++i) EXPECT_EQ(a[i].at, b[i].at);
  const auto look = look_at(*signal, d, 0.8, 450000, 300);
  ASSERT_TRUE(look);
  for (size_t i = 0; i < 300; ++i) EXPECT_NEAR(look->smooth[i], whole[450000 + i], 1e-9);
  // On one thread and on five: the same.
  const auto one = smooth_signal(*signal, *raw, d, 0.8, false, {}, {1}),
             five = smooth_signal(*signal, *raw, d, 0.8, false, {}, {5});
  ASSERT_TRUE(one && five);
  ASSERT_EQ(one->extremes.size(), five->extremes.size());
  for (size_t i = 0; i < one->extremes.size(); ++i) ASSERT_EQ(one->extremes[i].value, five->extremes[i].value);
}

TEST(Chain, OverviewHoldsEverySample) {
  std::vector<double> x = busy(300000);
  for (size_t i = 1000; i < 2000; ++i) x[i] = NAN;
  x[131072] = 900;
  const auto raw = read_raw(*signal_of(x, 20), 777, false);
  ASSERT_TRUE(raw);
  const Overview& o = raw->overview;
  ASSERT_EQ(o.least.size(), (x.size() + o.per - 1) / o.per);
  for (size_t e = 0; e < o.least.size(); ++e) {
    float least = HUGE_VALF, largest = -HUGE_VALF;
    for (size_t i = e * o.per; i < std::min(x.size(), (e + 1) * o.per); ++i)
      if (std::isfinite(x[i])) least = std::min(least, float(x[i])), largest = std::max(largest, float(x[i]));
    if (least > largest) {
      EXPECT_TRUE(std::isnan(o.least[e]) && std::isnan(o.largest[e])) << e;
    } else {
      ASSERT_EQ(o.least[e], least) << e;
      ASSERT_EQ(o.largest[e], largest) << e;
    }
  }
}

TEST(Chain, GapsPartTheSignalAndAreCounted) {
  std::vector<double> x = busy(600000);
  for (size_t i = 262100; i < 262200; ++i) x[i] = NAN;  // over the border of two pieces
  x[5] = NAN;
  x[599999] = NAN;
  const auto signal = signal_of(x, 20);
  const auto raw = read_raw(*signal, 3600, false);
  ASSERT_TRUE(raw);
  EXPECT_EQ(raw->missing, 102u);
  EXPECT_EQ(raw->gap_count, 3u);
  const auto smooth = smooth_signal(*signal, *raw, {}, 0.8, false);
  ASSERT_TRUE(smooth);
  // Every stretch is smoothed as if it stood alone.
  std::vector<double> stretch(x.begin() + 262200, x.begin() + 599999);
  LowPass(0.8, 20).both_ways(stretch);
  for (const Extreme& e : smooth->extremes) {
    ASSERT_TRUE(std::isfinite(e.value)) << e.at;
    ASSERT_FALSE(std::isnan(x[e.at])) << e.at;
    if (e.at < 262200) continue;
    ASSERT_NEAR(e.value, stretch[e.at - 262200], 1e-9) << e.at;
  }
}

TEST(Chain, SpikesAndStuckStretchesAreFoundAndStay) {
  std::vector<double> x = busy(600000);
  for (size_t at : {1000, 262143, 262144 + 20, 500000}) x[at] += 400;
  for (size_t i = 262000; i < 262300; ++i) x[i] = 7;  // 15 s over the border of two pieces
  for (size_t i = 400000; i < 400060; ++i) x[i] = 7;  // three seconds: too short
  const auto signal = signal_of(x, 20);
  const auto raw = read_raw(*signal, 3600, false);
  const auto found = smooth_signal(*signal, *raw, {}, 2, false);
  ASSERT_TRUE(found);
  EXPECT_EQ(found->spikes, (std::vector<uint64_t>{1000, 500000}));  // the other two were stuck over
  ASSERT_EQ(found->stuck.size(), 1u);
  EXPECT_EQ(found->stuck[0].from, 262000u);
  EXPECT_EQ(found->stuck[0].count, 300u);
  auto highest = [](const Smoothed& s) {
    double h = 0;
    for (const Extreme& e : s.extremes) h = std::max(h, std::abs(e.value));
    return h;
  };
  const auto without = smooth_signal(*signal, *raw, {}, 0, true);
  const auto with = smooth_signal(*signal, *raw, {}, 0, false);
  ASSERT_TRUE(without && with);
  EXPECT_GT(highest(*with), 350);
  EXPECT_LT(highest(*without), 300);
}

// What is stuck at the very ends, and for as long as is just long enough: five seconds.
TEST(Chain, StuckStretchesAtTheEndsAndAtTheirLimit) {
  for (size_t count : {90u, 99u, 100u, 101u, 260u})
    for (size_t at : {size_t(0), size_t(5000), size_t(20000) - count}) {
      std::vector<double> x = busy(20000);
      for (size_t i = at; i < at + count; ++i) x[i] = 1000;
      const auto signal = signal_of(x, 20);
      const auto found = smooth_signal(*signal, *read_raw(*signal, 3600, false), {}, 2, false);
      ASSERT_TRUE(found);
      EXPECT_EQ(found->stuck.size(), count >= 100 ? 1u : 0u) << count << " at " << at;
      EXPECT_EQ(found->stuck_samples, count >= 100 ? count : 0u) << count << " at " << at;
      for (const auto& stretch : found->stuck) EXPECT_EQ(stretch.from, at);
    }
}

TEST(Chain, CleanTrafficHasNoSpikes) {
  for (uint64_t seed : {1, 2, 3}) {
    std::vector<double> x = busy(100000, seed);
    for (double& v : x) v = std::round(v);  // a coarse logger
    const auto signal = signal_of(x, 20);
    const auto raw = read_raw(*signal, 3600, false);
    const auto found = smooth_signal(*signal, *raw, {}, 2, false);
    ASSERT_TRUE(found);
    EXPECT_EQ(found->spike_count, 0u) << seed;
    EXPECT_EQ(found->stuck_samples, 0u) << seed;
  }
  // A quiet night with a last digit that flickers is neither.
  std::vector<double> night(50000, 3.0);
  for (size_t i = 0; i < night.size(); i += 37) night[i] = 3.1;
  const auto signal = signal_of(night, 20);
  const auto found = smooth_signal(*signal, *read_raw(*signal, 3600, false), {}, 2, false);
  EXPECT_EQ(found->spike_count, 0u);
}

TEST(Chain, StoppedWorkSaysSo) {
  const auto signal = signal_of(busy(600000), 20);
  const auto raw = read_raw(*signal, 60, false, [](double) { return false; });
  ASSERT_FALSE(raw);
  EXPECT_EQ(raw.error().message, "The work was stopped.");
}

TEST(Turning, GateAndPlateaus) {
  auto values = [](const std::vector<double>& x, double gate) {
    std::vector<Extreme> e;
    extremes_of(x.data(), x.size(), 0, e);
    std::vector<double> out;
    for (const Extreme& t : turning_points(e, gate)) out.push_back(t.value);
    return out;
  };
  using V = std::vector<double>;
  EXPECT_EQ(values({0, 1, 2, 2, 2, 1, 0}, 0.5), (V{0, 2, 0}));
  EXPECT_EQ(values({0, 2, 1.5, 3, 0}, 0.5), (V{0, 3, 0})) << "back by exactly the gate is no reversal";
  EXPECT_EQ(values({0, 2, 1.4, 3, 0}, 0.5), (V{0, 2, 1.4, 3, 0}));
  EXPECT_EQ(values({1, 1, 1}, 0), V{});
  EXPECT_EQ(values({5}, 0), V{});
  EXPECT_EQ(values({3, 2.8, 3.1, 2.9, 0}, 0.5), (V{3.1, 0})) << "the start is the extreme before the first move";
  // The gate on extremes is the gate on samples.
  const std::vector<double> x = busy(5000);
  std::vector<Extreme> all;
  for (size_t i = 0; i < x.size(); ++i) all.push_back({i, x[i]});
  std::vector<double> of_samples;
  for (const Extreme& t : turning_points(all, 2)) of_samples.push_back(t.value);
  EXPECT_EQ(values(x, 2), of_samples);
}

TEST(Chain, LossOfPeaksByHand) {
  // Bursts of 5 Hz under a cut of 5 Hz: a zero-phase filter of order 4 halves what lies at its cut.
  std::vector<double> x(200000);
  for (size_t b = 0; b < 60; ++b)
    for (size_t i = 0; i < 1000; ++i)
      x[2000 + b * 3000 + i] = 50 * std::sin(2 * M_PI * 5 * double(i) / 100) * std::sin(M_PI * double(i) / 1000);
  const auto signal = signal_of(x, 100);
  const auto raw = read_raw(*signal, 3600, false);
  for (const auto& [cut, loss] : {std::pair{5.0, 0.5}, {20.0, 0.0}, {3.0, 0.98}}) {
    const auto smooth = smooth_signal(*signal, *raw, {}, cut, false);
    const auto turning = turning_points(smooth->extremes, 0.01);
    EXPECT_NEAR(peak_loss(*signal, {}, cut, turning).value(), loss, 0.03) << cut;
    const auto all = peak_losses(*signal, {}, cut, turning, {cut});
    ASSERT_TRUE(all);
    EXPECT_NEAR(all->front(), peak_loss(*signal, {}, cut, turning).value(), 1e-6)
        << "one number, whichever way it is asked for";
  }
  EXPECT_TRUE(std::isnan(peak_loss(*signal, {}, 0, {{0, 1}, {5, 2}}).value()));
}

}  // namespace
}  // namespace fortitor::fatigue::chain_test
