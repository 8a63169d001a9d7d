// A range that ended and a zero that moved, in signals whose truth is known: swings of random size with noise, clipped
// or shifted on purpose, and those that only look like it.
#include <gtest/gtest.h>

#include <cmath>
#include <random>

#include "tests/core/spectrum/an_hour.h"

namespace fortitor::spectrum::logger_faults_test {
namespace {

class LoggerFaults : public AnHour {
 protected:
  // An hour of damped swings of random size and noise; `spoil` is what the logger did to it.
  std::vector<double> swings(uint64_t seed) const {
    std::mt19937_64 random(seed);
    std::normal_distribution<double> noise(0, 0.2);
    std::uniform_real_distribution<double> share(0, 1);
    std::vector<double> x(size_t(kRate * 3600));
    for (size_t i = 0; i < x.size(); ++i)
      x[i] = 20 + 10 * std::sin(2 * M_PI * double(i) / double(x.size())) + noise(random);
    for (int k = 0; k < 200; ++k) {
      const size_t at = size_t(share(random) * double(x.size() - 600));
      const double size = -60 * std::log(1 - share(random) * 0.999), f = 0.7 + share(random);
      for (size_t j = 0; j < 600; ++j)
        x[at + j] += size * std::exp(-double(j) / 150) * std::sin(2 * M_PI * f * double(j) / kRate);
    }
    return x;
  }
};

bool says(const Evaluation& e, const char* code) {
  return e.finding(code) != nullptr;
}

TEST_F(LoggerFaults, SoundSignalsSayNothingOfThem) {
  for (uint64_t seed = 1; seed <= 20; ++seed) {
    std::vector<double> x = swings(seed);
    const Evaluation e = told(x);
    EXPECT_FALSE(says(e, "clipped")) << seed;
    EXPECT_FALSE(says(e, "zero-step")) << seed;
    for (const ResultValue& r : e.results) EXPECT_FALSE(r.censored) << r.spec.key;
    // As coarse as a cheap logger writes it.
    for (double digit : {0.1, 1.0, 2.0}) {
      std::vector<double> coarse = x;
      for (double& v : coarse) v = digit * std::round(v / digit);
      const Evaluation c = told(coarse);
      EXPECT_FALSE(says(c, "clipped")) << seed << " in steps of " << digit;
      EXPECT_FALSE(says(c, "zero-step")) << seed << " in steps of " << digit;
    }
  }
}

TEST_F(LoggerFaults, ARangeThatEndedIsSaidAndBoundsWhatComesOfIt) {
  for (uint64_t seed = 1; seed <= 10; ++seed)
    for (bool top : {true, false}) {
      std::vector<double> x = swings(seed);
      const double end = top ? 80 : -30;
      const Evaluation sound = told(x);
      for (double& v : x) v = top ? std::min(v, end) : std::max(v, end);
      const Evaluation e = told(x);
      ASSERT_TRUE(says(e, "clipped")) << seed;
      EXPECT_NEAR(e.finding("clipped")->evidence.at("value"), end, 1e-4);
      EXPECT_FALSE(says(e, "no-damage")) << "nobody knows of the swings that went further";
      EXPECT_EQ(shown(*e.find("range_max"), UnitSet::si).rfind("≥ ", 0), 0u);
      for (const char* key : {"range_max", "range_p", "damage_no_cutoff", "range_equivalent"}) {
        const ResultValue* r = e.find(key);
        ASSERT_TRUE(r != nullptr && r->censored && r->censored->above) << key;
        // A bound holds; the level through the blocks moves by little.
        EXPECT_LE(r->value, sound.find(key)->value * 1.01) << key << " " << seed;
      }
    }
}

TEST_F(LoggerFaults, AZeroThatMovesIsSaidOnceWithItsSizeAndPlace) {
  std::mt19937_64 random(7);
  for (uint64_t seed = 1; seed <= 20; ++seed) {
    std::vector<double> x = swings(seed);
    const double by = (seed % 2 ? 1 : -1) * (150 + 25 * double(seed));
    // Not into the rise of a swing: there nobody can tell.
    size_t at = 0;
    do at = 5000 + random() % (x.size() - 10000);
    while (std::abs(x[at] - x[at - 15]) > 5 || std::abs(x[at + 15] - x[at]) > 5);
    for (size_t i = at; i < x.size(); ++i) x[i] += by;
    const Evaluation e = told(x);
    const Finding* f = e.finding("zero-step");
    ASSERT_NE(f, nullptr) << seed;
    EXPECT_EQ(f->evidence.at("steps"), 1) << seed;
    EXPECT_NEAR(f->evidence.at("by"), by, 0.05 * std::abs(by)) << seed;
  }
}

TEST_F(LoggerFaults, WhatOnlyLooksLikeAStepIsNone) {
  std::vector<double> x = swings(3);
  std::vector<double> spiked = x;
  for (size_t at : {20000u, 60000u, 100000u}) spiked[at] += 300;
  const Evaluation e = told(spiked);
  EXPECT_TRUE(says(e, "spikes"));
  EXPECT_FALSE(says(e, "zero-step")) << "a sample that goes and comes back";
  std::vector<double> loaded = x;  // a load set down within a fifth of a second
  for (size_t i = 80000; i < loaded.size(); ++i) loaded[i] += 300 * std::min(1.0, double(i - 80000) / (0.2 * kRate));
  EXPECT_FALSE(says(told(loaded), "zero-step")) << "a load that comes on";
  std::vector<double> stood = x;  // the logger stands still in a swing and goes on elsewhere
  for (size_t i = 80000; i < 81000; ++i) stood[i] = 90;
  const Evaluation after = told(stood);
  EXPECT_TRUE(says(after, "stuck"));
  EXPECT_FALSE(says(after, "zero-step"));
  std::vector<double> gaps = x;
  for (size_t i = 80000; i < 80400; ++i) gaps[i] = NAN;
  EXPECT_FALSE(says(told(gaps), "zero-step"));
}

}  // namespace
}  // namespace fortitor::spectrum::logger_faults_test
