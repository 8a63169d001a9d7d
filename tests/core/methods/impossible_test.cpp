// Numbers that cannot be, and were once given without a word: found among the spoilt records (varied_test.cpp).
#include <gtest/gtest.h>

#include <cmath>
#include <functional>
#include <random>

#include "tests/c_text.h"
#include "tests/core/methods/made.h"

namespace fortitor::impossible_test {
namespace {

TestRecord with_gaps(TestRecord r, const char* channel, const std::function<bool(size_t)>& gone) {
  Samples s = *r.run.samples();
  std::vector<double>& v = s.column(channel).values;
  for (size_t i = 0; i < v.size(); ++i)
    if (gone(i)) v[i] = NAN;
  r.run.set_samples(std::make_shared<Samples>(std::move(s)));
  return r;
}

// A reading of the travel missing where the shell is touched made the energy 0 J and the stroke no number.
TEST(Impossible, ACrushWithGapsInItsTravelKeepsItsEnergy) {
  const TestRecord whole = made(standin::shell_press(), "crush-shell");
  const Evaluation right = methods::evaluate(whole, {.uncertainty = false});
  for (size_t every : {3u, 7u})
    for (size_t first : {0u, 1u, 2u}) {
      const Evaluation e = methods::evaluate(
          with_gaps(whole, "crosshead", [&](size_t i) { return i % every == first; }), {.uncertainty = false});
      for (const char* key : {"peak_force", "mean_crush_force", "crush_energy", "crush_stroke"})
        EXPECT_NEAR(value(e, key) / value(right, key), 1, 0.01) << key << " " << every << " " << first;
      EXPECT_NE(e.finding("samples-dropped"), nullptr);
      EXPECT_EQ(e.finding("stroke-short"), nullptr);
    }
  const Evaluation none =
      methods::evaluate(with_gaps(whole, "crosshead", [](size_t) { return true; }), {.uncertainty = false});
  EXPECT_EQ(none.find("crush_energy"), nullptr) << "without travel there is no work, and no nought either";
  EXPECT_EQ(none.finding("stroke-short"), nullptr);
  EXPECT_NEAR(value(none, "max_force"), value(right, "max_force"), 1e-9);
  EXPECT_NE(none.finding("no-travel"), nullptr);
  EXPECT_EQ(right.finding("no-travel"), nullptr);
}

// The very first reading of the crosshead missing left no strain at all.
TEST(Impossible, StrainByTheCrossheadBeginsAtItsFirstReading) {
  TestRecord whole = made(*standin::find_bench(methods::find("compression-solid")->standin), "compression-solid");
  Samples s = *whole.run.samples();
  std::erase_if(s.channels,
                [](const Channel& c) { return c.name != "time" && c.name != "force" && c.name != "crosshead"; });
  for (Channel& c : s.channels)
    c.values.erase(c.values.begin(), c.values.begin() + 200);  // it begins loaded: no quiet stretch
  whole.run.set_samples(std::make_shared<Samples>(std::move(s)));
  const Evaluation right = methods::evaluate(whole, {.uncertainty = false});
  const Evaluation e =
      methods::evaluate(with_gaps(whole, "crosshead", [](size_t i) { return i % 3 == 0; }), {.uncertainty = false});
  ASSERT_TRUE(std::isfinite(value(right, "e_modulus")));
  EXPECT_NEAR(value(e, "e_modulus") / value(right, "e_modulus"), 1, 0.02);
}

// A stiffness in another unit made a frame that gives more than the crosshead went, and strains below zero.
TEST(Impossible, AFrameGivesNoMoreThanTheCrossheadWent) {
  for (const auto& [bench, method] :
       {std::pair{&standin::polymer_frame(), "tension-plastic"}, {&standin::universal_frame(), "tension-metal"}}) {
    TestRecord r = made(*bench, method);
    const Evaluation right = methods::evaluate(r, {.uncertainty = false});
    EXPECT_EQ(right.finding("frame-stiffness"), nullptr) << method;
    standin::type_into(r, "equipment.frame.stiffness", "45 N/mm");
    const Evaluation e = methods::evaluate(r, {.uncertainty = false});
    ASSERT_NE(e.finding("frame-stiffness"), nullptr) << method;
    EXPECT_EQ(e.finding("frame-stiffness")->severity, Severity::check);
    for (const char* key : {"eps_m", "at", "agt"})
      if (std::isfinite(value(right, key))) {
        EXPECT_NEAR(value(e, key) / value(right, key), 1, 0.1) << method << " " << key;
      }
    TestRecord without = r;
    without.fields.erase("equipment.frame.stiffness");
    const Evaluation none = methods::evaluate(without, {.uncertainty = false});
    for (const ResultValue& v : none.results)
      if (!v.is_text()) {
        EXPECT_EQ(v.value, value(e, v.spec.key.c_str())) << "a refused stiffness is no stiffness: " << v.spec.key;
      }
  }
  // At the edge: a run that is nothing but the frame, 10 % beyond which nobody knows a stiffness.
  TestRecord r = made(standin::press(), "compression-solid", "steel");
  const Samples& s = *r.run.samples();
  const std::vector<double>&force = s.find("force")->values, &x = s.find("crosshead")->values;
  const size_t peak = size_t(std::max_element(force.begin(), force.end()) - force.begin());
  double secant = 0;  // the stiffest part
  for (size_t i = 1; i <= peak; ++i)
    if (force[i] - force[0] > 0.2 * force[peak]) secant = std::max(secant, (force[i] - force[0]) / (x[i] - x[0]));
  for (const auto& [share, clash] : {std::pair{0.95, false}, {0.7, true}}) {
    standin::type_into(r, "equipment.frame.stiffness", c_number(share * secant) + " N/mm");
    EXPECT_EQ(methods::evaluate(r, {.uncertainty = false}).finding("frame-stiffness") != nullptr, clash) << share;
  }
}

TEST(Impossible, DriedAPieceIsNotHeavier) {
  TestRecord r = made(standin::scale_bench(), "density");
  r.fields.set("specimen.species", std::string("larch"));
  const double mass = value(methods::evaluate(r), "mass");
  const auto dried = [&](double g) {
    standin::type_into(r, "specimen.mass_dry", c_number(g) + " g");
    return methods::evaluate(r, {.uncertainty = false});
  };
  EXPECT_EQ(dried(0.9e3 * mass).finding("dry-heavier"), nullptr);
  const Evaluation e = dried(1.2e3 * mass);
  ASSERT_NE(e.finding("dry-heavier"), nullptr);
  EXPECT_TRUE(std::isnan(value(e, "density_12")));
}

TEST(Impossible, ADropGivesNoEnergyAndReboundsUpwards) {
  const TestRecord sound = made(standin::drop_tower(), "drop-impact");
  const Evaluation right = methods::evaluate(sound, {.uncertainty = false});
  EXPECT_EQ(right.finding("energy-gained"), nullptr);
  EXPECT_EQ(right.finding("no-rebound"), nullptr);
  const auto mass = [&](double factor) {
    TestRecord r = sound;
    for (const auto& [path, v] : sound.fields.all())
      if (path.find("mass") != std::string::npos)
        if (const auto* one = std::get_if<Reading>(&v); one != nullptr && one->value) {
          Reading other = *one;
          *other.value *= factor;
          r.fields.set(path, other);
        }
    return methods::evaluate(r, {.uncertainty = false});
  };
  const Evaluation heavy = mass(10), light = mass(0.1);
  ASSERT_NE(heavy.finding("no-rebound"), nullptr);
  EXPECT_LT(value(heavy, "v_rebound"), 0);
  ASSERT_NE(light.finding("energy-gained"), nullptr);
  EXPECT_LT(value(light, "energy_absorbed"), 0);
}

TEST(Impossible, TheMoistureRuleEndsSomewhere) {
  TestRecord r = made(standin::bending_bench(), "flexure-beam");
  r.fields.erase("specimen.species");
  const auto at = [&](const char* moisture) {
    standin::type_into(r, "specimen.moisture", moisture);
    return methods::evaluate(r, {.uncertainty = false});
  };
  for (const char* in : {"5 %", "12 %", "25 %"}) {
    EXPECT_EQ(at(in).finding("moisture-range"), nullptr) << in;
    EXPECT_GT(value(at(in), "mor_12"), 0) << in;
  }
  for (const char* out : {"4.9 %", "25.1 %", "120 %"}) {
    ASSERT_NE(at(out).finding("moisture-range"), nullptr) << out;
    EXPECT_TRUE(std::isnan(value(at(out), "mor_12"))) << out;
  }
}

TEST(Impossible, NoiseIsNoFirstPeak) {
  TestRecord r = made(standin::shell_press(), "crush-shell");
  const double peak = value(methods::evaluate(r), "peak_force");
  Samples s = *r.run.samples();
  std::mt19937_64 random(5);
  std::normal_distribution<double> n;
  for (double& v : s.column("force").values) v += 0.005 * peak * n(random);
  r.run.set_samples(std::make_shared<const Samples>(std::move(s)));
  const Evaluation e = methods::evaluate(r);
  EXPECT_NEAR(value(e, "peak_force") / peak, 1, 0.03);
  EXPECT_LE(std::abs(value(e, "peak_force") - peak), e.find("peak_force")->expanded());
}

// Up to 0.6 % a polymer tells nothing of the length that stretches: it is the one entered, and U says how well that is
// known.
TEST(Impossible, AnElasticStretchFitsNoLength) {
  for (const char* piece : {"polyamide", "polyethylene"})
    for (uint64_t seed : {70u, 71u}) {
      const TestRecord r = made(standin::polymer_frame(), "tension-plastic", piece, seed);
      const Evaluation e = methods::evaluate(r);
      const Samples& s = *r.run.samples();
      const std::vector<double>&x = s.find("crosshead")->values, &f = s.find("force")->values;
      const size_t peak = size_t(std::max_element(f.begin(), f.end()) - f.begin());
      const double whole = (x[peak] - x[0] - f[peak] / 45e3) / r.fields.number("specimen.grip_separation").value();
      EXPECT_NEAR(value(e, "eps_m"), whole, e.find("eps_m")->expanded()) << piece << " " << seed;
      EXPECT_LT(e.find("eps_m")->expanded(), 0.08 * whole);
    }
}

// Read so seldom that it broke well above its largest reading: the true strength lies within U.
TEST(Impossible, ABrittleBarBreaksBetweenTwoReadings) {
  const TestRecord whole = made(standin::polymer_frame(), "tension-plastic", "acrylic", 70);
  const double truth = value(methods::evaluate(whole), "sigma_m");
  for (size_t step : {5u, 15u, 31u, 47u}) {
    Samples s = *whole.run.samples();
    for (Channel& c : s.channels) {
      std::vector<double> kept;
      for (size_t i = 3; i < c.values.size(); i += step) kept.push_back(c.values[i]);
      c.values = std::move(kept);
    }
    TestRecord r = whole;
    r.run.set_samples(std::make_shared<const Samples>(std::move(s)));
    const Evaluation e = methods::evaluate(r);
    EXPECT_NEAR(value(e, "sigma_m"), truth, e.find("sigma_m")->expanded()) << step;
  }
}

TEST(Impossible, ATubeIsNotCrushedBackwards) {
  TestRecord r = made(standin::shell_press(), "crush-shell");
  EXPECT_EQ(methods::evaluate(r).finding("travel-backwards"), nullptr);
  Samples s = *r.run.samples();
  const std::vector<double>& force = s.find("force")->values;
  std::vector<double>& x = s.column("crosshead").values;
  const size_t peak = size_t(std::max_element(force.begin(), force.end()) - force.begin());
  for (size_t i = peak / 2; i < x.size(); ++i) x[i] -= 0.5 * x.back();
  r.run.set_samples(std::make_shared<const Samples>(std::move(s)));
  const Evaluation e = methods::evaluate(r, {.uncertainty = false});
  EXPECT_EQ(e.finding("travel-backwards") != nullptr, value(e, "peak_travel") < 0);
  ASSERT_NE(e.finding("travel-backwards"), nullptr);
}

}  // namespace
}  // namespace fortitor::impossible_test
