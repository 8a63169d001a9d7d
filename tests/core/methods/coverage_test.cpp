// The short form of the coverage study (bench/coverage): value ± U holds the truth in at least 93 of 100 pieces for
// every key, within what so few pieces can tell.
#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>

#include "tests/coverage/lab.h"

namespace fortitor::coverage::coverage_test {
namespace {

constexpr size_t kStudies = 31;

class Coverage : public testing::TestWithParam<size_t> {};

TEST_P(Coverage, HoldsTheTruth) {
  const Study& study = studies()[GetParam()];
  constexpr int kPieces = 60;
  const Outcomes out = run(study, kPieces, 1000);
  ASSERT_FALSE(out.keys.empty());
  // Of 60 pieces at 93 of 100, fewer than 50 hold in less than one case in a hundred thousand.
  for (const auto& [key, h] : out.keys) {
    const bool may_lack = std::find(study.may_lack.begin(), study.may_lack.end(), key) != study.may_lack.end();
    EXPECT_LE(h.absent, may_lack ? kPieces / 4 : 0) << study.name << ": " << key << " is not reported";
    EXPECT_EQ(h.bare, 0) << study.name << ": " << key << " has no uncertainty";
    EXPECT_GE(h.held, h.of * 5 / 6) << study.name << ": " << key << " of " << h.of;
    // Nor so wide that it says nothing: the errors are of the size that is stated.
    if (h.of > 0) {
      EXPECT_LT(std::sqrt(h.error2 / h.of), 0.8) << study.name << ": " << key;
    }
  }
}

INSTANTIATE_TEST_SUITE_P(OfEveryMethod, Coverage, testing::Range<size_t>(0, kStudies), [](const auto& test) {
  std::string name;
  for (char c : std::string(studies()[test.param].name)) name += std::isalnum(static_cast<unsigned char>(c)) ? c : '_';
  return name;
});

TEST(Coverage, BoundsOfAPopulationLieBelowIt) {
  constexpr int kSamples = 2000;
  // 95 of 100 within two of them; of so many samples a share is known to one and a half.
  for (const BasisHeld& h : basis_held(kSamples)) {
    EXPECT_NEAR(h.a, 0.95, 0.035) << h.population << ", " << h.n;
    EXPECT_NEAR(h.b, 0.95, 0.035) << h.population << ", " << h.n;
  }
}

TEST(Coverage, EveryStudyIsTried) {
  EXPECT_EQ(studies().size(), kStudies);
  EXPECT_NE(find_study("torsion-bar"), nullptr);
  EXPECT_EQ(find_study("no such thing"), nullptr);
}

TEST(Coverage, ThePiecesAreTheSameEveryTime) {
  for (const Study& s : studies()) {
    const Piece a = s.make(7), b = s.make(7), c = s.make(8);
    EXPECT_EQ(a.truth, b.truth) << s.name;
    EXPECT_NE(a.truth, c.truth) << s.name;
  }
}

}  // namespace
}  // namespace fortitor::coverage::coverage_test
