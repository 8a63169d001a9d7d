// What is done once for several pieces: held for a series, taken over, advised, undone; and the docket that shows them.
#include <QSignalSpy>

#include "app/docket/docket.h"
#include "app/series/common_page.h"
#include "core/standin/benches.h"
#include "tests/app/kit_desk_fixture.h"

namespace fortitor::series_hand_test {
namespace {

TEST_F(KitDesk, WhatHoldsForTheSeriesIsTypedOnceAndADifferenceIsMarked) {
  bars(3);
  window_->show_specimen(ids_[0], int(Stage::prepare));
  settle();
  type("specimen.material", "S355J2");
  EXPECT_EQ(record().fields.text("specimen.family"), "carbon steel") << "it comes with the material";
  EXPECT_TRUE(says("Usual:"));
  type("specimen.lot", "LG-417");
  type("limit:rm:min", "490");
  click("series-hold");
  ASSERT_TRUE(until([&] { return says("As the series."); }));
  settle();
  EXPECT_EQ(bench_.book()->series_record(series_)->fields.text("specimen.lot"), "LG-417");
  // The others had nothing: they follow.
  EXPECT_EQ(bench_.book()->record(ids_[2])->fields.text("specimen.material"), "S355J2");
  EXPECT_EQ(*bench_.book()->record(ids_[2])->limits.at("rm").min->value, 490);

  window_->show_specimen(ids_[1], int(Stage::prepare));
  settle();
  type("specimen.lot", "LG-500");
  EXPECT_TRUE(says("series: LG-417"));
  EXPECT_TRUE(says("Differs from the series: Lot."));
  // Changed for the series: who followed follows, who differs stays.
  window_->open("common", series_);
  QSignalSpy kept(window_->findChild<CommonPage*>(), &CommonPage::kept),
      compared(window_->findChild<CommonPage*>(), &CommonPage::compared);
  type("specimen.lot", "LG-418");
  ASSERT_TRUE(until([&] { return kept.count() > 0; }));
  compared.clear();
  ASSERT_TRUE(until([&] { return compared.count() > 0; }));
  EXPECT_EQ(bench_.book()->record(ids_[0])->fields.text("specimen.lot"), "LG-418");
  EXPECT_EQ(bench_.book()->record(ids_[1])->fields.text("specimen.lot"), "LG-500");
  EXPECT_TRUE(says("B-2: Lot"));
  window_->show_specimen(ids_[1], int(Stage::prepare));
  settle();
  click("series-as");
  EXPECT_EQ(record().fields.text("specimen.lot"), "LG-418");
  undo();
  EXPECT_EQ(record().fields.text("specimen.lot"), "LG-500");
  EXPECT_TRUE(bench_.book()->verify().empty());
}

// Ctrl Z reaches what was done on another desk and on another piece, and refuses what was changed since.
TEST_F(KitDesk, UndoGoesBackToOtherPiecesAndDesks) {
  bars(2);
  kit::Item cell;
  cell.kind = "load_cell";
  cell.fields.set(cell.path("id"), std::string("LC-50"));
  cell.fields.set(cell.path("capacity"), FieldValue(reading_of(*parse_quantity("50 kN", Dimension::force))));
  const Id id = *bench_.book()->save_item(cell, "entered");
  window_->show_specimen(ids_[0], int(Stage::prepare));
  settle();
  type("specimen.lot", "LG-1");
  ASSERT_EQ(record().fields.text("specimen.lot"), "LG-1");
  window_->show_specimen(ids_[1], int(Stage::prepare));
  settle();
  window_->open("kit", id);
  click("kit-retire");
  ASSERT_TRUE(items().front().retired());
  undo();
  EXPECT_FALSE(items().front().retired());
  undo();
  settle();
  EXPECT_EQ(bench_.specimen(), ids_[0]) << "the piece of the step is shown";
  EXPECT_NE(record().fields.text("specimen.lot"), "LG-1");
  EXPECT_NE(bench_.book()->record(ids_[0])->fields.text("specimen.lot"), "LG-1");
  // Changed since by another way: said, and left.
  type("specimen.lot", "LG-2");
  window_->show_specimen(ids_[1], int(Stage::prepare));
  settle();
  change_piece(ids_[0], "elsewhere", [](TestRecord& r) { r.fields.set("specimen.lot", std::string("LG-3")); });
  undo();
  settle();
  EXPECT_EQ(bench_.book()->record(ids_[0])->fields.text("specimen.lot"), "LG-3");
  EXPECT_TRUE(window_->message().contains("changed since")) << window_->message().toStdString();
  EXPECT_TRUE(bench_.book()->verify().empty());
}

TEST_F(KitDesk, TheNextPieceStartsWhereTheLastLeftOff) {
  bars(2);
  standin::SimulateOptions bar;
  bar.seed = 6;
  const TestRecord made = standin::find_bench(methods::find("tension-metal")->standin)->simulate(bar);
  ASSERT_TRUE(bench_.book()->store_run(ids_[0], *made.run.samples(), "test"));
  give(ids_[0], [&](TestRecord& r) {
    const std::string id = r.specimen_id();
    r = made;
    r.fields.set("specimen.id", id);
    r.fields.set("specimen.marking", std::string("yellow end"));
  });
  window_->show_specimen(ids_[0], int(Stage::evaluate));
  settle();
  ASSERT_TRUE(until([&] { return bench_.book()->specimen(ids_[0])->stages[3] == '2'; }));
  window_->show_specimen(ids_[1]);
  settle();
  EXPECT_EQ(record().fields.text("specimen.material"),
            bench_.book()->record(ids_[0])->fields.text("specimen.material"));
  EXPECT_TRUE(record().fields.has("settings.speed.elastic"));
  EXPECT_FALSE(record().fields.has("specimen.section.diameter")) << "no reading comes over";
  EXPECT_FALSE(record().fields.has("specimen.marking"));
  EXPECT_EQ(bench_.book()->logbook(1)[0].what, "begun as B-1 left off");
  // It is one step that can be taken back, and it is not done twice.
  undo();
  EXPECT_FALSE(record().fields.has("settings.speed.elastic"));
  window_->show_specimen(ids_[0]);
  window_->show_specimen(ids_[1]);
  EXPECT_FALSE(record().fields.has("settings.speed.elastic")) << "taken back stays taken back";
  click("series-last");
  EXPECT_TRUE(record().fields.has("settings.speed.elastic"));
}

TEST_F(KitDesk, AllAdviceIsTakenInOneStep) {
  bars(1);
  give(ids_[0], [](TestRecord& r) {
    for (const auto& [path, typed] :
         {std::pair{"specimen.gauge_length", "50 mm"}, {"specimen.parallel_length", "60 mm"}})
      standin::type_into(r, path, typed);
    standin::type_list(r, "specimen.section.diameter", {"10.01 mm", "10.00 mm", "9.99 mm"});
    r.fields.set("specimen.section.shape", std::string("round"));
    r.fields.set("specimen.material", std::string("S355J2"));
    r.fields.set("specimen.family", std::string("carbon steel"));
  });
  window_->show_specimen(ids_[0], int(Stage::set_up));
  settle();
  const Plan plan = bench_.method().plan(record());
  ASSERT_GT(plan.advice.size(), 3u);
  click("use-all");
  const Plan after = bench_.method().plan(record());
  for (const Advice& a : plan.advice) EXPECT_TRUE(record().fields.number(a.setting)) << a.setting;
  undo();
  for (const Advice& a : plan.advice) EXPECT_FALSE(record().fields.number(a.setting)) << a.setting;
}

TEST_F(KitDesk, TheDocketFoldsFiltersAndKeepsThePieceInSight) {
  bars(3);
  Docket* docket = window_->docket();
  window_->show_specimen(ids_[1]);
  settle();
  EXPECT_FALSE(docket->row_of(ids_[2]).isEmpty());
  docket->setFocus();
  QTest::keyClick(docket, Qt::Key_Left);
  EXPECT_TRUE(docket->row_of(ids_[2]).isEmpty()) << "folded";
  QTest::keyClicks(docket, "b-3");
  EXPECT_EQ(docket->filter(), "b-3");
  EXPECT_FALSE(docket->row_of(ids_[2]).isEmpty()) << "what is looked for is shown, folded or not";
  EXPECT_TRUE(docket->row_of(ids_[0]).isEmpty());
  QTest::keyClick(docket, Qt::Key_Return);
  EXPECT_EQ(bench_.specimen(), ids_[2]) << "Enter opens the first that fits";
  docket->setFocus();
  QTest::keyClick(docket, Qt::Key_Escape);
  EXPECT_TRUE(docket->filter().isEmpty());
  EXPECT_FALSE(docket->grab().isNull());
}

}  // namespace
}  // namespace fortitor::series_hand_test
