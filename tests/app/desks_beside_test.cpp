// What stands beside the one specimen, through the real window: timers, the series, reference values.
#include <QClipboard>
#include <QTableWidget>

#include "app/model/timer_board.h"
#include "app/reference/reference_page.h"
#include "app/series/series_page.h"
#include "core/reference/library.h"
#include "tests/app/slow_methods_fixture.h"

namespace fortitor::desks_beside_test {
namespace {

TEST_F(SlowMethods, ATimerRunsOnThroughARestartAndGuardsTheRun) {
  new_job("flatwise-tension");
  QDateTime now = QDateTime::fromString("2026-11-24T08:00:00Z", Qt::ISODate);
  bench_.set_clock(Clock([&] { return now; }));
  type("specimen.material", "foam core");
  type("specimen.family", "sandwich");
  type("limit:strength:min", "2 MPa");
  type("specimen.cure.stated", "24 h");
  click("timer-Cure");
  ASSERT_EQ(window_->timers().timers().size(), 1u);
  auto* pill = find<QPushButton>("timer:X-01");
  ASSERT_NE(pill, nullptr);
  EXPECT_EQ(pill->text(), "Cure X-01  24:00");
  go(1);
  click("caliper");
  set_up();
  EXPECT_FALSE(window_->part<RunStage>()->running());
  EXPECT_TRUE(window_->timers().obstacle().contains("Wait, or say why"));
  // The program ends and starts again: the time went on.
  const Id specimen = bench_.specimen();
  window_.reset();
  now = now.addSecs(20 * 3600);
  ASSERT_TRUE(bench_.open(dir_.path() + "/b.fortitor", "R. Vale", Clock([&] { return now; })));
  window_ = std::make_unique<MainWindow>(&bench_);
  bench_.touch_docket();
  window_->show();
  window_->show_today();
  ASSERT_EQ(window_->timers().timers().size(), 1u);
  EXPECT_EQ(find<QPushButton>("timer:X-01")->text(), "Cure X-01  04:00");
  window_->show_specimen(specimen, int(Stage::run));
  settle();
  // Without a reason it stays shut; with one the time so far is what counts.
  click("early-accept");
  EXPECT_FALSE(window_->message().isEmpty());
  type("early-reason", "the crane is needed at noon");
  ASSERT_NE(record().answer("cure-short"), nullptr);
  EXPECT_EQ(record().answer("cure-short")->reason, "the crane is needed at noon");
  EXPECT_NEAR(*record().fields.number("specimen.cure.elapsed"), 20 * 3600, 1);
  EXPECT_TRUE(window_->timers().obstacle().isEmpty());
  ASSERT_TRUE(until([&] { return bench_.evaluation() && bench_.evaluation()->finding("cure-short") != nullptr; }));
}

TEST_F(SlowMethods, ATimersEndIsSaidAndTakenOver) {
  new_job("flatwise-tension");
  QDateTime now = QDateTime::fromString("2026-11-24T08:00:00Z", Qt::ISODate);
  bench_.set_clock(Clock([&] { return now; }));
  type("specimen.cure.stated", "2 h");
  click("timer-Cure");
  QSignalSpy ended(&window_->timers(), &TimerBoard::ended);
  now = now.addSecs(2 * 3600 + 1);
  window_->timers().tick();
  ASSERT_EQ(ended.count(), 1);
  EXPECT_TRUE(window_->message().contains("Cure of X-01 is over"));
  window_->timers().tick();
  EXPECT_EQ(ended.count(), 1) << "said once";
  click("timer:X-01");
  EXPECT_TRUE(window_->timers().timers().empty());
  EXPECT_GE(*record().fields.number("specimen.cure.elapsed"), 2 * 3600);
}

TEST_F(SlowMethods, SuspectsAreTickedInTheSeries) {
  new_job("crush-shell", "B-01, B-02, B-03, B-04, B-05, B-06");
  const Id series = bench_.book()->series_of(bench_.specimen()).id;
  const double peaks[] = {18000, 18200, 14000, 17900, 14400, 18100};
  int i = 0;
  for (const SpecimenRow& row : bench_.book()->specimens(series)) {
    const double peak = peaks[i++];
    change_piece(row.id, "keyed", [&](TestRecord& r) {
      r.fields.set("run.peak_force",
                   reading_of(parse_quantity(std::to_string(int(peak)) + " N", Dimension::force).value()));
    });
  }
  SeriesPage* page = window_->part<SeriesPage>();
  QSignalSpy shown(page, &SeriesPage::shown);
  window_->show_series(series);
  ASSERT_TRUE(until([&] { return shown.count() > 0; }));
  EXPECT_EQ(page->view().judged.find("n")->value, 6);
  for (int row : {2, 4}) {
    const int before = shown.count();
    page->table()->item(row, 2)->setCheckState(Qt::Checked);
    ASSERT_TRUE(until([&] { return shown.count() > before; }));
  }
  const Finding* suspect = page->view().judged.finding("suspect");
  ASSERT_NE(suspect, nullptr);
  ASSERT_EQ(suspect->evidence.count("p"), 1u);
  EXPECT_LT(suspect->evidence.at("p"), 0.05);
  // It is in the record of the piece, not in the page.
  EXPECT_TRUE(bench_.book()->record(page->view().specimens[2])->fields.flag("specimen.suspects.dent"));
  const int before = shown.count();
  page->table()->item(2, page->table()->columnCount() - 1)->setText("crushed by the lift truck");
  ASSERT_TRUE(until([&] { return shown.count() > before; }));
  EXPECT_EQ(page->view().judged.find("n")->value, 5);
  EXPECT_EQ(page->view().judged.find("left_out")->value, 1);
  page->table()->setFocus();
  QTest::keyClick(page->table(), Qt::Key_C, Qt::ControlModifier | Qt::ShiftModifier);
  EXPECT_TRUE(page->table()->hasFocus());
  EXPECT_TRUE(QApplication::clipboard()->text().contains("crushed by the lift truck"))
      << QApplication::clipboard()->text().toStdString();
}

TEST_F(SlowMethods, ReferenceValuesAreTheUsersToChange) {
  const QString path = dir_.path() + "/materials.json";
  qputenv("FORTITOR_REFERENCE", path.toUtf8());
  window_->show_reference();
  ReferencePage* page = window_->part<ReferencePage>();
  auto* filter = find<QLineEdit>("reference-filter");
  filter->setText("ash, white");
  QTableWidget* table = page->table();
  int row = -1;
  for (int r = 0; r < table->rowCount(); ++r)
    if (table->item(r, 0)->text() == "modulus of rupture, 12 % moisture") row = r;
  ASSERT_GE(row, 0);
  table->item(row, 1)->setText("99 MPa");
  EXPECT_NEAR(find_reference(bench_.shelf(), "ash", "wood")->values.at("mor_12").mean, 99, 1e-9);
  EXPECT_TRUE(find_reference(bench_.shelf(), "ash", "wood")->own);
  EXPECT_TRUE(QFile::exists(path));
  table->item(row, 1)->setText("99 mm");  // no stress: refused in a sentence, nothing changed
  EXPECT_TRUE(window_->message().contains("ash, white")) << window_->message().toStdString();
  EXPECT_NEAR(find_reference(bench_.shelf(), "ash", "wood")->values.at("mor_12").mean, 99, 1e-9);
  click("reference-shipped");
  EXPECT_FALSE(find_reference(bench_.shelf(), "ash", "wood")->own);
  EXPECT_NEAR(find_reference(bench_.shelf(), "ash", "wood")->values.at("mor_12").mean, 103, 1e-9);
  // A row a material: the arrows go through the group, and what is typed looks through all of them.
  click("group:metal");
  ReferenceRanges* ranges = page->ranges();
  ASSERT_GT(ranges->materials().size(), 20u);
  EXPECT_EQ(ranges->selected(), ranges->materials().front().name);
  ranges->setFocus();
  QTest::keyClick(ranges, Qt::Key_Down);
  EXPECT_EQ(ranges->selected(), ranges->materials()[1].name);
  QTest::mouseClick(ranges, Qt::LeftButton, {}, ranges->row_of(ranges->materials()[3].name).center());
  EXPECT_EQ(ranges->selected(), ranges->materials()[3].name);
  EXPECT_GE(table->rowCount(), 4);
  filter->setText("no such thing");
  EXPECT_TRUE(ranges->materials().empty());
  qunsetenv("FORTITOR_REFERENCE");
}

}  // namespace
}  // namespace fortitor::desks_beside_test
