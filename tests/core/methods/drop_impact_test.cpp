// Drop-weight impact against closed forms: springs and half waves whose energies are known, noise, damage, judgements.
#include <gtest/gtest.h>

#include <cmath>
#include <random>

#include "core/methods/drop_impact/model.h"
#include "tests/core/methods/method_records.h"

namespace fortitor::drop_impact_test {
namespace {

using standin::type_into;

// A mass that meets a linear spring with no weight: F = k·δ, half a sine. Contact π·√(m/k), δ_max = v·√(m/k).
struct Spring {
  double mass = 5.5, stiffness = 450, speed = 3200, rate = 200e3;  // kg, N/mm, mm/s, Hz
  double lost = 0;  ///< share of the force that is missing on the way back
  double omega() const { return std::sqrt(stiffness * 1e3 / mass); }
  double peak() const { return speed / omega() * stiffness; }
  double contact() const { return M_PI / omega(); }
};

TestRecord impact(const Spring& s, double noise = 0, double offset = 0, uint64_t seed = 1, double quiet = 0.002,
                  const std::function<double(double, double)>& shape = {}) {
  TestRecord r = record_of("drop-impact", {{"specimen.thickness", {"4.21 mm", "4.19 mm", "4.20 mm"}},
                                           {"specimen.mass", {plain_number(s.mass, 8) + " kg"}},
                                           {"specimen.energy_per_thickness", {"6.7 J/mm"}},
                                           {"specimen.v_impact", {plain_number(s.speed / 1e3, 8) + " m/s"}}});
  r.fields.set("specimen.rebound_caught", true);
  std::mt19937_64 random(seed);
  std::normal_distribution<double> n;
  Channel time{"time", {}}, force{"force", {}};
  for (double t = 0; t < quiet + s.contact() + 0.004; t += 1 / s.rate) {
    const double u = t - quiet;
    double f = u > 0 && u < s.contact() ? s.peak() * std::sin(s.omega() * u) : 0;
    if (u > s.contact() / 2) f *= 1 - s.lost;
    if (shape) f = shape(u, f);
    time.values.push_back(t);
    force.values.push_back(f + offset + noise * n(random));
  }
  set_channels(r, {time, force});
  return r;
}

TEST(Drop, PlanFromThickness) {
  TestRecord r = record_of("drop-impact", {{"specimen.thickness", {"4.2 mm", "4.2 mm", "4.2 mm"}},
                                           {"specimen.energy_per_thickness", {"6.7 J/mm"}},
                                           {"specimen.mass", {"5.5 kg"}}});
  const Evaluation e = methods::evaluate(r);
  EXPECT_NEAR(value_of(e, "target_energy"), 28.14, 1e-9);
  EXPECT_NEAR(value_of(e, "drop_height"), 28.14 / (5.5 * 9.80665) * 1e3, 1e-6);
  EXPECT_NEAR(value_of(e, "v_impact"), std::sqrt(2 * 9806.65 * value_of(e, "drop_height")), 1e-6);
  type_into(r, "specimen.target_energy", "20 J");
  EXPECT_NEAR(value_of(methods::evaluate(r), "target_energy"), 20, 1e-12)
      << "what is asked for goes before what follows";
}

TEST(Drop, MassesOfTheTowerWithinItsReach) {
  TestRecord r =
      record_of("drop-impact", {{"specimen.thickness", {"4.2 mm"}}, {"specimen.energy_per_thickness", {"6.7 J/mm"}}});
  auto mass = [&] {
    for (const Advice& a : methods::find("drop-impact")->plan(r).advice)
      if (a.setting == "specimen.mass") return a.value;
    return 0.0;
  };
  EXPECT_NEAR(mass(), 5.5, 1e-12) << "usual, where the Kit knows none";
  standin::type_list(r, "equipment.drop_tower.masses", {"2 kg", "6.1 kg", "12 kg"});
  EXPECT_NEAR(mass(), 6.1, 1e-12);
  type_into(r, "equipment.drop_tower.reach", "0.4 m");
  EXPECT_NEAR(mass(), 0, 1e-12) << "6.1 kg would want 0.47 m, 12 kg less than 0.3 m";
  EXPECT_FALSE(methods::find("drop-impact")->plan(r).warnings.empty());
}

TEST(Drop, SpringGivesAllBack) {
  const Spring s;
  const Evaluation e = methods::evaluate(impact(s));
  const double energy = 0.5e-6 * s.mass * s.speed * s.speed;
  EXPECT_NEAR(value_of(e, "energy_impact"), energy, 1e-6 * energy);
  EXPECT_NEAR(value_of(e, "force_peak"), s.peak(), 1e-4 * s.peak());
  EXPECT_NEAR(value_of(e, "contact_time"), s.contact(), 0.008 * s.contact());
  // Gravity goes on working during the contact, the force does not know of it: ∫F dt = 2·m·v0 in the record.
  const double t = s.contact(), v = s.speed + drop::kGravity * t - 2 * s.speed;
  const double d = drop::kGravity * t * t / 2;
  EXPECT_NEAR(value_of(e, "energy_absorbed"),
              0.5e-6 * s.mass * (s.speed * s.speed - v * v) + 1e-6 * s.mass * drop::kGravity * d, 0.02);
  const double half = t / 2;
  EXPECT_NEAR(value_of(e, "defl_peak"), s.speed / s.omega() + drop::kGravity * half * half / 2, 0.01);
  EXPECT_EQ(e.find("force_damage"), nullptr) << "nothing broke";
  EXPECT_EQ(e.finding("second-strike"), nullptr);
  EXPECT_EQ(e.finding("rate-low"), nullptr);
}

TEST(Drop, PlateThatKeepsAThird) {
  Spring s;
  s.lost = 1.0 / 3;
  const Evaluation e = methods::evaluate(impact(s));
  // The way up stops the mass, the way back pushes with two thirds of the impulse.
  const double t = s.contact(), push = s.peak() * (2 / s.omega()) * (1 - s.lost / 2) / s.mass * 1e3;
  const double v = s.speed + drop::kGravity * t - push;
  EXPECT_NEAR(value_of(e, "v_rebound"), -v, 0.004 * s.speed);
  EXPECT_GT(value_of(e, "energy_absorbed"), 0.5 * value_of(e, "energy_impact"));
}

TEST(Drop, FlagTimerAndHeight) {
  TestRecord r = impact(Spring{});
  r.fields.erase("specimen.v_impact");
  type_into(r, "specimen.flag.width", "12 mm");
  type_into(r, "specimen.flag.time", "3.800 ms");
  type_into(r, "specimen.flag.to_contact", "8 ms");
  EXPECT_NEAR(value_of(methods::evaluate(r), "v_impact"), 12 / 3.8e-3 + 9806.65 * 8e-3, 1e-6);
  EXPECT_EQ(methods::evaluate(r).finding("speed-assumed"), nullptr);
  r.fields.erase("specimen.flag.time");
  type_into(r, "settings.drop_height", "520 mm");
  const Evaluation e = methods::evaluate(r);
  EXPECT_NEAR(value_of(e, "v_impact"), std::sqrt(2 * 9806.65 * 520), 1e-6);
  ASSERT_NE(e.finding("speed-assumed"), nullptr);
  EXPECT_GT(e.find("energy_impact")->standard_uncertainty, 0.02 * value_of(e, "energy_impact") / std::sqrt(3) * 0.9)
      << "what the guide takes is not known";
}

TEST(Drop, NoiseDoesNotRaiseThePeakNorInventDamage) {
  const Spring s;
  for (uint64_t seed = 1; seed <= 12; ++seed) {
    const Evaluation e = methods::evaluate(impact(s, 40, 0, seed));  // 1 % of the peak
    EXPECT_NEAR(value_of(e, "force_peak"), s.peak(), 12) << seed << ": the largest sample would be some 150 N too high";
    EXPECT_LE(std::abs(value_of(e, "force_peak") - s.peak()), e.find("force_peak")->expanded());
    EXPECT_EQ(e.find("force_damage"), nullptr) << seed;
    EXPECT_NEAR(value_of(e, "energy_absorbed"), value_of(methods::evaluate(impact(s)), "energy_absorbed"), 0.6) << seed;
    EXPECT_NEAR(value_of(e, "contact_time"), s.contact(), 0.03 * s.contact()) << seed;
  }
}

TEST(Drop, TouchOfAWeakStrikeInNoise) {
  // 20 N of noise on 1.5 kN: means over 45 samples, whose window must not pull the touch forward.
  Spring s;
  s.mass = 3.5;
  s.speed = 1700;
  s.stiffness = 190;
  s.rate = 100e3;
  for (uint64_t seed = 1; seed <= 10; ++seed) {
    const Evaluation e = methods::evaluate(impact(s, 20, 0, seed, 0.01));
    const double half = s.contact() / 2, truth = s.speed / s.omega() + drop::kGravity * half * half / 2;
    EXPECT_NEAR(value_of(e, "defl_peak"), truth, 0.012 * truth) << seed;
    EXPECT_LE(std::abs(value_of(e, "defl_peak") - truth), 1.5 * e.find("defl_peak")->expanded()) << seed;
  }
}

TEST(Drop, OffsetIsTakenOffOrItWouldBeEnergy) {
  const Spring s;
  const double clean = value_of(methods::evaluate(impact(s, 1)), "energy_absorbed");
  TestRecord r = impact(s, 1, 30);
  const Evaluation e = methods::evaluate(r);
  ASSERT_NE(e.finding("not-zeroed"), nullptr);
  EXPECT_NEAR(value_of(e, "energy_absorbed"), clean, 0.05);
  type_into(r, "settings.zero", "keep");
  EXPECT_GT(std::abs(value_of(methods::evaluate(r), "energy_absorbed") - clean), 0.15);
}

TEST(Drop, FirstDamageAndOnlyThat) {
  const Spring s;
  const double at = s.contact() * 0.2, level = s.peak() * std::sin(s.omega() * at);
  auto cracked = [&](double drop) {
    return [=, &s](double u, double f) { return u > at && u < at + 2e-4 ? f - drop * s.peak() : f; };
  };
  const Evaluation e = methods::evaluate(impact(s, 0, 0, 1, 0.002, cracked(0.08)));
  EXPECT_NEAR(value_of(e, "force_damage"), level, 0.02 * s.peak());
  EXPECT_EQ(methods::evaluate(impact(s, 0, 0, 1, 0.002, cracked(0.03))).find("force_damage"), nullptr)
      << "3 % of the peak is no damage";
  // A plate that breaks down at its peak.
  const Evaluation broken = methods::evaluate(
      impact(s, 0, 0, 1, 0.002, [&](double u, double f) { return u > s.contact() * 0.4 ? 0.5 * f : f; }));
  EXPECT_NEAR(value_of(broken, "force_damage"), s.peak() * std::sin(0.4 * M_PI), 0.01 * s.peak());
}

TEST(Drop, JudgementsOnBothSides) {
  const Spring s;
  auto with_speed = [&](double share) {
    Spring t = s;
    t.speed = std::sqrt(2 * 28.14 * share / s.mass) * 1e3;
    return methods::evaluate(impact(t));
  };
  EXPECT_EQ(with_speed(1.049).finding("energy-error"), nullptr);
  EXPECT_NE(with_speed(1.051).finding("energy-error"), nullptr);
  EXPECT_EQ(with_speed(0.951).finding("energy-error"), nullptr);
  EXPECT_NE(with_speed(0.949).finding("energy-error"), nullptr);
  Spring slow = s;
  slow.rate = 100e3;
  EXPECT_EQ(methods::evaluate(impact(slow)).finding("rate-low"), nullptr);
  slow.rate = 90e3;
  EXPECT_NE(methods::evaluate(impact(slow)).finding("rate-low"), nullptr);
  TestRecord r = impact(s);
  r.fields.erase("specimen.rebound_caught");
  EXPECT_NE(methods::evaluate(r).finding("rebound-unknown"), nullptr);
  r.fields.set("specimen.rebound_caught", false);
  ASSERT_NE(methods::evaluate(r).finding("second-strike"), nullptr);
  EXPECT_EQ(methods::evaluate(r).verdict, Verdict::void_test);
}

TEST(Drop, SecondStrikeInTheRecordIsVoidWhateverIsTicked) {
  const Spring s;
  const double again = s.contact() + 0.0015;
  const Evaluation e = methods::evaluate(impact(s, 2, 0, 1, 0.002, [&](double u, double f) {
    return u > again && u < again + 0.002 ? 0.3 * s.peak() * std::sin(M_PI * (u - again) / 0.002) : f;
  }));
  ASSERT_NE(e.finding("second-strike"), nullptr);
  EXPECT_NEAR(value_of(e, "contact_time"), s.contact(), 0.02 * s.contact());
}

TEST(Drop, RecordThatStopsInContactGivesNoAbsorbedEnergy) {
  TestRecord r = impact(Spring{});
  auto cut = std::make_shared<Samples>(*r.run.samples());
  for (Channel& c : cut->channels) c.values.resize(900);
  r.run.set_samples(cut);
  const Evaluation e = methods::evaluate(r);
  EXPECT_NE(e.finding("contact-open"), nullptr);
  EXPECT_EQ(e.find("energy_absorbed"), nullptr);
  EXPECT_EQ(e.find("contact_time"), nullptr);
}

TEST(Drop, DentAndItsTime) {
  TestRecord r = impact(Spring{});
  type_into(r, "specimen.damage.dent", "0.30 mm");
  EXPECT_NE(methods::evaluate(r).finding("no-dent-time"), nullptr);
  type_into(r, "specimen.damage.dent_after", "4 min");
  EXPECT_EQ(methods::evaluate(r).finding("no-dent-time"), nullptr);
  type_into(r, "specimen.damage.dent_relaxed", "0.24 mm");
  EXPECT_EQ(methods::evaluate(r).finding("dent-grows"), nullptr);
  type_into(r, "specimen.damage.dent_relaxed", "0.36 mm");
  EXPECT_NE(methods::evaluate(r).finding("dent-grows"), nullptr);
  EXPECT_EQ(methods::evaluate(r).finding("dent-deep"), nullptr);
  type_into(r, "specimen.damage.dent", "4.3 mm");
  EXPECT_NE(methods::evaluate(r).finding("dent-deep"), nullptr);
}

TEST(Drop, NoClockNoEnergy) {
  TestRecord r = impact(Spring{});
  auto bare = std::make_shared<Samples>();
  bare->channels = {*r.run.samples()->find("force")};
  r.run.set_samples(bare);
  const Evaluation e = methods::evaluate(r);
  EXPECT_NE(e.finding("no-time"), nullptr);
  EXPECT_EQ(e.find("energy_absorbed"), nullptr);
}

TEST(Drop, AwkwardRecordsGiveNothingInfinite) {
  for (int kind = 0; kind < 7; ++kind) {
    TestRecord r = impact(Spring{});
    auto bad = std::make_shared<Samples>(*r.run.samples());
    auto &t = bad->channels[0].values, &f = bad->channels[1].values;
    if (kind == 0) f.assign(f.size(), 0);
    if (kind == 1) f.assign(f.size(), -5);
    if (kind == 2) t.assign(t.size(), 1);
    if (kind == 3) t.resize(2), f.resize(2);
    if (kind == 4) f[700] = NAN, t[701] = NAN;
    if (kind == 5) std::reverse(t.begin(), t.end());
    if (kind == 6) f.assign(f.size(), INFINITY);
    r.run.set_samples(bad);
    for (const ResultValue& x : methods::evaluate(r).results)
      EXPECT_TRUE(x.is_text() || std::isfinite(x.value)) << kind << " " << x.spec.key;
  }
}

TEST(Indentation, EnergyIsTheAreaOfTheLoop) {
  TestRecord r = record_of(
      "drop-impact",
      {{"specimen.thickness", {"4.2 mm"}}, {"settings.way", {"indentation"}}, {"specimen.target_energy", {"10 J"}}});
  Channel time{"time", {}}, force{"force", {}}, travel{"displacement", {}};
  // Up along 900 N/mm to 5 mm, back along a steeper line to 2 mm.
  for (int i = 0; i < 20; ++i) time.values.push_back(i * 0.02), force.values.push_back(0), travel.values.push_back(0);
  for (int i = 1; i <= 1000; ++i) {
    time.values.push_back(0.4 + i * 0.02);
    const double d = i <= 500 ? i * 0.01 : 5 - (i - 500) * 0.006;
    travel.values.push_back(d);
    force.values.push_back(i <= 500 ? 900 * d : 4500 * (d - 2) / 3);
  }
  set_channels(r, {time, force, travel});
  const Evaluation e = methods::evaluate(r);
  EXPECT_NEAR(value_of(e, "energy_impact"), 0.5 * 4500 * 5 / 1e3, 0.03);
  EXPECT_NEAR(value_of(e, "energy_absorbed"), (0.5 * 4500 * 5 - 0.5 * 4500 * 3) / 1e3, 0.03);
  EXPECT_NEAR(value_of(e, "defl_peak"), 5, 0.03);
  EXPECT_NE(e.finding("energy-error"), nullptr) << "11.25 J where 10 J were asked for";
  EXPECT_EQ(e.finding("rate-low"), nullptr);
}

TEST(Indentation, TheStandInPressesTheEnergyIn) {
  TestRecord r = record_of("drop-impact", {{"specimen.thickness", {"4.2 mm"}},
                                           {"settings.way", {"indentation"}},
                                           {"specimen.target_energy", {"12 J"}},
                                           {"settings.speed.elastic", {"5 mm/min"}}});
  const auto press = standin::drop_tower().machine(r);
  ASSERT_TRUE(press->program(standin::drop_tower().program(r)));
  EXPECT_FALSE(press->command(MachineCommand::start)) << "clamped first";
  for (MachineCommand c : {MachineCommand::close_top_grip, MachineCommand::zero_force, MachineCommand::start})
    ASSERT_TRUE(press->command(c));
  MachineColumns columns(3);
  for (int i = 0; i < 2000 && press->status().state == MachineState::running; ++i) append(columns, press->advance(1));
  r.run.set_samples(samples_of(press->channels(), columns));
  const Evaluation e = methods::evaluate(r);
  EXPECT_NEAR(value_of(e, "energy_impact"), 12, 0.2);
  EXPECT_LT(value_of(e, "energy_absorbed"), 12);
  EXPECT_EQ(e.finding("energy-error"), nullptr);
  EXPECT_GT(value_of(e, "force_peak"), 2000);
}

TEST(Drop, DrawnMarksComeBackOutOfTheRecord) {
  standin::SimulateOptions o;
  o.seed = 5;
  const TestRecord r = standin::drop_tower().simulate(o);
  const auto back = record_from_json(record_to_json(r));
  ASSERT_TRUE(back) << back.error().message;
  EXPECT_EQ(back->run.rows(drop::kDamage), r.run.rows(drop::kDamage));
  EXPECT_EQ(words_of(back->fields.text("specimen.damage.kinds")), (std::vector<std::string>{"dent", "delamination"}));
  const Evaluation e = methods::evaluate(*back);
  ASSERT_EQ(e.figures.size(), 2u);
  EXPECT_TRUE(e.figures[1].printed);
  EXPECT_TRUE(e.figures[0].linked);
  EXPECT_EQ(e.figures[0].panels.size(), 4u);
}

}  // namespace
}  // namespace fortitor::drop_impact_test
