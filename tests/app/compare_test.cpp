// Curves of other pieces under the one in hand.
#include "app/stages/compare.h"

#include "app/stages/evaluate_stage.h"
#include "core/standin/tension_bench.h"
#include "tests/app/window_fixture.h"

namespace fortitor::compare_test {
namespace {

class CompareTest : public WindowTest {
 protected:
  void SetUp() override {
    WindowTest::SetUp();
    const Id job = *bench_.book()->add_job("TC-1", "Bolts");
    const Id series = *bench_.book()->add_series(job, "Bars", "tension-metal");
    const Id other = *bench_.book()->add_series(job, "Old bars", "tension-metal");
    for (int i = 0; i < 4; ++i) {
      const TestRecord made = standin::simulate_tension({.seed = uint64_t(i + 3)});
      const Id piece = *bench_.book()->add_specimen(i < 3 ? series : other, "B-" + std::to_string(i + 1), made);
      ASSERT_TRUE(bench_.book()->store_run(piece, *made.run.samples(), "bench"));
      ASSERT_TRUE(bench_.book()->save_record(piece, 0, made, {"2222200", "none", 0}, "made"));
      pieces_.push_back(piece);
    }
    bench_.touch_docket();
    window_->show_specimen(pieces_[0], int(Stage::evaluate));
    settle();
  }
  std::vector<QString> shown() {
    std::vector<QString> out;
    QTest::qWait(0);
    for (const figure::Shape& s : stage().figure()->layout_shown().shapes)
      if (s.text.starts_with("B-")) out.push_back(QString::fromStdString(s.text));
    return out;
  }
  EvaluateStage& stage() { return *window_->part<EvaluateStage>(); }
  QMenu& menu() {
    QMenu* m = find<QPushButton>("compare")->menu();
    emit m->aboutToShow();
    return *m;
  }
  void choose(const QString& entry) {
    for (QAction* a : menu().actions())
      if (a->text() == entry) return a->trigger();
    FAIL() << entry.toStdString();
  }
  std::vector<Id> pieces_;
};

TEST_F(CompareTest, PiecesOfTheSeriesAreLaidBeneathAndTakenAway) {
  choose("B-2");
  ASSERT_TRUE(until([&] { return !shown().empty(); }));
  EXPECT_EQ(shown().front(), "B-2");
  choose("B-2");
  EXPECT_TRUE(shown().empty());
  choose("The whole series");
  ASSERT_TRUE(until([&] { return shown().size() >= 2; }));
  // The numbers are those of the piece in hand all the same.
  EXPECT_EQ(bench_.evaluation()->specimen, "B-1");
  choose("None");
  EXPECT_TRUE(shown().empty());
}

TEST_F(CompareTest, APieceOfAnotherSeriesIsFoundByItsMark) {
  EXPECT_FALSE(stage().compare().take_mark("B-9"));
  EXPECT_TRUE(window_->message().contains("B-9"));
  EXPECT_TRUE(stage().compare().take_mark("b-4"));
  ASSERT_TRUE(until([&] { return !shown().empty(); }));
  EXPECT_EQ(shown().front(), "B-4");
}

TEST_F(CompareTest, AnotherPieceOnTheBenchBeginsWithNothingBeneath) {
  choose("B-3");
  ASSERT_TRUE(until([&] { return !shown().empty(); }));
  window_->show_specimen(pieces_[1], int(Stage::evaluate));
  settle();
  EXPECT_TRUE(shown().empty());
}

}  // namespace
}  // namespace fortitor::compare_test
