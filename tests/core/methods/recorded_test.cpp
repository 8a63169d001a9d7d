// What was measured is shown also where nothing is computed of it, and never beside what was.
#include "core/methods/support/recorded.h"

#include <gtest/gtest.h>

#include <cmath>
#include <stdexcept>

#include "core/methods/guard.h"
#include "core/series/series.h"
#include "tests/core/methods/made.h"

namespace fortitor::recorded_test {
namespace {

TestRecord pulled() {
  return made(*standin::find_bench(methods::find("tension-metal")->standin), "tension-metal");
}

const Trace& only_trace(const Evaluation& e) {
  EXPECT_EQ(e.figures.size(), 1u);
  EXPECT_EQ(e.figures.at(0).panels.size(), 1u);
  return e.figures.at(0).panels.at(0).traces.at(0);
}

void expect_as_measured(const Trace& t, const Samples& samples, const char* over, const char* load) {
  ASSERT_FALSE(t.x.empty());
  ASSERT_EQ(t.x.size(), t.y.size());
  const std::vector<double>&x = samples.find(over)->values, &y = samples.find(load)->values;
  // Thinned for a screen perhaps, but each point is one that was measured.
  size_t at = 0;
  for (size_t i = 0; i < t.x.size(); ++i) {
    if (!std::isfinite(t.x[i]) || !std::isfinite(t.y[i])) continue;  // a gap: the extensometer was off
    while (at < x.size() && !(x[at] == t.x[i] && y[at] == t.y[i])) ++at;
    ASSERT_LT(at, x.size()) << "point " << i << " was never measured";
  }
  EXPECT_EQ(*std::max_element(t.y.begin(), t.y.end()), *std::max_element(y.begin(), y.end()));
}

TEST(Recorded, ARunWithoutASectionIsShownAsItWasMeasured) {
  TestRecord r = pulled();
  r.fields.erase("specimen.section.diameter");
  const Evaluation e = methods::evaluate(r);
  ASSERT_NE(e.finding("no-section"), nullptr);
  EXPECT_TRUE(e.figures.at(0).raw);
  expect_as_measured(only_trace(e), *r.run.samples(), "extension", "force");
  EXPECT_EQ(e.figures[0].panels[0].y.dimension, Dimension::force);
  EXPECT_FALSE(methods::evaluate(pulled()).figures.at(0).raw);
}

TEST(Recorded, AFaultOfTheProgramHidesNoMeasurement) {
  Method fails = *methods::find("tension-metal");
  fails.evaluate = [](const TestRecord&, const EvaluateOptions&) -> Evaluation { throw std::runtime_error("fault"); };
  const TestRecord r = pulled();
  const Evaluation e = methods::guarded(fails, r, {});
  ASSERT_NE(e.finding("evaluation-failed"), nullptr);
  EXPECT_TRUE(e.results.empty());
  expect_as_measured(only_trace(e), *r.run.samples(), "extension", "force");
}

TEST(Recorded, EveryPartIsALineAndAnotherChannelOnNone) {
  TestRecord r;
  r.method = "proof-load";
  const auto part = [&](const char* name, const char* over, std::vector<double> x, std::vector<double> y) {
    auto s = std::make_shared<Samples>();
    s->channels = {{over, std::move(x)}, {"force", std::move(y)}};
    r.run.segments.push_back({name, {}, {}, s});
  };
  part("cycles", "displacement", {0, 1, 0.1}, {0, 10, 0});
  part("cycles", "displacement", {0.1, 1.2, 0.2}, {0, 11, 0});
  part("destruction", "time", {0, 1, 2}, {0, 20, 0});
  const Figure f = recorded_figure(r, *methods::find("proof-load"));
  ASSERT_EQ(f.panels.size(), 1u);
  ASSERT_EQ(f.panels[0].traces.size(), 2u) << "seconds are no millimetres";
  EXPECT_EQ(f.panels[0].traces[1].x, (std::vector<double>{0.1, 1.2, 0.2}));
  EXPECT_EQ(f.panels[0].x.dimension, Dimension::length);
}

TEST(Recorded, WhatHasNoCurveHasNone) {
  const Method& m = *methods::find("tension-metal");
  TestRecord r;
  r.method = m.id;
  EXPECT_TRUE(recorded_figure(r, m).empty());
  for (const Samples& s : {Samples{}, Samples{{{"force", {1}}, {"extension", {0}}}}, Samples{{{"time", {0, 1}}}},
                           Samples{{{"force", {1, 2}}}}}) {
    r.run.set_samples(std::make_shared<Samples>(s));
    EXPECT_TRUE(recorded_figure(r, m).empty()) << s.channels.size();
  }
  // Columns of two lengths, and nothing but gaps: as far as both go.
  r.run.set_samples(std::make_shared<Samples>(Samples{{{"force", {NAN, NAN, 3}}, {"extension", {0, NAN}}}}));
  EXPECT_LE(recorded_figure(r, m).panels.at(0).traces.at(0).x.size(), 2u);
}

TEST(Recorded, StandsBesideNoCurveOfASeries) {
  const Method& m = *methods::find("tension-metal");
  std::vector<TestRecord> records(3, pulled());
  records[0].fields.erase("specimen.section.diameter");
  std::vector<Evaluation> evaluations;
  std::vector<SeriesPiece> pieces;
  for (const TestRecord& r : records) evaluations.push_back(methods::evaluate(r));
  for (bool kept : {false, true}) {
    pieces.clear();
    for (size_t i = 0; i < records.size(); ++i) {
      if (kept) keep_curve(evaluations[i]);
      pieces.push_back({&records[i], &evaluations[i]});
    }
    const Evaluation e = series_evaluate(m, pieces, {});
    const auto curves =
        std::find_if(e.figures.begin(), e.figures.end(), [](const Figure& f) { return f.id == "curves"; });
    ASSERT_NE(curves, e.figures.end());
    EXPECT_EQ(curves->panels.at(0).y.dimension, Dimension::stress);
    EXPECT_EQ(curves->panels.at(0).traces.size(), 2u);
  }
}

}  // namespace
}  // namespace fortitor::recorded_test
