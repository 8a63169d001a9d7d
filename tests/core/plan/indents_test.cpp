#include "core/plan/indents.h"

#include <gtest/gtest.h>

#include <array>
#include <cmath>
#include <map>
#include <random>

namespace fortitor::indents_test {
namespace {

using Kind = IndentPattern::Kind;
using Shape = IndentFace::Shape;

void holds_its_rules(const IndentFace& face, const IndentPattern& p, const std::vector<IndentSpot>& spots) {
  for (size_t i = 0; i < spots.size(); ++i) {
    EXPECT_GE(face.to_edge(spots[i].x, spots[i].y), p.edge * p.size - 1e-6);
    for (size_t k = i + 1; k < spots.size(); ++k)
      EXPECT_GE(std::hypot(spots[i].x - spots[k].x, spots[i].y - spots[k].y), p.spacing * p.size - 1e-6);
    for (const IndentSpot& c : p.clear)
      EXPECT_GE(std::hypot(spots[i].x - c.x, spots[i].y - c.y), c.radius + p.edge * p.size - 1e-6);
  }
}

TEST(Indents, RandomPlansKeepEveryRule) {
  std::mt19937 random(5);
  auto between = [&](double a, double b) { return a + (b - a) * double(random() % 10001) / 10000; };
  size_t placed = 0;
  for (int n = 0; n < 300; ++n) {
    IndentFace f;
    f.shape = std::array{Shape::rectangle, Shape::disc, Shape::weld}[size_t(n % 3)];
    f.width = between(3, 40);
    f.height = f.shape == Shape::disc ? f.width : between(2, 20);
    f.weld_width = f.width * 0.3;
    f.haz_width = f.width * 0.12;
    IndentPattern p;
    p.kind = f.shape == Shape::weld ? Kind::weld : std::array{Kind::grid, Kind::line, Kind::staggered}[random() % 3];
    p.count = int(between(1, 30));
    p.size = between(0.02, 0.4);
    p.spacing = std::array{2.5, 3.0, 6.0}[random() % 3];
    p.edge = p.spacing > 5 ? 3 : 2.5;
    if (p.kind == Kind::staggered) p.pitch = between(0.3, 1.2) * p.spacing * p.size;
    for (int k = int(random() % 3); k > 0; --k)
      p.clear.push_back({between(0, f.width), between(0, f.height), between(0, 1), {}});
    const auto spots = place_indents(f, p);
    if (!spots) continue;
    placed += spots->size();
    EXPECT_LE(spots->size(), size_t(p.count) * (p.kind == Kind::weld ? 10 : 1));
    holds_its_rules(f, p, *spots);
  }
  EXPECT_GT(placed, 1000u);
}

TEST(Indents, AStraightLineIsRefusedBelowTheLeastPitchAndStaggeredInstead) {
  IndentFace f{Shape::rectangle, 10, 6, 0, 0};
  IndentPattern p;
  p.kind = Kind::line;
  p.count = 12;
  p.size = 0.06;
  p.pitch = 0.1;  // three diagonals are 0.18
  p.start = 0.16;
  const auto straight = place_indents(f, p);
  ASSERT_FALSE(straight);
  EXPECT_NE(straight.error().message.find("0.180 mm"), std::string::npos) << straight.error().message;
  p.kind = Kind::staggered;
  const auto spots = place_indents(f, p);
  ASSERT_TRUE(spots);
  ASSERT_EQ(spots->size(), 12u);
  for (size_t i = 0; i < 12; ++i) EXPECT_NEAR((*spots)[i].x, 0.16 + 0.1 * double(i), 1e-9) << "depth goes on evenly";
  holds_its_rules(f, p, *spots);
}

TEST(Indents, WhatCannotBePlacedIsSaidWithItsNumbers) {
  IndentPattern p;
  EXPECT_FALSE(place_indents({}, p)) << "no face";
  IndentFace f{Shape::rectangle, 1, 1, 0, 0};
  p.size = 0.5;
  const auto none = place_indents(f, p);
  ASSERT_FALSE(none);
  EXPECT_NE(none.error().message.find("1.25 mm"), std::string::npos) << none.error().message;
  p.size = 0;
  EXPECT_FALSE(place_indents(f, p));
  p.size = 0.02;
  p.kind = Kind::weld;
  EXPECT_FALSE(place_indents(f, p)) << "no weld on this face";
  p.kind = Kind::line;
  p.start = 0.01;
  EXPECT_FALSE(place_indents(f, p)) << "too near the edge";
  p.kind = Kind::staggered;
  EXPECT_FALSE(place_indents(f, p)) << "too near the edge";
  p.count = 0;
  EXPECT_FALSE(place_indents(f, p));
  p.count = 5;
  p.start = 0;
  p.pitch = 1e-9;
  EXPECT_FALSE(place_indents(f, p));
}

TEST(Indents, RowsAcrossAWeldReachAllThreeZones) {
  IndentFace f{Shape::weld, 30, 10, 8, 3};
  IndentPattern p;
  p.kind = Kind::weld;
  p.count = 3;
  p.size = 0.2;
  p.start = 2;
  const auto spots = place_indents(f, p);
  ASSERT_TRUE(spots);
  EXPECT_EQ(spots->size(), 30u) << "five stretches, three each, two rows";
  std::map<std::string, int> zones;
  for (const IndentSpot& s : *spots) ++zones[s.zone];
  EXPECT_EQ(zones["base"], 12);
  EXPECT_EQ(zones["heat-affected zone"], 12);
  EXPECT_EQ(zones["weld metal"], 6);
}

TEST(Indents, TheStageWalksAGridInSerpentines) {
  IndentFace f{Shape::rectangle, 10, 10, 0, 0};
  IndentPattern p;
  p.count = 9;
  p.size = 0.1;
  const auto spots = place_indents(f, p);
  ASSERT_TRUE(spots);
  double longest = 0;
  for (size_t i = 1; i < spots->size(); ++i)
    longest = std::max(longest, std::hypot((*spots)[i].x - (*spots)[i - 1].x, (*spots)[i].y - (*spots)[i - 1].y));
  EXPECT_LT(longest, 0.31);
}

TEST(Indents, PlacesAreKeptAsTheyWereTyped) {
  const auto spots = read_spots("0.15 0; 0.4, 0.1;; 2 3 0.5 ");
  ASSERT_TRUE(spots);
  ASSERT_EQ(spots->size(), 3u);
  EXPECT_DOUBLE_EQ((*spots)[1].y, 0.1);
  EXPECT_DOUBLE_EQ((*spots)[2].radius, 0.5);
  EXPECT_EQ(write_spots(*spots), "0.15 0; 0.4 0.1; 2 3 0.5");
  for (const char* bad : {"1", "1 a", "1 2 3 4", "1 2 -3", "nan 1", "1e999 2"}) EXPECT_FALSE(read_spots(bad)) << bad;
}

}  // namespace
}  // namespace fortitor::indents_test
