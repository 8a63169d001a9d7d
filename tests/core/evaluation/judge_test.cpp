#include "core/evaluation/judge.h"

#include <gtest/gtest.h>

#include <array>
#include <cmath>

#include "tests/c_text.h"

namespace fortitor::judge_test {
namespace {

Reading bound(double v) {
  return {c_number(v), v, 0};
}

ResultValue result(double value, double u, std::optional<double> min, std::optional<double> max, Decision decision = {},
                   std::optional<Censoring> censored = {}) {
  ResultValue r;
  r.value = value;
  r.standard_uncertainty = u;
  r.censored = censored;
  if (min) r.limit.min = bound(*min);
  if (max) r.limit.max = bound(*max);
  judge_result(r, decision);
  return r;
}

Verdict judged(double value, double u, std::optional<double> min, std::optional<double> max,
               DecisionRule rule = DecisionRule::simple, std::optional<Censoring> censored = {}) {
  return result(value, u, min, max, {rule, {}}, censored).verdict;
}

TEST(Judge, SimpleAcceptanceSaysYesOrNoAndPointsOutTheNear) {
  struct Case {
    double value;
    std::optional<double> min, max;
    Verdict verdict;
    bool near;
    double probability;  // of a normal with u = 2, from tables
  };
  for (const Case& c : std::initializer_list<Case>{{366, 355, {}, Verdict::meets, false, 1.0},
                                                   {357, 355, {}, Verdict::meets, true, 0.8413},
                                                   {353, 355, {}, Verdict::fails, true, 0.1587},
                                                   {351, 355, {}, Verdict::fails, true, 0.02275},
                                                   {350, 355, {}, Verdict::fails, false, 0.0062},
                                                   {650, 490, 630, Verdict::fails, false, 0.0},
                                                   {628, 490, 630, Verdict::meets, true, 0.8413},
                                                   {500, 498, 502, Verdict::meets, true, 0.6827}}) {
    const ResultValue r = result(c.value, 2, c.min, c.max);
    EXPECT_EQ(r.verdict, c.verdict) << c.value;
    EXPECT_EQ(r.near, c.near) << c.value;
    ASSERT_TRUE(r.probability) << c.value;
    EXPECT_NEAR(*r.probability, c.probability, 5e-5) << c.value;
  }
  EXPECT_EQ(judged(500, 2, {}, {}), Verdict::none);
  EXPECT_EQ(judged(355, 0, 355, {}), Verdict::meets);
  EXPECT_EQ(result(355, 0, 355, {}).probability, 1);
  EXPECT_EQ(result(355, 0, {}, 355).probability, 1);
}

TEST(Judge, GuardBandsAndFourOutcomes) {
  // Far below, within U below, at the limit, within U above, clear of it by exactly U, far above.
  const double values[] = {350, 352, 355, 357, 359, 366};
  const auto m = Verdict::meets, f = Verdict::fails;
  const std::pair<DecisionRule, std::array<Verdict, 6>> wanted[] = {
      {DecisionRule::simple, {f, f, m, m, m, m}},
      {DecisionRule::guarded_acceptance, {f, f, f, f, m, m}},
      {DecisionRule::guarded_rejection, {f, m, m, m, m, m}},
      {DecisionRule::four, {f, Verdict::conditional_fail, Verdict::conditional_pass, Verdict::conditional_pass, m, m}}};
  for (const auto& [rule, verdicts] : wanted)
    for (size_t i = 0; i < verdicts.size(); ++i) {
      EXPECT_EQ(judged(values[i], 2, 355, {}, rule), verdicts[i]) << rule_word(rule) << " " << values[i];
      EXPECT_EQ(judged(-values[i], 2, {}, -355, rule), verdicts[i]) << "mirrored " << rule_word(rule) << values[i];
    }
}

TEST(Judge, BoundsAndIntervalsStayOpenWhereTheLimitIsInside) {
  const Censoring above{true, 0, 0}, between{false, 50, 57};
  EXPECT_EQ(judged(400, 2, 600, {}, DecisionRule::simple, above), Verdict::open);
  EXPECT_EQ(judged(700, 2, 600, {}, DecisionRule::simple, above), Verdict::meets);
  EXPECT_EQ(judged(700, 2, {}, 600, DecisionRule::simple, above), Verdict::fails);
  EXPECT_EQ(judged(500, 2, {}, 600, DecisionRule::simple, above), Verdict::open);
  EXPECT_EQ(judged(50, 0.1, 55, {}, DecisionRule::simple, between), Verdict::open);
  EXPECT_EQ(judged(50, 0.1, 45, {}, DecisionRule::simple, between), Verdict::meets);
  EXPECT_EQ(judged(50, 0.1, 60, {}, DecisionRule::simple, between), Verdict::fails);
  EXPECT_EQ(judged(NAN, 0.1, 60, {}), Verdict::open);
  EXPECT_FALSE(result(400, 2, 600, {}, {}, above).probability) << "how far above nobody knows";
  EXPECT_NEAR(result(602, 2, 600, {}, {}, above).probability.value_or(0), 0.8413, 5e-5);
  EXPECT_NEAR(result(50, 0, 55, {}, {}, between).probability.value_or(0), 2.0 / 7, 1e-12);
  // Mean of Φ((x − 50)/2) over x from 50 to 57, by quadrature: 0.886033.
  EXPECT_NEAR(result(50, 2, 50, {}, {}, between).probability.value_or(0), 0.886033, 2e-6);
}

TEST(Judge, ComparedAsComputedOrRoundedLikeTheLimit) {
  auto elongation = [](double value, const char* typed, Compared compared) {
    ResultValue r;
    r.spec.key = "a";
    r.spec.symbol = "A";
    r.spec.dimension = Dimension::elongation;
    r.value = value;
    r.limit.min = reading_of(parse_quantity(typed, Dimension::elongation).value());
    judge_result(r, {DecisionRule::simple, compared});
    return r.verdict;
  };
  const auto rounded = Compared::rounded;
  EXPECT_EQ(elongation(0.2196, "22 %", Compared::absolute), Verdict::fails);
  EXPECT_EQ(elongation(0.2196, "22 %", rounded), Verdict::meets);
  EXPECT_EQ(elongation(0.2196, "22.0 %", rounded), Verdict::meets);
  EXPECT_EQ(elongation(0.2194, "22.0 %", rounded), Verdict::fails);
  EXPECT_EQ(elongation(0.2149, "22 %", rounded), Verdict::fails);
  EXPECT_EQ(elongation(0.2151, "22 %", rounded), Verdict::meets);

  Evaluation e;
  ResultValue r;
  r.spec.key = "a";
  r.spec.symbol = "A";
  r.spec.dimension = Dimension::elongation;
  r.value = 0.2196;
  e.results = {r};
  TestRecord record;
  record.limits["a"].min = reading_of(parse_quantity("22 %", Dimension::elongation).value());
  judge(e, record);
  EXPECT_EQ(e.verdict, Verdict::fails);
  EXPECT_EQ(e.rule, "simple");
  EXPECT_EQ(e.compared, "absolute");
  ASSERT_NE(e.finding("rounding-decides"), nullptr);
  record.fields.set("settings.compared", std::string("rounded"));
  e.findings.clear();
  judge(e, record);
  EXPECT_EQ(e.verdict, Verdict::meets);
  EXPECT_EQ(e.compared, "rounded");
  ASSERT_NE(e.finding("rounding-decides"), nullptr);
  record.limits["a"].min = reading_of(parse_quantity("20 %", Dimension::elongation).value());
  e.findings.clear();
  judge(e, record);
  EXPECT_EQ(e.finding("rounding-decides"), nullptr);
}

TEST(Judge, WorstVerdictWinsAndVoidHidesAll) {
  Evaluation e;
  for (const auto& [key, value] : {std::pair{"rm", 500.0}, std::pair{"reh", 300.0}}) {
    ResultValue r;
    r.spec.key = key;
    r.spec.symbol = key;
    r.value = value;
    r.standard_uncertainty = 1;
    e.results.push_back(r);
  }
  TestRecord record;
  record.limits["rm"].min = bound(490);
  judge(e, record);
  EXPECT_EQ(e.verdict, Verdict::meets);
  record.limits["reh"].min = bound(355);
  judge(e, record);
  EXPECT_EQ(e.verdict, Verdict::fails);
  EXPECT_EQ(e.verdict_reason, "reh");
  record.limits["a"].min = bound(0.2);
  record.limits.erase("reh");
  judge(e, record);
  EXPECT_EQ(e.verdict, Verdict::open);
  e.findings.push_back({"cell-over", Severity::void_test, "over", {}, {}, "", {}});
  judge(e, record);
  EXPECT_EQ(e.verdict, Verdict::void_test);
  EXPECT_EQ(e.find("rm")->verdict, Verdict::void_test);
}

TEST(Judge, AnswersCloseJudgements) {
  Evaluation e;
  e.findings.push_back({"slip", Severity::check, "slipped", {}, {}, "", {}});
  TestRecord record;
  judge(e, record);
  EXPECT_EQ(e.open_judgements().size(), 1u);
  record.answers.push_back({"slip", "accept", "seen", "R. Vale", "now"});
  judge(e, record);
  EXPECT_TRUE(e.open_judgements().empty());
}

}  // namespace
}  // namespace fortitor::judge_test
