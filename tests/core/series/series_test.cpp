#include "core/series/series.h"

#include <gtest/gtest.h>

#include "core/standin/benches.h"

namespace fortitor {
namespace {

const Method& crush() {
  return *methods::find("crush-shell");
}

SeriesPiece piece(const std::string& id, double value, bool dent = false) {
  SeriesPiece p;
  p.id = id;
  p.value = value;
  p.there = true;
  p.ticked["specimen.suspects.dent"] = dent;
  return p;
}

std::vector<SeriesPiece> tubes() {
  std::vector<SeriesPiece> v;
  for (double x : {18000, 18200, 17900, 18100, 18300, 17800}) v.push_back(piece("T", x));
  for (double x : {14000, 14400, 13800}) v.push_back(piece("D", x, true));
  return v;
}

TEST(Series, ADentThatMattersIsTestedAgainstTheData) {
  const SeriesReport r = series_report(crush(), "peak_force", tubes());
  ASSERT_EQ(r.suspects.size(), 1u);
  EXPECT_EQ(r.suspects[0].ticked, 3u);
  EXPECT_NEAR(r.suspects[0].mean_unticked, 18050, 1);
  ASSERT_TRUE(r.suspects[0].welch);
  EXPECT_LT(r.suspects[0].welch->p, 0.01);
  EXPECT_NE(r.suspects[0].sentence.find("explains scatter"), std::string::npos);
}

TEST(Series, OneTickIsNoTest) {
  auto v = tubes();
  for (auto& p : v) p.ticked.clear();
  v[0].ticked["specimen.suspects.fluid"] = true;
  const SeriesReport r = series_report(crush(), "peak_force", v);
  ASSERT_EQ(r.suspects.size(), 1u);
  EXPECT_FALSE(r.suspects[0].welch);
}

TEST(Series, OutliersAreFlaggedAndStay) {
  std::vector<SeriesPiece> v;
  for (double x : {100.0, 101.0, 99.0, 100.5, 99.5, 100.2, 99.8, 120.0})
    v.push_back(piece("P" + std::to_string(int(x)), x));
  const SeriesReport r = series_report(crush(), "peak_force", v);
  ASSERT_EQ(r.outliers.size(), 1u);
  EXPECT_EQ(r.outliers[0], 7u);
  EXPECT_EQ(r.counted.n, 8u) << "flagged, never removed";
  v[7].left_out = "hit by the crane before the test";
  const SeriesReport without = series_report(crush(), "peak_force", v);
  EXPECT_EQ(without.counted.n, 7u);
  EXPECT_EQ(without.all.n, 8u);
  EXPECT_EQ(without.left_out, 1u);
  EXPECT_NE(without.sentences.front().find("without"), std::string::npos);
}

TEST(Series, VoidTestsAreCountedAndBoundsAreNoValues) {
  auto v = tubes();
  v[0].void_test = true;
  v[1].censored = Censoring{true, 0, 0};
  const SeriesReport r = series_report(crush(), "peak_force", v);
  EXPECT_EQ(r.voids, 1u);
  EXPECT_EQ(r.bounds, 1u);
  EXPECT_EQ(r.counted.n, 7u);
  ASSERT_TRUE(r.likelihood);
  EXPECT_GT(r.likelihood->mean, r.counted.mean) << "a lower bound pulls the mean up";
  EXPECT_EQ(r.b_basis, 0) << "no normal factor over bounds";
}

TEST(Series, EmptyAndUnknownSayNothing) {
  EXPECT_EQ(series_report(crush(), "peak_force", {}).counted.n, 0u);
  EXPECT_TRUE(series_report(crush(), "no_such_key", tubes()).spec.key.empty());
}

TEST(Series, PiecesComeFromTheEvaluation) {
  const auto* bench = standin::find_bench("shell-press");
  standin::SimulateOptions o;
  o.seed = 5;
  o.faults = {"dent"};
  const TestRecord r = bench->simulate(o);
  const SeriesPiece p = series_piece(r, methods::evaluate(r), "peak_force");
  EXPECT_TRUE(p.there);
  EXPECT_GT(p.value, 5000);
  EXPECT_TRUE(p.ticked.at("specimen.suspects.dent"));
}

}  // namespace
}  // namespace fortitor
