// Counting and chains: the worked example of the standard, closed cycles, walks that keep their source's damage.
#include "core/fatigue/rainflow.h"

#include <gtest/gtest.h>

#include <cmath>
#include <map>
#include <random>

#include "core/fatigue/markov.h"

namespace fortitor::fatigue::rainflow_test {
namespace {

std::map<double, double> by_range(const std::vector<Cycle>& cycles) {
  std::map<double, double> out;
  for (const Cycle& c : cycles) out[c.range()] += c.count;
  return out;
}

TEST(Rainflow, TheWorkedExampleOfE1049) {
  const std::vector<double> history = {-2, 1, -3, 5, -1, 3, -4, 4, -2};
  EXPECT_EQ(by_range(rainflow_three_point(history)),
            (std::map<double, double>{{3, 0.5}, {4, 1.5}, {6, 0.5}, {8, 1.0}, {9, 0.5}}));
  // Closed: the residue is put after itself, so that 9 closes and nothing stays half.
  const auto closed = by_range(rainflow_four_point(history));
  EXPECT_EQ(closed, (std::map<double, double>{{3, 1}, {4, 1}, {7, 1}, {9, 1}}));
}

TEST(Rainflow, ShortAndFlatHistories) {
  EXPECT_TRUE(rainflow_four_point({}).empty());
  EXPECT_TRUE(rainflow_four_point({3}).empty());
  EXPECT_TRUE(rainflow_four_point({3, 3, 3}).empty());
  EXPECT_TRUE(rainflow_three_point({}).empty());
  EXPECT_EQ(by_range(rainflow_four_point({0, 10})), (std::map<double, double>{{10, 1}}));
  EXPECT_EQ(by_range(rainflow_three_point({0, 10})), (std::map<double, double>{{10, 0.5}}));
  EXPECT_EQ(by_range(rainflow_four_point({0, 4, 10, 7, 0})), (std::map<double, double>{{10, 1}}))
      << "what goes on is one way";
  EXPECT_EQ(by_range(rainflow_four_point({0, 10, 0, 10, 0})), (std::map<double, double>{{10, 2}}));
}

std::vector<double> random_points(size_t n, uint64_t seed) {
  std::mt19937_64 random(seed);
  std::normal_distribution<double> noise;
  std::vector<double> x;
  double level = 0;
  for (size_t i = 0; i < n; ++i) {
    level = 0.9 * level + noise(random);
    x.push_back(20 * level + (i % 2 == 0 ? 12 : -12) * (1 + 0.5 * std::abs(noise(random))));
  }
  return alternating(x);
}

TEST(Rainflow, ClosedCyclesDoNotCareWhereTheHistoryBegins) {
  for (uint64_t seed = 1; seed <= 20; ++seed) {
    std::vector<double> x = random_points(200, seed);
    if (x.size() % 2 != 0) x.pop_back();
    const auto first = by_range(rainflow_four_point(x));
    std::rotate(x.begin(), x.begin() + 74, x.end());
    const auto rotated = by_range(rainflow_four_point(x));
    // The seam may join two points into one: all else is the same.
    double differs = 0, cycles = 0;
    for (const auto& [range, n] : first) {
      cycles += n;
      const auto it = rotated.find(range);
      differs += std::abs(n - (it == rotated.end() ? 0 : it->second));
    }
    EXPECT_LE(differs, 2) << seed << " of " << cycles;
    EXPECT_NEAR(first.rbegin()->first, *std::max_element(x.begin(), x.end()) - *std::min_element(x.begin(), x.end()),
                1e-9)
        << "the largest is from the highest to the lowest";
  }
}

TEST(Rainflow, ThreePointGoesEveryWayTwice) {
  // Every stretch between neighbours belongs to one cycle (both ways) or half of one.
  for (uint64_t seed = 1; seed <= 20; ++seed) {
    const std::vector<double> x = random_points(300, seed);
    double way = 0, counted = 0;
    for (size_t i = 0; i + 1 < x.size(); ++i) way += std::abs(x[i + 1] - x[i]);
    for (const Cycle& c : rainflow_three_point(x)) counted += 2 * c.count * c.range();
    EXPECT_NEAR(counted, way, 1e-9 * way) << seed;
  }
}

TEST(Markov, AWalkClosesAndGoesUpAndDownInTurn) {
  Transitions chain(levels_over(-100, 100, 32));
  chain.add(random_points(5000, 3));
  for (uint64_t seed : {1, 2, 3, 4}) {
    for (size_t length : {2, 10, 1000, 20000}) {
      const auto path = walk(chain, length, seed);
      ASSERT_TRUE(path) << path.error().message;
      ASSERT_EQ(path->size(), length + 1);
      EXPECT_EQ(path->front(), path->back());
      for (size_t i = 0; i + 1 < path->size(); ++i) {
        ASSERT_EQ((*path)[i + 1] > (*path)[i], i % 2 == 0);
        ASSERT_GT(chain.at((*path)[i], (*path)[i + 1]), 0) << "only what the source does";
      }
    }
  }
  EXPECT_EQ(walk(chain, 1000, 7).value(), walk(chain, 1000, 7).value());
  EXPECT_NE(walk(chain, 1000, 7).value(), walk(chain, 1000, 8).value());
  EXPECT_FALSE(walk(Transitions(levels_over(0, 1, 8)), 100, 1)) << "nothing to walk on";
}

TEST(Markov, LevelsHoldTheirValues) {
  const Levels l = levels_over(-3, 5, 16);
  EXPECT_EQ(l.of(-3), 0);
  EXPECT_EQ(l.of(5), 15);
  EXPECT_EQ(l.of(-9), 0);
  for (double v : {-3.0, -1.2, 0.0, 4.9}) EXPECT_NEAR(l.middle(l.of(v)), v, l.width / 2 * 1.0001);
  EXPECT_EQ(levels_over(2, 2, 8).of(2), 0);
  // A short history closes: whatever is reached is left again.
  Transitions t(levels_over(0, 10, 11));
  t.add({0, 10, 3, 7});
  for (int i = 0; i < 11; ++i) {
    double in = 0, out = 0;
    for (int j = 0; j < 11; ++j) in += t.at(j, i), out += t.at(i, j);
    EXPECT_EQ(in, out) << i;
  }
}

TEST(Markov, ALongWalkComesAsOftenAsItsSource) {
  Transitions chain(levels_over(-120, 120, 24)), again(chain.levels);
  chain.add(random_points(20000, 9));
  again.add(values_of(walk(chain, 400000, 5).value(), chain.levels));
  const double n = chain.total(), m = again.total();
  for (int i = 0; i < 24; ++i)
    for (int j = 0; j < 24; ++j) {
      const double p = chain.at(i, j) / n, q = again.at(i, j) / m;
      EXPECT_NEAR(q, p, 6 * std::sqrt(p / m) + 30 / m) << i << " " << j;
    }
}

}  // namespace
}  // namespace fortitor::fatigue::rainflow_test
