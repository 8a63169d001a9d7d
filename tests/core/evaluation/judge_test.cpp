#include "core/evaluation/judge.h"

#include <gtest/gtest.h>

#include <cmath>

#include "tests/c_text.h"

namespace fortitor::judge_test {
namespace {

Reading bound(double v) {
  return {c_number(v), v, 0};
}

Verdict judged(double value, double u, std::optional<double> min, std::optional<double> max,
               DecisionRule rule = DecisionRule::simple, std::optional<Censoring> censored = {}) {
  ResultValue r;
  r.value = value;
  r.standard_uncertainty = u;
  r.censored = censored;
  if (min) r.limit.min = bound(*min);
  if (max) r.limit.max = bound(*max);
  judge_result(r, rule);
  return r.verdict;
}

TEST(Judge, SimpleAcceptancePointsOutTheNear) {
  EXPECT_EQ(judged(366, 2, 355, {}), Verdict::meets);
  EXPECT_EQ(judged(357, 2, 355, {}), Verdict::near);
  EXPECT_EQ(judged(353, 2, 355, {}), Verdict::near);
  EXPECT_EQ(judged(350, 2, 355, {}), Verdict::fails);
  EXPECT_EQ(judged(650, 2, 490, 630), Verdict::fails);
  EXPECT_EQ(judged(628, 2, 490, 630), Verdict::near);
  EXPECT_EQ(judged(500, 2, {}, {}), Verdict::none);
  EXPECT_EQ(judged(355, 0, 355, {}), Verdict::meets);
}

TEST(Judge, GuardBandsDecideTheNear) {
  EXPECT_EQ(judged(357, 2, 355, {}, DecisionRule::guarded_acceptance), Verdict::fails);
  EXPECT_EQ(judged(353, 2, 355, {}, DecisionRule::guarded_rejection), Verdict::meets);
  EXPECT_EQ(judged(350, 2, 355, {}, DecisionRule::guarded_rejection), Verdict::fails);
  EXPECT_EQ(judged(360, 2, 355, {}, DecisionRule::guarded_acceptance), Verdict::meets);
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
