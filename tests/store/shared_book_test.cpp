// Books on a server: what a file cannot be asked.
#include <gtest/gtest.h>

#include <unistd.h>
#include <QDir>
#include <QFile>
#include <QHostAddress>
#include <QScopeGuard>
#include <QTcpServer>
#include <atomic>
#include <thread>

#include "store/backup.h"
#include "store/copy.h"
#include "store/shared.h"
#include "tests/built.h"
#include "tests/store/filled_book.h"

namespace fortitor::shared_book_test {
namespace {

class SharedBook : public testing::Test {
 protected:
  void SetUp() override {
    if (!on_server()) GTEST_SKIP() << "ctest runs it as Shared.Books";
    name_ = SharedServer::fresh();
  }
  std::string address(const QString& user = "keeper") const { return SharedServer::one().address(name_, user); }
  std::string file(const char* name) const { return folder_.filePath(name).toStdString(); }
  std::unique_ptr<Book> open(const std::string& who = "R. Vale") {
    auto b = Book::open(address(), who);
    EXPECT_TRUE(b) << (b ? "" : b.error().message);
    return b ? std::move(*b) : nullptr;
  }
  Id piece(Book& b, const std::string& code = "HB-01") {
    const auto job = b.add_job("TC-031", "Hanger bolts");
    const auto series = b.add_series(*job, "Tension", "tension-metal");
    TestRecord r;
    r.method = "tension-metal";
    r.fields.set("specimen.id", code);
    return *b.add_specimen(*series, code, r);
  }
  QString name_;
  QTemporaryDir folder_;
};

TEST_F(SharedBook, CopiesBothWaysEndWithTheSameHead) {
  fill_book(file("a.fortitor"));
  auto a = Book::open_read_only(file("a.fortitor"));
  ASSERT_TRUE(a) << a.error().message;
  const auto there = copy_book(**a, address());
  ASSERT_TRUE(there) << there.error().message;
  EXPECT_EQ(damage_of(address()), "");
  {
    auto b = open();
    ASSERT_TRUE(b);
    EXPECT_EQ(b->head().hash, (*a)->head().hash);
    EXPECT_EQ(b->head().lines, (*a)->head().lines);
    const Id id = b->outline().front().series.front().specimens.front().id;
    EXPECT_EQ(b->record(id)->run.samples()->find("force")->values,
              (*a)->record(id)->run.samples()->find("force")->values);
    EXPECT_TRUE(b->check_signature(id));
    // It goes on there: numbers of rows follow those that came.
    ASSERT_TRUE(b->add_job("TC-099", "After the move"));
    ASSERT_TRUE(b->save_record(id, 0, *b->record(id), {"1111111", "meets", 0}, "looked at again"));
  }
  EXPECT_EQ(damage_of(address()), "");
  auto b = Book::open_read_only(address());
  const auto back = copy_book(**b, file("back.fortitor"));
  ASSERT_TRUE(back) << back.error().message;
  EXPECT_EQ(damage_of(file("back.fortitor")), "");
  auto c = Book::open_read_only(file("back.fortitor"));
  EXPECT_EQ((*c)->head().hash, (*b)->head().hash);
  EXPECT_FALSE(QFile::exists(folder_.filePath("back.fortitor.part")));
}

TEST_F(SharedBook, ACopyThatWasBrokenOffGoesOnOrBeginsAnew) {
  fill_book(file("a.fortitor"));
  auto a = Book::open_read_only(file("a.fortitor"));
  for (const int at : {2, 5, 9, 20}) {
    int n = 0;
    const auto broken = copy_book(**a, address(), [&](double) {
      if (++n == at)
        SharedServer::run("postgres",
                          {"SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE datname = '" + name_ + "'"});
    });
    EXPECT_FALSE(broken) << at;
    EXPECT_FALSE(Book::open(address(), "R. Vale")) << "half a book is none";
  }
  const auto whole = copy_book(**a, address());
  ASSERT_TRUE(whole) << whole.error().message;
  EXPECT_EQ(damage_of(address()), "");
  EXPECT_EQ(open()->head().hash, (*a)->head().hash);
}

TEST_F(SharedBook, ACopyOfAnotherStateBeginsAnew) {
  fill_book(file("a.fortitor"));
  {
    auto a = Book::open_read_only(file("a.fortitor"));
    int n = 0;
    EXPECT_FALSE(copy_book(**a, address(), [&](double) {
      if (++n == 12)
        SharedServer::run("postgres",
                          {"SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE datname = '" + name_ + "'"});
    }));
  }
  {
    auto a = Book::open(file("a.fortitor"), "M. Orr");
    ASSERT_TRUE((*a)->add_job("TC-050", "Meanwhile"));
  }
  auto a = Book::open_read_only(file("a.fortitor"));
  const auto whole = copy_book(**a, address());
  ASSERT_TRUE(whole) << whole.error().message;
  EXPECT_EQ(damage_of(address()), "");
  EXPECT_TRUE(open()->job_by_code("TC-050"));
}

TEST_F(SharedBook, NothingIsCopiedOverABook) {
  fill_book(file("a.fortitor"));
  auto a = Book::open_read_only(file("a.fortitor"));
  open();
  const auto refused = copy_book(**a, address());
  ASSERT_FALSE(refused);
  EXPECT_NE(refused.error().message.find("nothing is overwritten"), std::string::npos);
  EXPECT_FALSE(copy_book(**Book::open_read_only(address()), file("a.fortitor")));
}

TEST_F(SharedBook, ADatabaseOfSomethingElseIsLeftAlone) {
  SharedServer::run(name_, {"CREATE TABLE apples (n INTEGER)"});
  const auto refused = Book::open(address(), "R. Vale");
  ASSERT_FALSE(refused);
  EXPECT_NE(refused.error().message.find("no job book"), std::string::npos);
  EXPECT_FALSE(Book::open_read_only(SharedServer::one().address("nowhere")));
}

TEST_F(SharedBook, ABackupIsAFile) {
  piece(*open());
  const auto made = back_up(address(), file("copies"), "2026-11-26");
  ASSERT_TRUE(made) << made.error().message;
  EXPECT_EQ(damage_of(*made), "");
  EXPECT_EQ(*daily_backup(address(), "2026-11-26"), "") << "its keeper's, not every window's";
}

TEST_F(SharedBook, APieceAtWorkBelongsToItsBench) {
  auto one = open("R. Vale");
  const Id id = piece(*one);
  const auto run = one->begin_run(id, {"time", "force"}, "frame 1");
  ASSERT_TRUE(run);
  auto two = open("M. Orr");
  EXPECT_TRUE(two->notices().empty()) << "a run that goes on elsewhere is not mended";
  EXPECT_EQ(two->at_work().at(id), "R. Vale");
  const auto refused = two->begin_run(id, {"time", "force"}, "frame 2");
  ASSERT_FALSE(refused);
  EXPECT_EQ(refused.error().message, "HB-01 is at work at another bench (R. Vale). Nothing was started.");
  ASSERT_TRUE(one->append_run(*run, {{0, 1}, {5, 6}}));
  EXPECT_EQ(two->runs(id).front().rows, 2) << "and may be looked at meanwhile";
  ASSERT_TRUE(one->close_run(*run, ""));
  EXPECT_TRUE(two->at_work().empty());
  EXPECT_TRUE(two->begin_run(id, {"time", "force"}, "frame 2"));
}

TEST_F(SharedBook, ARunWhoseBenchDiedIsMendedByTheNext) {
  auto two = open("M. Orr");
  Id id = 0;
  {
    auto one = open("R. Vale");
    id = piece(*one);
    const auto run = one->begin_run(id, {"time", "force"}, "frame 1");
    ASSERT_TRUE(one->append_run(*run, {{0, 1}, {5, 6}}));
  }
  auto three = open("N. Ext");
  ASSERT_EQ(three->notices().size(), 1u);
  EXPECT_NE(three->notices().front().find("interrupted"), std::string::npos);
  EXPECT_TRUE(two->runs(id).front().interrupted);
  EXPECT_EQ(damage_of(address()), "");
}

TEST_F(SharedBook, ARunThatNeverCameIntoItsRecordIsPutThereAfterAMoment) {
  auto one = open("R. Vale");
  const Id id = piece(*one);
  const auto run = one->begin_run(id, {"time", "force"}, "frame 1");
  ASSERT_TRUE(one->append_run(*run, {{0, 1}, {5, 6}}));
  ASSERT_TRUE(one->close_run(*run, ""));
  open("M. Orr");
  EXPECT_EQ(one->record_version(id), 1) << "its own bench saves it in the next moment";
  const Clock later([] { return QDateTime::currentDateTime().addSecs(120); });
  ASSERT_TRUE(Book::open(address(), "N. Ext", later));
  EXPECT_EQ(one->record_version(id), 2);
  EXPECT_EQ(one->record(id)->run.samples()->size(), 2u);
}

TEST_F(SharedBook, TheSecondVersionOfAPieceOverwritesNothing) {
  auto one = open("R. Vale"), two = open("M. Orr");
  const Id id = piece(*one);
  TestRecord r = *two->record(id);
  r.fields.set("specimen.note", std::string("dry"));
  EXPECT_FALSE(one->save_record(id, 1, r, {"1000000", "none", 0}, "note")->overtaken);
  r.fields.set("specimen.note", std::string("wet"));
  const auto saved = two->save_record(id, 1, r, {"1000000", "none", 0}, "note");
  ASSERT_TRUE(saved);
  EXPECT_EQ(saved->overtaken, 2);
  EXPECT_EQ(saved->version, 3);
  EXPECT_EQ(one->record_at(id, 2)->fields.text("specimen.note"), "dry");
  EXPECT_EQ(one->record(id)->fields.text("specimen.note"), "wet");
}

TEST_F(SharedBook, TwelveBenchesWriteOneChain) {
  constexpr int kBenches = 12, kChanges = 25;
  std::vector<Id> ids;
  {
    auto b = open();
    const auto series = b->add_series(*b->add_job("TC-031", "Hanger bolts"), "Tension", "tension-metal");
    for (int n = 0; n < kBenches; ++n) {
      TestRecord r;
      r.method = "tension-metal";
      ids.push_back(*b->add_specimen(*series, "HB-" + std::to_string(n), r));
    }
  }
  std::vector<std::thread> benches;
  std::atomic<int> failed = 0;
  for (int n = 0; n < kBenches; ++n)
    benches.emplace_back([&, n] {
      auto b = Book::open(address(), "bench " + std::to_string(n));
      if (!b) return void(failed += 1000);
      const auto run = (*b)->begin_run(ids[size_t(n)], {"time", "force"}, "frame");
      if (!run) return void(failed += 1000);
      for (int i = 0; i < kChanges; ++i) {
        if (!(*b)->append_run(*run, {{double(i)}, {double(i * n)}})) ++failed;
        auto r = (*b)->typed_record(ids[size_t(n)]);
        if (!r || !(*b)->save_record(ids[size_t(n)], 0, *r, {"1000000", "none", 0}, "typed")) ++failed;
      }
      if (!(*b)->close_run(*run, "")) ++failed;
    });
  for (std::thread& t : benches) t.join();
  EXPECT_EQ(failed, 0);
  EXPECT_EQ(damage_of(address()), "");
  auto b = open();
  for (int n = 0; n < kBenches; ++n) {
    EXPECT_EQ(b->record_version(ids[size_t(n)]), 1 + kChanges);
    EXPECT_EQ(b->runs(ids[size_t(n)]).front().rows, kChanges);
  }
}

TEST_F(SharedBook, AServerThatIsAwayIsSaidAndComesBack) {
  auto b = open();
  piece(*b);
  SharedServer::stop();
  const auto away = b->add_job("TC-032", "While it is away");
  ASSERT_FALSE(away);
  EXPECT_NE(away.error().message.find("does not answer"), std::string::npos) << away.error().message;
  SharedServer::start();
  const auto back = b->add_job("TC-033", "When it is back");
  ASSERT_TRUE(back) << back.error().message;
  EXPECT_FALSE(b->job_by_code("TC-032"));
  EXPECT_EQ(damage_of(address()), "");
}

TEST_F(SharedBook, ItsKeeperSeesWhoIsThere) {
  auto one = open("R. Vale"), two = open("M. Orr");
  const auto state = shared_state(*one);
  ASSERT_TRUE(state) << state.error().message;
  ASSERT_EQ(state->connected.size(), 2u);
  EXPECT_EQ(state->connected[0].who, "M. Orr");
  EXPECT_EQ(state->connected[1].role, "keeper");
  EXPECT_GT(state->bytes, 100000);
  EXPECT_NE(state->server.find("PostgreSQL"), std::string::npos);
}

TEST_F(SharedBook, CommandsTakeAnAddressAsTheyTakeAPath) {
  fill_book(file("a.fortitor"));
  const auto ctl = [&](QStringList arguments) {
    QProcess p;
    QProcessEnvironment e = QProcessEnvironment::systemEnvironment();
    e.insert("QT_QPA_PLATFORM", "offscreen");
    p.setProcessEnvironment(e);
    for (QString& a : arguments)
      if (a == "BOOK") a = QString::fromStdString(address());
    p.start(built("fortitorctl"), arguments);
    p.waitForFinished(60000);
    return std::pair(p.exitCode(), p.readAllStandardOutput() + p.readAllStandardError());
  };
  const QString from = folder_.filePath("a.fortitor"), back = folder_.filePath("back.fortitor");
  const auto copied = ctl({"copy", from, "BOOK"});
  ASSERT_EQ(copied.first, 0) << copied.second.toStdString();
  const QByteArray head = copied.second.trimmed().split(' ').last();
  const auto evaluated = ctl({"evaluate", "BOOK", "--json"});
  EXPECT_EQ(evaluated.first, 0) << evaluated.second.toStdString();
  EXPECT_EQ(evaluated.second.count("evaluation/1"), 3) << "one of each piece that was tested";
  EXPECT_EQ(evaluated, ctl({"evaluate", from, "--json"}));
  EXPECT_EQ(ctl({"evaluate", "BOOK", "--piece", "TC-041/HB-02"}).first, 0);
  EXPECT_EQ(ctl({"evaluate", FORTITOR_TEST_DATA "/tension-luders/record.json", "--piece", "HB-02"}).first, 2);
  EXPECT_EQ(ctl({"evaluate", "BOOK", "--piece", "HB-09"}).second.trimmed(),
            "fortitorctl: " + QByteArray::fromStdString(address()) + ": there is no piece HB-09.");
  for (const QStringList& command :
       {QStringList{"check", "BOOK", "--head", head},
        {"book", "BOOK", "--list"},
        {"plan", "BOOK", "--json"},
        {"report", "BOOK", "--job", "TC-041", "--out", folder_.filePath("r.pdf")},
        {"bundle", "BOOK", "--job", "TC-041", "--out", folder_.filePath("b.fortitor-bundle")},
        {"unbundle", folder_.filePath("b.fortitor-bundle"), "BOOK", "--as", "TC-141"},
        {"book", "BOOK", "--export", folder_.filePath("records")},
        {"completeness", "BOOK", "--job", "TC-041"},
        {"documents", "BOOK"},
        {"backup", "BOOK", folder_.filePath("copies")},
        {"copy", "BOOK", back},
        {"check", back, "--head", head},
        {"share", "BOOK"},
        {"check", "BOOK"}}) {
    const auto done = ctl(command);
    EXPECT_EQ(done.first, 0) << command.join(' ').toStdString() << ": " << done.second.toStdString();
  }
  EXPECT_NE(open()->logbook(1).front().what, "");
  EXPECT_EQ(ctl({"check", "postgresql://vale:secret@x/y"}).first, 2);
  EXPECT_EQ(ctl({"copy", from, "BOOK"}).first, 2) << "nothing is overwritten";
}

// Nothing goes to another machine that could be listened in on, and passwords come from libpq's own places.
TEST_F(SharedBook, TlsAndPasswordsAreLibpqs) {
  QTemporaryDir home;
  const QString folder = home.path() + "/server", crt = home.path() + "/server.crt";
  ASSERT_TRUE(QDir().mkdir(folder));
  for (const QString& open_to_read : {home.path(), folder})
    QFile::setPermissions(open_to_read, QFile::Permissions(0x7755));
  QProcess make;
  make.start("openssl", {"req", "-x509", "-newkey", "ec", "-pkeyopt", "ec_paramgen_curve:prime256v1", "-nodes", "-days",
                         "3650", "-subj", "/CN=localhost", "-keyout", folder + "/server.key", "-out", crt});
  make.waitForFinished();
  ASSERT_EQ(make.exitCode(), 0);
  const auto write = [](const QString& path, const QByteArray& text) {
    QFile f(path);
    EXPECT_TRUE(f.open(QIODevice::WriteOnly));
    f.write(text);
    f.close();
    f.setPermissions(QFile::ReadOwner | QFile::WriteOwner);
  };
  ASSERT_TRUE(QFile::copy(crt, folder + "/server.crt"));
  write(folder + "/hba",
        "local all all trust\nhostssl all all 127.0.0.1/32 scram-sha-256\nhostssl all all ::1/128 scram-sha-256\n");
  QFile::setPermissions(folder + "/server.key", QFile::ReadOwner | QFile::WriteOwner);
  if (::getuid() == 0) QProcess::execute("chown", {"-R", "nobody:nogroup", folder});
  QTcpServer free_port;
  ASSERT_TRUE(free_port.listen(QHostAddress::LocalHost));
  const QString port = QString::number(free_port.serverPort());
  free_port.close();
  SharedServer::script(
      {"--trial", folder, "--",
       QString("-c fsync=off -c listen_addresses=localhost -p %1 -c ssl=on -c ssl_cert_file=%2/server.crt "
               "-c ssl_key_file=%2/server.key -c hba_file=%2/hba")
           .arg(port, folder)});
  const auto stop = qScopeGuard([&] { SharedServer::script({"--stop", folder}); });
  const std::string keeper = ("postgresql:///postgres?host=" + folder + "&port=" + port + "&user=keeper").toStdString();
  {
    ASSERT_TRUE(set_up_shared(keeper, "R. Vale", {}));
    QSqlDatabase db = QSqlDatabase::addDatabase("QPSQL", "tls-owner");
    db.setHostName(folder);
    db.setPort(port.toInt());
    db.setUserName("keeper");
    db.setDatabaseName("postgres");
    ASSERT_TRUE(db.open());
    ASSERT_TRUE(QSqlQuery(db).exec("CREATE ROLE vale LOGIN PASSWORD 'upper station' IN ROLE postgres_tests"));
  }
  QSqlDatabase::removeDatabase("tls-owner");
  const auto opens = [&](const QString& host, const QString& more) {
    return bool(Book::open(("postgresql://vale@" + host + ":" + port + "/postgres?" + more).toStdString(), "R. Vale"));
  };
  const QString trusted = "sslmode=verify-full&sslrootcert=" + crt;
  qputenv("PGPASSFILE", (home.path() + "/none").toUtf8());
  EXPECT_FALSE(opens("localhost", trusted)) << "without a password";
  write(home.path() + "/pgpass", "*:*:*:vale:upper station\n");
  qputenv("PGPASSFILE", (home.path() + "/pgpass").toUtf8());
  EXPECT_TRUE(opens("localhost", trusted));
  EXPECT_TRUE(opens("localhost", "sslmode=require"));
  EXPECT_FALSE(opens("localhost", "sslmode=disable")) << "the server wants TLS";
  EXPECT_FALSE(opens("127.0.0.1", trusted)) << "the certificate is another machine's";
  EXPECT_FALSE(opens("localhost", "sslmode=verify-full&sslrootcert=" + home.path() + "/none"))
      << "nobody vouches for it";
  write(home.path() + "/pgpass", "*:*:*:vale:lower station\n");
  EXPECT_FALSE(opens("localhost", trusted)) << "with a wrong password";
  qunsetenv("PGPASSFILE");
}

}  // namespace
}  // namespace fortitor::shared_book_test
