// From a file dropped anywhere in an empty book to its first number and its piece: what a new user does first.
#include "app/arrivals/arrivals_desk.h"

#include <QDragEnterEvent>
#include <QDropEvent>
#include <QFile>
#include <QListWidget>
#include <QMimeData>

#include "app/today/welcome.h"
#include "tests/app/window_fixture.h"

namespace fortitor::arrivals_test {
namespace {

class Arrivals : public WindowTest {
 protected:
  // An elastic line of 200 GPa, then hardening, 300 MPa at the knee on 78.54 mm², read to 400 samples.
  QString write(const char* name, const QByteArray& head, double scale = 1) {
    QFile file(dir_.path() + "/" + name);
    EXPECT_TRUE(file.open(QIODevice::WriteOnly));
    file.write(head + "Time (s),Load (N),Stroke (mm)\n");
    for (int i = 0; i < 400; ++i) {
      const double e = 0.0001 * i, s = e < 0.0015 ? 200e3 * e : 300 + 4000 * (e - 0.0015);
      file.write((QString::number(0.1 * i) + "," + QString::number(scale * s * 78.54, 'f', 3) + "," +
                  QString::number(60 * e, 'f', 6) + "\n")
                     .toUtf8());
    }
    return file.fileName();
  }
  void drop(const QStringList& paths) {
    ArrivalsDesk* desk = window_->part<ArrivalsDesk>();
    QSignalSpy arrived(desk, &ArrivalsDesk::arrived);
    QMimeData mime;
    QList<QUrl> urls;
    for (const QString& p : paths) urls << QUrl::fromLocalFile(p);
    mime.setUrls(urls);
    QDragEnterEvent enter(QPoint(400, 300), Qt::CopyAction, &mime, Qt::LeftButton, Qt::NoModifier);
    QApplication::sendEvent(window_.get(), &enter);
    EXPECT_TRUE(enter.isAccepted());
    QDropEvent event(QPointF(400, 300), Qt::CopyAction, &mime, Qt::LeftButton, Qt::NoModifier);
    QApplication::sendEvent(window_.get(), &event);
    ASSERT_TRUE(arrived.count() > 0 || arrived.wait(60000));
  }
  QStringList list() {
    QStringList out;
    const auto* l = window_->part<ArrivalsDesk>()->findChild<QListWidget*>();
    for (int i = 0; i < l->count(); ++i) out << l->item(i)->text();
    return out;
  }
  void keep() {
    QSignalSpy kept(window_->part<ArrivalsDesk>(), &ArrivalsDesk::kept);
    click("arrivals-keep");
    ASSERT_TRUE(kept.count() > 0 || kept.wait(60000));
  }
};

TEST_F(Arrivals, AnEmptyBookShowsThreeWaysIn) {
  EXPECT_TRUE(window_->findChild<Welcome*>()->isVisible());
  for (const char* key : {"welcome-files", "welcome-job", "welcome-practice"})
    EXPECT_NE(find<QPushButton>(key), nullptr);
  click("welcome-practice");
  EXPECT_EQ(window_->desk_in_hand(), "practice");
}

TEST_F(Arrivals, FromADroppedFileToItsFirstNumberOneFieldIsTyped) {
  drop({write("hb-21.csv", "Tensile test\nOperator,I. Sorg\nDate,2026-11-24\nSpecimen,HB-21\n")});
  EXPECT_EQ(window_->desk_in_hand(), "arrivals");
  ASSERT_EQ(list().size(), 1);
  EXPECT_TRUE(list()[0].contains("its size is wanted")) << list()[0].toStdString();
  type("arrivals-size", "10 mm");
  EXPECT_TRUE(until([&] { return list()[0].startsWith("HB-21\nRm"); })) << list()[0].toStdString();
  keep();
  EXPECT_EQ(window_->desk_in_hand(), "series");
  const auto outline = bench_.book()->outline();
  ASSERT_EQ(outline.size(), 1u);
  ASSERT_EQ(outline[0].series.size(), 1u);
  ASSERT_EQ(outline[0].series[0].specimens.size(), 1u);
  const auto record = bench_.book()->record(outline[0].series[0].specimens[0].id);
  ASSERT_TRUE(record);
  EXPECT_EQ(record->tested_at, "2026-11-24") << "the day of the test, not of the drop";
  EXPECT_EQ(record->operator_name, "I. Sorg");
  EXPECT_EQ(record->specimen_id(), "HB-21");
  ASSERT_TRUE(record->run.samples());
  EXPECT_EQ(record->run.samples()->size(), 400u);
  window_->show_today();
  EXPECT_FALSE(window_->findChild<Welcome*>()->isVisible()) << "the book is not empty any more";
}

TEST_F(Arrivals, EveryFileOfADropIsTakenAndTheOddOneSaysWhy) {
  QStringList paths;
  for (int i = 1; i <= 20; ++i) {
    const QByteArray n = QByteArray::number(i);
    paths << write(("p" + n + ".csv").constData(), "Specimen,P-" + n + "\nDiameter,10.00,mm\n", 1 + 0.01 * i);
  }
  QFile odd(dir_.path() + "/notes.txt");
  ASSERT_TRUE(odd.open(QIODevice::WriteOnly));
  odd.write("buy more wax\n");
  odd.close();
  paths << odd.fileName();
  drop(paths);
  ASSERT_EQ(list().size(), 21);
  EXPECT_TRUE(list()[20].contains("No row of numbers")) << list()[20].toStdString();
  keep();
  EXPECT_EQ(bench_.book()->outline()[0].series[0].specimens.size(), 20u);
  EXPECT_TRUE(window_->message().contains("notes.txt"));
  ASSERT_EQ(list().size(), 1) << "what could not be kept stays, with its reason";
}

TEST_F(Arrivals, WhatIsTypedBadlyGetsASentenceAndNothingIsLost) {
  drop({write("a.csv", "")});
  type("arrivals-size", "ten");
  EXPECT_FALSE(window_->message().isEmpty());
  EXPECT_TRUE(list()[0].contains("its size is wanted"));
  type("arrivals-size", "12.5 x 3 mm");
  EXPECT_TRUE(window_->message().isEmpty());
  EXPECT_TRUE(until([&] { return list()[0].contains("Rm"); }));
}

TEST_F(Arrivals, TwoOfOneMarkAreNotLost) {
  const QByteArray head = "Specimen,HB-3\nDiameter,10.00,mm\n";
  drop({write("a.csv", head), write("b.csv", head, 1.1)});
  keep();
  EXPECT_EQ(bench_.book()->outline()[0].series[0].specimens.size(), 1u);
  ASSERT_EQ(list().size(), 1) << "the second stays";
  EXPECT_TRUE(list()[0].contains("never changed")) << list()[0].toStdString();
  window_->open("arrivals");
  type("arrivals-mark", "HB-4");
  EXPECT_TRUE(list()[0].startsWith("HB-4\nRm")) << list()[0].toStdString();
}

TEST_F(Arrivals, AnotherMethodKeepsWhatWasTyped) {
  drop({write("a.csv", "")});
  type("arrivals-size", "12.5 x 3 mm");
  ASSERT_TRUE(until([&] { return list()[0].contains("Rm"); }));
  auto* method = window_->part<ArrivalsDesk>()->findChild<QComboBox*>();
  for (QComboBox* c : window_->part<ArrivalsDesk>()->findChildren<QComboBox*>())
    if (c->findData("tension-plastic") >= 0) method = c;
  method->setCurrentIndex(method->findData("tension-plastic"));
  QSignalSpy again(window_->part<ArrivalsDesk>(), &ArrivalsDesk::arrived);
  emit method->activated(method->currentIndex());
  ASSERT_TRUE(again.count() > 0 || again.wait(60000));
  EXPECT_FALSE(list()[0].contains("size is wanted")) << list()[0].toStdString();
}

}  // namespace
}  // namespace fortitor::arrivals_test
