// The day plan: what it never does, on random days; how good it is, against random orders; what it says.
#include "core/plan/day.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <boost/random/mersenne_twister.hpp>
#include <boost/random/uniform_int_distribution.hpp>
#include <numeric>
#include <set>

namespace fortitor::day::day_test {
namespace {

using Random = boost::random::mt19937_64;

int draw(Random& r, int from, int to) {
  return boost::random::uniform_int_distribution<int>(from, to)(r);
}

// 8:00 to 16:30 with a break at noon, on `days` days.
std::vector<Span> off_hours(int days, int from = 8 * 60, int to = 16 * 60 + 30) {
  std::vector<Span> out;
  for (int d = 0; d < days; ++d) {
    out.push_back({d * kDay, d * kDay + from});
    out.push_back({d * kDay + 12 * 60, d * kDay + 12 * 60 + 30});
    out.push_back({d * kDay + to, (d + 1) * kDay});
  }
  return out;
}

Problem random_day(uint64_t seed, int pieces) {
  Random r(seed);
  Problem p;
  p.horizon = 5 * kDay;
  const int machines = draw(r, 2, 6), people = draw(r, 1, 3);
  for (int i = 0; i < people; ++i)
    p.resources.push_back({"p" + std::to_string(i), "person " + std::to_string(i), Resource::Kind::person,
                           off_hours(5, 7 * 60 + draw(r, 0, 120))});
  for (int i = 0; i < machines; ++i) {
    Resource m{"m" + std::to_string(i), "machine " + std::to_string(i)};
    if (draw(r, 0, 4) == 0) m.ends = draw(r, 0, 3) * kDay, m.why_ends = "its calibration ends";
    if (draw(r, 0, 4) == 0) m.who = {"person 0"};
    if (draw(r, 0, 6) == 0) m.who = {"nobody"};
    if (draw(r, 0, 3) == 0) m.closed = {{draw(r, 9, 10) * 60, draw(r, 11, 13) * 60}};
    p.resources.push_back(m);
  }
  p.resources.push_back({"oven", "oven", Resource::Kind::place});
  const size_t first = size_t(people), oven = p.resources.size() - 1;
  auto machine = [&] { return first + size_t(draw(r, 0, machines - 1)); };
  for (int i = 0; i < pieces; ++i) {
    const std::string name = "piece " + std::to_string(i);
    const int due = draw(r, 0, 2) == 0 ? draw(r, 10, 60) * 60 : -1;
    Task measure{name + ": measure", name + ": measure", "J" + std::to_string(i % 3), draw(r, 3, 10), 0};
    measure.attended = measure.minutes;
    p.tasks.push_back(measure);
    if (draw(r, 0, 2) == 0) {
      Task wait{name + ": cure", name + ": cure", "J", draw(r, 60, 1500), 0, {{oven}}, {p.tasks.size() - 1}};
      p.tasks.push_back(wait);
    }
    Task run{name + ": run", name + ": run",      "J" + std::to_string(i % 3), draw(r, 5, 40), 0,
             {{machine()}},  {p.tasks.size() - 1}};
    run.attended = draw(r, 0, 5) == 0 ? 5 : run.minutes;
    if (draw(r, 0, 1) == 0) run.needs[0].push_back(machine());
    if (draw(r, 0, 3) == 0) run.needs.push_back({machine()});
    if (run.needs.size() == 2 &&
        std::any_of(run.needs[0].begin(), run.needs[0].end(), [&](size_t m) { return m == run.needs[1][0]; }))
      run.needs.pop_back();
    if (draw(r, 0, 5) == 0) run.earliest = draw(r, 8, 20) * 60;
    if (due > 0) run.due = due;
    if (draw(r, 0, 12) == 0) run.pinned = draw(r, 8 * 12, 16 * 12) * 5;
    p.tasks.push_back(run);
    Task judge{name + ": sign", name + ": sign", "J" + std::to_string(i % 3), 5, 5, {}, {p.tasks.size() - 1}};
    if (due > 0) judge.due = due + 60;
    p.tasks.push_back(judge);
  }
  return p;
}

TEST(DayPlan, RandomDaysAreSound) {
  for (uint64_t seed = 1; seed <= 300; ++seed) {
    const Problem p = random_day(seed, 1 + int(seed % 25));
    const Layout l = plan(p, seed);
    for (const std::string& f : faults(p, l)) ADD_FAILURE() << "seed " << seed << ": " << f;
    // Every task stands there or is said not to.
    std::set<size_t> said;
    for (const Bar& b : l.bars) said.insert(b.task);
    for (const Unmet& u : l.unmet) {
      EXPECT_FALSE(u.why.empty());
      EXPECT_EQ(u.why.back(), '.') << u.why;
      if (u.kind == Unmet::Kind::unplaced) {
        EXPECT_TRUE(said.insert(u.task).second) << "placed and not placed";
      }
    }
    EXPECT_EQ(said.size(), p.tasks.size()) << seed;
    // A pin holds to the minute or is said.
    for (size_t t = 0; t < p.tasks.size(); ++t) {
      if (!p.tasks[t].pinned) continue;
      const Bar* b = l.of(t);
      const bool dropped = std::any_of(l.unmet.begin(), l.unmet.end(),
                                       [&](const Unmet& u) { return u.task == t && u.kind == Unmet::Kind::pin; });
      EXPECT_EQ(b != nullptr && !dropped, b != nullptr && b->start == *p.tasks[t].pinned && !dropped);
      EXPECT_TRUE(dropped || b != nullptr);
    }
  }
}

TEST(DayPlan, TheCheckSeesEveryFault) {
  const Problem p = random_day(7, 12);
  const Layout good = plan(p);
  ASSERT_TRUE(faults(p, good).empty());
  Random r(5);
  int seen = 0, tried = 0;
  for (int k = 0; k < 200; ++k) {
    Layout l = good;
    Bar& b = l.bars[size_t(draw(r, 0, int(l.bars.size()) - 1))];
    const int shift = draw(r, -600, 600);
    if (shift == 0) continue;
    b.start += shift;
    b.end += shift;
    ++tried;
    seen += !faults(p, l).empty();
  }
  EXPECT_GT(seen, tried / 2) << "most shifts break something";
}

// 50 days; each at least as good as the best of 200 random orders.
TEST(DayPlan, AsGoodAsTheBestOfManyOrders) {
  for (uint64_t seed = 1000; seed < 1050; ++seed) {
    const Problem p = random_day(seed, 12);
    const Layout mine = plan(p);
    Random r(seed);
    std::vector<size_t> order(p.tasks.size());
    std::iota(order.begin(), order.end(), size_t(0));
    for (int k = 0; k < 200; ++k) {
      for (size_t i = order.size(); i > 1; --i) std::swap(order[i - 1], order[size_t(draw(r, 0, int(i) - 1))]);
      const Layout other = place(p, order);
      EXPECT_TRUE(faults(p, other).empty()) << "any order is sound";
      EXPECT_FALSE(better(p, other, mine))
          << "seed " << seed << ", order " << k << ": lateness " << other.lateness << " against " << mine.lateness;
    }
  }
}

TEST(DayPlan, TheSameDayGivesTheSamePlan) {
  const Problem p = random_day(3, 20);
  const Layout a = plan(p), b = plan(p);
  ASSERT_EQ(a.bars.size(), b.bars.size());
  for (size_t i = 0; i < a.bars.size(); ++i) EXPECT_EQ(a.bars[i].start, b.bars[i].start);
}

// A day by hand: one person, one frame.
struct Hand {
  Problem p;
  Hand() {
    p.horizon = 3 * kDay;
    p.resources.push_back({"me", "R. Vale", Resource::Kind::person, off_hours(3)});
    p.resources.push_back({"frame", "Frame 100 kN"});
  }
  size_t run(const std::string& name, int minutes, std::vector<size_t> after = {}) {
    Task t{name, name, "J", minutes, minutes, {{1}}, std::move(after)};
    p.tasks.push_back(t);
    return p.tasks.size() - 1;
  }
  int start(size_t task) const {
    const Layout l = plan(p);
    EXPECT_TRUE(faults(p, l).empty());
    return l.of(task) == nullptr ? -1 : l.of(task)->start;
  }
};

TEST(DayPlan, ByHand) {
  Hand day;
  const size_t a = day.run("A", 230), b = day.run("B", 60), c = day.run("C", 60);
  // A does not end before noon after B or C; the shorter ones first end earlier in sum.
  EXPECT_EQ(std::min(day.start(b), day.start(c)), 8 * 60);
  EXPECT_EQ(day.start(a), 12 * 60 + 30) << "not through the break";
  day.p.tasks[a].due = 12 * 60;
  EXPECT_EQ(day.start(a), 8 * 60) << "due first";
  day.p.tasks[a].due.reset();
  day.p.tasks[b].pinned = 14 * 60;
  EXPECT_EQ(day.start(b), 14 * 60);
  EXPECT_EQ(day.start(a), 8 * 60);
}

TEST(DayPlan, WaitsGoOverNight) {
  Hand day;
  day.p.resources.push_back({"oven", "Oven", Resource::Kind::place});
  const size_t clamp = day.run("clamp", 30);
  Task cure{"cure", "cure", "J", 24 * 60, 0, {{2}}, {clamp}};
  day.p.tasks.push_back(cure);
  const size_t pull = day.run("pull", 30, {1});
  EXPECT_EQ(day.start(clamp), 8 * 60);
  EXPECT_EQ(day.start(pull), kDay + 8 * 60 + 30);
  day.p.horizon = kDay;
  EXPECT_EQ(day.start(pull), -1);
  const Layout l = plan(day.p);
  ASSERT_EQ(l.unmet.size(), 2u);
  EXPECT_NE(l.unmet[0].why.find("no room within 1 days"), std::string::npos) << l.unmet[0].why;
  EXPECT_NE(l.unmet[1].why.find("waits for what cannot be placed: cure"), std::string::npos);
}

TEST(DayPlan, WhatCannotBeMetIsSaid) {
  Hand day;
  const size_t a = day.run("A", 30);
  const auto only = [&] {
    const Layout l = plan(day.p);
    EXPECT_EQ(l.unmet.size(), 1u);
    return l.unmet.empty() ? std::string() : l.unmet[0].why;
  };
  day.p.tasks[a].due = 8 * 60 + 20;
  EXPECT_EQ(only(), "A ends 10 min after it is due.");
  day.p.tasks[a].due.reset();
  day.p.resources[1].ends = 0;
  day.p.resources[1].why_ends = "held: dropped";
  EXPECT_EQ(only(), "A: Frame 100 kN must not be used: held: dropped.");
  day.p.resources[1].ends = 8 * 60 + 20;
  day.p.resources[1].why_ends = "its calibration ends";
  EXPECT_NE(only().find("finds no room before Frame 100 kN must not be used any more"), std::string::npos) << only();
  day.p.resources[1].ends = 8 * 60 + 30;
  EXPECT_EQ(day.start(a), 8 * 60) << "to the minute";
  day.p.resources[1].who = {"M. Holm"};
  EXPECT_EQ(only(), "A: nobody who is there may use Frame 100 kN.");
  day.p.resources[1] = {"frame", "Frame 100 kN"};
  day.p.tasks[a].pinned = 12 * 60;
  EXPECT_EQ(only(), "A cannot begin then: a machine or a person is not free then.");
  day.p.tasks[a].earliest = 13 * 60;
  day.p.tasks[a].why_earliest = "its cure runs until 13:00";
  EXPECT_EQ(only(), "A cannot begin then: its cure runs until 13:00.");
  EXPECT_EQ(day.start(a), 13 * 60) << "the pin is let go, the work is not";
  day.p.tasks[a].after = {a};
  EXPECT_EQ(day.start(a), -1) << "a circle";
}

TEST(DayPlan, ALongRunNeedsItsPersonAtTheStartOnly) {
  Hand day;
  const size_t rig = day.run("rig", 40 * 60);
  day.p.tasks[rig].attended = 15;
  day.p.resources.push_back({"other", "Frame 5 kN"});
  const size_t b = day.run("B", 30);
  day.p.tasks[b].needs = {{2}};
  const Layout l = plan(day.p);
  EXPECT_TRUE(faults(day.p, l).empty());
  EXPECT_LT(l.of(b)->start, 9 * 60);
  EXPECT_GT(l.of(rig)->end, kDay + 16 * 60);
}

TEST(DayPlan, NothingAtAll) {
  EXPECT_TRUE(plan({}).bars.empty());
  Problem p;
  p.tasks.push_back({"A", "A", "J", 10, 10});
  const Layout l = plan(p);
  ASSERT_EQ(l.unmet.size(), 1u) << "nobody there";
  EXPECT_TRUE(l.bars.empty());
}

}  // namespace
}  // namespace fortitor::day::day_test
