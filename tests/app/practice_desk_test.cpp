// Practice through the real window: a task begun, worked through by hand, debriefed; never signed, never planned.
#include <QSignalSpy>
#include <set>

#include "app/practice/practice_desk.h"
#include "store/book_plan.h"
#include "tests/app/slow_methods_fixture.h"

namespace fortitor::practice_desk_test {
namespace {

class PracticeView : public SlowMethods {
 protected:
  void SetUp() override {
    SlowMethods::SetUp();
    window_->open("practice");
    desk_ = window_->findChild<PracticeDesk*>();
    ASSERT_NE(desk_, nullptr);
  }
  // Takes the record of a whole simulated run over, as the hand would have made it.
  void work_through(const practice::Task& task, uint64_t seed) {
    standin::SimulateOptions o;
    o.method = task.method;
    o.piece = task.piece;
    o.seed = seed;
    o.faults = practice::draw(task, seed);
    const TestRecord made = standin::find_bench(methods::find(task.method)->standin)->simulate(o);
    bench_.edit("worked through", [&](TestRecord& r) {
      const TestRecord begun = r;
      r.fields = made.fields;
      for (const char* path : {"specimen.id", "equipment.standin.practice"})
        r.fields.set(path, begun.fields.text(path));
      r.run = made.run;
    });
    if (made.run.samples()) {
      ASSERT_TRUE(bench_.book()->store_run(bench_.specimen(), *made.run.samples(), "stand-in"));
      bench_.edit("run kept", [&](TestRecord& r) { r.run = made.run; });
    }
  }
  PracticeDesk* desk_ = nullptr;
};

TEST_F(PracticeView, ATaskIsBegunMarkedAndDebriefed) {
  const practice::Task& task = *practice::find("wood-beam");
  click("practice-task-wood-beam");
  click("practice-begin");
  ASSERT_EQ(window_->desk_in_hand(), "specimen");
  EXPECT_TRUE(practice::is_practice(record()));
  EXPECT_EQ(practice::task_of(record()), &task);
  EXPECT_EQ(bench_.book()->job_of(bench_.specimen()).code, practice::kJob);
  const Id piece = bench_.specimen();
  const uint64_t seed = practice::seed_of(record());
  // Neither the piece nor what goes wrong is shown at Run.
  go(int(Stage::run));
  for (QWidget* w : window_->findChildren<QWidget*>())
    if (w->isVisible()) {
      EXPECT_FALSE(w->property("key").toString().startsWith("equipment.standin."))
          << w->property("key").toString().toStdString();
    }
  work_through(task, seed);
  window_->open("practice");
  QSignalSpy debriefed(desk_, &PracticeDesk::debriefed);
  click("practice-debrief");
  ASSERT_TRUE(until([&] { return debriefed.count() > 0; }));
  ASSERT_NE(desk_->shown(), nullptr);
  EXPECT_EQ(desk_->shown()->hidden.size(), practice::draw(task, seed).size());
  EXPECT_FALSE(desk_->shown()->rows.empty());
  // The run lies over its three lines; every dot stands over it, before it or behind it, and its words beside it.
  auto* course = desk_->findChild<CourseView*>();
  ASSERT_NE(course, nullptr);
  ASSERT_EQ(course->curve().frames.size(), 1u);
  const figure::Frame& frame = course->curve().frames[0];
  std::set<int> lanes;
  ASSERT_EQ(course->spots().size(), course->moments().size());
  for (const CourseView::Spot& s : course->spots()) {
    const practice::Moment& m = course->moments()[s.moment];
    lanes.insert(int(m.lane));
    EXPECT_GT(s.dot.y(), frame.top + frame.height) << m.words;
    if (m.when.place == practice::Instant::Place::before) {
      EXPECT_LT(s.dot.x(), frame.left) << m.words;
    } else if (m.when.place == practice::Instant::Place::after) {
      EXPECT_GT(s.dot.x(), frame.left + frame.width) << m.words;
    } else {
      EXPECT_NEAR(frame.data_x(s.dot.x()), m.when.at, 1e-6) << m.words;
    }
    EXPECT_GE(s.words.left(), 0) << m.words;
    EXPECT_LE(s.words.right(), course->width() + 1) << m.words;
    for (const CourseView::Spot& other : course->spots())
      EXPECT_TRUE(&other == &s || !s.words.intersects(other.words))
          << m.words << " over " << course->moments()[other.moment].words;
  }
  EXPECT_EQ(lanes, (std::set<int>{0, 1, 2}));
  bool carded = false;
  for (QPushButton* b : desk_->findChildren<QPushButton*>())
    if (b->property("key").toString() == "practice-task-wood-beam")
      carded = b->text().contains("seen") || b->text().contains("hidden");
  EXPECT_TRUE(carded);
  // Never signed, never on the plan.
  EXPECT_FALSE(bench_.book()->sign_off(piece, bench_.book()->record_version(piece), "{}", "meets"));
  const auto input = agenda_input(*bench_.book(), "2026-11-26", "");
  ASSERT_TRUE(input);
  EXPECT_TRUE(input->pieces.empty());
  window_->show_specimen(piece, int(Stage::sign_off));
  settle();
  auto* sign = find<QPushButton>("sign");
  if (sign != nullptr) {
    EXPECT_FALSE(sign->isEnabled());
  }
  EXPECT_TRUE(window_->docket()->isVisible());
  EXPECT_TRUE(bench_.book()->verify().empty());
}

TEST_F(PracticeView, AgainHidesSomethingElseAndResultsAreThePersons) {
  const practice::Task& task = *practice::find("steel-bar");
  desk_->begin(task, 8);  // nothing hidden
  work_through(task, 8);
  QSignalSpy debriefed(desk_, &PracticeDesk::debriefed);
  window_->open("practice", bench_.specimen());
  ASSERT_TRUE(until([&] { return debriefed.count() > 0; }));
  EXPECT_TRUE(desk_->shown()->hidden.empty());
  EXPECT_EQ(desk_->shown()->off(), 0u);
  desk_->begin(task, 2);
  EXPECT_EQ(record().fields.text("equipment.standin.fault"), "drift,slip");
  EXPECT_EQ(bench_.book()->series(bench_.book()->job_by_code(practice::kJob)->id).size(), 1u);
  // Somebody else has done nothing yet.
  bench_.book()->set_operator("M. Stenn");
  window_->open("practice");
  bool nothing = false;
  for (QLabel* l : desk_->findChildren<QLabel*>())
    nothing = nothing || l->text() == "M. Stenn, 0 of " + QString::number(practice::tasks().size()) + " tasks";
  EXPECT_TRUE(nothing);
}

}  // namespace
}  // namespace fortitor::practice_desk_test
