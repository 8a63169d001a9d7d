// One whole specimen per slow method, from the new job to the signature, through the real window.
#include <QLabel>

#include "app/figures/figure_view.h"
#include "app/stages/evaluate_stage.h"
#include "tests/app/slow_methods_fixture.h"

namespace fortitor::slow_methods_test {
namespace {

TEST_F(SlowMethods, ABeamByKeysOnly) {
  new_job("flexure-beam");
  type("specimen.species", "ash");
  type("specimen.moisture", "12 %");
  type("specimen.material", "ash");
  type("specimen.family", "hardwood");
  type("limit:mor:min", "60 MPa");
  go(1);
  for (const auto& [path, texts] : {std::pair{"specimen.depth", QStringList{"30.01 mm", "1 3/16 in", "30.00 mm"}},
                                    {"specimen.width", {"40.02", "39.98", "40.00"}}})
    for (int i = 0; i < texts.size(); ++i) type(QString(path) + "#" + QString::number(i), texts[i]);
  type("specimen.span#0", "700 mm");
  set_up();
  ASSERT_TRUE(entry()->hasFocus()) << "the entry has the focus when the sheet opens";
  const double step = *record().fields.number("settings.step");
  const double k = 150;  // N/mm
  auto mm = [&](double load) { return QString::number(load / k, 'f', 2); };
  auto next = [&] { return call_out_of(bench_.method(), record(), bench_.evaluation().get()); };
  for (int i = 0; i < 5; ++i) read(mm(next().control));
  ASSERT_EQ(record().run.rows("stations").size(), 5u);
  EXPECT_TRUE(record().run.open);
  // Already in the book, as typed.
  EXPECT_EQ(bench_.book()->record(bench_.specimen())->run.rows("stations")[4].reading("deflection")->typed,
            (mm(4 * step) + " mm").toStdString());

  key(Qt::Key_M);  // one is missed
  EXPECT_TRUE(record().run.rows("stations")[5].reading("deflection")->missed());
  read(mm(next().control));
  // A wrong reading is called out at once, read again, and the first one stays in the note.
  const double at = next().control;
  read(QString::number(at / k + 1.2, 'f', 2) + " mm");
  ASSERT_TRUE(until([&] { return bench_.evaluation()->finding("reading-off-line") != nullptr; }));
  key(Qt::Key_R);
  EXPECT_TRUE(next().again);
  read(mm(at));
  ASSERT_TRUE(until([&] { return bench_.evaluation()->finding("reading-off-line") == nullptr; }));
  EXPECT_NE(record().run.rows("stations")[7].note.find("first read"), std::string::npos);
  // Words that are no reading are refused in a sentence and stay in the field.
  QTest::keyClicks(entry(), "12 kg");
  key(Qt::Key_Return);
  EXPECT_TRUE(window_->message().contains("length")) << window_->message().toStdString();
  EXPECT_EQ(record().run.rows("stations").size(), 8u);
  entry()->clear();
  // A smaller step on the fly, cracking, a note, a doubt and its withdrawal.
  key(Qt::Key_Down);
  EXPECT_LT(*record().fields.number("settings.step"), step);
  key(Qt::Key_C);
  ASSERT_EQ(record().events.size(), 1u);
  key(Qt::Key_N);
  read("creaks");
  EXPECT_NE(record().run.rows("stations")[7].note.find("creaks"), std::string::npos);
  key(Qt::Key_D);
  EXPECT_TRUE(record().run.rows("stations")[7].doubtful());
  key(Qt::Key_D);
  EXPECT_FALSE(record().run.rows("stations")[7].doubtful());
  for (int i = 0; i < 6; ++i) {
    const double load = next().control;
    read(mm(load * (1 + 0.12 * (i + 1))));
  }
  const double held = *record().run.rows("stations").back().number("force");
  key(Qt::Key_B);
  EXPECT_FALSE(record().run.open);
  EXPECT_EQ(*record().fields.readings("specimen.after.broke_between")[0].value, held);
  go(4);
  click("specimen.after.fracture=splinter");
  go(5);
  ASSERT_TRUE(until([&] { return std::isfinite(result("mor")); }));
  EXPECT_FALSE(bench_.evaluation()->find("mor")->censored->above);
  EXPECT_NEAR(result("stiffness"), k, 3);
  // What if the limit were a stop earlier: shown beside the original, then both are kept.
  const double original = result("pl_force");
  click("alternative-earlier");
  ASSERT_TRUE(until([&] { return result("pl_force") < original; }));
  EXPECT_TRUE(bench_.what_if());
  EXPECT_NEAR(bench_.original()->find("pl_force")->value, original, 1e-9);
  click("alternative-both");
  EXPECT_FALSE(bench_.what_if());
  EXPECT_EQ(record().fields.readings("settings.proportional_limit.what_if").size(), 1u);
  ASSERT_TRUE(until([&] { return std::abs(result("pl_force") - original) < 1e-9; }));
  sign();
}

TEST_F(SlowMethods, ABlockIsWeighedReadingAfterReading) {
  new_job("density");
  type("specimen.material", "larch, block");
  type("specimen.family", "softwood");
  type("specimen.species", "larch");
  go(1);
  for (const auto& [path, size] : {std::pair{"specimen.section.width", "40.00"},
                                   {"specimen.section.thickness", "30.00"},
                                   {"specimen.length", "60.00"}})
    for (int i = 0; i < 3; ++i) type(QString(path) + "#" + QString::number(i), size);
  set_up();
  ASSERT_TRUE(entry()->hasFocus());
  read("43.41");  // bare numbers are grams: that is what stands beside the field
  read("43.40");
  EXPECT_EQ(record().run.rows("readings")[0].reading("mass")->typed, "43.41 g");
  key(Qt::Key_M);
  key(Qt::Key_R);
  read("43.41");
  EXPECT_EQ(record().run.rows("readings")[2].note, "first read missed");
  EXPECT_TRUE(call_out_of(bench_.method(), record(), nullptr).last_done);
  QTest::keyClicks(entry(), "12 mm");  // no mass
  key(Qt::Key_Return);
  EXPECT_TRUE(window_->message().contains("mass"));
  EXPECT_EQ(record().run.row_count(), 3u);
  entry()->clear();
  key(Qt::Key_E);
  EXPECT_FALSE(record().run.open);
  go(4);
  type("specimen.mass_dry", "38.80");
  ASSERT_TRUE(until([&] { return std::isfinite(result("density_12")); }));
  EXPECT_NEAR(result("density"), 43.4067e-3 / 72e-6, 0.01);
  EXPECT_NEAR(result("moisture"), (43.4067 - 38.80) / 38.80, 1e-5);
  go(5);
  EXPECT_FALSE(window_->part<EvaluateStage>()->figure()->empty());
  sign();
}

TEST_F(SlowMethods, AGaugedStripOnTheStandIn) {
  new_job("poisson-gauge");
  type("specimen.material", "Ti-6Al-4V");
  type("specimen.family", "titanium alloy");
  go(1);
  click("caliper");
  set_up();
  for (int guard = 0; guard < 60 && !call_out_of(bench_.method(), record(), nullptr).last_done; ++guard) {
    key(Qt::Key_Space);  // the stand-in goes to the stop and offers what channel one shows
    ASSERT_FALSE(entry()->text().isEmpty());
    key(Qt::Key_Return);
    key(Qt::Key_Space);
    key(Qt::Key_Return);
  }
  key(Qt::Key_E);
  ASSERT_EQ(call_out_of(bench_.method(), record(), nullptr).phase, CallOut::Phase::unloading);
  for (int i = 0; i < 2; ++i) {
    key(Qt::Key_Space);
    key(Qt::Key_Return);
  }
  EXPECT_FALSE(record().run.open);
  EXPECT_TRUE(record().fields.has("run.unload.strain_long") && record().fields.has("run.unload.strain_lat"));
  ASSERT_TRUE(until([&] { return bench_.evaluation()->find("zero_drift_lat") != nullptr; }));
  EXPECT_NEAR(result("nu"), 0.335, 0.02);
  EXPECT_NEAR(result("e_modulus"), 114e3, 5e3);
  sign();
}

TEST_F(SlowMethods, AShaftTwistedOnTheStandIn) {
  new_job("torsion-bar");
  type("specimen.material", "42CrMo4+QT");
  type("specimen.family", "alloy steel");
  go(1);
  click("caliper");
  type("specimen.gauges", "1");
  go(2);
  type("equipment.torque_cell.capacity#0", "500 N·m");
  set_up();
  for (int stop = 0; stop < 60 && record().run.rows("stations").size() < 26; ++stop) {
    if (stop == 20)
      for (int i = 0; i < 4; ++i) key(Qt::Key_Up);  // wider steps once it yields
    for (int channel = 0; channel < 2; ++channel) {
      key(Qt::Key_Space);
      key(entry()->text().isEmpty() ? Qt::Key_M : Qt::Key_Return);
    }
  }
  key(Qt::Key_B);  // fast to failure
  EXPECT_FALSE(record().run.open);
  go(4);
  click("caliper");
  EXPECT_EQ(record().fields.text("specimen.after.fracture"), "flat");
  ASSERT_TRUE(until(
      [&] { return std::isfinite(result("tau_rupture")) && !bench_.evaluation()->find("tau_rupture")->censored; }));
  EXPECT_NEAR(result("g_modulus"), 79.5e3, 2e3);
  EXPECT_GT(result("turns"), 1);
  sign();
}

struct FrameCase {
  const char *method, *material, *family, *result;
  std::vector<std::pair<const char*, const char*>> fields;
};

// By its method in test names, not by its bytes.
void PrintTo(const FrameCase& c, std::ostream* out) {
  *out << c.method;
}

class FrameMethods : public SlowMethods, public testing::WithParamInterface<FrameCase> {};

TEST_P(FrameMethods, AWholePieceOnTheStandIn) {
  const FrameCase& c = GetParam();
  new_job(c.method);
  type("specimen.material", c.material);
  type("specimen.family", c.family);
  for (const auto& [path, text] : c.fields) type(path, text);
  go(1);
  click("caliper");
  set_up();
  RunStage* run = window_->part<RunStage>();
  run->set_speed(400);
  auto machine_key = [&](Qt::Key k) { QTest::keyClick(run, k); };
  ASSERT_TRUE(until([&] { return !run->machine().obstacle.empty(); }));
  machine_key(Qt::Key_T);
  ASSERT_TRUE(until([&] { return run->machine().top_grip; }));
  machine_key(Qt::Key_Z);
  ASSERT_TRUE(until([&] { return run->machine().force_zeroed; }));
  if (!run->machine().bottom_grip) machine_key(Qt::Key_B);
  ASSERT_TRUE(until([&] { return run->machine().obstacle.empty(); }));
  if (record().fields.number("specimen.extensometer_length")) {
    machine_key(Qt::Key_X);
    ASSERT_TRUE(until([&] { return run->machine().extensometer; }));
  }
  QSignalSpy ended(run, &RunStage::run_ended);
  machine_key(Qt::Key_Space);
  ASSERT_TRUE(run->running()) << window_->message().toStdString();
  ASSERT_TRUE(until(
      [&] {
        if (run->machine().state == MachineState::holding) {  // at the planned strain
          if (run->machine().extensometer)
            machine_key(Qt::Key_E);
          else
            machine_key(Qt::Key_Space);
        }
        return ended.count() > 0;
      },
      120000));
  ASSERT_TRUE(record().run.samples());
  go(4);
  auto* caliper = find<QPushButton>("caliper");
  QTest::mouseClick(caliper, Qt::LeftButton);
  ASSERT_TRUE(until([&] { return std::isfinite(result(c.result)); }));
  EXPECT_GT(result(c.result), 0);
  sign();
}

INSTANTIATE_TEST_SUITE_P(
    Slow, FrameMethods,
    testing::Values(
        FrameCase{"tension-plastic", "PA 6, dry", "polymer", "sigma_m", {{"conditions.temperature", "23 °C"}}},
        FrameCase{
            "tension-composite", "CFRP fabric, balanced", "laminate", "e_chord", {{"specimen.layup", "[0/90]3s"}}},
        FrameCase{"flatwise-tension", "foam core", "sandwich", "strength", {{"limit:strength:min", "2 MPa"}}},
        FrameCase{"compression-solid", "larch", "softwood", "strength", {{"specimen.species", "larch"}}},
        FrameCase{"crush-shell", "tube", "aluminium alloy", "peak_force", {{"limit:peak_force:min", "12 kN"}}}),
    [](const auto& p) {
      std::string name = p.param.method;
      std::replace(name.begin(), name.end(), '-', '_');
      return name;
    });

}  // namespace
}  // namespace fortitor::slow_methods_test
