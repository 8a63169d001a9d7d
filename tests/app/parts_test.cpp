// Workbench, evaluator, acquisition, figure, import and run stage on their own.
#include <QLabel>

#include "app/demo/demo_book.h"
#include "app/figures/figure_view.h"
#include "app/ledger/ledger.h"
#include "app/model/acquisition.h"
#include "app/theme/flow.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"
#include "core/standin/tension_bench.h"
#include "tests/app/one_bar.h"

namespace fortitor::parts_test {
namespace {

TEST(Flow, AGroupThatFitsOnALineStaysOnOne) {
  QWidget page;
  auto* flow = new FlowLayout(5, &page);
  std::vector<QWidget*> w;
  const auto add = [&](int count) {
    flow->begin_group(20);
    for (int i = 0; i < count; ++i) {
      w.push_back(new QWidget);
      w.back()->setFixedSize(50, 10);
      flow->addWidget(w.back());
    }
  };
  add(2), add(2), add(3), add(6);
  w[7]->hide();  // the first of the last group
  page.resize(240, 400);
  page.show();
  const auto at = [&](size_t i) { return w[i]->pos(); };
  EXPECT_EQ(at(0), QPoint(0, 0));
  EXPECT_EQ(at(2), QPoint(125, 0));  // 50 + 5 + 50, and 20 between groups
  EXPECT_EQ(at(3), QPoint(180, 0));
  EXPECT_EQ(at(4), QPoint(0, 15));  // three would not end on the line before
  EXPECT_EQ(at(6), QPoint(110, 15));
  EXPECT_EQ(at(8), QPoint(0, 30));  // five are longer than a line: they begin one and go on
  EXPECT_EQ(at(11), QPoint(165, 30));
  EXPECT_EQ(at(12), QPoint(0, 45));
  EXPECT_EQ(flow->heightForWidth(240), 55);
}

// What a label keeps of its heights is what the toolkit would say anew, whatever changes about it.
TEST(Labels, AreAsHighAsTheirWords) {
  QWidget page;
  QLabel* kept = parts::label("Zero the force before the grips close.", "", &page);
  const auto expect_fresh = [&](const char* after) {
    QLabel fresh(&page);
    fresh.setTextFormat(kept->textFormat());
    fresh.setWordWrap(kept->wordWrap());
    fresh.setFont(kept->font());
    fresh.setMargin(kept->margin());
    fresh.setIndent(kept->indent());
    fresh.setContentsMargins(kept->contentsMargins());
    fresh.setText(kept->text());
    fresh.resize(kept->size());
    for (int again = 0; again < 2; ++again)
      for (int width : {60, 90, 150, 400})
        EXPECT_EQ(kept->heightForWidth(width), fresh.heightForWidth(width)) << after << " at " << width;
  };
  expect_fresh("at first");
  const int before = kept->heightForWidth(90);
  kept->setText(kept->text() + " " + kept->text());
  EXPECT_GT(kept->heightForWidth(90), before);
  expect_fresh("other words");
  QFont larger = kept->font();
  larger.setPixelSize(24);
  kept->setFont(larger);
  expect_fresh("a larger font");
  kept->setContentsMargins(20, 5, 20, 5);
  expect_fresh("margins");
  kept->setMargin(9);
  expect_fresh("a margin");
  kept->setIndent(30);
  expect_fresh("an indent");
  kept->setTextFormat(Qt::RichText);
  kept->setText("<p>Zero</p><p>the force</p>");
  expect_fresh("marks");
  kept->setWordWrap(false);
  expect_fresh("one line");
}

TEST(EvaluatorTest, OnlyTheNewestRequestCounts) {
  TaskBoard board;
  Evaluator evaluator(&board);
  QSignalSpy done(&evaluator, &Evaluator::done);
  const TestRecord r = standin::simulate_tension({.seed = 3});
  quint64 last = 0;
  for (int i = 0; i < 40; ++i) last = evaluator.request(r, "2026-11-26");
  ASSERT_TRUE(QTest::qWaitFor([&] { return !done.isEmpty() && done.last()[0].toULongLong() == last; }, 20000));
  EXPECT_LT(done.count(), 40);  // older ones not yet begun were passed over
}

TEST(EvaluatorTest, AStoppedOneGivesNoNumbersAndTheNextOneDoes) {
  TaskBoard board;
  Evaluator evaluator(&board);
  QSignalSpy done(&evaluator, &Evaluator::done), stopped(&evaluator, &Evaluator::stopped);
  const TestRecord r = standin::simulate_tension({.seed = 3});
  const quint64 first = evaluator.request(r, "2026-11-26");
  ASSERT_EQ(board.tasks().size(), 1u);
  board.cancel(board.tasks().front());
  ASSERT_TRUE(QTest::qWaitFor([&] { return stopped.count() == 1; }, 20000));
  EXPECT_EQ(stopped[0][0].toULongLong(), first);
  EXPECT_TRUE(done.isEmpty());
  const quint64 second = evaluator.request(r, "2026-11-26");
  ASSERT_TRUE(QTest::qWaitFor([&] { return done.count() == 1; }, 20000));
  EXPECT_EQ(done[0][0].toULongLong(), second);
  EXPECT_EQ(stopped.count(), 1);
}

TEST(WorkbenchTest, WhatIsWrittenBesideTheWindowSaysWhatCameOfIt) {
  Workbench bench;
  QSignalSpy said(&bench, &Workbench::message);
  bench.write("Writing a note", []() -> Outcome<QString> { return QString("Note saved."); });
  ASSERT_EQ(bench.tasks().tasks().size(), 1u);
  ASSERT_TRUE(QTest::qWaitFor([&] { return said.count() == 1; }, 10000));
  EXPECT_EQ(said[0][0].toString(), "Note saved.");
  bench.write("Writing a note", []() -> Outcome<QString> { return InputError{"The disk is full.", {}}; });
  ASSERT_TRUE(QTest::qWaitFor([&] { return said.count() == 2; }, 10000));
  EXPECT_EQ(said[1][0].toString(), "The disk is full.");
}

TEST(AcquisitionTest, SamplesComeInOrderAndRefusalsAsSentences) {
  Acquisition machine(std::make_unique<standin::UniversalFrame>(standin::FrameSettings{}), 20);
  QSignalSpy refused(&machine, &Acquisition::refused);
  double last = -1;
  bool ordered = true;
  size_t rows = 0;
  QObject::connect(&machine, &Acquisition::samples, &machine, [&](const ColumnsPtr& batch) {
    for (double time : batch->front()) {
      ordered = ordered && time > last;
      last = time;
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

TEST(FigureTest, HandlesSitWhereTheirValuesAre) {
  const Evaluation e = methods::evaluate(standin::simulate_tension({.seed = 3}));
  FigureView view;
  view.resize(800, 320);
  view.show();
  view.show_figure(e.figures.front(), UnitSet::si);
  const auto handles = view.handles();
  ASSERT_EQ(handles.size(), 2u);
  EXPECT_GT(view.handle_position(0).y(), view.handle_position(1).y());
  const figure::Frame& lens = view.layout_shown().frames[view.layout_shown().handles[1].panel];
  EXPECT_NEAR(lens.data_y(view.handle_position(1).y()), handles[1].at.y, 0.5);
  QSignalSpy dragged(&view, &FigureView::dragged), released(&view, &FigureView::released);
  const QPoint from = view.handle_position(1).toPoint();
  QTest::mousePress(&view, Qt::LeftButton, {}, from);
  QTest::mouseMove(&view, from + QPoint(0, 30));
  QTest::mouseRelease(&view, Qt::LeftButton, {}, from + QPoint(0, 30));
  EXPECT_GE(dragged.count(), 1);
  ASSERT_EQ(released.count(), 1);
  EXPECT_LT(released[0][1].toDouble(), handles[1].at.y);
  FigureView whole;
  whole.set_first_panel_only(true);
  whole.show_figure(e.figures.front(), UnitSet::us);
  EXPECT_TRUE(whole.handles().empty()) << "a run that is going on has nothing to drag";
}

TEST(FigureTest, APointPicksItsResult) {
  const Evaluation e = methods::evaluate(standin::simulate_tension({.seed = 3}));
  FigureView view;
  view.resize(900, 360);
  view.show();
  view.show_figure(e.figures.front(), UnitSet::si);
  ASSERT_FALSE(view.layout_shown().picks.empty());
  QSignalSpy picked(&view, &FigureView::picked);
  const figure::Pick pick = view.layout_shown().picks.front();
  QTest::mouseClick(&view, Qt::LeftButton, {}, QPoint(int(pick.at.x), int(pick.at.y)));
  ASSERT_EQ(picked.count(), 1);
  EXPECT_FALSE(picked[0][0].toString().isEmpty());
}

TEST(FigureTest, TheOriginalLiesBeneathAWhatIf) {
  Figure now, before;
  for (Figure* f : {&now, &before}) {
    Panel p;
    Trace t;
    t.x = {0, 1, 2};
    t.y = f == &now ? std::vector<double>{0, 2, 3} : std::vector<double>{0, 1, 1};
    p.traces.push_back(t);
    f->panels.push_back(p);
  }
  FigureView view;
  view.resize(400, 300);
  view.show_figure(now, UnitSet::si);
  const QImage alone = view.grab().toImage();
  view.show_figure(now, UnitSet::si, &before);
  EXPECT_NE(view.grab().toImage(), alone);
  view.show_figure(now, UnitSet::si, &now);
  EXPECT_EQ(view.grab().toImage(), alone) << "the same data is drawn once";
}

TEST(FigureTest, AMillionPointsAndNoneAtAll) {
  Figure f;
  Panel p;
  Trace t;
  for (int i = 0; i < 1000000; ++i) {
    t.x.push_back(i * 2e-7);
    t.y.push_back(i % 1000 == 7 ? NAN : 500 * std::sin(i * 1e-6));
  }
  p.traces.push_back(std::move(t));
  f.panels.push_back(std::move(p));
  FigureView view;
  view.resize(600, 400);
  view.show_figure(f, UnitSet::si);
  EXPECT_FALSE(view.grab().isNull());
  size_t points = 0;
  for (const figure::Shape& s : view.layout_shown().shapes) points += s.points.size();
  EXPECT_GT(points, 300u);
  EXPECT_LT(points, 10000u);
  view.show_nothing("Nothing here.");
  EXPECT_TRUE(view.empty());
  EXPECT_FALSE(view.grab().isNull());
}

TEST_F(OneBar, EmergencyStopKeepsWhatWasMeasured) {
  RunStage* run = window_->part<RunStage>();
  run->set_speed(50);
  ASSERT_TRUE(until([&] { return run->machine().reading("force") != 0; }));
  press({Qt::Key_T, Qt::Key_Z, Qt::Key_B, Qt::Key_X, Qt::Key_O});
  QSignalSpy ended(run, &RunStage::run_ended);
  QTest::keyClick(run, Qt::Key_Space);
  ASSERT_TRUE(until([&] { return run->machine().reading("force") > 5000; }));
  window_->close();  // a run is on: the window stays
  EXPECT_TRUE(window_->isVisible());
  EXPECT_TRUE(window_->message().contains("A run is on"));
  QTest::keyClick(run, Qt::Key_Escape);
  ASSERT_TRUE(until([&] { return ended.count() == 1; }));
  ASSERT_TRUE(record().run.samples());
  const auto runs = bench_.book()->runs(id_);
  ASSERT_EQ(runs.size(), 1u);
  EXPECT_EQ(runs[0].rows, int64_t(record().run.samples()->size()));
  EXPECT_NE(runs[0].stopped.find("Emergency stop"), std::string::npos);
  ASSERT_TRUE(until([&] { return bench_.evaluation() && bench_.evaluation()->finding("censored") != nullptr; }));
  EXPECT_TRUE(window_->close());
}

TEST_F(OneBar, SamplesReachTheBookWhileTheRunGoesOn) {
  RunStage* run = window_->part<RunStage>();
  run->set_speed(20);
  ASSERT_TRUE(until([&] { return run->machine().reading("force") != 0; }));
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
  RunStage* run = window_->part<RunStage>();
  run->set_speed(50);
  ASSERT_TRUE(until([&] { return run->machine().reading("force") != 0; }));
  press({Qt::Key_T, Qt::Key_Z, Qt::Key_B});
  QTest::keyClick(run, Qt::Key_Space);
  ASSERT_TRUE(until([&] { return run->machine().reading("force") > 3000; }));
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
  EXPECT_EQ(kinds,
            (std::vector<std::string>{"top-grip-closed", "force-zeroed", "bottom-grip-closed", "hold", "resumed"}));
}

TEST_F(OneBar, JoggingStopsWhenTheKeyIsReleased) {
  RunStage* run = window_->part<RunStage>();
  ASSERT_TRUE(until([&] { return run->machine().reading("force") != 0; }));
  QTest::keyPress(run, Qt::Key_Up);
  ASSERT_TRUE(until([&] { return run->machine().reading("crosshead") > 0.2; }));
  QTest::keyRelease(run, Qt::Key_Up);
  double last = -1;
  ASSERT_TRUE(until([&] {
    const double now = run->machine().reading("crosshead");
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

TEST_F(OneBar, AnEmptyLedgerSaysWhatItWaitsFor) {
  TestRecord bare;
  bare.method = "tension-metal";
  bare.fields.set("specimen.id", std::string("B-9"));
  const Id id = *bench_.book()->add_specimen(bench_.book()->specimen(id_)->series, "B-9", bare);
  window_->show_specimen(id, int(Stage::evaluate));
  settle();
  const auto* list = window_->findChild<LedgerList*>();
  ASSERT_NE(list, nullptr);
  ASSERT_TRUE(QTest::qWaitFor([&] { return bench_.evaluation() != nullptr; }, 20000));
  EXPECT_TRUE(list->accessibleDescription().contains("Measure:")) << list->accessibleDescription().toStdString();
  EXPECT_TRUE(list->accessibleDescription().contains("Run:"));
  for (const QPushButton* b : window_->findChildren<QPushButton*>()) {
    if (b->property("key") == "ledger-sign") {
      EXPECT_FALSE(b->isVisibleTo(window_.get())) << "nothing to sign";
    }
  }
  window_->show_specimen(id_, int(Stage::evaluate));
  settle();
  ASSERT_TRUE(QTest::qWaitFor([&] { return bench_.evaluation() != nullptr; }, 20000));
  EXPECT_TRUE(list->accessibleDescription().isEmpty()) << "a measured bar has its area";
}

TEST_F(OneBar, NothingToSignBeforeARun) {
  const auto refused = bench_.sign();
  ASSERT_FALSE(refused);
  EXPECT_NE(refused.error().message.find("has not been run"), std::string::npos);
  bench_.set_stage(Stage::sign_off);
  EXPECT_FALSE(find<QPushButton>("sign")->isEnabled());
}

}  // namespace
}  // namespace fortitor::parts_test
