// The book in the window: its logbook, copies of it, bundles, and what happens when its file is taken away.
#include <QDir>
#include <QFile>
#include <QFrame>
#include <QLabel>

#include <QComboBox>
#include <QLineEdit>
#include <QSignalSpy>
#include "app/frame/find_box.h"

#include "app/logbook/log_view.h"
#include "app/logbook/logbook_page.h"
#include "app/today/jobs_page.h"
#include "core/evaluation/evaluation_json.h"
#include "core/standin/tension_bench.h"
#include "tests/app/window_fixture.h"

namespace fortitor::book_desk_test {
namespace {

class BookDesk : public WindowTest {
 protected:
  void SetUp() override {
    WindowTest::SetUp();
    Book& b = *bench_.book();
    const auto job = b.add_job("TC-070", "Clamps of line 2");
    const auto series = b.add_series(*job, "Bars", "tension-metal");
    const TestRecord made = standin::simulate_tension({.seed = 3});
    TestRecord empty = made;
    empty.run = {};
    id_ = *b.add_specimen(*series, "CL-1", empty);
    ASSERT_TRUE(b.store_run(id_, *made.run.samples(), "file cl-1.csv"));
    ASSERT_TRUE(b.save_record(id_, 0, made, {}, "imported"));
    bench_.touch_docket();
  }
  template <class P>
  P* page() {
    for (P* p : window_->findChildren<P*>()) return p;
    return nullptr;
  }
  QFrame* lost_strip() {
    for (QFrame* f : window_->findChildren<QFrame*>())
      if (f->accessibleName() == "The book's file is gone") return f;
    return nullptr;
  }
  Id id_ = 0;
};

TEST_F(BookDesk, TheLogbookShowsItsLinesAndTheEndOfItsChain) {
  window_->open("logbook");
  auto* log = page<LogbookPage>();
  ASSERT_NE(log, nullptr);
  ASSERT_TRUE(log->isVisible());
  const ChainHead head = bench_.book()->head();
  EXPECT_EQ(log->head(), QString::fromStdString(head.hash));
  const size_t all = log->view()->lines().size();
  EXPECT_GE(all, 5u);
  EXPECT_EQ(log->view()->lines()[0].what, "imported") << "the newest first";
  EXPECT_EQ(log->view()->lines().back().what, "book begun");
  type("logbook-filter", "run stored");
  ASSERT_EQ(log->view()->lines().size(), 1u);
  EXPECT_EQ(log->view()->lines()[0].specimen, "CL-1");
  type("logbook-filter", "nobody");
  EXPECT_TRUE(log->view()->lines().empty());
  find<QLineEdit>("logbook-filter")->clear();
  EXPECT_EQ(log->view()->lines().size(), all);
  // A line is drawn on its link of the chain; without any the view says so.
  const QImage full = log->view()->grab().toImage();
  type("logbook-filter", "nobody");
  EXPECT_NE(log->view()->grab().toImage(), full);
}

TEST_F(BookDesk, TheLogbookIsAskedAndPrinted) {
  // Something that changes from what to what.
  window_->show_specimen(id_, int(Stage::prepare));
  settle();
  bench_.edit("lot typed", [](TestRecord& r) { r.fields.set("specimen.lot", std::string("L-7")); });
  bench_.edit("lot typed", [](TestRecord& r) { r.fields.set("specimen.lot", std::string("L-8")); });
  auto* log = page<LogbookPage>();
  QSignalSpy walked(log, &LogbookPage::walked);
  window_->open("logbook");
  ASSERT_TRUE(until([&] { return walked.count() > 0; }));
  EXPECT_TRUE(log->chain_words().startsWith("✓ every link holds")) << log->chain_words().toStdString();
  EXPECT_TRUE(QString::fromStdString(log->view()->lines()[0].detail).contains("L-7 → L-8"))
      << log->view()->lines()[0].detail;
  const size_t all = log->view()->lines().size();
  auto* who = find<QComboBox>("logbook-who");
  ASSERT_GE(who->findData("R. Vale"), 0);
  who->setCurrentIndex(who->findData("R. Vale"));
  emit who->activated(who->currentIndex());
  EXPECT_LE(log->view()->lines().size(), all);
  for (const LogEntry& e : log->view()->lines()) EXPECT_EQ(e.who, "R. Vale");
  auto* job = find<QComboBox>("logbook-job");
  job->setCurrentIndex(1);
  emit job->activated(1);
  EXPECT_GT(log->view()->lines().size(), 0u);
  EXPECT_LT(log->view()->lines().size(), all);
  job->setCurrentIndex(0);
  emit job->activated(0);
  type("logbook-day", "yesterday");
  EXPECT_TRUE(log->view()->lines().empty());
  type("logbook-day", "today");
  EXPECT_GT(log->view()->lines().size(), 0u);
  type("logbook-day", "someday");
  EXPECT_FALSE(window_->message().isEmpty());
  find<QLineEdit>("logbook-day")->clear();
  const QString path = dir_.path() + "/log.html";
  ASSERT_TRUE(log->print_to(path));
  QFile f(path);
  ASSERT_TRUE(f.open(QIODevice::ReadOnly));
  const QString text = QString::fromUtf8(f.readAll());
  EXPECT_TRUE(text.contains("L-7 → L-8"));
  EXPECT_TRUE(text.contains(QString::fromStdString(bench_.book()->head().hash)));
  EXPECT_FALSE(log->print_to(path)) << "nothing is written over";
  EXPECT_TRUE(log->print_to(dir_.path() + "/log.pdf"));
}

TEST_F(BookDesk, TheWholeBookIsCheckedOnSight) {
  window_->open("logbook");
  click("logbook-check");
  ASSERT_TRUE(until([&] { return window_->message().contains("sound"); })) << window_->message().toStdString();
  EXPECT_TRUE(window_->message().contains("chain"));
}

TEST_F(BookDesk, AFileThatIsGoneIsSaidWithinASecondAndTheBookGoesOnElsewhere) {
  window_->show_specimen(id_, int(Stage::measure));
  settle();
  QFrame* strip = lost_strip();
  ASSERT_NE(strip, nullptr);
  EXPECT_FALSE(strip->isVisible());
  QSignalSpy lost(&bench_, &Workbench::book_lost);
  ASSERT_TRUE(QFile::remove(dir_.path() + "/b.fortitor"));
  ASSERT_TRUE(until([&] { return lost.count() == 1; }));
  EXPECT_TRUE(strip->isVisible());
  EXPECT_TRUE(strip->findChild<QLabel*>()->text().contains("gone"));

  // What is typed now cannot be written, and is kept here.
  bench_.edit("note", [](TestRecord& r) { r.fields.set("specimen.note", std::string("typed while it was gone")); });
  EXPECT_TRUE(window_->message().contains("kept here")) << window_->message().toStdString();
  EXPECT_FALSE(bench_.sign()) << "nothing is signed that is not stored";
  const QString other = dir_.path() + "/elsewhere.fortitor";
  const auto moved = bench_.move_book(other);
  ASSERT_TRUE(moved) << moved.error().message;
  EXPECT_FALSE(strip->isVisible());
  EXPECT_EQ(bench_.book()->path(), other.toStdString());
  EXPECT_EQ(bench_.book()->record(id_)->fields.text("specimen.note"), "typed while it was gone");
  EXPECT_TRUE(bench_.book()->verify().empty());
  EXPECT_FALSE(bench_.move_book(other)) << "never over a file";
}

TEST_F(BookDesk, AJobGoesOutAsABundleAndComesIn) {
  window_->show_jobs();
  auto* jobs = page<JobsPage>();
  const QString path = dir_.path() + "/TC-070.fortitor-bundle";
  jobs->write_bundle_of("TC-070", path);
  ASSERT_TRUE(until([&] { return window_->message().contains("written"); })) << window_->message().toStdString();
  EXPECT_TRUE(QFile::exists(path));
  jobs->write_bundle_of("TC-070", path);
  ASSERT_TRUE(until([&] { return window_->message().contains("already there"); }));
  QSignalSpy refused(jobs, &JobsPage::bundle_taken);
  jobs->take_bundle(path);  // into the book it came from: its number is taken
  ASSERT_TRUE(refused.wait(20000));
  EXPECT_EQ(bench_.book()->jobs().size(), 1u);
  bool said = false;
  for (QLabel* l : jobs->findChildren<QLabel*>()) said = said || l->text().contains("already a job TC-070");
  EXPECT_TRUE(said);
  Workbench other;
  ASSERT_TRUE(other.open(dir_.path() + "/other.fortitor", "M. Orr"));
  JobsPage page(&other);
  QSignalSpy taken(&page, &JobsPage::bundle_taken);
  page.take_bundle(path);
  ASSERT_TRUE(taken.wait(20000));
  ASSERT_EQ(other.book()->jobs().size(), 1u);
  EXPECT_TRUE(other.book()->verify().empty());
}

TEST_F(BookDesk, TheCopyOfTheDayIsMadeBesideTheWindow) {
  bench_.back_up_daily();
  const QDir beside(dir_.path() + "/b.backups");
  ASSERT_TRUE(until([&] { return bench_.tasks().tasks().empty(); }));
  ASSERT_EQ(beside.entryList(QDir::Files).size(), 1);
  bench_.back_up_daily();
  ASSERT_TRUE(until([&] { return bench_.tasks().tasks().empty(); }));
  EXPECT_EQ(beside.entryList(QDir::Files).size(), 1) << "one a day";
  EXPECT_TRUE(window_->message().isEmpty()) << "a backup that succeeds is not talked about";
}

// What was signed stands; when other numbers come out now, nobody can overlook it.
TEST_F(BookDesk, ASignedPieceWhoseNumbersChangedSaysSo) {
  window_->show_specimen(id_, int(Stage::evaluate));
  settle();
  auto e = bench_.evaluation();
  const TestRecord r = *bench_.book()->record(id_);
  Evaluation other = *e;
  for (ResultValue& v : other.results)
    if (v.spec.key == "rm") v.value *= 1.02;  // an evaluation of another day
  ASSERT_TRUE(bench_.book()->sign_off(id_, bench_.book()->record_version(id_), evaluation_to_json(other, r.fields, -1),
                                      "none"));
  window_->show_today();
  bench_.select(id_);
  settle();
  ASSERT_TRUE(bench_.signed_off());
  ASSERT_TRUE(until([&] { return bench_.evaluation()->finding("differs-from-signed") != nullptr; }));
  EXPECT_EQ(bench_.evaluation()->findings.front().code, "differs-from-signed");
  EXPECT_GT(bench_.book()->specimen(id_)->open_judgements, 0) << "Today lists it";
}

TEST_F(BookDesk, FindOrDoKnowsTheBook) {
  FindBox* box = window_->find_box();
  for (const char* wanted : {"Back the book up", "Save the book elsewhere", "Logbook"}) {
    QTest::keyClick(window_.get(), Qt::Key_K, Qt::ControlModifier);
    ASSERT_TRUE(until([&] { return box->isVisible(); }));
    QTest::keyClicks(box->line(), wanted);
    ASSERT_GT(box->list()->count(), 0) << wanted;
    EXPECT_TRUE(box->list()->item(0)->text().contains(wanted)) << box->list()->item(0)->text().toStdString();
    if (QString(wanted) != "Logbook") QTest::keyClick(box->line(), Qt::Key_Escape);
  }
  QTest::keyClick(box->line(), Qt::Key_Return);
  EXPECT_TRUE(until([&] { return page<LogbookPage>() != nullptr && page<LogbookPage>()->isVisible(); }));
}

}  // namespace
}  // namespace fortitor::book_desk_test
