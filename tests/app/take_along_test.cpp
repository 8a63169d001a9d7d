// What pages draw by themselves is copied and saved like any figure.
#include "app/figures/take_along.h"

#include <gtest/gtest.h>

#include <QApplication>
#include <QClipboard>
#include <QFile>
#include <QLabel>
#include <QTemporaryDir>

#include "report/export.h"
#include "tests/app/demo_book_copy.h"
#include "tests/app/window_fixture.h"

namespace fortitor::take_along_test {
namespace {

TEST(TakeAlong, IsWrittenByItsEndingAndOverNothing) {
  QLabel drawn("A drawing");
  drawn.resize(200, 80);
  const TakeAlong take(&drawn, "Drawing", [] { return std::string("a,b\n1,2\n"); });
  QTemporaryDir folder;
  const auto head = [&](const char* ending) {
    const QString path = folder.filePath(QString("x.") + ending);
    EXPECT_TRUE(take.save(path)) << ending;
    EXPECT_FALSE(take.save(path)) << "written over: " << ending;
    QFile file(path);
    EXPECT_TRUE(file.open(QIODevice::ReadOnly));
    return file.readAll();
  };
  EXPECT_EQ(head("csv"), "a,b\n1,2\n");
  EXPECT_TRUE(head("png").startsWith("\x89PNG"));
  EXPECT_TRUE(head("pdf").startsWith("%PDF"));
  EXPECT_TRUE(head("svg").contains("<svg"));
  EXPECT_FALSE(take.save(folder.filePath("x.doc")));
  take.copy_picture();
  EXPECT_EQ(QApplication::clipboard()->image().size(), QSize(400, 160));
  take.copy_data();
  EXPECT_EQ(QApplication::clipboard()->text(), "a,b\n1,2\n");
}

TEST(TakeAlong, CellsAreQuotedWhereTheyMustBe) {
  EXPECT_EQ(csv_cell("LC-50"), "LC-50");
  EXPECT_EQ(csv_cell("a, b"), "\"a, b\"");
  EXPECT_EQ(csv_cell("5\" bar"), "\"5\"\" bar\"");
}

class TakePages : public WindowTest {
 protected:
  void lay_out_book(const QString& path) override { ASSERT_EQ(copy_demo_book(path), ""); }
  std::vector<QString> data() {
    std::vector<QString> out;
    QCoreApplication::processEvents();
    for (const TakeAlong* t : window_->findChildren<TakeAlong*>()) {
      const auto* drawn = qobject_cast<QWidget*>(t->parent());
      if (drawn == nullptr || !drawn->isVisible()) continue;
      t->copy_data();
      out.push_back(QApplication::clipboard()->text());
    }
    return out;
  }
};

TEST_F(TakePages, KitReferenceAndPlanGiveTheirData) {
  window_->open("kit");
  const auto kit = data();
  ASSERT_EQ(kit.size(), 1u);
  EXPECT_TRUE(kit[0].startsWith("name,kind,calibrated,due,state\n"));
  EXPECT_TRUE(kit[0].contains("LC-50,Load cell,"));
  window_->open("reference");
  const auto values = data();
  ASSERT_EQ(values.size(), 1u);
  EXPECT_TRUE(values[0].startsWith("material,family,source,"));
  const auto lines = values[0].split('\n', Qt::SkipEmptyParts);
  ASSERT_GT(lines.size(), 3);
  window_->open("plan");
  ASSERT_TRUE(until([&] { return !data().empty() && data()[0].count('\n') > 3; }));
  EXPECT_TRUE(data()[0].startsWith("piece,step,on,from,to\n"));
}

}  // namespace
}  // namespace fortitor::take_along_test
