// One owner of a file, whatever it is called; a file that somebody else wrote in; a log that belongs to another file.
#include "store/book_file.h"

#include <fcntl.h>
#include <sys/stat.h>
#include <unistd.h>
#include <QProcess>

#include "tests/built.h"
#include "tests/store/filled_book.h"

namespace fortitor::book_file_test {
namespace {

class BookFileTest : public testing::Test {
 protected:
  void SetUp() override { fill_book(book()); }
  std::string path(const char* name) const { return folder_.filePath(name).toStdString(); }
  std::string book() const { return path("r.fortitor"); }
  static QByteArray bytes(const std::string& file) {
    QFile f(QString::fromStdString(file));
    EXPECT_TRUE(f.open(QIODevice::ReadOnly)) << file;
    return f.readAll();
  }
  static void put(const std::string& file, const QByteArray& data) {
    QFile f(QString::fromStdString(file));
    ASSERT_TRUE(f.open(QIODevice::WriteOnly | QIODevice::Truncate));
    ASSERT_EQ(f.write(data), data.size());
  }
  QTemporaryDir folder_;
};

TEST_F(BookFileTest, ASecondOpenerByAnotherNameOnlyReads) {
  ASSERT_EQ(::symlink("r.fortitor", path("link.fortitor").c_str()), 0);
  ASSERT_EQ(::link(book().c_str(), path("hard.fortitor").c_str()), 0);
  auto owner = Book::open(book(), "R. Vale");
  ASSERT_TRUE(owner);
  const auto run = (*owner)->begin_run(2, {"time", "force"}, "stand-in frame");
  ASSERT_TRUE(run);
  ASSERT_TRUE((*owner)->append_run(*run, {{0, 1}, {10, 20}}));
  for (const std::string& name : {book(), path("link.fortitor"), path("hard.fortitor")}) {
    auto second = Book::open(name, "N. Ext");
    ASSERT_TRUE(second) << name;
    EXPECT_TRUE((*second)->read_only()) << name;
    EXPECT_FALSE((*second)->note("mine", "")) << name;
    // So does another process.
    QProcess other;
    other.start(built("fortitorctl"),
                {"unbundle", QString::fromStdString(path("none.bundle")), QString::fromStdString(name)});
    ASSERT_TRUE(other.waitForFinished());
    EXPECT_EQ(other.exitCode(), 2);
    EXPECT_TRUE(other.readAllStandardError().contains("writes in it")) << name;
  }
  ASSERT_TRUE((*owner)->append_run(*run, {{2}, {30}})) << "the run goes on";
  EXPECT_TRUE((*owner)->runs(2).back().closed_at.empty()) << "nobody closed it";
  ASSERT_TRUE((*owner)->close_run(*run, ""));
  EXPECT_FALSE((*owner)->runs(2).back().interrupted);
}

// What was confirmed under one name is there under the other, though the process was ended.
TEST_F(BookFileTest, AHardLinkLosesNothingAfterAKill) {
  ASSERT_EQ(::link(book().c_str(), path("hard.fortitor").c_str()), 0);
  QProcess writer;
  writer.start(built("book_writer"), {QString::fromStdString(book())});
  ASSERT_TRUE(writer.waitForStarted());
  QByteArray said;
  while (said.count('\n') < 12 && writer.waitForReadyRead(20000)) said += writer.readAllStandardOutput();
  writer.kill();
  writer.waitForFinished();
  said += writer.readAllStandardOutput();
  int64_t lines = 0;
  {
    auto b = Book::open(path("hard.fortitor"), "N. Ext");
    ASSERT_TRUE(b) << b.error().message;
    EXPECT_TRUE((*b)->verify().empty());
    lines = (*b)->head().lines;
    ASSERT_TRUE((*b)->note("under the other name", ""));
  }
  auto b = Book::open(book(), "R. Vale");
  ASSERT_TRUE(b) << b.error().message;
  EXPECT_GT((*b)->head().lines, lines);
  EXPECT_TRUE((*b)->verify().empty());
}

TEST_F(BookFileTest, ALockFileIsNoOwner) {
  for (const char* text : {"", "28764\nfortitor\n", "garbage"}) {
    put(book() + ".lock", text);
    auto b = Book::open(book(), "R. Vale");
    ASSERT_TRUE(b);
    EXPECT_FALSE((*b)->read_only()) << text;
    EXPECT_TRUE((*b)->note("written", ""));
  }
}

TEST_F(BookFileTest, WhatWasWrittenOverOrCutShortIsNoticed) {
  const std::string other = path("other.fortitor");
  fill_book(other);
  const QByteArray theirs = bytes(other);
  struct Harm {
    const char* name;
    std::function<void()> done;
  };
  const std::vector<Harm> harms = {{"written over", [&] { put(book(), theirs); }},
                                   {"cut short", [&] { ASSERT_EQ(::truncate(book().c_str(), 20000), 0); }},
                                   {"emptied", [&] { ASSERT_EQ(::truncate(book().c_str(), 0), 0); }}};
  const QByteArray sound = bytes(book());
  for (const Harm& h : harms) {
    for (const char* more : {"-wal", "-shm"}) QFile::remove(QString::fromStdString(book()) + more);
    put(book(), sound);
    auto b = Book::open(book(), "R. Vale");
    ASSERT_TRUE(b) << h.name << ": " << b.error().message;
    ASSERT_TRUE((*b)->note("before", ""));
    ASSERT_TRUE((*b)->still_there()) << h.name;
    h.done();
    const QByteArray after = bytes(book());
    const auto there = (*b)->still_there();
    ASSERT_FALSE(there) << h.name;
    EXPECT_NE(there.error().message.find("written over or cut short"), std::string::npos) << there.error().message;
    EXPECT_FALSE((*b)->note("after", "")) << h.name;
    EXPECT_FALSE((*b)->copy_to(path("copy.fortitor"))) << h.name << ": what is left is no book";
    b->reset();
    EXPECT_TRUE(bytes(book()) == after) << h.name << ": what lies there now got nothing of ours";
  }
}

TEST_F(BookFileTest, TouchingItIsNoHarm) {
  auto b = Book::open(book(), "R. Vale");
  ASSERT_TRUE(b);
  const timespec times[2] = {{1000000000, 0}, {1000000000, 0}};
  ASSERT_EQ(::utimensat(AT_FDCWD, book().c_str(), times, 0), 0);
  EXPECT_TRUE((*b)->still_there());
  EXPECT_TRUE((*b)->note("on it goes", ""));
}

// A backup of yesterday is copied over a book that was not closed: its log must not be written into the copy.
TEST_F(BookFileTest, ALogOfAnotherFileIsRefusedBeforeAByteIsTouched) {
  const std::string kept = path("kept.fortitor"), live = path("live.fortitor");
  ASSERT_TRUE(QFile::copy(QString::fromStdString(book()), QString::fromStdString(live)));
  {
    auto b = Book::open_read_only(book());
    ASSERT_TRUE((*b)->copy_to(kept));
  }
  QByteArray log;
  {
    auto b = Book::open(live, "R. Vale");
    ASSERT_TRUE(b);
    for (int i = 0; i < 20; ++i) ASSERT_TRUE((*b)->note("line " + std::to_string(i), ""));
    log = bytes(live + "-wal");  // as a process that was killed leaves it
  }
  ASSERT_FALSE(log.isEmpty());
  const QByteArray older = bytes(book());  // a book like it, on which that log was never written
  for (const QByteArray& copy : {bytes(kept), older}) {
    put(live, copy);
    put(live + "-wal", log);
    QFile::remove(QString::fromStdString(live + "-shm"));
    const auto opened = Book::open(live, "R. Vale");
    if (!opened) {
      EXPECT_NE(opened.error().message.find("-wal"), std::string::npos) << opened.error().message;
      EXPECT_TRUE(bytes(live) == copy) << "not a byte is touched";
      EXPECT_TRUE(bytes(live + "-wal") == log);
      QFile::remove(QString::fromStdString(live + "-wal"));
      QFile::remove(QString::fromStdString(live + "-shm"));
      auto again = Book::open(live, "R. Vale");
      ASSERT_TRUE(again) << again.error().message;
      EXPECT_TRUE((*again)->verify().empty());
    } else {
      EXPECT_TRUE((*opened)->verify().empty()) << "only a log that fits is taken over";
    }
  }
  EXPECT_FALSE([&] {
    put(live, bytes(kept));
    put(live + "-wal", log);
    return bool(Book::open(live, "R. Vale"));
  }()) << "a backup is told from the book by its head";
  // By a link to it too: the log lies beside the file itself.
  ASSERT_EQ(::symlink(live.c_str(), path("elsewhere.fortitor").c_str()), 0);
  put(live, bytes(kept));
  put(live + "-wal", log);
  EXPECT_FALSE(Book::open(path("elsewhere.fortitor"), "R. Vale"));
  EXPECT_TRUE(bytes(live) == bytes(kept));
  // An empty file beside a log is no new book either.
  put(path("empty.fortitor"), "");
  put(path("empty.fortitor") + "-wal", log);
  EXPECT_FALSE(Book::open(path("empty.fortitor"), "R. Vale"));
  EXPECT_TRUE(bytes(path("empty.fortitor") + "-wal") == log);
}

// What a journal says to SQLite: "roll back to a file of no pages" (sqlite.org/fileformat2.html, 3).
QByteArray journal_of_nothing() {
  QByteArray journal = QByteArray::fromHex(
      "d9d505f920a163d7"
      "00000000"
      "12345678"
      "00000000"
      "00000200"
      "00001000");
  return journal + QByteArray(512 - journal.size(), '\0');
}

TEST_F(BookFileTest, AJournalThatWouldEmptyTheBookIsSetAside) {
  // A copy is written without a log: the one state in which SQLite would believe a journal beside it.
  {
    auto b = Book::open(book(), "R. Vale");
    ASSERT_TRUE(b);
    ASSERT_TRUE((*b)->copy_to(path("copy.fortitor")));
  }
  const std::string copy = path("copy.fortitor"), journal = copy + "-journal";
  put(journal, journal_of_nothing());
  const auto read = Book::open_read_only(copy);
  ASSERT_TRUE(read) << read.error().message;
  const int64_t lines = (*read)->head().lines;
  ASSERT_GT(lines, 3);
  auto b = Book::open(copy, "R. Vale");
  ASSERT_TRUE(b) << b.error().message;
  EXPECT_EQ((*b)->head().lines, lines);
  EXPECT_TRUE((*b)->verify().empty());
  EXPECT_TRUE(bytes(journal + ".aside") == journal_of_nothing()) << "nothing is thrown away";
  ASSERT_FALSE((*b)->notices().empty());
  EXPECT_NE((*b)->notices().at(0).find("-journal.aside"), std::string::npos);
  EXPECT_TRUE((*b)->add_job("J-9", "goes on"));
}

// Not whole, and a journal beside it: neither is touched.
TEST_F(BookFileTest, ADamagedBookBesideAJournalIsLeftAlone) {
  {
    auto b = Book::open(book(), "R. Vale");
    ASSERT_TRUE(b);
    ASSERT_TRUE((*b)->copy_to(path("copy.fortitor")));
  }
  const std::string copy = path("copy.fortitor");
  const QByteArray cut = bytes(copy).chopped(3 * 4096);
  put(copy, cut);
  put(copy + "-journal", journal_of_nothing());
  const auto b = Book::open(copy, "R. Vale");
  ASSERT_FALSE(b);
  EXPECT_NE(b.error().message.find("Nothing was changed"), std::string::npos) << b.error().message;
  EXPECT_TRUE(bytes(copy) == cut);
  EXPECT_TRUE(bytes(copy + "-journal") == journal_of_nothing());
}

// What a kill in the making leaves: no table, or tables in which nothing was ever confirmed.
TEST_F(BookFileTest, ABookThatWasOnlyBegunIsMadeAnew) {
  const std::string fresh = path("fresh.fortitor");
  const auto made = [&] {
    auto b = Book::open(fresh, "R. Vale");
    ASSERT_TRUE(b) << b.error().message;
    EXPECT_TRUE((*b)->verify().empty());
    EXPECT_EQ((*b)->head().lines, 1) << "it begins once";
    EXPECT_TRUE((*b)->notices().empty());
  };
  put(fresh, "");
  put(fresh + "-journal", journal_of_nothing());
  made();
  EXPECT_FALSE(QFile::exists(QString::fromStdString(fresh + "-journal")));
  for (const bool with_journal : {false, true}) {
    {
      QSqlDatabase db = QSqlDatabase::addDatabase("QSQLITE", "begun");
      db.setDatabaseName(QString::fromStdString(fresh));
      ASSERT_TRUE(db.open());
      QSqlQuery q(db);
      ASSERT_TRUE(q.exec("SELECT sql FROM sqlite_master WHERE name = 'logbook_no_delete'") && q.next());
      const QString guard = q.value(0).toString();
      q.finish();
      for (const QString& sql : {QString("DROP TRIGGER logbook_no_delete"), QString("DELETE FROM logbook"), guard,
                                 QString("PRAGMA journal_mode = DELETE")})
        ASSERT_TRUE(q.exec(sql)) << "as before its first line: " << q.lastError().text().toStdString();
      q.finish();
      db.close();
    }
    QSqlDatabase::removeDatabase("begun");
    if (with_journal) put(fresh + "-journal", journal_of_nothing());
    made();
  }
}

TEST_F(BookFileTest, WhatIsNoFileIsRefused) {
  ASSERT_EQ(::mkfifo(path("pipe.fortitor").c_str(), 0600), 0);
  for (const std::string& what :
       {path("pipe.fortitor"), std::string("/dev/zero"), std::string("/dev/null"), folder_.path().toStdString()})
    for (const bool write : {true, false}) {
      const auto b = write ? Book::open(what, "R. Vale") : Book::open_read_only(what);
      ASSERT_FALSE(b) << what;
      EXPECT_NE(b.error().message.find("not a file"), std::string::npos) << b.error().message;
    }
}

}  // namespace
}  // namespace fortitor::book_file_test
