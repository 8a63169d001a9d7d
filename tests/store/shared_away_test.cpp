// A bench goes on while its server is stopped, killed, paused or cut off, and nothing that was confirmed is lost.
#include <gtest/gtest.h>

#include <csignal>
#include <random>

#include <QFile>
#include <QThread>

#include "store/journal.h"
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
  std::unique_ptr<Book> open(const std::string& who = "R. Vale") {
    auto b = Book::open(address(), who);
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

// Runs and edits at two benches while the server is cut off, killed and started again at random moments.
TEST_F(SharedAway, NothingConfirmedIsLostWhateverHappensToTheServer) {
  const int rounds = qEnvironmentVariableIsSet("FORTITOR_SOAK") ? 500 : 12;
  std::mt19937 random(20261126);
  const auto below = [&](int n) { return int(random() % unsigned(n)); };
  std::vector<std::string> said[3];           // notes confirmed, by piece, in order
  std::vector<std::vector<double>> measured;  // times of each run, as confirmed
  int n = 0;
  for (int round = 0; round < rounds; ++round) {
    const Id piece = ids_[size_t(round % 3)];
    const auto run = book_->begin_run(piece, {"time", "force"}, "frame 1");
    ASSERT_TRUE(run) << round << ": " << run.error().message;
    measured.emplace_back();
    const int harm = below(4), when = below(8);
    for (int i = 0; i < 8; ++i) {
      if (i == when) {
        if (harm == 0) SharedServer::stop();
        if (harm == 1) SharedServer::script({"--kill", SharedServer::one().folder()});
        if (harm == 2)
          SharedServer::run("postgres",
                            {"SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE datname = '" + name_ + "'"});
      }
      ASSERT_TRUE(book_->append_run(*run, part(round * 100 + i))) << round;
      measured.back().insert(measured.back().end(), {double(round * 100 + i), round * 100 + i + 0.5});
      if (below(2) == 0) {
        const std::string words = "n" + std::to_string(++n);
        const auto saved = note(*book_, piece, words);
        ASSERT_TRUE(saved) << round << ": " << saved.error().message;
        said[round % 3].push_back(words);
      }
    }
    if (below(3) == 0) {  // the window ends too
      const bool was_away = book_->away();
      book_.reset();
      if (harm == 0 || harm == 1) SharedServer::start();
      book_ = open();
      ASSERT_TRUE(book_) << was_away;
    } else {
      ASSERT_TRUE(book_->close_run(*run, "")) << round;
      if (harm == 0 || harm == 1) SharedServer::start();
    }
    ASSERT_TRUE(until(*book_, [&] { return !book_->away() && book_->waiting() == 0; })) << round;
  }
  EXPECT_EQ(damage_of(address()), "");
  for (int k = 0; k < 3; ++k) {
    std::vector<std::string> kept;
    const auto versions = book_->versions(ids_[size_t(k)]);
    for (auto v = versions.rbegin(); v != versions.rend(); ++v) {
      const std::string words = book_->record_at(ids_[size_t(k)], v->version)->fields.text("specimen.note");
      if (!words.empty() && (kept.empty() || kept.back() != words)) kept.push_back(words);
    }
    EXPECT_EQ(kept, said[k]);
    // Every run is there whole, in one of its forms.
    std::vector<std::vector<double>> stored;
    for (const RunRow& r : book_->runs(ids_[size_t(k)])) {
      const auto samples = book_->samples(r.id);
      ASSERT_TRUE(samples) << samples.error().message;
      stored.push_back((*samples)->find("time")->values);
    }
    for (size_t i = size_t(k); i < measured.size(); i += 3)
      EXPECT_NE(std::find(stored.begin(), stored.end(), measured[i]), stored.end()) << "run " << i;
  }
}

}  // namespace
}  // namespace fortitor::shared_away_test
