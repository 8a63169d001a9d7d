// A machine's file on the Run stage: read, refused, spread over a series.
#include <QComboBox>
#include <QDragEnterEvent>
#include <QDropEvent>
#include <QMimeData>

#include "core/record/json.h"
#include "tests/app/one_bar.h"

namespace fortitor::import_test {
namespace {

TEST_F(OneBar, BadFilesAreNotImportedAndSayWhy) {
  open_file(write("a.csv", "t,F\ns,kN\n0,1\n1,2\n2,3\n3,drei\n"));
  EXPECT_TRUE(panel_says("line 6, column 2"));
  EXPECT_FALSE(find<QPushButton>("import-keep")->isEnabled());
  open_file(write("b.csv", "nothing of use\n"));
  EXPECT_TRUE(panel_says("No row of numbers"));
  open_file(dir_.path() + "/missing.csv");
  EXPECT_TRUE(panel_says("cannot be opened"));
  open_file(write("c.csv", "t,x\ns,mm\n0,1\n1,2\n2,3\n"));
  EXPECT_FALSE(window_->part<RunStage>()->import_panel()->ready());
  EXPECT_FALSE(record().run.samples());
  EXPECT_TRUE(bench_.book()->runs(id_).empty());
}

TEST_F(OneBar, ADroppedFileIsRead) {
  const QString path =
      write("run.csv", QByteArray::fromStdString(samples_to_csv(*samples_, *methods::find("tension-metal"))));
  window_->part<RunStage>()->show_import(true);
  ImportPanel* panel = window_->part<RunStage>()->import_panel();
  QSignalSpy read(panel, &ImportPanel::read);
  QMimeData mime;
  mime.setUrls({QUrl::fromLocalFile(path)});
  QDragEnterEvent enter(QPoint(50, 50), Qt::CopyAction, &mime, Qt::LeftButton, Qt::NoModifier);
  QApplication::sendEvent(panel, &enter);
  EXPECT_TRUE(enter.isAccepted());
  QDropEvent drop(QPointF(50, 50), Qt::CopyAction, &mime, Qt::LeftButton, Qt::NoModifier);
  QApplication::sendEvent(panel, &drop);
  ASSERT_TRUE(read.wait(20000));
  EXPECT_TRUE(panel->ready());
  // The curve comes beside the window, as a task.
  ASSERT_TRUE(until([&] { return !panel->findChild<FigureView*>()->empty(); }));
  keep("import-keep");
  ASSERT_TRUE(record().run.samples());
  // A second import onto the same piece is refused: raw runs stay.
  window_->show_specimen(id_, int(Stage::run));
  open_file(path);
  EXPECT_FALSE(panel->ready());
  EXPECT_TRUE(panel_says("never changed"));
}

TEST_F(OneBar, AFileOfThreeSpecimensIsSpreadOverTheSeries) {
  Book& book = *bench_.book();
  const auto row = book.specimen(id_);
  TestRecord other = bench_.record();
  other.limits["rm"].min = reading_of(parse_quantity("300 MPa", Dimension::stress).value());
  std::vector<Id> ids = {id_};
  for (const char* code : {"B-2", "B-3", "B-4"}) {
    other.fields.set("specimen.id", std::string(code));
    ids.push_back(*book.add_specimen(row->series, code, other));
  }
  bench_.touch_docket();
  QByteArray text = "Prüfstand 2\n";
  const std::string csv = samples_to_csv(*samples_, *methods::find("tension-metal"));
  for (int k = 1; k <= 3; ++k) text += "\nProbe " + QByteArray::number(k) + "\n" + QByteArray::fromStdString(csv);
  open_file(write("three.csv", text));
  ASSERT_TRUE(panel_says("rows"));
  auto* blocks = find<QComboBox>("import-block");
  ASSERT_EQ(blocks->count(), 3);
  EXPECT_TRUE(blocks->isVisibleTo(window_.get()));
  EXPECT_TRUE(blocks->itemText(1).startsWith("Probe 2 · "));
  EXPECT_TRUE(panel_says(QString::number(samples_->size()) + " rows"));
  QSignalSpy kept(window_->part<RunStage>()->import_panel(), &ImportPanel::imported);
  QTest::mouseClick(find<QPushButton>("import-spread"), Qt::LeftButton);
  ASSERT_TRUE(until([&] { return kept.count() == 1; }));
  for (int i = 0; i < 3; ++i) {
    const auto r = book.record(ids[size_t(i)]);
    ASSERT_TRUE(r);
    ASSERT_TRUE(r->run.samples()) << i;
    EXPECT_EQ(r->run.samples()->size(), samples_->size());
    ASSERT_EQ(book.runs(ids[size_t(i)]).size(), 1u);
  }
  EXPECT_FALSE(book.record(ids[3])->run.samples()) << "three specimens for four pieces";
  EXPECT_TRUE(QTest::qWaitFor([&] { return book.specimen(ids[2])->verdict != "none"; }, 20000))
      << "pieces that are not on the bench are judged too";
  EXPECT_TRUE(book.verify().empty());
}

TEST_F(OneBar, EveryTableOfAFileKeepsItsOwnUnits) {
  Book& book = *bench_.book();
  TestRecord other = bench_.record();
  other.fields.set("specimen.id", std::string("B-2"));
  const Id second = *book.add_specimen(book.specimen(id_)->series, "B-2", other);
  QByteArray text = "Specimen 1\nTime [s];Force [kN];Crosshead [mm]\n";
  for (int i = 0; i < 40; ++i)
    text += QByteArray::number(i) + ";" + QByteArray::number(i) + ";" + QByteArray::number(i) + "\n";
  text += "Specimen 2\nTime [s];Force [N];Crosshead [mm]\n";
  for (int i = 0; i < 40; ++i)
    text += QByteArray::number(i) + ";" + QByteArray::number(900 * i) + ";" + QByteArray::number(i) + "\n";
  const QString path = write("units.csv", text);
  open_file(path);
  // A unit typed by hand says nothing about the other table.
  auto* unit = find<QLineEdit>("import-unit-1");
  unit->setText("lbf");
  QTest::keyClick(unit, Qt::Key_Return);
  QTest::mouseClick(find<QPushButton>("import-spread"), Qt::LeftButton);
  EXPECT_FALSE(book.record(second)->run.samples());
  EXPECT_FALSE(book.record(id_)->run.samples());
  open_file(path);
  keep("import-spread");
  ASSERT_TRUE(book.record(second)->run.samples());
  EXPECT_NEAR(book.record(id_)->run.samples()->find("force")->values.back(), 39000, 1e-9);
  EXPECT_NEAR(book.record(second)->run.samples()->find("force")->values.back(), 35100, 1e-9)
      << "newtons, not kilonewtons";
}

TEST_F(OneBar, AWorkbookOrALatinFileIsReadToo) {
  QByteArray text = "Zeit;Kraft;Dehnung;Bemerkung\n(h:min:s);(kN);(\xB5m/m);\n";
  for (int i = 0; i < 200; ++i)
    text += "0:00:" + QByteArray::number(i / 10).rightJustified(2, '0') + "," + QByteArray::number(i % 10) + ";" +
            QByteArray::number(0.1 * i, 'f', 3).replace('.', ',') + ";" + QByteArray::number(5 * i) + ";" +
            (i == 50 ? "Halt" : "") + "\n";
  open_file(write("latin.txt", text));
  EXPECT_TRUE(panel_says("200 rows, 3 columns, decimal comma, latin-1"));
  EXPECT_TRUE(find<QPushButton>("import-keep")->isEnabled());
  for (const QComboBox* c : window_->part<RunStage>()->import_panel()->findChildren<QComboBox*>()) {
    if (c->property("key") == "import-block") {
      EXPECT_FALSE(c->isVisibleTo(window_.get())) << "one specimen: nothing to choose";
    }
  }
  keep("import-keep");
  ASSERT_TRUE(record().run.samples());
  EXPECT_NEAR(record().run.samples()->find("time")->values.back(), 19.9, 1e-9);
  EXPECT_NEAR(record().run.samples()->find("strain")->values.back(), 995e-6, 1e-12);
}

}  // namespace
}  // namespace fortitor::import_test
