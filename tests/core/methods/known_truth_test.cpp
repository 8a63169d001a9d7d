// Records from closed-form models with awkward data: what is reported holds the truth within its uncertainty, or says
// why it cannot. The files are tests/data/review; others are made here.
#include <random>

#include "core/bench/records.h"
#include "core/evaluation/judge.h"
#include "tests/core/methods/method_records.h"
#include "tests/core/methods/tension_curve.h"

namespace fortitor::known_truth_test {
namespace {

TestRecord reviewed(const std::string& name) {
  auto r = load_record(FORTITOR_TEST_DATA "/review/" + name + "/record.json");
  EXPECT_TRUE(r) << name << ": " << (r ? "" : r.error().message);
  return r ? *r : TestRecord{};
}

void holds(const Evaluation& e, const char* key, double truth) {
  const ResultValue* r = e.find(key);
  ASSERT_NE(r, nullptr) << key;
  EXPECT_NEAR(r->value, truth, r->expanded()) << key << " ± " << r->expanded();
  EXPECT_GT(r->expanded(), 0) << key;
  EXPECT_LT(r->expanded(), 0.1 * std::abs(truth)) << key << ": so wide it says nothing";
}

TEST(KnownTruth, AModulusNeverRestsOnAHandfulOfSamples) {
  holds(methods::evaluate(reviewed("modulus-tiny-window")), "e_modulus", 207962);
  for (const char* name : {"modulus-tiny-window-2", "modulus-tiny-window-silent"}) {
    const Evaluation e = methods::evaluate(reviewed(name));
    EXPECT_GT(e.find("e_modulus")->expanded(), 0.015 * e.find("e_modulus")->value) << name;
    EXPECT_EQ(e.finding("modulus-unlikely"), nullptr) << name;
  }
}

TEST(KnownTruth, AnUnloadingLoopIsLeftOutOfTheModulus) {
  const Evaluation e = methods::evaluate(reviewed("modulus-loop-window"));
  holds(e, "e_modulus", 111395);
  EXPECT_NE(e.finding("loop-left-out"), nullptr);
}

TEST(KnownTruth, ABandThatStartsBeyondTheBladesIsNoSlip) {
  for (const char* name : {"lueders-inside", "lueders-outside"}) {
    const Evaluation e = methods::evaluate(reviewed(name));
    EXPECT_EQ(e.find("yielding")->text, "discontinuous") << name;
    holds(e, "reh", 400);
    holds(e, "rel", 373);
    EXPECT_EQ(e.finding("slip"), nullptr) << name;
    EXPECT_EQ(e.verdict, Verdict::meets) << name;
    EXPECT_EQ(e.finding("band-outside-gauge") != nullptr, std::string(name) == "lueders-outside");
  }
  EXPECT_NE(methods::evaluate(reviewed("lueders-outside")).find("ae")->source.find("crosshead"), std::string::npos);
}

TEST(KnownTruth, ARunThatStartsMovingIsNotShifted) {
  const Evaluation preload = methods::evaluate(reviewed("starts-at-preload"));
  holds(preload, "reh", 400);
  EXPECT_NE(preload.finding("no-quiet-start"), nullptr);
  const Evaluation loaded = methods::evaluate(reviewed("starts-loaded"));
  holds(loaded, "rm", 239.2);
  EXPECT_NE(loaded.finding("no-quiet-start"), nullptr);
}

TEST(KnownTruth, ACoarseClockLosesNoSample) {
  const Evaluation e = methods::evaluate(reviewed("coarse-clock"));
  EXPECT_NE(e.finding("clock-coarse"), nullptr);
  EXPECT_EQ(e.finding("censored"), nullptr) << "the break is there";
  EXPECT_NEAR(value_of(e, "at"), 0.168, 0.004);
  holds(e, "reh", 400);
}

TEST(KnownTruth, UnitsAndHeadersAreReadAsWritten) {
  holds(methods::evaluate(reviewed("millinewton")), "rm", 517);
  EXPECT_EQ(find_unit("mN")->factor, 1e-3);
  EXPECT_EQ(find_unit("MN")->factor, 1e6);
  EXPECT_EQ(find_unit("mPa")->factor, 1e-9);
  for (const char* mega : {"MPa", "mpa", "MPA", "Mpa"})
    EXPECT_EQ(find_unit(mega, Dimension::stress)->factor, 1) << mega;
  EXPECT_NEAR(value_of(methods::evaluate(reviewed("header-tFx")), "rm"), 517, 7);
}

TEST(KnownTruth, ABareRatioAsALimitIsAskedBack) {
  const auto r = load_record(FORTITOR_TEST_DATA "/review/bare-limit/record.json");
  ASSERT_FALSE(r);
  EXPECT_NE(r.error().message.find("22 %"), std::string::npos) << r.error().message;
}

TEST(KnownTruth, SlackIsTakenOffBeforeAnyStrainIsRead) {
  const Evaluation clip = methods::evaluate(reviewed("plastic-slack"));
  holds(clip, "e_modulus", 2986);
  holds(clip, "eps_y", 0.0579);
  EXPECT_NE(clip.finding("toe-large"), nullptr);
  const Evaluation grips = methods::evaluate(reviewed("plastic-grip-slack"));
  EXPECT_NEAR(value_of(grips, "e_modulus"), 2166, 120);
  holds(grips, "eps_y", 0.0519);
  const Evaluation laminate = methods::evaluate(reviewed("composite-toe"));
  holds(laminate, "eps_m", 0.01276);
  EXPECT_NEAR(value_of(laminate, "toe_shift"), 0.00037, 0.00002);
}

TEST(KnownTruth, EitherSignConventionIsUnderstood) {
  const Evaluation e = methods::evaluate(reviewed("composite-negative"));
  EXPECT_NEAR(value_of(e, "nu12"), 0.0755, 0.0018);
  EXPECT_NE(e.finding("sign-flipped"), nullptr);
}

TEST(KnownTruth, ARepeatedRowCostsNoResult) {
  const Evaluation e = methods::evaluate(reviewed("bending-duplicate-row"));
  EXPECT_NEAR(value_of(e, "bending_percent"), 0.25, 0.01);
  EXPECT_NE(e.finding("bending-high"), nullptr);
}

TEST(KnownTruth, AKeyedForceBeyondTheCellVoidsTheTest) {
  const Evaluation e = methods::evaluate(reviewed("keyed-over-cell"));
  EXPECT_NE(e.finding("cell-over"), nullptr);
  EXPECT_EQ(e.verdict, Verdict::void_test);
}

TEST(KnownTruth, TheStretchOfTheFrameIsTakenOffAfterTheExtensometer) {
  const Evaluation e = methods::evaluate(reviewed("splice"));
  holds(e, "ag", 0.1198);
}

TEST(KnownTruth, WhatFollowsFromABoundIsABoundOrNotGiven) {
  const Evaluation e = methods::evaluate(reviewed("stopped-yield-ratio"));
  EXPECT_TRUE(e.find("rm")->censored->above);
  EXPECT_EQ(e.find("yield_ratio"), nullptr);
  for (const char* key : {"agt", "ag"}) {
    if (e.find(key) != nullptr) {
      ASSERT_TRUE(e.find(key)->censored) << key;
      EXPECT_TRUE(e.find(key)->censored->above) << key;
    }
  }
  EXPECT_EQ(e.verdict, Verdict::open) << "no verdict by a ratio that is not known";
}

TEST(KnownTruth, ABoundDecidesOnlyItsSureSide) {
  ResultValue r;
  r.spec.dimension = Dimension::stress;
  r.value = 3.00;
  r.standard_uncertainty = 0.03;  // U = 0.06
  r.censored = Censoring{true, 0, 0};
  auto typed = [](double v) { return Reading{"", v, 0}; };
  struct Case {
    std::optional<double> min, max;
    Verdict simple, acceptance, rejection;
  };
  const auto open = Verdict::open, meets = Verdict::meets, fails = Verdict::fails;
  for (const Case& c : std::initializer_list<Case>{{2.5, {}, meets, meets, meets},
                                                   {2.97, {}, meets, open, meets},
                                                   {3.5, {}, open, open, open},
                                                   {{}, 3.5, open, open, open},
                                                   {{}, 2.99, fails, fails, open},
                                                   {{}, 2.5, fails, fails, fails}}) {
    r.limit = {};
    if (c.min) r.limit.min = typed(*c.min);
    if (c.max) r.limit.max = typed(*c.max);
    for (const auto& [rule, wanted] : {std::pair{DecisionRule::simple, c.simple},
                                       {DecisionRule::guarded_acceptance, c.acceptance},
                                       {DecisionRule::guarded_rejection, c.rejection}}) {
      judge_result(r, {rule, {}});
      EXPECT_EQ(r.verdict, wanted) << c.min.value_or(0) << " " << c.max.value_or(0) << " rule " << int(rule) << ": "
                                   << verdict_word(r.verdict);
    }
  }
  EXPECT_EQ(methods::evaluate(reviewed("censored-above-max")).verdict == Verdict::meets, false);
}

TEST(KnownTruth, AMarginOfExactlyUIsNear) {
  ResultValue r;
  r.value = 10;
  r.standard_uncertainty = 0.5;
  r.limit.min = Reading{"", 9.0, 0};
  judge_result(r, {});
  EXPECT_TRUE(r.near);
}

// Continuous curves of an aluminium under force noise: noise is neither a yield point nor a slip.
class Noise : public testing::TestWithParam<double> {};

TEST_P(Noise, MakesNoYieldPointAndNoSlip) {
  for (uint32_t seed = 1; seed <= 12; ++seed) {
    std::mt19937 random(seed);
    std::normal_distribution<double> n;
    Channel time{"time", {}}, force{"force", {}}, extension{"extension", {}}, crosshead{"crosshead", {}};
    const double area = 78.54, modulus = 70e3, top = 225 * area;
    for (int i = 0; i < 9000; ++i) {
      const double t = 0.01 * i, e = std::max(0.0, t - 1) * 0.001;  // a second of quiet, then 0.1 %/s
      const double stress = modulus * e / std::pow(1 + std::pow(modulus * e / (190 + 350 * e), 9), 1.0 / 9);
      time.values.push_back(t);
      force.values.push_back(stress * area + GetParam() * top * n(random));
      extension.values.push_back(50 * e + 1e-4 * n(random));
      crosshead.values.push_back(60 * e + stress * area / 45e3 + 1e-5 * n(random));
    }
    TestRecord r = record_of("tension-metal", {{"specimen.section.shape", {"round"}},
                                               {"specimen.section.diameter", {"10.00 mm", "10.01 mm", "9.99 mm"}},
                                               {"specimen.extensometer_length", {"50 mm"}},
                                               {"specimen.parallel_length", {"60 mm"}},
                                               {"equipment.load_cell.capacity", {"50 kN"}},
                                               {"specimen.family", {"aluminium alloy"}}});
    set_channels(r, {time, force, extension, crosshead});
    const Evaluation e = methods::evaluate(r, {.uncertainty = seed == 1});
    ASSERT_NE(e.find("yielding"), nullptr);
    EXPECT_EQ(e.find("yielding")->text, "continuous") << "seed " << seed;
    EXPECT_EQ(e.find("reh"), nullptr);
    EXPECT_EQ(e.finding("slip"), nullptr) << "seed " << seed;
    EXPECT_EQ(e.finding("modulus-fit-poor"), nullptr) << "white noise on many samples is no reason";
    EXPECT_NEAR(value_of(e, "e_modulus"), modulus, 0.01 * modulus);
    if (seed == 1) {
      EXPECT_GT(e.find("rp02")->expanded(), 0);
    }
  }
}

INSTANTIATE_TEST_SUITE_P(OfTheForce, Noise, testing::Values(0.0005, 0.001, 0.002),
                         [](const auto& test) { return "perMille" + std::to_string(int(test.param * 10000)); });

}  // namespace
}  // namespace fortitor::known_truth_test
