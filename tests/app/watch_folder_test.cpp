// A folder of a bench: what the machine's own program writes there is offered for the piece that waits, and a scanned
// label opens its piece.
#include <QFile>

#include "app/frame/find_box.h"
#include "app/model/folder_watch.h"
#include "app/stages/import_panel.h"
#include "tests/app/window_fixture.h"

namespace fortitor::watch_folder_test {
namespace {

class WatchFolder : public WindowTest {
 protected:
  void SetUp() override {
    WindowTest::SetUp();
    job_ = *bench_.book()->add_job("TC-1", "Bolts");
    series_ = *bench_.book()->add_series(job_, "Bars", "tension-metal");
    for (const char* mark : {"B-1", "B-2"}) {
      TestRecord record;
      record.method = "tension-metal";
      if (std::string(mark) == "B-2") record.fields.set("equipment.frame.id", std::string("Frame 100 kN"));
      pieces_.push_back(*bench_.book()->add_specimen(series_, mark, record));
    }
    kit::Item bench = kit::bench_of("Frame 100 kN, bars");
    bench.fields.set("equipment.frame.id", std::string("Frame 100 kN"));
    folder_ = dir_.path() + "/machine";
    ASSERT_TRUE(QDir().mkpath(folder_));
    bench.fields.set("settings.folder", folder_.toStdString());
    kit::Item frame;
    frame.kind = "frame";
    frame.fields.set("equipment.frame.id", std::string("Frame 100 kN"));
    ASSERT_TRUE(bench_.book()->save_item(frame, "made"));
    ASSERT_TRUE(bench_.book()->save_item(bench, "made"));
    bench_.touch_docket();
    look();
  }
  void look() {
    QSignalSpy looked(&window_->folder_watch(), &FolderWatch::looked);
    window_->folder_watch().look();
    ASSERT_TRUE(looked.count() > 0 || looked.wait(60000));
  }
  void write(const QString& name) {
    QFile file(folder_ + "/" + name);
    ASSERT_TRUE(file.open(QIODevice::WriteOnly));
    file.write("Time (s),Load (N),Stroke (mm)\n");
    for (int i = 0; i < 300; ++i)
      file.write(QByteArray::number(0.1 * i) + "," + QByteArray::number(80.0 * i) + "," + QByteArray::number(0.01 * i) +
                 "\n");
  }
  bool offered(const QString& words) {
    QCoreApplication::processEvents();
    for (const QLabel* l : window_->findChildren<QLabel*>())
      if (l->isVisible() && l->text().contains(words)) return true;
    return false;
  }
  Id job_ = 0, series_ = 0;
  std::vector<Id> pieces_;
  QString folder_;
};

TEST_F(WatchFolder, WhatComesInIsOfferedToThePieceOfTheBenchThatWaits) {
  write("run7.csv");
  look();
  EXPECT_FALSE(offered("run7.csv")) << "it may still be written to";
  look();
  ASSERT_TRUE(offered("Frame 100 kN, bars: run7.csv came in"));
  EXPECT_EQ(find<QPushButton>("offer-take")->text(), "As the run of B-2");  // whose record names the frame
  click("offer-take");
  EXPECT_EQ(bench_.specimen(), pieces_[1]);
  auto* panel = window_->part<RunStage>()->import_panel();
  ASSERT_TRUE(until([&] { return panel->ready(); }));
  QSignalSpy imported(panel, &ImportPanel::imported);
  click("import-keep");
  ASSERT_TRUE(imported.count() > 0 || imported.wait(60000));
  EXPECT_TRUE(bench_.book()->record(pieces_[1])->has_run());
  EXPECT_FALSE(offered("came in"));
}

TEST_F(WatchFolder, ThePieceInHandComesFirst) {
  window_->show_specimen(pieces_[0], int(Stage::measure));
  write("a.csv");
  write("b.csv");
  look();
  look();
  ASSERT_TRUE(offered("came in.  1 more after it"));
  EXPECT_EQ(find<QPushButton>("offer-take")->text(), "As the run of B-1");
  click("offer-drop");
  ASSERT_TRUE(offered("b.csv came in."));
  click("offer-drop");
  EXPECT_FALSE(offered("came in"));
}

TEST_F(WatchFolder, AFolderThatIsGoneIsSaidOnceAndTakenUpAgain) {
  ASSERT_TRUE(QDir(folder_).removeRecursively());
  look();
  EXPECT_TRUE(window_->message().contains("not there"));
  window_->bench().say("");
  look();
  EXPECT_FALSE(window_->message().contains("not there"));
  ASSERT_TRUE(QDir().mkpath(folder_));
  look();
  write("late.csv");
  look();
  look();
  EXPECT_TRUE(offered("late.csv came in"));
}

TEST_F(WatchFolder, AScannedLabelOpensItsPiece) {
  for (const char* scan : {"*B-2*", "b-2", "TC-1/B-2", "*TC-1 B-2*"}) {
    window_->show_today();
    QTest::keyClick(window_.get(), Qt::Key_K, Qt::ControlModifier);
    QLineEdit* line = window_->find_box()->line();
    QTest::keyClicks(line, scan);
    QTest::keyClick(line, Qt::Key_Return);
    EXPECT_EQ(bench_.specimen(), pieces_[1]) << scan;
    window_->show_specimen(pieces_[0]);
  }
}

}  // namespace
}  // namespace fortitor::watch_folder_test
