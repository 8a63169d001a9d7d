// When a stop stands, against a model that knows where machine and gauges really are; and who reads which column.
#include "core/bench/wired_stop.h"

#include <gtest/gtest.h>

#include <cmath>
#include <deque>
#include <random>

#include "core/line/quiet.h"
#include "core/quantity/plain.h"

namespace fortitor {
namespace {

using State = WiredStop::State;

WiredValue says(const std::string& item, double value, const std::string& unit, double resolution,
                const std::string& channel = {}) {
  WiredValue v{item, channel, {"", value, unit, resolution, ""}, true, true, value, value};
  return v;
}

const Method& poisson() {
  return *methods::find("poisson-gauge");
}

TestRecord piece(double step = 1000, double last = 10000) {
  TestRecord r;
  r.method = "poisson-gauge";
  r.fields.set("settings.step", reading_of(parse_quantity(plain::general(step, 9) + " N", Dimension::force).value()));
  r.fields.set("settings.last_stop",
               reading_of(parse_quantity(plain::general(last, 9) + " N", Dimension::force).value()));
  return r;
}

TEST(WiredStop, WhoReadsWhatIsSaidByNameOrByBeingTheOnlyOne) {
  const TestRecord r = piece();
  const CallOut now = call_out_of(poisson(), r, nullptr);
  const WiredValue force = says("F-1", 1.0, "kN", 0.001, "force");
  const auto state = [&](const std::vector<WiredValue>& v) { return wired_stop(now, v, 1000.0); };
  EXPECT_EQ(state({}).state, State::unwired);
  EXPECT_TRUE(state({}).words.empty()) << "nobody asked";
  EXPECT_EQ(state({force}).state, State::unwired);
  EXPECT_NE(state({force}).words.find("longitudinal"), std::string::npos) << state({force}).words;
  // Two gauges without names: nobody guesses which is which.
  const WiredValue a = says("BOX", 500, "µε", 1), b = says("BOX", -150, "µε", 1);
  EXPECT_EQ(state({force, a, b}).state, State::unwired);
  EXPECT_NE(state({force, a, b}).words.find("name the channels"), std::string::npos);
  WiredValue along = a, across = b;
  along.channel = "strain_long";
  across.channel = "strain_lat";
  EXPECT_EQ(state({force, along, across}).state, State::stands) << state({force, along, across}).words;
  EXPECT_EQ(state({across, force, along}).reads, (std::vector<std::optional<size_t>>{2, 0}));
  // One name is enough for two: what is left is the other's.
  EXPECT_EQ(state({force, along, b}).state, State::stands);
  EXPECT_EQ(state({force, a, across, b}).state, State::unwired) << "two that could be the longitudinal one";
  // Two machines.
  EXPECT_EQ(state({force, says("F-2", 1000, "N", 1, "force"), along, across}).state, State::unwired);
}

TEST(WiredStop, TheNextStopIsNeverTakenForThisOne) {
  // Steps of 0.3 % of the stop: 1 % of it would reach three stops away.
  TestRecord r = piece(300, 100000);
  CallOut now = call_out_of(poisson(), r, nullptr);
  const std::vector<WiredValue> gauges = {says("B", 500, "µε", 1, "strain_long"),
                                          says("B", -150, "µε", 1, "strain_lat")};
  for (double stop : {90000.0, 90300.0}) {
    for (double off = -400; off <= 400; off += 5) {
      std::vector<WiredValue> v = gauges;
      v.push_back(says("F-1", stop + off, "N", 1, "force"));
      EXPECT_EQ(wired_stop(now, v, stop).state == State::stands, std::abs(off) <= 75) << stop << " " << off;
    }
  }
}

// A frame whose display shakes by more than its last digits stands at no force too, and the next stop stays another's.
TEST(WiredStop, AFrameThatShakesStandsAtNoForceToo) {
  const TestRecord r = piece(1000, 10000);
  const CallOut now = call_out_of(poisson(), r, nullptr);
  ASSERT_EQ(now.control, 0) << "the first stop";
  const std::vector<WiredValue> gauges = {says("B", 2, "µε", 1, "strain_long"), says("B", -1, "µε", 1, "strain_lat")};
  const auto stands = [&](double low, double high, std::optional<double> stop) {
    std::vector<WiredValue> v = gauges;
    v.push_back(says("F-1", (low + high) / 2, "N", 0.1, "force"));
    v.back().low = low;
    v.back().high = high;
    return wired_stop(now, v, stop).state == State::stands;
  };
  EXPECT_TRUE(stands(-8, 9, {}));
  EXPECT_TRUE(stands(30, 45, {})) << "within 5 % of the step";
  EXPECT_FALSE(stands(-8, 60, {}));
  EXPECT_FALSE(stands(200, 210, {}));
  EXPECT_TRUE(stands(960, 1040, 1000));
  EXPECT_FALSE(stands(0, 9, 1000));
}

// A machine that goes to stops and stands, overshoots, creeps; gauges that follow, lag and scatter; instruments that
// fall silent or say that they move. What is taken is only ever what truly stood for the whole settling time.
TEST(WiredStop, NothingIsTakenThatDidNotStand) {
  int taken = 0, silences = 0;
  for (unsigned seed = 1; seed <= 60; ++seed) {
    std::mt19937 random(seed);
    const auto uniform = [&](double a, double b) { return std::uniform_real_distribution<double>(a, b)(random); };
    const double stop = 1000, resolution = std::pow(10, -int(random() % 3)), rate = uniform(5, 200);
    const double arrives = uniform(2, 6), lag = uniform(0.1, 2), scatter = uniform(0, 6), drift = uniform(0, 4);
    const double quiet_from = uniform(0, 8), silent_at = random() % 3 == 0 ? uniform(3, 12) : 1e9;
    struct Heard {
      double at, force, strain;
    };
    std::deque<Heard> all;
    line::Quiet force_moved, strain_moved;
    TestRecord r = piece();
    const CallOut now = call_out_of(poisson(), r, nullptr);
    double last = -1e9;
    for (int n = 0; double(n) / rate < 16; ++n) {
      const double at = 100 + double(n) / rate, t = at - 100;
      if (t >= silent_at && t < silent_at + 2.5) {
        ++silences;
      } else {
        const auto counts = [&](double v) { return std::round(v / resolution) * resolution; };
        const double force = counts(t < arrives ? stop * t / arrives : stop + (t > quiet_from ? 0 : uniform(-30, 30)));
        const double strain = counts(500 * (1 - std::exp(-std::max(0.0, t - arrives) / lag)) +
                                     (t > quiet_from ? 0 : uniform(-scatter, scatter)) + drift * (t > 12 ? t - 12 : 0));
        all.push_back({at, force, strain});
        force_moved.put(at, force);
        strain_moved.put(at, strain);
        last = at;
      }
      WiredValue f = says("F-1", all.back().force, "N", resolution, "force");
      WiredValue s = says("B", all.back().strain, "µε", resolution, "strain_long");
      f.good = s.good = at - last < 3;
      f.known = force_moved.over(at, kSettling, 1, f.low, f.high);
      s.known = strain_moved.over(at, kSettling, 1, s.low, s.high);
      const WiredValue other = says("B", -150, "µε", 1, "strain_lat");
      const WiredStop w = wired_stop(now, {f, s, other}, stop);
      // What truly was, sample by sample.
      double from = at - kSettling, low = 1e9, high = -1e9, before = from;
      bool whole = all.front().at <= from, near = true;
      for (const Heard& h : all) {
        if (h.at < from) continue;
        whole = whole && h.at - before <= 1 + 0.2;
        before = h.at;
        low = std::min(low, h.strain);
        high = std::max(high, h.strain);
        near = near && std::abs(h.force - stop) <= std::max(3 * resolution, 50.0);
      }
      const bool stood = whole && at - last <= 1 && near &&
                         high - low <= std::max(3 * resolution, 0.003 * std::abs(all.back().strain)) * (1 + 1e-9);
      if (w.state == State::stands) {
        ++taken;
        ASSERT_TRUE(stood) << "seed " << seed << " at " << t << ": " << w.words;
      }
    }
  }
  EXPECT_GT(taken, 500) << "and what stands is seen";
  EXPECT_GT(silences, 50);
}

TEST(WiredStop, AWholeRunIsKeptStopByStopAndUnloaded) {
  TestRecord r = piece(1000, 3000);
  const auto reading = [](const std::string& text, Dimension d) { return reading_of(parse_quantity(text, d).value()); };
  for (int stop = 0; stop < 3; ++stop) {
    const CallOut now = call_out_of(poisson(), r, nullptr);
    EXPECT_EQ(now.row, size_t(stop));
    Reading force = reading(std::to_string(1000 * stop + 1) + " N", Dimension::force);
    force.source = "F-1, 10:05";
    call_out::keep_all(poisson(), r,
                       {{"strain_long", reading(std::to_string(500 * stop) + " µε", Dimension::microstrain)},
                        {"strain_lat", reading(std::to_string(-150 * stop) + " µε", Dimension::microstrain)}},
                       force);
  }
  const Rows& rows = r.run.rows(poisson().keyed_table()->id);
  ASSERT_EQ(rows.size(), 3u);
  for (const Row& row : rows) EXPECT_EQ(row.cells.all().size(), 3u);
  EXPECT_EQ(rows[2].number("force"), 2001);
  EXPECT_EQ(rows[2].cells.readings("force").front().source, "F-1, 10:05") << "where the machine really stood";
  call_out::end(poisson(), r, "last stop as planned");
  ASSERT_EQ(call_out_of(poisson(), r, nullptr).phase, CallOut::Phase::unloading);
  call_out::keep_all(poisson(), r,
                     {{"strain_long", reading("3 µε", Dimension::microstrain)},
                      {"strain_lat", reading("-1 µε", Dimension::microstrain)}},
                     reading("0 N", Dimension::force));
  EXPECT_EQ(call_out_of(poisson(), r, nullptr).phase, CallOut::Phase::ended);
  EXPECT_EQ(r.fields.readings("run.unload.strain_lat").size(), 1u);
  // One that was read by hand already stays as it is.
  TestRecord half = piece();
  call_out::keep(half, call_out_of(poisson(), half, nullptr), reading("77 µε", Dimension::microstrain));
  call_out::keep_all(poisson(), half,
                     {{"strain_long", reading("500 µε", Dimension::microstrain)},
                      {"strain_lat", reading("-150 µε", Dimension::microstrain)}},
                     reading("1000 N", Dimension::force));
  const Row& row = half.run.rows(poisson().keyed_table()->id).front();
  EXPECT_EQ(row.cells.readings("strain_long").front().typed, "77 µε");
  EXPECT_EQ(row.cells.readings("strain_lat").front().typed, "-150 µε");
}

TEST(Quiet, RemembersWhatWasHeardAndNothingElse) {
  for (unsigned seed = 1; seed <= 200; ++seed) {
    std::mt19937 random(seed);
    const auto uniform = [&](double a, double b) { return std::uniform_real_distribution<double>(a, b)(random); };
    line::Quiet q;
    std::vector<std::pair<double, double>> all;
    double at = uniform(-5, 1e6);
    const int n = 1 + int(random() % 300);
    for (int i = 0; i < n; ++i) {
      at += random() % 20 == 0 ? uniform(0, 15) : uniform(0, 0.2);
      all.emplace_back(at, uniform(-1, 1));
      q.put(at, all.back().second);
    }
    const double now = at + uniform(0, 1.5), window = uniform(0.3, 9);
    double low = 0, high = 0;
    const bool known = q.over(now, window, 1, low, high);
    double least = 1e9, most = -1e9, least_wide = 1e9, most_wide = -1e9;
    bool silent = now - at > 1.2 || all.front().first > now - window;
    for (size_t i = 0; i < all.size(); ++i) {
      const auto& [t, v] = all[i];
      if (t >= now - window) least = std::min(least, v), most = std::max(most, v);
      if (t >= now - window - 0.1) least_wide = std::min(least_wide, v), most_wide = std::max(most_wide, v);
      const double from = i == 0 ? now - window : std::max(all[i - 1].first, now - window);
      if (t > now - window && t - from > 1.3) silent = true;
    }
    EXPECT_FALSE(silent && known) << seed;
    if (!known) continue;
    EXPECT_LE(low, least + 1e-12) << "nothing within the time is forgotten";
    EXPECT_GE(high, most - 1e-12);
    EXPECT_GE(low, least_wide - 1e-12) << "nothing from before it counts";
    EXPECT_LE(high, most_wide + 1e-12);
  }
  line::Quiet q;
  double low = 0, high = 0;
  EXPECT_FALSE(q.over(1, 1, 1, low, high));
  for (int i = 0; i < 50; ++i) q.put(i * 0.1, 7);
  EXPECT_TRUE(q.over(4.9, 3, 1, low, high));
  q.forget();
  EXPECT_FALSE(q.over(4.9, 3, 1, low, high));
  q.put(std::nan(""), 1);
  q.put(1, std::nan(""));
  EXPECT_FALSE(q.over(4.9, 3, 1, low, high));
}

}  // namespace
}  // namespace fortitor
