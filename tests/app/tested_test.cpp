// When a piece was tested and by whom: out of its file, seen at Run, corrected with a reason; calibration is judged on
// that day.
#include "app/stages/tested_strip.h"

#include <QFile>

#include "app/stages/import_panel.h"
#include "tests/app/window_fixture.h"

namespace fortitor::tested_test {
namespace {

class TestedTest : public WindowTest {
 protected:
  void SetUp() override {
    WindowTest::SetUp();
    series_ = *bench_.book()->add_series(*bench_.book()->add_job("TC-1", "Bolts"), "Bars", "tension-metal");
    TestRecord record;
    record.method = "tension-metal";
    piece_ = *bench_.book()->add_specimen(series_, "B-1", record);
    bench_.touch_docket();
    window_->show_specimen(piece_, int(Stage::run));
  }
  void import(const QByteArray& head) {
    QFile file(dir_.path() + "/run.csv");
    ASSERT_TRUE(file.open(QIODevice::WriteOnly));
    file.write(head + "Time (s),Load (N),Stroke (mm)\n");
    for (int i = 0; i < 300; ++i)
      file.write(QByteArray::number(0.1 * i) + "," + QByteArray::number(80.0 * i) + "," + QByteArray::number(0.01 * i) +
                 "\n");
    file.close();
    auto* panel = window_->part<RunStage>()->import_panel();
    window_->part<RunStage>()->show_import(true);
    panel->open(file.fileName());
    ASSERT_TRUE(until([&] { return panel->ready(); }));
    QSignalSpy imported(panel, &ImportPanel::imported);
    click("import-keep");
    ASSERT_TRUE(imported.count() > 0 || imported.wait(60000));
    window_->show_specimen(piece_, int(Stage::run));
  }
  bool page_says(const QString& part) {
    QCoreApplication::processEvents();
    for (const QLabel* l : window_->findChildren<QLabel*>())
      if (l->isVisible() && l->text().contains(part)) return true;
    return false;
  }
  Id series_ = 0, piece_ = 0;
};

TEST_F(TestedTest, TheDayAndThePersonComeOutOfTheFile) {
  import("Test date: 2026-11-20 14:05\nOperator: M. Orr\n");
  EXPECT_EQ(record().tested_at.substr(0, 10), "2026-11-20");
  EXPECT_EQ(record().operator_name, "M. Orr");
  EXPECT_TRUE(page_says("by M. Orr"));
}

TEST_F(TestedTest, AFileThatNamesNoDayIsOfTodayAndIsCorrectedWithAReason) {
  import("");
  EXPECT_EQ(record().tested_at.substr(0, 10), bench_.today());
  EXPECT_EQ(record().operator_name, "R. Vale");
  const std::string before = record().tested_at;
  click("tested-correct");
  type("tested-day", "19.11. 07:30");
  EXPECT_EQ(record().tested_at, before) << "no reason was given";
  type("tested-by", "K. Finch");
  type("tested-reason", "pulled last week, the file came late");
  settle();
  EXPECT_EQ(record().tested_at.substr(5), "11-19T07:30:00");
  EXPECT_EQ(record().operator_name, "K. Finch");
  EXPECT_TRUE(page_says("07:30 by K. Finch"));
  // The line stays in the logbook, with what it was.
  bool found = false;
  for (const LogEntry& l : bench_.book()->logbook(100))
    found = found || ((l.what + l.detail).find("file came late") != std::string::npos &&
                      (l.what + l.detail).find("R. Vale") != std::string::npos);
  EXPECT_TRUE(found);
  // A day that is still to come is none of a test.
  click("tested-correct");
  type("tested-day", "in 3 days");
  type("tested-reason", "x");
  EXPECT_EQ(record().tested_at.substr(5), "11-19T07:30:00");
}

TEST_F(TestedTest, CalibrationIsJudgedOnThatDay) {
  import("");
  const std::string today = bench_.today();
  // It ended two days ago: too late for a test of today, in time for one of a week ago.
  bench_.edit("cell", [&](TestRecord& r) {
    r.fields.set("equipment.load_cell.id", std::string("LC-1"));
    r.fields.set("equipment.load_cell.due", days_after(today, -2));
  });
  settle();
  ASSERT_TRUE(until([&] { return bench_.evaluation_current(); }));
  EXPECT_NE(bench_.evaluation()->finding("calibration-expired"), nullptr);
  click("tested-correct");
  type("tested-day", "1 week ago");
  type("tested-reason", "tested before it was sent away");
  ASSERT_TRUE(until([&] { return bench_.evaluation_current(); }));
  EXPECT_EQ(bench_.evaluation()->finding("calibration-expired"), nullptr);
}

}  // namespace
}  // namespace fortitor::tested_test
