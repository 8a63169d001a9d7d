// A run as it grows: nothing is lost, and the live view costs the same after eight hours as after a minute.
#include "core/standin/recording.h"

#include <gtest/gtest.h>

#include <cmath>

namespace fortitor::recording_test {
namespace {

std::vector<MachineChannel> channels() {
  return {{"time", "time", Dimension::time},
          {"force", "force", Dimension::force},
          {"extension", "extension", Dimension::length},
          {"angle", "angle", Dimension::angle}};
}

// `rows` samples from row `from` on; the last channel never gives a reading.
MachineColumns part(size_t from, size_t rows) {
  MachineColumns c(4);
  for (size_t i = from; i < from + rows; ++i) {
    c[0].push_back(0.001 * double(i));
    c[1].push_back(100 * std::sin(double(i) * 1e-4) + (i == 77777 ? 5000 : 0) - (i == 99999 ? 5000 : 0));
    c[2].push_back(double(i));
    c[3].push_back(NAN);
  }
  return c;
}

TEST(Recording, GivesBackEverySample) {
  Recording r(channels());
  size_t rows = 0;
  for (size_t n : {1u, 50u, 65485u, 1u, 65536u, 3u}) {
    r.append(part(rows, n));
    rows += n;
    EXPECT_EQ(r.rows(), rows);
  }
  const MachineColumns tail = r.since(rows - 5);
  ASSERT_EQ(tail.size(), 4u);
  ASSERT_EQ(tail[0].size(), 5u);
  EXPECT_EQ(tail[2].back(), double(rows - 1));
  EXPECT_TRUE(r.since(rows)[0].empty());
  const SamplesPtr all = r.take();
  ASSERT_EQ(all->channels.size(), 3u) << "a channel without a reading is left out";
  for (const Channel& c : all->channels) ASSERT_EQ(c.values.size(), rows) << c.name;
  for (size_t i = 0; i < rows; ++i) ASSERT_EQ(all->find("extension")->values[i], double(i));
  EXPECT_EQ(r.rows(), 0u) << "nothing is kept twice";
  EXPECT_TRUE(r.live()->channels.empty() || r.live()->size() == 0);
}

TEST(Recording, TheLiveViewStaysSmallAndKeepsTheEnds) {
  Recording r(channels());
  size_t rows = 0, largest = 0;
  while (rows < 1000000) {
    r.append(part(rows, 160));
    rows += 160;
    if (rows % 16000 != 0) continue;
    const SamplesPtr live = r.live();
    largest = std::max(largest, live->size());
    const auto& t = live->find("time")->values;
    EXPECT_EQ(t.front(), 0);
    EXPECT_NEAR(t.back(), 0.001 * double(rows - 1), 1e-9) << "the newest sample is in it";
    for (size_t i = 1; i < t.size(); ++i) ASSERT_GT(t[i], t[i - 1]) << "in order, none twice";
  }
  EXPECT_LE(largest, Recording::kLive);
  EXPECT_GT(largest, Recording::kLive / 3);
  const SamplesPtr at_last = r.live();
  const auto& force = at_last->find("force")->values;
  EXPECT_GT(*std::max_element(force.begin(), force.end()), 4000) << "a single sample at the top is seen";
  EXPECT_LT(*std::min_element(force.begin(), force.end()), -4000);
}

TEST(Recording, ShortRunsAreShownWhole) {
  Recording r(channels());
  r.append(part(0, 1000));
  EXPECT_EQ(r.live()->size(), 1000u);
  EXPECT_EQ(r.live()->find("extension")->values[999], 999);
}

TEST(Recording, OddPartsAreTaken) {
  Recording none;
  none.append(part(0, 10));
  EXPECT_EQ(none.rows(), 0u);
  Recording r(channels());
  r.append({});
  EXPECT_EQ(r.rows(), 0u);
  EXPECT_EQ(r.live()->size(), 0u);
  MachineColumns fewer = part(0, 10);
  fewer.resize(2);  // a machine that leaves a channel out
  r.append(fewer);
  EXPECT_EQ(r.rows(), 10u);
  EXPECT_EQ(r.live()->channels.size(), 2u);
  r.append(part(10, 10));
  const SamplesPtr all = r.take();
  EXPECT_TRUE(std::isnan(all->find("extension")->values[5]));
  EXPECT_EQ(all->find("extension")->values[15], 15);
}

}  // namespace
}  // namespace fortitor::recording_test
