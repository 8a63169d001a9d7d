// Long files are painted by several hands: all of it is there, once, in its order, with what the file says of itself.
#include <QPainter>
#include <QPdfWriter>
#include <QProcess>

#include "report/archive.h"
#include "report/flow.h"
#include "report/page.h"
#include "report/paper.h"
#include "tests/store/filled_book.h"

namespace fortitor::paper_test {
namespace {

QStringList pages_of(const QString& path) {
  QProcess p;
  p.start("pdftotext", {"-layout", path, "-"});
  p.waitForFinished();
  QStringList pages = QString::fromUtf8(p.readAllStandardOutput()).split('\f');
  pages.removeLast();  // a form feed ends each
  return pages;
}

QByteArray bytes_of(const QString& path) {
  QFile f(path);
  return f.open(QIODevice::ReadOnly) ? f.readAll() : QByteArray();
}

TEST(Paper, AThousandSheetsStandInTheirOrder) {
  QTemporaryDir folder;
  const QString path = folder.filePath("long.pdf");
  std::vector<page::Sheet> sheets;
  for (int i = 0; i < 200; ++i) {
    page::Sheet s;
    s.markup = "<h3>SHEET" + std::to_string(i) + "X</h3>";
    // Every ninth comes to more than a page.
    for (int n = 0; n < (i % 9 == 0 ? 90 : 3); ++n) s.markup += "<p>line " + std::to_string(n) + "</p>";
    s.name = "name " + std::to_string(i);
    sheets.push_back(s);
  }
  double last = 0;
  ASSERT_TRUE(page::pdf(sheets, "A long one", path.toStdString(), "seal of it", [&](double share) {
    EXPECT_GE(share, last);
    last = share;
  }));
  EXPECT_EQ(last, 1);
  const QStringList pages = pages_of(path);
  int sheet = -1;
  for (const QString& page : pages) {
    if (page.contains("page 1 of")) ++sheet;
    ASSERT_GE(sheet, 0);
    EXPECT_TRUE(page.contains("name " + QString::number(sheet))) << page.toStdString();
    EXPECT_EQ(page.contains("SHEET" + QString::number(sheet) + "X"), page.contains("page 1 of"));
  }
  EXPECT_EQ(sheet, 199);
  EXPECT_GT(pages.size(), 220);
  EXPECT_TRUE(bytes_of(path).contains("seal of it")) << "what the first hand says of the file is said of all of it";
}

// Several hands or one: the same words on the same pages.
TEST(Paper, HandsChangeNothing) {
  const page::Setup setup{"t", {15, 14, 15, 12}};
  QStringList words[2];
  for (const size_t each : {size_t(1000), size_t(7)}) {
    const auto pdf = page::painted(setup, 50, each, [](QPdfWriter& writer, QPainter& p, size_t from, size_t to) {
      for (size_t i = from; i < to; ++i) {
        if (i > from) writer.newPage();
        p.setFont(QFont("Inter"));
        p.drawText(QPointF(40, 60), "page " + QString::number(i));
      }
    });
    ASSERT_TRUE(pdf) << pdf.error().message;
    QTemporaryDir folder;
    QFile f(folder.filePath("x.pdf"));
    ASSERT_TRUE(f.open(QIODevice::WriteOnly));
    f.write(*pdf);
    f.close();
    words[each == 7] = pages_of(f.fileName());
  }
  EXPECT_EQ(words[0].size(), 50);
  EXPECT_EQ(words[0], words[1]);
}

TEST(Paper, NothingToBindIsSaid) {
  EXPECT_FALSE(bound({}));
  EXPECT_FALSE(bound({"this is no PDF", "nor is this"}));
}

// Pale curves are painted as lines, not as their outlines: a series of three hundred once made a page of 180 MB.
TEST(Paper, PaleCurvesStaySmall) {
  Figure f;
  f.panels.emplace_back();
  for (int k = 0; k < 40; ++k) {
    Trace t;
    t.pale = true;
    for (int i = 0; i < 2000; ++i) {
      t.x.push_back(i);
      t.y.push_back(std::sin(i * 0.01 + k) + 0.05 * std::sin(i * 1.7));
    }
    f.panels.front().traces.push_back(t);
  }
  page::Part part;
  part.sheet.markup = page::kFigure;
  part.sheet.figures = {f};
  const auto pdf = page::flow_pdf({part}, {}, "t");
  ASSERT_TRUE(pdf);
  EXPECT_LT(pdf->size(), 2'000'000) << "some 80,000 points of about 20 letters, packed";
}

}  // namespace
}  // namespace fortitor::paper_test
