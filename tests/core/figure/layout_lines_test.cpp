// What is left of a line of a million samples, and of one that runs back and forth.
#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <random>

#include "core/figure/layout.h"

namespace fortitor::figure::layout_lines_test {
namespace {

Figure with(Trace t) {
  Panel p;
  p.x.name = "x";
  p.y.name = "y";
  p.traces = {std::move(t)};
  Figure f;
  f.panels = {p};
  return f;
}

TEST(LayoutLines, AMillionSamplesAndNone) {
  Trace t;
  for (int i = 0; i < 1000000; ++i) {
    t.x.push_back(i);
    t.y.push_back(i == 400000 ? 50 : std::sin(i * 1e-4));
  }
  const Layout l = lay_out(with(t), {});
  size_t points = 0;
  double top = HUGE_VAL;
  for (const Shape& s : l.shapes)
    if (s.kind == Shape::Kind::polyline) {
      points += s.points.size();
      for (const Point& p : s.points) top = std::min(top, p.y);
    }
  EXPECT_LT(points, 5000u);
  EXPECT_NEAR(l.frames[0].data_y(top), 50, 0.5) << "a single spike is never lost";
  EXPECT_TRUE(lay_out({}, {}).shapes.empty());
  EXPECT_FALSE(lay_out(with(Trace{}), {}).frames.empty()) << "axes stand without data";
}

// A gauge that hangs in the air: every sample lies in another column.
TEST(LayoutLines, NoiseAlongXDrawsLikeAScreenToo) {
  std::mt19937_64 random(3);
  std::uniform_real_distribution<double> any(0, 1);
  Trace t;
  for (int i = 0; i < 100000; ++i) {
    t.x.push_back(i == 31234 ? 1.5 : any(random));
    t.y.push_back(i == 71234 ? -0.25 : any(random));
  }
  const Layout l = lay_out(with(t), {});
  const Frame& f = l.frames[0];
  const auto line = std::find_if(l.shapes.begin(), l.shapes.end(), [](const Shape& s) {
    return s.kind == Shape::Kind::polyline && s.points.size() > 100;
  });
  ASSERT_NE(line, l.shapes.end());
  const auto& p = line->points;
  EXPECT_LE(double(p.size()), 8 * f.width);
  EXPECT_GE(double(p.size()), 2 * f.width);
  EXPECT_DOUBLE_EQ(p.front().x, f.px(t.x.front()));
  EXPECT_DOUBLE_EQ(p.back().y, f.py(t.y.back()));
  const auto right = std::max_element(p.begin(), p.end(), [](Point a, Point b) { return a.x < b.x; });
  const auto low = std::max_element(p.begin(), p.end(), [](Point a, Point b) { return a.y < b.y; });
  EXPECT_DOUBLE_EQ(right->x, f.px(1.5));
  EXPECT_DOUBLE_EQ(low->y, f.py(-0.25));
  // Nothing is made up, and nothing changes places.
  size_t at = 0;
  for (const Point& q : p) {
    while (at < t.x.size() && !(f.px(t.x[at]) == q.x && f.py(t.y[at]) == q.y)) ++at;
    ASSERT_LT(at, t.x.size());
  }
}

}  // namespace
}  // namespace fortitor::figure::layout_lines_test
