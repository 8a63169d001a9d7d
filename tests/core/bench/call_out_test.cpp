// The call-out sheet without its looks.
#include "core/bench/call_out.h"

#include <numbers>

#include "tests/core/methods/method_records.h"

namespace fortitor::call_out_test {
namespace {

const Method& bending() {
  return *methods::find("flexure-beam");
}

const TableSpec& bending_stops() {
  return *bending().keyed_table();
}

Reading mm(const std::string& typed) {
  return reading_of(parse_quantity(typed, Dimension::length).value());
}

TestRecord fresh() {
  return record_of("flexure-beam", {{"settings.step", {"250 N"}}});
}

void key_in(TestRecord& r, const std::string& typed) {
  call_out::keep(r, call_out_of(bending(), r, nullptr), mm(typed));
}

TEST(CallOut, StopsFollowTheStepAndTheRecordHoldsTheState) {
  TestRecord r = fresh();
  CallOut c = call_out_of(bending(), r, nullptr);
  EXPECT_EQ(c.phase, CallOut::Phase::not_begun);
  EXPECT_EQ(c.control, 0);
  key_in(r, "0.00 mm");
  EXPECT_TRUE(r.run.open);
  key_in(r, "1.62 mm");
  c = call_out_of(bending(), r, nullptr);
  EXPECT_EQ(c.control, 500);
  EXPECT_EQ(r.run.tables["stations"][1].reading("force")->typed, "250 N");
  // A record written and read again asks for the same stop.
  const auto again = record_from_json(record_to_json(r));
  ASSERT_TRUE(again);
  EXPECT_TRUE(again->run.open);
  EXPECT_EQ(call_out_of(bending(), *again, nullptr).control, 500);
}

TEST(CallOut, TheLineSaysWhatToExpect) {
  TestRecord r = fresh();
  for (const char* d : {"0.00 mm", "1.62 mm", "3.24 mm", "4.86 mm"}) key_in(r, d);
  const Evaluation e = methods::evaluate(r);
  const CallOut c = call_out_of(bending(), r, &e);
  ASSERT_TRUE(c.predicted[0]);
  EXPECT_NEAR(*c.predicted[0], 6.48, 1e-9);
}

TEST(CallOut, StepsChangeOnTheFlyAndStayOnTheGrid) {
  TestRecord r = fresh();
  key_in(r, "0.00 mm");
  key_in(r, "1.62 mm");
  standin::type_into(r, "settings.step",
                     call_out::typed_control(bending_stops(), call_out::changed_step(bending_stops(), 250, false)));
  EXPECT_EQ(*r.fields.number("settings.step"), 200);
  EXPECT_EQ(call_out_of(bending(), r, nullptr).control, 400);
  EXPECT_EQ(call_out::changed_step(bending_stops(), 250, true), 500);
  EXPECT_EQ(call_out::changed_step(bending_stops(), 500, true), 1000);
  const TableSpec& torsion = *methods::find("torsion-bar")->keyed_table();
  EXPECT_NEAR(call_out::changed_step(torsion, 5 * std::numbers::pi / 180, true) * 180 / std::numbers::pi, 10, 1e-9)
      << "in degrees";
}

TEST(CallOut, AnotherStopMayBeTyped) {
  TestRecord r = fresh();
  key_in(r, "0.00 mm");
  call_out::keep(r, call_out_of(bending(), r, nullptr), mm("2.03 mm"),
                 reading_of(parse_quantity("310 N", Dimension::force).value()));
  EXPECT_EQ(r.run.tables["stations"][1].reading("force")->typed, "310 N");
  EXPECT_EQ(call_out_of(bending(), r, nullptr).control, 500);
}

TEST(CallOut, MissedIsMissedAndReReadKeepsTheFirst) {
  TestRecord r = fresh();
  key_in(r, "0.00 mm");
  call_out::keep(r, call_out_of(bending(), r, nullptr), Reading{});
  EXPECT_TRUE(r.run.tables["stations"][1].reading("deflection")->missed());
  key_in(r, "3.27 mm");
  call_out::re_read(bending(), r, 2);
  CallOut c = call_out_of(bending(), r, nullptr);
  EXPECT_EQ(c.row, 2u);
  EXPECT_TRUE(c.again);
  key_in(r, "3.24 mm");
  EXPECT_EQ(r.run.tables["stations"][2].reading("deflection")->typed, "3.24 mm");
  EXPECT_EQ(r.run.tables["stations"][2].note, "first read 3.27 mm");
  call_out::re_read(bending(), r, 99);  // nothing there
}

TEST(CallOut, BrokeKeepsTheBracketOfLoads) {
  TestRecord r = fresh();
  for (const char* d : {"0.00 mm", "1.62 mm", "3.24 mm"}) key_in(r, d);
  call_out::broke(r, call_out_of(bending(), r, nullptr));
  EXPECT_FALSE(r.run.open);
  const Readings bracket = r.fields.readings("specimen.after.broke_between");
  ASSERT_EQ(bracket.size(), 2u);
  EXPECT_EQ(bracket[0].typed, "500 N");
  EXPECT_EQ(bracket[1].typed, "750 N");
  EXPECT_EQ(call_out_of(bending(), r, nullptr).phase, CallOut::Phase::ended);
}

TEST(CallOut, TwoChannelsAndTheZerosAfterUnloading) {
  const Method& m = *methods::find("poisson-gauge");
  TestRecord r = record_of("poisson-gauge", {{"settings.step", {"500 N"}}, {"settings.last_stop", {"1000 N"}}});
  auto strain = [&](const std::string& typed) {
    call_out::keep(r, call_out_of(m, r, nullptr), reading_of(parse_quantity(typed, Dimension::microstrain).value()));
  };
  for (int i = 0; i < 3; ++i) {
    EXPECT_EQ(call_out_of(m, r, nullptr).column, 0u);
    strain(std::to_string(90 * i));
    EXPECT_EQ(call_out_of(m, r, nullptr).column, 1u);
    strain(std::to_string(-30 * i));
  }
  EXPECT_TRUE(call_out_of(m, r, nullptr).last_done);
  call_out::end(m, r, "last stop as planned");
  EXPECT_EQ(call_out_of(m, r, nullptr).phase, CallOut::Phase::unloading);
  strain("2");
  strain("1");
  EXPECT_FALSE(r.run.open);
  EXPECT_EQ(*r.fields.number("run.unload.strain_long"), 2e-6);
}

TEST(CallOut, ASecondTorsionGaugeIsAskedForWhenThereIsOne) {
  const Method& m = *methods::find("torsion-bar");
  TestRecord r = record_of("torsion-bar", {{"specimen.gauges", {"1"}}});
  EXPECT_EQ(call_out_of(m, r, nullptr).predicted.size(), 2u);
  standin::type_into(r, "specimen.gauges", "2");
  EXPECT_EQ(call_out_of(m, r, nullptr).predicted.size(), 3u);
}

TEST(CallOut, NotesDoubtsAndCracks) {
  TestRecord r = fresh();
  key_in(r, "0.00 mm");
  key_in(r, "1.62 mm");
  call_out::note(bending(), r, 1, "creaked");
  call_out::note(bending(), r, 1, "again");
  EXPECT_EQ(r.run.tables["stations"][1].note, "creaked; again");
  call_out::doubt(bending(), r, 1);
  EXPECT_TRUE(r.run.tables["stations"][1].doubtful());
  call_out::doubt(bending(), r, 1);
  EXPECT_FALSE(r.run.tables["stations"][1].doubtful());
  call_out::cracking(r, call_out_of(bending(), r, nullptr), 42);
  ASSERT_EQ(r.events.size(), 1u);
  EXPECT_EQ(r.events[0].note, "on the way to 500 N");
  EXPECT_EQ(r.events[0].at, 42);
}

TEST(CallOut, ARemedyThatNamesNoStopChangesNothing) {
  TestRecord r = fresh();
  key_in(r, "0.00 mm");
  for (const char* path : {"run.stations.7.state", "run.stations..state", "run.stations.x.state", "run.stations.0.note",
                           "run.blows.0.state", "settings.zero", "run.stations.18446744073709551616.state"})
    EXPECT_FALSE(mark_row(r, path, "doubtful")) << path;
  EXPECT_FALSE(r.run.tables["stations"][0].doubtful());
  EXPECT_FALSE(mark_row(r, "run.stations.0.state", "maybe"));
  EXPECT_TRUE(mark_row(r, "run.stations.0.state", "set aside"));
  EXPECT_EQ(r.run.tables["stations"][0].state, Row::State::set_aside);
}

TEST(CallOut, AMarkIsPutOnAndTakenOffAndAWordStandsUnderItsColumn) {
  const Method& m = *methods::find("fatigue-constant");
  TestRecord r = record_of("fatigue-constant", {});
  r.run.tables["points"].resize(2);
  const auto marked = [&](char key) {
    for (const RowMark& k : m.keyed_table()->marks)
      if (k.key == key) return k;
    ADD_FAILURE() << key;
    return RowMark{};
  };
  const Fields& cells = r.run.tables["points"][1].cells;
  call_out::mark(m, r, 1, marked('U'));
  EXPECT_TRUE(cells.flag("runout"));
  EXPECT_FALSE(r.run.tables["points"][0].cells.has("runout")) << "the other row has none";
  call_out::mark(m, r, 1, marked('U'));
  EXPECT_FALSE(cells.has("runout"));
  call_out::set_word(m, r, 1, marked('P'), std::string("W-07"));
  EXPECT_EQ(cells.text("specimen"), "W-07");
  const Fields before = cells;
  call_out::mark(m, r, 2, marked('U'));
  call_out::set_word(m, r, 2, marked('P'), std::string("W-08"));
  RowMark none = marked('U');
  none.column = "colour";
  call_out::mark(m, r, 1, none);
  EXPECT_EQ(r.run.tables["points"].size(), 2u);
  EXPECT_EQ(cells, before) << "neither a row nor a column that is not there";
  // A mark of a choice: its word, put on and taken off.
  RowMark word = marked('U');
  word.column = "origin";
  word.value = "weld toe";
  call_out::mark(m, r, 0, word);
  EXPECT_EQ(r.run.tables["points"][0].cells.text("origin"), "weld toe");
  call_out::mark(m, r, 0, word);
  EXPECT_FALSE(r.run.tables["points"][0].cells.has("origin"));
}

TEST(Tally, RowAfterRowOneColumnAfterTheOther) {
  const Method& m = *methods::find("density");
  TestRecord r = record_of("density", {{"specimen.immersed", {"true"}}});
  auto grams = [&](const std::string& typed) {
    call_out::keep(r, call_out_of(m, r, nullptr), reading_of(parse_quantity(typed, Dimension::mass).value()));
  };
  CallOut now = call_out_of(m, r, nullptr);
  EXPECT_FALSE(now.table.stepped());
  EXPECT_EQ(now.table.columns.size(), 2u) << "mass and mass in water";
  for (const char* mass : {"10.21 g", "10.22 g", "10.21 g"}) {
    EXPECT_EQ(call_out_of(m, r, nullptr).column, 0u);
    grams(mass);
    EXPECT_EQ(call_out_of(m, r, nullptr).column, 1u);
    grams("1.20 g");
  }
  now = call_out_of(m, r, nullptr);
  EXPECT_TRUE(now.last_done);
  EXPECT_EQ(now.row, 3u);
  call_out::re_read(m, r, 1);
  EXPECT_EQ(call_out_of(m, r, nullptr).row, 1u);
  grams("10.20 g");
  grams("1.21 g");
  EXPECT_EQ(r.run.rows("readings")[1].note, "first read 10.22 g, 1.20 g");
  call_out::end(m, r, "");
  EXPECT_FALSE(r.run.open);
  EXPECT_EQ(call_out_of(m, r, nullptr).phase, CallOut::Phase::ended);
}

TEST(Tally, WithoutWaterOnlyTheMassIsAsked) {
  const TestRecord r = record_of("density", {});
  EXPECT_EQ(call_out_of(*methods::find("density"), r, nullptr).table.columns.size(), 1u);
}

}  // namespace
}  // namespace fortitor::call_out_test
