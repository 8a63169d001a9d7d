#include <gtest/gtest.h>

#include <cmath>

#include "core/methods/method.h"
#include "core/standin/frame.h"
#include "core/standin/tension_bench.h"
#include "tests/core/methods/made.h"

namespace fortitor::standin::standin_test {
namespace {

using C = MachineCommand;

class EveryMetal : public testing::TestWithParam<std::string> {};

TEST_P(EveryMetal, GivesBackItsOwnConstants) {
  const Metal& metal = *find_metal(GetParam());
  const TestRecord r = simulate_tension({.metal = GetParam(), .seed = 3});
  const Evaluation e = methods::evaluate(r);
  EXPECT_NEAR(value(e, "e_modulus") / metal.modulus, 1, 0.025);
  EXPECT_NEAR(value(e, "n_value") / metal.n, 1, 0.15);
  // Considère: uniform true strain is n − ε₀ beyond any plateau.
  const double flow = metal.upper_yield > 0 ? metal.lower_yield : metal.start_stress;
  EXPECT_GT(value(e, "rm"), flow);
  EXPECT_NEAR(value(e, "z"), metal.fracture_reduction, 0.06);
  EXPECT_EQ(e.find("yielding")->text, metal.upper_yield > 0 ? "discontinuous" : "continuous");
  if (metal.upper_yield > 0) {
    EXPECT_NEAR(value(e, "ae"), metal.luders_strain, 0.002);
  }
  EXPECT_FALSE(e.find("rm")->censored);
  for (const Finding& f : e.findings)
    EXPECT_TRUE(f.severity == Severity::note || f.code == "break-outside-middle") << f.code << ": " << f.message;
}

INSTANTIATE_TEST_SUITE_P(StandIn, EveryMetal,
                         testing::Values("mild-steel", "aluminium", "bronze", "high-strength-steel", "cold-drawn-bar"),
                         [](const auto& test) {
                           std::string n = test.param;
                           std::replace(n.begin(), n.end(), '-', '_');
                           return n;
                         });

TEST(StandIn, SameSeedSameRecord) {
  const TestRecord a = simulate_tension({.seed = 8}), b = simulate_tension({.seed = 8}),
                   c = simulate_tension({.seed = 9});
  EXPECT_EQ(a.fields, b.fields);
  EXPECT_EQ(a.run.samples()->find("force")->values, b.run.samples()->find("force")->values);
  EXPECT_NE(a.run.samples()->find("force")->values, c.run.samples()->find("force")->values);
}

TEST(StandIn, ForgottenZeroAndExtensometerAreFound) {
  const Evaluation e =
      methods::evaluate(simulate_tension({.seed = 2, .forget_zero = true, .leave_extensometer = true}));
  EXPECT_NE(e.finding("not-zeroed"), nullptr);
  EXPECT_NE(e.finding("extensometer-at-break"), nullptr);
}

TEST(StandIn, LimitsStopTheRun) {
  const TestRecord r = simulate_tension({.seed = 2, .stop_force = 20e3});
  const auto& force = r.run.samples()->find("force")->values;
  EXPECT_LT(*std::max_element(force.begin(), force.end()), 20.2e3);
  EXPECT_NE(r.run.stopped.find("force limit of 20.00 kN"), std::string::npos);
  EXPECT_TRUE(methods::evaluate(r).find("rm")->censored);
  const TestRecord frame = simulate_tension({.metal = "high-strength-steel", .seed = 2, .frame_capacity = 60e3});
  EXPECT_NE(frame.run.stopped.find("frame is at its capacity"), std::string::npos);
}

TEST(Frame, RefusesWhatWouldHurt) {
  UniversalFrame frame({});
  EXPECT_FALSE(frame.command(C::start));
  EXPECT_FALSE(frame.command(C::mount_extensometer));
  EXPECT_TRUE(frame.command(C::close_top_grip));
  EXPECT_TRUE(frame.command(C::zero_force));
  EXPECT_TRUE(frame.command(C::close_bottom_grip));
  EXPECT_FALSE(frame.command(C::jog_up, 2));
  EXPECT_TRUE(frame.command(C::jog_up, 0.1));
  EXPECT_TRUE(frame.command(C::start));
  EXPECT_FALSE(frame.command(C::open_grips));
  EXPECT_FALSE(frame.command(C::zero_force));
  EXPECT_FALSE(frame.program(MachineProgram{}));
}

TEST(Frame, HoldKeepsTheCrossheadAndEmergencyStopsAll) {
  UniversalFrame frame({});
  for (C c : {C::close_top_grip, C::zero_force, C::close_bottom_grip, C::start}) ASSERT_TRUE(frame.command(c));
  frame.advance(20);
  ASSERT_TRUE(frame.command(C::hold));
  const double at = frame.status().reading("crosshead");
  EXPECT_FALSE(frame.advance(5).front().empty());  // it goes on sampling
  EXPECT_EQ(frame.status().reading("crosshead"), at);
  ASSERT_TRUE(frame.command(C::resume));
  frame.advance(1);
  EXPECT_GT(frame.status().reading("crosshead"), at);
  ASSERT_TRUE(frame.command(C::emergency_stop));
  const double stopped = frame.status().reading("crosshead");
  EXPECT_TRUE(frame.advance(5).front().empty());
  EXPECT_EQ(frame.status().reading("crosshead"), stopped);
  EXPECT_FALSE(frame.command(C::start));
  EXPECT_TRUE(frame.command(C::reset));
}

MachineProgram at_rate(double hertz) {
  MachineProgram p;
  p.sampling = hertz;
  return p;
}

TEST(Frame, StepsDriveHoldRepeatAndEnd) {
  UniversalFrame frame({});
  const auto travel = MachineQuantity::travel;
  MachineProgram p;
  p.steps = {{travel, 0.5, travel, 0.4, 1.5}, {travel, 0.1, travel, 0.6, 0}};
  ASSERT_TRUE(frame.program(p));
  for (C c : {C::close_top_grip, C::zero_force, C::close_bottom_grip, C::start}) ASSERT_TRUE(frame.command(c));
  const auto columns = frame.advance(20);
  EXPECT_EQ(frame.status().state, MachineState::idle);
  EXPECT_EQ(frame.status().message, "The program is through.");
  size_t held = 0;
  for (double x : columns[3]) held += std::abs(x - 0.4) < 0.012;
  EXPECT_NEAR(double(held) / p.sampling, 1.5, 0.3) << "held at the first target";
  EXPECT_NEAR(columns[3].back(), 0.6, 0.02);
  EXPECT_FALSE(frame.program({{{MachineQuantity::torque, 1}}})) << "led by its crosshead only";
  EXPECT_FALSE(frame.program({{{travel, 30}}})) << "too fast";
  EXPECT_FALSE(frame.program({{}})) << "no step";
}

TEST(Frame, SamplesAtTheAskedRateWhateverTheStretches) {
  for (double rate : {50.0, 333.0, 1000.0}) {
    UniversalFrame whole({}), parts({});
    for (UniversalFrame* f : {&whole, &parts}) {
      ASSERT_TRUE(f->program(at_rate(rate)));
      for (C c : {C::close_top_grip, C::zero_force, C::close_bottom_grip, C::start}) ASSERT_TRUE(f->command(c));
    }
    const auto one = whole.advance(4);
    MachineColumns many;
    for (int i = 0; i < 400; ++i) append(many, parts.advance(0.01));
    const std::vector<double>& time = one.front();
    EXPECT_NEAR(double(time.size()), 4 * rate, 2);
    EXPECT_NEAR(double(many.front().size()), double(time.size()), 1);
    for (size_t i = 1; i < time.size(); ++i) EXPECT_NEAR(time[i] - time[i - 1], 1 / rate, 1e-9);
  }
}

TEST(Specimen, UnloadsAlongItsElasticLine) {
  TensionSpecimen s(*find_metal("aluminium"), 80, 60, 1);
  const double k = 45e3;
  s.stretch(2.0, k, 0);
  const double force = s.force(), plastic = s.plastic_strain();
  EXPECT_GT(plastic, 0.01);
  s.stretch(1.9, k, 0);
  EXPECT_LT(s.force(), force);
  EXPECT_NEAR(s.plastic_strain(), plastic, 1e-9);
  s.stretch(0.5, k, 0);
  EXPECT_EQ(s.force(), 0);
  s.stretch(2.0, k, 0);
  EXPECT_NEAR(s.force(), force, 1e-3 * force);
}

TEST(Caliper, ReadsTheHalvesOnlyAfterABreak) {
  TestRecord r = simulate_tension({.seed = 2, .stop_force = 20e3});
  EXPECT_TRUE(caliper_readings(r, "specimen.after.gauge_length", 1).empty());
  r = simulate_tension({.seed = 2});
  EXPECT_EQ(caliper_readings(r, "specimen.after.diameter", 2).size(), 2u);
  EXPECT_TRUE(caliper_readings(r, "specimen.material", 1).empty());
}

}  // namespace
}  // namespace fortitor::standin::standin_test
