// Staircases, mean stress and the start of cracks against hand sums and closed forms.
#include <gtest/gtest.h>

#include <cmath>
#include <random>

#include "core/fatigue/initiation.h"
#include "core/fatigue/mean_stress.h"
#include "core/fatigue/staircase.h"

#include "core/statistics/sample.h"

namespace fortitor::fatigue::staircase_test {
namespace {

std::vector<SnPoint> climbed(const std::vector<std::pair<double, bool>>& steps) {
  std::vector<SnPoint> out;
  for (const auto& [level, out_of_it] : steps) out.push_back({level, out_of_it ? 1e7 : 4e5, out_of_it});
  return out;
}

TEST(Staircase, DixonMoodByHand) {
  // Failures: 320, 310, 310, 300; run-outs: 310, 300, 300, 300, 290: failures are fewer.
  const auto s = dixon_mood(climbed({{310, true},
                                     {320, false},
                                     {310, false},
                                     {300, true},
                                     {310, false},
                                     {300, true},
                                     {310, true} /*dropped below*/,
                                     {300, false},
                                     {290, true}}),
                            10);
  ASSERT_TRUE(s);
  EXPECT_FALSE(s->survivals);
  EXPECT_EQ(s->n, 4u);
  EXPECT_EQ(s->a, 0u * 1 + 1u * 2 + 2u * 1);
  EXPECT_EQ(s->b, 1u * 2 + 4u * 1);
  EXPECT_NEAR(s->mean, 300 + 10 * (4.0 / 4 - 0.5), 1e-12);
  EXPECT_NEAR(s->scatter(), (4.0 * 6 - 16) / 16, 1e-12);
  EXPECT_NEAR(s->sd, 1.62 * 10 * (0.5 + 0.029), 1e-12);
}

TEST(Staircase, RunoutsCountedWhereTheyAreFewer) {
  const auto s =
      dixon_mood(climbed({{200, false}, {190, true}, {200, false}, {190, false}, {180, true}, {190, false}}), 10);
  ASSERT_TRUE(s);
  EXPECT_TRUE(s->survivals);
  EXPECT_NEAR(s->mean, 180 + 10 * (0.5 + 0.5), 1e-12);
  EXPECT_FALSE(dixon_mood(climbed({{200, false}, {190, false}}), 10)) << "nothing ran out";
  EXPECT_FALSE(dixon_mood(climbed({{200, false}, {190, true}}), 0));
  EXPECT_NEAR(ladder_of(climbed({{200, false}, {190, true}, {180, true}})).step, 10, 1e-12);
  EXPECT_EQ(ladder_of(climbed({{200, false}})).step, 0);
}

TEST(Staircase, ProbitFindsTheTruth) {
  std::mt19937_64 random(9);
  std::normal_distribution<double> n;
  std::vector<SnPoint> p;
  for (int i = 0; i < 4000; ++i) {
    const double level = 280 + 5 * (i % 13), strength = 310 + 15 * n(random);
    p.push_back({level, level > strength ? 4e5 : 1e7, level <= strength});
  }
  const auto f = probit(p);
  ASSERT_TRUE(f);
  EXPECT_NEAR(f->mean, 310, 1);
  EXPECT_NEAR(f->sd, 15, 1);
  EXPECT_FALSE(probit(climbed({{200, true}, {210, false}, {220, false}}))) << "parted cleanly";
  EXPECT_FALSE(probit({}));
}

TEST(MeanStress, RulesAndTheirInverse) {
  EXPECT_NEAR(reversed_amplitude(MeanStress::goodman, 100, 200, 500), 100 / (1 - 0.4), 1e-12);
  EXPECT_NEAR(reversed_amplitude(MeanStress::gerber, 100, 200, 500), 100 / (1 - 0.16), 1e-12);
  EXPECT_NEAR(reversed_amplitude(MeanStress::smith_watson_topper, 100, 200, 500), std::sqrt(300 * 100.0), 1e-12);
  EXPECT_NEAR(reversed_amplitude(MeanStress::walker, 100, 200, 500, 0.7), 300 * std::pow(1 / 3.0, 0.7), 1e-9);
  EXPECT_EQ(reversed_amplitude(MeanStress::gerber, 100, -200, 500), 100) << "compression gives no credit";
  EXPECT_EQ(reversed_amplitude(MeanStress::smith_watson_topper, 100, -150, 500), 0);
  EXPECT_TRUE(std::isnan(reversed_amplitude(MeanStress::goodman, 100, 500, 500)));
  for (const auto rule : {MeanStress::goodman, MeanStress::gerber, MeanStress::smith_watson_topper, MeanStress::walker})
    for (double r : {-1.0, -0.5, 0.0, 0.1, 0.4})
      for (double wanted : {-1.0, 0.0, 0.3}) {
        const double there = equivalent_range(rule, 180, r, wanted, 900, 0.6);
        EXPECT_NEAR(equivalent_range(rule, there, wanted, r, 900, 0.6), 180, 1e-6)
            << int(rule) << " " << r << " " << wanted;
        if (wanted > r) {
          EXPECT_LT(there, 180) << "more mean, less range";
        }
      }
  EXPECT_EQ(equivalent_range(MeanStress::none, 180, 0.1, -1, 900), 180);
}

TEST(Initiation, TurnOfABentLine) {
  std::mt19937_64 random(3);
  std::normal_distribution<double> n;
  for (double noise : {0.0, 2e-6, 8e-6}) {
    std::vector<double> cycles, strain;
    for (int i = 0; i <= 60; ++i) {
      cycles.push_back(10000.0 * i);
      strain.push_back(900e-6 - (i > 37 ? (i - 37) * 9e-6 : 0) + noise * n(random));
    }
    const auto t = turn_of(cycles, strain);
    ASSERT_TRUE(t) << noise;
    EXPECT_NEAR(t->cycles, 370000, noise > 0 ? 25000 : 12000) << noise;
    EXPECT_NEAR(t->after, -9e-10, 1.5e-10);
  }
}

TEST(Initiation, NoTurnInALineInNoiseOrInAJump) {
  std::mt19937_64 random(4);
  std::normal_distribution<double> n;
  int found = 0;
  for (int trial = 0; trial < 60; ++trial) {
    std::vector<double> cycles, strain;
    for (int i = 0; i <= 50; ++i) cycles.push_back(10000.0 * i), strain.push_back(900e-6 - 1e-6 * i + 5e-6 * n(random));
    found += turn_of(cycles, strain).has_value();
  }
  EXPECT_LE(found, 6) << "the running median ties neighbours together: a few in a hundred";
  std::vector<double> cycles, spike;
  for (int i = 0; i <= 50; ++i) cycles.push_back(10000.0 * i), spike.push_back(i == 20 ? 400e-6 : 900e-6);
  EXPECT_FALSE(turn_of(cycles, spike));
  EXPECT_FALSE(turn_of({1, 2, 3}, {1, 2, 3}));
  std::vector<double> kinked = {0, 0, 0, 0, 0, 0, 0, 0, 1, 2, 3, 4, 5, 6, 7, 8};
  EXPECT_FALSE(turn_of(std::vector<double>(16, 5.0), kinked)) << "all at one number of cycles";
  EXPECT_FALSE(turn_of(std::vector<double>(20, 5.0), std::vector<double>(20, 1.0)));
  EXPECT_EQ(running_median({5, 1, 9, 2, 3}, 5), (std::vector<double>{5, 5, 3, 3, 3}));
}

// A typing slip in a level, or a step that was planned and not run, must not become the step of the count.
TEST(Staircase, TheStepIsTheOneThatWasRun) {
  const auto fifteen = climbed({{240, false}, {225, true}, {240, true}, {255, false}, {240, false}, {225, true}});
  EXPECT_NEAR(ladder_of(fifteen).step, 15, 1e-9);
  EXPECT_NEAR(ladder_of(fifteen, 10).step, 15, 1e-9);
  EXPECT_NEAR(ladder_of(fifteen, 5).step, 15, 1e-9) << "every third rung of it alone";
  EXPECT_TRUE(ladder_of(fifteen, 15).off.empty());
  auto slip = fifteen;
  slip.push_back({242, 4e5, false});
  const Ladder l = ladder_of(slip);
  EXPECT_NEAR(l.step, 15, 1e-9);
  EXPECT_EQ(l.off, std::vector<size_t>{6});
  const auto skipped = climbed({{200, true}, {220, true}, {250, false}, {240, false}, {230, true}});
  EXPECT_NEAR(ladder_of(skipped, 10).step, 10, 1e-9);
}

TEST(Staircase, MixedAtOneLevelAloneTheLikelihoodHasNoMaximum) {
  EXPECT_FALSE(probit(climbed({{240, false}, {230, true}, {240, true}, {250, false}, {240, true}, {250, false}})));
  EXPECT_TRUE(probit(climbed(
      {{240, false}, {230, true}, {240, true}, {250, false}, {250, true}, {250, false}, {230, true}, {230, false}})));
}

TEST(Staircase, CoverageOfTheLikelihood) {
  std::mt19937_64 random(3);
  std::normal_distribution<double> z;
  for (int n : {16, 20, 30})
    for (double sd : {8.0, 12.0}) {
      int mean = 0, scatter = 0, of = 0;
      for (int k = 0; k < 600; ++k) {
        std::vector<SnPoint> points;
        double level = 300 + 10 * std::round(z(random));
        for (int i = 0; i < n; ++i) {
          const bool failed = 300 + sd * z(random) < level;
          points.push_back({level, 1e7, !failed});
          level += failed ? -10 : 10;
        }
        const auto fit = probit(points);
        if (!fit) continue;  // no failure above a run-out: no largest likelihood
        const double factor = std::max(2.0, statistics::t_quantile(0.975, fit->dof));
        ++of;
        mean += std::abs(fit->mean - 300) <= factor * fit->mean_error;
        scatter += std::abs(fit->sd - sd) <= factor * fit->sd_error;
      }
      EXPECT_GE(mean, 0.91 * of) << n << " " << sd;
      EXPECT_GE(scatter, 0.90 * of) << n << " " << sd;
    }
}

}  // namespace
}  // namespace fortitor::fatigue::staircase_test
