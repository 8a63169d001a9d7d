// The tour of three minutes: walked by Next alone, by doing what each step asks for, and left at any step.
#include <QPushButton>

#include "app/guide/tour.h"
#include "core/practice/practice.h"
#include "tests/app/window_fixture.h"

namespace fortitor::tour_test {
namespace {

class TourOf : public WindowTest {
 protected:
  Tour* tour() { return window_->part<Tour>(); }
  void push(const char* key) {
    ASSERT_NE(find<QPushButton>(key), nullptr) << key;
    find<QPushButton>(key)->click();
    QCoreApplication::processEvents();
  }
  bool is_at(int step) {
    return until([&] { return tour()->step() == step; });
  }
  size_t practised() {
    const auto job = bench_.book()->job_by_code(practice::kJob);
    size_t pieces = 0;
    if (job)
      for (const SeriesRow& s : bench_.book()->series(job->id)) pieces += bench_.book()->specimens(s.id).size();
    return pieces;
  }
};

TEST_F(TourOf, NextAloneWalksEveryPageWithAFrameRoundOfWhatIsSpoken) {
  window_->open("tour");
  const int n = int(tour_steps().size());
  for (int i = 0; i < n; ++i) {
    ASSERT_TRUE(is_at(i)) << i;
    EXPECT_EQ(window_->desk_in_hand(), tour_steps()[size_t(i)].desk) << i;
    if (tour_steps()[size_t(i)].stage >= 0) {
      EXPECT_EQ(int(bench_.stage()), tour_steps()[size_t(i)].stage);
      EXPECT_TRUE(practice::is_practice(bench_.record()));
    }
    EXPECT_TRUE(until([&] { return tour()->framed() != nullptr; })) << tour_steps()[size_t(i)].title;
    push("tour-next");
  }
  EXPECT_FALSE(tour()->on());
  EXPECT_FALSE(tour()->isVisible());
  EXPECT_EQ(practised(), 1u);
}

TEST_F(TourOf, FollowsWhoDoesWhatItAsksFor) {
  window_->open("tour");
  window_->open("practice");
  ASSERT_TRUE(is_at(1));
  push("practice-begin");
  ASSERT_TRUE(is_at(2));
  bench_.set_stage(Stage::measure);
  ASSERT_TRUE(is_at(3));
  bench_.set_stage(Stage::sign_off);  // a look ahead leaves it where it was
  QCoreApplication::processEvents();
  EXPECT_EQ(tour()->step(), 3);
  push("tour-next");
  EXPECT_EQ(bench_.stage(), Stage::set_up);
  push("tour-back");
  EXPECT_EQ(bench_.stage(), Stage::measure);
  EXPECT_EQ(practised(), 1u);
}

TEST_F(TourOf, IsLeftAtAnyStepAndBegunAnew) {
  for (int steps : {0, 1, 2, 5}) {
    window_->open("tour");
    for (int i = 0; i < steps; ++i) push("tour-next");
    ASSERT_TRUE(is_at(steps));
    push("tour-leave");
    EXPECT_FALSE(tour()->on());
    EXPECT_EQ(tour()->framed(), nullptr);
    window_->open("kit");
    EXPECT_FALSE(tour()->isVisible());
  }
}

}  // namespace
}  // namespace fortitor::tour_test
