// The plan through the real window: lanes by keys and mouse, pins, hours, the calendar file.
#include <QLineEdit>
#include <QSignalSpy>

#include "app/plan/plan_desk.h"
#include "store/book_plan.h"
#include "tests/app/demo_book_copy.h"
#include "tests/app/window_fixture.h"

namespace fortitor::plan_desk_test {
namespace {

class PlanView : public WindowTest {
 protected:
  void lay_out_book(const QString& path) override { ASSERT_EQ(copy_demo_book(path), ""); }
  void SetUp() override {
    WindowTest::SetUp();
    // A working day, before anybody came.
    QDate day = test_time().date();
    while (day.dayOfWeek() > 5) day = day.addDays(1);
    bench_.set_clock(Clock::at(QDateTime(day, QTime(6, 0))));
    desk_ = window_->findChild<PlanDesk*>();
    ASSERT_TRUE(planned([&] { window_->open("plan"); }));
    ASSERT_EQ(agenda().from, day.toString(Qt::ISODate).toStdString());
  }
  // Does something and waits for the plan that follows; one asked for before is outdated by it.
  bool planned(const std::function<void()>& act) {
    QSignalSpy spy(&window_->day_board(), &DayBoard::planned);
    act();
    return until([&] { return spy.count() > 0; });
  }
  const agenda::Agenda& agenda() { return *window_->day_board().agenda(); }
  size_t run_of_somebody() {
    for (const day::Bar& b : agenda().layout.bars)
      if (agenda().entries[b.task].step == "run" && desk_->lanes()->bar_of(b.task).width() > 4) return b.task;
    ADD_FAILURE() << "no run today";
    return 0;
  }
  PlanDesk* desk_ = nullptr;
};

TEST_F(PlanView, LanesByKeysOpenPieces) {
  EXPECT_TRUE(day::faults(agenda().problem, agenda().layout).empty());
  LanesView* lanes = desk_->lanes();
  lanes->setFocus();
  QTest::keyClick(lanes, Qt::Key_Right);
  ASSERT_TRUE(lanes->selected());
  const size_t first = *lanes->selected();
  QTest::keyClick(lanes, Qt::Key_Right);
  EXPECT_NE(*lanes->selected(), first);
  QTest::keyClick(lanes, Qt::Key_Left);
  EXPECT_EQ(*lanes->selected(), first);
  const auto entry = agenda().entries[first];
  QTest::keyClick(lanes, Qt::Key_Return);
  EXPECT_EQ(window_->desk_in_hand(), "specimen");
  EXPECT_EQ(bench_.specimen(), entry.specimen);
  EXPECT_EQ(bench_.stage(), entry.stage);
}

TEST_F(PlanView, ABarIsPinnedByHandAndEverythingElseMoves) {
  LanesView* lanes = desk_->lanes();
  const size_t task = run_of_somebody();
  const auto entry = agenda().entries[task];
  const auto bar_now = [&]() -> const day::Bar* {
    for (const day::Bar& b : agenda().layout.bars)
      if (agenda().entries[b.task].specimen == entry.specimen && agenda().entries[b.task].step == "run") return &b;
    return nullptr;
  };
  const int before = bar_now()->start;
  const QPoint from = lanes->bar_of(task).center().toPoint();
  ASSERT_TRUE(planned([&] {
    QTest::mousePress(lanes, Qt::LeftButton, {}, from);
    QTest::mouseMove(lanes, from + QPoint(60, 0));
    QTest::mouseRelease(lanes, Qt::LeftButton, {}, from + QPoint(60, 0));
  }));
  const auto pins = plan_pins(*bench_.book());
  ASSERT_EQ(pins.size(), 1u);
  EXPECT_EQ(pins[0].specimen, entry.specimen);
  EXPECT_EQ(pins[0].step, "run");
  EXPECT_EQ(pins[0].at.substr(14).back() % 5, '0' % 5) << "five minutes";
  ASSERT_NE(bar_now(), nullptr);
  bool said = false;
  for (const day::Unmet& u : agenda().layout.unmet) said = said || u.kind == day::Unmet::Kind::pin;
  EXPECT_TRUE(said || agenda().when(bar_now()->start) == pins[0].at);
  EXPECT_TRUE(said || bar_now()->start > before);
  EXPECT_TRUE(day::faults(agenda().problem, agenda().layout).empty());
  // P lets it go.
  if (!said) {
    lanes->select(bar_now()->task);
    lanes->setFocus();
    ASSERT_TRUE(planned([&] { QTest::keyClick(lanes, Qt::Key_P); }));
    EXPECT_TRUE(plan_pins(*bench_.book()).empty());
  }
  // By keys, five minutes on.
  lanes->select(bar_now()->task);
  lanes->setFocus();
  ASSERT_TRUE(planned([&] { QTest::keyClick(lanes, Qt::Key_Right, Qt::ShiftModifier); }));
  EXPECT_EQ(plan_pins(*bench_.book()).size(), 1u);
}

TEST_F(PlanView, HowLongAStepTakesIsSaidAndTyped) {
  const size_t task = run_of_somebody();
  const auto entry = agenda().entries[task];
  const auto select = [&] {
    for (const day::Bar& b : agenda().layout.bars) {
      const auto& e = agenda().entries[b.task];
      if (e.specimen != entry.specimen || e.step != "run") continue;
      QTest::mouseClick(desk_->lanes(), Qt::LeftButton, {}, desk_->lanes()->bar_of(b.task).center().toPoint());
    }
    const auto at = desk_->lanes()->selected();
    return at && agenda().entries[*at].specimen == entry.specimen && agenda().entries[*at].step == "run";
  };
  ASSERT_TRUE(select());
  EXPECT_TRUE(says(" min: "));
  ASSERT_TRUE(planned([&] { type("plan-minutes", "1 h 5 min"); }));
  ASSERT_TRUE(select());
  const size_t now = *desk_->lanes()->selected();
  EXPECT_EQ(agenda().problem.tasks[now].minutes, 65);
  EXPECT_TRUE(says("65 min, as typed"));
  type("plan-minutes", "5 kg");  // no time: said, nothing moves
  EXPECT_EQ(plan_pins(*bench_.book()).size(), 1u);
  ASSERT_TRUE(select());
  ASSERT_TRUE(planned([&] { type("plan-minutes", ""); }));
  EXPECT_TRUE(plan_pins(*bench_.book()).empty());
}

TEST_F(PlanView, WhoIsThere) {
  ASSERT_EQ(window_->day_board().input().hours.people.size(), 2u);
  auto* name = find<QLineEdit>("plan-person-1-0");
  ASSERT_NE(name, nullptr);
  name->setFocus();
  name->selectAll();
  QTest::keyClick(name, Qt::Key_Delete);
  ASSERT_TRUE(planned([&] { QTest::keyClick(name, Qt::Key_Return); }));
  EXPECT_EQ(window_->day_board().input().hours.people.size(), 1u);
  for (const day::Bar& b : agenda().layout.bars) {
    if (b.person) {
      EXPECT_EQ(agenda().problem.resources[*b.person].name, "R. Vale");
    }
  }
  // What cannot be is said and not kept.
  auto* breaks = find<QLineEdit>("plan-breaks");
  breaks->setFocus();
  breaks->selectAll();
  QTest::keyClicks(breaks, "noon");
  QTest::keyClick(breaks, Qt::Key_Return);
  bool said = false;
  for (QLabel* l : desk_->findChildren<QLabel*>()) said = said || (l->isVisible() && l->text().contains("is no break"));
  EXPECT_TRUE(said);
  EXPECT_EQ(plan_hours(*bench_.book())->breaks.size(), 1u);
  breaks->selectAll();
  QTest::keyClicks(breaks, "10-10:15, 12:00-13:00");
  ASSERT_TRUE(planned([&] { QTest::keyClick(breaks, Qt::Key_Return); }));
  EXPECT_EQ(plan_hours(*bench_.book())->breaks.size(), 2u);
  EXPECT_EQ(breaks->text(), "10:00–10:15, 12:00–13:00");
}

TEST_F(PlanView, CalendarAndOtherDays) {
  const QString path = dir_.path() + "/plan.ics";
  ASSERT_TRUE(desk_->write_calendar(path));
  QFile f(path);
  ASSERT_TRUE(f.open(QIODevice::ReadOnly));
  EXPECT_EQ(f.readAll().count("BEGIN:VEVENT"), int(agenda().layout.bars.size()));
  EXPECT_FALSE(desk_->write_calendar(path)) << "nothing is written over";
  const std::string day = desk_->day();
  click("plan-forth");
  EXPECT_GT(desk_->day(), day);
  click("plan-back");
  click("plan-back");
  EXPECT_EQ(desk_->day(), agenda().from);
}

TEST_F(PlanView, TodayIsBuiltFromIt) {
  window_->show_today();
  ASSERT_TRUE(planned([&] { window_->day_board().ask(); }));
  // A row of a piece that is planned today says when; a calibration that ends this week is on it.
  const auto reads = [&](const std::function<bool(const QString&)>& wanted) {
    return until([&] {
      for (QLabel* l : window_->findChildren<QLabel*>())
        if (l->isVisible() && wanted(l->text())) return true;
      return false;
    });
  };
  EXPECT_TRUE(reads([](const QString& t) { return t.size() == 5 && t[2] == ':'; }));
  // Whatever the hour, it stands behind what is due today.
  EXPECT_TRUE(reads([&](const QString& t) {
    for (auto* b : window_->findChildren<QPushButton*>())
      if (b->isVisible() && b->property("key") == "today-more") b->click();
    return t.startsWith("LC-50: calibration ends");
  }));
}

}  // namespace
}  // namespace fortitor::plan_desk_test
