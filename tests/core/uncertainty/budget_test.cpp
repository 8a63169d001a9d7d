#include "core/uncertainty/budget.h"

#include <gtest/gtest.h>

#include <cmath>

#include "core/methods/method.h"
#include "core/standin/tension_bench.h"
#include "tests/core/methods/tension_curve.h"

namespace fortitor::budget_test {
namespace {

double at(const Shifts& s, const char* name) {
  const auto it = s.find(name);
  return it == s.end() ? 0.0 : it->second;
}

TEST(Budget, ProductByHand) {
  UncertaintyModel m;
  m.inputs = {{"a", "a", 0.3}, {"b", "b", 0.02}};
  m.values = [](const Shifts& s) {
    return Values{{"ab", (10 + at(s, "a")) * (5 + at(s, "b"))}, {"a", 10 + at(s, "a")}};
  };
  const auto all = budgets(m);
  ASSERT_EQ(all.at("ab").size(), 2u);
  EXPECT_NEAR(all.at("ab")[0].contribution, 1.5, 1e-9);  // 5·0.3, the larger first
  EXPECT_NEAR(all.at("ab")[1].contribution, 0.2, 1e-9);
  EXPECT_NEAR(combined(all.at("ab")), std::hypot(1.5, 0.2), 1e-9);
  EXPECT_EQ(all.at("a").size(), 1u);  // b does not enter
}

// A limit that is not there when a reading is a little lower must not look certain of that reading.
TEST(Budget, AResultThatIsMissingUnderAShiftKeepsItsTerm) {
  UncertaintyModel m;
  m.inputs = {{"a", "a", 0.5}, {"b", "b", 0.5}};
  m.values = [](const Shifts& s) {
    Values v;
    if (at(s, "a") >= 0) v["one side"] = 10 + 3 * at(s, "a");
    if (at(s, "a") == 0) v["neither"] = 10.0;
    return v;
  };
  const auto all = budgets(m);
  ASSERT_EQ(all.at("one side").size(), 1u);
  EXPECT_NEAR(all.at("one side")[0].contribution, 1.5, 1e-12);
  ASSERT_EQ(all.at("neither").size(), 1u);
  EXPECT_NEAR(all.at("neither")[0].contribution, 10, 1e-12);
}

// The reading of a value moves that value one to one; working it out under the shift gives the same.
TEST(Budget, AReadingIsNotWorkedOutAgain) {
  UncertaintyModel m = methods::find("tension-metal")->uncertainty(standin::simulate_tension({.seed = 3}));
  const auto without = budgets(m);
  size_t readings = 0;
  for (UncertainInput& input : m.inputs) {
    readings += !input.reading_of.empty();
    input.reading_of.clear();
  }
  EXPECT_GE(readings, 5u);
  const auto with = budgets(m);
  ASSERT_EQ(with.size(), without.size());
  for (const auto& [key, terms] : with) {
    ASSERT_EQ(terms.size(), without.at(key).size()) << key;
    EXPECT_NEAR(combined(terms), combined(without.at(key)), 1e-9 * combined(terms)) << key;
  }
}

TEST(Budget, ReadingsCombineResolutionAndSpread) {
  EXPECT_NEAR(reading_uncertainty({10.0}, 0.01), 0.01 / std::sqrt(3.0), 1e-12);
  EXPECT_NEAR(reading_uncertainty({1, 2, 3}, 0), 1 / std::sqrt(3.0), 1e-12);
  EXPECT_DOUBLE_EQ(reading_dof({1, 2, 3}, 0), 2);
  EXPECT_TRUE(std::isinf(reading_dof({10.0}, 0.01)));
  // u² = 1/3 + 1/3: twice the variance of the spread alone, four times its degrees of freedom.
  EXPECT_NEAR(reading_dof({1, 2, 3}, 1), 8, 1e-12);
}

TEST(MonteCarlo, IsSeededAndMatchesTheClosedForm) {
  UncertaintyModel m;
  m.inputs = {{"a", "a", 0.3}, {"b", "b", 0.4, UncertainInput::Shape::normal}};
  m.values = [](const Shifts& s) { return Values{{"sum", at(s, "a") + at(s, "b")}}; };
  const auto one = monte_carlo(m, 10000, 5), two = monte_carlo(m, 10000, 5);
  EXPECT_EQ(one.at("sum"), two.at("sum"));
  EXPECT_NEAR(one.at("sum"), 0.5, 0.5 * 0.03);
}

TEST(MonteCarlo, OneDrawHasNoScatterAndTwoDo) {
  UncertaintyModel m;
  m.inputs = {{"a", "a", 0.3}};
  m.values = [](const Shifts& s) { return Values{{"a", at(s, "a")}, {"none", NAN}}; };
  EXPECT_TRUE(monte_carlo(m, 1, 5).empty());
  const auto two = monte_carlo(m, 2, 5);
  ASSERT_EQ(two.count("a"), 1u);
  EXPECT_TRUE(std::isfinite(two.at("a")));
  EXPECT_EQ(two.count("none"), 0u);
}

// 10⁴ draws must agree with the budget within 10 % for every result of the method that has one.
TEST(MonteCarlo, AgreesWithTheBudgetOfTensionMetal) {
  TestRecord r = standin::simulate_tension({.metal = "aluminium", .seed = 3});
  const UncertaintyModel model = methods::find(r.method)->uncertainty(r);
  const auto linear = budgets(model);
  const auto drawn = monte_carlo(model, 10000, 11);
  int compared = 0;
  for (const char* key : {"area", "e_modulus", "rp02", "rt05", "rm", "fm", "a", "z", "agt", "ag", "at", "a_ext",
                          "toughness", "k_strength"}) {
    ASSERT_TRUE(linear.count(key)) << key;
    const double u = combined(linear.at(key));
    EXPECT_NEAR(drawn.at(key), u, 0.10 * u) << key;
    ++compared;
  }
  EXPECT_EQ(compared, 14);
}

TEST(Budget, LargestTermOfAStrengthIsTheCell) {
  TestRecord r = testing_help::bar();
  testing_help::give_curve(r, {});
  const Evaluation e = methods::evaluate(r);
  const ResultValue* rm = e.find("rm");
  ASSERT_FALSE(rm->budget.empty());
  EXPECT_NE(rm->budget.front().input.find("force"), std::string::npos);
  // Class 1: 1 % rectangular, and readings of width and thickness good to about 0.01 mm.
  EXPECT_NEAR(rm->standard_uncertainty / rm->value, 0.01 / std::sqrt(3.0), 0.001);
}

}  // namespace
}  // namespace fortitor::budget_test
