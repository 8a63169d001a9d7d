// One whole bar from the new job to the certificate: once on the stand-in frame, once from a file.
#include <QLabel>
#include <QProcess>
#include <cmath>

#include "app/docket/docket.h"
#include "app/frame/find_box.h"
#include "core/standin/tension_bench.h"
#include "report/export.h"
#include "tests/app/window_fixture.h"

namespace fortitor::whole_bar_test {
namespace {

class WholeBar : public WindowTest {
 protected:
  void new_job() {
    QTest::keyClick(window_.get(), Qt::Key_N, Qt::ControlModifier);
    type("job-code", "TC-099");
    type("job-title", "Test bolts");
    type("job-due", "Friday");
    type("job-series", "Tension, round bar");
    type("job-specimens", "TB-01, TB-02");  // Enter in the last field creates
    ASSERT_TRUE(bench_.has_specimen());
    EXPECT_EQ(record().specimen_id(), "TB-01");
    EXPECT_EQ(bench_.stage(), Stage::prepare);
    settle();
  }

  void prepare() {
    type("specimen.material", "S355J2");
    type("specimen.family", "carbon steel");
    type("conditions.temperature", "70 °F");
    type("limit:reh:min", "355");
    type("limit:rm:min", "490 MPa");
    type("limit:rm:max", "630");
    EXPECT_NEAR(*record().fields.number("conditions.temperature"), 21.11, 0.01);
    EXPECT_DOUBLE_EQ(*record().limits.at("reh").min->value, 355);
  }

  // Readings typed one after the other, Enter to the next, straight onto the drawing.
  void measure(const QStringList& diameters) {
    QTest::keyClick(window_.get(), Qt::Key_2, Qt::AltModifier);
    ASSERT_EQ(bench_.stage(), Stage::measure);
    auto* first = find<ReadingEdit>("specimen.section.diameter#0");
    ASSERT_NE(first, nullptr);
    first->setFocus();
    QStringList readings = diameters;
    readings << "50 mm"
             << "50 mm"
             << "60 mm";
    for (const QString& r : readings) {
      QWidget* here = QApplication::focusWidget();
      ASSERT_NE(qobject_cast<ReadingEdit*>(here), nullptr);
      QTest::keyClicks(here, r);
      QTest::keyClick(here, Qt::Key_Return);
    }
    EXPECT_DOUBLE_EQ(*record().fields.number("specimen.gauge_length"), 50);
    EXPECT_DOUBLE_EQ(*record().fields.number("specimen.parallel_length"), 60);
  }

  void finish_after(const QString& length, const QString& d1, const QString& d2, const QString& to_mark) {
    QTest::keyClick(window_.get(), Qt::Key_5, Qt::AltModifier);
    type("specimen.after.gauge_length#0", length);
    type("specimen.after.diameter#0", d1);
    type("specimen.after.diameter#1", d2);
    type("specimen.after.break_to_mark#0", to_mark);
    click("specimen.after.fracture=cup-and-cone");
    EXPECT_EQ(record().fields.text("specimen.after.fracture"), "cup-and-cone");
  }

  // Answers whatever is open, gives reasons where they are wanted, signs and checks the PDF's text.
  void sign_and_check_pdf() {
    QTest::keyClick(window_.get(), Qt::Key_7, Qt::AltModifier);
    settle();
    for (int guard = 0; guard < 10 && !bench_.evaluation()->open_judgements().empty(); ++guard) {
      const Finding f = *bench_.evaluation()->open_judgements().front();
      const Remedy r = f.remedies.back();
      const auto before = bench_.evaluation();
      click(QString::fromStdString("remedy:" + f.code + ":" + r.id));
      if (r.wants_reason) {
        auto* reason = find<QLineEdit>(QString::fromStdString("reason:" + f.code));
        ASSERT_NE(reason, nullptr);
        QTest::keyClicks(reason, "looked at it again");
        QTest::keyClick(reason, Qt::Key_Return);
      }
      ASSERT_TRUE(until([&] { return bench_.evaluation() != before; }));
      QCoreApplication::processEvents();
    }
    ASSERT_TRUE(bench_.evaluation()->open_judgements().empty());
    ASSERT_TRUE(until([&] { return bench_.evaluation_current(); }));
    QCoreApplication::processEvents();
    click("sign");
    EXPECT_TRUE(bench_.signed_off()) << window_->message().toStdString();
    const QString pdf = dir_.path() + "/certificate.pdf";
    ASSERT_TRUE(window_->part<SignOffStage>()->write_certificate(pdf));
    QProcess p;
    p.start("pdftotext", {"-layout", pdf, "-"});
    p.waitForFinished();
    const QString text = QString::fromUtf8(p.readAllStandardOutput()).simplified();
    const auto e = bench_.evaluation();
    for (const char* key : {"reh", "rm", "a", "z"}) {
      const QString number = QString::fromStdString(reported(*e->find(key), record().fields, UnitSet::si).number);
      EXPECT_TRUE(text.contains(number)) << key << " " << number.toStdString();
    }
    EXPECT_TRUE(text.contains("Signed by"));
    EXPECT_TRUE(text.contains("TB-01"));
    EXPECT_TRUE(text.contains("local codes and licensed practice"));
    EXPECT_TRUE(bench_.book()->verify().empty());
  }
};

TEST_F(WholeBar, OnTheStandInFrame) {
  new_job();
  prepare();
  measure({"10.01", "9,99 mm", "10.00"});
  // Set up: everything as advised, then the checklist; the button says what is missing until then.
  QTest::keyClick(window_.get(), Qt::Key_3, Qt::AltModifier);
  EXPECT_FALSE(find<QPushButton>("setup-start")->isEnabled());
  for (const char* path : {"equipment.load_cell.capacity", "settings.speed.elastic", "settings.speed.plastic",
                           "settings.sampling", "settings.removal_strain", "settings.stop.force"}) {
    click(QString("use:") + path);
    EXPECT_TRUE(record().fields.number(path)) << path;
  }
  type("equipment.frame.stiffness", "45 kN/mm");
  type("equipment.extensometer.range", "12.5 mm");
  for (const char* id : {"glasses", "stand", "hands", "aligned"}) {
    auto* box = find<QCheckBox>(QString("check:") + id);
    ASSERT_NE(box, nullptr);
    box->setFocus();
    QTest::keyClick(box, Qt::Key_Space);
  }
  ASSERT_TRUE(find<QPushButton>("setup-start")->isEnabled());
  click("setup-start");
  ASSERT_EQ(bench_.stage(), Stage::run);

  RunStage* run = window_->part<RunStage>();
  run->set_speed(200);
  auto key = [&](Qt::Key k) { QTest::keyClick(run, k); };
  ASSERT_TRUE(until([&] { return std::isfinite(run->machine().reading("force")); }));
  key(Qt::Key_Space);  // too early: it says why and does not start
  EXPECT_FALSE(run->running());
  EXPECT_FALSE(window_->message().isEmpty());
  key(Qt::Key_T);
  ASSERT_TRUE(until([&] { return run->machine().top_grip; }));
  key(Qt::Key_Z);
  ASSERT_TRUE(until([&] { return run->machine().force_zeroed; }));
  key(Qt::Key_B);
  ASSERT_TRUE(until([&] { return run->machine().bottom_grip; }));
  key(Qt::Key_X);
  ASSERT_TRUE(until([&] { return run->machine().extensometer; }));
  key(Qt::Key_O);
  QSignalSpy ended(run, &RunStage::run_ended);
  key(Qt::Key_Space);
  ASSERT_TRUE(run->running());
  ASSERT_TRUE(until([&] { return run->machine().state == MachineState::holding; }));  // at the planned strain
  key(Qt::Key_E);
  ASSERT_TRUE(until([&] { return !run->machine().extensometer; }));
  key(Qt::Key_Space);
  ASSERT_TRUE(until([&] { return ended.count() > 0; }));
  ASSERT_TRUE(record().run.samples());
  EXPECT_GT(record().run.samples()->size(), 1000u);
  EXPECT_TRUE(std::any_of(record().events.begin(), record().events.end(),
                          [](const Event& e) { return e.kind == "extensometer-removed"; }));
  // What was handled before the start stands in front, in its order: nobody asks later whether zero came before the
  // grip.
  std::vector<std::string> handled;
  for (const Event& e : record().events)
    if (e.at < 0) handled.push_back(e.kind);
  EXPECT_EQ(handled, (std::vector<std::string>{"top-grip-closed", "force-zeroed", "bottom-grip-closed",
                                               "extensometer-mounted", "extension-zeroed"}));
  EXPECT_EQ(bench_.book()->record(bench_.specimen())->events, record().events);
  ASSERT_TRUE(until([&] { return std::isfinite(result("reh")) && std::isfinite(result("at")); }));
  // What is in the book is what was seen.
  EXPECT_EQ(bench_.book()->record(bench_.specimen())->run.samples()->size(), record().run.samples()->size());

  QTest::keyClick(window_.get(), Qt::Key_5, Qt::AltModifier);
  click("caliper");
  ASSERT_TRUE(until([&] { return std::isfinite(result("a")) && std::isfinite(result("z")); }));
  EXPECT_EQ(record().fields.text("specimen.after.fracture"), "cup-and-cone");

  QTest::keyClick(window_.get(), Qt::Key_6, Qt::AltModifier);
  settle();
  EXPECT_NEAR(result("e_modulus"), 208e3, 5e3);
  sign_and_check_pdf();
}

TEST_F(WholeBar, FromAMachinesFile) {
  // A file as some machine writes it: semicolons, decimal comma, its own names and units.
  const TestRecord made = standin::simulate_tension({.seed = 6});
  const QString csv = dir_.path() + "/Versuch 6.csv";
  QFile f(csv);
  ASSERT_TRUE(f.open(QIODevice::WriteOnly));
  QString text = "Prüfstand 2\nZeit;Kraft;Dehnung;Weg\ns;kN;mm;mm\n";
  for (size_t i = 0; i < made.run.samples()->size(); ++i) {
    auto cell = [&](const char* name, double factor) {
      const double v = made.run.samples()->find(name)->values[i] / factor;
      return std::isfinite(v) ? QString::number(v, 'g', 9).replace('.', ',') : QString();
    };
    text +=
        cell("time", 1) + ";" + cell("force", 1000) + ";" + cell("extension", 1) + ";" + cell("crosshead", 1) + "\n";
  }
  f.write(text.toUtf8());
  f.close();

  new_job();
  prepare();
  QStringList diameters;
  for (const Reading& r : made.fields.readings("specimen.section.diameter"))
    diameters << QString::fromStdString(r.typed);
  measure(diameters);
  QTest::keyClick(window_.get(), Qt::Key_4, Qt::AltModifier);
  click("tab-import");
  ImportPanel* panel = window_->part<RunStage>()->import_panel();
  QSignalSpy read(panel, &ImportPanel::read);
  panel->open(csv);
  ASSERT_TRUE(read.wait(20000));
  EXPECT_EQ(find<QComboBox>("import-channel-1")->currentText(), "force");
  EXPECT_EQ(find<QLineEdit>("import-unit-1")->text(), "kN");
  // A wrong unit is a sentence on the preview and no import; put right, it goes on.
  type("import-unit-1", "mm");
  EXPECT_FALSE(find<QPushButton>("import-keep")->isEnabled());
  type("import-unit-1", "kN");
  ASSERT_TRUE(panel->ready());
  click("import-keep");
  ASSERT_TRUE(until([&] { return record().run.samples() != nullptr && bench_.stage() == Stage::after; }));
  ASSERT_TRUE(record().run.samples());
  EXPECT_EQ(record().run.samples()->size(), made.run.samples()->size());
  EXPECT_EQ(bench_.stage(), Stage::after);
  ASSERT_TRUE(until([&] { return std::isfinite(result("rm")); }));
  const Evaluation expected = methods::evaluate(made);
  EXPECT_NEAR(result("rm"), expected.find("rm")->value, 0.01);
  finish_after("63.20 mm", "6.12", "6.15", "24 mm");
  sign_and_check_pdf();

  // The same columns are known the next time.
  window_->show_specimen(bench_.book()->specimens(bench_.book()->series_of(bench_.specimen()).id).at(1).id,
                         int(Stage::run));
  click("tab-import");
  panel->open(csv);
  ASSERT_TRUE(read.wait(20000));
  bool said = false;
  for (const QLabel* l : panel->findChildren<QLabel*>()) said = said || l->text().contains("Mapped as last time");
  EXPECT_TRUE(said);
}

}  // namespace
}  // namespace fortitor::whole_bar_test
