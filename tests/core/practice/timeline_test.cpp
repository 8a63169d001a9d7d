// A practice run along its line: where faults take hold, when findings could be seen, when things were done.
#include "core/practice/timeline.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>

#include "core/methods/method.h"
#include "core/practice/practice.h"
#include "core/standin/benches.h"

namespace fortitor::practice::timeline_test {
namespace {

using Place = Instant::Place;
using Lane = Moment::Lane;

TestRecord run_of(const char* task, uint64_t seed, std::set<std::string> faults) {
  const Task& t = *find(task);
  standin::SimulateOptions o;
  o.method = t.method;
  o.piece = t.piece;
  o.seed = seed;
  o.faults = std::move(faults);
  TestRecord r = standin::find_bench(methods::find(t.method)->standin)->simulate(o);
  r.method = t.method;
  r.fields.set("equipment.standin.practice", t.id + ":" + std::to_string(seed));
  return r;
}

Instant hold(const char* task, const char* fault, uint64_t seed = 3) {
  const TestRecord faulty = run_of(task, seed, {fault});
  return departure(run_of(task, seed, {}), faulty, faulty);
}

const Moment* with(const std::vector<Moment>& all, const std::string& part) {
  const auto it =
      std::find_if(all.begin(), all.end(), [&](const Moment& m) { return m.words.find(part) != std::string::npos; });
  return it == all.end() ? nullptr : &*it;
}

TEST(Timeline, FaultsTakeHoldWhereTheyAct) {
  const auto end = [](const TestRecord& r) { return r.run.samples()->find("time")->values.back(); };
  // The grip pulls before the run begins, a blade slips at 1.2 % of strain.
  EXPECT_EQ(hold("steel-bar", "preload").place, Place::before);
  const TestRecord slipped = run_of("steel-bar", 3, {"slip"});
  const Instant slip = departure(run_of("steel-bar", 3, {}), slipped, slipped);
  ASSERT_EQ(slip.place, Place::during);
  const Samples& s = *slipped.run.samples();
  const double gauge = slipped.fields.number("specimen.extensometer_length").value();
  const auto at = size_t(std::lower_bound(s.find("time")->values.begin(), s.find("time")->values.end(), slip.at) -
                         s.find("time")->values.begin());
  EXPECT_NEAR(s.find("extension")->values[at] / gauge, 0.012, 0.001);
  EXPECT_LT(slip.at, end(slipped));
  // The misread dial is the fifth or sixth stop by the seed; the drawn piece is looked at before anything.
  const Instant misread = hold("wood-beam", "misread");
  ASSERT_EQ(misread.place, Place::during);
  EXPECT_EQ(misread.at, 4 + 3 % 2 + 1);
  EXPECT_EQ(hold("crush-tube", "dent").place, Place::before);
  EXPECT_EQ(hold("case-depth", "scratch").at, 7) << "the seventh indent";
  EXPECT_EQ(hold("gauged-strip", "swapped").place, Place::during);
  const TestRecord sound = run_of("steel-bar", 3, {});
  EXPECT_EQ(departure(sound, sound, sound), (Instant{Place::before, 0}));
}

TEST(Timeline, AnotherSpeedIsFollowedByTheTravelOfTheMachine) {
  const TestRecord sound = run_of("steel-bar", 3, {}), faulty = run_of("steel-bar", 3, {"slip"});
  TestRecord mine = faulty;  // the same run at half the speed, begun 10 s late
  auto slow = std::make_shared<Samples>(*mine.run.samples());
  for (double& t : slow->column("time").values) t = 10 + 2 * t;
  mine.run.set_samples(slow);
  EXPECT_NEAR(departure(sound, faulty, mine).at, 10 + 2 * departure(sound, faulty, faulty).at, 0.1);
}

TEST(Timeline, FindingsStandWhereTheyCouldFirstBeSeen) {
  const TestRecord r = run_of("steel-bar", 3, {"preload"});
  const Evaluation e = methods::evaluate(r);
  const std::vector<Moment> seen = when_seen(r, e);
  ASSERT_EQ(seen.size(), e.findings.size());
  for (const Moment& m : seen) EXPECT_EQ(m.lane, Lane::seen);
  // A beam's misread dial is seen at its stop or the ones next to it, not before.
  const TestRecord beam = run_of("wood-beam", 3, {"misread"});
  const Evaluation judged = methods::evaluate(beam);
  ASSERT_NE(judged.finding("re-read"), nullptr);
  const auto all = when_seen(beam, judged);
  const Moment* off = with(all, judged.finding("re-read")->message);
  ASSERT_NE(off, nullptr);
  ASSERT_EQ(off->when.place, Place::during);
  EXPECT_GE(off->when.at, 6);
  EXPECT_LE(off->when.at, 9);
  // What is read of the broken piece is seen after it.
  TestRecord area = run_of("steel-bar", 3, {});
  const Evaluation before = methods::evaluate(area);
  standin::type_into(area, "specimen.after.break_to_mark", "0.5 mm");
  const Evaluation after = methods::evaluate(area);
  for (const Finding& f : after.findings)
    if (before.finding(f.code) == nullptr) {
      EXPECT_EQ(with(when_seen(area, after), f.message)->when.place, Place::after) << f.code;
    }
}

TEST(Timeline, DeedsStandByTheClockOrByTheirRow) {
  TestRecord r = run_of("steel-bar", 3, {});
  const double length = r.run.samples()->find("time")->values.back();
  r.events = {{-3.5, "force-zeroed", ""}, {20, "extensometer-removed", ""}};
  r.answers = {{"zero", "accept", "as it was", "R. Vale", "2026-11-26T10:05:30.000Z"},
               {"slip", "cut", "", "R. Vale", "2026-11-26T10:20:00.000Z"}};
  Worked w{"2026-11-26T10:00:00.000Z", "2026-11-26T10:10:00.000Z", {}};
  for (int i = 0; i < 9; ++i)
    w.deeds.push_back({"2026-11-26T09:5" + std::to_string(i) + ":00.000Z", "typed " + std::to_string(i)});
  w.deeds.push_back({"2026-11-26T10:02:30.000Z", "note"});
  w.deeds.push_back({"2026-11-26T10:10:00.000Z", "run closed"});
  const std::vector<Moment> all = what_was_done(r, w);
  EXPECT_EQ(with(all, "force zeroed")->when.place, Place::before);
  EXPECT_EQ(with(all, "extensometer removed")->when, (Instant{Place::during, 20}));
  EXPECT_NEAR(with(all, "note")->when.at, length / 4, 1e-6);
  EXPECT_NEAR(with(all, "as it was")->when.at, length * 0.55, 1e-6);
  EXPECT_EQ(with(all, "as it was")->tone, Moment::Tone::near);
  EXPECT_EQ(with(all, "answered slip")->tone, Moment::Tone::good);
  EXPECT_EQ(with(all, "answered slip")->when.place, Place::after);
  EXPECT_EQ(with(all, "run closed")->when.place, Place::after);
  EXPECT_NE(with(all, "5 lines more"), nullptr) << "the last four before the run are shown";
  EXPECT_EQ(with(all, "typed 4"), nullptr);
  EXPECT_NE(with(all, "typed 5"), nullptr);
  EXPECT_TRUE(std::is_sorted(all.begin(), all.end(),
                             [](const Moment& a, const Moment& b) { return a.when.place < b.when.place; }));
  // Rows that are keyed know their place: stops count from 0.
  const TestRecord beam = run_of("wood-beam", 3, {});
  w = {"",
       "",
       {{"2026-11-26T09:00:00.000Z", "sizes"},
        {"2026-11-26T10:00:00.000Z", "stop 0, Dial: 0"},
        {"2026-11-26T10:00:10.000Z", "stop 1, Dial: 31"},
        {"2026-11-26T10:00:15.000Z", "looked"},
        {"2026-11-26T10:00:20.000Z", "stop 2, Dial: 61"},
        {"2026-11-26T10:01:20.000Z", "judged"}}};
  const std::vector<Moment> rows = what_was_done(beam, w);
  EXPECT_EQ(with(rows, "sizes")->when.place, Place::before);
  EXPECT_EQ(with(rows, "stop 0")->when, (Instant{Place::during, 1}));
  EXPECT_EQ(with(rows, "looked")->when, (Instant{Place::during, 2}));
  EXPECT_EQ(with(rows, "stop 2")->when, (Instant{Place::during, 3}));
  EXPECT_EQ(with(rows, "judged")->when.place, Place::after);
  // No clock, no run: nothing falls over.
  w.deeds = {{"yesterday", "something"}};
  EXPECT_EQ(what_was_done(beam, w).back().when.place, Place::after);
}

TEST(Timeline, EveryTaskHasACourseOrReadings) {
  for (const Task& t : tasks()) {
    const TestRecord r = run_of(t.id.c_str(), 5, {t.faults.front()});
    const Debrief d = debrief(r, methods::evaluate(r));
    const Course c = course_of(r, methods::evaluate(r, {.uncertainty = false}));
    ASSERT_FALSE(c.empty()) << t.id;
    EXPECT_EQ(c.at.size(), c.value.size());
    EXPECT_TRUE(std::any_of(c.value.begin(), c.value.end(), [](double v) { return std::isfinite(v); })) << t.id;
    ASSERT_EQ(d.course.panels.size(), 1u) << t.id;
    EXPECT_EQ(d.course.panels[0].traces.size(), 2u) << t.id;
    for (const Moment& m : d.moments) {
      EXPECT_FALSE(m.words.empty());
      if (m.when.place == Place::during) {
        EXPECT_GE(m.when.at, 0) << t.id << " " << m.words;
        EXPECT_LE(m.when.at, *std::max_element(c.at.begin(), c.at.end()) + 1e-9) << t.id << " " << m.words;
      }
    }
  }
  EXPECT_TRUE(course_of(TestRecord{}, {}).empty());
  EXPECT_TRUE(panel_of({}, {}).traces.empty());
}

TEST(Timeline, PartsOfARunFollowOneAnother) {
  const TestRecord r = run_of("old-clamp", 3, {});
  const Course c = course_of(r, {});
  ASSERT_TRUE(c.timed);
  EXPECT_TRUE(std::is_sorted(c.at.begin(), c.at.end()));
  size_t all = 0;
  for (const Segment& s : r.run.segments) all += s.samples ? s.samples->size() : 0;
  EXPECT_EQ(c.at.size(), all);
  // What only the pull to destruction shows is not seen while the cycles run.
  TestRecord frozen = r;
  ASSERT_EQ(frozen.run.segments.size(), 1u);
  frozen.run.segments[0].name = "cycles";
  Segment last = frozen.run.segments[0];
  last.name = "destruction";
  auto s = std::make_shared<Samples>(*last.samples);
  std::vector<double>& force = s->column("force").values;
  const size_t peak = size_t(std::max_element(force.begin(), force.end()) - force.begin());
  for (size_t i = peak - peak / 4; i < peak; ++i) force[i] = force[peak - peak / 4];
  last.samples = s;
  frozen.run.segments.push_back(last);
  const Evaluation e = methods::evaluate(frozen, {.uncertainty = false});
  ASSERT_NE(e.finding("channel-frozen"), nullptr);
  const auto seen = when_seen(frozen, e);
  const Moment* m = with(seen, e.finding("channel-frozen")->message);
  ASSERT_NE(m, nullptr);
  ASSERT_EQ(m->when.place, Place::during);
  EXPECT_GT(m->when.at, c.at.back()) << "the cycles are over by then";
}

}  // namespace
}  // namespace fortitor::practice::timeline_test
