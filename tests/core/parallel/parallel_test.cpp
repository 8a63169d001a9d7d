#include "core/parallel.h"

#include <gtest/gtest.h>

#include <numeric>

namespace fortitor::parallel_test {
namespace {

TEST(Crew, GivesEveryResultOfWhatItWasGiven) {
  std::vector<std::future<int>> coming;
  std::atomic<int> done{0};
  {
    Crew crew(3);
    for (int i = 0; i < 500; ++i)
      coming.push_back(crew.start([i, &done] {
        ++done;
        return i * i;
      }));
  }  // ends when all of it is done
  EXPECT_EQ(done, 500);
  for (int i = 0; i < 500; ++i) EXPECT_EQ(coming[size_t(i)].get(), i * i);
}

TEST(Crew, WhatWasThrownComesToWhoAsks) {
  Crew crew(2);
  auto bad = crew.start([]() -> int { throw std::runtime_error("no"); });
  auto good = crew.start([] { return 4; });
  EXPECT_THROW(bad.get(), std::runtime_error);
  EXPECT_EQ(good.get(), 4);
}

// Also with fewer hands than wait: what is waited for was given before.
TEST(Crew, WorkMayWaitForWhatCameBefore) {
  for (const size_t hands : {1, 2, 5}) {
    Crew crew(hands);
    std::shared_future<int> before = crew.start([] { return 1; }).share();
    std::vector<std::future<int>> after;
    for (int i = 0; i < 20; ++i) after.push_back(crew.start([before] { return before.get() + 1; }));
    for (auto& one : after) EXPECT_EQ(one.get(), 2);
  }
}

TEST(Ahead, InOrderAndNeverFurtherThanItMay) {
  std::atomic<int> begun{0};
  Crew crew(3);
  Ahead<int> some(crew, 100, 8, [&](size_t i) {
    ++begun;
    return int(i);
  });
  for (int i = 0; i < 100; ++i) {
    EXPECT_EQ(some.next(), i);
    EXPECT_LE(begun, i + 8);
  }
}

TEST(Ahead, MayBeLetGoHalfway) {
  Crew crew(2);
  Ahead<std::vector<int>> some(crew, 50, 6, [](size_t i) { return std::vector<int>(1000, int(i)); });
  EXPECT_EQ(some.next().front(), 0);
}

TEST(InParallel, EachOnceAndTheFirstErrorEndsIt) {
  std::vector<int> times(1000);
  ASSERT_TRUE(in_parallel(times.size(), 4, {}, [&](size_t i) -> Outcome<Done> {
    ++times[i];
    return Done{};
  }));
  EXPECT_EQ(std::accumulate(times.begin(), times.end(), 0), 1000);
  std::atomic<int> done{0};
  const auto wrong = in_parallel(100000, 2, {}, [&](size_t i) -> Outcome<Done> {
    ++done;
    if (i == 5) return InputError{"five", {}};
    return Done{};
  });
  ASSERT_FALSE(wrong);
  EXPECT_EQ(wrong.error().message, "five");
  EXPECT_FALSE(in_parallel(
      10, 2, [](double) { return false; }, [](size_t) -> Outcome<Done> { return Done{}; }));
  EXPECT_TRUE(in_parallel(0, 0, {}, [](size_t) -> Outcome<Done> { return Done{}; }));
}

}  // namespace
}  // namespace fortitor::parallel_test
