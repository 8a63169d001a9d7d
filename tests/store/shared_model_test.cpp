// Two benches on one shared book, with runs and edits, while the worst happens to the server and to the wire: nothing
// that was confirmed is lost, everything comes once and in order, and the chain stays whole.
#include <gtest/gtest.h>

#include <csignal>
#include <random>

#include <QFile>
#include <QThread>

#include "tests/store/filled_book.h"
#include "tests/store/wire.h"

namespace fortitor::shared_model_test {
namespace {

using Note = std::pair<size_t, std::string>;  // piece, words

struct Bench {
  std::string name, address;
  std::string folder;
  std::unique_ptr<Book> book = {};
  std::vector<Note> said = {};                                        // confirmed, in order
  std::vector<std::pair<size_t, std::vector<double>>> measured = {};  // piece, times of each run, as confirmed
  Id run = 0;
};

enum class Harm { none, stopped, killed, cut_off, paused, wire_pulled, wire_cut, disk_full, count };

class SharedModel : public testing::Test {
 protected:
  void SetUp() override {
    if (!on_server()) GTEST_SKIP() << "ctest runs it as Shared.Books";
    name_ = SharedServer::fresh();
    wire_ = std::make_unique<Wire>((SharedServer::one().folder() + "/.s.PGSQL.5432").toStdString());
    const std::string direct = SharedServer::one().address(name_);
    auto book = Book::open(direct, "Keeper");
    ASSERT_TRUE(book) << book.error().message;
    const auto series = (*book)->add_series(*(*book)->add_job("TC-031", "Hanger bolts"), "Tension", "tension-metal");
    for (int n = 0; n < 5; ++n) {  // two of each bench, and one that both write at
      TestRecord r;
      r.method = "tension-metal";
      pieces_.push_back(*(*book)->add_specimen(*series, "HB-0" + std::to_string(n), r));
    }
    const std::string through =
        "postgresql://127.0.0.1:" + std::to_string(wire_->port()) + "/" + name_.toStdString() + "?user=keeper";
    for (const auto& [who, address] : {std::pair("A", through), std::pair("B", direct)}) {
      benches_.push_back({who, address, (folder_.path() + "/" + who).toStdString()});
      open(benches_.back());
    }
  }
  void open(Bench& b) {
    auto opened = Book::open(b.address, b.name);
    ASSERT_TRUE(opened) << opened.error().message;
    const auto kept = (*opened)->keep_journal(b.folder);
    ASSERT_TRUE(kept) << kept.error().message;
    b.book = std::move(*opened);
  }
  void note(Bench& b, size_t piece) {
    const std::string words = b.name + std::to_string(++n_);
    TestRecord r;
    r.method = "tension-metal";
    r.fields.set("specimen.note", words);
    const auto saved = b.book->save_record(pieces_[piece], 0, r, {"1000000", "none", 0}, "note " + words);
    ASSERT_TRUE(saved) << b.name << ": " << saved.error().message;
    b.said.emplace_back(piece, words);
  }
  std::vector<int> server_processes() const {
    QFile file(SharedServer::one().folder() + "/data/postmaster.pid");
    EXPECT_TRUE(file.open(QIODevice::ReadOnly));
    const int pid = file.readLine().trimmed().toInt();
    std::vector<int> all = {pid};
    QProcess children;
    children.start("pgrep", {"-P", QString::number(pid)});
    children.waitForFinished();
    for (const QByteArray& line : children.readAllStandardOutput().split('\n'))
      if (line.toInt() > 0) all.push_back(line.toInt());
    return all;
  }
  void strike(Harm harm) {
    if (harm == Harm::stopped) SharedServer::stop();
    if (harm == Harm::killed) SharedServer::script({"--kill", SharedServer::one().folder()});
    if (harm == Harm::cut_off)
      SharedServer::run("postgres",
                        {"SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE datname = '" + name_ + "'"});
    if (harm == Harm::paused) {
      paused_ = server_processes();
      for (int p : paused_) ::kill(p, SIGSTOP);
    }
    if (harm == Harm::wire_pulled) wire_->pull();
    if (harm == Harm::wire_cut) wire_->cut();
    if (harm == Harm::disk_full) SharedServer::fill_disk();
  }
  void make_good(Harm harm) {
    if (harm == Harm::stopped || harm == Harm::killed) SharedServer::start();
    for (int p : std::exchange(paused_, {})) ::kill(p, SIGCONT);
    wire_->mend();
    if (harm == Harm::disk_full) SharedServer::make_room();
  }
  /// Looks as the windows do, until both have the server again and it has everything.
  bool settled() {
    for (int i = 0; i < 600; ++i) {
      bool all = true;
      for (Bench& b : benches_) {
        b.book->look_for_server();
        all = all && !b.book->away() && b.book->waiting() == 0;
      }
      if (all) return true;
      QThread::msleep(50);
    }
    return false;
  }
  QString name_;
  QTemporaryDir folder_;
  std::unique_ptr<Wire> wire_;
  std::vector<Bench> benches_;
  std::vector<Id> pieces_;
  std::vector<int> paused_;
  int n_ = 0;
};

TEST_F(SharedModel, NothingConfirmedIsLostWhateverHappens) {
  const int rounds = qEnvironmentVariableIsSet("FORTITOR_SOAK") ? 500 : 12;
  std::mt19937 random(20261126);
  const auto below = [&](int n) { return int(random() % unsigned(n)); };
  std::map<Harm, int> struck;
  for (int round = 0; round < rounds; ++round) {
    SCOPED_TRACE(round);
    for (size_t k = 0; k < 2; ++k) {
      Bench& b = benches_[k];
      const size_t piece = 2 * k + size_t(round % 2);
      const auto run = b.book->begin_run(pieces_[piece], {"time", "force"}, "frame " + b.name);
      ASSERT_TRUE(run) << run.error().message;
      b.run = *run;
      b.measured.emplace_back(piece, std::vector<double>{});
    }
    // Each of them in the first rounds, then as it comes.
    const Harm harm = Harm(round < int(Harm::count) ? round : below(int(Harm::count)));
    ++struck[harm];
    const int when = below(7), until = when + 1 + below(6);
    for (int beat = 0; beat < 8; ++beat) {
      if (beat == when) strike(harm);
      if (beat == until) make_good(harm);
      for (size_t k = 0; k < 2; ++k) {
        Bench& b = benches_[k];
        // Of noise, so that a full disk is found.
        std::vector<double> times(2000);
        for (double& t : times) t = double(random()) * 0x1p-20 + beat;
        ASSERT_TRUE(b.book->append_run(b.run, {times, times}));
        auto& all = b.measured.back().second;
        all.insert(all.end(), times.begin(), times.end());
        if (below(2) == 0) note(b, below(3) == 0 ? 4 : b.measured.back().first);
        if (HasFatalFailure()) return;
      }
    }
    if (until < 8) make_good(Harm::none);
    for (size_t k = 0; k < 2; ++k) {
      Bench& b = benches_[k];
      if (below(4) == 0) {  // its window ends, and is opened again once that can be
        b.book.reset();
      } else {
        ASSERT_TRUE(b.book->close_run(b.run, ""));
      }
    }
    if (until >= 8) make_good(harm);
    for (Bench& b : benches_)
      if (!b.book) open(b);
    if (HasFatalFailure()) return;
    ASSERT_TRUE(settled());
  }
  EXPECT_EQ(struck.size(), size_t(Harm::count));
  Book& book = *benches_[1].book;
  EXPECT_EQ(damage_of(benches_[1].address), "");
  for (const Bench& b : benches_) {
    EXPECT_TRUE(b.book->refused().empty()) << b.book->refused().front().why;
    for (size_t piece = 0; piece < pieces_.size(); ++piece) {
      std::vector<std::string> said, kept;
      for (const auto& [at, words] : b.said)
        if (at == piece) said.push_back(words);
      const auto versions = book.versions(pieces_[piece]);
      for (auto v = versions.rbegin(); v != versions.rend(); ++v) {
        const std::string words = book.record_at(pieces_[piece], v->version)->fields.text("specimen.note");
        // A run that was mended is put into a version of its own beside what stood last.
        if (words.starts_with(b.name) && (kept.empty() || kept.back() != words)) kept.push_back(words);
      }
      EXPECT_EQ(kept, said) << b.name << " at piece " << piece;
      // Every run is there whole, in one of its forms.
      std::vector<std::vector<double>> stored;
      for (const RunRow& r : book.runs(pieces_[piece])) {
        EXPECT_FALSE(r.closed_at.empty());
        const auto samples = book.samples(r.id);
        ASSERT_TRUE(samples) << samples.error().message;
        stored.push_back((*samples)->size() == 0 ? std::vector<double>{} : (*samples)->find("time")->values);
      }
      for (const auto& [at, times] : b.measured)
        EXPECT_TRUE(at != piece || std::find(stored.begin(), stored.end(), times) != stored.end());
    }
  }
}

}  // namespace
}  // namespace fortitor::shared_model_test
