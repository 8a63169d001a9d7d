// How sure the numbers of a spectrum are: the same hour with its scale, its modulus and its noise off by what the
// budget takes, and the results of the hour without any.
#include <gtest/gtest.h>

#include <cmath>
#include <map>
#include <random>

#include "core/uncertainty/budget.h"
#include "tests/core/spectrum/an_hour.h"

namespace fortitor::spectrum::uncertainty_test {
namespace {

class SpectrumUncertainty : public AnHour {
 protected:
  // Half an hour of crossings of random size: bumps of one to five seconds.
  std::vector<double> crossings(uint64_t seed) const {
    std::mt19937_64 random(seed);
    std::uniform_real_distribution<double> share(0, 1);
    std::vector<double> x(size_t(kRate * 1800));
    for (int k = 0; k < 450; ++k) {
      const double size = -60 * std::log(1 - share(random) * 0.999) * (share(random) < 0.75 ? 1 : -1);
      const double at = share(random) * double(x.size()), width = (0.4 + 1.1 * share(random)) * kRate;
      for (size_t i = size_t(std::max(0.0, at - 5 * width)); i < std::min(double(x.size()), at + 5 * width); ++i)
        x[i] += size * std::exp(-0.5 * std::pow((double(i) - at) / width, 2));
    }
    return x;
  }
};

TEST_F(SpectrumUncertainty, TheHourWithoutErrorsLiesInside) {
  constexpr int kHours = 40;
  std::map<std::string, int> held;
  std::mt19937_64 random(5);
  std::uniform_real_distribution<double> within(-1, 1);
  for (uint64_t k = 0; k < kHours; ++k) {
    const std::vector<double> x = crossings(k + 1);
    const Evaluation truth = told(x);
    std::normal_distribution<double> noise(0, 0.3 + 0.25 * within(random));
    const double scale = 1 + 0.01 * within(random), modulus = 210000 * (1 + 0.02 * within(random));
    std::vector<double> measured = x;
    for (double& v : measured) v = v * scale + noise(random);
    for (const ResultValue& r : told(measured, [&](Settings& s) { s.modulus = modulus; }).results) {
      ASSERT_GT(r.standard_uncertainty, 0) << r.spec.key;
      held[r.spec.key] += std::abs(r.value - truth.find(r.spec.key)->value) <= r.expanded();
    }
  }
  EXPECT_EQ(held.size(), 13u);
  // 93 of 100: fewer than 33 of 40 are seen in one case in a hundred.
  for (const auto& [key, n] : held) EXPECT_GE(n, 33) << key;
}

TEST_F(SpectrumUncertainty, WithoutNoiseItIsScaleAndModulus) {
  const Evaluation e = told(crossings(3));
  const double strain = rectangular(0.01), both = std::hypot(strain, rectangular(0.02));
  EXPECT_NEAR(e.find("range_max")->standard_uncertainty / e.find("range_max")->value, strain, 1e-4);
  // Damage goes with the power of the slope: between m and m + 2 of it.
  const ResultValue* d = e.find("damage_no_cutoff");
  EXPECT_GT(d->standard_uncertainty / d->value, 3 * both * 0.99);
  EXPECT_LT(d->standard_uncertainty / d->value, 5 * both * 1.02);
  const ResultValue* cycles = e.find("cycles");
  EXPECT_LT(cycles->expanded(), 0.02 * cycles->value);
}

TEST_F(SpectrumUncertainty, AGateInTheNoiseIsSaid) {
  std::vector<double> x = crossings(6);
  const Evaluation quiet = told(x);
  EXPECT_EQ(quiet.finding("gate-in-noise"), nullptr);
  const double own = quiet.find("cycles")->value;
  std::mt19937_64 random(9);
  std::normal_distribution<double> noise(0, 2);
  for (double& v : x) v += noise(random);
  const Evaluation e = told(x);
  const Finding* f = e.finding("gate-in-noise");
  ASSERT_NE(f, nullptr);
  // What is counted is twice as much as the signal has of its own, and its U says so.
  const ResultValue* cycles = e.find("cycles");
  EXPECT_GT(cycles->value, 1.5 * own);
  EXPECT_LT(cycles->value - cycles->expanded(), own);
  EXPECT_EQ(f->remedies.front().settings.count("settings.gate"), 1u);
}

TEST_F(SpectrumUncertainty, EveryWeekHasItsOwn) {
  const std::vector<double> x = crossings(4);
  told(x);
  Settings s;
  for (int k = 0; k < 2; ++k) {
    fatigue::SignalSpec spec;
    spec.files = {(folder_ / "x.f64").string()};
    spec.rate = kRate;
    s.weeks.push_back(spec);
  }
  Spectrum now;
  ASSERT_TRUE(compute(now, s, {.until = ChainStep::cut}));
  const Evaluation week = evaluation_of_week(now, now.weeks[0]), both = evaluation_of(now, {});
  for (const ResultValue& r : week.results) EXPECT_GT(r.standard_uncertainty, 0) << r.spec.key;
  EXPECT_EQ(shown_uncertainty(*both.find("range_max"), UnitSet::si).substr(0, 2), "±");
  EXPECT_NEAR(both.find("damage")->standard_uncertainty, 2 * week.find("damage")->standard_uncertainty,
              1e-3 * both.find("damage")->standard_uncertainty)
      << "the error of the gauges is the same in both";
}

}  // namespace
}  // namespace fortitor::spectrum::uncertainty_test
