// Fatigue points: lines, run-outs, staircase, mean stress, gauges, judgements on both sides of their limits.
#include <gtest/gtest.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <random>

#include "core/bench/call_out.h"
#include "core/methods/fatigue_constant/model.h"
#include "core/series/series.h"
#include "tests/core/methods/method_records.h"

namespace fortitor::fatigue_constant_test {
namespace {

using standin::type_into;

struct P {
  double range, cycles;
  bool out = false;
  const char* origin = "";
  double r = NAN;
};

TestRecord with(const std::vector<P>& points, const std::vector<std::pair<std::string, std::string>>& settings = {}) {
  TestRecord r =
      record_of("fatigue-constant", {{"specimen.material", {"weld"}}, {"specimen.family", {"carbon steel"}}});
  for (const auto& [path, typed] : settings) type_into(r, path, typed);
  for (const P& p : points) {
    Row row;
    row.cells.set("range", reading_of(parse_quantity(plain_number(p.range, 8) + " MPa", Dimension::stress).value()));
    row.cells.set("cycles", reading_of(parse_quantity(plain_number(p.cycles, 9), Dimension::none).value()));
    row.cells.set("runout", p.out);
    if (*p.origin != 0) row.cells.set("origin", std::string(p.origin));
    if (std::isfinite(p.r))
      row.cells.set("r", reading_of(parse_quantity(plain_number(p.r, 6), Dimension::none).value()));
    r.run.tables["points"].push_back(row);
  }
  return r;
}

// Twelve failures about log N = 12.4 − 3.1·log S, three at each of four levels.
std::vector<P> twelve(double sd = 0.1, uint64_t seed = 2) {
  std::mt19937_64 random(seed);
  std::normal_distribution<double> n;
  std::vector<P> out;
  for (double s : {200.0, 160.0, 125.0, 100.0})
    for (int i = 0; i < 3; ++i)
      out.push_back({s, std::round(std::pow(10, 12.4 - 3.1 * std::log10(s) + sd * n(random)))});
  return out;
}

TEST(Fatigue, LineItsStrengthsAndTheirUncertainty) {
  int held = 0, slopes = 0, of = 60;
  for (int seed = 1; seed <= of; ++seed) {
    const Evaluation e = methods::evaluate(with(twelve(0.15, uint64_t(seed))));
    const double truth = std::pow(10, (12.4 - std::log10(2e6)) / 3.1);
    held += std::abs(value_of(e, "strength_2e6_mean") - truth) <= e.find("strength_2e6_mean")->expanded();
    slopes += std::abs(value_of(e, "sn_slope") - 3.1) <= e.find("sn_slope")->expanded();
    EXPECT_LT(value_of(e, "strength_2e6_char"), value_of(e, "strength_2e6_977"));
    EXPECT_LT(value_of(e, "strength_2e6_977"), value_of(e, "strength_2e6_mean"));
  }
  EXPECT_GE(held, 54);
  EXPECT_GE(slopes, 54);
  const Evaluation e = methods::evaluate(with(twelve()));
  EXPECT_GT(e.find("sn_slope")->standard_uncertainty, 0);
  const double m = value_of(e, "sn_slope");
  std::vector<fatigue::SnPoint> points;
  for (const P& p : twelve()) points.push_back({p.range, p.cycles, p.out});
  const double k = fatigue::characteristic_factor(*fatigue::fit_sn(points, {}), value_of(e, "strength_2e6_char"));
  EXPECT_GT(k, fatigue::characteristic_factor(12)) << "2·10⁶ lies beyond the points";
  EXPECT_NEAR(value_of(e, "strength_2e6_char"),
              std::pow(10, (value_of(e, "sn_logc") - k * value_of(e, "sn_sd") - std::log10(2e6)) / m), 1e-9);
  EXPECT_LE(value_of(e, "detail_supported"), value_of(e, "strength_2e6_char"));
  EXPECT_FALSE(e.figures.empty());
}

TEST(Fatigue, RunoutsAndHowTheyMayBeTaken) {
  std::vector<P> p = twelve();
  p.push_back({90, 1e7, true});
  p.push_back({90, 1e7, true});
  const Evaluation bound = methods::evaluate(with(p)),
                   out = methods::evaluate(with(p, {{"settings.runouts", "leave-out"}}));
  EXPECT_GT(value_of(bound, "strength_2e6_mean"), value_of(out, "strength_2e6_mean"));
  EXPECT_EQ(bound.finding("runout-as-failure"), nullptr);
  // Marked failed where the others ran out, without a crack: taken as what it is.
  p.push_back({90, 1e7, false});
  const Evaluation wrong = methods::evaluate(with(p));
  ASSERT_NE(wrong.finding("runout-as-failure"), nullptr);
  EXPECT_GE(value_of(wrong, "strength_2e6_mean"), value_of(bound, "strength_2e6_mean"));
  p.back().origin = "toe";
  EXPECT_EQ(methods::evaluate(with(p)).finding("runout-as-failure"), nullptr) << "a crack was seen";
}

TEST(Fatigue, JudgementsOnBothSides) {
  EXPECT_EQ(methods::evaluate(with(twelve())).finding("too-few-levels"), nullptr);
  std::vector<P> two = twelve();
  two.resize(6);
  EXPECT_NE(methods::evaluate(with(two)).finding("too-few-levels"), nullptr);
  EXPECT_EQ(methods::evaluate(with(two, {{"settings.slope", "3"}})).finding("too-few-levels"), nullptr);
  std::vector<P> one = twelve();
  one.resize(3);
  EXPECT_NE(methods::evaluate(with(one)).finding("too-few-levels"), nullptr) << "no line at all";
  EXPECT_EQ(methods::evaluate(with(one)).find("sn_slope"), nullptr);
  EXPECT_EQ(methods::evaluate(with(twelve(0.05))).finding("slope-scatter"), nullptr);
  EXPECT_NE(methods::evaluate(with(twelve(0.5, 7))).finding("slope-scatter"), nullptr);
  // 2·10⁶ within what was tested, or not.
  EXPECT_NE(methods::evaluate(with(twelve(0.01))).finding("extrapolated"), nullptr);
  std::vector<P> longer = twelve(0.01);
  longer.push_back({98, 2e6, true});
  EXPECT_EQ(methods::evaluate(with(longer)).finding("extrapolated"), nullptr);
  // The constant amplitude limit of category 160 is 117.9 MPa: the points at 100 MPa lie below it.
  const Evaluation level = methods::evaluate(with(twelve(), {{"specimen.detail_category", "160 MPa"}}));
  ASSERT_NE(level.finding("below-limit"), nullptr);
  EXPECT_NEAR(level.finding("below-limit")->evidence.at("limit"), 160 * std::cbrt(0.4), 1e-9);
  const auto factor = std::find_if(level.row_values.begin(), level.row_values.end(),
                                   [](const RowValue& v) { return v.key == "life_factor"; });
  ASSERT_NE(factor, level.row_values.end());
  EXPECT_TRUE(std::isfinite(factor->values[8])) << "125 MPa";
  EXPECT_TRUE(std::isnan(factor->values[9])) << "100 MPa: no failure is expected, and no factor given";
  EXPECT_EQ(methods::evaluate(with(twelve(), {{"specimen.detail_category", "63 MPa"}})).finding("below-limit"),
            nullptr);
  EXPECT_EQ(methods::evaluate(with(twelve(), {{"specimen.detail_category", "63 MPa"}})).finding("below-detail"),
            nullptr);
  EXPECT_NE(methods::evaluate(with(twelve(), {{"specimen.detail_category", "140 MPa"}})).finding("below-detail"),
            nullptr);
}

TEST(Fatigue, FactorsOnTheDetailLine) {
  const Evaluation e = methods::evaluate(with(twelve(0), {{"specimen.detail_category", "71 MPa"}}));
  ASSERT_EQ(e.row_values.size(), 1u);
  const fatigue::DetailLine d{71};
  for (size_t i = 0; i < 12; ++i) {
    const P p = twelve(0)[i];
    EXPECT_NEAR(e.row_values[0].values[i], p.cycles / d.life(p.range), 1e-6);
  }
}

TEST(Fatigue, StaircaseWithItsScatterAndTheNextLevel) {
  const std::vector<P> p = {{310, 1e7, true}, {320, 4e5},       {310, 5e5},       {300, 1e7, true},
                            {310, 4e5},       {300, 1e7, true}, {310, 1e7, true}, {320, 3e5}};
  const Evaluation e =
      methods::evaluate(with(p, {{"settings.analysis", "staircase"}, {"settings.staircase.step", "10 MPa"}}));
  // Fewer or as many: 4 failures (310, 310, 320, 320), 4 run-outs; failures are counted.
  EXPECT_NEAR(value_of(e, "staircase_mean"), 310 + 10 * (2.0 / 4 - 0.5), 1e-9);
  EXPECT_NEAR(value_of(e, "staircase_ratio"), (4.0 * 2 - 4) / 16, 1e-12);
  ASSERT_NE(e.finding("staircase-scatter"), nullptr) << "0.25 is below 0.3";
  // Mixed at 310 alone: as likely with a scatter of nothing as with any.
  EXPECT_EQ(e.find("staircase_ml_mean"), nullptr);
  EXPECT_NE(e.finding("staircase-likelihood"), nullptr);
  EXPECT_NEAR(value_of(e, "next_level"), 310, 1e-12) << "it failed at 320: one step down";
  EXPECT_EQ(e.find("sn_slope"), nullptr);
  const std::vector<P> all_failed = {{310, 4e5}, {300, 4e5}};
  EXPECT_NE(methods::evaluate(with(all_failed, {{"settings.analysis", "staircase"}})).finding("staircase-one-sided"),
            nullptr);
  std::vector<P> wide = p;  // spread over four levels
  for (const P& more : {P{330, 2e5}, P{330, 2e5}, P{300, 6e5}, P{290, 1e7, true}, P{290, 1e7, true}, P{340, 1e5}})
    wide.push_back(more);
  EXPECT_EQ(methods::evaluate(with(wide, {{"settings.analysis", "staircase"}, {"settings.staircase.step", "10 MPa"}}))
                .finding("staircase-scatter"),
            nullptr);
}

TEST(Fatigue, MeanStressBringsAllToOneRatio) {
  // The same strength tested at R = 0.1 and at R = −1, related by Goodman.
  std::vector<P> p;
  for (P x : twelve(0.02)) {
    x.r = -1;
    p.push_back(x);
    x.r = 0.1;
    x.range = fatigue::equivalent_range(fatigue::MeanStress::goodman, x.range, -1, 0.1, 700);
    p.push_back(x);
  }
  EXPECT_NE(methods::evaluate(with(p)).finding("ratio-mixed"), nullptr);
  const Evaluation e = methods::evaluate(with(p, {{"settings.mean_stress", "goodman"}, {"specimen.rm", "700 MPa"}}));
  EXPECT_EQ(e.finding("ratio-mixed"), nullptr);
  EXPECT_NEAR(value_of(e, "sn_slope"), value_of(methods::evaluate(with(twelve(0.02))), "sn_slope"), 1e-4);
  EXPECT_NE(methods::evaluate(with(p, {{"settings.mean_stress", "gerber"}})).finding("rm-missing"), nullptr);
  EXPECT_EQ(methods::evaluate(with(p, {{"settings.mean_stress", "swt"}})).finding("rm-missing"), nullptr);
  EXPECT_LT(
      value_of(methods::evaluate(with(
                   p, {{"settings.mean_stress", "goodman"}, {"specimen.rm", "700 MPa"}, {"settings.r_wanted", "0.3"}})),
               "strength_2e6_mean"),
      value_of(e, "strength_2e6_mean"));
  bool haigh = false;
  for (const Figure& f : e.figures) haigh = haigh || f.id == "haigh";
  EXPECT_TRUE(haigh);
  const Evaluation walker = methods::evaluate(with(p, {{"settings.mean_stress", "walker"}}));
  EXPECT_NEAR(value_of(walker, "sn_slope"),
              value_of(methods::evaluate(with(p, {{"settings.mean_stress", "swt"}})), "sn_slope"), 1e-9);
}

TEST(Fatigue, AmplitudeAndForceAreTheSamePoints) {
  const Evaluation range = methods::evaluate(with(twelve()));
  TestRecord r = with(twelve(), {{"settings.points_in", "amplitude"}});
  for (Row& row : r.run.tables["points"]) {
    row.cells.set("amplitude", Reading{"", *row.number("range") / 2, 0.5});
    row.cells.erase("range");
  }
  EXPECT_NEAR(value_of(methods::evaluate(r), "sn_logc"), value_of(range, "sn_logc"), 1e-9);
  r = with(twelve(), {{"settings.points_in", "force"},
                      {"specimen.section.shape", "flat"},
                      {"specimen.section.width", "40 mm"},
                      {"specimen.section.thickness", "10 mm"}});
  for (Row& row : r.run.tables["points"]) {
    row.cells.set("force", Reading{"", *row.number("range") * 400, 10});
    row.cells.erase("range");
  }
  EXPECT_NEAR(value_of(methods::evaluate(r), "sn_logc"), value_of(range, "sn_logc"), 1e-9);
}

TEST(Fatigue, GaugesSayWhereTheCrackBegan) {
  TestRecord r = with({{120, 6e5}});
  auto s = std::make_shared<Samples>();
  s->channels = {{"cycles", {}}, {"gauge_1", {}}, {"gauge_2", {}}, {"gauge_3", {}}};
  for (int i = 0; i <= 60; ++i) {
    s->channels[0].values.push_back(1e4 * i);
    s->channels[1].values.push_back(800e-6);
    s->channels[2].values.push_back(820e-6 - (i > 30 ? (i - 30) * 8e-6 : 0) - (i > 48 ? (i - 48) * 30e-6 : 0));
    s->channels[3].values.push_back(810e-6 - (i > 45 ? (i - 45) * 9e-6 : 0));
  }
  r.run.set_samples(s, "toe_gauges");
  const Evaluation e = methods::evaluate(r);
  EXPECT_NEAR(value_of(e, "n_initiation"), 3e5, 4e4);
  for (const char* key : {"n_initiation", "n_coalescence"}) EXPECT_EQ(e.find(key)->spec.figures, 4) << key;
  EXPECT_EQ(e.find("gauge_first")->text, "gauge 2 of 3");
  EXPECT_NEAR(value_of(e, "n_coalescence"), 4.8e5, 4e4);
  EXPECT_NEAR(value_of(e, "life_share_left"), 0.5, 0.08);
  // Written and read it is the same; the table may also be the run itself.
  const auto back = record_from_json(record_to_json(r));
  ASSERT_TRUE(back) << back.error().message;
  EXPECT_NEAR(value_of(methods::evaluate(*back), "n_initiation"), value_of(e, "n_initiation"), 1e-6);
}

TEST(Fatigue, NineGaugesTakeTheSevenColoursInTurn) {
  TestRecord r = with({{120, 6e5}});
  auto s = std::make_shared<Samples>();
  s->channels = {{"cycles", {0, 1e5, 2e5}}};
  for (int i = 1; i <= 9; ++i) s->channels.push_back({"gauge_" + std::to_string(i), {800e-6, 790e-6, 780e-6}});
  r.run.set_samples(s, "toe_gauges");
  const Evaluation e = methods::evaluate(r);
  const auto figure =
      std::find_if(e.figures.begin(), e.figures.end(), [](const Figure& f) { return f.id == "gauges"; });
  ASSERT_NE(figure, e.figures.end());
  const std::vector<Trace>& traces = figure->panels[0].traces;
  ASSERT_GE(traces.size(), 9u);
  for (int i = 0; i < 9; ++i) EXPECT_EQ(traces[size_t(i)].tone, i % 7);
}

TEST(Fatigue, PiecesOfASeriesAreOneAnalysis) {
  std::vector<TestRecord> records;
  std::vector<Evaluation> evaluations;
  for (const P& p : twelve()) records.push_back(with({p}));
  for (size_t i = 0; i < records.size(); ++i) records[i].fields.set("specimen.id", "BW-" + std::to_string(i));
  for (const TestRecord& r : records) evaluations.push_back(methods::evaluate(r, {.uncertainty = false}));
  std::vector<SeriesPiece> pieces;
  for (size_t i = 0; i < records.size(); ++i) pieces.push_back({&records[i], &evaluations[i]});
  const Evaluation e = series_evaluate(*methods::find("fatigue-constant"), pieces, {}),
                   table = methods::evaluate(with(twelve()));
  EXPECT_NEAR(value_of(e, "sn_slope"), value_of(table, "sn_slope"), 1e-12);
  EXPECT_NEAR(value_of(e, "strength_2e6_char"), value_of(table, "strength_2e6_char"), 1e-9);
  EXPECT_FALSE(e.figures.empty());
}

TEST(Fatigue, PlanSaysLevelsAndDays) {
  TestRecord r = with({}, {{"settings.plan.highest", "200 MPa"},
                           {"settings.plan.lowest", "100 MPa"},
                           {"settings.plan.levels", "4"},
                           {"settings.plan.replicates", "3"},
                           {"settings.plan.strength", "104 MPa"},
                           {"settings.frequency", "10 Hz"}});
  EXPECT_EQ(sn::planned_levels(r.fields), (std::vector<double>{200, 160, 125, 100}));
  const Plan p = methods::find("fatigue-constant")->plan(r);
  ASSERT_FALSE(p.warnings.empty());
  double cycles = 0;
  for (double s : {200.0, 160.0, 125.0, 100.0}) cycles += 3 * 2e6 * std::pow(104 / s, 3);
  EXPECT_NE(p.warnings[0].find("3 pieces each at 200, 160, 125, 100 MPa"), std::string::npos) << p.warnings[0];
  EXPECT_NE(p.warnings[0].find(significant(cycles / 10 / 86400, 2) + " days"), std::string::npos) << p.warnings[0];
  EXPECT_NE(p.warnings[0].find("67 %"), std::string::npos);
}

TEST(Fatigue, ThePlanFillsTheLevels) {
  const Method& m = *methods::find("fatigue-constant");
  TestRecord r = with(
      {}, {{"settings.plan.highest", "200 MPa"}, {"settings.plan.lowest", "100 MPa"}, {"settings.analysis", "line"}});
  r.fields.set("settings.plan.levels", 3.0);
  r.fields.set("settings.plan.replicates", 2.0);
  const auto rows = m.keyed_table()->planned_rows(r);
  ASSERT_EQ(rows.size(), 6u);
  const std::array<double, 3> levels = {200, 140, 100};
  for (size_t i = 0; i < 6; ++i) EXPECT_NEAR(rows[i].number("range").value(), levels[i % 3], 1e-9) << i;
  EXPECT_EQ(call_out_of(m, r, nullptr).table.columns[call_out_of(m, r, nullptr).column].path, "cycles")
      << "the level is not asked for";
  type_into(r, "settings.points_in", "amplitude");
  EXPECT_NEAR(m.keyed_table()->planned_rows(r)[0].number("amplitude").value(), 100, 1e-9);
  // A staircase knows the next level when the one before has ended.
  TestRecord s = with({{80, 1e7, true}, {84, 2e5}}, {{"settings.analysis", "staircase"},
                                                     {"settings.staircase.step", "4 MPa"},
                                                     {"settings.staircase.start", "80 MPa"}});
  const auto steps = m.keyed_table()->planned_rows(s);
  EXPECT_NEAR(steps[0].number("range").value(), 80, 1e-9);
  EXPECT_NEAR(steps[1].number("range").value(), 84, 1e-9);
  EXPECT_NEAR(steps[2].number("range").value(), 80, 1e-9);
  EXPECT_TRUE(steps[3].empty());
}

TEST(Fatigue, ASlowRigCountsByItself) {
  const standin::Bench& bench = *standin::find_bench("fatigue-rig");
  TestRecord r = with({});
  r.fields.set("settings.gauges.count", 5.0);
  LongOrder order;
  order.cells.set("range", reading_of(parse_quantity("160 MPa", Dimension::stress).value()));
  order.frequency = 20;
  const auto rig = bench.long_machine(r, order);
  EXPECT_EQ(rig->after(10).cycles, 200);
  EXPECT_EQ(rig->after(-5).cycles, 0);
  const LongStatus end = rig->after(1e7);
  ASSERT_TRUE(end.ended && end.broken);
  EXPECT_NEAR(end.stiffness, 0.5, 1e-3);
  EXPECT_EQ(end.cells.at("cycles"), std::to_string(long(end.cycles)));
  EXPECT_EQ(rig->after(end.cycles / 20 + 1e6).cycles, end.cycles) << "it stands";
  double before = 2;
  for (double share : {0.3, 0.7, 0.9, 0.99, 1.0}) {
    const double k = rig->after(share * end.cycles / 20).stiffness;
    EXPECT_LE(k, before);
    before = k;
  }
  // A limit of stiffness stops it before the piece parts.
  type_into(r, "settings.limit.stiffness", "10 %");
  const LongStatus limited = bench.long_machine(r, order)->after(1e7);
  EXPECT_TRUE(limited.ended && !limited.broken && !limited.ran_out);
  EXPECT_LT(limited.cycles, end.cycles);
  EXPECT_NEAR(limited.stiffness, 0.9, 1e-3);
  // Below its limit nothing breaks.
  order.cells.set("range", reading_of(parse_quantity("40 MPa", Dimension::stress).value()));
  const LongStatus out = bench.long_machine(r, order)->after(1e9);
  EXPECT_TRUE(out.ran_out);
  EXPECT_EQ(out.cycles, 1e7);
}

// Two lots of bars: as welded about log N = 12.0 − 3·log S, ground with lives three times as long. Forces on sections
// of their own, so that a pooled section would spoil both.
TEST(FatigueSeries, GroupsStandSideBySideAndForcesKeepTheirSection) {
  std::mt19937_64 random(11);
  std::normal_distribution<double> n;
  std::vector<TestRecord> records;
  for (int lot = 0; lot < 2; ++lot)
    for (int i = 0; i < 12; ++i) {
      const double range = std::array{220.0, 180.0, 150.0, 120.0}[size_t(i % 4)], area = 80.0 + 10 * i;
      const double life =
          std::pow(10, 12.0 + (lot == 1 ? std::log10(3.0) : 0) - 3 * std::log10(range) + 0.05 * n(random));
      TestRecord r = with({});
      r.fields.set("specimen.id", "P-" + std::to_string(records.size()));
      r.fields.set("specimen.lot", std::string(lot == 0 ? "as welded" : "ground"));
      type_into(r, "specimen.section.shape", "flat");
      type_into(r, "specimen.section.width", plain_number(area / 10, 6) + " mm");
      type_into(r, "specimen.section.thickness", "10 mm");
      Row row;
      row.cells.set("force",
                    reading_of(parse_quantity(plain_number(range * area, 9) + " N", Dimension::force).value()));
      row.cells.set("cycles", reading_of(parse_quantity(plain_number(std::round(life), 9), Dimension::none).value()));
      r.run.tables["points"].push_back(row);
      records.push_back(std::move(r));
    }
  std::vector<Evaluation> evaluations;
  for (const TestRecord& r : records) evaluations.push_back(methods::evaluate(r, {.uncertainty = false}));
  std::vector<SeriesPiece> pieces;
  for (size_t i = 0; i < records.size(); ++i) pieces.push_back({&records[i], &evaluations[i]});
  TestRecord settings;
  settings.fields.set("settings.group_by", std::string("specimen.lot"));
  const Evaluation e = series_evaluate(*methods::find("fatigue-constant"), pieces, settings);
  for (const char* key : {"group_1_sn_slope", "group_2_sn_slope"}) {
    ASSERT_NE(e.find(key), nullptr) << key;
    EXPECT_NEAR(e.find(key)->value, 3, 0.4) << key;
    EXPECT_GT(e.find(key)->standard_uncertainty, 0) << key;
  }
  ASSERT_NE(e.find("group_2_life_ratio"), nullptr);
  const bool held = value_of(e, "group_2_life_ratio_low") <= 3 && 3 <= value_of(e, "group_2_life_ratio_high");
  EXPECT_TRUE(held) << value_of(e, "group_2_life_ratio");
  EXPECT_GT(value_of(e, "group_2_slope_p"), 0.05);
  ASSERT_NE(e.finding("groups"), nullptr);
  EXPECT_NE(e.finding("groups")->message.find("they differ"), std::string::npos);
}

}  // namespace
}  // namespace fortitor::fatigue_constant_test
