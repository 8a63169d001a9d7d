// Looking closer at a figure with wheel, drag, box, double click and keys.
#include <gtest/gtest.h>

#include <QApplication>
#include <QClipboard>
#include <QFileInfo>
#include <QTemporaryDir>
#include <QTest>
#include <QWheelEvent>

#include "app/figures/figure_view.h"

namespace fortitor::figure_zoom_test {
namespace {

Figure line(Axis::Scale scale = Axis::Scale::linear) {
  Figure f;
  f.id = "line";
  Panel p;
  p.x = {"strain", Dimension::strain, scale};
  p.y = {"stress", Dimension::stress, scale};
  Trace t;
  for (int i = 1; i <= 100; ++i) t.x.push_back(0.001 * i), t.y.push_back(5.0 * i);
  p.traces.push_back(t);
  f.panels.push_back(p);
  return f;
}

class FigureZoom : public testing::Test {
 protected:
  void SetUp() override {
    view_.resize(640, 400);
    view_.show();
    ASSERT_TRUE(QTest::qWaitForWindowExposed(&view_));
    view_.show_figure(line(), UnitSet::si);
  }
  const figure::Frame& frame() const { return view_.layout_shown().frames.front(); }
  QPointF middle() const { return {frame().left + frame().width / 2, frame().top + frame().height / 2}; }
  void wheel(const QPointF& at, int notches) {
    QWheelEvent e(at, view_.mapToGlobal(at), {}, QPoint(0, 120 * notches), Qt::NoButton, Qt::NoModifier,
                  Qt::NoScrollPhase, false);
    QApplication::sendEvent(&view_, &e);
  }
  void drag(const QPointF& from, const QPointF& to, Qt::KeyboardModifiers with = {}) {
    QMouseEvent press(QEvent::MouseButtonPress, from, view_.mapToGlobal(from), Qt::LeftButton, Qt::LeftButton, with);
    QMouseEvent move(QEvent::MouseMove, to, view_.mapToGlobal(to), Qt::NoButton, Qt::LeftButton, with);
    QMouseEvent release(QEvent::MouseButtonRelease, to, view_.mapToGlobal(to), Qt::LeftButton, Qt::NoButton, with);
    for (QMouseEvent* e : {&press, &move, &release}) QApplication::sendEvent(&view_, e);
  }
  FigureView view_;
};

TEST_F(FigureZoom, TheWheelMagnifiesAboutThePointer) {
  const figure::Frame whole = frame();
  const QPointF at(frame().left + 0.25 * frame().width, frame().top + 0.6 * frame().height);
  const double x = frame().data_x(at.x()), y = frame().data_y(at.y());
  wheel(at, 5);
  EXPECT_TRUE(view_.zoomed());
  EXPECT_NEAR((frame().x1 - frame().x0) / (whole.x1 - whole.x0), std::pow(1.2, -5), 1e-6);
  EXPECT_NEAR(frame().data_x(at.x()), x, 1e-9) << "what is under the pointer stays there";
  EXPECT_NEAR(frame().data_y(at.y()), y, 1e-6);
  wheel(at, -20);
  EXPECT_FALSE(view_.zoomed()) << "never beyond what there is";
  EXPECT_DOUBLE_EQ(frame().x1, whole.x1);
  wheel(at, 200);
  EXPECT_GT(frame().x1, frame().x0) << "nor closer than there are numbers";
}

TEST_F(FigureZoom, ABoxADragAndADoubleClick) {
  const figure::Frame whole = frame();
  const QPointF a(frame().left + 0.2 * frame().width, frame().top + 0.3 * frame().height);
  const QPointF b(frame().left + 0.6 * frame().width, frame().top + 0.8 * frame().height);
  const double x0 = frame().data_x(a.x()), x1 = frame().data_x(b.x()), y1 = frame().data_y(a.y());
  drag(a, b);
  EXPECT_FALSE(view_.zoomed()) << "nothing to move while all is shown";
  drag(a, b, Qt::ShiftModifier);
  ASSERT_TRUE(view_.zoomed());
  EXPECT_NEAR(frame().x0, x0, 1e-9);
  EXPECT_NEAR(frame().x1, x1, 1e-9);
  EXPECT_NEAR(frame().y1, y1, 1e-6);
  const double span = frame().x1 - frame().x0, was = frame().x0;
  drag(middle(), middle() - QPointF(60, 0));
  EXPECT_NEAR(frame().x1 - frame().x0, span, 1e-9);
  EXPECT_GT(frame().x0, was);
  drag(middle(), middle() - QPointF(50000, 0));
  EXPECT_NEAR(frame().x1, whole.x1, 1e-9) << "as far as there is something";
  QTest::mouseDClick(&view_, Qt::LeftButton, {}, middle().toPoint());
  EXPECT_FALSE(view_.zoomed());
  EXPECT_DOUBLE_EQ(frame().x0, whole.x0);
}

TEST_F(FigureZoom, KeysAndANewFigure) {
  view_.setFocus();
  QTest::keyClick(&view_, Qt::Key_Plus);
  EXPECT_TRUE(view_.zoomed());
  QTest::keyClick(&view_, Qt::Key_0);
  EXPECT_FALSE(view_.zoomed());
  QTest::keyClick(&view_, Qt::Key_Plus);
  view_.show_figure(line(), UnitSet::si);
  EXPECT_TRUE(view_.zoomed()) << "the same figure, evaluated again, stays as it is looked at";
  Figure other = line();
  other.id = "another";
  view_.show_figure(other, UnitSet::si);
  EXPECT_FALSE(view_.zoomed());
}

TEST_F(FigureZoom, PowersOfTenToo) {
  view_.show_figure(line(Axis::Scale::log), UnitSet::si);
  const QPointF at = middle();
  const double x = frame().data_x(at.x());
  wheel(at, 4);
  EXPECT_TRUE(view_.zoomed());
  EXPECT_NEAR(frame().data_x(at.x()) / x, 1, 1e-9);
  EXPECT_GT(frame().x0, 0);
}

TEST_F(FigureZoom, TheFigureThatIsShownIsTakenAlong) {
  view_.copy_data();
  const QStringList rows = QApplication::clipboard()->text().split('\n', Qt::SkipEmptyParts);
  ASSERT_EQ(rows.size(), 101);
  EXPECT_EQ(rows[0], "\"strain, %\",\"stress, MPa\"");
  EXPECT_EQ(rows[1], "0.1,5");
  view_.copy_picture();
  EXPECT_EQ(QApplication::clipboard()->image().size(), view_.size() * 2);
  QTemporaryDir dir;
  for (const char* name : {"f.svg", "f.png", "f.pdf", "f.csv"}) {
    const QString path = dir.path() + "/" + name;
    ASSERT_TRUE(view_.save(path)) << name;
    EXPECT_GT(QFileInfo(path).size(), 400) << name;
    EXPECT_FALSE(view_.save(path)) << "nothing is overwritten";
  }
  EXPECT_FALSE(view_.save(dir.path() + "/f.doc"));
  QFile whole(dir.path() + "/f.svg");
  wheel(middle(), 6);
  ASSERT_TRUE(view_.save(dir.path() + "/part.svg"));
  QFile part(dir.path() + "/part.svg");
  ASSERT_TRUE(whole.open(QIODevice::ReadOnly) && part.open(QIODevice::ReadOnly));
  EXPECT_NE(whole.readAll(), part.readAll()) << "a part that is shown is the part that is saved";
}

TEST_F(FigureZoom, TheYieldRegionIsOneKeyAway) {
  Figure f = line();
  Mark yield;
  yield.key = "reh";
  yield.points = {{0.01, 50}};
  f.panels[0].marks = {yield};
  view_.show_figure(f, UnitSet::si);
  const figure::Frame whole = frame();
  QTest::keyClick(&view_, Qt::Key_Y);
  ASSERT_TRUE(view_.zoomed());
  EXPECT_NEAR(frame().x1, whole.x0 + 1.5 * (0.01 - whole.x0), 1e-9);
  EXPECT_GT(frame().y1, 50);
  EXPECT_LT(frame().y1, 0.3 * whole.y1);
  QTest::keyClick(&view_, Qt::Key_Y);
  EXPECT_FALSE(view_.zoomed());
  // A curve without a landmark is shown as it is.
  view_.show_figure(line(), UnitSet::si);
  QTest::keyClick(&view_, Qt::Key_Y);
  EXPECT_FALSE(view_.zoomed());
}

}  // namespace
}  // namespace fortitor::figure_zoom_test
