#include "core/figure/thin.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <limits>

namespace fortitor::thin_test {
namespace {

Figure wave(size_t n) {
  Trace t;
  for (size_t i = 0; i < n; ++i) {
    t.x.push_back(0.001 * double(i));
    t.y.push_back(std::sin(0.01 * double(i)));
  }
  Panel p;
  p.traces = {t};
  return {"f", "", {p}};
}

TEST(ThinFigure, KeepsEveryExtremeTheEndsAndTheOrder) {
  Figure f = wave(100000);
  f.panels[0].traces[0].y[54321] = 17;  // one sample that stands out
  f.panels[0].traces[0].y[777] = -9;
  const Trace whole = f.panels[0].traces[0];
  figure::thin(f, 2000);
  const Trace& t = f.panels[0].traces[0];
  EXPECT_LE(t.x.size(), 2004u);
  EXPECT_GE(t.x.size(), 1000u);
  EXPECT_EQ(t.x.size(), t.y.size());
  EXPECT_TRUE(std::is_sorted(t.x.begin(), t.x.end()));
  EXPECT_EQ(t.x.front(), whole.x.front());
  EXPECT_EQ(t.x.back(), whole.x.back());
  EXPECT_EQ(*std::max_element(t.y.begin(), t.y.end()), 17);
  EXPECT_EQ(*std::min_element(t.y.begin(), t.y.end()), -9);
  // Nothing is made up: every point that is kept was there.
  for (size_t i = 0; i < t.x.size(); ++i) {
    const auto at = std::find(whole.x.begin(), whole.x.end(), t.x[i]);
    ASSERT_NE(at, whole.x.end());
    EXPECT_EQ(whole.y[size_t(at - whole.x.begin())], t.y[i]);
  }
}

TEST(ThinFigure, KeepsGapsAndWhatIsSaidOfPoints) {
  Figure f = wave(10000);
  f.panels[0].traces[0].y[5000] = std::numeric_limits<double>::quiet_NaN();
  figure::thin(f, 200);
  const auto& y = f.panels[0].traces[0].y;
  EXPECT_EQ(std::count_if(y.begin(), y.end(), [](double v) { return std::isnan(v); }), 1);
  Figure flagged = wave(10000);
  flagged.panels[0].traces[0].flags[7] = "seventh";
  figure::thin(flagged, 200);
  EXPECT_EQ(flagged.panels[0].traces[0].x.size(), 10000u);
  Figure linked = wave(10000);
  linked.linked = true;
  figure::thin(linked, 200);
  EXPECT_EQ(linked.panels[0].traces[0].x.size(), 10000u);
}

TEST(ThinFigure, LeavesShortLinesAlone) {
  Figure f = wave(2000);
  figure::thin(f, 2000);
  EXPECT_EQ(f.panels[0].traces[0].x.size(), 2000u);
}

}  // namespace
}  // namespace fortitor::thin_test
