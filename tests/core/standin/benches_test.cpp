// Stand-ins of the slow benches: faults do what they say, pieces behave as their kind does.
#include "core/standin/benches.h"

#include "core/standin/instruments.h"
#include "core/standin/workpiece.h"
#include "tests/core/methods/method_records.h"

namespace fortitor::benches_test {
namespace {

TestRecord make(const std::string& bench, const std::string& method, const std::string& piece, uint64_t seed,
                const std::string& fault = {}) {
  standin::SimulateOptions o;
  o.piece = piece;
  o.seed = seed;
  if (!fault.empty()) o.faults = {fault};
  TestRecord r = standin::find_bench(bench)->simulate(o);
  r.method = method;
  return r;
}

TEST(Benches, AMisreadDialIsCalledOutAndACarefulOneIsNot) {
  for (uint64_t seed = 1; seed <= 8; ++seed) {
    EXPECT_NE(methods::evaluate(make("bending-bench", "flexure-beam", "ash", seed, "misread")).finding("re-read"),
              nullptr)
        << seed;
    EXPECT_EQ(methods::evaluate(make("bending-bench", "flexure-beam", "ash", seed)).finding("re-read"), nullptr)
        << seed;
  }
}

TEST(Benches, FaultsOfTheStrainBenchAreFound) {
  EXPECT_NE(methods::evaluate(make("strain-bench", "poisson-gauge", "magnesium", 3, "misread")).finding("re-read"),
            nullptr);
  EXPECT_NE(
      methods::evaluate(make("strain-bench", "poisson-gauge", "magnesium", 3, "swapped")).finding("channels-swapped"),
      nullptr);
  EXPECT_NE(methods::evaluate(make("strain-bench", "poisson-gauge", "magnesium", 3, "drift")).finding("drift"),
            nullptr);
  const TestRecord open = make("strain-bench", "poisson-gauge", "titanium", 3, "open-channel");
  EXPECT_TRUE(open.run.rows("stations").back().reading("strain_lat")->missed());
}

TEST(Benches, FaultsOfTheTorsionBenchAreFound) {
  EXPECT_NE(methods::evaluate(make("torsion-bench", "torsion-bar", "quenched-steel", 2, "windup"))
                .finding("angle-includes-chuck"),
            nullptr);
  EXPECT_NE(methods::evaluate(make("torsion-bench", "torsion-bar", "quenched-steel", 2, "frozen-gauge"))
                .finding("gauge-lost"),
            nullptr);
  const Evaluation mild = methods::evaluate(make("torsion-bench", "torsion-bar", "mild-steel", 2));
  EXPECT_GT(value_of(mild, "turns"), 5) << "a soft shaft twists for turns";
}

TEST(Benches, WoodCracksBeforeItBreaksAndTheBracketHoldsIt) {
  const TestRecord r = make("bending-bench", "flexure-beam", "ash", 7);
  EXPECT_FALSE(r.events.empty());
  const Readings bracket = r.fields.readings("specimen.after.broke_between");
  ASSERT_EQ(bracket.size(), 2u);
  EXPECT_NEAR(*bracket[0].value, *r.run.rows("stations").back().number("force"), 1e-9);
  EXPECT_GT(*bracket[1].value, *bracket[0].value);
}

TEST(Benches, PolymersDrawAndAcrylicDoesNot) {
  const Evaluation drawn = methods::evaluate(make("polymer-frame", "tension-plastic", "polyethylene", 3));
  EXPECT_GT(value_of(drawn, "eps_tb"), 2.0);
  EXPECT_NE(drawn.find("sigma_y"), nullptr);
  const Evaluation brittle = methods::evaluate(make("polymer-frame", "tension-plastic", "acrylic", 3));
  EXPECT_EQ(brittle.find("sigma_y"), nullptr);
}

TEST(Benches, DentsLowerThePeakOfAShell) {
  double plain = 0, dented = 0;
  for (uint64_t seed = 1; seed <= 6; ++seed) {
    plain += value_of(methods::evaluate(make("shell-press", "crush-shell", "buffer-tube", seed)), "peak_force");
    dented +=
        value_of(methods::evaluate(make("shell-press", "crush-shell", "buffer-tube", seed, "dent")), "peak_force");
  }
  EXPECT_LT(dented, 0.9 * plain);
}

TEST(Benches, SandwichBlocksThatLetGoAreVoid) {
  EXPECT_EQ(methods::evaluate(make("sandwich-frame", "flatwise-tension", "block-bond", 3)).verdict, Verdict::void_test);
  EXPECT_EQ(methods::evaluate(make("sandwich-frame", "flatwise-tension", "foam-core", 3)).find("failure_mode")->text,
            "core");
}

TEST(Benches, TheMachineSaysWhatItWants) {
  TestRecord r;
  r.method = "compression-solid";
  auto press = standin::find_bench("press")->machine(r);
  EXPECT_NE(press->status().obstacle.find("platens"), std::string::npos);
  ASSERT_TRUE(press->command(MachineCommand::close_top_grip));
  EXPECT_NE(press->status().obstacle.find("Zero"), std::string::npos);
  ASSERT_TRUE(press->command(MachineCommand::zero_force));
  EXPECT_TRUE(press->status().obstacle.empty());
  EXPECT_EQ(press->controls().size(), 4u);
}

TEST(Benches, APlannedPauseHoldsWithoutAnExtensometerAndGoesOn) {
  TestRecord r =
      record_of("tension-plastic", {{"settings.removal_strain", {"1 %"}}, {"specimen.grip_separation", {"115 mm"}}});
  const auto* bench = standin::find_bench("polymer-frame");
  auto frame = bench->machine(r);
  using C = MachineCommand;
  for (C c : {C::close_top_grip, C::zero_force, C::close_bottom_grip}) ASSERT_TRUE(frame->command(c));
  ASSERT_TRUE(frame->program(bench->program(r)));
  ASSERT_TRUE(frame->command(C::start));
  for (int i = 0; i < 600 && frame->status().state == MachineState::running; ++i) frame->advance(1);
  EXPECT_EQ(frame->status().state, MachineState::holding);
  EXPECT_NE(frame->status().message.find("planned"), std::string::npos);
  ASSERT_TRUE(frame->command(C::resume));
  frame->advance(1);
  EXPECT_EQ(frame->status().state, MachineState::running) << "it pauses once";
}

TEST(Benches, ABrokenPieceRefusesTheNextStop) {
  const TestRecord r = make("bending-bench", "flexure-beam", "ash", 4);
  auto bench = standin::find_bench("bending-bench")->step_machine(r);
  EXPECT_TRUE(bench->go_to(1e6));
  EXPECT_TRUE(bench->status().broken);
  EXPECT_FALSE(bench->go_to(10));
}

TEST(Instruments, DisplaysRoundToTheirStep) {
  EXPECT_EQ(standin::shown(1.2345, 0.01, "mm"), "1.23 mm");
  EXPECT_EQ(standin::shown(-0.0001, 0.01, "mm"), "0.00 mm");
  EXPECT_EQ(standin::shown(12.3, 1, "µε"), "12 µε");
  standin::StrainIndicator i(3);
  i.balance(0, 100e-6);
  EXPECT_NEAR(parse_quantity(*i.read(0, 100e-6), Dimension::microstrain)->value, 0, 3e-6);
  i.open(0);
  EXPECT_FALSE(i.read(0, 0));
}

TEST(EnvelopePiece, FollowsItsCurveThroughAFall) {
  standin::EnvelopePiece p({{0, 0}, {1, 1000}, {1.2, 400}, {5, 500}}, 100, true);
  EXPECT_NEAR(p.stretch(0.5 + 500 / 1e5, 1e5, 0), 500, 2);
  EXPECT_NEAR(p.stretch(0.25, 1e5, 0), 500 - (0.505 - 0.25) / (1.0 / 1000 + 1e-5), 5)
      << "unloads along its elastic line";
  EXPECT_NEAR(p.stretch(3, 1e5, 0), p.envelope(3 - 450 / 1e5), 3);
  EXPECT_EQ(p.stretch(6, 1e5, 0), 0);
  EXPECT_TRUE(p.broken());
  EXPECT_THROW(standin::EnvelopePiece({{0, 0}, {0, 5}}, 10, true), std::invalid_argument);
}

}  // namespace
}  // namespace fortitor::benches_test
