// A machine's file to its first number: what is found in it, and the one thing that is asked.
#include "core/bench/arrival.h"

#include <gtest/gtest.h>

#include <cmath>

namespace fortitor::arrival_test {
namespace {

std::string pull(const std::string& head) {
  std::string text = head + "Time (s),Load (N),Extension (mm)\n";
  for (int i = 0; i < 400; ++i) {
    const double e = 0.00002 * i * 50, s = std::min(200e3 * 0.00002 * i, 400.0 + 200e3 * 0.000002 * i);
    text += plain_number(0.1 * i, 8) + "," + plain_number(s * 78.54, 8) + "," + plain_number(e, 8) + "\n";
  }
  return text;
}

TEST(Arrival, OnlyTheDiameterIsAsked) {
  auto all = arrivals_of("hb-07.csv", *machine_file(pull("Tensile test\nOperator,R. Vale\nDate,2026-11-24\n")));
  ASSERT_EQ(all.size(), 1u);
  Arrival& a = all.front();
  EXPECT_EQ(a.proposed.method->id, "tension-metal");
  EXPECT_EQ(a.record.specimen_id(), "hb-07") << "the file's name stands in";
  EXPECT_EQ(a.record.operator_name, "R. Vale");
  EXPECT_EQ(a.record.tested_at, "2026-11-24") << "the day of the test, not today";
  EXPECT_EQ(missing_of(a), "its diameter, or width × thickness");
  ASSERT_TRUE(take_size(a, "10 mm"));
  EXPECT_NE(missing_of(a).find("extensometer"), std::string::npos);
  Arrival without = a;
  ASSERT_TRUE(take_size(without, ""));
  EXPECT_EQ(missing_of(without), "") << "nobody is kept from a first number";
  EXPECT_NE(methods::evaluate(without.record, {.uncertainty = false}).find("rm"), nullptr);
  EXPECT_FALSE(take_size(a, "-50 mm"));
  ASSERT_TRUE(take_size(a, "50 mm"));
  EXPECT_EQ(missing_of(a), "");
  EXPECT_FALSE(raw_curve(a).empty());
  const Evaluation e = methods::evaluate(a.record, {.uncertainty = false});
  ASSERT_NE(e.find("rm"), nullptr);
  EXPECT_GT(e.find("rm")->value, 400);
}

TEST(Arrival, WhatTheFileSaysIsNotAsked) {
  auto all = arrivals_of("x.csv", *machine_file(pull("Specimen,HB-9\nDiameter,10.00 mm\nGauge length,50 mm\n")));
  ASSERT_EQ(all.size(), 1u);
  EXPECT_EQ(missing_of(all[0]), "");
  EXPECT_EQ(all[0].record.specimen_id(), "HB-9");
  EXPECT_NEAR(*all[0].record.fields.number("specimen.gauge_length"), 50, 1e-12);
}

TEST(Arrival, SizesAsPeopleTypeThem) {
  Arrival a = arrivals_of("x.csv", *machine_file(pull(""))).front();
  a.without_length = true;
  for (const char* typed : {"12.5 x 3.0 mm", "12.5 × 3 mm", "12.5 mm x 3.0 mm", "12,5 * 3,0"}) {
    ASSERT_TRUE(take_size(a, typed)) << typed;
    EXPECT_NEAR(a.record.fields.readings("specimen.section.width")[0].value.value_or(0), 12.5, 1e-12) << typed;
    EXPECT_NEAR(a.record.fields.readings("specimen.section.thickness")[0].value.value_or(0), 3, 1e-12) << typed;
    EXPECT_EQ(a.record.fields.text("specimen.section.shape"), "flat");
  }
  ASSERT_TRUE(take_size(a, "0.5 x 0.125 in"));
  EXPECT_NEAR(a.record.fields.readings("specimen.section.width")[0].value.value_or(0), 12.7, 1e-12);
  ASSERT_TRUE(take_size(a, "10.02; 10.01; 10.03"));
  EXPECT_EQ(a.record.fields.readings("specimen.section.diameter").size(), 3u);
  for (const char* bad : {"", "ten", "-3 mm", "0 mm", "1 x 2 x 3", "10 N"}) {
    const auto refused = take_size(a, bad);
    ASSERT_FALSE(refused) << bad;
    EXPECT_FALSE(refused.error().message.empty());
  }
}

TEST(Arrival, EveryFileIsTakenAndWhatDidNotMatchSaysWhy) {
  const auto none = arrivals_of("/nowhere/at-all.csv");
  ASSERT_EQ(none.size(), 1u);
  EXPECT_FALSE(none[0].problem.empty());
  const auto odd = arrivals_of("odd.csv", *machine_file("apples,pears\n1,2\n2,3\n3,4\n4,5\n"));
  ASSERT_EQ(odd.size(), 1u);
  EXPECT_NE(odd[0].problem.find("No column is recognised as"), std::string::npos);
  EXPECT_EQ(missing_of(odd[0]), "");
}

}  // namespace
}  // namespace fortitor::arrival_test
