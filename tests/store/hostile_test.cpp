// Files that were made to mislead: refused with a sentence, never run, never hung on.
#include "tests/store/filled_book.h"

namespace fortitor::hostile_test {
namespace {

class Hostile : public testing::Test {
 protected:
  std::string path(const char* name = "h.fortitor") const { return folder_.filePath(name).toStdString(); }
  // Both ways in, with a sentence each time.
  void refused(const std::string& where) {
    for (const bool write : {false, true}) {
      const auto book = write ? Book::open(where, "R. Vale") : Book::open_read_only(where);
      ASSERT_FALSE(book) << where << (write ? " to write" : " to read");
      EXPECT_NE(book.error().message.find(where), std::string::npos) << book.error().message;
    }
  }
  QTemporaryDir folder_;
};

// The books that were found to hang, crash or throw: made with older versions, which are migrated or refused.
TEST_F(Hostile, BooksOfTheReview) {
  for (const char* name : {"recursive_view", "rowcount_wrap", "deep_json"}) {
    const QString source = QString(FORTITOR_TEST_DATA "/review/book/") + name + ".fortitor";
    ASSERT_TRUE(QFile::exists(source)) << name;
    const std::string mine = path((std::string(name) + ".fortitor").c_str());
    ASSERT_TRUE(QFile::copy(source, QString::fromStdString(mine)));
    QFile::setPermissions(QString::fromStdString(mine), QFile::ReadOwner | QFile::WriteOwner);
    auto book = Book::open(mine, "R. Vale");
    if (!book) {
      EXPECT_GT(book.error().message.size(), 20u);
      continue;
    }
    bool said = !(*book)->verify().empty();
    for (const JobRow& j : (*book)->jobs())
      for (const SeriesRow& s : (*book)->series(j.id))
        for (const SpecimenRow& p : (*book)->specimens(s.id))
          if (const auto r = (*book)->record(p.id); !r) said = true;
    EXPECT_TRUE(said) << name << " holds something that must be said";
  }
}

TEST_F(Hostile, TheSchemaIsComparedBeforeAnythingIsRead) {
  const char* scripts[] = {
      // a view in the place of a table, without an end
      "ALTER TABLE job RENAME TO job_old;;CREATE VIEW job AS WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 "
      "FROM n) SELECT i AS id, 'TC' AS code, 'x' AS title, '' AS due FROM n",
      // a generated column that costs an eternity
      "ALTER TABLE specimen ADD COLUMN heavy AS (hex(zeroblob(100000000)))",
      // a trigger that does something else as well
      "CREATE TRIGGER more AFTER INSERT ON logbook BEGIN UPDATE specimen SET verdict = 'meets'; END",
      // a virtual table
      "CREATE VIRTUAL TABLE found USING fts5(text)",
      // a table of the same name with other columns
      "DROP TABLE timer;;CREATE TABLE timer (id INTEGER PRIMARY KEY, specimen_id INTEGER, label, started_at, ends_at, "
      "acknowledged_at)",
      // an index over an expression
      "CREATE INDEX slow ON record (length(json))",
  };
  for (const char* script : scripts) {
    const std::string mine = path();
    for (const char* more : {"", "-wal", "-shm", ".lock"}) QFile::remove(QString::fromStdString(mine) + more);
    { auto made = Book::open(mine, "R. Vale"); }
    {
      QSqlDatabase db = QSqlDatabase::addDatabase("QSQLITE", "hostile");
      db.setDatabaseName(QString::fromStdString(mine));
      ASSERT_TRUE(db.open());
      QSqlQuery q(db);
      bool done = true;
      for (const QString& sql : QString(script).split(";;")) done = done && q.exec(sql);
      if (!done) continue;  // this SQLite cannot even make it
      q.exec("PRAGMA wal_checkpoint(TRUNCATE)");
    }
    QSqlDatabase::removeDatabase("hostile");
    refused(mine);
  }
  QSqlDatabase::removeDatabase("hostile");
}

TEST_F(Hostile, APartThatClaimsMoreRowsThanItHasIsDamaged) {
  fill_book(path());
  for (const char* rows : {"9223372036854775807", "-1", "0", "2305843009213693952", "536870912"}) {
    const std::string mine = path("claims.fortitor");
    for (const char* more : {"", "-wal", "-shm", ".lock"}) QFile::remove(QString::fromStdString(mine) + more);
    ASSERT_TRUE(QFile::copy(QString::fromStdString(path()), QString::fromStdString(mine)));
    outside(mine, QString("UPDATE run_chunk SET row_count = %1 WHERE run_id = 1 AND part = 1").arg(rows));
    auto book = Book::open_read_only(mine);
    ASSERT_TRUE(book);
    EXPECT_FALSE((*book)->samples(1)) << rows;
    EXPECT_FALSE((*book)->verify().empty()) << rows;
  }
  EXPECT_FALSE(Book::check_part("short", "x", 1, "time"));
  EXPECT_FALSE(Book::check_part({}, "", 1, ""));
}

TEST_F(Hostile, AnythingElseIsNoBook) {
  struct Case {
    const char* name;
    QByteArray bytes;
  };
  QByteArray cut;
  {
    fill_book(path("whole.fortitor"));
    QFile whole(QString::fromStdString(path("whole.fortitor")));
    ASSERT_TRUE(whole.open(QIODevice::ReadOnly));
    cut = whole.readAll().left(9000);
  }
  for (const Case& c : {Case{"text.fortitor", "time,force\n0,1\n"}, Case{"zeros.fortitor", QByteArray(8192, '\0')},
                        Case{"cut.fortitor", cut}, Case{"head.fortitor", QByteArray("SQLite format 3\0", 16)}}) {
    QFile file(QString::fromStdString(path(c.name)));
    ASSERT_TRUE(file.open(QIODevice::WriteOnly));
    file.write(c.bytes);
    file.close();
    const auto book = Book::open(path(c.name), "R. Vale");
    ASSERT_FALSE(book) << c.name;
    QFile again(QString::fromStdString(path(c.name)));
    ASSERT_TRUE(again.open(QIODevice::ReadOnly));
    EXPECT_EQ(again.readAll(), c.bytes) << c.name << " is left as it was";
  }
  EXPECT_FALSE(Book::open(path("no/such/folder/b.fortitor"), "R. Vale"));
  EXPECT_FALSE(Book::open_read_only(path("nothing.fortitor")));
  EXPECT_FALSE(Book::open(folder_.path().toStdString(), "R. Vale")) << "a folder";
}

}  // namespace
}  // namespace fortitor::hostile_test
