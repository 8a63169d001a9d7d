// The transition of a series of pendulum blows, against independent figures and simulated sets whose truth is known.
#include <gtest/gtest.h>

#include <random>

#include "core/bench/common.h"
#include "core/methods/impact_pendulum/model.h"
#include "core/series/series.h"
#include "tests/core/methods/impact_records.h"

namespace fortitor::transition_test {
namespace {

using standin::type_into;

struct Series {
  std::vector<TestRecord> records;
  std::vector<Evaluation> evaluations;
  Evaluation judged(const TestRecord& settings = {}) {
    std::vector<SeriesPiece> pieces;
    evaluations.clear();
    for (const TestRecord& r : records) evaluations.push_back(methods::evaluate(r, {.uncertainty = false}));
    for (size_t i = 0; i < records.size(); ++i) pieces.push_back({&records[i], &evaluations[i]});
    return series_evaluate(*methods::find("impact-pendulum"), pieces, settings);
  }
};

// A transition temperature may be limited: of the series, never of a piece.
TEST(Transition, ItsTemperaturesMeetOrFail) {
  const Method& m = *methods::find("impact-pendulum");
  Series s;
  const double t[] = {-80, -60, -40, -20, 0, 20, 40, 60}, k[] = {8.1, 12.3, 27.9, 66.2, 121.5, 158.8, 172.4, 176.9};
  for (int i = 0; i < 8; ++i) s.records.push_back(beam({plain_number(k[i], 6) + " J"}, plain_number(t[i], 4) + " °C"));
  const auto with = [&](const std::string& limits) {
    return series_settings_from_json(
        m, R"({"fortitor":"record/1","method":"series/impact-pendulum","limits":)" + limits + "}");
  };
  const auto cold = with(R"({"t27j.series":{"max":"-30 °C"},"upper_shelf.series":{"min":"200 J"}})");
  ASSERT_TRUE(cold) << cold.error().message;
  const Evaluation e = s.judged(*cold);  // T_27J lies at −40.5 °C, the shelf at 178 J
  EXPECT_EQ(e.find("t27j")->verdict, Verdict::meets);
  EXPECT_EQ(e.find("upper_shelf")->verdict, Verdict::fails);
  EXPECT_EQ(e.find("t41j")->verdict, Verdict::none);
  EXPECT_EQ(e.verdict, Verdict::fails);
  EXPECT_EQ(s.judged().verdict, Verdict::none);
  // Offered first, in words; pieces do not take them over.
  EXPECT_EQ(series_limits_of(m, "energy").front(), "t27j.series");
  EXPECT_EQ(series_limit(m, "t27j.series")->name, "temperature for 27 J of the series");
  EXPECT_TRUE(series_limit(*methods::find("fatigue-constant"), "strength_2e6_char.series"));
  EXPECT_FALSE(series_limit(*methods::find("tension-metal"), "rm.series")) << "its mean and bases are limited";
  TestRecord piece = s.records.front();
  common::adopt(piece, *cold, m);
  EXPECT_TRUE(piece.limits.empty());
  for (const char* wrong : {R"({"energy.series":{"min":"20 J"}})", R"({"t27j.series":{"max":"30 J"}})"})
    EXPECT_FALSE(with(wrong)) << wrong;
}

TEST(Transition, IndependentFigures) {
  Series s;
  const double t[] = {-80, -60, -40, -20, 0, 20, 40, 60}, k[] = {8.1, 12.3, 27.9, 66.2, 121.5, 158.8, 172.4, 176.9};
  for (int i = 0; i < 8; ++i) s.records.push_back(beam({plain_number(k[i], 6) + " J"}, plain_number(t[i], 4) + " °C"));
  const Evaluation e = s.judged();
  EXPECT_NEAR(value_of(e, "upper_shelf"), 178.35715222308457, 1e-3);
  EXPECT_NEAR(value_of(e, "lower_shelf"), 6.3604290392411675, 1e-3);
  EXPECT_NEAR(value_of(e, "t50"), -10.613632195010046, 1e-3);
  EXPECT_NEAR(value_of(e, "t27j"), -40.517630935361346, 1e-3);
  EXPECT_EQ(e.finding("shelves-unseen"), nullptr);
  EXPECT_FALSE(e.figures.empty());
}

TEST(Transition, TheTruthLiesWithinTheErrors) {
  std::mt19937_64 random(4);
  std::normal_distribution<double> n;
  int held = 0, of = 0, false_alarms = 0;
  for (int trial = 0; trial < 120; ++trial) {
    Series s;
    for (double t : {-90.0, -70.0, -50.0, -30.0, -10.0, 10.0, 30.0}) {
      std::vector<std::string> blows;
      for (int i = 0; i < 3; ++i)
        blows.push_back(plain_number(std::max(1.0, 90 + 84 * std::tanh((t + 35) / 27) + 5 * n(random)), 5) + " J");
      s.records.push_back(beam(blows, plain_number(t, 4) + " °C"));
    }
    const Evaluation e = s.judged();
    false_alarms += e.finding("set-off") != nullptr || e.finding("falls-with-temperature") != nullptr;
    const double truth27 = -35 + 27 * std::atanh((27.0 - 90) / 84);
    for (const auto& [key, truth] : {std::pair{"t27j", truth27}, {"t50", -35.0}, {"upper_shelf", 174.0}}) {
      const ResultValue* r = e.find(key);
      ASSERT_NE(r, nullptr);
      if (r->censored) continue;
      ++of;
      held += std::abs(r->value - truth) <= r->expanded();
    }
  }
  EXPECT_GE(held, 0.92 * of) << held << " of " << of;
  EXPECT_LE(false_alarms, 1) << "no set is astray";
}

TEST(Transition, AStraySetIsSaidWithAndWithout) {
  Series s;
  for (double t : {-80.0, -60.0, -40.0, -20.0, 0.0, 20.0, 40.0, 60.0}) {
    const double k = t == 20 ? 40 : 90 + 84 * std::tanh((t + 20) / 27);
    std::vector<std::string> blows;
    for (double off : {-3.0, 0.0, 3.0}) blows.push_back(plain_number(k + off, 5) + " J");
    s.records.push_back(beam(blows, plain_number(t, 4) + " °C"));
  }
  const Evaluation e = s.judged();
  ASSERT_NE(e.finding("set-off"), nullptr);
  EXPECT_NEAR(e.finding("set-off")->evidence.at("temperature"), 20, 1e-9);
  EXPECT_NE(e.finding("set-off")->message.find("without"), std::string::npos);
}

TEST(Transition, EnergiesThatFallWithTemperature) {
  Series s;
  for (double t : {-80.0, -60.0, -40.0, -20.0, 0.0, 20.0, 40.0})
    s.records.push_back(beam({plain_number(90 - 84 * std::tanh((t + 20) / 27), 5) + " J"}, plain_number(t, 4) + " °C"));
  EXPECT_NE(s.judged().finding("falls-with-temperature"), nullptr);
}

TEST(Transition, ShelvesThatNobodySawAreBounds) {
  Series s;
  for (double t : {-40.0, -30.0, -20.0, -10.0, 0.0, 20.0, 40.0, 60.0})
    s.records.push_back(beam({plain_number(90 + 84 * std::tanh((t + 35) / 27), 5) + " J"}, plain_number(t, 4) + " °C"));
  const Evaluation e = s.judged();
  ASSERT_NE(e.finding("shelves-unseen"), nullptr);
  ASSERT_TRUE(e.find("lower_shelf")->censored);
  EXPECT_EQ(e.find("lower_shelf")->standard_uncertainty, 0) << "a bound has none";
  EXPECT_GT(e.find("upper_shelf")->standard_uncertainty, 0);
  EXPECT_FALSE(e.find("lower_shelf")->censored->above);
  EXPECT_FALSE(e.find("upper_shelf")->censored);
  EXPECT_LT(value_of(e, "next_temperature"), -40) << "colder: the foot is unseen";
}

TEST(Transition, ATemperatureBeyondTheSetsIsABound) {
  Series s;  // the coldest set takes 60 J already
  for (double t : {-20.0, -10.0, 0.0, 10.0, 20.0, 40.0, 60.0})
    s.records.push_back(beam({plain_number(90 + 84 * std::tanh((t + 10) / 27), 5) + " J"}, plain_number(t, 4) + " °C"));
  const Evaluation e = s.judged();
  const ResultValue* t27 = e.find("t27j");
  ASSERT_NE(t27, nullptr);
  ASSERT_TRUE(t27->censored);
  EXPECT_FALSE(t27->censored->above);
  EXPECT_NEAR(t27->censored->to, -20, 1e-9);
  Series w;  // the warmest takes 20 J only
  for (double t : {-80.0, -70.0, -60.0, -50.0, -40.0, -35.0, -30.0})
    w.records.push_back(beam({plain_number(90 + 84 * std::tanh((t + 2) / 24), 5) + " J"}, plain_number(t, 4) + " °C"));
  const Evaluation cold = w.judged();
  const ResultValue* t41 = cold.find("t41j");
  ASSERT_NE(t41, nullptr);
  EXPECT_TRUE(t41->censored && t41->censored->above);
  EXPECT_NEAR(t41->value, -30, 1e-9);
}

TEST(Transition, FewTemperaturesGiveTheStatisticsOfOneResult) {
  Series s;
  for (double t : {-40.0, -20.0, 0.0}) s.records.push_back(beam({"50 J", "60 J"}, plain_number(t, 4) + " °C"));
  const Evaluation e = s.judged();
  EXPECT_NE(e.finding("few-temperatures"), nullptr);
  EXPECT_EQ(e.find("t27j"), nullptr);
  EXPECT_FALSE(e.results.empty());
}

}  // namespace
}  // namespace fortitor::transition_test
