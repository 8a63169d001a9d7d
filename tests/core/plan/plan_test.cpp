#include "core/plan/plan.h"

#include <gtest/gtest.h>

#include "core/bench/progress.h"
#include "core/standin/tension_bench.h"
#include "tests/core/methods/tension_curve.h"

namespace fortitor::plan_test {
namespace {

using testing_help::put;

TEST(Plan, CellHoldsTheExpectedForce) {
  EXPECT_DOUBLE_EQ(advised_cell(38e3, 49e3), 100e3);
  EXPECT_DOUBLE_EQ(advised_cell(20e3, 44e3), 50e3);
  EXPECT_DOUBLE_EQ(advised_cell(1, 90e3), 100e3);  // too wide for any: the one that survives
  EXPECT_DOUBLE_EQ(advised_cell(0, 0), 0);
}

TEST(Plan, SpeedAllowsForTheMachine) {
  EXPECT_DOUBLE_EQ(speed_for_strain_rate(0.00025, 60, 200e3, 100, 0), 0.015);
  EXPECT_DOUBLE_EQ(speed_for_strain_rate(0.00025, 60, 200e3, 100, 40e3), 0.00025 * (60 + 500));
  EXPECT_DOUBLE_EQ(sampling_for(0.002, 0.00025), 7);
}

TEST(Plan, ExpectsForceFromLimitsBeforeFamily) {
  TestRecord r = testing_help::bar();
  const Plan by_family = methods::find(r.method)->plan(r);
  EXPECT_DOUBLE_EQ(by_family.expected->low, 290 * 100);
  r.limits["rm"].min = reading_of(parse_quantity("490 MPa", Dimension::stress).value());
  r.limits["rm"].max = reading_of(parse_quantity("630 MPa", Dimension::stress).value());
  const Plan by_limit = methods::find(r.method)->plan(r);
  EXPECT_NEAR(by_limit.expected->low, 49e3, 1e-6);
  EXPECT_NEAR(by_limit.expected->high, 63e3, 1e-6);
}

TEST(Plan, WeakPartsBlockTheStart) {
  TestRecord r = testing_help::bar();
  put(r, "equipment.grips.capacity", "20 kN", Dimension::force);
  auto names_grips = [&] {
    for (const auto& line : methods::find(r.method)->plan(r).blocking)
      if (line.find("Grips is rated") != std::string::npos) return true;
    return false;
  };
  EXPECT_TRUE(names_grips());
  put(r, "settings.stop.force", "15 kN", Dimension::force);
  EXPECT_FALSE(names_grips());
}

TEST(Progress, SaysWhatIsMissing) {
  TestRecord r;
  r.method = "tension-metal";
  const Method& m = *methods::find(r.method);
  Progress p = progress_of(m, r, nullptr, false);
  EXPECT_EQ(progress_code(p), "0000000");
  EXPECT_FALSE(p[size_t(Stage::measure)].missing.empty());
  r = standin::simulate_tension({.seed = 4});
  const Evaluation e = methods::evaluate(r);
  p = progress_of(m, r, &e, false);
  EXPECT_EQ(progress_code(p), "2222220");
  EXPECT_EQ(next_stage(progress_code(p)), Stage::sign_off);
  EXPECT_EQ(progress_code(progress_of(m, r, &e, true)), "2222222");
}

TEST(Progress, APieceThatDidNotBreakHasNoHalves) {
  const TestRecord r = standin::simulate_tension({.seed = 4, .stop_force = 20e3});
  const Evaluation e = methods::evaluate(r);
  EXPECT_EQ(progress_of(*methods::find(r.method), r, &e, false)[size_t(Stage::after)].state,
            StageProgress::State::done);
}

}  // namespace
}  // namespace fortitor::plan_test
