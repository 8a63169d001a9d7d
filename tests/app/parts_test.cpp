// Workbench, evaluator, acquisition, figure, import and run stage on their own.
#include <QComboBox>
#include <QDragEnterEvent>
#include <QDropEvent>
#include <QLabel>
#include <QMimeData>

#include "app/demo/demo_book.h"
#include "app/figures/curve_figure.h"
#include "app/model/acquisition.h"
#include "app/stages/import_panel.h"
#include "app/theme/theme.h"
#include "core/record/json.h"
#include "core/standin/tension_bench.h"
#include "tests/app/window_fixture.h"

namespace fortitor {
namespace {

TEST(EvaluatorTest, OnlyTheNewestRequestCounts) {
  Evaluator evaluator;
  QSignalSpy done(&evaluator, &Evaluator::done);
  const TestRecord r = standin::simulate_tension({.seed = 3});
  quint64 last = 0;
  for (int i = 0; i < 40; ++i) last = evaluator.request(r);
  ASSERT_TRUE(QTest::qWaitFor([&] { return !done.isEmpty() && done.last()[0].toULongLong() == last; }, 20000));
  EXPECT_LT(done.count(), 40);  // older ones not yet begun were passed over
}

TEST(AcquisitionTest, SamplesComeInOrderAndRefusalsAsSentences) {
  Acquisition machine(std::make_unique<standin::UniversalFrame>(standin::FrameSettings{}), 20);
  QSignalSpy refused(&machine, &Acquisition::refused);
  double last = -1;
  bool ordered = true;
  size_t rows = 0;
  QObject::connect(&machine, &Acquisition::samples, &machine, [&](const RowsPtr& batch) {
    for (const MachineRow& r : *batch) {
      ordered = ordered && r.time > last;
      last = r.time;
      ++rows;
    }
  });
  machine.command(MachineCommand::start);
  ASSERT_TRUE(QTest::qWaitFor([&] { return refused.count() == 1; }, 10000));
  EXPECT_TRUE(refused[0][0].toString().contains("Close both grips"));
  for (MachineCommand c : {MachineCommand::close_top_grip, MachineCommand::zero_force,
                           MachineCommand::close_bottom_grip, MachineCommand::start})
    machine.command(c);
  ASSERT_TRUE(QTest::qWaitFor([&] { return rows > 300; }, 20000));
  EXPECT_TRUE(ordered);
}

EvaluationPtr evaluated(const TestRecord& r) {
  return std::make_shared<Evaluation>(methods::evaluate(r));
}

TEST(FigureTest, HandlesSitWhereTheirValuesAre) {
  CurveFigure lens(CurveFigure::View::lens);
  lens.resize(400, 300);
  lens.show();
  lens.show_evaluation(evaluated(standin::simulate_tension({.seed = 3})), nullptr, UnitSet::si);
  lens.replot();
  const auto handles = lens.handles();
  ASSERT_EQ(handles.size(), 2u);
  EXPECT_GT(lens.handle_position(handles[0]).y(), lens.handle_position(handles[1]).y());
  EXPECT_NEAR(lens.yAxis->pixelToCoord(lens.handle_position(handles[1]).y()), handles[1].at.y, 0.5);
  QSignalSpy dragged(&lens, &CurveFigure::dragged), released(&lens, &CurveFigure::released);
  const QPoint from = lens.handle_position(handles[1]).toPoint();
  QTest::mousePress(&lens, Qt::LeftButton, {}, from);
  QTest::mouseMove(&lens, from + QPoint(0, 30));
  QTest::mouseRelease(&lens, Qt::LeftButton, {}, from + QPoint(0, 30));
  EXPECT_GE(dragged.count(), 1);
  ASSERT_EQ(released.count(), 1);
  EXPECT_LT(released[0][1].toDouble(), handles[1].at.y);
  CurveFigure whole(CurveFigure::View::whole);
  whole.show_evaluation(evaluated(standin::simulate_tension({.seed = 3})), nullptr, UnitSet::us);
  EXPECT_TRUE(whole.handles().empty());
}

TEST(FigureTest, AMillionPointsAndNoneAtAll) {
  auto e = std::make_shared<Evaluation>();
  auto curve = std::make_shared<CurveData>();
  for (int i = 0; i < 1000000; ++i) {
    curve->x.push_back(i * 2e-7);
    curve->y.push_back(i % 1000 == 7 ? NAN : 500 * std::sin(i * 1e-6));
  }
  curve->break_index = curve->x.size();
  e->curve = curve;
  CurveFigure figure(CurveFigure::View::whole);
  figure.resize(600, 400);
  figure.show_evaluation(e, nullptr, UnitSet::si);
  EXPECT_FALSE(figure.grab().isNull());
  auto* drawn = qobject_cast<QCPCurve*>(figure.plottable(1));
  ASSERT_NE(drawn, nullptr);
  EXPECT_GT(drawn->data()->size(), 300);
  EXPECT_LT(drawn->data()->size(), 10000);
  figure.show_evaluation(nullptr, nullptr, UnitSet::si);
  figure.show_nothing("Nothing here.");
  EXPECT_EQ(drawn->data()->size(), 0);
  EXPECT_FALSE(figure.grab().isNull());
}

class OneBar : public WindowTest {
 protected:
  void SetUp() override {
    WindowTest::SetUp();
    TestRecord r = standin::simulate_tension({.seed = 6});
    samples_ = r.run.samples;
    r.run = fortitor::Run{};
    r.events.clear();
    for (const CheckItem& c : methods::find(r.method)->guide(Stage::set_up).checklist)
      r.fields.set("settings.checks." + c.id, true);
    r.fields.set("specimen.id", std::string("B-1"));
    Book& book = *bench_.book();
    const auto series = book.add_series(*book.add_job("J-1", "one bar"), "Tension", "tension-metal");
    id_ = *book.add_specimen(*series, "B-1", r);
    window_->show_specimen(id_, int(Stage::run));
    settle();
  }
  QString write(const QString& name, const QByteArray& text) {
    const QString path = dir_.path() + "/" + name;
    QFile f(path);
    EXPECT_TRUE(f.open(QIODevice::WriteOnly));
    f.write(text);
    return path;
  }
  bool panel_says(const QString& part) {
    for (const QLabel* l : window_->run_stage()->import_panel()->findChildren<QLabel*>())
      if (l->text().contains(part)) return true;
    return false;
  }
  void open_file(const QString& path) {
    window_->run_stage()->show_import(true);
    QSignalSpy read(window_->run_stage()->import_panel(), &ImportPanel::read);
    window_->run_stage()->import_panel()->open(path);
    ASSERT_TRUE(read.wait(20000));
  }
  void press(std::initializer_list<Qt::Key> keys) {
    for (Qt::Key k : keys) {
      const MachineStatus before = window_->run_stage()->machine();
      QTest::keyClick(window_->run_stage(), k);
      QSignalSpy changed(window_->run_stage(), &RunStage::machine_changed);
      ASSERT_TRUE(changed.wait(10000));
      ASSERT_TRUE(changed.wait(10000));
    }
  }
  SamplesPtr samples_;
  Id id_ = 0;
};

TEST_F(OneBar, BadFilesAreNotImportedAndSayWhy) {
  open_file(write("a.csv", "t,F\ns,kN\n0,1\n1,2\n2,3\n3,drei\n"));
  EXPECT_TRUE(panel_says("line 6, column 2"));
  EXPECT_FALSE(find<QPushButton>("import-keep")->isEnabled());
  open_file(write("b.csv", "nothing of use\n"));
  EXPECT_TRUE(panel_says("No row of numbers"));
  open_file(dir_.path() + "/missing.csv");
  EXPECT_TRUE(panel_says("cannot be opened"));
  open_file(write("c.csv", "t,x\ns,mm\n0,1\n1,2\n2,3\n"));
  EXPECT_FALSE(window_->run_stage()->import_panel()->ready());
  EXPECT_FALSE(record().run.samples);
  EXPECT_TRUE(bench_.book()->runs(id_).empty());
}

TEST_F(OneBar, ADroppedFileIsRead) {
  const QString path = write("run.csv", QByteArray::fromStdString(samples_to_csv(*samples_)));
  window_->run_stage()->show_import(true);
  ImportPanel* panel = window_->run_stage()->import_panel();
  QSignalSpy read(panel, &ImportPanel::read);
  QMimeData mime;
  mime.setUrls({QUrl::fromLocalFile(path)});
  QDragEnterEvent enter(QPoint(50, 50), Qt::CopyAction, &mime, Qt::LeftButton, Qt::NoModifier);
  QApplication::sendEvent(panel, &enter);
  EXPECT_TRUE(enter.isAccepted());
  QDropEvent drop(QPointF(50, 50), Qt::CopyAction, &mime, Qt::LeftButton, Qt::NoModifier);
  QApplication::sendEvent(panel, &drop);
  ASSERT_TRUE(read.wait(20000));
  EXPECT_TRUE(panel->ready());
  click("import-keep");
  ASSERT_TRUE(record().run.samples);
  // A second import onto the same piece is refused: raw runs stay.
  window_->show_specimen(id_, int(Stage::run));
  open_file(path);
  EXPECT_FALSE(panel->ready());
  EXPECT_TRUE(panel_says("never changed"));
}

TEST_F(OneBar, EmergencyStopKeepsWhatWasMeasured) {
  RunStage* run = window_->run_stage();
  run->set_speed(50);
  ASSERT_TRUE(until([&] { return run->machine().now.force != 0; }));
  press({Qt::Key_T, Qt::Key_Z, Qt::Key_B, Qt::Key_X, Qt::Key_O});
  QSignalSpy ended(run, &RunStage::run_ended);
  QTest::keyClick(run, Qt::Key_Space);
  ASSERT_TRUE(until([&] { return run->machine().now.force > 5000; }));
  window_->close();  // a run is on: the window stays
  EXPECT_TRUE(window_->isVisible());
  EXPECT_TRUE(window_->message().contains("A run is on"));
  QTest::keyClick(run, Qt::Key_Escape);
  ASSERT_TRUE(until([&] { return ended.count() == 1; }));
  ASSERT_TRUE(record().run.samples);
  const auto runs = bench_.book()->runs(id_);
  ASSERT_EQ(runs.size(), 1u);
  EXPECT_EQ(runs[0].rows, int64_t(record().run.samples->size()));
  EXPECT_NE(runs[0].stopped.find("Emergency stop"), std::string::npos);
  ASSERT_TRUE(until([&] { return bench_.evaluation() && bench_.evaluation()->finding("censored") != nullptr; }));
  EXPECT_TRUE(window_->close());
}

TEST_F(OneBar, SamplesReachTheBookWhileTheRunGoesOn) {
  RunStage* run = window_->run_stage();
  run->set_speed(20);
  ASSERT_TRUE(until([&] { return run->machine().now.force != 0; }));
  press({Qt::Key_T, Qt::Key_Z, Qt::Key_B});
  QTest::keyClick(run, Qt::Key_Space);
  auto stored = [&] {
    const auto runs = bench_.book()->runs(id_);
    return runs.empty() ? 0 : runs[0].rows;
  };
  ASSERT_TRUE(until([&] { return stored() > 100; }));
  EXPECT_TRUE(run->running());
  const auto first = stored();
  ASSERT_TRUE(until([&] { return stored() > first; }));
  // Another piece cannot come on the bench meanwhile.
  QTest::keyClick(run, Qt::Key_Escape);
  ASSERT_TRUE(until([&] { return !run->running(); }));
}

TEST_F(OneBar, HoldAndGoOnAreMarked) {
  RunStage* run = window_->run_stage();
  run->set_speed(50);
  ASSERT_TRUE(until([&] { return run->machine().now.force != 0; }));
  press({Qt::Key_T, Qt::Key_Z, Qt::Key_B});
  QTest::keyClick(run, Qt::Key_Space);
  ASSERT_TRUE(until([&] { return run->machine().now.force > 3000; }));
  QTest::keyClick(run, Qt::Key_Space);
  ASSERT_TRUE(until([&] { return run->machine().state == MachineState::holding; }));
  EXPECT_EQ(find<QPushButton>("run-main")->text(), "Go on   Space");
  EXPECT_FALSE(find<QPushButton>("run-Z")->isEnabled());
  QTest::keyClick(run, Qt::Key_Space);
  ASSERT_TRUE(until([&] { return run->machine().state == MachineState::running; }));
  QTest::keyClick(run, Qt::Key_Escape);
  ASSERT_TRUE(until([&] { return !run->running(); }));
  std::vector<std::string> kinds;
  for (const Event& e : record().events) kinds.push_back(e.kind);
  EXPECT_EQ(kinds, (std::vector<std::string>{"hold", "resumed"}));
}

TEST_F(OneBar, JoggingStopsWhenTheKeyIsReleased) {
  RunStage* run = window_->run_stage();
  ASSERT_TRUE(until([&] { return run->machine().now.force != 0; }));
  QTest::keyPress(run, Qt::Key_Up);
  ASSERT_TRUE(until([&] { return run->machine().now.crosshead > 0.2; }));
  QTest::keyRelease(run, Qt::Key_Up);
  double last = -1;
  ASSERT_TRUE(until([&] {
    const double now = run->machine().now.crosshead;
    const bool still = now == last;
    last = now;
    return still;
  }));
  EXPECT_GT(last, 0.2);
}

TEST_F(OneBar, EditsOfEveryKindAreReadOrRefused) {
  const Method& m = bench_.method();
  auto parsed = [&](const char* path, const char* text) { return bool(bench_.parse_field(*m.field(path), text)); };
  EXPECT_TRUE(parsed("specimen.gauge_length", "50 mm"));
  EXPECT_FALSE(parsed("specimen.gauge_length", "-50 mm"));
  EXPECT_FALSE(parsed("specimen.gauge_length", "fifty"));
  EXPECT_TRUE(parsed("settings.offset", "0.2 %; 1 %"));
  EXPECT_FALSE(parsed("settings.offset", "0.2 %; x"));
  EXPECT_TRUE(parsed("equipment.standin.seed", "12"));
  EXPECT_FALSE(parsed("equipment.standin.seed", "12 mm"));
  bench_.set_field(*m.field("settings.offset"), "0.2 %; 1 %");
  EXPECT_EQ(record().fields.readings("settings.offset").size(), 2u);
  bench_.set_field(*m.field("settings.offset"), "");
  EXPECT_FALSE(record().fields.has("settings.offset"));
}

TEST_F(OneBar, NothingToSignBeforeARun) {
  const auto refused = bench_.sign();
  ASSERT_FALSE(refused);
  EXPECT_NE(refused.error().message.find("has not been run"), std::string::npos);
  bench_.set_stage(Stage::sign_off);
  EXPECT_FALSE(find<QPushButton>("sign")->isEnabled());
}

}  // namespace
}  // namespace fortitor
