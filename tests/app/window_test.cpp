// The parts of the window: readings, undo, units, dragging, what-if, finding, refusing.
#include <QClipboard>
#include <QLabel>
#include <QListWidget>

#include "app/docket/docket.h"
#include "app/figures/figure_view.h"
#include "app/frame/find_box.h"
#include "app/frame/stage_bar.h"
#include "app/stages/evaluate_stage.h"
#include "app/theme/theme.h"
#include "tests/app/demo_book_copy.h"
#include "tests/app/window_fixture.h"

namespace fortitor::window_test {
namespace {

class Demo : public WindowTest {
 protected:
  void lay_out_book(const QString& path) override { ASSERT_EQ(copy_demo_book(path), ""); }
  Id id(const std::string& code) {
    for (const JobRow& j : bench_.book()->jobs())
      for (const SeriesRow& s : bench_.book()->series(j.id))
        for (const SpecimenRow& sp : bench_.book()->specimens(s.id))
          if (sp.code == code) return sp.id;
    return 0;
  }
  void open(const std::string& code, Stage stage) {
    window_->show_specimen(id(code), int(stage));
    settle();
  }
};

TEST_F(Demo, HoldsWhatItPromises) {
  EXPECT_TRUE(bench_.book()->specimen(id("HB-01"))->signed_off);
  open("HB-02", Stage::evaluate);
  EXPECT_NE(bench_.evaluation()->finding("not-zeroed"), nullptr);
  EXPECT_NE(bench_.evaluation()->finding("break-outside-middle"), nullptr);
  open("HB-03", Stage::evaluate);
  EXPECT_TRUE(bench_.evaluation()->find("rp02")->near);
  open("HB-04", Stage::evaluate);
  EXPECT_TRUE(bench_.evaluation()->find("rm")->censored);
  EXPECT_EQ(bench_.evaluation()->verdict, Verdict::open);
  open("HB-05", Stage::measure);
  EXPECT_FALSE(record().run.samples());
  EXPECT_EQ(bench_.book()->specimen(id("HB-05"))->stages, "2220000");
}

TEST_F(Demo, ReadingsRefuseNonsenseAndKeepIt) {
  open("HB-05", Stage::measure);
  type("specimen.section.diameter#1", "10,02 kN");
  EXPECT_TRUE(window_->message().contains("a length is wanted"));
  EXPECT_EQ(find<QLineEdit>("specimen.section.diameter#1")->text(), "10,02 kN");
  type("specimen.section.diameter#1", "1,002 mm");
  EXPECT_TRUE(window_->message().contains("1002 or 1.002"));
  type("specimen.section.diameter#1", "25/64 in");
  EXPECT_TRUE(window_->message().isEmpty());
  EXPECT_NEAR(*record().fields.readings("specimen.section.diameter")[1].value, 25.4 * 25 / 64, 1e-12);
  EXPECT_EQ(find<QLineEdit>("specimen.section.diameter#1")->toolTip(), "Typed: 25/64 in");
}

TEST_F(Demo, MissedIsNeverInvented) {
  open("HB-05", Stage::measure);
  auto* e = find<ReadingEdit>("specimen.section.diameter#2");
  e->setFocus();
  QTest::keyClick(e, Qt::Key_A, Qt::ControlModifier);
  QTest::keyClick(e, Qt::Key_Delete);
  QTest::keyClick(e, Qt::Key_M);
  const auto list = record().fields.readings("specimen.section.diameter");
  ASSERT_EQ(list.size(), 3u);
  EXPECT_TRUE(list[2].missed());
  EXPECT_EQ(e->text(), "missed");
}

TEST_F(Demo, AColumnIsPastedWholeOrNotAtAll) {
  open("HB-05", Stage::measure);
  auto* e = find<ReadingEdit>("specimen.section.diameter#0");
  e->setFocus();
  const auto before = record().fields.readings("specimen.section.diameter");
  QApplication::clipboard()->setText("10.00\nzehn\n10.02\n");
  QTest::keyClick(e, Qt::Key_V, Qt::ControlModifier);
  EXPECT_EQ(record().fields.readings("specimen.section.diameter"), before);
  EXPECT_TRUE(window_->message().contains("Nothing was pasted"));
  QApplication::clipboard()->setText("10.00\n10.01\n10,02 mm\n");
  QTest::keyClick(e, Qt::Key_V, Qt::ControlModifier);
  EXPECT_DOUBLE_EQ(*record().fields.readings("specimen.section.diameter")[2].value, 10.02);
}

TEST_F(Demo, UndoAndRedoAreVersionsToo) {
  open("HB-05", Stage::prepare);
  const auto version = bench_.book()->record_version(bench_.specimen());
  type("specimen.material", "C45");
  EXPECT_EQ(record().fields.text("specimen.material"), "C45");
  QTest::keyClick(window_.get(), Qt::Key_Z, Qt::ControlModifier);
  EXPECT_EQ(record().fields.text("specimen.material"), "S355J2");
  QTest::keyClick(window_.get(), Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
  EXPECT_EQ(record().fields.text("specimen.material"), "C45");
  EXPECT_EQ(bench_.book()->record_version(bench_.specimen()), version + 3);
  EXPECT_EQ(bench_.book()->record(bench_.specimen())->fields.text("specimen.material"), "C45");
}

TEST_F(Demo, UnitsSwitchEverywhereAtOnce) {
  open("HB-05", Stage::measure);
  QTest::keyClick(window_.get(), Qt::Key_U, Qt::ControlModifier);
  EXPECT_EQ(bench_.units(), UnitSet::us);
  EXPECT_EQ(find<QLineEdit>("specimen.gauge_length#0")->text(), "1.9685 in");
  type("specimen.gauge_length#0", "2");  // a bare number is inches now
  EXPECT_DOUBLE_EQ(*record().fields.number("specimen.gauge_length"), 50.8);
  type("specimen.gauge_length#0", "50 mm");  // a typed unit always wins
  EXPECT_DOUBLE_EQ(*record().fields.number("specimen.gauge_length"), 50);
}

TEST_F(Demo, DraggingTheWindowRecomputesWhileItMoves) {
  open("HB-03", Stage::evaluate);
  FigureView* lens = window_->part<EvaluateStage>()->figure();
  QCoreApplication::processEvents();
  ASSERT_EQ(lens->handles().size(), 2u);
  const QPointF from = lens->handle_position(1);
  const double before = result("modulus_to");
  const auto version = bench_.book()->record_version(bench_.specimen());
  QTest::mousePress(lens, Qt::LeftButton, {}, from.toPoint());
  for (int step = 1; step <= 5; ++step) {
    const auto seen = bench_.evaluation();
    QTest::mouseMove(lens, (from + QPointF(0, 12 * step)).toPoint());
    ASSERT_TRUE(until([&] { return bench_.evaluation() != seen; }));
  }
  EXPECT_LT(result("modulus_to"), before - 20);
  EXPECT_EQ(bench_.book()->record_version(bench_.specimen()), version);  // nothing is kept while it moves
  QTest::mouseRelease(lens, Qt::LeftButton, {}, (from + QPointF(0, 60)).toPoint());
  EXPECT_EQ(record().fields.text("settings.modulus.school"), "line");
  EXPECT_EQ(bench_.book()->record_version(bench_.specimen()), version + 1);
  QTest::keyClick(window_.get(), Qt::Key_Z, Qt::ControlModifier);
  EXPECT_EQ(record().fields.text("settings.modulus.school"), "");
}

TEST_F(Demo, HandlesMoveByKeysToo) {
  open("HB-03", Stage::evaluate);
  FigureView* lens = window_->part<EvaluateStage>()->figure();
  QCoreApplication::processEvents();
  lens->setFocus();
  QTest::keyClick(lens, Qt::Key_Right);
  QTest::keyClick(lens, Qt::Key_Up);
  EXPECT_EQ(record().fields.text("settings.modulus.school"), "line");
}

TEST_F(Demo, WhatIfStandsBesideTheOriginal) {
  open("HB-03", Stage::evaluate);
  const double original = result("rp02");
  click("what-if");
  ASSERT_TRUE(bench_.what_if());
  const auto before = bench_.evaluation();
  click("settings.modulus.school=secant");
  ASSERT_TRUE(until([&] { return bench_.evaluation() != before; }));
  EXPECT_DOUBLE_EQ(bench_.original()->find("rp02")->value, original);
  EXPECT_EQ(bench_.book()->record(bench_.specimen())->fields.text("settings.modulus.school"), "");
  EXPECT_FALSE(bench_.sign());
  click("what-if-drop");
  EXPECT_EQ(record().fields.text("settings.modulus.school"), "");
  ASSERT_TRUE(until([&] { return result("rp02") == original; }));
}

TEST_F(Demo, AWordWantsItsReason) {
  open("HB-02", Stage::evaluate);
  click("remedy:break-outside-middle:accept");
  auto* reason = find<QLineEdit>("reason:break-outside-middle");
  ASSERT_NE(reason, nullptr);
  QTest::keyClick(reason, Qt::Key_Return);
  EXPECT_EQ(record().answer("break-outside-middle"), nullptr);
  QTest::keyClicks(reason, "neck lies inside the marks");
  QTest::keyClick(reason, Qt::Key_Return);
  ASSERT_NE(record().answer("break-outside-middle"), nullptr);
  EXPECT_EQ(record().answer("break-outside-middle")->by, "R. Vale");
}

TEST_F(Demo, KeepingThePreloadMovesTheCurve) {
  open("HB-02", Stage::evaluate);
  const double shifted = result("rm");
  click("remedy:not-zeroed:keep");
  auto* reason = find<QLineEdit>("reason:not-zeroed");
  QTest::keyClicks(reason, "a true preload");
  QTest::keyClick(reason, Qt::Key_Return);
  ASSERT_TRUE(until([&] { return result("rm") > shifted + 1; }));
}

TEST_F(Demo, LedgerOpensHowAndLightsTheConstruction) {
  open("HB-03", Stage::evaluate);
  LedgerList* list = window_->part<Ledger>()->list();
  QSignalSpy lit(&bench_, &Workbench::highlighted);
  const QRectF row = list->row_of("rm");
  ASSERT_FALSE(row.isNull());
  QTest::mouseClick(list, Qt::LeftButton, {}, row.center().toPoint());
  EXPECT_EQ(list->open_key(), "rm");
  ASSERT_EQ(lit.count(), 1);
  EXPECT_EQ(lit[0][0].toString(), "rm");
  QTest::keyClick(list, Qt::Key_C, Qt::ControlModifier);
  EXPECT_TRUE(QApplication::clipboard()->text().contains("tensile strength\t"));
  QTest::keyClick(list, Qt::Key_Down);
  EXPECT_NE(list->open_key(), "rm");
}

TEST_F(Demo, FindOrDo) {
  auto search = [&](const QString& text) {
    QTest::keyClick(window_.get(), Qt::Key_K, Qt::ControlModifier);
    ASSERT_TRUE(window_->find_box()->isVisible());
    QTest::keyClicks(window_->find_box()->line(), text);
    QTest::keyClick(window_->find_box()->line(), Qt::Key_Return);
  };
  search("HB-04");
  EXPECT_EQ(record().specimen_id(), "HB-04");
  search("sign off");
  EXPECT_EQ(bench_.stage(), Stage::sign_off);
  search("2 5/8 in to mm");
  EXPECT_EQ(QApplication::clipboard()->text(), "66.675 mm");
}

TEST_F(Demo, EveryStageOpensByKeyAndByClick) {
  open("HB-03", Stage::evaluate);
  for (int i = 0; i < kStageCount; ++i) {
    QTest::keyClick(window_.get(), Qt::Key(Qt::Key_1 + i), Qt::AltModifier);
    EXPECT_EQ(int(bench_.stage()), i);
  }
  QTest::mouseClick(window_->part<StageBar>(), Qt::LeftButton, {}, window_->part<StageBar>()->node(1).toPoint());
  EXPECT_EQ(bench_.stage(), Stage::measure);
  QTest::mouseClick(window_->docket(), Qt::LeftButton, {}, window_->docket()->row_of(id("HB-05")).center());
  EXPECT_EQ(record().specimen_id(), "HB-05");
}

TEST_F(Demo, ARunPieceIsNotRunAgain) {
  open("HB-03", Stage::run);
  EXPECT_FALSE(find<QPushButton>("run-main")->isEnabled());
  QTest::keyClick(window_->part<RunStage>(), Qt::Key_Space);
  EXPECT_TRUE(window_->message().contains("never changed"));
  EXPECT_FALSE(window_->part<RunStage>()->running());
}

TEST_F(Demo, EveryControlHasAnAccessibleName) {
  open("HB-03", Stage::evaluate);
  for (int i = 0; i < kStageCount; ++i) {
    bench_.set_stage(Stage(i));
    for (QWidget* w : window_->findChildren<QWidget*>()) {
      const bool control = qobject_cast<QPushButton*>(w) || qobject_cast<QComboBox*>(w) ||
                           (qobject_cast<QLineEdit*>(w) && w->objectName() != "qt_spinbox_lineedit");
      if (!control || !w->isVisible() || w->focusPolicy() == Qt::NoFocus) continue;
      const bool named = !w->accessibleName().isEmpty() ||
                         (qobject_cast<QPushButton*>(w) && !qobject_cast<QPushButton*>(w)->text().isEmpty());
      EXPECT_TRUE(named) << stage_name(Stage(i)) << " " << w->property("key").toString().toStdString();
    }
  }
}

TEST_F(Demo, ThemesAndTextSizesHoldAtTheSmallestWindow) {
  open("HB-03", Stage::evaluate);
  window_->resize(1024, 700);
  for (double scale : {1.0, 1.5, 2.0}) {
    theme::set_scale(scale);
    for (bool dark : {true, false}) {
      theme::set_dark(dark);
      for (int i = 0; i < kStageCount; ++i) {
        bench_.set_stage(Stage(i));
        EXPECT_FALSE(window_->grab().isNull());
      }
    }
  }
  theme::set_scale(1.0);
}

TEST_F(WindowTest, EmptyBookSaysWhatToDoFirst) {
  bool said = false;
  EXPECT_TRUE(until([&] {  // the page is made anew when the day is planned
    for (const QLabel* l : window_->findChildren<QLabel*>())
      said = said || (l->isVisible() && l->text().contains("Three ways in"));
    return said;
  }));
  QTest::keyClick(window_.get(), Qt::Key_N, Qt::ControlModifier);
  click("job-create");
  said = false;
  for (const QLabel* l : window_->findChildren<QLabel*>())
    said = said || l->text() == "A job needs a number, such as TC-031.";
  EXPECT_TRUE(said);
}

}  // namespace
}  // namespace fortitor::window_test
