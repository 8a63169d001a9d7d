// Practice: what is hidden, what it does, and the debrief of careful and careless hands.
#include "core/practice/practice.h"

#include <gtest/gtest.h>

#include <cmath>

#include "core/bench/records.h"
#include "core/methods/method.h"
#include "core/standin/benches.h"

namespace fortitor::practice::practice_test {
namespace {

const standin::Bench& bench_of(const Task& t) {
  return *standin::find_bench(methods::find(t.method)->standin);
}

// The whole task by a careful hand that answers nothing.
TestRecord worked(const Task& t, uint64_t seed) {
  standin::SimulateOptions o;
  o.method = t.method;
  o.piece = t.piece;
  o.seed = seed;
  o.faults = draw(t, seed);
  TestRecord r = bench_of(t).simulate(o);
  r.method = t.method;
  r.fields.set("equipment.standin.practice", t.id + ":" + std::to_string(seed));
  return r;
}

uint64_t seed_hiding(const Task& t, const std::set<std::string>& faults) {
  for (uint64_t s = 1; s < 500; ++s)
    if (draw(t, s) == faults) return s;
  return 0;
}

TEST(Practice, TasksRestOnTheirStandIns) {
  EXPECT_GE(tasks().size(), 12u);
  std::set<std::string> methods_seen, ids;
  for (const Task& t : tasks()) {
    EXPECT_TRUE(ids.insert(t.id).second);
    ASSERT_NE(methods::find(t.method), nullptr) << t.id;
    methods_seen.insert(t.method);
    const standin::Bench& bench = bench_of(t);
    EXPECT_FALSE(t.faults.empty());
    for (const std::string& f : t.faults)
      EXPECT_TRUE(std::any_of(bench.faults.begin(), bench.faults.end(), [&](const Choice& c) { return c.value == f; }))
          << t.id << " " << f;
    if (!t.piece.empty()) {
      EXPECT_TRUE(std::any_of(bench.pieces.begin(), bench.pieces.end(), [&](const Choice& c) {
        return c.value == t.piece;
      })) << t.id;
    }
  }
  EXPECT_GE(methods_seen.size(), 12u);
}

TEST(Practice, DrawsTheSameForTheSameSeedAndSometimesNothing) {
  for (const Task& t : tasks()) {
    size_t none = 0, two = 0;
    for (uint64_t s = 1; s <= 200; ++s) {
      const auto faults = draw(t, s);
      EXPECT_EQ(faults, draw(t, s));
      EXPECT_LE(faults.size(), 2u);
      none += faults.empty();
      two += faults.size() == 2;
    }
    EXPECT_GT(none, 15u) << t.id;
    EXPECT_LT(none, 80u) << t.id;
    EXPECT_EQ(two > 0, t.faults.size() > 1) << t.id;
  }
}

TEST(Practice, APieceIsMarkedThroughAndThrough) {
  const Task& t = *find("steel-bar");
  const TestRecord r = begin(t, 41, "P-1");
  EXPECT_TRUE(is_practice(r));
  EXPECT_EQ(task_of(r), &t);
  EXPECT_EQ(seed_of(r), 41u);
  EXPECT_EQ(r.specimen_id(), "P-1");
  EXPECT_FALSE(is_practice(TestRecord{}));
  EXPECT_EQ(find("nothing"), nullptr);
  const auto back = record_from_json(record_to_json(r));
  ASSERT_TRUE(back);
  EXPECT_TRUE(is_practice(*back));
  EXPECT_TRUE(debrief(TestRecord{}, Evaluation{}).rows.empty());
}

TEST(Practice, NothingHiddenAndACarefulHandIsTheTruth) {
  for (const char* id : {"steel-bar", "wood-beam", "case-depth"}) {
    const Task& t = *find(id);
    const uint64_t seed = seed_hiding(t, {});
    ASSERT_GT(seed, 0u);
    const TestRecord r = worked(t, seed);
    const Debrief d = debrief(r, methods::evaluate(r));
    ASSERT_FALSE(d.rows.empty()) << id;
    EXPECT_TRUE(d.hidden.empty());
    EXPECT_EQ(d.off(), 0u) << id;
    for (const Row& row : d.rows) {
      EXPECT_TRUE(row.there) << row.key;
    }
  }
}

TEST(Practice, EveryHiddenThingDoesSomethingOrIsCalledOut) {
  for (const Task& t : tasks())
    for (const std::string& fault : t.faults) {
      const uint64_t seed = seed_hiding(t, {fault});
      ASSERT_GT(seed, 0u) << t.id << " " << fault;
      const TestRecord r = worked(t, seed);
      const Debrief d = debrief(r, methods::evaluate(r));
      ASSERT_EQ(d.hidden.size(), 1u);
      EXPECT_FALSE(d.hidden[0].words.empty());
      EXPECT_TRUE(!d.hidden[0].shows.empty() || !d.hidden[0].cost.empty())
          << t.id << " " << fault << " is felt nowhere";
      EXPECT_FALSE(d.hidden[0].how.empty());
    }
}

TEST(Practice, WhatIsAnsweredIsSeen) {
  const Task& t = *find("wood-beam");
  const uint64_t seed = seed_hiding(t, {"misread"});
  TestRecord r = worked(t, seed);
  Debrief d = debrief(r, methods::evaluate(r));
  ASSERT_EQ(d.hidden.size(), 1u);
  ASSERT_FALSE(d.hidden[0].shows.empty());
  EXPECT_NE(d.hidden[0].seen, Hidden::Seen::seen) << d.hidden[0].how;
  const std::string code = d.hidden[0].shows.front();
  r.answers.push_back({code, "accept", "fine", "R. Vale", ""});
  d = debrief(r, methods::evaluate(r));
  EXPECT_EQ(d.hidden[0].seen, Hidden::Seen::accepted);
  r.answers.back().remedy = "set-aside";
  d = debrief(r, methods::evaluate(r));
  EXPECT_EQ(d.hidden[0].seen, Hidden::Seen::seen);
  EXPECT_EQ(d.seen(), 1u);
}

TEST(Practice, FramesFaultsAreWhatTheySay) {
  const Task& t = *find("steel-bar");
  const uint64_t seed = 3;
  const auto run = [&](std::set<std::string> faults) {
    standin::SimulateOptions o;
    o.method = t.method;
    o.piece = t.piece;
    o.seed = seed;
    o.faults = std::move(faults);
    TestRecord r = bench_of(t).simulate(o);
    return methods::evaluate(r, {.uncertainty = false});
  };
  const Evaluation clean = run({}), drift = run({"drift"}), slip = run({"slip"}), both = run({"slip", "drift"});
  EXPECT_GT(std::abs(drift.find("rm")->value - clean.find("rm")->value), 1) << "the zero walks into the strength";
  EXPECT_NEAR(slip.find("rm")->value, clean.find("rm")->value, 1e-6) << "a blade does not touch the force";
  EXPECT_NEAR(both.find("rm")->value, drift.find("rm")->value, 0.5);
}

}  // namespace
}  // namespace fortitor::practice::practice_test
