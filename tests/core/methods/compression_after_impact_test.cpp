// Compression after impact against closed forms: plates whose modulus, bending and buckling are known.
#include <gtest/gtest.h>

#include <cmath>
#include <random>

#include "core/methods/compression_after_impact/model.h"
#include "tests/core/methods/method_records.h"

namespace fortitor::compression_after_impact_test {
namespace {

using standin::type_into;

struct Plate {
  double modulus = 48000, strength = 190, left = 0.04, right = -0.02;  ///< bending as a share
  double sign = -1, noise = 0;
  double buckles_at = 2;  ///< share of the strength at which the left front turns back; above 1: never
  bool breaks = true;
  int samples = 1500;
};

TestRecord pressed(const Plate& p, uint64_t seed = 1) {
  TestRecord r = record_of("compression-after-impact", {{"specimen.width", {"100.02 mm", "99.98 mm", "100.01 mm"}},
                                                        {"specimen.thickness", {"4.21 mm", "4.19 mm", "4.20 mm"}},
                                                        {"specimen.undamaged", {"390 MPa"}}});
  const double area = 100.0033333 * 4.2;
  std::mt19937_64 random(seed);
  std::normal_distribution<double> n;
  Channel time{"time", {}}, force{"force", {}},
      g[4] = {{"strain_front_1", {}}, {"strain_back_1", {}}, {"strain_front_2", {}}, {"strain_back_2", {}}};
  auto sample = [&](double t, double stress) {
    const double mean = stress / p.modulus, share = stress / p.strength;
    double e[4] = {mean * (1 + p.left), mean * (1 - p.left), mean * (1 + p.right), mean * (1 - p.right)};
    if (share > p.buckles_at) {
      const double bow = 1.6 * (share - p.buckles_at) * p.strength / p.modulus;
      e[0] -= bow;
      e[1] += bow;
    }
    time.values.push_back(t);
    force.values.push_back(stress * area + 5 * p.noise * n(random));
    for (int k = 0; k < 4; ++k) g[k].values.push_back(p.sign * e[k] + p.noise * 1e-6 * n(random));
  };
  double t = 0;
  for (int i = 0; i < 40; ++i) sample(t += 0.02, 0);
  for (int i = 1; i <= p.samples; ++i) sample(t += 0.02, p.strength * i / p.samples);
  if (p.breaks)
    for (int i = 0; i < 8; ++i) sample(t += 0.02, 0.2 * p.strength);
  set_channels(r, {time, force, g[0], g[1], g[2], g[3]});
  type_into(r, "specimen.failure", "damage");
  return r;
}

TEST(Cai, StrengthModulusBendingOfAKnownPlate) {
  const Plate p;
  const Evaluation e = methods::evaluate(pressed(p));
  EXPECT_NEAR(value_of(e, "cai_strength"), p.strength, 0.01);
  EXPECT_NEAR(value_of(e, "cai_modulus"), p.modulus, 0.001 * p.modulus);
  EXPECT_NEAR(value_of(e, "bending_percent"), 4, 1e-3) << "the larger of the pairs";
  EXPECT_NEAR(value_of(e, "bending_left"), 4, 1e-3);
  EXPECT_NEAR(value_of(e, "bending_right"), -2, 1e-3);
  EXPECT_NEAR(value_of(e, "retention"), p.strength / 390, 1e-4);
  EXPECT_EQ(e.finding("bending-high"), nullptr);
  EXPECT_EQ(e.finding("buckling"), nullptr);
  EXPECT_NE(e.finding("strain-sign"), nullptr) << "said which sign was found";
  EXPECT_EQ(e.finding("failure-unknown"), nullptr);
}

TEST(Cai, EitherSignGivesTheSame) {
  Plate a, b;
  b.sign = 1;
  const Evaluation x = methods::evaluate(pressed(a)), y = methods::evaluate(pressed(b));
  for (const char* key : {"cai_strength", "cai_modulus", "bending_percent", "eps_m"})
    EXPECT_NEAR(value_of(x, key), value_of(y, key), 1e-9 + 1e-9 * std::abs(value_of(x, key)));
  EXPECT_EQ(y.finding("strain-sign"), nullptr);
  // Force negative, strain positive: mixed conventions.
  TestRecord r = pressed(b);
  auto mixed = std::make_shared<Samples>(*r.run.samples());
  for (double& f : mixed->column("force").values) f = -f;
  r.run.set_samples(mixed);
  EXPECT_NEAR(value_of(methods::evaluate(r), "bending_percent"), 4, 1e-3);
  EXPECT_NE(methods::evaluate(r).finding("sign-flipped"), nullptr);
}

TEST(Cai, BendingOnBothSidesOfItsLimit) {
  Plate p;
  p.left = 0.0995;
  EXPECT_EQ(methods::evaluate(pressed(p)).finding("bending-high"), nullptr);
  p.left = 0.1005;
  EXPECT_NE(methods::evaluate(pressed(p)).finding("bending-high"), nullptr);
  p.left = -0.1005;
  const Evaluation e = methods::evaluate(pressed(p));
  ASSERT_NE(e.finding("bending-high"), nullptr);
  EXPECT_NE(e.finding("bending-high")->message.find("left"), std::string::npos);
}

TEST(Cai, WordsForTheScrews) {
  EXPECT_NE(cai::screw_words(0, 14).find("turn its front screw out a sixteenth"), std::string::npos);
  EXPECT_NE(cai::screw_words(1, -25).find("right pair is shortened more on the back"), std::string::npos);
  EXPECT_NE(cai::screw_words(1, -25).find("an eighth"), std::string::npos);
  // Live, while the load is held at 450 N: a check with the words.
  Plate p;
  p.left = 0.24;
  p.strength = 450 / 420.0;
  p.breaks = false;
  p.samples = 100;
  TestRecord r = pressed(p);
  r.fields.erase("specimen.failure");
  const Evaluation e = methods::evaluate(r);
  ASSERT_NE(e.finding("align-again"), nullptr);
  EXPECT_EQ(e.finding("align-again")->severity, Severity::check);
  EXPECT_NE(e.finding("align-again")->message.find("The left pair is shortened more on the front (24 %)"),
            std::string::npos)
      << e.finding("align-again")->message;
  EXPECT_NEAR(value_of(e, "bending_seating"), 24, 0.2);
}

TEST(Cai, AlignmentIsReadWhereTheSeatingEnds) {
  // Askew by 20 % when 450 N are reached, by 3 % when the screws have been turned.
  Plate p;
  TestRecord r = pressed(p);
  auto s = std::make_shared<Samples>(*r.run.samples());
  Samples held;
  const size_t at = 48;  // about 450 N
  for (Channel& c : s->channels) {
    std::vector<double> v(c.values.begin(), c.values.begin() + long(at));
    for (int i = 0; i < 200; ++i) v.push_back(c.name == "time" ? c.values[at - 1] + 0.02 * (i + 1) : c.values[at - 1]);
    const double shift = 0.02 * 200;
    for (size_t i = at; i < c.values.size(); ++i) v.push_back(c.name == "time" ? c.values[i] + shift : c.values[i]);
    held.channels.push_back({c.name, std::move(v)});
  }
  auto& front = held.column("strain_front_1").values;
  auto& back = held.column("strain_back_1").values;
  const double mean = 0.5 * (front[at] + back[at]);
  for (size_t i = at; i < at + 200; ++i) {
    const double b = i < at + 120 ? 0.2 : 0.03;
    front[i] = mean * (1 + b);
    back[i] = mean * (1 - b);
  }
  r.run.set_samples(std::make_shared<Samples>(held));
  const Evaluation e = methods::evaluate(r);
  EXPECT_LT(value_of(e, "bending_seating"), 5);
  EXPECT_EQ(e.finding("align-again"), nullptr);
}

TEST(Cai, BucklingIsAGaugeThatTurnsBack) {
  Plate p;
  p.buckles_at = 0.7;
  const Evaluation e = methods::evaluate(pressed(p));
  ASSERT_NE(e.finding("buckling"), nullptr);
  EXPECT_NE(e.finding("buckling")->message.find("front gauge of the left pair"), std::string::npos);
  EXPECT_NEAR(e.finding("buckling")->evidence.at("force"), 0.7 * 190 * 420, 0.03 * 190 * 420);
  // Only turning slower is no turning back.
  p.buckles_at = 0.97;
  EXPECT_EQ(methods::evaluate(pressed(p)).finding("buckling"), nullptr);
  Plate noisy;
  noisy.noise = 8;
  for (uint64_t seed = 1; seed <= 10; ++seed)
    EXPECT_EQ(methods::evaluate(pressed(noisy, seed)).finding("buckling"), nullptr) << seed;
}

TEST(Cai, TheUncertaintyHoldsTheTruth) {
  Plate p;
  p.noise = 6;
  int held[3] = {0, 0, 0}, of = 40;
  for (uint64_t seed = 1; seed <= uint64_t(of); ++seed) {
    const Evaluation e = methods::evaluate(pressed(p, seed));
    const double truth[3] = {p.strength, p.modulus, 4};
    int k = 0;
    for (const char* key : {"cai_strength", "cai_modulus", "bending_percent"}) {
      held[k] += std::abs(value_of(e, key) - truth[k]) <= e.find(key)->expanded();
      ++k;
    }
  }
  for (int k : held) EXPECT_GE(k, of - 2);
}

TEST(Cai, FailureAwayFromTheDamageIsVoid) {
  for (const auto& [mode, code] : {std::pair{"end", "end-crushing"}, {"edge", "edge-failure"}}) {
    TestRecord r = pressed({});
    type_into(r, "specimen.failure", mode);
    const Evaluation e = methods::evaluate(r);
    ASSERT_NE(e.finding(code), nullptr);
    EXPECT_EQ(e.verdict, Verdict::void_test);
  }
  TestRecord r = pressed({});
  r.fields.erase("specimen.failure");
  EXPECT_NE(methods::evaluate(r).finding("failure-unknown"), nullptr);
  EXPECT_EQ(methods::evaluate(r).finding("end-crushing"), nullptr);
}

TEST(Cai, MoreThanTheUndamagedStrengthIsUnlikely) {
  TestRecord r = pressed({});
  type_into(r, "specimen.undamaged", "174 MPa");  // 1.09
  EXPECT_EQ(methods::evaluate(r).finding("retention-unlikely"), nullptr);
  type_into(r, "specimen.undamaged", "171 MPa");  // 1.11
  EXPECT_NE(methods::evaluate(r).finding("retention-unlikely"), nullptr);
}

TEST(Cai, StoppedBeforeItGaveWayIsABound) {
  Plate p;
  p.breaks = false;
  const Evaluation e = methods::evaluate(pressed(p));
  ASSERT_TRUE(e.find("cai_strength")->censored && e.find("retention")->censored);
  EXPECT_NE(e.finding("censored"), nullptr);
}

TEST(Cai, FewerGaugesGiveWhatTheyCan) {
  TestRecord r = pressed({});
  auto some = std::make_shared<Samples>();
  for (const char* name : {"time", "force", "strain_front_1", "strain_back_1"})
    some->channels.push_back(*r.run.samples()->find(name));
  r.run.set_samples(some);
  Evaluation e = methods::evaluate(r);
  EXPECT_NEAR(value_of(e, "bending_percent"), 4, 1e-3);
  EXPECT_EQ(e.find("bending_right"), nullptr);
  some = std::make_shared<Samples>();
  for (const char* name : {"time", "force"}) some->channels.push_back(*r.run.samples()->find(name));
  r.run.set_samples(some);
  e = methods::evaluate(r);
  EXPECT_NEAR(value_of(e, "cai_strength"), 190, 0.01);
  EXPECT_NE(e.finding("no-strain"), nullptr);
  EXPECT_EQ(e.find("cai_modulus"), nullptr);
}

TEST(Cai, OneGaugeWiredTheOtherWay) {
  TestRecord r = pressed({});
  auto crossed = std::make_shared<Samples>(*r.run.samples());
  for (double& v : crossed->column("strain_back_2").values) v = -v;
  r.run.set_samples(crossed);
  EXPECT_NE(methods::evaluate(r).finding("sign-odd"), nullptr);
  EXPECT_EQ(methods::evaluate(pressed({})).finding("sign-odd"), nullptr);
}

TEST(Cai, StandInHoldsForAlignmentAndItsScrewsDoWhatTheWordsSay) {
  standin::SimulateOptions o;
  o.seed = 4;
  o.faults = {"askew"};
  const TestRecord r = standin::plate_press().simulate(o);
  EXPECT_NE(methods::evaluate(r).finding("bending-high"), nullptr);
  bool held = false;
  for (const Event& event : r.events) held = held || event.kind == "hold";
  EXPECT_TRUE(held);
  // The left front screw out, as the words say, until the pair is below the limit.
  const auto machine = standin::plate_press().machine(r);
  ASSERT_TRUE(machine->command(MachineCommand::adjust, -1));
  for (int i = 0; i < 7; ++i) ASSERT_TRUE(machine->command(MachineCommand::adjust, -1));
  EXPECT_FALSE(machine->command(MachineCommand::adjust, 9));
  TestRecord again = r;
  again.run = {};
  MachineColumns columns(machine->channels().size());
  for (MachineCommand c :
       {MachineCommand::close_top_grip, MachineCommand::zero_force, MachineCommand::close_bottom_grip})
    ASSERT_TRUE(machine->command(c));
  ASSERT_TRUE(machine->program(standin::plate_press().program(again)));
  ASSERT_TRUE(machine->command(MachineCommand::start));
  for (int i = 0; i < 4000 && machine->status().state != MachineState::idle; ++i) {
    append(columns, machine->advance(1));
    if (!machine->status().waits) continue;
    ASSERT_TRUE(machine->command(MachineCommand::resume));
  }
  again.run.set_samples(samples_of(machine->channels(), columns));
  const Evaluation e = methods::evaluate(again);
  EXPECT_LT(std::abs(value_of(e, "bending_left")), 12);
  EXPECT_GT(std::abs(value_of(methods::evaluate(r), "bending_left")), 20);
}

}  // namespace
}  // namespace fortitor::compression_after_impact_test
