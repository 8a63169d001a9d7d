// The cursor of a linked figure: one sample, on its place, with its two values in words that have room.
#include <gtest/gtest.h>

#include <cmath>

#include "core/figure/layout.h"

namespace fortitor::figure::cursor_test {
namespace {

Figure curve() {
  Panel p;
  p.x = {"strain", Dimension::strain};
  p.y = {"stress", Dimension::stress};
  Trace t;
  t.x = {0, 0.05, 0.1, NAN, 0.2};
  t.y = {0, 123.456, 300, 310, 520};
  p.traces = {t};
  Figure f;
  f.panels = {p};
  f.linked = true;
  return f;
}

// What the cursor adds: all shapes in the ink of what is in hand.
std::vector<Shape> cursor_of(const Figure& f, size_t sample, Options options = {}) {
  options.cursor = sample;
  std::vector<Shape> out;
  for (const Shape& s : lay_out(f, options).shapes)
    if (s.stroke == Ink::action) out.push_back(s);
  return out;
}

TEST(Cursor, StandsOnItsSampleWithBothValues) {
  Options options;
  options.cursor = 1;
  const Layout l = lay_out(curve(), options);
  const Frame& f = l.frames[0];
  const auto drawn = cursor_of(curve(), 1);
  ASSERT_EQ(drawn.size(), 3u) << "a line, a dot, words";
  ASSERT_EQ(drawn[0].points.size(), 2u);
  for (const Point& at : drawn[0].points) EXPECT_DOUBLE_EQ(at.x, f.px(0.05));
  EXPECT_DOUBLE_EQ(drawn[0].points[0].y, f.top);
  EXPECT_DOUBLE_EQ(drawn[0].points[1].y, f.top + f.height);
  EXPECT_EQ(drawn[1].kind, Shape::Kind::circle);
  EXPECT_DOUBLE_EQ(drawn[1].points[0].x, f.px(0.05));
  EXPECT_DOUBLE_EQ(drawn[1].points[0].y, f.py(123.456));
  EXPECT_EQ(drawn[2].text, "123.5 MPa  at 5.000 %");
  EXPECT_TRUE(drawn[2].numbers);
  Options us;
  us.set = UnitSet::us;
  EXPECT_EQ(cursor_of(curve(), 1, us).back().text, "17.91 ksi  at 5.000 %");
}

TEST(Cursor, BehindTheLastSampleThereIsNothingToPointOut) {
  EXPECT_EQ(cursor_of(curve(), 4).size(), 3u);
  for (size_t sample : {5u, 6u, 500u}) EXPECT_TRUE(cursor_of(curve(), sample).empty()) << sample;
}

TEST(Cursor, ItsWordsStayInsideTheFrameOnPaperOfTheirOwn) {
  for (size_t sample : {0u, 1u, 2u, 4u}) {
    Options options;
    options.cursor = sample;
    const Layout l = lay_out(curve(), options);
    const Frame& f = l.frames[0];
    const auto drawn = cursor_of(curve(), sample);
    ASSERT_EQ(drawn.size(), 3u) << sample;
    const Shape& words = drawn[2];
    const double width = text_width(words.text, words.size, true), x = words.points[0].x;
    EXPECT_GE(x, f.left) << sample;
    EXPECT_LE(x + width, f.left + f.width) << sample;
    EXPECT_EQ(x > drawn[1].points[0].x, sample != 4) << "at the right edge they change sides";
    bool covered = false;
    for (const Shape& s : l.shapes) {
      if (s.kind != Shape::Kind::polygon || s.fill != Ink::paper || s.points.size() != 4) continue;
      covered = covered || (s.points[0].x < x && s.points[1].x > x + width &&
                            s.points[0].y <= words.points[0].y - words.size && s.points[2].y > words.points[0].y);
    }
    EXPECT_TRUE(covered) << sample;
  }
}

TEST(Cursor, GrowsWithTheText) {
  Options small, large;
  small.cursor = large.cursor = 1;
  large.text_scale = 2;
  const auto paper_of = [](const Options& o) {
    const Layout l = lay_out(curve(), o);
    for (size_t i = 1; i < l.shapes.size(); ++i)
      if (l.shapes[i].kind == Shape::Kind::text && l.shapes[i].stroke == Ink::action) return l.shapes[i - 1];
    return Shape{};
  };
  const Shape a = paper_of(small), b = paper_of(large);
  ASSERT_EQ(a.points.size(), 4u);
  ASSERT_EQ(b.points.size(), 4u);
  EXPECT_NEAR(a.points[2].y - a.points[1].y, 17, 1e-9) << "the words and a little under them";
  EXPECT_NEAR(b.points[2].y - b.points[1].y, 34, 1e-9);
  EXPECT_NEAR(a.points[3].y - a.points[0].y, 17, 1e-9);
  EXPECT_NEAR(b.points[3].y - b.points[0].y, 34, 1e-9);
  EXPECT_NEAR(cursor_of(curve(), 1, large)[1].size, 2 * cursor_of(curve(), 1, small)[1].size, 1e-9);
}

TEST(Cursor, NothingIsPointedOutWhereThereIsNoSample) {
  EXPECT_TRUE(cursor_of(curve(), 3).empty()) << "not measured";
  EXPECT_TRUE(cursor_of(curve(), 5).empty()) << "beyond the last";
  Figure zoomed = curve();
  zoomed.panels[0].x.from = 0.15;
  zoomed.panels[0].x.to = 0.25;
  EXPECT_TRUE(cursor_of(zoomed, 1).empty()) << "outside the frame";
  EXPECT_EQ(cursor_of(zoomed, 4).size(), 3u);
  Figure alone = curve();
  alone.linked = false;
  EXPECT_TRUE(cursor_of(alone, 1).empty()) << "no run that others share";
  Figure nothing = curve();
  nothing.panels[0].traces.clear();
  EXPECT_TRUE(cursor_of(nothing, 0).empty());
}

}  // namespace
}  // namespace fortitor::figure::cursor_test
