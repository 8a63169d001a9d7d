// A bench goes on while its server is stopped, killed, paused or cut off, and nothing that was confirmed is lost.
#include <gtest/gtest.h>

#include <csignal>
#include <random>

#include <QDir>
#include <QFile>
#include <QThread>

#include "store/journal.h"
#include "store/shared.h"
#include "tests/store/filled_book.h"

namespace fortitor::shared_away_test {
namespace {

class SharedAway : public testing::Test {
 protected:
  void SetUp() override {
    if (!on_server()) GTEST_SKIP() << "ctest runs it as Shared.Books";
    name_ = SharedServer::fresh();
    book_ = open();
    const auto series = book_->add_series(*book_->add_job("TC-031", "Hanger bolts"), "Tension", "tension-metal");
    for (int n = 0; n < 3; ++n) {
      TestRecord r;
      r.method = "tension-metal";
      ids_.push_back(*book_->add_specimen(*series, "HB-0" + std::to_string(n), r));
    }
  }
  std::string address() const { return SharedServer::one().address(name_); }
  std::unique_ptr<Book> open(const std::string& who = "R. Vale", const std::string& other = {}) {
    auto b = Book::open(other.empty() ? address() : other, who);
    EXPECT_TRUE(b) << (b ? "" : b.error().message);
    if (!b) return nullptr;
    const auto kept = (*b)->keep_journal(folder_.path().toStdString());
    EXPECT_TRUE(kept) << (kept ? "" : kept.error().message);
    return std::move(*b);
  }
  Outcome<Saved> note(Book& b, Id piece, const std::string& words) {
    TestRecord r;
    r.method = "tension-metal";
    r.fields.set("specimen.note", words);
    return b.save_record(piece, 0, r, {"1000000", "none", 0}, "note " + words);
  }
  static std::vector<std::vector<double>> part(double at) { return {{at, at + 0.5}, {at * 10, at * 10 + 5}}; }
  /// A part that no compression makes small.
  static std::vector<std::vector<double>> noise(int n) {
    std::mt19937_64 random(uint64_t(n) + 1);
    std::vector<std::vector<double>> out(2, std::vector<double>(20000));
    for (auto& column : out)
      for (double& v : column) v = double(random() >> 11) * 0x1p-40;
    return out;
  }
  /// Waits until the book says so, looking as the window does.
  static bool until(Book& b, const std::function<bool()>& holds) {
    for (int i = 0; i < 600 && !holds(); ++i) {
      b.look_for_server();
      QThread::msleep(50);
    }
    return holds();
  }
  QString name_;
  QTemporaryDir folder_;
  std::unique_ptr<Book> book_;
  std::vector<Id> ids_;
};

TEST_F(SharedAway, WhatIsConfirmedMeanwhileComesToTheServerInOrder) {
  const auto run = book_->begin_run(ids_[0], {"time", "force"}, "frame 1");
  ASSERT_TRUE(run);
  ASSERT_TRUE(book_->append_run(*run, part(0)));
  SharedServer::stop();
  ASSERT_TRUE(book_->append_run(*run, part(1)));
  EXPECT_TRUE(book_->away());
  EXPECT_EQ(book_->waiting(), 1u);
  EXPECT_FALSE(book_->away_since().empty());
  ASSERT_TRUE(book_->append_run(*run, part(2)));
  ASSERT_TRUE(book_->close_run(*run, "broke"));
  const auto saved = note(*book_, ids_[0], "one");
  ASSERT_TRUE(saved);
  EXPECT_TRUE(saved->waits);
  // Another piece is run from its beginning to its end.
  const auto second = book_->begin_run(ids_[1], {"time", "force"}, "frame 1");
  ASSERT_TRUE(second) << second.error().message;
  ASSERT_TRUE(book_->append_run(*second, part(7)));
  ASSERT_TRUE(book_->close_run(*second, ""));
  ASSERT_TRUE(note(*book_, ids_[1], "two"));
  // What is no reading and no run waits for a person: it is refused in a sentence.
  const auto refused = book_->add_job("TC-099", "Later");
  ASSERT_FALSE(refused);
  EXPECT_NE(refused.error().message.find("does not answer"), std::string::npos);
  SharedServer::start();
  ASSERT_TRUE(until(*book_, [&] { return !book_->away() && book_->waiting() == 0; }));
  EXPECT_TRUE(book_->at_work().empty()) << "what was closed meanwhile is free for the other benches";
  const auto samples = book_->samples(*run);
  ASSERT_TRUE(samples) << samples.error().message;
  EXPECT_EQ((*samples)->find("time")->values, (std::vector<double>{0, 0.5, 1, 1.5, 2, 2.5}));
  EXPECT_EQ(book_->runs(ids_[0]).front().stopped, "broke");
  EXPECT_FALSE(book_->runs(ids_[0]).front().interrupted);
  EXPECT_EQ(book_->record(ids_[0])->fields.text("specimen.note"), "one");
  EXPECT_EQ(book_->record(ids_[1])->run.samples()->find("force")->values, (std::vector<double>{70, 75}));
  ASSERT_TRUE(book_->add_job("TC-099", "Now"));
  std::vector<std::string> lines;
  for (const LogEntry& e : book_->logbook(6)) lines.insert(lines.begin(), e.what);
  EXPECT_EQ(lines, (std::vector<std::string>{"run closed", "note one", "run begun", "run closed", "note two",
                                             "job TC-099 opened"}));
  EXPECT_EQ(damage_of(address()), "");
}

TEST_F(SharedAway, AWindowThatEndsLeavesItsJournalToTheNext) {
  SharedServer::stop();
  ASSERT_TRUE(note(*book_, ids_[0], "kept"));
  const auto run = book_->begin_run(ids_[1], {"time", "force"}, "frame 1");
  ASSERT_TRUE(book_->append_run(*run, part(3)));
  book_.reset();
  SharedServer::start();
  book_ = open("M. Orr");
  EXPECT_EQ(book_->waiting(), 0u);
  EXPECT_EQ(book_->record(ids_[0])->fields.text("specimen.note"), "kept");
  ASSERT_EQ(book_->runs(ids_[1]).size(), 1u);
  EXPECT_TRUE(book_->runs(ids_[1]).front().interrupted);
  EXPECT_EQ(book_->runs(ids_[1]).front().rows, 2);
  for (const LogEntry& e : book_->logbook(50))
    EXPECT_EQ(e.what == "note kept" ? e.who : "R. Vale", "R. Vale") << "whoever confirmed it";
  EXPECT_EQ(damage_of(address()), "");
}

TEST_F(SharedAway, ARunThatAnotherBenchClosedMeanwhileGoesOnWhole) {
  const auto run = book_->begin_run(ids_[0], {"time", "force"}, "frame 1");
  ASSERT_TRUE(book_->append_run(*run, part(0)));
  SharedServer::stop();
  ASSERT_TRUE(book_->append_run(*run, part(1)));
  SharedServer::start();
  {
    auto other = Book::open(address(), "M. Orr");
    ASSERT_TRUE(other);
    EXPECT_EQ((*other)->notices().size(), 1u) << "nobody holds the piece: its run is mended";
  }
  ASSERT_TRUE(until(*book_, [&] { return !book_->away() && book_->waiting() == 0; }));
  ASSERT_TRUE(book_->append_run(*run, part(2)));
  ASSERT_TRUE(book_->close_run(*run, ""));
  const auto runs = book_->runs(ids_[0]);
  ASSERT_EQ(runs.size(), 2u);
  EXPECT_TRUE(runs[0].interrupted);
  EXPECT_FALSE(runs[1].interrupted);
  EXPECT_EQ((*book_->samples(runs[1].id))->find("time")->values, (std::vector<double>{0, 0.5, 1, 1.5, 2, 2.5}));
  EXPECT_EQ(damage_of(address()), "");
}

TEST_F(SharedAway, APausedServerHoldsNobodyUp) {
  const auto pid = [&] {
    QFile file(SharedServer::one().folder() + "/data/postmaster.pid");
    EXPECT_TRUE(file.open(QIODevice::ReadOnly));
    return file.readLine().trimmed().toInt();
  }();
  QProcess children;
  children.start("pgrep", {"-P", QString::number(pid)});
  children.waitForFinished();
  std::vector<int> all = {pid};
  for (const QByteArray& line : children.readAllStandardOutput().split('\n'))
    if (line.toInt() > 0) all.push_back(line.toInt());
  for (int p : all) ::kill(p, SIGSTOP);
  const auto saved = note(*book_, ids_[0], "while it sleeps");
  for (int p : all) ::kill(p, SIGCONT);
  ASSERT_TRUE(saved) << saved.error().message;
  EXPECT_TRUE(saved->waits);
  ASSERT_TRUE(until(*book_, [&] { return !book_->away() && book_->waiting() == 0; }));
  EXPECT_EQ(book_->record(ids_[0])->fields.text("specimen.note"), "while it sleeps");
  EXPECT_EQ(book_->versions(ids_[0]).size(), 2u) << "once, though its answer may have been lost";
  EXPECT_EQ(damage_of(address()), "");
}

TEST_F(SharedAway, AFullDiskOfTheServerHoldsNobodyUp) {
  const auto run = book_->begin_run(ids_[0], {"time", "force"}, "frame 1");
  ASSERT_TRUE(run);
  ASSERT_TRUE(book_->append_run(*run, noise(0)));
  SharedServer::fill_disk();
  std::vector<double> times = noise(0)[0];
  for (int i = 1; i <= 6; ++i) {
    const auto more = noise(i);
    const auto done = book_->append_run(*run, more);
    EXPECT_TRUE(done) << i;
    times.insert(times.end(), more[0].begin(), more[0].end());
  }
  EXPECT_TRUE(book_->away());
  EXPECT_GT(book_->waiting(), 0u);
  const auto saved = note(*book_, ids_[0], "full");
  ASSERT_TRUE(saved) << saved.error().message;
  EXPECT_TRUE(saved->waits);
  const auto refused = book_->add_job("TC-099", "Later");
  ASSERT_FALSE(refused);
  SharedServer::make_room();
  ASSERT_TRUE(until(*book_, [&] { return !book_->away() && book_->waiting() == 0; }));
  ASSERT_TRUE(book_->close_run(*run, ""));
  EXPECT_EQ((*book_->samples(*run))->find("time")->values, times);
  EXPECT_EQ(book_->record(ids_[0])->fields.text("specimen.note"), "full");
  EXPECT_TRUE(book_->refused().empty());
  EXPECT_EQ(damage_of(address()), "");
}

TEST_F(SharedAway, WhatTheServerRefusesForGoodHoldsUpNothingBehindIt) {
  SharedServer::stop();
  ASSERT_TRUE(note(*book_, ids_[0], "taken"));
  // A line of a kind that no program of this version writes, as a newer one's journal might hold.
  const QString journal = QDir(folder_.path()).entryInfoList({"*.journal"}).front().filePath();
  ASSERT_TRUE(note(*book_, ids_[1], "no record"));
  ASSERT_TRUE(note(*book_, ids_[2], "behind it"));
  book_.reset();
  {
    QSqlDatabase db = QSqlDatabase::addDatabase("QSQLITE", "journal-of-test");
    db.setDatabaseName(journal);
    ASSERT_TRUE(db.open());
    QSqlQuery q(db);
    ASSERT_TRUE(q.exec("UPDATE line SET kind = 'thought' WHERE id = 2"));
    ASSERT_EQ(q.numRowsAffected(), 1);
    db.close();
  }
  QSqlDatabase::removeDatabase("journal-of-test");
  SharedServer::start();
  book_ = open("M. Orr");
  EXPECT_EQ(book_->waiting(), 0u);
  EXPECT_EQ(book_->record(ids_[0])->fields.text("specimen.note"), "taken");
  EXPECT_EQ(book_->record(ids_[1])->fields.text("specimen.note"), "");
  EXPECT_EQ(book_->record(ids_[2])->fields.text("specimen.note"), "behind it");
  const auto refused = book_->refused();
  ASSERT_EQ(refused.size(), 1u);
  EXPECT_EQ(refused[0].who, "R. Vale");
  EXPECT_NE(refused[0].why.find("thought"), std::string::npos) << refused[0].why;
}

TEST_F(SharedAway, ARightThatIsMissingForAWhileIsWaitedFor) {
  const QString role = name_ + "_hand";
  ASSERT_TRUE(set_up_shared(address(), "Keeper", {}));
  SharedServer::run("postgres", {"CREATE ROLE " + role + " LOGIN", "GRANT " + name_ + "_tests TO " + role});
  book_.reset();
  book_ = open("R. Vale", SharedServer::one().address(name_, role));
  ASSERT_TRUE(book_);
  SharedServer::stop();
  ASSERT_TRUE(note(*book_, ids_[0], "waits"));
  SharedServer::start();
  SharedServer::run("postgres", {"REVOKE " + name_ + "_tests FROM " + role, "GRANT " + name_ + "_reads TO " + role});
  for (int i = 0; i < 40 && book_->away(); ++i) {
    book_->look_for_server();
    QThread::msleep(50);
  }
  EXPECT_EQ(book_->waiting(), 1u) << "the keeper may give the right back";
  EXPECT_TRUE(book_->refused().empty());
  SharedServer::run("postgres", {"GRANT " + name_ + "_tests TO " + role});
  ASSERT_TRUE(until(*book_, [&] { return !book_->away() && book_->waiting() == 0; }));
  EXPECT_EQ(book_->record(ids_[0])->fields.text("specimen.note"), "waits");
}

}  // namespace
}  // namespace fortitor::shared_away_test
