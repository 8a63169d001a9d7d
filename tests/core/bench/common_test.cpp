// What is typed once for a series: nothing that was read off one piece may come over to another.
#include "core/bench/common.h"

#include "core/bench/material.h"
#include "core/bench/progress.h"
#include "core/series/series.h"
#include "tests/core/methods/method_records.h"

namespace fortitor::common_test {
namespace {

class EveryMethod : public testing::TestWithParam<const Method*> {};

TestRecord fresh_of(const Method& m) {
  TestRecord r;
  r.method = m.id;
  r.fields.set("specimen.id", std::string("N-2"));
  return r;
}

TEST_P(EveryMethod, NoReadingOfOnePieceComesOverToTheNext) {
  const Method& m = *GetParam();
  TestRecord last = standin::find_bench(m.standin)->simulate({});
  for (const FieldSpec& f : m.fields)  // everything ticked and written that could be
    if (f.kind == FieldKind::flag)
      last.fields.set(f.path, true);
    else if (f.kind == FieldKind::text && !last.fields.has(f.path))
      last.fields.set(f.path, std::string("of the last piece"));
  TestRecord fresh = fresh_of(m);
  EXPECT_GT(common::take_over(fresh, last, m), 3);
  EXPECT_EQ(fresh.specimen_id(), "N-2");
  EXPECT_FALSE(fresh.has_run());
  for (const auto& [path, value] : fresh.fields.all()) {
    const FieldSpec* f = m.field(path);
    ASSERT_NE(f, nullptr) << path;
    EXPECT_NE(f->kind, FieldKind::readings) << path;
    EXPECT_NE(f->stage, Stage::after) << path;
    EXPECT_NE(f->stage, Stage::run) << path;
    EXPECT_EQ(path.rfind("settings.checks.", 0), std::string::npos) << path;
    EXPECT_EQ(path.rfind("conditions.temperature", 0), std::string::npos) << path;
    EXPECT_EQ(path.find(".note"), std::string::npos) << path;
    EXPECT_NE(path, "specimen.marking");
    EXPECT_NE(path, "settings.series.left_out");
  }
}

// The promise: a fresh piece of a running series reaches Run with readings and ticks alone.
TEST_P(EveryMethod, TheNextPieceReachesTheMachineWithReadingsAndTicksAlone) {
  const Method& m = *GetParam();
  TestRecord last = standin::find_bench(m.standin)->simulate({});
  for (const std::string& path : {std::string("specimen.material"), std::string("specimen.family")})
    if (!last.fields.has(path)) last.fields.set(path, std::string("as ordered"));
  TestRecord fresh = fresh_of(m);
  common::take_over(fresh, last, m);
  int touched = 0, bought = 0;
  for (const FieldSpec& f : m.fields) {
    const bool reading = f.stage == Stage::measure || f.stage == Stage::prepare;
    if (fresh.fields.has(f.path) || !last.fields.has(f.path) || !reading) continue;
    if (f.kind != FieldKind::readings && f.kind != FieldKind::quantity && f.kind != FieldKind::number) continue;
    fresh.fields.set(f.path, *last.fields.find(f.path));
    ++touched;
    bought += f.path.rfind("equipment.", 0) == 0 || f.path == "specimen.material" || f.path == "specimen.family";
  }
  for (const CheckItem& c : m.guide(Stage::set_up).checklist) fresh.fields.set("settings.checks." + c.id, true);
  const Evaluation e = methods::evaluate(fresh, {.uncertainty = false, .today = "2026-11-25"});
  const Progress p = progress_of(m, fresh, &e, false);
  for (const std::string& missing : p[size_t(Stage::set_up)].missing) ADD_FAILURE() << missing;
  EXPECT_EQ(bought, 0) << "no equipment and no material";
  EXPECT_LE(touched, 6) << "readings of one piece";
}

TEST_P(EveryMethod, SettingsOfASeriesAreWrittenAndReadBack) {
  const Method& m = *GetParam();
  const TestRecord last = standin::find_bench(m.standin)->simulate({});
  TestRecord settings;
  settings.method = series_schema(m).id;
  common::set(settings, last, m);
  settings.limits[m.limit_keys.front()].min =
      reading_of(parse_quantity("5", m.result(m.limit_keys.front())->dimension).value());
  const auto back = series_settings_from_json(m, series_settings_to_json(m, settings));
  ASSERT_TRUE(back) << back.error().message;
  EXPECT_EQ(back->fields, settings.fields);
  EXPECT_EQ(back->limits, settings.limits);
}

INSTANTIATE_TEST_SUITE_P(Common, EveryMethod, testing::ValuesIn(methods::all().begin(), methods::all().end()),
                         method_test_name);

class Bars : public testing::Test {
 protected:
  const Method& m = *methods::find("tension-metal");
  TestRecord bar(const std::vector<std::pair<std::string, std::vector<std::string>>>& fields) {
    return record_of("tension-metal", fields);
  }
};

TEST_F(Bars, HalfOfOneCellAndHalfOfAnotherIsNone) {
  TestRecord own = bar({{"equipment.load_cell.capacity", {"50 kN"}}});
  const TestRecord series = bar({{"equipment.load_cell.capacity", {"100 kN"}},
                                 {"equipment.load_cell.class", {"0.5"}},
                                 {"specimen.lot", {"L-1"}}});
  EXPECT_EQ(common::take_over(own, series, m), 1);
  EXPECT_FALSE(own.fields.has("equipment.load_cell.class")) << "the class of another cell";
  EXPECT_EQ(own.fields.text("specimen.lot"), "L-1");
}

TEST_F(Bars, APieceFollowsTheSeriesOnlyWhereItHadFollowed) {
  const TestRecord before = bar({{"specimen.lot", {"L-1"}},
                                 {"specimen.material", {"S355J2"}},
                                 {"equipment.load_cell.id", {"LC-1"}},
                                 {"equipment.load_cell.class", {"1"}}});
  const TestRecord now = bar({{"specimen.lot", {"L-2"}},
                              {"equipment.load_cell.id", {"LC-2"}},
                              {"equipment.load_cell.class", {"0.5"}},
                              {"settings.decision", {"guarded-acceptance"}}});
  TestRecord follower = before;
  follower.fields.set("specimen.id", std::string("X"));
  EXPECT_TRUE(common::follow(follower, before, now, m));
  EXPECT_EQ(follower.fields.text("specimen.id"), "X");
  EXPECT_EQ(follower.fields.text("specimen.lot"), "L-2");
  EXPECT_FALSE(follower.fields.has("specimen.material")) << "taken back for all";
  EXPECT_EQ(follower.fields.text("equipment.load_cell.class"), "0.5");
  EXPECT_EQ(follower.fields.text("settings.decision"), "guarded-acceptance");
  EXPECT_FALSE(common::follow(follower, before, before, m));

  TestRecord own = before;
  own.fields.set("specimen.lot", std::string("mine"));
  own.fields.set("equipment.load_cell.class", std::string("2"));
  EXPECT_TRUE(common::follow(own, before, now, m));
  EXPECT_EQ(own.fields.text("specimen.lot"), "mine");
  EXPECT_EQ(own.fields.text("equipment.load_cell.id"), "LC-1") << "a cell is followed whole or not at all";
  EXPECT_EQ(own.fields.text("equipment.load_cell.class"), "2");
  const auto differ = common::differences(own, now, m);
  EXPECT_EQ(differ.size(), 3u);  // lot, cell, its class
}

TEST_F(Bars, AsTheSeriesMeansTheWholeCell) {
  TestRecord own = bar({{"equipment.load_cell.id", {"LC-9"}},
                        {"equipment.load_cell.class", {"2"}},
                        {"specimen.surface", {"ground"}},
                        {"equipment.grips.id", {"W-1"}}});
  own.fields.set("equipment.load_cell.due", std::string("2026-01-01"));
  const TestRecord series = bar({{"equipment.load_cell.id", {"LC-1"}}, {"specimen.lot", {"L-1"}}});
  common::adopt(own, series, m);
  EXPECT_EQ(own.fields.text("equipment.load_cell.id"), "LC-1");
  EXPECT_FALSE(own.fields.has("equipment.load_cell.due")) << "that was of the other cell";
  EXPECT_FALSE(own.fields.has("equipment.load_cell.class"));
  EXPECT_EQ(own.fields.text("specimen.surface"), "ground");
  EXPECT_EQ(own.fields.text("equipment.grips.id"), "W-1") << "the series says nothing of grips";
  EXPECT_TRUE(common::differences(own, series, m).empty());
}

TEST_F(Bars, LimitsFollowToo) {
  const Limit old{reading_of(parse_quantity("300 MPa", Dimension::stress).value()), {}};
  const Limit tighter{reading_of(parse_quantity("355 MPa", Dimension::stress).value()), {}};
  TestRecord before, now, follower = bar({}), own = bar({});
  before.limits["reh"] = follower.limits["reh"] = old;
  now.limits["reh"] = tighter;
  now.limits["rm"] = old;
  own.limits["reh"] = {{}, old.min};
  EXPECT_TRUE(common::follow(follower, before, now, m));
  EXPECT_EQ(follower.limits.at("reh"), tighter);
  EXPECT_EQ(follower.limits.at("rm"), old);
  EXPECT_TRUE(common::follow(own, before, now, m));
  EXPECT_EQ(own.limits.at("reh").max, old.min) << "its own limit stays";
  EXPECT_EQ(common::differences(own, now, m), std::vector<std::string>{"limit of upper yield strength"});
  EXPECT_TRUE(common::follow(follower, now, before, m));
  EXPECT_EQ(follower.limits.count("rm"), 0u);
}

TEST_F(Bars, AMaterialBringsItsFamilyAndTakesItAlong) {
  const FieldSpec& f = *m.field("specimen.material");
  ASSERT_TRUE(f.from_reference);
  TestRecord r = bar({});
  material::set(r, m, f, "S355J2");
  EXPECT_EQ(r.fields.text("specimen.family"), "carbon steel");
  EXPECT_NE(material::usual_words(r, UnitSet::si).find("MPa"), std::string::npos);
  material::set(r, m, f, "no such thing");
  EXPECT_FALSE(r.fields.has("specimen.family")) << "it came with the other material";
  EXPECT_EQ(material::usual_words(r, UnitSet::si), "");
  r.fields.set("specimen.family", std::string("my family"));
  material::set(r, m, f, "S355J2");
  EXPECT_EQ(r.fields.text("specimen.family"), "my family");
  EXPECT_GT(material::names({}).size(), 20u);
}

}  // namespace
}  // namespace fortitor::common_test
