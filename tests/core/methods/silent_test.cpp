// Numbers that were wrong, or missing, without a word: found by reading what is kept of records taken apart.
#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>

#include "core/curve/stations.h"
#include "core/methods/support/stops.h"
#include "core/record/json_value.h"
#include "tests/core/methods/made.h"

namespace fortitor::silent_test {
namespace {

// A recording without its load left every result out, and no finding said why.
TEST(Silent, ARecordingThatHoldsNothingIsNamed) {
  size_t tried = 0;
  for (const Method* method : methods::all()) {
    const standin::Bench* bench = standin::find_bench(method->standin);
    if (bench == nullptr) continue;
    const TestRecord whole = made(*bench, method->id.c_str());
    EXPECT_EQ(methods::evaluate(whole, {.uncertainty = false}).finding("samples-unusable"), nullptr) << method->id;
    for (const char* load : {"force", "torque"}) {
      bool there = false;
      for (const Segment& s : whole.run.segments)
        there = there || (s.samples && s.samples->find(load) != nullptr && method->channel(load)->required);
      if (!there) continue;
      ++tried;
      for (size_t left : {0u, 1u, 2u, 3u}) {
        TestRecord r = whole;
        for (Segment& segment : r.run.segments) {
          if (!segment.samples) continue;
          Samples s = *segment.samples;
          std::vector<double>& v = s.column(load).values;
          for (size_t i = left; i < v.size(); ++i) v[i] = NAN;
          segment.samples = std::make_shared<Samples>(std::move(s));
        }
        const Evaluation e = methods::evaluate(r, {.uncertainty = false});
        const Finding* f = e.finding("samples-unusable");
        ASSERT_EQ(f != nullptr, left < 3) << method->id << " " << left;
        if (f == nullptr) continue;
        EXPECT_EQ(f->severity, Severity::check);
        EXPECT_EQ(f->evidence.at("usable"), double(left));
        EXPECT_NE(f->message.find(left == 0   ? "none holds"
                                  : left == 1 ? "one holds"
                                              : "two hold"),
                  std::string::npos)
            << f->message;
        r.run.open = true;  // it has just begun
        EXPECT_EQ(methods::evaluate(r, {.uncertainty = false}).finding("samples-unusable"), nullptr);
      }
      TestRecord r = whole;
      for (Segment& segment : r.run.segments) {
        if (!segment.samples) continue;
        Samples s = *segment.samples;
        std::erase_if(s.channels, [&](const Channel& c) { return c.name == load; });
        segment.samples = std::make_shared<Samples>(std::move(s));
      }
      EXPECT_NE(methods::evaluate(r, {.uncertainty = false}).finding("samples-unusable"), nullptr)
          << method->id << " without the column";
    }
  }
  EXPECT_GE(tried, 8u);
}

// A channel of noughts made R_m 0 MPa, Poisson's ratio 0 and the elongation of a plastic a third of the true one.
TEST(Silent, AChannelThatSaysOneNumberIsDead) {
  size_t loads = 0, others = 0;
  for (const Method* method : methods::all()) {
    const standin::Bench* bench = standin::find_bench(method->standin);
    if (bench == nullptr) continue;
    const TestRecord whole = made(*bench, method->id.c_str());
    EXPECT_EQ(methods::evaluate(whole, {.uncertainty = false}).finding("channel-dead"), nullptr) << method->id;
    const SamplesPtr samples = whole.run.segments.empty() ? nullptr : whole.run.segments.front().samples;
    for (size_t k = 0; samples && k < samples->channels.size(); ++k) {
      const std::string name = samples->channels[k].name;
      if (name == "time" || method->channel(name) == nullptr) continue;
      for (double value : {0.0, 1.5}) {
        TestRecord r = whole;
        for (Segment& segment : r.run.segments) {
          Samples s = *segment.samples;
          s.column(name).values.assign(s.size(), value);
          segment.samples = std::make_shared<Samples>(std::move(s));
        }
        const bool load = method->channel(name)->required && (name == "force" || name == "torque");
        const Evaluation e = methods::evaluate(r, {.uncertainty = false});
        ++(load ? loads : others);
        EXPECT_EQ(e.finding("samples-unusable") != nullptr, load) << method->id << " " << name;
        EXPECT_EQ(e.finding("channel-dead") != nullptr, !load) << method->id << " " << name;
      }
    }
    const TableSpec* table = method->keyed_table();
    if (table == nullptr || !table->stepped() || whole.run.rows(table->id).size() < 6) continue;
    std::vector<std::string> columns = {table->control->path};
    for (const FieldSpec& f : table->columns) columns.push_back(f.path);
    for (const std::string& column : columns) {
      TestRecord r = whole;
      Rows& rows = r.run.tables[table->id];
      size_t n = 0;
      for (Row& row : rows)
        if (row.has(column)) row.cells.set(column, *rows.front().reading(column)), ++n;
      if (n < 5) continue;
      ++others;
      const Evaluation e = methods::evaluate(r, {.uncertainty = false});
      ASSERT_NE(e.finding("channel-dead"), nullptr) << method->id << " " << column;
      EXPECT_EQ(e.finding("channel-dead")->severity, Severity::check);
      for (size_t i = 0; i + 4 < rows.size(); ++i) rows.pop_back(), --i;  // four alike may be chance
      EXPECT_EQ(methods::evaluate(r, {.uncertainty = false}).finding("channel-dead"), nullptr)
          << method->id << " " << column;
    }
  }
  EXPECT_GE(loads, 10u);
  EXPECT_GE(others, 20u);
}

Row stop(const char* control, double at, const char* column, double reads) {
  Row row;
  row.cells.set(control, Reading{"x", at, 0.1});
  row.cells.set(column, Reading{"x", reads, 0.1});
  return row;
}

// Readings that end on the straight line do not show where it ends: the last stop stood there as the limit, ± 1 %.
TEST(Silent, ALimitThatWasNotReachedIsABound) {
  for (const auto& [method, keys] : {std::pair{"torsion-bar", std::vector<const char*>{"tau_pl", "torque_pl"}},
                                     {"flexure-beam", {"pl_stress", "pl_force", "pl_deflection"}}}) {
    TestRecord r = made(*standin::find_bench(methods::find(method)->standin), method);
    const Evaluation whole = methods::evaluate(r, {.uncertainty = false});
    EXPECT_EQ(whole.finding("limit-not-reached"), nullptr) << method;
    for (const char* key : keys) {
      ASSERT_NE(whole.find(key), nullptr) << key;
      EXPECT_FALSE(whole.find(key)->censored) << key;
    }
    r.run.tables[kStops].resize(7);
    const Evaluation e = methods::evaluate(r, {.uncertainty = false});
    ASSERT_NE(e.finding("limit-not-reached"), nullptr) << method;
    EXPECT_EQ(e.finding("limit-not-reached")->severity, Severity::note);
    for (const char* key : keys) {
      ASSERT_TRUE(e.find(key)->censored) << key;
      EXPECT_TRUE(e.find(key)->censored->above) << key;
      EXPECT_LT(e.find(key)->value, value(whole, key)) << key;
    }
    r.run.open = true;
    EXPECT_EQ(methods::evaluate(r, {.uncertainty = false}).finding("limit-not-reached"), nullptr)
        << "there is more to come";
    r.run.open = false;
    r.fields.set("settings.proportional_limit.school", std::string("pick"));
    r.fields.set("settings.proportional_limit.force",
                 *r.run.rows(kStops)[6].reading(method[0] == 't' ? "torque" : "force"));
    r.fields.set("settings.proportional_limit.torque",
                 *r.run.rows(kStops)[6].reading(method[0] == 't' ? "torque" : "force"));
    EXPECT_FALSE(methods::evaluate(r, {.uncertainty = false}).find(keys[0])->censored) << "a person picked it";
  }
}

// A torque keyed as 0 just past the limit moved the yield stress by a third, and no finding said so.
TEST(Silent, AReadingOutOfItsCourseIsReadAgain) {
  TestRecord r = made(*standin::find_bench(methods::find("torsion-bar")->standin), "torsion-bar");
  auto named = [](const Evaluation& e, size_t at) {
    return std::any_of(e.findings.begin(), e.findings.end(),
                       [&](const Finding& f) { return f.code == "re-read" && f.evidence.at("station") == double(at); });
  };
  const Evaluation right = methods::evaluate(r, {.uncertainty = false});
  EXPECT_EQ(right.finding("re-read"), nullptr);
  Rows& rows = r.run.tables[kStops];
  for (size_t at = 2; at + 2 < rows.size(); ++at) {
    const Reading was = *rows[at].reading("torque");
    for (double factor : {0.0, 0.1, 10.0, -1.0}) {
      rows[at].cells.set("torque", Reading{"x", *was.value * factor, was.resolution});
      const Evaluation e = methods::evaluate(r, {.uncertainty = false});
      EXPECT_TRUE(named(e, at)) << at << " times " << factor;
      size_t n = 0;
      for (const Finding& f : e.findings) n += f.code == "re-read" && f.result_key == "torque";
      EXPECT_LE(n, 1u) << at << " times " << factor << ": its sound neighbours are not blamed";
    }
    rows[at].cells.set("torque", was);
  }
}

TEST(Silent, OutOfCourseIsFarOutBetweenNeighboursThatAgree) {
  auto found = [](std::vector<double> y, std::vector<double> x = {0, 1, 2, 3, 4, 5, 6}) {
    Rows rows;
    for (size_t i = 0; i < y.size(); ++i) rows.push_back(stop("angle", x[i], "torque", y[i]));
    return out_of_course(path_of(rows, "angle", "torque"));
  };
  using V = std::vector<size_t>;
  EXPECT_EQ(found({0, 20, 40, 0, 80, 90, 100}), V{}) << "neighbours far apart: a dip of 40 between 40 and 80";
  EXPECT_EQ(found({0, 40, 80, 0, 90, 95, 100}), V{3});
  EXPECT_EQ(found({0, 40, 80, 200, 90, 95, 100}), V{3});
  EXPECT_EQ(found({0, 40, 80, 59, 90, 95, 100}), V{3}) << "21 outside, 10 apart";
  EXPECT_EQ(found({0, 40, 80, 61, 90, 95, 100}), V{}) << "19 outside, 10 apart";
  EXPECT_EQ(found({0, 40, 80, 76, 81, 95, 100}), V{}) << "4 of 100";
  EXPECT_EQ(found({0, 40, 80, 74, 81, 95, 100}), V{3}) << "6 of 100";
  EXPECT_EQ(found({0, 40, 80, 0, 80, 40, 0}, {0, 1, 2, 3, 2, 1, 0}), V{}) << "the load turned there";
  EXPECT_EQ(found({0, 40, 80, 0, 80, 40, 0}, {0, 1, 2, 2, 3, 4, 5}), V{}) << "twice at one load";
  EXPECT_EQ(found({0, 40, 80, 0, 80, 40, 0}, {0, 1, 2, 3, 3, 4, 5}), V{}) << "twice at one load";
  EXPECT_EQ(found({100, 95, 90, 10, 85, 40, 0}, {6, 5, 4, 3, 2, 1, 0}), V{3}) << "on the way back as well";
  EXPECT_EQ(found({0, 40, 0, 41}, {0, 1, 2, 3}), V{}) << "four are too few";
  EXPECT_EQ(found({0, 40, 0, 41, 42}, {0, 1, 2, 3, 4}), V{2});
  EXPECT_EQ(found({0, 0, 0, 0.2, 0, 0, 0}), V{}) << "two counts";
  EXPECT_EQ(found({0, 0, 0, 0.4, 0, 0, 0}), V{3}) << "four counts";
}

// The end slope of a torque-angle curve read over three stops far apart is the chord's, not that of the end: it is as
// unsure as they are far apart, and not given where that would be most of it.
TEST(Silent, TheEndSlopeIsAsUnsureAsItsStopsAreFarApart) {
  auto judged = [](size_t stops) {
    TestRecord r = made(*standin::find_bench(methods::find("torsion-bar")->standin), "torsion-bar");
    if (stops > 0) r.run.tables[kStops].resize(stops);
    return methods::evaluate(r);
  };
  const Evaluation whole = judged(0), cut = judged(7);
  ASSERT_NE(whole.find("tau_nadai"), nullptr);
  EXPECT_LT(whole.find("tau_nadai")->expanded(), 0.08 * whole.find("tau_nadai")->value);
  EXPECT_EQ(cut.find("tau_nadai"), nullptr) << "seven stops of four turns";
  EXPECT_NE(cut.finding("end-unrecorded"), nullptr);
}

// A dozen samples of a plate hold none between a tenth and four tenths of the peak: its strains kept the sign of the
// log.
TEST(Silent, FewSamplesOfAPlateAreShortenedAllTheSame) {
  const TestRecord whole =
      made(*standin::find_bench(methods::find("compression-after-impact")->standin), "compression-after-impact");
  for (double sign : {1.0, -1.0})
    for (size_t wanted : {4u, 6u, 9u, 12u, 20u}) {
      TestRecord r = whole;
      Samples s = *whole.run.samples();
      const size_t peak = size_t(std::max_element(s.column("force").values.begin(), s.column("force").values.end(),
                                                  [](double a, double b) { return std::abs(a) < std::abs(b); }) -
                                 s.column("force").values.begin());
      for (Channel& c : s.channels) {
        std::vector<double> few;
        for (size_t i = 0; i < wanted; ++i)
          few.push_back((c.name.starts_with("strain") ? sign : 1.0) * c.values[peak * (i + 1) / wanted]);
        c.values = few;
      }
      r.run.set_samples(std::make_shared<Samples>(std::move(s)));
      const Evaluation e = methods::evaluate(r, {.uncertainty = false});
      ASSERT_NE(e.find("eps_m"), nullptr) << wanted;
      EXPECT_GT(e.find("eps_m")->value, 0.004) << wanted << " samples, sign " << sign;
    }
}

// An absorbed energy below nothing was taken as typed, and none at all passed without a word.
TEST(Silent, ABlowTakesEnergy) {
  TestRecord r = made(*standin::find_bench(methods::find("impact-pendulum")->standin), "impact-pendulum");
  EXPECT_EQ(methods::evaluate(r, {.uncertainty = false}).finding("no-energy"), nullptr);
  Row& row = r.run.tables["blows"].front();
  row.cells.set("energy", Reading{"0 J", 0.0, 0.1});
  const Evaluation e = methods::evaluate(r, {.uncertainty = false});
  ASSERT_NE(e.finding("no-energy"), nullptr);
  EXPECT_EQ(e.finding("no-energy")->severity, Severity::check);
  row.state = Row::State::set_aside;
  EXPECT_EQ(methods::evaluate(r, {.uncertainty = false}).finding("no-energy"), nullptr);
  FieldSpec energy = *methods::find("impact-pendulum")->keyed_table()->column("energy");
  EXPECT_TRUE(record_json::read_one("0 J", energy, "run.blows[0].energy", {}));
  const auto below = record_json::read_one("-1.2 J", energy, "run.blows[0].energy", {});
  ASSERT_FALSE(below);
  EXPECT_NE(below.error().message.find("below zero"), std::string::npos) << below.error().message;
}

}  // namespace
}  // namespace fortitor::silent_test
