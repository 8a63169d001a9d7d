// Records as they come on bad days: each says what is right, and what must be said. The files are tests/data/awkward;
// their truth is known from the models that made them.
#include <gtest/gtest.h>

#include <array>
#include <cmath>
#include <functional>

#include "core/bench/records.h"
#include "core/curve/spikes.h"
#include "core/methods/method.h"
#include "tests/core/methods/made.h"

namespace fortitor::awkward_test {
namespace {

struct Right {
  const char* key;
  double value, within;  ///< NaN: must not be given
};
struct Case {
  const char* file;
  std::vector<const char*> said;
  std::vector<Right> right = {};
  const char* verdict = nullptr;
};

const std::vector<Case>& cases() {
  static const std::vector<Case> all = {
      // A piece that broke has broken.
      {"p1-broke-meets",
       {"broke-in-cycle"},
       {{"force_max", 17990, 10}, {"function_limit", 20000, 5}, {"loop_2", NAN, 0}},
       "fails"},
      {"p2-broke-bound", {}, {{"force_max", 21478, 10}, {"function_limit", 20000, 20}}, "meets"},
      {"p3-offset1kN", {"not-zeroed"}, {{"force_max", 52000, 10}, {"held_1", 19800, 20}}},
      {"p3-offset3kN", {"not-zeroed"}, {{"force_max", 52000, 10}, {"function_limit", 20000, 5}}},
      {"p5-no-unload", {"not-unloaded"}, {{"force_max", 52000, 10}, {"loop_1", NAN, 0}, {"set_1", NAN, 0}}},
      {"p6-funclimit", {"not-zeroed"}, {{"force_max", 52000, 30}, {"function_limit", 20000, 30}}},
      // One reading that jumps, and one that stays.
      {"s1-proof-spike", {"channel-jump"}, {{"force_max", 52000, 30}}},
      {"s2-proof-jump", {"channel-jump"}, {{"stiffness_1", NAN, 0}, {"loop_1", NAN, 0}, {"stiffness_2", 8000, 30}}},
      {"s3-cai-spike", {"channel-jump"}, {{"cai_strength", 250, 0.5}}},
      {"s4-drop-spike", {"channel-jump"}, {{"force_peak", 9735, 60}, {"force_damage", 4000, 80}}},
      {"c4-gauge-spike", {"channel-jump"}, {{"cai_modulus", 52e3, 700}}},
      {"c3-gauge-lost", {"gauge-lost"}, {{"cai_modulus", 52e3, 1000}}},
      // What cannot be.
      {"c1-kN-as-N", {"cannot-be"}},
      {"c2-pct", {"cannot-be"}},
      {"r4-kN", {"cannot-be"}},
      {"h1-force500", {"cannot-be"}},
      {"h1b-4um", {"cannot-be"}},
      {"h4-factor", {"cannot-be"}},
      {"h5-x", {"cannot-be"}},
      {"i1-ligament", {"cannot-be"}},
      {"i2-1010J", {"cannot-be"}},
      {"i4-free-rise", {"cannot-be"}},
      {"i5-750m", {"cannot-be"}},
      {"i6-300C", {"cannot-be"}},
      {"d1-density", {"cannot-be"}},
      // Read or typed beside the others.
      {"h2-block", {"block-off"}},
      {"h3-16", {"re-read"}},
      {"h6-gap", {"crossing-gap"}},
      {"i3-unbroken", {"single-value", "not-broken"}, {{"energy_min", 120, 1e-9}}, "fails"},
      // Fatigue.
      {"f1-absurdU", {"extrapolated", "slope-scatter"}, {{"strength_2e6_mean", NAN, 0}, {"strength_2e6_char", NAN, 0}}},
      {"f2-shakedown", {}, {{"n_initiation", 300e3, 12e3}}},
      {"f3-wrong-step", {"staircase-step"}, {{"staircase_sd", 6.66, 0.01}, {"staircase_ml_mean", NAN, 0}}},
      {"f3b-no-step", {"staircase-level"}, {{"staircase_sd", 6.66, 0.01}, {"next_level", 225, 1e-6}}},
      {"f4-degenerate", {"staircase-likelihood", "staircase-scatter"}, {{"staircase_ml_sd", NAN, 0}}},
      {"f5-half-R", {"mean-stress-unapplied"}},
      {"f5b-rm", {"mean-stress-unapplied"}, {{"sn_slope", NAN, 0}}},
      {"f5c-R10", {"mean-stress-unapplied"}, {{"sn_slope", NAN, 0}}},
      // Drops.
      {"r1-late2ms", {"contact-cut"}, {{"energy_absorbed", NAN, 0}, {"defl_peak", NAN, 0}}, "void"},
      {"r2-noise300", {"damage-hidden"}},
      {"r3-ring", {"damage-hidden"}, {{"force_damage", NAN, 0}}},
      {"r5-noise100", {"damage-hidden"}},
  };
  return all;
}

class Awkward : public testing::TestWithParam<size_t> {};

TEST_P(Awkward, IsToldRight) {
  const Case& c = cases()[GetParam()];
  const auto record = load_record(std::string(FORTITOR_TEST_DATA "/awkward/") + c.file + ".json");
  ASSERT_TRUE(record) << record.error().message;
  const Evaluation e = methods::evaluate(*record);
  for (const char* code : c.said) EXPECT_NE(e.finding(code), nullptr) << c.file << " says nothing of " << code;
  for (const Right& r : c.right) {
    const ResultValue* v = e.find(r.key);
    if (std::isnan(r.value)) {
      EXPECT_EQ(v, nullptr) << c.file << ": " << r.key;
      continue;
    }
    ASSERT_NE(v, nullptr) << c.file << ": " << r.key;
    EXPECT_NEAR(v->value, r.value, r.within) << c.file << ": " << r.key;
    EXPECT_FALSE(v->censored) << c.file << ": " << r.key << " is no bound";
  }
  if (c.verdict != nullptr) {
    EXPECT_EQ(verdict_word(e.verdict), c.verdict) << e.verdict_reason;
  }
}

INSTANTIATE_TEST_SUITE_P(Files, Awkward, testing::Range<size_t>(0, cases().size()), [](const auto& test) {
  std::string name = cases()[test.param].file;
  for (char& ch : name)
    if (!std::isalnum(static_cast<unsigned char>(ch))) ch = '_';
  return name;
});

// The truth is inside value ± U though 300 N of noise are on 9.7 kN.
TEST(AwkwardDrop, ARoughPeakIsCovered) {
  const auto record = load_record(FORTITOR_TEST_DATA "/awkward/r2-noise300.json");
  ASSERT_TRUE(record);
  const Evaluation e = methods::evaluate(*record);
  const ResultValue* peak = e.find("force_peak");
  ASSERT_NE(peak, nullptr);
  EXPECT_NEAR(peak->value, 9735, peak->expanded());
}

// A person may say that they are real.
TEST(AwkwardSpike, IsUsedWhereItIsKept) {
  auto record = load_record(FORTITOR_TEST_DATA "/awkward/s1-proof-spike.json");
  ASSERT_TRUE(record);
  record->fields.set("settings.spikes", std::string("keep"));
  const Evaluation e = methods::evaluate(*record, {.uncertainty = false});
  EXPECT_GT(value(e, "force_max"), 58000);
  ASSERT_NE(e.finding("channel-jump"), nullptr) << "kept, and said";
}

// Nothing that a sound run does is one: thousands of samples of every stand-in.
TEST(AwkwardSpike, SoundRunsHaveNone) {
  for (const Method* m : methods::all()) {
    const standin::Bench& bench = *standin::find_bench(m->standin);
    for (uint64_t seed = 1; seed <= 12; ++seed) {
      const TestRecord r = made_short(*m, bench.pieces.empty() ? "" : bench.pieces[seed % bench.pieces.size()].value,
                                      seed, "", std::array{2.0, 5.0, 20.0, 100.0}[seed % 4]);
      for (const Segment& s : r.run.segments)
        if (s.samples)
          for (const Spike& spike : spikes_of(*s.samples))
            ADD_FAILURE() << m->id << " seed " << seed << ": " << spike.channel << " at " << spike.at << " s reads "
                          << spike.read << " beside " << spike.beside;
    }
  }
}

// The top of a load that turns at once, a plateau of two readings, a fall and a step lie off their neighbours and are
// real.
TEST(AwkwardSpike, TurnsPlateausFallsAndStepsAreNone) {
  const auto run = [](const std::function<double(int)>& y) {
    Samples s;
    s.channels = {{"time", {}}, {"force", {}}};
    for (int i = 0; i < 200; ++i) {
      s.channels[0].values.push_back(0.1 * i);
      s.channels[1].values.push_back(y(i));
    }
    return spikes_of(s).size();
  };
  for (double slope : {10.0, 50.0})
    for (int plateau : {0, 1, 2, 3})
      for (double back : {1.0, 0.7, 2.0})
        EXPECT_EQ(run([&](int i) {
                    return slope * (i < 90 ? i : i <= 90 + plateau ? 90 : 90 - back * (i - 90 - plateau));
                  }),
                  0u)
            << slope << " " << plateau << " " << back;
  EXPECT_EQ(run([](int i) { return i < 120 ? 100.0 * i : i == 120 ? 400.0 : 0.0; }), 0u) << "it broke";
  EXPECT_EQ(run([](int i) { return 100.0 * i + (i > 77 ? 3000 : 0); }), 0u) << "a step is no spike";
  EXPECT_EQ(run([](int i) { return i % 20 < 10 ? 100.0 * (i % 20) : 100.0 * (20 - i % 20); }), 0u) << "a triangle";
}

// Set anywhere on a smooth course it is found where it was set, of either sign, one sample or two, and nowhere else.
TEST(AwkwardSpike, IsFoundWhereItWasSet) {
  for (int at : {30, 100, 250, 480})
    for (double size : {-200.0, 40.0, 300.0})
      for (size_t width : {size_t(1), size_t(2)}) {
        Samples s;
        s.channels = {{"time", {}}, {"force", {}}};
        for (int i = 0; i < 500; ++i) {
          s.channels[0].values.push_back(0.1 * i);
          s.channels[1].values.push_back(1000 * std::sin(i * M_PI / 1000) + 0.2 * std::sin(i * 7.3));
        }
        for (size_t k = 0; k < width; ++k) s.channels[1].values[size_t(at) + k] += size;
        const auto found = spikes_of(s);
        ASSERT_EQ(found.size(), 1u) << at << " " << size << " " << width;
        EXPECT_EQ(found[0].first, size_t(at));
        EXPECT_EQ(found[0].width, width);
        const auto bridged = without_spikes(std::make_shared<Samples>(s), found);
        EXPECT_NEAR(bridged->channels[1].values[size_t(at)], 1000 * std::sin(at * M_PI / 1000), 2);
      }
}

}  // namespace
}  // namespace fortitor::awkward_test
