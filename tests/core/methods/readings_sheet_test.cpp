// A handful of readings on a page: each with its U, the mean with its own, what they must meet.
#include <gtest/gtest.h>

#include "core/methods/support/figures.h"
#include "tests/core/methods/impact_records.h"

namespace fortitor::readings_sheet_test {
namespace {

const Panel& panel(const Figure& f) {
  return f.panels.front();
}

const Mark* mark(const Panel& p, const std::string& label) {
  for (const Mark& m : p.marks)
    if (m.label == label) return &m;
  return nullptr;
}

const Trace* points(const Panel& p) {
  for (const Trace& t : p.traces)
    if (t.kind == Trace::Kind::points && t.marker != Marker::none) return &t;
  return nullptr;
}

TEST(ReadingsSheet, ShowsEachWithItsUTheLimitTheRuleAndWhatIsBelow) {
  TestRecord r = beam({"30 J", "28 J", "17 J"}, "20 °C");
  r.limits["energy"].min = reading_of(parse_quantity("27 J", Dimension::energy).value());
  const Evaluation e = methods::evaluate(r);
  ASSERT_FALSE(e.figures.empty());
  const Panel& p = panel(e.figures.front());
  const Trace* t = points(p);
  ASSERT_NE(t, nullptr);
  ASSERT_EQ(t->y, (std::vector<double>{30, 28, 17}));
  // The U of one blow, as a share of it: that of the least of the set.
  const ResultValue* least = e.find("energy_min");
  for (size_t i = 0; i < 3; ++i) EXPECT_NEAR(t->error[i], t->y[i] * least->expanded() / least->value, 1e-9) << i;
  EXPECT_NE(mark(p, "mean"), nullptr);
  ASSERT_NE(mark(p, "limit ≥"), nullptr);
  EXPECT_EQ(mark(p, "limit ≥")->points.front().y, 27);
  ASSERT_NE(mark(p, "each ≥"), nullptr);  // EN 10021: none below 70 % of the limit
  EXPECT_NEAR(mark(p, "each ≥")->points.front().y, 0.7 * 27, 1e-9);
  ASSERT_EQ(t->flags.size(), 1u);
  EXPECT_EQ(t->flags.begin()->first, 2u) << "17 J is below 18.9 J";
  // The band is the mean with its U.
  const auto band =
      std::find_if(p.traces.begin(), p.traces.end(), [](const Trace& x) { return x.kind == Trace::Kind::area; });
  ASSERT_NE(band, p.traces.end());
  const ResultValue* mean = e.find("energy");
  EXPECT_NEAR(band->y.front() - band->base.front(), 2 * mean->expanded(), 1e-9);
}

TEST(ReadingsSheet, ALimitFarAwayIsSaidInWords) {
  TestRecord r = beam({"160 J", "161 J", "159 J"}, "20 °C");
  r.limits["energy"].min = reading_of(parse_quantity("27 J", Dimension::energy).value());
  const Panel p = panel(methods::evaluate(r).figures.front());
  EXPECT_EQ(mark(p, "limit ≥"), nullptr);
  EXPECT_NE(p.caption.find("limit ≥ 27"), std::string::npos) << p.caption;
  EXPECT_NE(p.caption.find("below what is drawn"), std::string::npos);
  EXPECT_TRUE(points(p)->flags.empty());
}

TEST(ReadingsSheet, OneNoneAndAllEqual) {
  ReadingsSheet sheet{"x", "x", "reading", "density", Dimension::density};
  EXPECT_TRUE(sheet.figure({}, {}).empty());
  sheet.names = {"1", "2"};
  sheet.values = {NAN, NAN};
  EXPECT_TRUE(sheet.figure({}, {}).empty());
  sheet.values = {NAN, 600};
  EXPECT_EQ(points(panel(sheet.figure({}, {})))->x, std::vector<double>{1});
  sheet.values = {600, 600};
  sheet.wanted = {{"each ≥", 600}};
  const Figure f = sheet.figure({}, {});
  EXPECT_NE(mark(panel(f), "each ≥"), nullptr) << "a limit that all stand on is on the page";
  EXPECT_TRUE(points(panel(f))->flags.empty());
}

}  // namespace
}  // namespace fortitor::readings_sheet_test
