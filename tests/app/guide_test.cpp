// The guide in the window: F1 on any page, questions in Find or do.
#include <QListWidget>
#include <QTextBrowser>

#include "app/frame/desk.h"
#include "app/frame/find_box.h"
#include "app/guide/guide_desk.h"
#include "core/methods/method.h"
#include "tests/app/window_fixture.h"

namespace fortitor {
namespace {

class Guide : public WindowTest {
 protected:
  QTextBrowser* page() { return window_->findChild<GuideDesk*>()->findChild<QTextBrowser*>(); }
  QString heading_in_hand() { return page()->textCursor().block().text(); }
};

TEST_F(Guide, F1OpensThePartAboutWhereOneIs) {
  const std::pair<const char*, const char*> wanted[] = {
      {"kit", "The Kit and benches"}, {"plan", "The plan"},     {"slate", "The Slate"},
      {"logbook", "The logbook"},     {"practice", "Practice"}, {"reference", "Reference values"}};
  for (const auto& [desk, heading] : wanted) {
    window_->open(desk);
    QTest::keyClick(window_.get(), Qt::Key_F1);
    EXPECT_EQ(window_->desk_in_hand(), "guide");
    EXPECT_EQ(heading_in_hand(), heading) << desk;
  }
}

TEST_F(Guide, EveryMethodHasItsPageAndEveryPageAHeadAndItsPictures) {
  for (const Method* m : methods::all()) {
    const size_t part = guide_for("specimen", m);
    ASSERT_LT(part, guide_parts().size());
    EXPECT_EQ(guide_parts()[part].page.toStdString(), "methods/" + m->id + ".md");
  }
  QSet<QString> pages;
  for (size_t i = 0; i < guide_parts().size(); ++i) {
    window_->open("guide", 0, int(i));
    EXPECT_EQ(heading_in_hand(), guide_parts()[i].heading);
    pages.insert(guide_parts()[i].page);
    EXPECT_GT(page()->document()->characterCount(), 200);
  }
  EXPECT_GE(pages.size(), 26);
  // Pages name one another; where a link leads there is a page.
  const QRegularExpression link("\\]\\(([a-z/.-]+\\.(?:md|png))");
  for (const QString& name : pages) {
    QFile file(":/guide/" + name);
    ASSERT_TRUE(file.open(QIODevice::ReadOnly));
    auto all = link.globalMatch(QString::fromUtf8(file.readAll()));
    while (all.hasNext()) {
      const QUrl to = QUrl("qrc:/guide/" + name).resolved(QUrl(all.next().captured(1)));
      EXPECT_TRUE(QFile::exists(":" + to.path()) || to.path().contains("decisions"))
          << name.toStdString() << " → " << to.path().toStdString();
    }
  }
}

TEST_F(Guide, AQuestionFindsItsPart) {
  QTest::keyClick(window_.get(), Qt::Key_K, Qt::ControlModifier);
  QTest::keyClicks(QApplication::focusWidget(), "how do I type numbers");
  QTest::keyClick(QApplication::focusWidget(), Qt::Key_Return);
  EXPECT_EQ(window_->desk_in_hand(), "today") << "“type” is not in that heading";
  QTest::keyClick(window_.get(), Qt::Key_Escape);
  QTest::keyClick(window_.get(), Qt::Key_K, Qt::ControlModifier);
  QTest::keyClicks(QApplication::focusWidget(), "typing numbers");
  QTest::keyClick(QApplication::focusWidget(), Qt::Key_Return);
  EXPECT_EQ(window_->desk_in_hand(), "guide");
  EXPECT_EQ(heading_in_hand(), "Typing numbers");
}

}  // namespace
}  // namespace fortitor
