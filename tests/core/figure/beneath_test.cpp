#include "core/figure/beneath.h"

#include <gtest/gtest.h>

namespace fortitor::beneath_test {
namespace {

Figure curve(double top, Dimension y) {
  Trace t;
  t.x = {0, 1, 2};
  t.y = {0, top, top / 2};
  t.label = "stress";
  t.flags[1] = "largest";
  Panel p;
  p.x = {"strain", Dimension::elongation};
  p.y = {"stress", y};
  p.y.to = 1.1 * top;
  p.traces = {t};
  Mark largest;
  largest.key = "rm";
  largest.points = {{1, top}};
  p.marks.push_back(largest);
  return {"curve", "", {p}};
}

TEST(LayBeneath, AnotherCurveStandsUnderTheOneInHandByItsName) {
  Figure hand = curve(500, Dimension::stress);
  ASSERT_TRUE(figure::lay_beneath(hand, curve(620, Dimension::stress), "HB-02", 3));
  const Panel& p = hand.panels[0];
  ASSERT_EQ(p.traces.size(), 2u);
  EXPECT_EQ(p.traces[0].label, "HB-02");
  EXPECT_EQ(p.traces[0].tone, 3);
  EXPECT_TRUE(p.traces[0].flags.empty());
  EXPECT_EQ(p.traces[1].label, "stress");  // the one in hand is drawn last, over the others
  EXPECT_EQ(p.marks.size(), 1u);
  EXPECT_DOUBLE_EQ(*p.y.to, 1.1 * 620) << "both are seen whole";
}

TEST(LayBeneath, WhatHasOtherAxesIsNotLaid) {
  Figure hand = curve(500, Dimension::stress);
  EXPECT_FALSE(figure::lay_beneath(hand, curve(620, Dimension::force), "AF-1", 3));
  EXPECT_EQ(hand.panels[0].traces.size(), 1u);
  EXPECT_FALSE(figure::lay_beneath(hand, Figure{}, "none", 3));
}

TEST(LayBeneath, ALinkedFigureIsLinkedNoMore) {
  Figure hand = curve(500, Dimension::stress);
  hand.linked = true;
  figure::lay_beneath(hand, curve(1, Dimension::stress), "x", 1);
  EXPECT_FALSE(hand.linked);
}

}  // namespace
}  // namespace fortitor::beneath_test
