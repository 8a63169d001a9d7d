// Whoever has the file can write to it. Whatever is changed behind the book's back, check finds it.
#include "tests/store/filled_book.h"

#include <QCryptographicHash>
#include <random>

namespace fortitor::tamper_test {
namespace {

class Tamper : public testing::Test {
 protected:
  static void SetUpTestSuite() {
    folder_ = new QTemporaryDir;
    fill_book(sound());
  }
  static void TearDownTestSuite() {
    delete folder_;
    folder_ = nullptr;
  }
  static std::string sound() { return folder_->filePath("sound.fortitor").toStdString(); }
  // A fresh copy to do harm to.
  static std::string copy() {
    const QString to = folder_->filePath("harmed.fortitor");
    for (const char* more : {"", "-wal", "-shm", ".lock"}) QFile::remove(to + more);
    EXPECT_TRUE(QFile::copy(QString::fromStdString(sound()), to));
    return to.toStdString();
  }
  // What check says of a book; one that is refused says so.
  static std::vector<Damage> check(const std::string& path) {
    auto book = Book::open_read_only(path);
    if (!book) return {{"refused: " + book.error().message}};
    return (*book)->verify();
  }
  static QTemporaryDir* folder_;
};
QTemporaryDir* Tamper::folder_ = nullptr;

TEST_F(Tamper, ASoundBookIsSound) {
  for (const Damage& d : check(sound())) ADD_FAILURE() << d.what;
  const std::string same = copy();
  outside(same, "UPDATE job SET title = title");
  EXPECT_TRUE(check(same).empty()) << "taking triggers away and putting them back changes nothing";
}

// SQLite keeps any type in any column; what looks the same and is not found by a question is found here.
TEST_F(Tamper, TextKeptAsBytesIsFound) {
  for (const char* sql :
       {"UPDATE logbook SET who = CAST(who AS BLOB)", "UPDATE logbook SET at = CAST(at AS BLOB)",
        "UPDATE logbook SET what = CAST(what AS BLOB) WHERE what = 'signed off'",
        "UPDATE logbook SET specimen = CAST(specimen AS BLOB)", "UPDATE logbook SET detail = CAST(detail AS BLOB)",
        "UPDATE logbook SET seals = CAST(seals AS BLOB)",
        "UPDATE logbook SET hash = CAST(hash AS BLOB), previous = CAST(previous AS BLOB)",
        "UPDATE seal SET sha256 = CAST(sha256 AS BLOB)", "UPDATE run_chunk SET sha256 = CAST(sha256 AS BLOB)",
        "UPDATE job SET title = CAST(title AS BLOB)", "UPDATE specimen SET open_judgements = '1x' WHERE id = 2"}) {
    const std::string harmed = copy();
    outside(harmed, sql);
    EXPECT_FALSE(check(harmed).empty()) << sql;
  }
}

TEST_F(Tamper, SealsAndTheMarkOfTheFileAreHeldToo) {
  for (const char* sql : {"UPDATE seal SET line = 1", "UPDATE seal SET line = (SELECT MAX(id) FROM logbook)",
                          "UPDATE seal SET sha256 = upper(sha256) WHERE subject LIKE 'record/%'",
                          "INSERT INTO seal SELECT 'record/99999', sha256, line FROM seal WHERE subject = 'record/1'",
                          "PRAGMA application_id = 0"}) {
    const std::string harmed = copy();
    outside(harmed, sql);
    EXPECT_FALSE(check(harmed).empty()) << sql;
  }
}

// Whoever changes a row can change its seal too: what is said of a piece is held against the logbook itself.
TEST_F(Tamper, APieceIsHeldAgainstTheLogbook) {
  const auto said = [](const std::string& path, Id piece) {
    auto book = Book::open_read_only(path);
    std::string all;
    if (!book) return "refused: " + book.error().message;
    for (const Damage& d : (*book)->verify_piece(piece)) all += d.what + "\n";
    return all;
  };
  for (Id piece : {1, 2, 3}) EXPECT_EQ(said(sound(), piece), "");
  struct Case {
    const char* sql;
    Id piece;
    const char* word;
  };
  for (const Case& c : std::initializer_list<Case>{
           {"UPDATE job SET title = 'For another customer' WHERE id = 1", 2, "its job"},
           {"UPDATE series SET title = 'Bars of another melt' WHERE id = 1", 2, "its series"},
           {"UPDATE series_record SET json = replace(json, 'series', 'serie')", 1, "what holds for its series"},
           {"UPDATE specimen SET verdict = 'fails' WHERE id = 1", 1, "the piece itself"},
           {"DELETE FROM signature WHERE specimen_id = 1", 1, "a signature"},
           {"DELETE FROM record WHERE specimen_id = 3 AND version = 2", 3, "gone"},
           {"DELETE FROM record WHERE specimen_id = 1 AND version = 1", 1, "gone"},
           {"UPDATE timer SET ends_at = '2026-11-24T10:00:00Z'", 3, "its timer"},
           {"UPDATE record SET json = replace(json, 'mm', 'cm') WHERE specimen_id = 1 AND version = 1", 1, "a version"},
           {"UPDATE record SET json = json || ' ' WHERE id = 4;;UPDATE seal SET sha256 = 'ab' WHERE subject = "
            "'record/4'",
            2, "a version"}}) {
    const std::string harmed = copy();
    outside(harmed, c.sql);
    EXPECT_NE(said(harmed, c.piece).find(c.word), std::string::npos) << c.sql << ": " << said(harmed, c.piece);
  }
}

TEST_F(Tamper, EveryChangeOfARowIsFound) {
  const std::vector<const char*> all = {
      // jobs, series, specimens
      "UPDATE job SET title = 'Something else' WHERE code = 'TC-041'",
      "UPDATE job SET due = 'Friday' WHERE code = 'TC-041'",
      "UPDATE job SET code = 'TC-043' WHERE code = 'TC-042'",
      "DELETE FROM job WHERE code = 'TC-042'",
      "INSERT INTO job (code, title, due, created_at) VALUES ('TC-099', 'invented', '', '')",
      "UPDATE series SET title = 'Tension, flat bar'",
      "UPDATE series SET method = 'tension-plastic'",
      "UPDATE specimen SET verdict = 'fails' WHERE code = 'HB-02'",
      "UPDATE specimen SET open_judgements = 0 WHERE code = 'HB-02'",
      "UPDATE specimen SET code = 'HB-09' WHERE code = 'HB-03'",
      "UPDATE specimen SET stages = '2222222' WHERE code = 'HB-03'",
      "INSERT INTO specimen (series_id, code, stages, verdict, open_judgements) VALUES (1, 'HB-10', '', '', 0)",
      // records
      "UPDATE record SET json = replace(json, '50', '51') WHERE version = 2 AND specimen_id = 2",
      "UPDATE record SET saved_at = '2020-01-01T00:00:00.000Z' WHERE version = 1 AND specimen_id = 2",
      "UPDATE record SET run_id = NULL WHERE version = 2 AND specimen_id = 2",
      "UPDATE record SET run_id = 1 WHERE version = 2 AND specimen_id = 2",
      "UPDATE record SET version = 9 WHERE version = 2 AND specimen_id = 2",
      "DELETE FROM record WHERE version = 1 AND specimen_id = 2",
      "INSERT INTO record (specimen_id, version, json, run_id, saved_at) SELECT specimen_id, 3, json, run_id, saved_at "
      "FROM record WHERE id = 2",
      // runs
      "UPDATE run SET stopped = 'by hand' WHERE id = 2",
      "UPDATE run SET channels = 'time,force,crosshead,extension' WHERE id = 2",
      "UPDATE run SET started_at = '2020-01-01T00:00:00.000Z' WHERE id = 2",
      "UPDATE run SET interrupted = 1 WHERE id = 2",
      "UPDATE run SET specimen_id = 3 WHERE id = 2",
      "UPDATE run SET source = 'universal frame' WHERE id = 2",
      "UPDATE run SET closed_at = '' WHERE id = 2",
      "DELETE FROM run_chunk WHERE run_id = 2 AND part = 3",
      "DELETE FROM run_chunk WHERE run_id = 2 AND part = 2;;UPDATE run_chunk SET part = 2 WHERE run_id = 2 AND part = "
      "3",
      "UPDATE run_chunk SET part = 9 WHERE run_id = 2 AND part = 1;;UPDATE run_chunk SET part = 1 WHERE run_id = 2 AND "
      "part = 2;;UPDATE run_chunk SET part = 2 WHERE run_id = 2 AND part = 9",
      "INSERT INTO run_chunk SELECT 2, 4, row_count, columns, sha256 FROM run_chunk WHERE run_id = 1 AND part = 1",
      "UPDATE run_chunk SET columns = (SELECT columns FROM run_chunk WHERE run_id = 3 AND part = 1), sha256 = (SELECT "
      "sha256 FROM run_chunk WHERE run_id = 3 AND part = 1), row_count = (SELECT row_count FROM run_chunk WHERE run_id "
      "= 3 AND part = 1) WHERE run_id = 2 AND part = 1",
      "UPDATE run_chunk SET columns = x'00' WHERE run_id = 2 AND part = 1",
      "UPDATE run_chunk SET row_count = row_count - 1 WHERE run_id = 2 AND part = 1",
      "UPDATE run_chunk SET run_id = 3, part = 7 WHERE run_id = 2 AND part = 3",
      // evaluations and signatures
      "UPDATE evaluation SET json = replace(json, 'meets', 'fails')",
      "DELETE FROM evaluation",
      "UPDATE signature SET signed_by = 'M. Orr'",
      "UPDATE signature SET verdict = 'fails'",
      "UPDATE signature SET signed_at = '2020-01-01T00:00:00.000Z'",
      "UPDATE signature SET record_version = 1",
      "DELETE FROM signature",
      "INSERT INTO signature (specimen_id, record_version, verdict, signed_by, signed_at) VALUES (2, 2, 'meets', 'R. "
      "Vale', '2026-11-25T08:00:00.000Z')",
      "INSERT INTO signature (specimen_id, record_version, verdict, signed_by, signed_at, evaluation_id, "
      "record_sha256, "
      "run_sha256, evaluation_sha256) SELECT 2, 2, verdict, signed_by, signed_at, evaluation_id, record_sha256, "
      "run_sha256, evaluation_sha256 FROM signature",
      // timers, settings, mappings, series settings, equipment
      "UPDATE spectrum SET title = 'Gauge 2'",
      "DELETE FROM spectrum_record",
      "UPDATE spectrum_record SET results = replace(results, '2.05e-5', '2.05e-6')",
      "UPDATE spectrum_record SET json = '{}'",
      "INSERT INTO spectrum (job_id, title) VALUES (1, 'invented')",
      "UPDATE timer SET ends_at = '2026-11-24T09:00:00.000Z'",
      "DELETE FROM timer",
      "UPDATE setting SET value = 'us' WHERE key = 'units'",
      "DELETE FROM setting WHERE key = 'units'",
      "INSERT INTO setting (key, value) VALUES ('operator', 'nobody')",
      "UPDATE column_mapping SET json = '{\"force\":\"time\"}'",
      "UPDATE series_record SET json = replace(json, '{', '{ ')",
      "DELETE FROM series_record",
      "INSERT INTO equipment (kind, name, json) VALUES ('load cell', 'LC-9', '{}')",
      // the logbook itself
      "UPDATE logbook SET what = 'nothing happened' WHERE id = 3",
      "UPDATE logbook SET who = 'M. Orr' WHERE id = 5",
      "UPDATE logbook SET seals = '' WHERE id = 6",
      "UPDATE logbook SET seals = NULL WHERE id = 6",
      "DELETE FROM logbook WHERE id = 4",
      "DELETE FROM logbook WHERE id = (SELECT MAX(id) FROM logbook WHERE seals <> '');;DELETE FROM logbook WHERE id > "
      "(SELECT MAX(id) FROM logbook WHERE id < 12)",
      "UPDATE logbook SET id = id + 1000 WHERE id = (SELECT MAX(id) FROM logbook)",
      "INSERT INTO logbook (at, who, what, specimen, detail, previous, hash, seals) SELECT at, who, 'all is well', "
      "specimen, detail, hash, hash, '' FROM logbook ORDER BY id DESC LIMIT 1",
      "DELETE FROM seal WHERE subject = 'record/2'",
      "UPDATE seal SET sha256 = (SELECT sha256 FROM seal WHERE subject = 'record/1') WHERE subject = 'record/2'",
      "DELETE FROM seal;;DELETE FROM logbook",
      // the schema
      "ALTER TABLE job ADD COLUMN extra TEXT",
      "CREATE TABLE more (id INTEGER)",
      "CREATE INDEX fast ON record (saved_at)",
      "CREATE VIEW spec AS SELECT * FROM specimen",
      "CREATE TRIGGER quiet AFTER INSERT ON record BEGIN DELETE FROM seal; END",
      "DROP INDEX record_by_specimen",
      "PRAGMA user_version = 3",
      "PRAGMA user_version = 0",
  };
  ASSERT_GE(all.size(), 60u);
  for (const char* sql : all) {
    const std::string path = copy();
    outside(path, sql);
    EXPECT_FALSE(check(path).empty()) << sql;
  }
}

TEST_F(Tamper, TakenAwayTriggersAreFound) {
  for (const char* name : {"logbook_no_update", "logbook_no_delete", "run_chunk_closed"}) {
    const std::string path = copy();
    {
      QSqlDatabase db = QSqlDatabase::addDatabase("QSQLITE", "trigger");
      db.setDatabaseName(QString::fromStdString(path));
      ASSERT_TRUE(db.open());
      QSqlQuery q(db);
      ASSERT_TRUE(q.exec(QString("DROP TRIGGER ") + name));
    }
    QSqlDatabase::removeDatabase("trigger");
    const auto book = Book::open_read_only(path);
    ASSERT_FALSE(book) << name;
    EXPECT_NE(book.error().message.find(name), std::string::npos) << book.error().message;
    EXPECT_FALSE(Book::open(path, "R. Vale")) << "not opened to write either";
  }
}

// The one change that a book cannot tell by itself: all of it written anew. A head noted elsewhere tells it.
TEST_F(Tamper, AChainWrittenAnewIsToldByAnEarlierHead) {
  const ChainHead head = (*Book::open_read_only(sound()))->head();
  ASSERT_EQ(head.hash.size(), 64u);
  const std::string path = copy();
  // Somebody with all of the program's means: another title, sealed and chained again from that line on.
  outside(path, "UPDATE job SET title = 'Something else' WHERE code = 'TC-041'");
  {
    QSqlDatabase db = QSqlDatabase::addDatabase("QSQLITE", "anew");
    db.setDatabaseName(QString::fromStdString(path));
    ASSERT_TRUE(db.open());
    QSqlQuery q(db);
    for (const char* t : {"DROP TRIGGER logbook_no_update", "DROP TRIGGER logbook_no_delete"}) ASSERT_TRUE(q.exec(t));
    // The row's hash as the store computes it: type, length, bytes.
    ASSERT_TRUE(q.exec("SELECT * FROM job WHERE id = 1"));
    ASSERT_TRUE(q.next());
    QCryptographicHash row(QCryptographicHash::Sha256);
    for (int i = 0; i < q.record().count(); ++i) {
      const QByteArray bytes = q.value(i).toString().toUtf8();
      row.addData(QByteArray(1, i == 0 ? 'i' : 't') + QByteArray::number(bytes.size()) + ':' + bytes);
    }
    const QString hash = row.result().toHex();
    ASSERT_TRUE(q.exec("UPDATE seal SET sha256 = '" + hash + "' WHERE subject = 'job/1'"));
    struct Line {
      qlonglong id;
      QStringList fields;
    };
    std::vector<Line> lines;
    ASSERT_TRUE(q.exec("SELECT id, at, who, what, specimen, detail, seals FROM logbook ORDER BY id"));
    while (q.next()) {
      Line l{q.value(0).toLongLong(), {}};
      for (int i = 1; i <= 6; ++i) l.fields << q.value(i).toString();
      if (l.fields[5].contains("job/1 ")) l.fields[5] = "job/1 " + hash + "\n";
      lines.push_back(l);
    }
    q.finish();
    QString previous = "";
    q.prepare("UPDATE logbook SET seals = ?, previous = ?, hash = ? WHERE id = ?");
    for (const Line& l : lines) {
      QCryptographicHash h(QCryptographicHash::Sha256);
      h.addData(previous.toUtf8());
      for (const QString& f : l.fields) h.addData(QByteArray(1, '\0') + f.toUtf8());
      const QString mine = h.result().toHex();
      q.bindValue(0, l.fields[5]);
      q.bindValue(1, previous);
      q.bindValue(2, mine);
      q.bindValue(3, l.id);
      ASSERT_TRUE(q.exec());
      previous = mine;
    }
    for (const char* t :
         {"CREATE TRIGGER logbook_no_update BEFORE UPDATE ON logbook BEGIN SELECT RAISE(ABORT, 'append-only'); END",
          "CREATE TRIGGER logbook_no_delete BEFORE DELETE ON logbook BEGIN SELECT RAISE(ABORT, 'append-only'); END"})
      ASSERT_TRUE(q.exec(t));
    q.exec("PRAGMA wal_checkpoint(TRUNCATE)");
  }
  QSqlDatabase::removeDatabase("anew");
  auto book = Book::open_read_only(path);
  ASSERT_TRUE(book) << book.error().message;
  EXPECT_TRUE((*book)->verify().empty()) << "if this ever fails, so much the better: " << (*book)->verify()[0].what;
  EXPECT_FALSE((*book)->check_head(head));
  EXPECT_TRUE((*Book::open_read_only(sound()))->check_head(head));
  EXPECT_TRUE((*Book::open_read_only(sound()))->check_head({0, head.hash}));
  EXPECT_FALSE((*Book::open_read_only(sound()))->check_head({head.lines - 1, head.hash}));
}

TEST_F(Tamper, AHeadStaysTrueWhenTheBookGoesOn) {
  const std::string path = copy();
  const ChainHead before = (*Book::open_read_only(path))->head();
  auto book = Book::open(path, "M. Orr");
  ASSERT_TRUE(book) << book.error().message;
  ASSERT_TRUE((*book)->note("went on", ""));
  EXPECT_GT((*book)->head().lines, before.lines);
  EXPECT_NE((*book)->head().hash, before.hash);
  EXPECT_TRUE((*book)->check_head(before));
}

// A piece whose stored bytes are not what was written is not evaluated, shown or printed.
TEST_F(Tamper, AHarmedPieceIsRefusedWithASentence) {
  struct Case {
    const char* sql;
    Id piece;
  };
  for (const Case& c :
       {Case{"UPDATE record SET json = replace(json, 'HB-02', 'HB-20') WHERE specimen_id = 2 AND version = 2", 2},
        Case{"UPDATE run SET channels = 'time,extension,force,crosshead' WHERE id = 2", 2},
        Case{"DELETE FROM run_chunk WHERE run_id = 2 AND part = 3", 2},
        Case{"UPDATE run_chunk SET columns = x'0011' WHERE run_id = 2 AND part = 1", 2}}) {
    const std::string path = copy();
    outside(path, c.sql);
    auto book = Book::open_read_only(path);
    ASSERT_TRUE(book);
    const auto record = (*book)->record(c.piece);
    ASSERT_FALSE(record) << c.sql;
    EXPECT_GT(record.error().message.size(), 20u);
    EXPECT_TRUE((*book)->record(3)) << "the others are as they were";
  }
}

// Random bit flips over the whole file: what changes the content is found or refused.
TEST_F(Tamper, BitFlipsThatChangeContentAreFound) {
  QFile file(QString::fromStdString(sound()));
  ASSERT_TRUE(file.open(QIODevice::ReadOnly));
  const QByteArray whole = file.readAll();
  const QByteArray content = content_of(sound());
  const int rounds = qEnvironmentVariableIntValue("FORTITOR_SOAK") > 0 ? 5000 : 500;
  std::mt19937 random(20261125);
  int changed = 0, seen = 0;
  for (int round = 0; round < rounds; ++round) {
    const std::string path = copy();
    QByteArray bytes = whole;
    const qsizetype at = qsizetype(random() % uint32_t(bytes.size()));
    bytes[at] = char(bytes[at] ^ (1 << (random() % 8)));
    QFile harmed(QString::fromStdString(path));
    ASSERT_TRUE(harmed.open(QIODevice::WriteOnly));
    harmed.write(bytes);
    harmed.close();
    if (content_of(path) == content) continue;
    ++changed;
    const bool found = !check(path).empty();
    seen += found;
    EXPECT_TRUE(found) << "bit flip in byte " << at;
  }
  EXPECT_GT(changed, rounds / 4) << "or nothing was tried";
  EXPECT_EQ(seen, changed);
}

}  // namespace
}  // namespace fortitor::tamper_test
