// Pieces of a series in groups: by what a field says of them, or by the series they come from.
#include <gtest/gtest.h>

#include <algorithm>

#include "tests/core/series/crushed_pieces.h"

namespace fortitor::series_groups_test {
namespace {

using namespace crushed_pieces;

TEST(SeriesGroups, ByAFieldAndBySeries) {
  Pieces p;
  for (double x : {18000, 18200, 17900, 18100}) p.add("A", x);
  for (double x : {14000, 14400, 13800}) p.add("B", x);
  for (size_t i = 0; i < p.records.size(); ++i)
    p.records[i].fields.set("specimen.lot", std::string(i < 4 ? "north" : "south"));
  TestRecord settings;
  settings.fields.set("settings.group_by", std::string("specimen.lot"));
  const Evaluation e = p.judged(settings);
  EXPECT_NEAR(value(e, "group_1_mean"), 18050, 1e-9);
  EXPECT_NEAR(value(e, "group_1_sd"), 129.0994, 1e-3);
  EXPECT_NEAR(value(e, "group_2_least"), 13800, 1e-9);
  EXPECT_NEAR(value(e, "group_2_n"), 3, 0);
  EXPECT_NE(e.find("group_2")->text.find("mean 14.07 kN"), std::string::npos) << e.find("group_2")->text;
  // Welch by hand: d = 3983.33, s² / n: 4166.67 and 31111.11, t = 21.2.
  ASSERT_NE(e.finding("groups"), nullptr);
  EXPECT_NEAR(e.finding("groups")->evidence.at("difference"), 3983.333, 1e-2);
  EXPECT_LT(e.finding("groups")->evidence.at("p"), 0.01);
  // Pieces of another series stand beside it; they never enter its own numbers.
  settings.fields.set("settings.group_by", std::string("series"));
  std::vector<SeriesPiece> pieces;
  for (size_t i = 0; i < p.records.size(); ++i)
    pieces.push_back({&p.records[i], &p.evaluations[i], i < 4 ? "" : "old ones"});
  const Evaluation wide = series_evaluate(crush(), pieces, settings);
  EXPECT_NEAR(value(wide, "n"), 4, 0);
  EXPECT_NEAR(value(wide, "mean"), 18050, 1e-9);
  EXPECT_EQ(wide.find("group_2")->spec.name, "old ones");
  EXPECT_NEAR(value(wide, "group_2_mean"), 14066.667, 1e-2);
  const std::vector<Choice> by = series_groupings(crush(), pieces);
  auto offered = [&](const char* path) {
    return std::any_of(by.begin(), by.end(), [&](const Choice& c) { return c.value == path; });
  };
  EXPECT_TRUE(offered("series"));
  EXPECT_TRUE(offered("specimen.lot"));
  EXPECT_FALSE(offered("specimen.material")) << "all alike";
}

}  // namespace
}  // namespace fortitor::series_groups_test
