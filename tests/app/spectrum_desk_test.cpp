// The spectrum desk in the real window: weeks in, choices dragged on their pictures, a drive and a report out.
#include "app/spectrum/spectrum_desk.h"

#include <QFile>

#include "core/standin/bridge.h"
#include "tests/app/window_fixture.h"

namespace fortitor::spectrum_desk_test {
namespace {

class SpectrumDeskTest : public WindowTest {
 protected:
  void SetUp() override {
    WindowTest::SetUp();
    job_ = *bench_.book()->add_job("TC-044", "Bracket welds");
    window_->part<SpectrumDesk>()->begin(job_);
    ASSERT_GT(desk()->spectrum(), 0) << window_->message().toStdString();
  }
  SpectrumDesk* desk() { return window_->part<SpectrumDesk>(); }
  // Runs `act` and waits until everything it asked for is computed.
  void computed(const std::function<void()>& act) {
    QSignalSpy spy(desk(), &SpectrumDesk::computed_now);
    act();
    ASSERT_TRUE(until([&] { return spy.count() > 0; })) << window_->message().toStdString();
    ASSERT_TRUE(until([&] { return !desk()->drawing(); }));
    QCoreApplication::processEvents();
  }
  void step(const char* name) {
    click(QString("step-") + name);
    ASSERT_TRUE(until([&] { return !desk()->drawing(); }));
  }
  void weeks() {
    computed([&] { desk()->make_weeks(24, 20); });
    ASSERT_NE(desk()->computed(), nullptr);
    ASSERT_EQ(desk()->computed()->weeks.size(), 3u);
  }
  double value(const char* key) {
    const ResultValue* r = desk()->evaluation().find(key);
    return r == nullptr ? std::nan("") : r->value;
  }
  // Drags the handle of a setting by some pixels with the mouse.
  void drag(const std::string& setting, QPointF by) {
    FigureView* figure = desk()->step_figure();
    const auto handles = figure->handles();
    size_t n = 0;
    while (n < handles.size() && handles[n].setting != setting) ++n;
    ASSERT_LT(n, handles.size()) << setting;
    const QPoint at = figure->handle_position(n).toPoint();
    QTest::mousePress(figure, Qt::LeftButton, {}, at);
    QTest::mouseMove(figure, at + (by / 2).toPoint());
    QTest::mouseMove(figure, at + by.toPoint());
    QTest::mouseRelease(figure, Qt::LeftButton, {}, at + by.toPoint());
  }
  Id job_ = 0;
};

TEST_F(SpectrumDeskTest, FromWeeksToADrive) {
  EXPECT_NE(find<QPushButton>("spectrum-make"), nullptr) << "an empty desk says what to do first";
  weeks();
  EXPECT_GT(value("cycles"), 1000);
  EXPECT_GT(value("range_max"), value("range_p"));
  EXPECT_FALSE(desk()->step_figure()->empty());
  EXPECT_FALSE(desk()->window_figure()->empty());
  // Every step has its picture.
  for (const char* step : {"Raw", "Level", "Smooth", "Turn", "Count", "Cut", "Chain", "Drive"}) {
    this->step(step);
    EXPECT_FALSE(desk()->step_figure()->empty()) << step;
  }
  click("spectrum-life");
  ASSERT_TRUE(until([&] { return !desk()->drawing(); }));
  EXPECT_FALSE(desk()->step_figure()->empty());
  click("spectrum-life");
  // A block that was run on the rig stands in the life figure and in the record.
  step("Drive");
  type("spectrum-block-test", "nothing");
  EXPECT_TRUE(window_->message().contains("240 MPa")) << "said how";
  computed([&] { type("spectrum-block-test", "240 MPa; 1900000; ran out"); });
  ASSERT_EQ(desk()->record().run.rows("blocks").size(), 1u);
  EXPECT_TRUE(desk()->record().run.rows("blocks")[0].cells.flag("runout"));
  click("spectrum-life");
  // Where the logger failed: the link takes the window there.
  step("Raw");
  const uint64_t spike = desk()->computed()->weeks[1].smooth.spikes.at(0);
  for (auto* l : desk()->findChildren<QLabel*>())
    if (l->accessibleName() == "Where nothing sound was measured")
      emit l->linkActivated("1:" + QString::number(double(spike) / 20));
  EXPECT_NEAR(desk()->week()->from() + desk()->week()->length() / 2, double(spike) / 20, 1);
  // The block length study.
  computed([&] { click("spectrum-study"); });
  EXPECT_NE(desk()->evaluation().finding("block-length"), nullptr);
  const QString drive = dir_.path() + "/drive.csv", binary = dir_.path() + "/drive.drive",
                report = dir_.path() + "/report.pdf";
  EXPECT_TRUE(desk()->write_drive(drive));
  EXPECT_TRUE(desk()->write_drive(binary));
  EXPECT_TRUE(desk()->write_report(report));
  EXPECT_TRUE(desk()->write_report(dir_.path() + "/report.html"));
  EXPECT_FALSE(desk()->write_drive(drive)) << "nothing is written over";
  EXPECT_GT(QFile(report).size(), 10000);
  // What came of it is in the book, with the fingerprints of the files.
  const auto kept = bench_.book()->spectrum_record(desk()->spectrum());
  ASSERT_TRUE(kept);
  ASSERT_EQ(kept->run.rows("sources").size(), 3u);
  for (const Row& row : kept->run.rows("sources")) EXPECT_EQ(row.cells.text("sha256").size(), 64u);
  EXPECT_NE(bench_.book()->spectrum_results(desk()->spectrum()).find("\"range_p\""), std::string::npos);
  EXPECT_TRUE(bench_.book()->verify().empty());
  bool logged = false;
  for (const LogEntry& e : bench_.book()->logbook()) logged = logged || e.what == "spectrum computed";
  EXPECT_TRUE(logged);
}

TEST_F(SpectrumDeskTest, ChoicesAreDraggedAndTakenBack) {
  weeks();
  step("Cut");
  const double before = value("omission_level"), share = desk()->computed()->settings.share;
  computed([&] { drag("settings.share", {0, -30}); });
  EXPECT_GT(desk()->computed()->settings.share, share);
  EXPECT_GT(value("omission_level"), before);
  EXPECT_EQ(desk()->computed()->from, int(spectrum::ChainStep::cut)) << "only from its own step on";
  computed([&] { QTest::keyClick(window_.get(), Qt::Key_Z, Qt::ControlModifier); });
  EXPECT_EQ(desk()->computed()->settings.share, share);
  EXPECT_EQ(value("omission_level"), before);
  step("Turn");
  const double points = value("turning_points");
  computed([&] { drag("settings.gate", {60, 0}); });
  EXPECT_LT(value("turning_points"), points);
  step("Smooth");
  const double cut = desk()->computed()->settings.cut;
  computed([&] { drag("settings.cut", {50, 0}); });
  EXPECT_GT(desk()->computed()->settings.cut, cut);
  // Typed as well, and refused with a sentence.
  computed([&] { type("settings.cut", "3 Hz"); });
  EXPECT_EQ(desk()->computed()->settings.cut, 3);
  step("Cut");
  type("settings.p", "7");
  EXPECT_TRUE(window_->message().contains("between 0 and 1")) << window_->message().toStdString();
}

TEST_F(SpectrumDeskTest, TheWindowSlidesOverTheWeek) {
  weeks();
  WeekView* week = desk()->week();
  const double from = week->from();
  week->setFocus();
  QTest::keyClick(week, Qt::Key_Right);
  EXPECT_GT(week->from(), from);
  QTest::keyClick(week, Qt::Key_Down);
  EXPECT_NEAR(week->length(), 40, 1e-9);
  QTest::keyClick(week, Qt::Key_End);
  EXPECT_NEAR(week->from() + week->length(), week->seconds(), 1);
  QTest::mouseClick(week, Qt::LeftButton, {}, QPoint(week->width() / 2, week->height() / 2));
  EXPECT_NEAR(week->from() + week->length() / 2, week->seconds() / 2, week->seconds() * 0.1);
  QTest::keyClick(week, Qt::Key_Plus);
  EXPECT_LT(week->shown_length(), week->seconds());
  EXPECT_FALSE(desk()->window_figure()->empty());
  click("spectrum-week-2");
  EXPECT_FALSE(desk()->window_figure()->empty());
}

TEST_F(SpectrumDeskTest, ItIsThereAgainAndASpikeIsAnswered) {
  weeks();
  ASSERT_NE(desk()->evaluation().finding("spikes"), nullptr);
  computed([&] { click("spectrum-remedy:spikes:leave-out"); });
  EXPECT_TRUE(desk()->computed()->settings.leave_out);
  EXPECT_EQ(desk()->evaluation().finding("spikes")->severity, Severity::note);
  const double range = value("range_p");
  const Id id = desk()->spectrum();
  window_->show_today();
  window_.reset();
  ASSERT_TRUE(bench_.open(dir_.path() + "/other.fortitor", "R. Vale"));
  ASSERT_TRUE(bench_.open(dir_.path() + "/b.fortitor", "R. Vale"));
  window_ = std::make_unique<MainWindow>(&bench_);
  bench_.touch_docket();
  window_->show();
  ASSERT_TRUE(QTest::qWaitForWindowExposed(window_.get()));
  computed([&] { window_->open("spectrum", id, -1); });
  EXPECT_EQ(value("range_p"), range);
  // A file that is gone is said; the record stays.
  ASSERT_TRUE(QFile::remove(QString::fromStdString(desk()->computed()->settings.weeks[1].files[0])));
  step("Level");
  type("settings.block", "2 h");
  ASSERT_TRUE(until([&] { return window_->message().contains("cannot be opened"); }))
      << window_->message().toStdString();
  EXPECT_EQ(bench_.book()->spectrum_record(id)->run.rows("sources").size(), 3u);
}

}  // namespace
}  // namespace fortitor::spectrum_desk_test
