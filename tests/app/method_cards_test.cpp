// The method of a series is chosen from drawn cards, by mouse or by keys, and by the first letters of its name.
#include <QSignalSpy>

#include "app/today/method_box.h"
#include "tests/app/window_fixture.h"

namespace fortitor::method_cards_test {
namespace {

class MethodCardsTest : public WindowTest {
 protected:
  MethodBox* box() {
    window_->open("jobs", 0, 1);
    return find<MethodBox>("job-method");
  }
  MethodCard* card(const MethodCards* cards, const QString& id) {
    for (MethodCard* c : cards->findChildren<MethodCard*>())
      if (c->property("key") == "method:" + id) return c;
    return nullptr;
  }
};

TEST_F(MethodCardsTest, EveryMethodHasItsDrawingUnderItsBench) {
  MethodBox* b = box();
  ASSERT_NE(b, nullptr);
  b->setFocus();
  b->showPopup();
  auto* cards = b->findChild<MethodCards*>();
  ASSERT_NE(cards, nullptr);
  EXPECT_TRUE(cards->isVisible());
  QCoreApplication::processEvents();
  if (qEnvironmentVariableIsSet("SHOT")) cards->grab().save(qEnvironmentVariable("SHOT"));
  QImage first;
  for (const Method* m : methods::all()) {
    MethodCard* c = card(cards, QString::fromStdString(m->id));
    ASSERT_NE(c, nullptr) << m->id;
    EXPECT_EQ(c->accessibleName().toStdString(), m->name);
    // Something is drawn where the picture stands.
    const QImage image = c->grab().toImage();
    const QRgb paper = image.pixel(4, 4);
    int drawn = 0;
    for (int x = 10; x < image.width() - 10; ++x)
      for (int y = 8; y < image.height() * 6 / 10; ++y) drawn += image.pixel(x, y) != paper;
    EXPECT_GT(drawn, 150) << m->id;
  }
  QTest::mouseClick(card(cards, "torsion-bar"), Qt::LeftButton);
  EXPECT_EQ(b->currentData().toString(), "torsion-bar");
  EXPECT_FALSE(cards->isVisible());
}

TEST_F(MethodCardsTest, KeysGoFromCardToCard) {
  MethodBox* b = box();
  b->setCurrentIndex(b->findData("tension-metal"));
  b->showPopup();
  auto* cards = b->findChild<MethodCards*>();
  QCoreApplication::processEvents();
  auto* at = qobject_cast<MethodCard*>(cards->focusWidget());
  ASSERT_NE(at, nullptr);
  EXPECT_EQ(at->method()->id, "tension-metal") << "it opens at what is chosen";
  QTest::keyClick(cards, Qt::Key_Right);
  auto* right = qobject_cast<MethodCard*>(cards->focusWidget());
  EXPECT_NE(right, at);
  QTest::keyClick(cards, Qt::Key_Left);
  EXPECT_EQ(cards->focusWidget(), at);
  // Down and up again through all benches.
  int down = 0;
  for (QWidget* was = nullptr; was != cards->focusWidget(); ++down) {
    was = cards->focusWidget();
    QTest::keyClick(cards, Qt::Key_Down);
  }
  EXPECT_GT(down, 3);
  QTest::keyClick(cards, Qt::Key_Return);
  EXPECT_FALSE(cards->isVisible());
  EXPECT_NE(b->currentData().toString(), "tension-metal");
  const QString chosen = b->currentData().toString();
  b->showPopup();
  QTest::keyClick(cards, Qt::Key_Up);
  QTest::keyClick(cards, Qt::Key_Escape);
  EXPECT_EQ(b->currentData().toString(), chosen) << "Esc takes none";
  // Closed, the first letters are enough.
  b->setFocus();
  QTest::keyClicks(b, "Rockwell");
  EXPECT_EQ(b->currentData().toString(), "hardness-rockwell");
}

}  // namespace
}  // namespace fortitor::method_cards_test
