// The hardness bench in the real window: eyepiece, dial and measuring glass worked by keys, places set on the drawing.
#include <cmath>

#include "app/instruments/dial_view.h"
#include "app/instruments/eyepiece_view.h"
#include "app/stages/evaluate_stage.h"
#include "core/plan/indents.h"
#include "tests/app/slow_methods_fixture.h"

namespace fortitor::hardness_desk_test {
namespace {

class HardnessDesk : public SlowMethods {
 protected:
  template <class W>
  W* instrument() {
    for (W* w : window_->findChildren<W*>())
      if (w->isVisible()) return w;
    ADD_FAILURE() << "no such instrument is shown";
    return nullptr;
  }
  const Rows& rows() const { return record().run.rows(bench_.method().keyed_table()->id); }
  // Turns the line in hand until it stands at `divisions`, by the arrow keys alone.
  void turn_to(EyepieceView* eye, double divisions) {
    for (int guard = 0; guard < 400; ++guard) {
      const double off = divisions - eye->line(eye->in_hand());
      if (std::abs(off) < 0.25) return;
      QTest::keyClick(entry(), off > 0 ? Qt::Key_Right : Qt::Key_Left,
                      std::abs(off) >= 10 ? Qt::ShiftModifier : Qt::NoModifier);
    }
    ADD_FAILURE() << "the line does not get there";
  }
  void pinion() {
    new_job("hardness-vickers");
    type("specimen.material", "18CrNiMo7-6");
    type("specimen.family", "alloy steel");
    type("specimen.force", "0.5 kgf");
    type("specimen.traverse.limit", "550");
    go(1);
    click("specimen.face.shape=rectangle");
    type("specimen.face.width#0", "12 mm");
    type("specimen.face.height#0", "8 mm");
    type("specimen.thickness#0", "8 mm");
    click("settings.plan.pattern=staggered");
    type("settings.plan.count", "10");
    type("settings.plan.pitch", "0.1 mm");
    type("settings.plan.start", "0.15 mm");
    type("settings.plan.expected", "350");
    go(2);
    type("specimen.division", "0.25 µm");
    set_up();
  }
};

TEST_F(HardnessDesk, TenIndentsThroughTheEyepieceByKeysAlone) {
  pinion();
  auto* eye = instrument<EyepieceView>();
  ASSERT_NE(eye, nullptr);
  EXPECT_TRUE(eye->empty());
  for (int i = 0; i < 10; ++i) {
    ASSERT_EQ(int(rows().size()), i);
    key(Qt::Key_Space);  // the stage moves, the indent is set
    ASSERT_FALSE(eye->empty());
    for (int edge = 0; edge < 4; ++edge) {
      key(Qt::Key_Space);  // the lines to where a good eye sees the edge
      key(Qt::Key_Return);
    }
    ASSERT_EQ(int(rows().size()), i + 1);
    EXPECT_EQ(rows()[size_t(i)].cells.readings("d1").size(), 2u);
    EXPECT_EQ(rows()[size_t(i)].cells.readings("d2").size(), 2u);
    EXPECT_NEAR(*rows()[size_t(i)].number("x"), 0.15 + 0.1 * i, 1e-9) << "where it was planned";
  }
  EXPECT_TRUE(call_out_of(bench_.method(), record(), nullptr).last_done);
  key(Qt::Key_E);
  EXPECT_FALSE(record().run.open);
  ASSERT_TRUE(until([&] { return std::isfinite(result("case_depth")); }));
  EXPECT_NEAR(result("case_depth"), 0.78, 0.12);
  EXPECT_EQ(bench_.evaluation()->finding("too-close"), nullptr);
  go(5);
  EXPECT_FALSE(window_->part<EvaluateStage>()->figure()->empty());
  sign();
}

TEST_F(HardnessDesk, LinesAreTurnedByHandAndNeverThroughEachOther) {
  pinion();
  auto* eye = instrument<EyepieceView>();
  key(Qt::Key_Space);
  EXPECT_EQ(eye->in_hand(), 0);
  turn_to(eye, 120);
  EXPECT_DOUBLE_EQ(eye->line(0), 120);
  key(Qt::Key_Return);
  EXPECT_EQ(rows()[0].cells.readings("d1")[0].typed, "120");
  EXPECT_EQ(eye->in_hand(), 1) << "the other edge comes next";
  // Against the left line it stops short, and says why.
  for (int i = 0; i < 60; ++i) QTest::keyClick(entry(), Qt::Key_Left, Qt::ShiftModifier);
  EXPECT_GT(eye->line(1), eye->line(0));
  EXPECT_TRUE(window_->message().contains("glass"));
  turn_to(eye, 292.5);
  key(Qt::Key_Return);
  EXPECT_EQ(rows()[0].cells.readings("d1")[1].typed, "292.5");
  // At the second diagonal its difference from the first is there at once, before it is kept.
  key(Qt::Key_Space);
  key(Qt::Key_Return);
  const auto said = [this](const char* words) {
    const auto labels = window_->findChildren<QLabel*>();
    return std::any_of(labels.begin(), labels.end(),
                       [&](const QLabel* l) { return l->isVisible() && l->text().contains(words); });
  };
  EXPECT_TRUE(until([&] { return said("The two differ by"); }));
  key(Qt::Key_R);
  read("120");
  read("292.5");
  // Typed alike: marks of the drum and divisions, or a length at once.
  read("2:18");
  read("5:42.5");
  ASSERT_EQ(rows()[0].cells.readings("d2").size(), 2u);
  key(Qt::Key_Space);
  read("43.6 µm");
  read("43.4 µm");
  ASSERT_TRUE(until([&] { return std::isfinite(result("hv_core")); }));
  EXPECT_NEAR(result("hv_core"), 0.1891 * 4.903325 / (0.0435 * 0.0435), 0.01);
  const double before = eye->focus_knob();
  key(Qt::Key_Space);
  QTest::keyClick(entry(), Qt::Key_Up);
  EXPECT_NE(eye->focus_knob(), before);
  // A length beside a count of divisions makes no size: it is said, and what was kept stays.
  read("112");
  read("43.6 µm");
  EXPECT_TRUE(window_->message().contains("divisions")) << window_->message().toStdString();
  ASSERT_EQ(rows().size(), 3u);
  EXPECT_EQ(rows()[2].cells.readings("d1").size(), 1u);
  entry()->clear();
  read("286");
  EXPECT_EQ(rows()[2].cells.readings("d1").size(), 2u);
}

TEST_F(HardnessDesk, AReadingFarOffIsCalledOutBeforeItIsKept) {
  pinion();
  for (int i = 0; i < 6; ++i) {
    key(Qt::Key_Space);
    for (int edge = 0; edge < 4; ++edge) {
      key(Qt::Key_Space);
      key(Qt::Key_Return);
    }
  }
  auto* eye = instrument<EyepieceView>();
  key(Qt::Key_Space);
  key(Qt::Key_Space);
  key(Qt::Key_Return);
  turn_to(eye, std::min(eye->line(0) + 300, 395.0));  // a line that sits on a scratch
  EXPECT_TRUE(until([&] {
    const auto labels = window_->findChildren<QLabel*>();
    return std::any_of(labels.begin(), labels.end(), [](const QLabel* l) {
      return l->isVisible() && l->text().contains("below the course of its neighbours");
    });
  }));
  EXPECT_EQ(rows().size(), 7u);
  EXPECT_EQ(rows()[6].cells.readings("d1").size(), 1u) << "it is not kept yet";
}

TEST_F(HardnessDesk, TheDialIsReadWhenTheLeverIsBack) {
  new_job("hardness-rockwell");
  type("specimen.material", "42CrMo4");
  type("specimen.family", "alloy steel");
  auto* scale = find<QComboBox>("specimen.scale");
  ASSERT_NE(scale, nullptr);
  scale->setCurrentIndex(scale->findData("C"));
  emit scale->activated(scale->currentIndex());
  ASSERT_EQ(record().fields.text("specimen.scale"), "C");
  go(2);
  type("equipment.hardness_machine.base_force", "60 kgf");
  type("equipment.hardness_machine.plates", "40 kgf; 50 kgf");
  type("specimen.block.certified", "35");
  type("specimen.block.tolerance", "1.5");
  for (const auto& [i, hr] : {std::pair{0, "35.2"}, {1, "34.9"}, {2, "35.0"}})
    type("specimen.block.readings#" + QString::number(i), hr);
  set_up();
  auto* dial = instrument<DialView>();
  ASSERT_NE(dial, nullptr);
  for (int i = 0; i < 5; ++i) {
    key(Qt::Key_Space);
    ASSERT_TRUE(dial->face());
    EXPECT_FALSE(dial->face()->reading_counts);
    key(Qt::Key_Space);  // up to the set mark
    EXPECT_EQ(dial->face()->small, 1);
    key(Qt::Key_Space);  // lever forward
    EXPECT_TRUE(dial->face()->loaded);
    key(Qt::Key_Return);
    EXPECT_EQ(int(rows().size()), i) << "nothing was typed, nothing is kept";
    key(Qt::Key_Space);  // lever back
    ASSERT_TRUE(dial->face()->reading_counts);
    read(QString::number(dial->face()->large));
    ASSERT_EQ(int(rows().size()), i + 1);
  }
  key(Qt::Key_E);
  ASSERT_TRUE(until([&] { return std::isfinite(result("hr")); }));
  EXPECT_NEAR(result("hr"), 33, 2.5);
  sign();
}

TEST_F(HardnessDesk, ABrinellPrintIsMeasuredAcrossTwice) {
  new_job("hardness-brinell");
  type("specimen.material", "GS 240");
  type("specimen.family", "carbon steel");
  type("specimen.ball", "5 mm");
  type("specimen.force", "750 kgf");
  set_up();
  auto* eye = instrument<EyepieceView>();
  for (int i = 0; i < 3; ++i) {
    key(Qt::Key_Space);
    for (int diameter = 0; diameter < 2; ++diameter) {
      key(Qt::Key_Space);  // both lines to the rim
      EXPECT_EQ(eye->in_hand(), 0);
      key(Qt::Key_Return);  // the other line
      EXPECT_EQ(eye->in_hand(), 1);
      key(Qt::Key_Return);
    }
    ASSERT_EQ(int(rows().size()), i + 1);
    EXPECT_EQ(rows()[size_t(i)].cells.readings("d").size(), 2u);
  }
  EXPECT_TRUE(call_out_of(bench_.method(), record(), nullptr).last_done);
  key(Qt::Key_E);
  ASSERT_TRUE(until([&] { return std::isfinite(result("hb")); }));
  EXPECT_NEAR(result("hb"), 206, 15);
  sign();
}

TEST_F(HardnessDesk, PlacesAreSetNudgedAndTakenAwayOnTheDrawing) {
  pinion();
  go(1);
  auto* pad = find<SketchPad>("drawing");
  ASSERT_NE(pad, nullptr);
  EXPECT_TRUE(record().fields.text("settings.plan.places").empty());
  pad->setFocus();
  QTest::keyClick(pad, Qt::Key_PageDown);
  EXPECT_EQ(pad->chosen(), 0);
  QTest::keyClick(pad, Qt::Key_Right, Qt::ShiftModifier);
  const auto moved = read_spots(record().fields.text("settings.plan.places"));
  ASSERT_TRUE(moved);
  ASSERT_EQ(moved->size(), 10u);
  EXPECT_NEAR((*moved)[0].x, 0.25, 1e-9);
  QTest::keyClick(pad, Qt::Key_Delete);
  EXPECT_EQ(read_spots(record().fields.text("settings.plan.places"))->size(), 9u);
  QTest::mouseClick(pad, Qt::LeftButton, {}, pad->rect().center() + QPoint(60, 20));
  EXPECT_EQ(read_spots(record().fields.text("settings.plan.places"))->size(), 10u);
  QTest::mouseClick(pad, Qt::RightButton, {}, pad->rect().center() + QPoint(-60, 20));
  EXPECT_EQ(read_spots(record().fields.text("settings.plan.clear"))->size(), 1u);
  QTest::keyClick(window_.get(), Qt::Key_Z, Qt::ControlModifier);
  EXPECT_TRUE(record().fields.text("settings.plan.clear").empty()) << "undone like any edit";
}

TEST_F(HardnessDesk, APhotographIsMeasuredByItsOwnWidth) {
  pinion();
  auto* eye = instrument<EyepieceView>();
  QImage picture(400, 300, QImage::Format_RGB32);
  picture.fill(Qt::lightGray);
  eye->show_photograph(picture, 0.1);  // 400 divisions of 0.25 µm
  ASSERT_FALSE(eye->empty());
  turn_to(eye, 100);
  key(Qt::Key_Return);
  turn_to(eye, 300);
  key(Qt::Key_Return);
  ASSERT_EQ(rows()[0].cells.readings("d1").size(), 2u);
  EXPECT_NEAR(*rows()[0].cells.readings("d1")[1].value, 300, 1e-9);
}

}  // namespace
}  // namespace fortitor::hardness_desk_test
