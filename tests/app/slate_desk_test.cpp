// The Slate through the real window: typed lines, fields, the tape, and a specimen made of a line.
#include <QComboBox>
#include <QLineEdit>
#include <QListWidget>
#include <QMenu>
#include <QTimer>

#include "app/slate/slate_desk.h"
#include "tests/app/window_fixture.h"

namespace fortitor::slate_desk_test {
namespace {

class SlateView : public WindowTest {
 protected:
  void SetUp() override {
    WindowTest::SetUp();
    window_->open("slate");
    line_ = find<QLineEdit>("slate-line");
    ASSERT_NE(line_, nullptr);
  }
  void type_line(const char* text) {
    line_->setFocus();
    line_->selectAll();
    QTest::keyClicks(line_, text);
  }
  QString answer() {
    QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
    for (QLabel* l : window_->part<SlateDesk>()->findChildren<QLabel*>())
      if (l->property("key").toString() == "slate-answer") return l->text();
    return {};
  }
  QLineEdit* line_ = nullptr;
};

TEST_F(SlateView, ALineIsWorkedOutWhileItIsTypedAndKept) {
  type_line("snatch 2000 kg 1.2 m/s 20 mm");
  EXPECT_EQ(answer(), "72.0 kN");
  QTest::keyClick(line_, Qt::Key_Return);
  auto* kept = find<QPushButton>("slate-tape-0");
  ASSERT_NE(kept, nullptr);
  EXPECT_EQ(kept->text(), "snatch 2000 kg 1.2 m/s 20 mm");
  auto* note = find<QLineEdit>("slate-note-0");
  note->setFocus();
  QTest::keyClicks(note, "rope clamp, worst case");
  QTest::keyClick(note, Qt::Key_Return);
  type_line("nonsense 5");
  QTest::keyClick(line_, Qt::Key_Return);
  bool said = false;
  for (QLabel* l : window_->part<SlateDesk>()->findChildren<QLabel*>())
    said = said || l->text().contains("is no line of the Slate");
  EXPECT_TRUE(said);
  // Tomorrow it is there again.
  window_->show_today();
  window_->open("slate");
  ASSERT_NE(find<QLineEdit>("slate-note-0"), nullptr);
  EXPECT_EQ(find<QLineEdit>("slate-note-0")->text(), "rope clamp, worst case");
  for (QPushButton* b : window_->part<SlateDesk>()->findChildren<QPushButton*>())
    EXPECT_NE(b->property("key").toString(), "slate-tape-1");
}

TEST_F(SlateView, FieldsAndUnits) {
  click("slate-stress");
  auto* force = find<QLineEdit>("slate:force");
  force->setFocus();
  QTest::keyClicks(force, "28.9 kN");
  auto* d = find<QLineEdit>("slate:d");
  d->setFocus();
  QTest::keyClicks(d, "10 mm");
  EXPECT_EQ(answer(), "368.0 MPa");
  bench_.set_units(UnitSet::us);
  EXPECT_EQ(answer(), "53.37 ksi");
  bench_.set_units(UnitSet::si);
  click("slate-keep");
  ASSERT_NE(find<QPushButton>("slate-tape-0"), nullptr);
  const QString line = find<QPushButton>("slate-tape-0")->text();
  click("slate-elongation");
  EXPECT_EQ(answer(), "");
  click("slate-tape-0");  // the line gives the inputs again
  EXPECT_EQ(answer(), "368.0 MPa") << line.toStdString();
}

TEST_F(SlateView, FindOrDoAnswers) {
  QTest::keyClick(window_.get(), Qt::Key_K, Qt::ControlModifier);
  auto* box = find<QLineEdit>("find-line");
  ASSERT_NE(box, nullptr);
  QTest::keyClicks(box, "hv 0.5kgf 43.2um");
  auto* list = box->parentWidget()->findChild<QListWidget*>();
  ASSERT_GT(list->count(), 0);
  EXPECT_TRUE(list->item(0)->text().contains("HV 496.8")) << list->item(0)->text().toStdString();
  QTest::keyClick(box, Qt::Key_Return);
  EXPECT_EQ(window_->desk_in_hand(), "slate");
  EXPECT_EQ(find<QPushButton>("slate-tape-0")->text(), "hv 0.5kgf 43.2um");
}

TEST_F(SlateView, InputsBecomeANewSpecimen) {
  const auto job = bench_.book()->add_job("TC-042", "Winch pinion");
  ASSERT_TRUE(job);
  type_line("hv 0.5kgf 43.2um");
  QTimer menu_there;
  QObject::connect(&menu_there, &QTimer::timeout, [&] {
    auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
    if (menu == nullptr) return;
    menu_there.stop();
    for (QAction* a : menu->actions())
      if (a->text().startsWith("TC-042")) menu->setActiveAction(a);
    QTest::keyClick(menu, Qt::Key_Return);
  });
  menu_there.start(10);
  click("slate-hand");
  EXPECT_EQ(window_->desk_in_hand(), "specimen");
  EXPECT_EQ(record().method, "hardness-vickers");
  EXPECT_NEAR(*record().fields.number("specimen.force"), 0.5 * 9.80665, 1e-9);
  EXPECT_EQ(bench_.book()->series(*job).size(), 1u);
}

}  // namespace
}  // namespace fortitor::slate_desk_test
