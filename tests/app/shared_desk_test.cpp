// Two windows over one shared book, on a server of the tests' own.
#include <QDir>
#include <QLabel>
#include <QSqlDatabase>
#include <QSqlQuery>
#include <QStandardPaths>
#include <QTemporaryDir>

#include "app/docket/docket.h"
#include "core/standin/tension_bench.h"
#include "tests/app/window_fixture.h"
#include "tests/store/shared_server.h"

namespace fortitor {
namespace {

class SharedDeskTest : public testing::Test {
 protected:
  struct Bench {
    explicit Bench(const std::string& address, const QString& who) {
      const auto opened = bench.open(QString::fromStdString(address), who, test_clock());
      EXPECT_TRUE(opened) << (opened ? "" : opened.error().message);
      window = std::make_unique<MainWindow>(&bench);
      bench.touch_docket();
      window->show_today();
      window->show();
    }
    Workbench bench;
    std::unique_ptr<MainWindow> window;
  };
  void SetUp() override {
    // Journals of its own: another test that runs beside this one would take them up, or leave its own behind.
    qputenv("XDG_DATA_HOME", data_.path().toUtf8());
    address_ = SharedServer::one().address(SharedServer::fresh());
    auto book = Book::open(address_, "R. Vale", test_clock());
    ASSERT_TRUE(book) << book.error().message;
    const auto series = (*book)->add_series(*(*book)->add_job("TC-031", "Hanger bolts"), "Tension", "tension-metal");
    for (const char* code : {"HB-01", "HB-02"}) {
      TestRecord r = standin::simulate_tension({.seed = 3});
      r.run = {};
      r.fields.set("specimen.id", std::string(code));
      ids_.push_back(*(*book)->add_specimen(*series, code, r));
    }
    a_ = std::make_unique<Bench>(address_, "R. Vale");
    b_ = std::make_unique<Bench>(address_, "M. Orr");
  }
  void TearDown() override {
    a_.reset();
    b_.reset();
    data_before_.isNull() ? qunsetenv("XDG_DATA_HOME") : qputenv("XDG_DATA_HOME", data_before_);
  }
  static bool until(const std::function<bool()>& done) { return QTest::qWaitFor(done, 30000); }
  static QString pill(const MainWindow& w) {
    for (const QPushButton* b : w.findChildren<QPushButton*>())
      if (b->property("key") == "top-book") return b->isVisible() ? b->text() : QString();
    return {};
  }
  QTemporaryDir data_;
  QByteArray data_before_ = qgetenv("XDG_DATA_HOME");
  std::string address_;
  std::vector<Id> ids_;
  std::unique_ptr<Bench> a_, b_;
};

TEST_F(SharedDeskTest, AnEditAtOneIsSeenAtTheOther) {
  EXPECT_TRUE(pill(*a_->window).startsWith("● book")) << pill(*a_->window).toStdString();
  for (Bench* w : {a_.get(), b_.get()}) w->window->show_specimen(ids_[0], int(Stage::prepare));
  a_->bench.edit("note", [](TestRecord& r) { r.fields.set("specimen.note", std::string("from the lower station")); });
  ASSERT_TRUE(until([&] { return b_->bench.record().fields.text("specimen.note") == "from the lower station"; }));
  EXPECT_TRUE(b_->window->message().contains("R. Vale changed HB-01")) << b_->window->message().toStdString();
  EXPECT_TRUE(b_->window->message().contains("from the lower station"));
  // And back: what was seen is the version that is gone on with.
  b_->bench.edit("note", [](TestRecord& r) { r.fields.set("specimen.note", std::string("dry")); });
  ASSERT_TRUE(until([&] { return a_->bench.record().fields.text("specimen.note") == "dry"; }));
  EXPECT_FALSE(b_->window->message().contains("Someone else"));
}

TEST_F(SharedDeskTest, TwoEditsInOneMomentAreBothKeptAndShown) {
  for (Bench* w : {a_.get(), b_.get()}) w->window->show_specimen(ids_[0], int(Stage::prepare));
  // Neither hears of the other between the two.
  a_->bench.edit("note", [](TestRecord& r) { r.fields.set("specimen.note", std::string("dry")); });
  b_->bench.edit("note", [](TestRecord& r) { r.fields.set("specimen.note", std::string("wet")); });
  EXPECT_TRUE(b_->window->message().contains("both are kept"));
  EXPECT_TRUE(b_->window->message().contains("dry → wet")) << b_->window->message().toStdString();
  ASSERT_TRUE(until([&] { return a_->bench.record().fields.text("specimen.note") == "wet"; }));
  EXPECT_TRUE(a_->window->message().contains("dry → wet"))
      << "the first sees it too: " << a_->window->message().toStdString();
  EXPECT_EQ(a_->bench.book()->record_at(ids_[0], 2)->fields.text("specimen.note"), "dry");
}

TEST_F(SharedDeskTest, ARunIsSeenWhileItGrowsAndBelongsToItsBench) {
  b_->window->show_specimen(ids_[1], int(Stage::run));
  Book& at_a = *a_->bench.book();
  const auto run = at_a.begin_run(ids_[1], {"time", "force", "extension"}, "frame 1");
  ASSERT_TRUE(run);
  ASSERT_TRUE(until([&] { return b_->bench.others_at_work().count(ids_[1]) == 1; }));
  EXPECT_EQ(b_->bench.others_at_work().at(ids_[1]), "R. Vale");
  ASSERT_TRUE(at_a.append_run(*run, {{0, 0.1, 0.2}, {0, 100, 200}, {0, 0.01, 0.02}}));
  ASSERT_TRUE(until([&] { return b_->bench.record().run.has_samples(); }));
  EXPECT_EQ(b_->bench.record().run.samples()->size(), 3u);
  ASSERT_TRUE(at_a.append_run(*run, {{0.3}, {300}, {0.03}}));
  ASSERT_TRUE(until([&] { return b_->bench.record().run.samples()->size() == 4; }));
  ASSERT_TRUE(at_a.close_run(*run, ""));
  ASSERT_TRUE(until([&] { return b_->bench.others_at_work().empty(); }));
}

TEST_F(SharedDeskTest, TimersKitAndPlanAreCommon) {
  ASSERT_TRUE(a_->bench.book()->start_timer(ids_[0], "Soak", "2026-11-26T09:00:00.000Z", "2026-11-26T19:00:00.000Z"));
  const auto timer_pill = [&] {
    for (const QPushButton* p : b_->window->findChildren<QPushButton*>())
      if (p->property("key") == "timer:HB-01" && p->isVisible()) return true;
    return false;
  };
  EXPECT_TRUE(until(timer_pill));
  b_->window->open("kit");
  kit::Item item;
  item.kind = "frame";
  item.fields.set(item.path("id"), std::string("F-9"));
  ASSERT_TRUE(a_->bench.book()->save_item(item, "frame F-9 added"));
  EXPECT_TRUE(until([&] {
    const auto kit = b_->bench.book()->kit();
    return kit && kit->size() == 1;
  }));
  const auto id = a_->bench.book()->add_job("TC-077", "Saddle plates");
  ASSERT_TRUE(id);
  EXPECT_TRUE(until([&] { return b_->bench.book()->job_by_code("TC-077").has_value(); }));
}

TEST_F(SharedDeskTest, TheKeepersPageSaysWhoIsHere) {
  b_->window->open("shared");
  const auto says = [&](const QString& text) {
    for (const QLabel* l : b_->window->findChildren<QLabel*>())
      if (l->isVisible() && l->text().contains(text)) return true;
    return false;
  };
  EXPECT_TRUE(until([&] { return says("M. Orr"); }));
  EXPECT_TRUE(says("R. Vale"));
  EXPECT_TRUE(says("PostgreSQL"));
  EXPECT_TRUE(says("none yet"));
}

TEST_F(SharedDeskTest, WhatTheServerRefusedIsSaidAndListed) {
  Bench& a = *a_;
  a.window->show_specimen(ids_[0], int(Stage::prepare));
  ASSERT_TRUE(until([&] { return a.bench.evaluation() != nullptr; }));
  SharedServer::stop();
  a.bench.edit("note", [](TestRecord& r) { r.fields.set("specimen.note", std::string("of another kind")); });
  ASSERT_TRUE(until([&] { return pill(*a.window).contains("1 change waits here"); }));
  // A line as a newer program might have left it.
  const QDir journals(QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + "/journal");
  int changed = 0;
  for (const QFileInfo& one : journals.entryInfoList({"*.journal"})) {
    {
      QSqlDatabase db = QSqlDatabase::addDatabase("QSQLITE", "journal-of-test");
      db.setDatabaseName(one.filePath());
      ASSERT_TRUE(db.open());
      QSqlQuery q(db);
      EXPECT_TRUE(q.exec("UPDATE line SET kind = 'thought'"));
      changed += q.numRowsAffected();
      db.close();
    }
    QSqlDatabase::removeDatabase("journal-of-test");
  }
  ASSERT_EQ(changed, 1);
  SharedServer::start();
  ASSERT_TRUE(until([&] { return pill(*a.window).startsWith("●"); }));
  EXPECT_TRUE(a.window->message().contains("does not take")) << a.window->message().toStdString();
  a.window->open("shared");
  const auto says = [&](const QString& text) {
    for (const QLabel* l : a.window->findChildren<QLabel*>())
      if (l->isVisible() && l->text().contains(text)) return true;
    return false;
  };
  EXPECT_TRUE(until([&] { return says("Not taken by the server") && says("thought"); }));
}

TEST_F(SharedDeskTest, TheBenchGoesOnWhileTheServerIsAway) {
  Bench& a = *a_;
  a.window->show_specimen(ids_[0], int(Stage::prepare));
  ASSERT_TRUE(until([&] { return a.bench.evaluation() != nullptr; }));
  SharedServer::stop();
  a.bench.edit("note", [](TestRecord& r) { r.fields.set("specimen.note", std::string("while it was away")); });
  ASSERT_TRUE(until([&] { return pill(*a.window).contains("1 change waits here"); })) << pill(*a.window).toStdString();
  EXPECT_TRUE(pill(*a.window).startsWith("○"));
  EXPECT_TRUE(a.window->message().contains("The bench goes on")) << a.window->message().toStdString();
  EXPECT_EQ(a.bench.record().fields.text("specimen.note"), "while it was away");
  EXPECT_GT(a.window->docket()->row_of(ids_[1]).height(), 0) << "what was read last stays shown";
  a.window->open("kit");
  EXPECT_EQ(a.window->desk_in_hand(), "specimen");
  a.window->open("guide");
  EXPECT_EQ(a.window->desk_in_hand(), "guide") << "what lies in no book is there";
  a.window->show_specimen(ids_[0], int(Stage::prepare));
  EXPECT_EQ(a.window->desk_in_hand(), "specimen");
  EXPECT_EQ(a.bench.unsaved(), 0u) << "it lies on the disk of this bench";
  SharedServer::start();
  ASSERT_TRUE(until([&] { return pill(*a.window).startsWith("●"); }));
  EXPECT_TRUE(a.window->message().contains("has everything"));
  EXPECT_EQ(a.bench.book()->record(ids_[0])->fields.text("specimen.note"), "while it was away");
  // The other window, which only looked on, sees it too.
  ASSERT_TRUE(until([&] { return pill(*b_->window).startsWith("●"); }));
  b_->window->show_specimen(ids_[0], int(Stage::prepare));
  EXPECT_EQ(b_->bench.record().fields.text("specimen.note"), "while it was away");
}

TEST_F(SharedDeskTest, AnotherBookIsOpenedInPlaceAndAWrongAddressSaysWhy) {
  EXPECT_FALSE(a_->window->open_book("postgresql:///nowhere?host=" + SharedServer::one().folder()));
  EXPECT_TRUE(a_->window->message().contains("cannot be opened"));
  EXPECT_EQ(a_->bench.book()->path(), address_) << "the book in hand stays";
  QTemporaryDir dir;
  ASSERT_TRUE(a_->window->open_book(dir.filePath("own.fortitor")));
  EXPECT_EQ(pill(*a_->window), "");
  EXPECT_TRUE(a_->bench.book()->jobs().empty());
  ASSERT_TRUE(a_->window->open_book(QString::fromStdString(address_)));
  EXPECT_TRUE(pill(*a_->window).startsWith("●"));
  EXPECT_EQ(a_->bench.book()->jobs().size(), 1u);
}

}  // namespace
}  // namespace fortitor
