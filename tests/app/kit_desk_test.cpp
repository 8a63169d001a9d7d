// The Kit desk and what comes of it: items entered once, and chosen at Set up.
#include <QListWidget>

#include "core/standin/benches.h"
#include "core/standin/tension_bench.h"
#include "tests/app/kit_desk_fixture.h"

namespace fortitor::kit_desk_test {
namespace {

TEST_F(KitDesk, ItemsAreAddedChangedHeldAndRetired) {
  window_->open("kit");
  EXPECT_TRUE(says("Nothing is in the Kit yet"));
  add_cell("LC-50", "50 kN", "in 4 days");
  ASSERT_EQ(items().size(), 1u);
  EXPECT_EQ(items()[0].due(), parse_day("in 4 days", bench_.today()).value());
  EXPECT_EQ(*items()[0].fields.number("equipment.load_cell.capacity"), 50e3);
  EXPECT_TRUE(says("4 days left"));
  EXPECT_TRUE(says("No record names it yet"));

  click("kit-edit");
  type("equipment.load_cell.due", "soonish");
  EXPECT_TRUE(window_->message().contains("no day")) << window_->message().toStdString();
  type("equipment.load_cell.due", "in 3 months");
  click("kit-keep");
  QCoreApplication::processEvents();
  EXPECT_EQ(items()[0].due(), months_after(bench_.today(), 3));
  EXPECT_FALSE(says("days left"));

  QTimer asked;
  connect_answer(asked, "dropped");
  click("kit-hold");
  QCoreApplication::processEvents();
  EXPECT_TRUE(says("held: dropped"));
  EXPECT_EQ(items()[0].held(), "dropped");
  click("kit-hold");
  QCoreApplication::processEvents();
  EXPECT_EQ(items()[0].held(), "");
  click("kit-retire");
  QCoreApplication::processEvents();
  EXPECT_TRUE(items()[0].retired());
  EXPECT_TRUE(bench_.book()->verify().empty());
}

TEST_F(KitDesk, ANameTwiceIsRefusedAndNothingIsLost) {
  add_cell("LC-50", "50 kN", "in 4 days");
  add_cell("LC-50", "20 kN", "in 5 days");
  EXPECT_TRUE(window_->message().contains("already has")) << window_->message().toStdString();
  EXPECT_EQ(find<QLineEdit>("equipment.load_cell.capacity")->text(), "20 kN") << "the form is still there";
  type("equipment.load_cell.id", "LC-20");
  click("kit-keep");
  QCoreApplication::processEvents();
  EXPECT_EQ(items().size(), 2u);
  begin("Load cell");
  click("kit-drop");
  QCoreApplication::processEvents();
  EXPECT_EQ(items().size(), 2u);
  // The drawing is walked by keys, in every order.
  for (const char* order : {"kit-order:lives", "kit-order:by bench", "kit-order:due next"}) {
    click(order);
    auto* lives = window_->findChild<KitLives*>();
    lives->setFocus();
    QTest::keyClick(lives, Qt::Key_Up);
    const auto first = lives->selected();
    QTest::keyClick(lives, Qt::Key_Down);
    EXPECT_NE(lives->selected(), first) << order;
    EXPECT_FALSE(lives->row_of(first).isEmpty());
    QTest::mouseClick(lives, Qt::LeftButton, {}, lives->row_of(first).center());
    EXPECT_EQ(lives->selected(), first);
    EXPECT_FALSE(lives->grab().isNull());
  }
}

TEST_F(KitDesk, ABenchFillsSetUpAndWhatHasEndedAsksBeforeTheStart) {
  add_cell("LC-50", "200 kN", "3 days ago");
  begin("Extensometer");
  type("equipment.extensometer.id", "EX-50");
  type("equipment.extensometer.range", "12.5 mm");
  click("kit-keep");
  QCoreApplication::processEvents();
  click("kit-new-bench");
  type("settings.name", "Frame 50 kN, bars");
  choose("bench-item:load_cell", "LC-50");
  choose("bench-item:extensometer", "EX-50");
  click("kit-keep");
  QCoreApplication::processEvents();
  ASSERT_EQ(items().size(), 3u);

  bars();
  give(ids_[0], [](TestRecord& r) {
    const std::string id = r.specimen_id();
    const TestRecord made = standin::find_bench(methods::find("tension-metal")->standin)->simulate({});
    for (const auto& [path, value] : made.fields.all())
      if (path.rfind("equipment.", 0) != 0 && path.rfind("specimen.after", 0) != 0) r.fields.set(path, value);
    r.fields.set("specimen.id", id);
  });
  window_->show_specimen(ids_[0], int(Stage::set_up));
  settle();
  choose("bench", "Frame 50");
  EXPECT_EQ(*record().fields.number("equipment.load_cell.capacity"), 200e3);
  EXPECT_EQ(record().fields.text("equipment.extensometer.id"), "EX-50");
  EXPECT_EQ(find<QComboBox>("kit:load_cell")->currentText().section("  ", 0, 0), "LC-50");
  EXPECT_TRUE(says("overdue since"));
  for (const CheckItem& c : bench_.method().guide(Stage::set_up).checklist)
    if (c.safety) click("check:" + QString::fromStdString(c.id));
  ASSERT_TRUE(
      until([&] { return bench_.evaluation_current() && bench_.evaluation()->finding("calibration-expired"); }));
  QCoreApplication::processEvents();
  EXPECT_FALSE(find<QPushButton>("setup-start")->isEnabled()) << "Start asks first";
  click("remedy:calibration-expired:accept");
  auto* reason = find<QLineEdit>("reason:calibration-expired");
  ASSERT_NE(reason, nullptr);
  QTest::keyClicks(reason, "checked with a dead weight this morning");
  QTest::keyClick(reason, Qt::Key_Return);
  settle();
  EXPECT_TRUE(find<QPushButton>("setup-start")->isEnabled())
      << bench_.progress()[size_t(Stage::set_up)].missing.front();
  // Calibrated meanwhile: the piece on the bench knows when one comes back to it, and the question is gone.
  kit::Item renewed = items()[0];
  renewed.fields.set(renewed.path("due"), months_after(bench_.today(), 12));
  ASSERT_TRUE(bench_.book()->save_item(renewed, "calibrated"));
  window_->open("kit");
  window_->show_specimen(ids_[0], int(Stage::set_up));
  EXPECT_EQ(record().fields.text("equipment.load_cell.due"), months_after(bench_.today(), 12));
  settle();
  EXPECT_EQ(bench_.evaluation()->finding("calibration-expired"), nullptr);
  // Typed over, the slot no longer says it is that item.
  choose("kit:load_cell", "typed");
  EXPECT_EQ(record().fields.text("equipment.load_cell.id"), "");
  EXPECT_FALSE(record().fields.has("equipment.load_cell.due"));
  EXPECT_EQ(find<QComboBox>("bench")->currentIndex(), 0);
}

TEST_F(KitDesk, WhatIsTypedAtSetUpIsKeptInTheKit) {
  bars();
  window_->show_specimen(ids_[0], int(Stage::set_up));
  settle();
  type("equipment.load_cell.id", "LC-7");
  click("kit-keep:load_cell");
  QCoreApplication::processEvents();
  ASSERT_EQ(items().size(), 1u);
  EXPECT_EQ(find<QComboBox>("kit:load_cell")->currentText().section("  ", 0, 0), "LC-7");
  EXPECT_FALSE(record().fields.has("equipment.load_cell.due"));
}

TEST_F(KitDesk, SetUpNamesWhatTheKitHasAndAsksWhoMayUseIt) {
  bars(1);
  for (const auto& [name, size] : {std::pair{"LC-5", "5 kN"}, {"LC-150", "150 kN"}}) {
    kit::Item cell;
    cell.kind = "load_cell";
    cell.fields.set(cell.path("id"), std::string(name));
    cell.fields.set(cell.path("capacity"), FieldValue(reading_of(*parse_quantity(size, Dimension::force))));
    if (name == std::string("LC-150")) cell.fields.set("settings.who", std::string("N. Body"));
    ASSERT_TRUE(bench_.book()->save_item(cell, "entered"));
  }
  give(ids_[0], [](TestRecord& r) {
    const std::string id = r.specimen_id();
    r = standin::simulate_tension({.seed = 6});
    r.run = fortitor::Run{};
    r.events.clear();
    r.fields.set("specimen.id", id);
    for (const char* path : {"id", "capacity", "class"}) r.fields.erase(std::string("equipment.load_cell.") + path);
    for (const CheckItem& c : methods::find(r.method)->guide(Stage::set_up).checklist)
      r.fields.set("settings.checks." + c.id, true);
  });
  window_->show_specimen(ids_[0], int(Stage::set_up));
  settle();
  for (const auto* b : window_->findChildren<QPushButton*>())
    EXPECT_NE(b->property("key").toString(), "use-item:LC-5") << "it does not carry it";
  click("use-item:LC-150");
  settle();
  EXPECT_EQ(record().fields.text("equipment.load_cell.id"), "LC-150");
  EXPECT_EQ(*record().fields.number("equipment.load_cell.capacity"), 150e3);
  EXPECT_TRUE(bench_.not_theirs().contains("LC-150 is for N. Body alone")) << bench_.not_theirs().toStdString();
}

TEST_F(KitDesk, AMaterialIsOfferedFromTheLibrary) {
  bars(1);
  window_->show_specimen(ids_[0], int(Stage::prepare));
  settle();
  auto* line = find<QLineEdit>("specimen.material");
  line->setFocus();
  QTest::keyClicks(line, "355");
  auto* offers = find<QListWidget>("offer:specimen.material");
  ASSERT_NE(offers, nullptr);
  ASSERT_GE(offers->count(), 1);
  const QString first = offers->item(0)->text();
  EXPECT_TRUE(first.contains("355"));
  QTest::keyClick(line, Qt::Key_Down);
  QTest::keyClick(line, Qt::Key_Return);
  EXPECT_EQ(record().fields.text("specimen.material"), first.toStdString());
  EXPECT_FALSE(record().fields.text("specimen.family").empty());
  EXPECT_FALSE(offers->isVisible());
  // What was typed and not picked stays what was typed.
  type("specimen.material", "355 of ours");
  EXPECT_EQ(record().fields.text("specimen.material"), "355 of ours");
  EXPECT_TRUE(record().fields.text("specimen.family").empty()) << "it had come with the other";
}

TEST_F(KitDesk, DueDatesAreDays) {
  QTest::keyClick(window_.get(), Qt::Key_N, Qt::ControlModifier);
  type("job-code", "J-2");
  type("job-due", "31.2.");
  type("job-specimens", "A");
  EXPECT_FALSE(bench_.book()->job_by_code("J-2"));
  EXPECT_TRUE(says("no day of the calendar"));
  type("job-due", "in 3 days");
  type("job-specimens", "A");
  ASSERT_TRUE(bench_.book()->job_by_code("J-2"));
  EXPECT_EQ(bench_.book()->job_by_code("J-2")->due, parse_day("in 3 days", bench_.today()).value());
}

TEST_F(KitDesk, ACertificateIsAttachedAndOffered) {
  add_cell("LC-50", "50 kN", "in 1 year");
  const QString path = dir_.path() + "/LC-50.pdf";
  QFile f(path);
  ASSERT_TRUE(f.open(QIODevice::WriteOnly));
  f.write("paper");
  f.close();
  auto* page = window_->findChild<KitPage*>();
  const kit::Item item = bench_.book()->kit()->front();
  page->attach(item, dir_.path() + "/none.pdf");
  EXPECT_TRUE(window_->message().contains("cannot be opened"));
  page->attach(item, path);
  QCoreApplication::processEvents();
  auto* open = find<QPushButton>("kit-paper-open");
  ASSERT_NE(open, nullptr);
  EXPECT_EQ(open->text(), "Open LC-50.pdf");
  EXPECT_EQ(bench_.book()->certificate(item, 0), "paper");
}

TEST_F(KitDesk, DailyChecksAreNotedAndDrawn) {
  add_cell("LC-50", "50 kN", "in 1 year");
  for (const char* v : {"0.1 N", "0.2 N"}) {
    auto* value = find<QLineEdit>("kit-check");
    ASSERT_NE(value, nullptr);
    value->setFocus();
    QTest::keyClicks(value, v);
    QTest::keyClick(value, Qt::Key_Return);
    QCoreApplication::processEvents();
  }
  EXPECT_TRUE(says("0.2 N"));
  ASSERT_NE(find<QWidget>("kit-check-figure"), nullptr);
  auto* value = find<QLineEdit>("kit-check");
  QTest::keyClicks(value, "some");
  QTest::keyClick(value, Qt::Key_Return);
  EXPECT_FALSE(window_->message().isEmpty());
  const auto items = bench_.book()->kit();
  EXPECT_EQ(bench_.book()->daily_checks(items->front()).size(), 2u);
}

}  // namespace
}  // namespace fortitor::kit_desk_test
