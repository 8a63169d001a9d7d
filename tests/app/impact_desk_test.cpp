// The impact bench in the real window: a whole set struck by keys, marks on blows, the transition on the series page.
#include <QFile>
#include <QImage>

#include "app/series/series_page.h"
#include "app/stages/evaluate_stage.h"
#include "core/standin/benches.h"
#include "tests/app/slow_methods_fixture.h"

namespace fortitor::impact_desk_test {
namespace {

class ImpactDesk : public SlowMethods {
 protected:
  const Rows& blows() const { return record().run.rows("blows"); }
};

TEST_F(ImpactDesk, ASetOfThreeByKeys) {
  new_job("impact-pendulum");
  type("specimen.material", "S355J2");
  type("specimen.family", "carbon steel");
  type("specimen.temperature", "-20 °C");
  auto* bath = find<QComboBox>("settings.bath");
  ASSERT_NE(bath, nullptr);
  bath->setCurrentIndex(bath->findData("liquid"));
  emit bath->activated(bath->currentIndex());
  go(1);
  for (const auto& [path, size] : {std::pair{"specimen.section.width", "10.00"},
                                   {"specimen.section.thickness", "10.01"},
                                   {"specimen.ligament", "8.00"}})
    for (int i = 0; i < 3; ++i) type(QString(path) + "#" + QString::number(i), size);
  go(2);
  type("specimen.available_energy", "300 J");
  type("specimen.striker", "2 mm");
  set_up();
  for (int blow = 0; blow < 3; ++blow) {
    ASSERT_EQ(int(blows().size()), blow);
    key(Qt::Key_Space);  // out of the bath: the stopwatch runs
    EXPECT_TRUE(entry()->text().isEmpty());
    key(Qt::Key_Space);  // the blow stops it, the stand-in strikes
    ASSERT_FALSE(entry()->text().isEmpty());
    key(Qt::Key_Return);  // the energy, and with it the seconds that were taken
    ASSERT_TRUE(blows()[size_t(blow)].number("from_bath").has_value());
    EXPECT_EQ(blows()[size_t(blow)].reading("from_bath")->typed.substr(3), " s");
    ASSERT_EQ(int(blows().size()), blow + 1);
    EXPECT_EQ(blows()[size_t(blow)].cells.text("piece"), std::to_string(blow + 1));
  }
  EXPECT_TRUE(call_out_of(bench_.method(), record(), nullptr).last_done);
  key(Qt::Key_J);
  EXPECT_TRUE(blows()[2].cells.flag("jammed"));
  ASSERT_TRUE(until([&] { return bench_.evaluation()->finding("jammed") != nullptr; }));
  key(Qt::Key_J);
  EXPECT_FALSE(blows()[2].cells.flag("jammed"));
  key(Qt::Key_U);
  EXPECT_EQ(blows()[2].cells.text("break"), "N");
  ASSERT_TRUE(until([&] { return bench_.evaluation()->finding("not-broken") != nullptr; }));
  key(Qt::Key_U);
  key(Qt::Key_E);
  EXPECT_FALSE(record().run.open);
  ASSERT_TRUE(until([&] { return std::isfinite(result("energy")) && bench_.evaluation_current(); }));
  EXPECT_NEAR(result("energy"), 139, 35);
  go(5);
  EXPECT_FALSE(window_->part<EvaluateStage>()->figure()->empty());
  sign();
}

TEST_F(ImpactDesk, ASeriesOfSetsShowsItsTransition) {
  new_job("impact-pendulum", "X-01 X-02 X-03 X-04 X-05 X-06 X-07");
  const Id series = bench_.book()->series_of(bench_.specimen()).id;
  double t = -90;
  for (const SpecimenRow& s : bench_.book()->specimens(series)) {
    standin::SimulateOptions o;
    o.method = "impact-pendulum";
    o.seed = 7;
    o.temperature = t;
    t += 20;
    TestRecord r = standin::find_bench("pendulum-bench")->simulate(o);
    r.fields.set("specimen.id", s.code);
    ASSERT_TRUE(bench_.book()->save_record(s.id, 0, r, {}, "struck"));
  }
  window_->show_series(series);
  QSignalSpy shown(window_->part<SeriesPage>(), &SeriesPage::shown);
  ASSERT_TRUE(until([&] { return shown.count() > 0; }));
  bool t27 = false;
  for (const QLabel* l : window_->part<SeriesPage>()->findChildren<QLabel*>())
    t27 = t27 || l->text().contains("temperature for 27 J");
  EXPECT_TRUE(t27);
}

TEST_F(ImpactDesk, TheHalvesAreTurnedByKeys) {
  new_job("impact-pendulum");
  type("specimen.material", "S355J2");
  type("specimen.family", "carbon steel");
  type("specimen.temperature", "20 °C");
  go(1);
  type("specimen.ligament#0", "8.00");
  go(2);
  auto* looks = find<QComboBox>("settings.looks");
  ASSERT_NE(looks, nullptr);
  looks->setCurrentIndex(looks->findData("yes"));
  emit looks->activated(looks->currentIndex());
  type("specimen.available_energy", "300 J");
  set_up();
  read("120 J");
  key(Qt::Key_Right);  // the dull rim, in steps of five
  key(Qt::Key_Right);
  key(Qt::Key_Return);
  key(Qt::Key_Left);
  key(Qt::Key_Return);
  for (int i = 0; i < 3; ++i) QTest::keyClick(entry(), Qt::Key_Left, Qt::ShiftModifier);
  key(Qt::Key_Return);
  const Row& blow = blows().at(0);
  EXPECT_EQ(blow.reading("shear")->typed, "60 %");
  EXPECT_EQ(blow.reading("lateral_expansion")->typed, "0.95 mm");
  EXPECT_EQ(blow.reading("bend_angle")->typed, "135 deg");
  EXPECT_TRUE(call_out_of(bench_.method(), record(), nullptr).row == 1);
}

class PlateDesk : public SlowMethods {
 protected:
  RunStage* run() { return window_->part<RunStage>(); }
  void press(Qt::Key k) { QTest::keyClick(run(), k); }
  SketchPad* pad() {
    for (SketchPad* p : window_->findChildren<SketchPad*>())
      if (p->isVisible()) return p;
    ADD_FAILURE() << "no drawing";
    return nullptr;
  }
  void strike() {
    go(3);
    run()->set_speed(50);
    ASSERT_TRUE(until([&] { return !run()->machine().now.empty(); }));
    for (Qt::Key k : {Qt::Key_C, Qt::Key_R}) {
      const auto before = run()->machine().obstacle;
      press(k);
      ASSERT_TRUE(until([&] { return run()->machine().obstacle != before; })) << k;
    }
    press(Qt::Key_Z);
    ASSERT_TRUE(until([&] { return run()->machine().force_zeroed; }));
    press(Qt::Key_Space);
    ASSERT_TRUE(until([&] { return record().run.has_samples() && !run()->running() && bench_.evaluation_current(); }));
  }
};

TEST_F(PlateDesk, APlateIsStruckDrawnAndPrinted) {
  new_job("drop-impact", "PL-01");
  type("specimen.material", "CFRP quasi-isotropic");
  go(1);
  for (int i = 0; i < 4; ++i) type("specimen.thickness#" + QString::number(i), "4." + QString::number(19 + i));
  type("specimen.energy_per_thickness", "6.7");
  go(2);
  type("equipment.load_cell.capacity", "20 kN");
  click("use:specimen.mass");
  settle();
  set_up();
  strike();
  EXPECT_NEAR(result("energy_impact"), 28, 1.5);
  EXPECT_NEAR(result("contact_time"), 0.01, 0.004);
  go(4);
  type("specimen.v_impact", "3.18");
  EXPECT_NEAR(*record().fields.number("specimen.v_impact"), 3180, 1e-6);
  type("specimen.damage.dent#0", "0.22");
  type("specimen.damage.dent_after#0", "5 min");
  // A stroke over the front, then what it is, then sizes from the drawing.
  SketchPad* plate = pad();
  ASSERT_NE(plate, nullptr);
  const QPoint from(120, 90), to(190, 130);
  QTest::mousePress(plate, Qt::LeftButton, {}, from);
  QTest::mouseMove(plate, to);
  QTest::mouseRelease(plate, Qt::LeftButton, {}, to);
  ASSERT_EQ(record().run.rows("drawn").size(), 1u);
  EXPECT_EQ(record().run.rows("drawn")[0].cells.text("kind"), "delamination");
  QTest::keyClick(plate, Qt::Key_S);
  EXPECT_EQ(record().run.rows("drawn")[0].cells.text("kind"), "split");
  const double x = *record().run.rows("drawn")[0].number("x");
  QTest::keyClick(plate, Qt::Key_Right, Qt::ShiftModifier);
  EXPECT_NEAR(*record().run.rows("drawn")[0].number("x"), x + 5, 1e-9);
  QTest::keyClick(plate, Qt::Key_N);
  ASSERT_EQ(record().run.rows("drawn").size(), 2u);
  QTest::keyClick(plate, Qt::Key_T);
  EXPECT_EQ(record().run.rows("drawn")[1].cells.text("face"), "back");
  QTest::keyClick(plate, Qt::Key_M);
  EXPECT_TRUE(record().fields.number("specimen.damage.length_front").has_value());
  EXPECT_NEAR(*record().fields.number("specimen.damage.length_back"), 10, 1e-9);
  QTest::keyClick(plate, Qt::Key_Delete);
  EXPECT_EQ(record().run.rows("drawn").size(), 1u);
  QTest::keyClick(window_.get(), Qt::Key_Z, Qt::ControlModifier);
  EXPECT_EQ(record().run.rows("drawn").size(), 2u) << "undone";
  EXPECT_EQ(words_of(record().fields.text("specimen.damage.kinds")),
            (std::vector<std::string>{"delamination", "split"}));
  click("word-dent");
  EXPECT_EQ(words_of(record().fields.text("specimen.damage.kinds")).size(), 3u);
  auto* caught = find<QComboBox>("specimen.rebound_caught");
  ASSERT_NE(caught, nullptr);
  caught->setCurrentIndex(1);
  emit caught->activated(1);
  // A photograph goes with the record; a file that is none is refused with a sentence.
  FieldEdit* photo = nullptr;
  for (FieldEdit* e : window_->findChildren<FieldEdit*>())
    if (e->field().path == "specimen.damage.photo" && e->isVisibleTo(window_.get())) photo = e;
  ASSERT_NE(photo, nullptr);
  photo->attach(dir_.path() + "/b.fortitor");
  EXPECT_TRUE(window_->message().contains("no picture")) << window_->message().toStdString();
  QImage picture(3000, 1500, QImage::Format_RGB32);
  picture.fill(QColor("#506070"));
  ASSERT_TRUE(picture.save(dir_.path() + "/front.png"));
  photo->attach(dir_.path() + "/front.png");
  EXPECT_EQ(record().fields.text("specimen.damage.photo").rfind("data:image/jpeg;base64,", 0), 0u);
  EXPECT_LT(record().fields.text("specimen.damage.photo").size(), 200000u);
  settle();
  go(5);
  sign();
  ASSERT_TRUE(window_->part<SignOffStage>()->write_certificate(dir_.path() + "/c.html"));
  QFile html(dir_.path() + "/c.html");
  ASSERT_TRUE(html.open(QIODevice::ReadOnly));
  const QByteArray text = html.readAll();
  EXPECT_TRUE(text.contains("damage drawn on the plate"));
  EXPECT_TRUE(text.contains("data:image/jpeg"));
}

TEST_F(PlateDesk, CompressionIsAlignedWhileItHoldsAndShowsItsImpact) {
  // The plate's impact lies in the book already.
  new_job("drop-impact", "PL-07");
  {
    standin::SimulateOptions o;
    o.seed = 7;
    TestRecord r = standin::drop_tower().simulate(o);
    r.method = "drop-impact";
    r.fields.set("specimen.id", std::string("PL-07"));
    r.job = "TC-090";
    const SamplesPtr samples = r.run.samples();
    r.run.segments.clear();
    ASSERT_TRUE(bench_.book()->save_record(bench_.specimen(), 0, r, {}, "struck"));
    bench_.select(bench_.specimen());
    ASSERT_EQ(import_run(bench_.specimen(), samples, "tower"), "");
  }
  const auto series =
      bench_.book()->add_series(bench_.book()->job_of(bench_.specimen()).id, "Compression", "compression-after-impact");
  ASSERT_TRUE(series) << series.error().message;
  TestRecord fresh;
  fresh.method = "compression-after-impact";
  fresh.job = "TC-090";
  fresh.series = "Compression";
  fresh.fields.set("specimen.id", std::string("PL-07"));
  const auto plate = bench_.book()->add_specimen(*series, "PL-07", fresh);
  ASSERT_TRUE(plate);
  bench_.select(*plate);
  settle();
  go(0);
  type("specimen.material", "CFRP quasi-isotropic");
  type("specimen.impact", "PL-07");
  type("specimen.undamaged", "390 MPa");
  go(1);
  for (int i = 0; i < 3; ++i) type("specimen.width#" + QString::number(i), "100.0" + QString::number(i + 1));
  for (int i = 0; i < 3; ++i) type("specimen.thickness#" + QString::number(i), "4." + QString::number(19 + i));
  go(2);
  type("equipment.load_cell.capacity#0", "250 kN");
  settle();
  set_up();
  auto* fault = find<QComboBox>("equipment.standin.fault");
  ASSERT_NE(fault, nullptr);
  fault->setCurrentIndex(fault->findData("askew"));
  emit fault->activated(fault->currentIndex());
  settle();
  run()->set_speed(50);
  ASSERT_TRUE(until([&] { return !run()->machine().now.empty(); }));
  press(Qt::Key_Z);
  ASSERT_TRUE(until([&] { return run()->machine().force_zeroed; }));
  press(Qt::Key_T);
  ASSERT_TRUE(until([&] { return run()->machine().obstacle.empty(); })) << run()->machine().obstacle;
  press(Qt::Key_Space);
  ASSERT_TRUE(until([&] { return run()->machine().waits; }));
  // Held at 450 N: the Watch says which screw, the keys turn it.
  ASSERT_TRUE(until([&] { return bench_.evaluation() && bench_.evaluation()->finding("align-again") != nullptr; }));
  EXPECT_NE(bench_.evaluation()->finding("align-again")->message.find("front screw out"), std::string::npos);
  for (int i = 0; i < 8; ++i) press(Qt::Key_1);
  for (int i = 0; i < 5; ++i) press(Qt::Key_3);
  ASSERT_TRUE(until([&] { return bench_.evaluation()->finding("align-again") == nullptr; }));
  press(Qt::Key_Space);
  ASSERT_TRUE(until([&] { return record().run.has_samples() && !run()->running() && bench_.evaluation_current(); }));
  EXPECT_LT(result("bending_seating"), 10);
  EXPECT_GT(result("cai_strength"), 120);
  go(4);
  click("specimen.failure=damage");
  settle();
  sign();
  ASSERT_TRUE(window_->part<SignOffStage>()->write_certificate(dir_.path() + "/cai.html"));
  QFile html(dir_.path() + "/cai.html");
  ASSERT_TRUE(html.open(QIODevice::ReadOnly));
  const QByteArray text = html.readAll();
  EXPECT_TRUE(text.contains("Drop-weight impact of plates of the same piece, PL-07"));
  EXPECT_TRUE(text.contains("absorbed energy"));
}

}  // namespace
}  // namespace fortitor::impact_desk_test
