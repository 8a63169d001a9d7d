// Groups, relations, order of time and curves of a series: the judgement, not the statistics behind it.
#include <gtest/gtest.h>

#include <cmath>

#include "core/series/series.h"
#include "core/statistics/sample.h"
#include "tests/c_text.h"
#include "tests/core/methods/made.h"

namespace fortitor::comparison_test {
namespace {

const Method& metal() {
  return *methods::find("tension-metal");
}

struct Pieces {
  std::vector<TestRecord> records;
  std::vector<Evaluation> evaluations;

  Evaluation& add(double rm, const std::string& lot = {}, const std::string& at = {}) {
    TestRecord r;
    r.method = "tension-metal";
    r.fields.set("specimen.id", "P" + std::to_string(records.size() + 1));
    if (!lot.empty()) r.fields.set("specimen.lot", lot);
    r.tested_at = at;
    Evaluation e;
    e.results.push_back(of("rm", rm));
    records.push_back(r);
    evaluations.push_back(e);
    return evaluations.back();
  }
  static ResultValue of(const char* key, double value) {
    ResultValue v;
    v.spec = *metal().result(key);
    v.value = value;
    return v;
  }
  Evaluation judged(const std::vector<std::pair<std::string, std::string>>& settings = {}) const {
    std::vector<SeriesPiece> pieces;
    for (size_t i = 0; i < records.size(); ++i) pieces.push_back({&records[i], &evaluations[i]});
    TestRecord s;
    s.fields.set("settings.result", std::string("rm"));
    for (const auto& [path, typed] : settings) s.fields.set(path, typed);
    return series_evaluate(metal(), pieces, s);
  }
};

const std::vector<double>& column(const Evaluation& e, const char* key) {
  static const std::vector<double> none;
  for (const RowValue& r : e.row_values)
    if (r.table == "pairs" && r.key == key) return r.values;
  return none;
}

Pieces three() {
  Pieces p;
  for (double x : {245, 235, 264, 271, 299}) p.add(x, "A");
  for (double x : {284, 342, 295, 322, 301}) p.add(x, "B");
  for (double x : {261, 283, 243, 262, 278, 259, 270}) p.add(x, "C");
  return p;
}

TEST(Comparison, SeveralGroupsAndTheirPairs) {
  const Evaluation e = three().judged({{"settings.group_by", "specimen.lot"}});
  EXPECT_NEAR(value(e, "anova_f"), 8.693255520388877, 1e-10);
  EXPECT_NEAR(value(e, "anova_p"), 0.0035131359610412003, 1e-13);
  ASSERT_EQ(column(e, "p").size(), 3u);
  EXPECT_NEAR(column(e, "difference")[0], -46.32, 0.5);
  EXPECT_NEAR(column(e, "p")[0], 0.0074522, 1e-6);
  EXPECT_NEAR(column(e, "low")[0], -79.3256331, 1e-5);
  EXPECT_EQ(column(e, "first")[2], 1);
  EXPECT_EQ(column(e, "second")[2], 2);
  const Finding* f = e.finding("groups");
  ASSERT_NE(f, nullptr);
  EXPECT_NE(f->message.find("A and B"), std::string::npos) << f->message;
  EXPECT_NE(f->message.find("B and C"), std::string::npos);
  EXPECT_EQ(f->message.find("A and C"), std::string::npos);
  EXPECT_TRUE(std::isnan(value(e, "welch_p"))) << "pairs are held at one level";
  ASSERT_FALSE(e.figures.empty());
  EXPECT_EQ(e.figures[1].id, "groups");
}

TEST(Comparison, WhatIsSaidOfGroupsGoesWithTheirLevel) {
  bool alike = false, apart = false, between = false;
  for (double shift = 0; shift < 12; shift += 0.1) {
    Pieces p;
    for (double x : {-2.0, -1.0, 0.0, 1.0, 2.0}) p.add(300 + x, "A");
    for (double x : {-2.0, -1.0, 0.0, 1.0, 2.0}) p.add(300 + 0.5 * shift + x, "B");
    for (double x : {-2.0, -1.0, 0.0, 1.0, 2.0}) p.add(300 + shift + x, "C");
    const Evaluation e = p.judged({{"settings.group_by", "specimen.lot"}});
    const std::string words = e.finding("groups")->message;
    EXPECT_EQ(words.find("they are not all alike") != std::string::npos, value(e, "anova_p") < 0.05) << words;
    EXPECT_EQ(words.find("do not tell them apart") != std::string::npos, value(e, "anova_p") >= 0.05) << words;
    const std::vector<double> pairs = column(e, "p");
    EXPECT_EQ(words.find("A and C") != std::string::npos, pairs[1] < 0.05) << words;
    alike = alike || value(e, "anova_p") > 0.05;
    between = between || (value(e, "anova_p") > 0.0375 && value(e, "anova_p") < 0.05);
    apart = apart || value(e, "anova_p") < 0.01;
  }
  EXPECT_TRUE(alike && between && apart);
}

TEST(Comparison, TwoGroupsWithAndWithoutAMargin) {
  Pieces p;
  for (double x : {245, 235, 264, 271, 299}) p.add(x, "A");
  for (double x : {261, 283, 243, 262, 278, 259, 270}) p.add(x, "C");
  const Evaluation plain = p.judged({{"settings.group_by", "specimen.lot"}});
  EXPECT_NEAR(value(plain, "mann_whitney_p"), 1, 1e-12);
  EXPECT_GT(value(plain, "welch_p"), 0.5);
  EXPECT_EQ(plain.finding("equivalence"), nullptr);
  EXPECT_NEAR(value(plain, "difference"), value(plain, "group_1_mean") - value(plain, "group_2_mean"), 1e-9);
  const Evaluation wide = p.judged({{"settings.group_by", "specimen.lot"}, {"settings.margin", "50 MPa"}});
  EXPECT_NEAR(value(wide, "equivalence_p"), 0.0044547379366224075, 1e-12);
  ASSERT_NE(wide.finding("equivalence"), nullptr);
  EXPECT_NE(wide.finding("equivalence")->message.find(": equivalent within"), std::string::npos);
  const Evaluation narrow = p.judged({{"settings.group_by", "specimen.lot"}, {"settings.margin", "5 %"}});
  EXPECT_NE(narrow.finding("equivalence")->message.find("not shown"), std::string::npos);
  EXPECT_NEAR(narrow.finding("equivalence")->evidence.at("margin"), 0.05 * value(narrow, "mean"), 1e-9);
}

TEST(Comparison, BoundsAreTakenAsBounds) {
  Pieces p;
  for (double x : {50, 53, 51}) p.add(x, "A");
  for (double x : {55, 56}) p.add(x, "A").results[0].censored = Censoring{true, 0, 0};
  for (double x : {57, 58, 56, 59}) p.add(x, "B");
  p.add(60, "B").results[0].censored = Censoring{true, 0, 0};
  const Evaluation e = p.judged({{"settings.group_by", "specimen.lot"}, {"settings.margin", "1 MPa"}});
  EXPECT_NEAR(value(e, "likelihood_chi2"), 4.565413937, 1e-6);
  EXPECT_NEAR(value(e, "likelihood_p"), 0.03262378944, 1e-7);
  EXPECT_TRUE(std::isnan(value(e, "welch_p"))) << "the strongest pieces would be left out of it";
  EXPECT_TRUE(std::isnan(value(e, "equivalence_p")));
  EXPECT_LT(value(e, "b_basis"), value(e, "mean")) << "by the likelihood of all ten";
}

TEST(Comparison, WidthsThatCannotBeRead) {
  for (const char* bad : {"twenty", "20 mm", "-5 MPa", "0 MPa"}) {
    const Evaluation e = three().judged({{"settings.interval", bad}});
    EXPECT_NE(e.finding("width-unread"), nullptr) << bad;
    EXPECT_TRUE(std::isnan(value(e, "pieces_wanted"))) << bad;
  }
  const Evaluation e = three().judged({{"settings.interval", "10 MPa"}});
  EXPECT_EQ(e.finding("width-unread"), nullptr);
  ASSERT_NE(e.finding("pieces-wanted"), nullptr);
  const double sd = value(e, "sd"), n = value(e, "pieces_wanted");
  EXPECT_LE(statistics::t_quantile(0.975, n - 1) * sd / std::sqrt(n), 10);
  EXPECT_GT(statistics::t_quantile(0.975, n - 2) * sd / std::sqrt(n - 1), 10);
}

TEST(Comparison, OneResultAgainstAnother) {
  Pieces p;
  const double x[] = {180, 195, 210, 222, 240, 255, 270}, y[] = {590, 640, 675, 720, 760, 815, 850};
  for (int i = 0; i < 7; ++i) p.add(y[i]).results.push_back(Pieces::of("rp02", x[i]));
  p.add(900);  // without the other
  p.add(10).results.push_back(Pieces::of("rp02", 500));
  p.records.back().fields.set("settings.series.left_out", std::string("cracked at the grip"));
  const Evaluation e = p.judged({{"settings.against", "rp02"}});
  EXPECT_NEAR(value(e, "relation_slope"), 2.889998641119718, 1e-10);
  EXPECT_NEAR(value(e, "relation_intercept"), 72.41744802282903, 1e-8);
  EXPECT_EQ(value(e, "relation_n"), 7);
  const Finding* f = e.finding("relation");
  ASSERT_NE(f, nullptr);
  EXPECT_NE(f->message.find("72.42 + 2.890"), std::string::npos) << f->message;
  EXPECT_EQ(e.figures.back().id, "relation");
  // Bands: the dashed lines lie outside of the pale area, both around the line.
  const Panel& panel = e.figures.back().panels[0];
  for (size_t i = 0; i < panel.traces[0].x.size(); ++i) {
    EXPECT_LT(panel.traces[1].y[i], panel.traces[0].base[i]);
    EXPECT_GT(panel.traces[2].y[i], panel.traces[0].y[i]);
  }
  EXPECT_EQ(three().judged({{"settings.against", "rp02"}}).finding("relation-few")->severity, Severity::note);
}

TEST(Comparison, ValuesInTheOrderOfTesting) {
  Pieces p;
  // Put in another order than they were tested.
  const double v[] = {9, 12, 9, 12, 9, 12, 9, 12, 9, 12, 9, 12, 30, 9, 12};
  for (int i = 14; i >= 0; --i) {
    char at[32];
    c_snprintf(at, sizeof at, "2026-11-%02dT08:00:00Z", i + 1);
    p.add(500 + v[i], "", at);
  }
  const Evaluation e = p.judged();
  ASSERT_NE(e.finding("out-of-control"), nullptr);
  EXPECT_EQ(e.finding("out-of-control")->message.rfind("P3 lies", 0), 0u) << e.finding("out-of-control")->message;
  EXPECT_EQ(e.finding("one-sided"), nullptr);
  EXPECT_NEAR(value(e, "chart_high"), 511.8 + 3 / 1.1283791670955126 * 75.0 / 14, 1e-6);
  EXPECT_EQ(e.figures.back().id, "over-time");
  Pieces drift;
  for (int i = 0; i < 17; ++i) {
    char at[32];
    c_snprintf(at, sizeof at, "2026-11-%02dT08:00:00Z", i + 1);
    drift.add((i < 9 ? 500 : 510) + i % 2, "", at);
  }
  EXPECT_NE(drift.judged().finding("one-sided"), nullptr);
  Pieces untimed;
  for (double x : {1.0, 2.0, 3.0, 4.0, 5.0}) untimed.add(x);
  EXPECT_TRUE(std::isnan(value(untimed.judged(), "chart_high")));
}

TEST(Comparison, OverTimeOfTheMaterialInTheWholeBook) {
  Pieces p;
  for (int i = 0; i < 12; ++i) {
    char at[32];
    c_snprintf(at, sizeof at, "2026-11-%02dT08:00:00Z", i + 1);
    p.add(500 + (i % 3), "", at);
    p.records.back().fields.set("specimen.material", std::string(i < 6 ? "C45" : i < 10 ? " c45 " : "S235"));
  }
  std::vector<SeriesPiece> pieces;
  for (size_t i = 0; i < p.records.size(); ++i)
    pieces.push_back({&p.records[i], &p.evaluations[i],
                      i < 4   ? ""
                      : i < 6 ? "Second series"
                              : "Elsewhere",
                      i < 6 ? SeriesPiece::For::groups : SeriesPiece::For::time});
  TestRecord settings;
  settings.method = "tension-metal";
  const auto named = [](const Evaluation& e) { return e.figures.back().panels[0].x.categories; };
  EXPECT_EQ(named(series_evaluate(metal(), pieces, settings)), (std::vector<std::string>{"P1", "P2", "P3", "P4"}));
  settings.fields.set("settings.over", std::string("book"));
  const Evaluation e = series_evaluate(metal(), pieces, settings);
  ASSERT_EQ(named(e).size(), 10u) << "of one material, however it is written";
  EXPECT_EQ(named(e).back(), "P10");
  EXPECT_EQ(value(e, "n"), 4) << "the statistics are those of the series";
  const Trace& dots = e.figures.back().panels[0].traces[1];
  for (size_t i = 0; i < 10; ++i) EXPECT_EQ(bool(dots.hollow[i]), i >= 4) << i;
  EXPECT_EQ(e.figures.back().panels[0].caption.rfind("C45, whole book", 0), 0u);
  // mR over the ten: |Δ| = 1 1 2 1 1 2 1 1 2.
  EXPECT_NEAR(value(e, "chart_range_high"), 3.266532 * 12.0 / 9, 1e-4);
  // Groups by series are those of the job: what is there for time is none of them.
  settings.fields.set("settings.group_by", std::string("series"));
  const Evaluation grouped = series_evaluate(metal(), pieces, settings);
  EXPECT_EQ(value(grouped, "group_1_n"), 4);
  EXPECT_EQ(value(grouped, "group_2_n"), 2);
  EXPECT_EQ(grouped.find("group_3"), nullptr);
  // A series without a material has the chart of itself.
  for (TestRecord& r : p.records) r.fields.erase("specimen.material");
  EXPECT_EQ(named(series_evaluate(metal(), pieces, settings)).size(), 4u);
}

TEST(Comparison, CurvesWithTheirMedian) {
  Pieces p;
  for (int i = 0; i < 5; ++i) {
    Evaluation& e = p.add(500 + i);
    Trace t;
    for (int k = 0; k <= 1000; ++k) t.x.push_back(k * 1e-3 * (i + 1)), t.y.push_back((10.0 + i) * k * 1e-3 * (i + 1));
    Figure f;
    f.panels.resize(1);
    f.panels[0].x.name = "strain";
    f.panels[0].traces = {t};
    e.figures = {f};
    keep_curve(e);
    EXPECT_LE(e.figures[0].panels[0].traces[0].x.size(), 600u);
    EXPECT_EQ(e.figures[0].panels[0].traces[0].x.back(), t.x.back());
  }
  const Evaluation e = p.judged();
  const auto curves =
      std::find_if(e.figures.begin(), e.figures.end(), [](const Figure& f) { return f.id == "curves"; });
  ASSERT_NE(curves, e.figures.end());
  const Trace& median = curves->panels[0].traces.back();
  EXPECT_EQ(median.label, "median");
  EXPECT_NEAR(median.x.back(), 3, 1e-9) << "three of five get there";
  for (size_t i = 0; i < median.x.size(); ++i) {
    if (median.x[i] <= 1) {
      EXPECT_NEAR(median.y[i], 12 * median.x[i], 1e-9);
    }
  }
  EXPECT_NEAR(median.y.back(), 13 * 3, 1e-9) << "of those that get there";
  Evaluation nothing;
  keep_curve(nothing);
  EXPECT_TRUE(nothing.figures.empty());
}

TEST(Comparison, BasisNamesItsModel) {
  Pieces p;
  for (int i = 0; i < 15; ++i) p.add(500 + i), p.add(900 + 0.5 * i);
  const Evaluation e = p.judged();
  EXPECT_EQ(value(e, "b_basis"), 500);
  EXPECT_LT(value(e, "a_basis"), 500);
  ASSERT_NE(e.finding("not-normal"), nullptr);
  EXPECT_NE(e.finding("not-normal")->message.find("without any shape"), std::string::npos);
  EXPECT_FALSE(std::isnan(value(e, "weibull_shape")));
  EXPECT_TRUE(std::isnan(value(three().judged(), "weibull_shape"))) << "nobody asked while the normal holds";
}

}  // namespace
}  // namespace fortitor::comparison_test
