// Figures laid out: axes, ticks, traces, marks, handles and words.
#include "core/figure/layout.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>

namespace fortitor::figure::layout_test {
namespace {

Figure one(const Panel& p) {
  Figure f;
  f.panels = {p};
  return f;
}

Panel with(Trace t) {
  Panel p;
  p.x.name = "x";
  p.y.name = "y";
  p.traces = {std::move(t)};
  return p;
}

Trace line(std::vector<double> x, std::vector<double> y) {
  Trace t;
  t.x = std::move(x);
  t.y = std::move(y);
  return t;
}

size_t count(const Layout& l, Shape::Kind kind) {
  size_t n = 0;
  for (const Shape& s : l.shapes) n += s.kind == kind;
  return n;
}

std::vector<std::string> words(const Layout& l) {
  std::vector<std::string> out;
  for (const Shape& s : l.shapes)
    if (s.kind == Shape::Kind::text) out.push_back(s.text);
  return out;
}

bool says(const Layout& l, const std::string& text) {
  for (const std::string& w : words(l))
    if (w.find(text) != std::string::npos) return true;
  return false;
}

TEST(Layout, DataAndPixelsGoBothWays) {
  for (Axis::Scale scale : {Axis::Scale::linear, Axis::Scale::log}) {
    Panel p = with(line({1, 10, 1000}, {2, 20, 200}));
    p.x.scale = p.y.scale = scale;
    const Layout l = lay_out(one(p), {});
    ASSERT_EQ(l.frames.size(), 1u);
    const Frame& f = l.frames[0];
    for (double v : {1.5, 10.0, 900.0}) {
      EXPECT_NEAR(f.data_x(f.px(v)), v, 1e-9 * v);
      EXPECT_NEAR(f.data_y(f.py(v)), v, 1e-9 * v);
    }
    EXPECT_LT(f.px(1), f.px(1000));
    EXPECT_GT(f.py(2), f.py(200)) << "up is larger";
  }
  Panel p = with(line({1, 10, 100}, {1, 10, 100}));
  p.x.scale = Axis::Scale::log;
  const Frame f = lay_out(one(p), {}).frames[0];
  EXPECT_NEAR(f.px(10) - f.px(1), f.px(100) - f.px(10), 1e-6) << "a decade is a decade";
}

TEST(Layout, CategoriesStandAtTheirPlaces) {
  Trace t = line({0, 1, 2}, {5, 7, 6});
  t.kind = Trace::Kind::points;
  Panel p = with(t);
  p.x.scale = Axis::Scale::category;
  p.x.categories = {"WP-01", "WP-02", "WP-03"};
  const Layout l = lay_out(one(p), {});
  for (const char* name : {"WP-01", "WP-02", "WP-03"}) EXPECT_TRUE(says(l, name)) << name;
  EXPECT_EQ(count(l, Shape::Kind::circle), 3u);
  const Frame& f = l.frames[0];
  EXPECT_NEAR(f.px(1), f.left + f.width / 2, 1) << "the middle one in the middle";
}

TEST(Layout, BarsReachFromTheirBaseToTheirValue) {
  Trace t = line({1, 2, 3}, {4, 8, 2});
  t.kind = Trace::Kind::bars;
  t.bar_width = 1;
  t.names = {"4", "8", "2"};
  const Layout l = lay_out(one(with(t)), {});
  const Frame& f = l.frames[0];
  EXPECT_LE(f.x0, 0.5);
  EXPECT_GE(f.x1, 3.5) << "the outer bars are whole";
  size_t bars = 0;
  for (const Shape& s : l.shapes) {
    if (s.kind != Shape::Kind::polygon) continue;
    ++bars;
    double low = -HUGE_VAL;
    for (const Point& p : s.points) low = std::max(low, p.y);
    EXPECT_NEAR(low, f.py(0), 0.6) << "stands on zero";
  }
  EXPECT_EQ(bars, 3u);
  EXPECT_TRUE(says(l, "8"));
}

TEST(Layout, StepsAreaErrorsAndBoundsAddTheirLines) {
  Trace plain = line({1, 2, 3}, {2, 3, 4});
  plain.kind = Trace::Kind::points;
  const size_t before = count(lay_out(one(with(plain)), {}), Shape::Kind::line);
  Trace errors = plain;
  errors.error = {0.5, 0.5, 0.5};
  EXPECT_GE(count(lay_out(one(with(errors)), {}), Shape::Kind::line), before + 3);
  Trace bounds = plain;
  bounds.bound = {0, 1, -1};
  const Layout arrows = lay_out(one(with(bounds)), {});
  EXPECT_GT(arrows.shapes.size(), lay_out(one(with(plain)), {}).shapes.size());
  Trace steps = line({0, 1, 2}, {1, 3, 2});
  steps.kind = Trace::Kind::steps;
  size_t corners = 0;
  for (const Shape& s : lay_out(one(with(steps)), {}).shapes)
    if (s.kind == Shape::Kind::polyline) corners = std::max(corners, s.points.size());
  EXPECT_GE(corners, 5u) << "every step has its corner";
  Trace area = line({0, 1, 2}, {1, 3, 2});
  area.kind = Trace::Kind::area;
  EXPECT_GE(count(lay_out(one(with(area)), {}), Shape::Kind::polygon), 1u);
}

TEST(Layout, AMapHasOneScale) {
  Trace t = line({0, 100}, {0, 10});
  Panel p = with(t);
  p.equal_aspect = true;
  const Frame f = lay_out(one(p), {}).frames[0];
  EXPECT_NEAR((f.px(10) - f.px(0)) / (f.py(0) - f.py(10)), 1, 1e-6);
  EXPECT_LE(f.y0, 0);
  EXPECT_GE(f.y1, 10);
}

TEST(Layout, AnIntervalOnTheAxisStandsOverTheNumbersOfTheAxis) {
  Trace t = line({12, 16, 20}, {2, 1, 4});
  t.kind = Trace::Kind::bars;
  Panel p = with(t);
  Mark m;
  m.kind = Mark::Kind::band;
  m.tone = Mark::Tone::limit;
  for (double y : {0.0, 2.0}) {
    m.points = {{15.7, y}, {18.4, y}};
    p.marks = {m};
    const Layout l = lay_out(one(p), {});
    const Frame& f = l.frames[0];
    bool drawn = false;
    for (const Shape& s : l.shapes) {
      if (s.kind != Shape::Kind::line || s.points.size() != 2 || std::abs(s.points[0].x - f.px(15.7)) > 1e-6) continue;
      drawn = true;
      for (const Point& at : s.points) EXPECT_LE(at.y, f.top + f.height) << y;
    }
    EXPECT_TRUE(drawn) << y;
  }
}

TEST(Layout, MarksAppearWithTheirValuesAndPickTheirResults) {
  Panel p = with(line({0, 1, 2}, {0, 5, 9}));
  Mark m;
  m.kind = Mark::Kind::point;
  m.key = "rm";
  m.label = "Rm";
  m.points = {{1, 5}};
  m.value = 520;
  m.dimension = Dimension::stress;
  p.marks.push_back(m);
  m.key = "ae";
  m.label = "only when asked";
  m.on_demand = true;
  m.value.reset();
  p.marks.push_back(m);
  const Layout l = lay_out(one(p), {});
  EXPECT_TRUE(says(l, "Rm"));
  EXPECT_TRUE(says(l, "520"));
  EXPECT_FALSE(says(l, "only when asked"));
  ASSERT_FALSE(l.picks.empty());
  EXPECT_EQ(l.picks[0].key, "rm");
  EXPECT_NEAR(l.picks[0].at.x, l.frames[0].px(1), 1e-6);
  Options open;
  open.highlight = "ae";
  EXPECT_TRUE(says(lay_out(one(p), open), "only when asked"));
}

TEST(Layout, HandlesSitOnTheirValuesAndOnlyWhereAHandCanTakeThem) {
  Panel p = with(line({0, 1}, {0, 100}));
  Handle h;
  h.setting = "settings.modulus.to";
  h.at = {0, 60};
  p.handles = {h};
  Options o;
  o.handles = true;
  const Layout l = lay_out(one(p), o);
  EXPECT_GT(count(l, Shape::Kind::square) + count(l, Shape::Kind::polygon),
            count(lay_out(one(p), {}), Shape::Kind::square) + count(lay_out(one(p), {}), Shape::Kind::polygon))
      << "on paper nothing can be dragged, and nothing is drawn to be";
  ASSERT_EQ(l.handles.size(), 1u);
  EXPECT_NEAR(l.frames[0].data_y(l.handles[0].at.y), 60, 1e-6);
  // The paper stands still under a dragging hand.
  Figure longer = one(p);
  longer.panels[0].traces[0].y = {0, 400};
  o.keep = l.frames;
  EXPECT_EQ(lay_out(longer, o).frames[0].y1, l.frames[0].y1);
}

TEST(Layout, AwkwardNumbersDoNoHarm) {
  for (const auto& y :
       {std::vector<double>{NAN, NAN, NAN}, {5, 5, 5}, {0, 0, 0}, {-1, HUGE_VAL, 3}, {1e-300, 2e-300, 0}})
    for (Axis::Scale scale : {Axis::Scale::linear, Axis::Scale::log}) {
      Panel p = with(line({0, 1, 2}, y));
      p.y.scale = p.x.scale = scale;
      for (const Shape& s : lay_out(one(p), {}).shapes)
        for (const Point& at : s.points) EXPECT_TRUE(std::isfinite(at.x) && std::isfinite(at.y));
    }
  Options tiny;
  tiny.width = tiny.height = 3;
  EXPECT_NO_THROW(lay_out(one(with(line({0, 1}, {0, 1}))), tiny));
}

TEST(Layout, ACaptionTooLongIsShortenedByWords) {
  Panel p = with(line({0, 1}, {0, 1}));
  p.caption =
      "window 20.0 to 229 MPa, R² 0.99999, strain from the extensometer and after its removal from the crosshead";
  for (double width : {60.0, 200.0, 420.0, 2000.0}) {
    Options o;
    o.width = width;
    const Layout l = lay_out(one(p), o);
    for (const Shape& s : l.shapes) {
      if (s.kind != Shape::Kind::text || s.text.find("window") != 0) continue;
      EXPECT_EQ(s.text == p.caption, width > 1000);
    }
  }
}

// Curves that lie on one another: each is named all the same, where there is room.
TEST(Layout, EveryCurveHasItsName) {
  Panel p;
  for (const char* name : {"week 1", "week 2", "week 3"}) {
    Trace t = line({}, {});
    for (int i = 0; i <= 100; ++i) {
      t.x.push_back(i);
      t.y.push_back(100 - i);
    }
    t.label = name;
    p.traces.push_back(t);
  }
  Options o;
  o.width = 500;
  o.height = 200;
  const Layout l = lay_out(one(p), o);
  for (const char* name : {"week 1", "week 2", "week 3"}) EXPECT_TRUE(says(l, name)) << name;
}

// A low figure beside large text: numbers of the y axis do not stand on one another, and nought keeps its own.
TEST(Layout, NumbersOfTheYAxisKeepApart) {
  for (const double height : {90.0, 110.0, 140.0, 180.0, 260.0, 420.0})
    for (const double scale : {1.0, 1.5, 2.0})
      for (const auto& [low, high] : {std::pair{-160.0, 10.0}, {0.0, 1.0}, {-3.0, 4.0}, {512.0, 514.0}, {0.0, 1e6}}) {
        Options o;
        o.width = 500;
        o.height = height;
        o.text_scale = scale;
        const Layout l = lay_out(one(with(line({0, 1}, {low, high}))), o);
        if (l.frames.empty()) continue;  // no room for anything
        std::vector<double> at;
        bool nought = false;
        double size = 0;
        for (const Shape& shape : l.shapes)
          if (shape.kind == Shape::Kind::text && shape.numbers && shape.anchor == Anchor::end) {
            at.push_back(shape.points.front().y);
            size = shape.size;
            nought = nought || shape.text.find_first_not_of("0.") == std::string::npos;
          }
        std::sort(at.begin(), at.end());
        EXPECT_FALSE(at.empty());
        for (size_t i = 1; i < at.size(); ++i)
          EXPECT_GE(at[i] - at[i - 1], 0.9 * size) << height << " " << scale << " " << low;
        if (low <= 0 && high >= 0) {
          EXPECT_TRUE(nought) << height << " " << scale << " " << low;
        }
      }
}

TEST(Layout, PanelsStandSideBySideAndUnderOneAnotherWhenNarrow) {
  Figure f;
  f.panels = {with(line({0, 1}, {0, 1})), with(line({0, 1}, {0, 1}))};
  Options wide, narrow;
  wide.width = 900;
  narrow.width = 320;
  narrow.height = 500;
  const auto a = lay_out(f, wide).frames, b = lay_out(f, narrow).frames;
  EXPECT_GT(a[1].left, a[0].left + a[0].width);
  EXPECT_GT(b[1].top, b[0].top + b[0].height);
}

TEST(Layout, TheSpaceBetweenFourPanelsGrowsWithTheText) {
  Figure f;
  for (int i = 0; i < 4; ++i) f.panels.push_back(with(line({0, 1}, {0, 1})));
  auto offset = [&](double scale) {  // what the second column is narrower than the first
    Options o;
    o.width = 1600;
    o.height = 1200;
    o.text_scale = scale;
    const auto frames = lay_out(f, o).frames;
    return frames[0].width - frames[1].width;
  };
  EXPECT_NEAR(offset(1), 8, 1e-9);
  EXPECT_NEAR(offset(2), 16, 1e-9);
}

TEST(Layout, PanelsTakeTurnsWhereNeitherWayLeavesRoom) {
  Figure f;
  f.panels = {with(line({0, 1}, {0, 1})), with(line({0, 1}, {0, 1}))};
  const auto at = [&](double width, double height, double scale) {
    Options o;
    o.width = width;
    o.height = height;
    o.text_scale = scale;
    return arrangement(f, o);
  };
  EXPECT_EQ(at(900, 400, 1), Arrangement::beside);
  EXPECT_EQ(at(320, 500, 1), Arrangement::stacked);
  EXPECT_EQ(at(850, 340, 2), Arrangement::turns) << "as at 200 % text";
  EXPECT_EQ(at(320, 200, 1), Arrangement::turns);
  f.panels.resize(1);
  EXPECT_EQ(at(100, 100, 2), Arrangement::beside) << "one panel has no turns";
}

TEST(Layout, AWholeLayoutMovesDownTogether) {
  const auto before = lay_out(one(with(line({0, 1}, {0, 1}))), {});
  auto after = before;
  move_down(after, 40);
  EXPECT_EQ(after.height, before.height + 40);
  EXPECT_EQ(after.frames[0].top, before.frames[0].top + 40);
  for (size_t i = 0; i < before.shapes.size(); ++i)
    for (size_t k = 0; k < before.shapes[i].points.size(); ++k)
      EXPECT_EQ(after.shapes[i].points[k].y, before.shapes[i].points[k].y + 40);
}

TEST(Layout, PointsWithoutAMarkerWriteTheirNamesOnly) {
  Trace t = line({0, 1}, {0, 1});
  t.kind = Trace::Kind::points;
  t.marker = Marker::none;
  t.names = {"33.9", "335"};
  const auto out = lay_out(one(with(t)), {});
  EXPECT_TRUE(says(out, "33.9"));
  for (const Shape& s : out.shapes) EXPECT_NE(s.kind, Shape::Kind::circle);
}

TEST(Layout, UnitsAreThoseOfTheReader) {
  Panel p = with(line({0, 0.2}, {0, 520}));
  p.x = {"strain", Dimension::strain};
  p.y = {"stress", Dimension::stress};
  Options us;
  us.set = UnitSet::us;
  EXPECT_TRUE(says(lay_out(one(p), {}), "stress, MPa"));
  EXPECT_TRUE(says(lay_out(one(p), us), "stress, ksi"));
}

}  // namespace
}  // namespace fortitor::figure::layout_test
