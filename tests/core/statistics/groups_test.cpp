// Groups of values against values made with scipy 1.10 (tests/reference/statistics.py) and counts by hand.
#include "core/statistics/groups.h"

#include <gtest/gtest.h>

#include <cmath>

namespace fortitor::statistics::groups_test {
namespace {

const Groups kThree = {
    {24.5, 23.5, 26.4, 27.1, 29.9}, {28.4, 34.2, 29.5, 32.2, 30.1}, {26.1, 28.3, 24.3, 26.2, 27.8, 25.9, 27.0}};

TEST(Groups, Anova) {
  const auto a = anova(kThree);
  ASSERT_TRUE(a);
  EXPECT_NEAR(a->f, 8.693255520388877, 1e-12);
  EXPECT_NEAR(a->p, 0.0035131359610412003, 1e-14);
  EXPECT_EQ(a->dof_between, 2);
  EXPECT_EQ(a->dof_within, 14);
  // The square of Student's t with equal variances.
  const auto two =
      anova({{512.3, 518.9, 509.4, 521.7, 515.2, 530.8, 511.6, 517.3}, {498.2, 505.1, 511.9, 489.7, 501.4, 507.8}});
  ASSERT_TRUE(two);
  EXPECT_NEAR(two->f, 14.193917971021989, 1e-11);
}

TEST(Groups, AnovaOfAwkwardGroups) {
  EXPECT_FALSE(anova({}));
  EXPECT_FALSE(anova({{1, 2, 3}}));
  EXPECT_FALSE(anova({{1}, {2}})) << "no degree of freedom within";
  EXPECT_FALSE(anova({{5, 5, 5}, {5, 5}})) << "no scatter";
  EXPECT_FALSE(anova({{1, 1}, {2, 2}}));
  ASSERT_TRUE(anova({{1, 2}, {}, {3, 5}}));
  EXPECT_EQ(anova({{1, 2}, {}, {3, 5}})->dof_between, 1);
  EXPECT_NEAR(anova({{1e9 + 1, 1e9 + 2}, {1e9 + 3, 1e9 + 5}})->f, anova({{1, 2}, {3, 5}})->f, 1e-6);
}

TEST(Groups, StudentizedRange) {
  EXPECT_NEAR(studentized_range(3.5, 3, 10), 0.9228966891615896, 1e-9);
  EXPECT_NEAR(studentized_range(3.5, 3, 14), 0.9350661532351088, 1e-9);
  EXPECT_NEAR(studentized_range(1.0, 2, 5), 0.48891591956971947, 1e-9);
  EXPECT_NEAR(studentized_range(4.2, 8, 60), 0.9233186286087863, 1e-9);
  EXPECT_NEAR(studentized_range(6, 5, 1), 0.7013433426993427, 1e-8);
  EXPECT_NEAR(studentized_range(2.2, 12, 200), 0.07746719500493474, 1e-9);
  EXPECT_NEAR(studentized_range_quantile(0.95, 3, 10), 3.876776750013158, 1e-8);
  EXPECT_NEAR(studentized_range_quantile(0.95, 4, 20), 3.9582935609453846, 1e-8);
  EXPECT_NEAR(studentized_range_quantile(0.99, 10, 7), 8.367376165660312, 1e-7);
  EXPECT_NEAR(studentized_range_quantile(0.9, 6, 1000), 3.666287858811781, 1e-8);
  // Two means are Student's t: q = √2·t.
  EXPECT_NEAR(studentized_range_quantile(0.95, 2, 9), std::sqrt(2.0) * t_quantile(0.975, 9), 1e-8);
  EXPECT_NEAR(studentized_range(3, 3, 1e7), studentized_range(3, 3, 9e5), 1e-6);
  EXPECT_EQ(studentized_range(0, 3, 5), 0);
  for (double bad :
       {studentized_range(-1, 3, 5), studentized_range(1, 1, 5), studentized_range(1, 3, 0.5),
        studentized_range(NAN, 3, 5), studentized_range_quantile(1, 3, 5), studentized_range_quantile(0, 3, 5)})
    EXPECT_TRUE(std::isnan(bad));
}

TEST(Groups, TukeyKramer) {
  const auto pairs = tukey_kramer(kThree);
  ASSERT_EQ(pairs.size(), 3u);
  EXPECT_NEAR(pairs[0].p, 0.0074522, 1e-7);
  EXPECT_NEAR(pairs[1].p, 0.97849375, 1e-7);
  EXPECT_NEAR(pairs[2].p, 0.00625079, 1e-7);
  EXPECT_NEAR(pairs[0].of_difference.low, -7.93256331, 1e-7);
  EXPECT_NEAR(pairs[0].of_difference.high, -1.26743669, 1e-7);
  EXPECT_NEAR(pairs[1].of_difference.low, -3.31963981, 1e-7) << "unequal numbers";
  EXPECT_NEAR(pairs[2].of_difference.high, 7.45106839, 1e-7);
  EXPECT_EQ(pairs[2].first, 1u);
  EXPECT_EQ(pairs[2].second, 2u);
  EXPECT_TRUE(tukey_kramer({{1, 2}}).empty());
}

TEST(Groups, MannWhitneyExactly) {
  const auto w = mann_whitney(kThree[0], kThree[1]);
  ASSERT_TRUE(w && w->exact);
  EXPECT_EQ(w->u, 2);
  EXPECT_NEAR(w->p, 0.031746031746031744, 1e-15);
  EXPECT_EQ(mann_whitney(kThree[0], kThree[2])->p, 1);
  EXPECT_NEAR(
      mann_whitney({512.3, 518.9, 509.4, 521.7, 515.2, 530.8, 511.6, 517.3}, {498.2, 505.1, 511.9, 489.7, 501.4, 507.8})
          ->p,
      0.002664002664002664, 1e-15);
  EXPECT_EQ(mann_whitney({1}, {2})->p, 1) << "two values say nothing";
}

TEST(Groups, MannWhitneyWithTiesOrMany) {
  const auto w = mann_whitney({1, 2, 2, 3, 5, 5, 7}, {2, 4, 5, 6, 8, 9});
  ASSERT_TRUE(w);
  EXPECT_FALSE(w->exact);
  EXPECT_EQ(w->u, 11);
  EXPECT_NEAR(w->p, 0.16996790760227598, 1e-12);
  EXPECT_FALSE(mann_whitney({}, {1}));
  EXPECT_FALSE(mann_whitney({2, 2}, {2}));
  std::vector<double> many, more;
  for (int i = 0; i < 21; ++i) many.push_back(i), more.push_back(i + 5.5);
  EXPECT_FALSE(mann_whitney(many, more)->exact);
  more.resize(19);
  EXPECT_TRUE(mann_whitney(many, more)->exact) << "399 pairs";
}

TEST(Groups, Equivalence) {
  const auto near = equivalence(kThree[0], kThree[2], 3);
  ASSERT_TRUE(near);
  EXPECT_NEAR(near->p, 0.03328937263958378, 1e-13);
  EXPECT_TRUE(near->equivalent);
  EXPECT_GT(near->of_difference.low, -3);
  EXPECT_NEAR(equivalence(kThree[0], kThree[2], 5)->p, 0.0044547379366224075, 1e-14);
  // The 90 % interval lies within the margin exactly where the tests say so.
  for (double margin : {1.0, 2.0, 2.5, 2.7, 2.8, 2.9, 4.0}) {
    const auto e = equivalence(kThree[0], kThree[2], margin);
    EXPECT_EQ(e->equivalent, e->of_difference.low > -margin && e->of_difference.high < margin) << margin;
  }
  EXPECT_FALSE(equivalence(kThree[0], kThree[1], 3)->equivalent);
  EXPECT_FALSE(equivalence({1, 2}, {3, 5}, 0));
  EXPECT_FALSE(equivalence({1}, {3, 5}, 1));
}

TEST(Groups, BoundsByLikelihood) {
  const auto above = [](double v) { return Observation{v, Censoring{true, 0, 0}}; };
  const std::vector<std::vector<Observation>> two = {{{50}, {53}, above(55), {51}, above(56)},
                                                     {{57}, {58}, above(60), {56}, {59}}};
  const auto r = likelihood_ratio(two);
  ASSERT_TRUE(r);
  EXPECT_NEAR(r->means[0], 53.60289293, 1e-5);
  EXPECT_NEAR(r->means[1], 58.3099733, 1e-5);
  EXPECT_NEAR(r->sd, 2.577905000, 1e-5);
  EXPECT_NEAR(r->chi2, 4.565413937, 1e-6);
  EXPECT_NEAR(r->p, 0.03262378944, 1e-7);
  // Without bounds it is the classic likelihood ratio n·ln(total/within).
  const auto plain = likelihood_ratio({{{1.0}, {2.0}, {4.0}}, {{3.0}, {5.0}, {6.0}}});
  ASSERT_TRUE(plain);
  const double within = 14.0 / 3 + 14.0 / 3, between = 2 * 3 * std::pow(7.0 / 6, 2);
  EXPECT_NEAR(plain->chi2, 6 * std::log((within + between) / within), 1e-9);
  EXPECT_FALSE(likelihood_ratio({{{1.0}, {2.0}}}));
  EXPECT_FALSE(likelihood_ratio({{{1.0}}, {{2.0}}}));
  EXPECT_FALSE(likelihood_ratio({{{1.0}, {1.0}}, {{1.0}, {1.0}}}));
}

}  // namespace
}  // namespace fortitor::statistics::groups_test
