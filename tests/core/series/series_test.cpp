#include "core/series/series.h"

#include <gtest/gtest.h>

#include <cmath>

#include "core/bench/common.h"
#include "core/standin/benches.h"
#include "tests/core/series/crushed_pieces.h"

namespace fortitor::series_test {
namespace {

using namespace crushed_pieces;

Pieces tubes() {
  Pieces p;
  for (double x : {18000, 18200, 17900, 18100, 18300, 17800}) p.add("T", x);
  for (double x : {14000, 14400, 13800}) p.add("D", x, true);
  return p;
}

TEST(Series, ADentThatMattersIsTestedAgainstTheData) {
  const Evaluation e = tubes().judged();
  const Finding* dent = e.finding("suspect");
  ASSERT_NE(dent, nullptr);
  EXPECT_EQ(dent->result_key, "specimen.suspects.dent");
  EXPECT_EQ(dent->evidence.at("ticked"), 3);
  EXPECT_NEAR(dent->evidence.at("mean_unticked"), 18050, 1);
  EXPECT_LT(dent->evidence.at("p"), 0.01);
  EXPECT_NE(dent->message.find("explains scatter"), std::string::npos);
  EXPECT_EQ(dent->message.find(" N"), std::string::npos)
      << "the difference stands in kN, as its means: " << dent->message;
}

TEST(Series, ATickExplainsMayExplainOrDoesNot) {
  auto said = [](double apart) {
    Pieces p;
    for (double x : {-2.0, -1.0, 0.0, 1.0, 2.0}) p.add("T", 1000 + x);
    for (double x : {-2.0, -1.0, 0.0, 1.0, 2.0}) p.add("D", 1000 + apart + x, true);
    const Finding f = *p.judged().finding("suspect");
    return std::pair(f.evidence.at("p"), f.message);
  };
  bool may = false, explains = false, not_at_all = false;
  for (double apart = 1; apart < 5; apart += 0.05) {
    const auto [p, words] = said(apart);
    explains = explains || p < 0.01;
    may = may || (p > 0.01 && p < 0.05);
    not_at_all = not_at_all || p > 0.05;
    EXPECT_EQ(words.find("it may explain scatter") != std::string::npos, p >= 0.01 && p < 0.05) << p;
    EXPECT_EQ(words.find("it explains scatter") != std::string::npos, p < 0.01) << p;
    EXPECT_EQ(words.find("the data do not speak for it") != std::string::npos, p >= 0.05) << p;
  }
  EXPECT_TRUE(may && explains && not_at_all) << "every word was asked for";
}

// Readings on two scales, or under two forces, are numbers of different things: a mean of 60 HRC and 90 HRB is none.
TEST(Series, UnlikePiecesAreGroupedAndNotAveraged) {
  const Method& rockwell = *methods::find("hardness-rockwell");
  std::vector<TestRecord> records;
  std::vector<Evaluation> evaluations;
  for (const auto& [scale, hardness] : {std::pair{"C", 60.0}, {"C", 61.0}, {"B", 90.0}, {"B", 91.0}, {"C", 60.5}}) {
    TestRecord r;
    r.method = rockwell.id;
    r.fields.set("specimen.scale", std::string(scale));
    Evaluation e;
    ResultValue v;
    v.spec = *rockwell.result("hr");
    v.value = hardness;
    e.results.push_back(v);
    records.push_back(r);
    evaluations.push_back(e);
  }
  const auto judged = [&](size_t n) {
    std::vector<SeriesPiece> pieces;
    for (size_t i = 0; i < n; ++i) pieces.push_back({&records[i], &evaluations[i]});
    return series_evaluate(rockwell, pieces, {});
  };
  const Evaluation e = judged(5);
  ASSERT_NE(e.finding("unlike"), nullptr);
  EXPECT_EQ(e.find("mean"), nullptr);
  EXPECT_NEAR(value(e, "group_1_mean"), 60.5, 1e-9);
  EXPECT_NEAR(value(e, "group_2_mean"), 90.5, 1e-9);
  EXPECT_EQ(e.find("welch_p"), nullptr) << "and not compared either";
  const Evaluation alike = judged(2);
  EXPECT_EQ(alike.finding("unlike"), nullptr);
  EXPECT_NEAR(value(alike, "mean"), 60.5, 1e-9);
}

// A demand on the series as a whole is held against its statistic, the pieces' own limits are not.
TEST(Series, TheSeriesItselfMeetsOrFails) {
  Pieces p;
  for (double x : {18000, 18200, 17900, 18100, 18300, 17800}) p.add("T", x);  // mean 18050, s 187.1, least 17800
  const auto judged = [&](const char* json) {
    const auto settings = series_settings_from_json(crush(), json);
    EXPECT_TRUE(settings) << settings.error().message;
    return p.judged(*settings);
  };
  const auto with = [](const std::string& limits, const std::string& more = "") {
    return R"({"fortitor":"record/1","method":"series/crush-shell",)" + more + R"("limits":)" + limits + "}";
  };
  Evaluation e = judged(with(R"({"peak_force.mean":{"min":"18 kN"},"peak_force.sd":{"max":"200 N"}})").c_str());
  EXPECT_EQ(e.find("mean")->verdict, Verdict::meets);
  EXPECT_EQ(e.find("sd")->verdict, Verdict::meets);
  EXPECT_EQ(e.verdict, Verdict::meets);
  EXPECT_EQ(stand_words(*e.find("mean"), UnitSet::si), "≥ 18.00 kN: meets");
  // U of the mean is t(0.975, 5)·s/√6 = 2.571 · 76.4 N = 196 N: it does not clear 18 kN by as much.
  EXPECT_NEAR(e.find("mean")->expanded(), 196.4, 1.0);
  e = judged(
      with(R"({"peak_force.mean":{"min":"18 kN"}})", R"("settings":{"decision":"guarded-acceptance"},)").c_str());
  EXPECT_EQ(e.verdict, Verdict::fails);
  EXPECT_TRUE(e.find("mean")->near);
  e = judged(with(R"({"peak_force.least":{"min":"17.9 kN"},"peak_force":{"min":"30 kN"}})").c_str());
  EXPECT_EQ(e.find("least")->verdict, Verdict::fails);
  EXPECT_EQ(e.find("mean")->verdict, Verdict::none);
  // Another result's demand says nothing of this one; what is not there leaves the verdict open.
  EXPECT_EQ(judged(with(R"({"peak_travel.mean":{"min":"1 mm"}})").c_str()).verdict, Verdict::none);
  Pieces one;
  one.add("T", 18000);
  const auto sd = series_settings_from_json(crush(), with(R"({"peak_force.sd":{"max":"200 N"}})"));
  EXPECT_EQ(one.judged(*sd).verdict, Verdict::open);
  for (const char* wrong :
       {R"({"peak_force.mode":{"min":"1 kN"}})", R"({"rm.mean":{"min":"1 MPa"}})",
        R"({"peak_force.mean":{"min":"18 MPa"}})", R"({"peak_force.mean":{"min":"18 kN","max":"17 kN"}})"})
    EXPECT_FALSE(series_settings_from_json(crush(), with(wrong))) << wrong;
}

// The pieces never take over what is demanded of all together.
TEST(Series, ALimitOfTheWholeIsNoneOfThePieces) {
  const auto settings = *series_settings_from_json(
      crush(),
      R"({"fortitor":"record/1","method":"series/crush-shell","limits":{"peak_force.mean":{"min":"18 kN"},"peak_force":{"min":"17 kN"}}})");
  TestRecord piece;
  piece.method = "crush-shell";
  common::adopt(piece, settings, crush());
  EXPECT_EQ(piece.limits.size(), 1u);
  EXPECT_TRUE(common::differences(piece, settings, crush()).empty());
  TestRecord held = settings;
  piece.limits.clear();
  common::set(held, piece, crush());
  EXPECT_EQ(held.limits.size(), 1u);
  EXPECT_EQ(held.limits.count("peak_force.mean"), 1u);
}

TEST(Series, OneTickIsNoTest) {
  Pieces p = tubes();
  for (TestRecord& r : p.records) r.fields.erase("specimen.suspects.dent");
  p.records[0].fields.set("specimen.suspects.fluid", true);
  const Evaluation e = p.judged();
  ASSERT_NE(e.finding("suspect"), nullptr);
  EXPECT_EQ(e.finding("suspect")->evidence.count("p"), 0u);
}

TEST(Series, NumbersCarryTheirDerivation) {
  const Evaluation e = tubes().judged();
  EXPECT_EQ(value(e, "n"), 9);
  EXPECT_NEAR(value(e, "mean"), 16722.2222, 1e-3);
  EXPECT_NEAR(value(e, "sd"), 2002.983885, 1e-3);
  EXPECT_NEAR(value(e, "cv"), 2002.983885 / 16722.2222, 1e-7);
  for (const char* key : {"mean", "sd", "cv", "mean_low", "sd_high"}) {
    ASSERT_NE(e.find(key), nullptr) << key;
    ASSERT_FALSE(e.find(key)->how.empty()) << key;
    EXPECT_EQ(e.find(key)->how.back().value, e.find(key)->value) << key;
  }
}

TEST(Series, OutliersAreFlaggedStayAndWantAWord) {
  Pieces p;
  for (double x : {100.0, 101.0, 99.0, 100.5, 99.5, 100.2, 99.8, 120.0}) p.add("P" + std::to_string(int(x)), x);
  Evaluation e = p.judged();
  ASSERT_NE(e.finding("outlier"), nullptr);
  EXPECT_EQ(e.finding("outlier")->evidence.at("piece"), 7);
  EXPECT_EQ(value(e, "n"), 8) << "flagged, never removed";
  EXPECT_EQ(e.open_judgements().size(), 1u);
  TestRecord settings;
  settings.answers.push_back({"outlier", "accept", "the wall was thicker by its heat", "R. Vale", "2026-11-25"});
  EXPECT_TRUE(p.judged(settings).open_judgements().empty());
  p.records[7].fields.set("settings.series.left_out", std::string("hit by the crane before the test"));
  e = p.judged();
  EXPECT_EQ(value(e, "n"), 7);
  EXPECT_EQ(value(e, "left_out"), 1);
  ASSERT_NE(e.finding("left-out"), nullptr);
  EXPECT_NE(e.finding("left-out")->message.find("without"), std::string::npos);
}

TEST(Series, VoidTestsAreCountedAndBoundsAreNoValues) {
  Pieces p = tubes();
  p.evaluations[0].verdict = Verdict::void_test;
  p.evaluations[1].results[0].censored = Censoring{true, 0, 0};
  const Evaluation e = p.judged();
  EXPECT_EQ(value(e, "void"), 1);
  EXPECT_EQ(value(e, "bounds"), 1);
  EXPECT_EQ(value(e, "n"), 7);
  double measured = 0;
  for (size_t i = 2; i < p.evaluations.size(); ++i) measured += p.evaluations[i].results[0].value / 7;
  EXPECT_GT(value(e, "mean"), measured) << "a lower bound pulls the mean up";
  EXPECT_EQ(value(e, "mean"), value(e, "ml_mean"));
  EXPECT_EQ(e.find("mean_low"), nullptr) << "no interval of the measured ones alone";
  ASSERT_NE(e.find("b_basis"), nullptr);
  EXPECT_LT(value(e, "b_basis"), value(e, "mean"));
  ASSERT_TRUE(e.find("most")->censored);
  EXPECT_TRUE(e.find("most")->censored->above) << "the largest is not known";
  EXPECT_NE(e.finding("bounds"), nullptr);
  EXPECT_NE(e.finding("voids"), nullptr);
}

TEST(Series, BoundsStayBoundsInGroupsAndInTime) {
  Pieces p;
  for (double v : {50.0, 52.0, 54.0, 56.0, 50.0, 52.0, 54.0, 56.0}) p.add("P", v);
  for (size_t i = 0; i < p.records.size(); ++i) {
    p.records[i].fields.set("specimen.lot", std::string(i < 4 ? "A" : "B"));
    p.records[i].tested_at = "2026-11-2" + std::to_string(i) + "T10:00:00+00:00";
  }
  TestRecord by_lot;
  by_lot.fields.set("settings.group_by", std::string("specimen.lot"));
  EXPECT_NE(p.judged(by_lot).find("chart_high"), nullptr);
  for (size_t i : {6, 7}) p.evaluations[i].results[0].censored = Censoring{true, 0, 0};
  Evaluation e = p.judged(by_lot);
  EXPECT_NEAR(value(e, "group_1_mean"), 53, 1e-9);
  EXPECT_GT(value(e, "group_2_mean"), 53) << "its two strongest went on beyond 54 and 56";
  EXPECT_EQ(value(e, "group_2_bounds"), 2);
  EXPECT_EQ(e.find("chart_high"), nullptr);
  EXPECT_NE(e.finding("chart-bounds"), nullptr);
  for (size_t i : {4, 5}) p.evaluations[i].results[0].censored = Censoring{true, 0, 0};
  e = p.judged(by_lot);
  EXPECT_EQ(e.find("group_2_mean"), nullptr);
  ASSERT_TRUE(e.find("group_2_least")->censored) << "and its lowest is one too";
  EXPECT_NE(e.find("group_2")->text.find("all known only as a bound"), std::string::npos);
  for (Evaluation& one : p.evaluations) one.results[0].censored = Censoring{true, 0, 0};
  e = p.judged();
  EXPECT_EQ(e.find("mean"), nullptr);
  ASSERT_NE(e.finding("all-bounds"), nullptr);
  EXPECT_TRUE(e.find("least")->censored);
}

// A tail to the low side, as strengths of brittle things have: a normal is not contradicted, a Weibull lies lower.
TEST(Series, AnotherModelThatLiesLowerIsSaid) {
  const std::vector<double> strengths = {462, 478, 489, 495, 500, 504, 507, 510, 513, 515, 518, 521};
  Pieces p;
  for (double v : strengths) p.add("P", v);
  const Evaluation e = p.judged();
  const Finding* f = e.finding("basis-model");
  ASSERT_NE(f, nullptr);
  EXPECT_LT(f->evidence.at("a"), value(e, "a_basis"));
  EXPECT_LT(f->evidence.at("b"), value(e, "b_basis"));
  // The other way round the Weibull fits badly.
  Pieces turned;
  for (double v : strengths) turned.add("P", 1000 - v);
  EXPECT_EQ(turned.judged().finding("basis-model"), nullptr);
}

TEST(Series, ABasisSaysWhatItRestsOn) {
  Pieces p;
  for (int i = 0; i < 20; ++i) p.add("P", 100 + (i * 7) % 11);
  EXPECT_NE(p.judged().finding("basis-few"), nullptr) << "no lots are named";
  EXPECT_EQ(p.judged().finding("batches"), nullptr);
  for (size_t i = 0; i < p.records.size(); ++i)
    p.records[i].fields.set("specimen.lot", std::string(1, char('A' + i % 3)));
  const Evaluation alike = p.judged();
  EXPECT_EQ(alike.finding("basis-few"), nullptr);
  ASSERT_NE(alike.finding("batches"), nullptr);
  const double pooled = value(alike, "b_basis");
  for (size_t i = 0; i < p.records.size(); ++i) p.evaluations[i].results[0].value += 10.0 * double(i % 3);
  const Evaluation apart = p.judged();
  EXPECT_NE(apart.finding("batches")->message.find("differ"), std::string::npos);
  EXPECT_LT(value(apart, "b_basis"), pooled) << "although every batch but one is stronger now";
  Pieces wide;
  for (double v : {1.0, 30.0, 90.0, 10.0}) wide.add("P", v);
  const Evaluation negative = wide.judged();
  EXPECT_EQ(negative.find("b_basis"), nullptr) << "a force is not below nothing";
  EXPECT_NE(negative.finding("basis-negative"), nullptr);
}

// ± 2 °C is one temperature (ISO 148-1); what lies further apart is two.
TEST(Series, NearlyAlikeIsAlike) {
  const Method& pendulum = *methods::find("impact-pendulum");
  auto unlike = [&](double a, double b) {
    std::vector<TestRecord> records(2);
    std::vector<Evaluation> evaluations(2);
    std::vector<SeriesPiece> pieces;
    for (size_t i = 0; i < 2; ++i) {
      records[i].method = pendulum.id;
      records[i].fields.set("specimen.temperature", Reading{"", i == 0 ? a : b, 0.1});
      pieces.push_back({&records[i], &evaluations[i]});
    }
    return series_evaluate(pendulum, pieces, {}).finding("unlike") != nullptr;
  };
  EXPECT_FALSE(unlike(-19.8, -20.1));
  EXPECT_FALSE(unlike(-18, -22));
  EXPECT_TRUE(unlike(-20, -40));
  EXPECT_TRUE(unlike(-20, -24.5));
}

TEST(Series, ThePiecesReadAsPeopleReadThem) {
  Pieces p = tubes();
  EXPECT_EQ(piece_words({&p.records[0], &p.evaluations[0]}, "peak_force", UnitSet::si), "18.00 kN");
  p.evaluations[0].results[0].censored = Censoring{true, 0, 0};
  EXPECT_EQ(piece_words({&p.records[0], &p.evaluations[0]}, "peak_force", UnitSet::si), "≥ 18.00 kN");
  p.evaluations[0].results[0].censored = Censoring{false, 17000, 18000};
  EXPECT_EQ(piece_words({&p.records[0], &p.evaluations[0]}, "peak_force", UnitSet::si), "17.00–18.00 kN");
  EXPECT_EQ(piece_words({&p.records[0], &p.evaluations[0]}, "mean_crush_force", UnitSet::si), "–");
}

TEST(Series, EmptySaysSo) {
  const Evaluation e = Pieces{}.judged();
  EXPECT_EQ(value(e, "n"), 0);
  EXPECT_NE(e.finding("few"), nullptr);
  EXPECT_TRUE(e.figures.empty());
}

TEST(Series, TheHistogramHasRoundEdgesAndCountsEveryPiece) {
  const Evaluation e = tubes().judged();
  ASSERT_EQ(e.figures.size(), 1u);
  ASSERT_EQ(e.figures[0].panels.size(), 2u);
  const Trace& bars = e.figures[0].panels[0].traces[0];
  double sum = 0;
  for (double n : bars.y) sum += n;
  EXPECT_EQ(sum, 9);
  const double edge = (bars.x[0] - bars.bar_width / 2) / bars.bar_width;
  EXPECT_NEAR(edge, std::round(edge), 1e-9);
  EXPECT_EQ(e.figures[0].panels[1].x.categories.size(), 9u);
}

TEST(Series, SettingsGoThroughTheirDocument) {
  TestRecord settings;
  settings.series = "Buffer tubes";
  settings.fields.set("settings.result", std::string("crush_energy"));
  settings.answers.push_back({"outlier", "accept", "heat 7", "R. Vale", "2026-11-25T08:00:00Z"});
  const auto again = series_settings_from_json(crush(), series_settings_to_json(crush(), settings));
  ASSERT_TRUE(again) << again.error().message;
  EXPECT_EQ(series_key(crush(), *again), "crush_energy");
  EXPECT_EQ(again->answers, settings.answers);
  EXPECT_FALSE(
      series_settings_from_json(crush(), R"({"fortitor":"record/1","method":"series/crush-shell","series_":1})"));
  settings.fields.set("settings.result", std::string("no_such_key"));
  EXPECT_EQ(series_key(crush(), settings), "peak_force");
}

TEST(Series, PiecesComeFromTheEvaluation) {
  standin::SimulateOptions o;
  o.seed = 5;
  o.faults = {"dent"};
  const TestRecord r = standin::find_bench("shell-press")->simulate(o);
  const Evaluation e = methods::evaluate(r);
  const Evaluation judged = series_evaluate(crush(), {{&r, &e}}, {});
  EXPECT_EQ(value(judged, "n"), 1);
  EXPECT_GT(value(judged, "mean"), 5000);
  EXPECT_NE(judged.finding("suspect"), nullptr) << "the dent was ticked";
}

}  // namespace
}  // namespace fortitor::series_test
