// What a person must see of a spectrum: each threshold from both sides.
#include <gtest/gtest.h>
#include <unistd.h>

#include <cmath>
#include <filesystem>
#include <fstream>
#include <set>

#include "core/spectrum/spectrum.h"
#include "tests/c_text.h"

namespace fortitor::spectrum::spectrum_findings_test {
namespace {

std::set<std::string> codes(const Spectrum& s) {
  std::set<std::string> out;
  for (const Finding& f : evaluation_of(s, {}).findings) out.insert(f.code);
  return out;
}

// A sum of cycles with nothing to say about.
Spectrum plain() {
  Spectrum s;
  s.together.ranges.assign(1000, 50);
  s.together.damage = 1e-6;
  return s;
}

TEST(SpectrumFindings, LossOfPeaksFromFivePercent) {
  Spectrum s = plain();
  s.together.peak_loss = 0.05;
  EXPECT_EQ(codes(s), std::set<std::string>{});
  s.together.peak_loss = 0.0501;
  EXPECT_EQ(codes(s), std::set<std::string>{"peaks-lost"});
}

TEST(SpectrumFindings, DamageOmittedFromOnePercent) {
  Spectrum s = plain();
  s.together.damage_omitted = 0.01;
  EXPECT_EQ(codes(s), std::set<std::string>{});
  s.together.damage_omitted = 0.0101;
  EXPECT_EQ(codes(s), std::set<std::string>{"cut-deep"});
}

TEST(SpectrumFindings, ARangeOfLessThanOneCycle) {
  Spectrum s = plain();
  s.settings.p = 0.002;
  s.together.ranges.assign(499, 50);
  EXPECT_EQ(codes(s), std::set<std::string>{"few-cycles"});
  s.together.ranges.assign(500, 50);
  EXPECT_EQ(codes(s), std::set<std::string>{});
  s.settings.p = 0.01;  // a larger share needs fewer cycles
  s.together.ranges.assign(99, 50);
  EXPECT_EQ(codes(s), std::set<std::string>{"few-cycles"});
  s.together.ranges.assign(100, 50);
  EXPECT_EQ(codes(s), std::set<std::string>{});
}

TEST(SpectrumFindings, EveryShareHasItsOwnLeastCount) {
  Spectrum s = plain();
  s.settings.p = 1e-4;
  EXPECT_EQ(codes(s), std::set<std::string>{"few-cycles"}) << "1000 cycles hold no range that one in 10 000 exceeds";
  s.together.ranges.assign(10000, 50);
  EXPECT_EQ(codes(s), std::set<std::string>{});
}

TEST(SpectrumFindings, WeeksThatAreNotAlike) {
  Spectrum s = plain();
  s.weeks.resize(2);
  s.weeks[0].range_p = s.weeks[1].range_p = s.weeks[0].range_max = s.weeks[1].range_max = 50;
  // (b − a)/2 over their mean.
  const auto weeks = [&](double a, double b) {
    s.weeks[0].range_equivalent = a;
    s.weeks[1].range_equivalent = b;
    return codes(s);
  };
  EXPECT_EQ(weeks(90.1, 109.9), std::set<std::string>{"weeks"});
  EXPECT_EQ(weeks(89.9, 110.1), (std::set<std::string>{"weeks", "weeks-differ"}));
  s.weeks.resize(1);
  EXPECT_EQ(codes(s), std::set<std::string>{}) << "one week is like itself";
}

TEST(SpectrumFindings, ADriveThatDoesAnotherDamage) {
  Spectrum s = plain();
  s.drive.values = {0, 1, 0};
  s.drive.source_per_transition = 1e-9;
  const auto drive = [&](double damage) {
    s.drive.damage_per_transition = damage;
    return codes(s);
  };
  EXPECT_EQ(drive(1.099e-9), std::set<std::string>{});
  EXPECT_EQ(drive(1.101e-9), std::set<std::string>{"drive-differs"});
  EXPECT_EQ(drive(0.901e-9), std::set<std::string>{});
  EXPECT_EQ(drive(0.899e-9), std::set<std::string>{"drive-differs"});
  s.drive.source_per_transition = 0;  // nothing to hold it against
  EXPECT_EQ(codes(s), std::set<std::string>{});
}

TEST(SpectrumFindings, NoDamageAtAllIsSaid) {
  Spectrum s = plain();
  s.together.damage = 0;
  EXPECT_EQ(codes(s), std::set<std::string>{"no-damage"});
  s.together.ranges.clear();
  EXPECT_EQ(codes(s).count("no-damage"), 0u) << "no cycle, no word on its damage";
}

TEST(SpectrumFindings, BlocksThatRepeatTheDamage) {
  Spectrum s = plain();
  s.settings.length = 5000;
  s.study = {{1000, 1, 0.9, 1.1, 12, 20}, {10000, 1, 0.97, 1.03, 20, 20}};
  const Evaluation e = evaluation_of(s, {});
  ASSERT_NE(e.finding("block-length"), nullptr);
  EXPECT_EQ(e.finding("block-length")->severity, Severity::note);
  EXPECT_NE(e.finding("block-length")->message.find("The drive is shorter"), std::string::npos);
  s.settings.length = 10000;
  EXPECT_EQ(evaluation_of(s, {}).finding("block-length")->message.find("The drive is shorter"), std::string::npos);
  s.study.pop_back();
  EXPECT_EQ(evaluation_of(s, {}).finding("block-length")->severity, Severity::check);
}

class MeasuredFindings : public testing::Test {
 protected:
  void SetUp() override {
    path_ = (std::filesystem::temp_directory_path() / ("fortitor-findings-" + std::to_string(::getpid()) + ".csv"))
                .string();
  }
  void TearDown() override { std::filesystem::remove(path_); }
  // Of 2000 samples at 20 Hz so many were not measured.
  std::set<std::string> measured(int missing, double cut = 2) {
    std::ofstream out(path_);
    out << "strain\n";
    for (int i = 0; i < 2000; ++i)
      out << (i >= 100 && i < 100 + missing ? "nan" : c_number(200 * std::sin(i / 9.0))) << "\n";
    out.close();
    Settings set;
    fatigue::SignalSpec spec;
    spec.files = {path_};
    spec.rate = 20;
    set.weeks = {spec};
    set.cut = cut;
    Spectrum s;
    EXPECT_TRUE(compute(s, set, {.until = ChainStep::cut}));
    return codes(s);
  }
  std::string path_;
};

TEST_F(MeasuredFindings, LittleMeasuredFromAFifth) {
  EXPECT_EQ(measured(400).count("little-measured"), 0u);
  EXPECT_EQ(measured(401).count("little-measured"), 1u);
  EXPECT_EQ(measured(401).count("gaps"), 1u);
  EXPECT_EQ(measured(0).count("gaps"), 0u);
}

TEST_F(MeasuredFindings, ACutAtHalfTheRateSmoothsNothing) {
  EXPECT_EQ(measured(0, 9.9).count("not-smoothed"), 0u);
  EXPECT_EQ(measured(0, 10).count("not-smoothed"), 1u);
  EXPECT_EQ(measured(0, 0).count("not-smoothed"), 0u) << "none was asked for";
}

}  // namespace
}  // namespace fortitor::spectrum::spectrum_findings_test
