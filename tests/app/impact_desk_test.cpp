// The impact bench in the real window: a whole set struck by keys, marks on blows, the transition on the series page.
#include "app/series/series_page.h"
#include "app/stages/evaluate_stage.h"
#include "tests/app/slow_methods_fixture.h"

namespace fortitor {
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
  for (const auto& [path, size] :
       {std::pair{"specimen.section.width", "10.00"}, {"specimen.section.thickness", "10.01"}, {"specimen.ligament", "8.00"}})
    for (int i = 0; i < 3; ++i) type(QString(path) + "#" + QString::number(i), size);
  go(2);
  type("specimen.available_energy", "300 J");
  type("specimen.striker", "2 mm");
  set_up();
  for (int blow = 0; blow < 3; ++blow) {
    ASSERT_EQ(int(blows().size()), blow);
    key(Qt::Key_Space);  // the stand-in strikes
    ASSERT_FALSE(entry()->text().isEmpty());
    key(Qt::Key_Return);
    key(Qt::Key_Space);
    key(Qt::Key_Return);  // seconds from the bath
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
  EXPECT_FALSE(window_->evaluate_stage()->figure()->empty());
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
  QSignalSpy shown(window_->series_page(), &SeriesPage::shown);
  ASSERT_TRUE(until([&] { return shown.count() > 0; }));
  bool t27 = false;
  for (const QLabel* l : window_->series_page()->findChildren<QLabel*>())
    t27 = t27 || l->text().contains("temperature for 27 J");
  EXPECT_TRUE(t27);
}

}  // namespace
}  // namespace fortitor
