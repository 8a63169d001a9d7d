// Stops and the line through them: departures that stand alone against departures that stay.
#include "core/curve/stations.h"

#include <gtest/gtest.h>

#include <cmath>
#include <random>

#include "core/statistics/sample.h"

namespace fortitor::stations_test {
namespace {

LoadingPath line(int n, double slope, double count = 0.01, double noise = 0.002, uint64_t seed = 3) {
  std::mt19937_64 random(seed);
  std::normal_distribution<double> g;
  LoadingPath p;
  for (int i = 0; i < n; ++i) {
    p.load.push_back(100 * i);
    p.response.push_back(slope * 100 * i + noise * g(random));
    p.count.push_back(count);
    p.station.push_back(size_t(i));
  }
  return p;
}

LoadingPath head(LoadingPath p, size_t n) {
  p.load.resize(n);
  p.response.resize(n);
  p.count.resize(n);
  p.station.resize(n);
  return p;
}

TEST(Stations, DepartureIsTheExternallyStudentizedResidual) {
  // Against the textbook formula t = e·√((n−p−1)/(SSE(1−h) − e²)) of the full fit.
  LoadingPath p = line(8, 0.01, 0.0001, 0.02);
  p.response[4] += 0.1;
  const auto fit = fit_line(p.load, p.response);
  double mean = 0, sxx = 0, sse = 0;
  for (double x : p.load) mean += x / 8;
  for (size_t i = 0; i < 8; ++i) {
    sxx += (p.load[i] - mean) * (p.load[i] - mean);
    sse += std::pow(p.response[i] - fit->at(p.load[i]), 2);
  }
  const double e = p.response[4] - fit->at(p.load[4]), h = 1.0 / 8 + std::pow(p.load[4] - mean, 2) / sxx;
  const double t = e * std::sqrt((8 - 2 - 1) / (sse * (1 - h) - e * e));
  const auto d = departure_of(p, 4, 8);
  ASSERT_TRUE(d);
  EXPECT_NEAR(d->studentized, t, 1e-9 * std::abs(t));
  EXPECT_NEAR(d->allowed, statistics::t_quantile(1 - 0.005 / 8, 5), 1e-12);
}

TEST(Stations, FewerThanFourStopsAreNeverJudged) {
  LoadingPath p = line(3, 0.01);
  p.response[2] += 5;
  EXPECT_FALSE(departure_of(p, 2, 3));
  EXPECT_FALSE(off_line(p, std::nullopt).newest);
}

TEST(Stations, ThreeCountsOfTheIndicatorAreAllowed) {
  LoadingPath p = line(7, 0.01, 0.01, 0);
  p.response[3] += 0.025;  // far beyond the noise, within three counts
  EXPECT_TRUE(off_line(p, std::nullopt).alone.empty());
  p.response[3] += 0.02;
  EXPECT_EQ(off_line(p, std::nullopt).alone, std::vector<size_t>{3});
}

TEST(Stations, ANewReadingOffTheLineIsCalledOutAtOnce) {
  LoadingPath p = line(6, 0.01);
  p.response[5] += 0.3;
  const OffLine off = off_line(p, std::nullopt);
  ASSERT_TRUE(off.newest);
  EXPECT_EQ(*off.newest, 5u);
  EXPECT_FALSE(off.lasting);
}

TEST(Stations, ADepartureThatStaysIsThePieceNotTheReading) {
  LoadingPath p = line(9, 0.01);
  for (size_t i : {7u, 8u}) p.response[i] += 0.5 * double(i - 6);
  const OffLine off = off_line(p, 0.03);
  EXPECT_FALSE(off.newest);
  EXPECT_TRUE(off.lasting);
  EXPECT_TRUE(off.alone.empty());
}

TEST(Stations, AWrongReadingStandsAloneOnceTheNextIsBack) {
  LoadingPath p = line(9, 0.01);
  p.response[5] += 0.5;
  EXPECT_TRUE(off_line(head(p, 6), 0.03).newest) << "while it is the newest";
  const OffLine off = off_line(head(p, 7), 0.03);
  EXPECT_EQ(off.alone, std::vector<size_t>{5});
  EXPECT_FALSE(off.newest);
  EXPECT_FALSE(off.lasting);
}

TEST(Stations, GradualBendingIsNeverAWrongReading) {
  LoadingPath p;
  for (int i = 0; i <= 16; ++i) {
    const double over = std::max(0.0, i - 8.0) / 8;
    p.load.push_back(250.0 * i);
    p.response.push_back(std::round(100 * (0.7 * i * (1 + 0.9 * over * over))) / 100);
    p.count.push_back(0.01);
    p.station.push_back(size_t(i));
  }
  for (size_t n = 4; n <= p.size(); ++n) EXPECT_TRUE(off_line(head(p, n), 0.03).alone.empty()) << n;
}

TEST(Stations, StraightToStopsWhereTheRuleSays) {
  LoadingPath p = line(8, 0.01, 0.01, 0);
  for (double extra : {0.6, 1.8, 4.0}) {
    p.load.push_back(100.0 * double(p.size()));
    p.response.push_back(0.01 * p.load.back() + extra);
    p.count.push_back(0.01);
    p.station.push_back(p.station.size());
  }
  const auto limit = straight_to(p, 0.03);
  ASSERT_TRUE(limit);
  // Every stop up to k within 3 % of its own δ_k of the line through 0…k, by brute force.
  size_t expected = 0;
  for (size_t k = 3; k < p.size(); ++k) {
    const auto f = fit_line(p.load, p.response, 0, k + 1);
    bool all = true;
    for (size_t i = 0; i <= k; ++i) all = all && std::abs(p.response[i] - f->at(p.load[i])) <= 0.03 * p.response[k];
    if (all) expected = k;
  }
  EXPECT_EQ(limit->last, expected);
  EXPECT_FALSE(straight_to(head(p, 3), 0.03)) << "four stops at least";
}

TEST(Stations, DeviationIsInterpolatedBetweenStops) {
  LoadingPath p = line(6, 0.01, 0.01, 0);
  p.load.push_back(600);
  p.response.push_back(6.6);  // 10 % beyond the line
  p.count.push_back(0.01);
  p.station.push_back(6);
  const auto limit = straight_to_deviation(p, 0.05);
  ASSERT_TRUE(limit);
  EXPECT_GT(limit->load, 500);
  EXPECT_LT(limit->load, 600);
}

TEST(Stations, PathLeavesOutMissedAndDoubtful) {
  Rows rows;
  for (int i = 0; i < 4; ++i) {
    Row s;
    s.cells.set("force", reading_of(parse_quantity(std::to_string(100 * i) + " N", Dimension::force).value()));
    s.cells.set("deflection",
                i == 1 ? Reading{} : reading_of(parse_quantity(std::to_string(i) + " mm", Dimension::length).value()));
    if (i == 2) s.state = Row::State::doubtful;
    rows.push_back(s);
  }
  EXPECT_EQ(path_of(rows, "force", "deflection").station, (std::vector<size_t>{0, 3}));
  EXPECT_EQ(path_of(rows, "force", "deflection", true).station, (std::vector<size_t>{0, 2, 3}));
}

TEST(Stations, QuadraticTermIsFoundAndNotInvented) {
  std::vector<double> x, y, straight;
  for (int i = 0; i < 12; ++i) {
    x.push_back(1e6 + i);
    y.push_back(3 + 2 * i + 0.05 * i * i + (i % 2 ? 0.01 : -0.01));
    straight.push_back(3 + 2 * i + (i % 3 == 0 ? 0.02 : -0.01));
  }
  const auto q = quadratic_term(x, y);
  ASSERT_TRUE(q);
  EXPECT_NEAR(q->coefficient, 0.05, 0.002);
  EXPECT_LT(q->p, 1e-6);
  EXPECT_GT(quadratic_term(x, straight)->p, 0.05);
  EXPECT_FALSE(quadratic_term({1, 2, 3}, {1, 2, 3}));
  EXPECT_FALSE(quadratic_term({1, 1, 1, 1}, {1, 2, 3, 4}));
}

TEST(Stations, MillionsOfPointsAreThinnedToTheirMeans) {
  LoadingPath p = line(2000000, 1e-4, 0, 0.5);
  const LoadingPath t = thinned(p, 400);
  ASSERT_EQ(t.size(), 400u);
  EXPECT_NEAR(fit_line(t.load, t.response)->slope, 1e-4, 1e-7);
}

}  // namespace
}  // namespace fortitor::stations_test
