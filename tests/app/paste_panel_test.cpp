// A table of readings instead of keying them: pasted, or out of a file; the columns can be corrected and are
// remembered.
#include "app/callout/paste_panel.h"

#include <QClipboard>
#include <QFile>

#include "tests/app/window_fixture.h"

namespace fortitor::paste_panel_test {
namespace {

class PasteTable : public WindowTest {
 protected:
  Id piece(const char* method, const char* mark) {
    const Id series = *bench_.book()->add_series(job(), method, method);
    TestRecord record;
    record.method = method;
    const Id id = *bench_.book()->add_specimen(series, mark, record);
    bench_.touch_docket();
    return id;
  }
  Id job() {
    if (job_ == 0) job_ = *bench_.book()->add_job("TC-1", "Frames");
    return job_;
  }
  void paste(const char* text) {
    click("tab-table");
    QApplication::clipboard()->setText(text);
    QTest::keyClick(window_->part<RunStage>()->paste_panel(), Qt::Key_V, Qt::ControlModifier);
  }
  Id job_ = 0;
};

TEST_F(PasteTable, StopsOfABeamComeOutOfASpreadsheet) {
  const Id id = piece("flexure-beam", "AF-1");
  window_->show_specimen(id, int(Stage::run));
  paste("Last (N)\tDurchbiegung (mm)\n100\t0,21\n200\t0,43\n300\t0,65\n");
  EXPECT_EQ(find<QPushButton>("table-keep")->text(), "Keep 3 stops");
  click("table-keep");
  const Rows& rows = record().run.rows(bench_.method().keyed_table()->id);
  ASSERT_EQ(rows.size(), 3u);
  EXPECT_NEAR(rows[2].number(bench_.method().keyed_table()->control->path).value(), 300, 1e-9);
  EXPECT_NEAR(rows[2].number(bench_.method().keyed_table()->columns[0].path).value(), 0.65, 1e-12);
  // They are in the book, and the next ones go behind them.
  EXPECT_EQ(bench_.book()->record(id)->run.rows(bench_.method().keyed_table()->id).size(), 3u);
  paste("400\t0.88\n");
  EXPECT_EQ(find<QPushButton>("table-keep")->text(), "Keep 1 stop behind the 3 there are");
}

TEST_F(PasteTable, WhatTheColumnsAreIsCorrectedAndRemembered) {
  window_->show_specimen(piece("flexure-beam", "AF-1"), int(Stage::run));
  const char* text = "a;b\n100;0.21\n200;0.43\n";
  paste(text);
  EXPECT_FALSE(find<QPushButton>("table-keep")->isEnabled());
  const TableSpec& t = *bench_.method().keyed_table();
  const auto say = [&](const char* key, const std::string& path) {
    auto* box = find<QComboBox>(key);
    box->setCurrentIndex(box->findData(QString::fromStdString(path)));
    emit box->activated(box->currentIndex());
  };
  say("table-is-0", t.control->path);
  say("table-is-1", t.columns[0].path);
  type("table-unit-0", "kN");
  ASSERT_TRUE(find<QPushButton>("table-keep")->isEnabled());
  click("table-keep");
  EXPECT_NEAR(record().run.rows(t.id)[0].number(t.control->path).value(), 100e3, 1e-6);
  window_->show_specimen(piece("flexure-beam", "AF-2"), int(Stage::run));
  paste(text);
  EXPECT_EQ(find<QComboBox>("table-is-0")->currentData().toString().toStdString(), t.control->path);
  EXPECT_EQ(find<QLineEdit>("table-unit-0")->text(), "kN");
  EXPECT_TRUE(find<QPushButton>("table-keep")->isEnabled());
}

TEST_F(PasteTable, APieceOfHardnessReadingsComesOutOfAFile) {
  window_->show_specimen(piece("hardness-rockwell", "HH-1"), int(Stage::run));
  QFile file(dir_.path() + "/readings.txt");
  ASSERT_TRUE(file.open(QIODevice::WriteOnly));
  file.write("62.9\n63.1\n62.7\n");
  file.close();
  window_->part<RunStage>()->show_table();
  auto* panel = window_->part<RunStage>()->paste_panel();
  QSignalSpy read(panel, &PastePanel::read);
  panel->open(file.fileName());
  ASSERT_TRUE(read.count() > 0 || read.wait(60000));
  ASSERT_TRUE(find<QPushButton>("table-keep")->isEnabled());
  click("table-keep");
  EXPECT_EQ(record().run.rows(bench_.method().keyed_table()->id).size(), 3u);
  settle();
}

TEST_F(PasteTable, WhatCannotBeReadKeepsNothing) {
  window_->show_specimen(piece("flexure-beam", "AF-1"), int(Stage::run));
  paste("Load (N)\tDeflection (mm)\n100\t0.21\n200\tlots\n");
  EXPECT_FALSE(find<QPushButton>("table-keep")->isEnabled());
  bool said = false;
  for (const QLabel* l : window_->findChildren<QLabel*>())
    said = said || (l->isVisible() && l->text().contains("Row 2, Deflection"));
  EXPECT_TRUE(said);
  EXPECT_EQ(record().run.row_count(), 0u);
}

}  // namespace
}  // namespace fortitor::paste_panel_test
