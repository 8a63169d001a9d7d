// Desks by name, and work that goes on beside the window.
#include <QLabel>
#include <QProgressBar>
#include <atomic>
#include <condition_variable>
#include <mutex>

#include "app/frame/task_strip.h"
#include "app/model/task.h"
#include "app/reference/reference_page.h"
#include "app/series/series_page.h"
#include "tests/app/window_fixture.h"

namespace fortitor::desk_test {
namespace {

// Lets work wait until the test says go.
struct Gate {
  std::mutex lock;
  std::condition_variable bell;
  bool open = false;
  void pass() {
    std::unique_lock held(lock);
    bell.wait(held, [&] { return open; });
  }
  void let_go() {
    {
      const std::lock_guard held(lock);
      open = true;
    }
    bell.notify_all();
  }
};

TEST(Tasks, RunFinishAndSaySo) {
  TaskBoard board;
  QObject owner;
  QSignalSpy changed(&board, &TaskBoard::changed);
  bool done = false;
  double seen = -1;
  const TaskPtr task = board.run(
      "Counting", &owner, [](Task& t) { t.set_progress(0.5); },
      [&] {
        done = true;
        seen = task ? 0.5 : 0;
      });
  EXPECT_EQ(board.tasks().size(), 1u);
  ASSERT_TRUE(QTest::qWaitFor([&] { return done; }, 10000));
  EXPECT_EQ(task->progress(), 0.5);
  EXPECT_TRUE(board.tasks().empty());
  EXPECT_EQ(changed.count(), 2);
}

TEST(Tasks, ACancelledOneGivesNoResult) {
  TaskBoard board;
  QObject owner;
  Gate gate;
  bool done = false, cancelled = false;
  const TaskPtr task = board.run(
      "Waiting", &owner, [&](Task&) { gate.pass(); }, [&] { done = true; }, [&] { cancelled = true; });
  board.cancel(task);
  EXPECT_TRUE(task->stopped());
  gate.let_go();
  ASSERT_TRUE(QTest::qWaitFor([&] { return cancelled; }, 10000));
  EXPECT_FALSE(done);
}

TEST(Tasks, AnOwnerThatIsGoneIsNotCalled) {
  TaskBoard board;
  Gate gate;
  bool done = false;
  {
    QObject owner;
    board.run(
        "For nobody", &owner, [&](Task&) { gate.pass(); }, [&] { done = true; });
  }
  gate.let_go();
  ASSERT_TRUE(QTest::qWaitFor([&] { return board.tasks().empty(); }, 10000));
  EXPECT_FALSE(done);
}

TEST(Tasks, TheStripShowsThemAndStopsThem) {
  TaskBoard board;
  TaskStrip strip(&board);
  QObject owner;
  Gate gate;
  bool cancelled = false;
  board.run(
      "Reading a long file", &owner,
      [&](Task& t) {
        t.set_progress(0.25);
        gate.pass();
      },
      [] {}, [&] { cancelled = true; });
  EXPECT_FALSE(strip.isVisible()) << "what is over at once would only flicker";
  ASSERT_TRUE(QTest::qWaitFor([&] { return strip.isVisible(); }, 10000));
  EXPECT_TRUE(strip.findChild<QLabel*>()->text().contains("Reading a long file"));
  QTest::mouseClick(strip.findChild<QPushButton*>(), Qt::LeftButton);
  gate.let_go();
  ASSERT_TRUE(QTest::qWaitFor([&] { return cancelled; }, 10000));
  EXPECT_FALSE(strip.isVisible());
}

class Desks : public WindowTest {};

TEST_F(Desks, AreOpenedByNameAndUnknownOnesAreSaid) {
  window_->open("reference");
  EXPECT_TRUE(window_->part<ReferencePage>()->isVisible());
  window_->open("jobs", 0, 1);
  EXPECT_FALSE(window_->part<ReferencePage>()->isVisible());
  window_->open("bakery");
  EXPECT_TRUE(window_->message().contains("bakery"));
  window_->open("today");
}

}  // namespace
}  // namespace fortitor::desk_test
