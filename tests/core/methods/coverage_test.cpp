// The short form of the coverage study (bench/coverage): value ± U holds the truth in at least 93 of 100 pieces for
// every key, within what so few pieces can tell.
#include <gtest/gtest.h>

#include <cmath>

#include "tests/coverage/lab.h"

namespace fortitor::coverage::coverage_test {
namespace {

class Coverage : public testing::TestWithParam<size_t> {};

TEST_P(Coverage, HoldsTheTruth) {
  const Study& study = studies()[GetParam()];
  constexpr int kPieces = 60;
  const Outcomes out = run(study, kPieces, 1000);
  ASSERT_FALSE(out.keys.empty());
  // Of 60 pieces at 93 of 100, fewer than 50 hold in less than one case in a hundred thousand.
  for (const auto& [key, h] : out.keys) {
    EXPECT_EQ(h.absent, 0) << study.name << ": " << key << " is not reported";
    EXPECT_EQ(h.bare, 0) << study.name << ": " << key << " has no uncertainty";
    EXPECT_GE(h.held, 50) << study.name << ": " << key << " of " << h.of;
    // Nor so wide that it says nothing: the errors are of the size that is stated.
    if (h.of > 0) {
      EXPECT_LT(std::sqrt(h.error2 / h.of), 0.8) << study.name << ": " << key;
    }
  }
}

INSTANTIATE_TEST_SUITE_P(OfEveryMethod, Coverage, testing::Range<size_t>(0, 16), [](const auto& test) {
  std::string name;
  for (char c : std::string(studies()[test.param].name)) name += std::isalnum(static_cast<unsigned char>(c)) ? c : '_';
  return name;
});

TEST(Coverage, EveryStudyIsTried) {
  EXPECT_EQ(studies().size(), 16u);
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
