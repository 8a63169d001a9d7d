// Files of samples: both widths, several files as one, what was not measured, clocks with gaps, and every refusal.
#include "core/fatigue/signal.h"

#include <unistd.h>

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <cstring>
#include <filesystem>
#include <fstream>
#include <limits>

namespace fortitor::fatigue::signal_test {
namespace {

constexpr double kInfinite = std::numeric_limits<double>::infinity();

class SignalFile : public testing::Test {
 protected:
  void SetUp() override {
    folder_ = std::filesystem::temp_directory_path() / ("fortitor-signal-" + std::to_string(::getpid()));
    std::filesystem::create_directories(folder_);
  }
  void TearDown() override { std::filesystem::remove_all(folder_); }
  std::string text(const std::string& name, const std::string& content) {
    const std::string path = (folder_ / name).string();
    std::ofstream(path, std::ios::binary) << content;
    return path;
  }
  template <class T>
  std::string samples(const std::string& name, const std::vector<T>& x) {
    return text(name, std::string(reinterpret_cast<const char*>(x.data()), x.size() * sizeof(T)));
  }
  std::filesystem::path folder_;
};

std::vector<double> all(const SignalSpec& spec) {
  const auto s = open_signal(spec);
  EXPECT_TRUE(s) << (s ? "" : s.error().message);
  if (!s) return {};
  std::vector<double> out((*s)->size());
  const auto done = (*s)->read(0, out.size(), out.data());
  EXPECT_TRUE(done);
  return out;
}

std::string refusal(const SignalSpec& spec) {
  const auto s = open_signal(spec);
  return s ? "" : s.error().message;
}

void expect_samples(const std::vector<double>& got, const std::vector<double>& wanted) {
  ASSERT_EQ(got.size(), wanted.size());
  for (size_t i = 0; i < got.size(); ++i) {
    if (std::isnan(wanted[i]))
      EXPECT_TRUE(std::isnan(got[i])) << i << ": " << got[i];
    else
      EXPECT_EQ(got[i], wanted[i]) << i;
  }
}

TEST_F(SignalFile, BothWidthsScaledAndWithoutWhatWasNotMeasured) {
  const float off = 999.9f;
  SignalSpec four{.files = {samples<float>("a.f32", {1, -2, off, 3.5f, float(kInfinite), -float(kInfinite), NAN, 0})},
                  .rate = 10,
                  .scale = 2,
                  .sentinel = 999.9};
  const double gone = NAN;
  expect_samples(all(four), {2, -4, gone, 7, gone, gone, gone, 0});
  SignalSpec eight{
      .files = {samples<double>("a.F64", {1, -2, 999.9, 3.5, kInfinite})}, .rate = 10, .scale = -1, .sentinel = 999.9};
  expect_samples(all(eight), {-1, 2, gone, -3.5, gone});
  eight.sentinel.reset();
  expect_samples(all(eight), {-1, 2, -999.9, -3.5, gone});
}

TEST_F(SignalFile, SeveralFilesAreOneSignalReadFromAnywhere) {
  std::vector<double> first(70000), second(3), third(80000);  // longer than what is read at once
  for (size_t i = 0; i < first.size(); ++i) first[i] = double(i);
  for (size_t i = 0; i < second.size(); ++i) second[i] = 70000.0 + double(i);
  for (size_t i = 0; i < third.size(); ++i) third[i] = 70003.0 + double(i);
  const auto s =
      open_signal({.files = {samples("1.f64", first), samples("2.f64", second), samples("3.f64", third)}, .rate = 100});
  ASSERT_TRUE(s);
  EXPECT_EQ((*s)->size(), 150003u);
  EXPECT_EQ((*s)->rate(), 100);
  for (const auto& [from, count] :
       {std::pair<size_t, size_t>{0, 150003}, {69999, 5}, {70001, 1}, {5, 65536}, {150002, 1}, {69000, 70000}}) {
    std::vector<double> out(count, -1);
    ASSERT_TRUE((*s)->read(from, count, out.data()));
    for (size_t i = 0; i < count; ++i) ASSERT_EQ(out[i], double(from + i)) << from << " " << count;
  }
}

TEST_F(SignalFile, AFileCutWhileItIsReadIsNamedWithItsSample) {
  const std::string path = samples<double>("cut.f64", {1, 2, 3, 4});
  const auto s = open_signal({.files = {path}, .rate = 10});
  ASSERT_TRUE(s);
  std::filesystem::resize_file(path, 16);
  double out[4];
  EXPECT_TRUE((*s)->read(0, 2, out));
  const auto done = (*s)->read(1, 3, out);
  ASSERT_FALSE(done);
  EXPECT_NE(done.error().message.find(path + ": could not be read at sample 1"), std::string::npos)
      << done.error().message;
}

TEST_F(SignalFile, AColumnIsNamedCountedOrTheLastThatIsNoTime) {
  const std::string path = text("c.csv", "Zeit,left,right\n0,1,10\n0.1,2,20\n0.2,3,30\n");
  SignalSpec spec{.files = {path}};
  expect_samples(all(spec), {10, 20, 30});
  spec.format = "csv";  // said beside the ending that says it too
  expect_samples(all(spec), {10, 20, 30});
  spec.format.clear();
  spec.column = "left";
  expect_samples(all(spec), {1, 2, 3});
  spec.column = "3";
  expect_samples(all(spec), {10, 20, 30});
  for (const char* none : {"4", "0", "middle", "2x", "-1"}) {
    spec.column = none;
    EXPECT_EQ(refusal(spec), path + ": has no column “" + std::string(none) + "”; it has Zeit, left, right.");
  }
  spec.column = "";
  spec.files = {text("last.csv", "strain;Time (s)\n5;0\n6;0,5\n7;1\n")};  // the time comes last
  expect_samples(all(spec), {5, 6, 7});
  EXPECT_EQ((*open_signal(spec))->rate(), 2);
}

TEST_F(SignalFile, TheClockGivesTheRateAndItsGaps) {
  const double gone = NAN;
  SignalSpec spec{.files = {text("t.csv", "t,e\n0,1\n0,1.5\n0.0333,2\n0.0667,3\n0.2,4\n")}, .scale = 10, .sentinel = 3};
  // Two rows at one instant: the later stands; 1/0.0333 is a rate of 30; three samples are missing before the last.
  const auto s = open_signal(spec);
  ASSERT_TRUE(s);
  EXPECT_EQ((*s)->rate(), 30);
  expect_samples(all(spec), {15, 20, gone, gone, gone, gone, 40});
  spec.rate = 10;  // said, not taken from the clock
  expect_samples(all(spec), {10, 15, 20, gone, 40});
  // Slower than once a second, and a rate that is no whole number.
  EXPECT_NEAR((*open_signal({.files = {text("slow.csv", "time,e\n0,1\n4,2\n8,3\n")}}))->rate(), 0.25, 1e-12);
  EXPECT_NEAR((*open_signal({.files = {text("odd.csv", "time,e\n0,1\n0.4,2\n")}}))->rate(), 2.5, 1e-12);
  // A row whose time is not a number is passed over.
  expect_samples(all({.files = {text("hole.csv", "time,e\n0,1\n0.5,2\n,9\n1,3\n")}}), {1, 2, 3});
}

TEST_F(SignalFile, TheClockRunsOnOverFiles) {
  SignalSpec spec{.files = {text("1.csv", "t,e\n0,1\n1,2\n"), text("2.csv", "t,e\n4,3\n5,4\n")}};
  expect_samples(all(spec), {1, 2, NAN, NAN, 3, 4});
  spec.files = {spec.files[1], spec.files[0]};
  EXPECT_EQ(refusal(spec), spec.files[1] + ": row 3: time runs backwards.");
}

TEST_F(SignalFile, WhatCannotBeReadIsRefusedInOneSentence) {
  const std::string good = samples<double>("good.f64", {1, 2}), csv = text("plain.csv", "e\n1\n2\n");
  EXPECT_EQ(refusal({.files = {}, .rate = 1}), "No signal is named.");
  EXPECT_EQ(refusal({.files = {good}}), good + ": the rate is not known: give it in samples a second.");
  EXPECT_EQ(refusal({.files = {csv}}), csv + ": the rate is not known: give it in samples a second.");
  for (double rate : {-1.0, double(NAN), kInfinite})
    EXPECT_EQ(refusal({.files = {good}, .rate = rate}), "The rate must be more than 0 samples a second.");
  for (double scale : {0.0, double(NAN), kInfinite})
    EXPECT_EQ(refusal({.files = {good}, .rate = 1, .scale = scale}), "The scale must be a number other than 0.");
  EXPECT_EQ(refusal({.files = {good}, .format = "f16", .rate = 1}), "The format “f16” is none of csv, f32, f64.");
  EXPECT_NE(refusal({.files = {good + "x"}, .format = "f64", .rate = 1}).find("cannot be opened"), std::string::npos);
  EXPECT_EQ(refusal({.files = {folder_.string()}, .format = "f64", .rate = 1}),
            folder_.string() + ": is no file of samples.");
  const std::string half = text("half.f64", "123456789"), empty = text("empty.f32", "");
  EXPECT_EQ(refusal({.files = {half}, .rate = 1}), half + ": 9 bytes are no whole number of samples of 8 bytes.");
  EXPECT_EQ(refusal({.files = {empty}, .rate = 1}), empty + ": 0 bytes are no whole number of samples of 4 bytes.");
  const std::string far = text("far.csv", "t,e\n0,1\n1,2\n2000000002,3\n");
  EXPECT_EQ(refusal({.files = {far}}),
            far + ": row 3: time jumps by 2000000000 samples, a hundred times what was recorded.");
  expect_samples(all({.files = {csv}, .rate = 1, .scale = 3}), {3, 6});
}

TEST_F(SignalFile, ReadingCanBeStoppedAndTellsItsShare) {
  const std::string a = text("1.csv", "e\n1\n"), b = text("2.csv", "e\n2\n");
  std::vector<double> shares;
  ASSERT_TRUE(open_signal({.files = {a, b}, .rate = 1}, [&](double share) {
    shares.push_back(share);
    return true;
  }));
  ASSERT_GE(shares.size(), 2u);
  EXPECT_TRUE(std::is_sorted(shares.begin(), shares.end()));
  EXPECT_DOUBLE_EQ(shares.back(), 1);
  EXPECT_LE(shares.front(), 0.5);
  const auto s = open_signal({.files = {a, b}, .rate = 1}, [](double) { return false; });
  ASSERT_FALSE(s);
  EXPECT_EQ(s.error().message, "The reading was stopped.");
}

}  // namespace
}  // namespace fortitor::fatigue::signal_test
