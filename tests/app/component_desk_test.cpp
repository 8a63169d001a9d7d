// Components and fatigue points in the real window: a proof load with its questions, points typed and marked.
#include "app/stages/evaluate_stage.h"
#include "tests/app/slow_methods_fixture.h"

namespace fortitor {
namespace {

class ComponentDesk : public SlowMethods {
 protected:
  RunStage* run() { return window_->run_stage(); }
  void press(Qt::Key k) { QTest::keyClick(run(), k); }
};

TEST_F(ComponentDesk, AProofLoadAsksAfterEveryCycle) {
  new_job("proof-load", "RC-01");
  type("specimen.material", "forged rope clamp");
  type("specimen.family", "alloy steel");
  type("specimen.rated", "10 kN");
  type("specimen.proof", "20 kN");
  type("specimen.rule.text", "line order 12: 5 × rated");
  go(2);
  type("specimen.fixture_limit", "15 kN");
  EXPECT_FALSE(bench_.method().plan(record()).blocking.empty()) << "the proof load is above the fixture's limit";
  type("specimen.fixture_limit", "60 kN");
  type("equipment.load_cell.capacity#0", "100 kN");
  settle();
  set_up();
  run()->set_speed(50);
  ASSERT_TRUE(until([&] { return !run()->machine().now.empty(); }));
  press(Qt::Key_T);
  ASSERT_TRUE(until([&] { return run()->machine().obstacle.empty(); }));
  press(Qt::Key_Z);
  ASSERT_TRUE(until([&] { return run()->machine().force_zeroed; }));
  press(Qt::Key_Space);
  for (int cycle = 1; cycle <= 2; ++cycle) {
    ASSERT_TRUE(until([&] { return run()->machine().waits; })) << cycle;
    press(Qt::Key_Space);
    EXPECT_TRUE(run()->machine().waits) << "nothing goes on before it is said";
    EXPECT_TRUE(window_->message().contains("Say first")) << window_->message().toStdString();
    press(Qt::Key_1);
    ASSERT_TRUE(until([&] { return !run()->machine().waits; }));
    EXPECT_EQ(words_of(record().fields.text("specimen.function")).size(), size_t(cycle));
  }
  ASSERT_TRUE(until([&] { return record().run.has_samples() && !run()->running() && bench_.evaluation_current(); }));
  EXPECT_EQ(words_of(record().fields.text("specimen.function")), (std::vector<std::string>{"free", "free"}));
  EXPECT_GT(result("force_max"), 40e3);
  EXPECT_NEAR(result("function_limit"), 20e3, 300);
  EXPECT_NEAR(result("required"), 50e3, 1e-6);
  EXPECT_GT(result("stiffness_2"), 7000);
  go(5);
  EXPECT_FALSE(window_->evaluate_stage()->figure()->empty());
  sign();
}

TEST_F(ComponentDesk, FatiguePointsByKeys) {
  new_job("fatigue-constant", "BW-01");
  type("specimen.material", "bracket weld");
  type("specimen.family", "carbon steel");
  type("specimen.detail_category", "71 MPa");
  set_up();
  // Typed by hand: range, cycles; the last two ran out.
  const std::pair<const char*, const char*> points[] = {{"200", "310000"}, {"200", "290000"}, {"160", "640000"}, {"160", "520000"},
                                                        {"125", "1150000"}, {"125", "1400000"}, {"90", "10000000"}};
  for (const auto& [range, cycles] : points) {
    read(range);
    read(cycles);
  }
  key(Qt::Key_U);
  ASSERT_EQ(record().run.rows("points").size(), 7u);
  EXPECT_TRUE(record().run.rows("points").back().cells.flag("runout"));
  // One more from the stand-in rig, which says when a piece ran out.
  key(Qt::Key_Space);
  ASSERT_FALSE(entry()->text().isEmpty());
  key(Qt::Key_Return);
  key(Qt::Key_Space);
  key(Qt::Key_Return);
  ASSERT_EQ(record().run.rows("points").size(), 8u);
  key(Qt::Key_E);
  ASSERT_TRUE(until([&] { return std::isfinite(result("sn_slope")) && bench_.evaluation_current(); }));
  EXPECT_NEAR(result("sn_slope"), 3, 1.2);
  go(5);
  EXPECT_FALSE(window_->evaluate_stage()->figure()->empty());
  sign();
}

}  // namespace
}  // namespace fortitor
