// The same test written another way must give the same answers.
#include <gtest/gtest.h>

#include <algorithm>
#include <numeric>
#include <random>

#include "core/bench/records.h"
#include "core/record/csv.h"
#include "core/record/json.h"
#include "tests/core/methods/tension_curve.h"

namespace fortitor::tension_invariance_test {
namespace {

using testing_help::value;

const std::vector<const char*> kKeys = {"e_modulus", "reh", "rel",     "rp02",      "rm", "agt",
                                        "at",        "ae",  "n_value", "toughness", "a",  "z"};

class Invariance : public testing::TestWithParam<const char*> {
 protected:
  void SetUp() override {
    auto loaded = load_record(std::string(FORTITOR_TEST_DATA "/") + GetParam() + "/record.json");
    ASSERT_TRUE(loaded) << loaded.error().message;
    record_ = *loaded;
    before_ = methods::evaluate(record_);
  }
  Samples copy() const { return *record_.run.samples(); }
  void expect_same(const Samples& changed, double relative) {
    TestRecord r = record_;
    r.run.set_samples(std::make_shared<Samples>(changed));
    const Evaluation after = methods::evaluate(r);
    for (const char* key : kKeys) {
      ASSERT_EQ(before_.find(key) == nullptr, after.find(key) == nullptr) << key;
      if (before_.find(key) != nullptr) {
        EXPECT_NEAR(value(after, key), value(before_, key), relative * std::abs(value(before_, key))) << key;
      }
    }
    EXPECT_EQ(after.verdict, before_.verdict);
  }
  TestRecord record_;
  Evaluation before_;
};

TEST_P(Invariance, RowsInAnyOrder) {
  Samples s = copy();
  std::vector<size_t> order(s.size());
  std::iota(order.begin(), order.end(), 0);
  std::shuffle(order.begin(), order.end(), std::mt19937(5));
  for (Channel& c : s.channels) {
    std::vector<double> v;
    for (size_t i : order) v.push_back(c.values[i]);
    c.values = v;
  }
  expect_same(s, 1e-12);
}

TEST_P(Invariance, EveryRowTwice) {
  Samples s = copy();
  for (Channel& c : s.channels) {
    std::vector<double> v;
    for (double x : c.values) v.insert(v.end(), {x, x});
    c.values = v;
  }
  expect_same(s, 1e-12);
}

TEST_P(Invariance, TensionLoggedNegative) {
  Samples s = copy();
  for (Channel& c : s.channels)
    if (c.name != "time")
      for (double& x : c.values) x = -x;
  expect_same(s, 1e-12);
}

TEST_P(Invariance, EmptyRowsBetween) {
  Samples s = copy();
  for (Channel& c : s.channels) {
    std::vector<double> v;
    for (size_t i = 0; i < c.values.size(); ++i) {
      v.push_back(c.values[i]);
      if (i % 100 == 50) v.push_back(NAN);
    }
    c.values = v;
  }
  expect_same(s, 1e-12);
}

TEST_P(Invariance, ExtensometerNotZeroed) {
  Samples s = copy();
  for (double& x : s.column("extension").values) x += 3.5;
  expect_same(s, 1e-6);
}

TEST_P(Invariance, TimeStartsAnywhere) {
  Samples s = copy();
  for (double& t : s.column("time").values) t += 40000;
  TestRecord& r = record_;
  for (Event& e : r.events) e.at += 40000;
  expect_same(s, 1e-6);
}

TEST_P(Invariance, ThroughCsvText) {
  const auto table = parse_csv(samples_to_csv(*record_.run.samples(), *methods::find("tension-metal")));
  ASSERT_TRUE(table);
  Samples s;
  for (size_t i = 0; i < table->columns.size(); ++i)
    s.channels.push_back({table->dialect.columns[i], table->columns[i]});
  expect_same(s, 1e-4);
}

TEST_P(Invariance, ThroughTheRecordDocument) {
  TestRecord r = record_;
  r.run.segment().file.clear();
  const auto again = record_from_json(record_to_json(r));
  ASSERT_TRUE(again) << again.error().message;
  expect_same(*again->run.samples(), 1e-12);
}

// Ten newtons of noise on forty kilonewtons: judgements stay, numbers move by parts of their allowance.
TEST_P(Invariance, MoreNoiseMovesLittle) {
  Samples s = copy();
  std::mt19937 random(9);
  std::normal_distribution<double> noise(0, 10);
  for (double& f : s.column("force").values) f += noise(random);
  TestRecord r = record_;
  r.run.set_samples(std::make_shared<Samples>(s));
  const Evaluation after = methods::evaluate(r);
  for (const char* key : {"e_modulus", "reh", "rel", "rp02", "rm"}) {
    if (before_.find(key) != nullptr) {
      EXPECT_NEAR(value(after, key) / value(before_, key), 1, 0.006) << key;
    }
  }
  EXPECT_EQ(after.find("yielding")->text, before_.find("yielding")->text);
  EXPECT_EQ(after.finding("slip"), nullptr);
  EXPECT_EQ(after.finding("modulus-fit-poor"), nullptr);
}

// A removed extensometer may be written as blanks instead of an event.
TEST_P(Invariance, BlanksAfterTheRemovalSpeakForThemselves) {
  // Without a removal in the record, one is made half-way: the answers with the event are the measure.
  if (record_.events.empty()) {
    const auto& time = record_.run.samples()->find("time")->values;
    record_.events = {{0.5 * time.back(), "extensometer-removed", ""}};
    before_ = methods::evaluate(record_);
  }
  Samples s = copy();
  for (size_t i = 0; i < s.size(); ++i)
    if (s.find("time")->values[i] > record_.events[0].at) s.column("extension").values[i] = NAN;
  record_.events.clear();
  expect_same(s, 1e-9);
}

INSTANTIATE_TEST_SUITE_P(Reference, Invariance, testing::Values("tension-luders", "tension-continuous"),
                         [](const auto& test) { return std::string(test.param).substr(8); });

}  // namespace
}  // namespace fortitor::tension_invariance_test
