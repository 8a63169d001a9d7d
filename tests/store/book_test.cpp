#include "store/book.h"

#include <gtest/gtest.h>

#include <QFile>
#include <QSqlDatabase>
#include <QSqlError>
#include <QSqlQuery>
#include <QTemporaryDir>

#include "core/methods/method.h"
#include "core/standin/tension_bench.h"
#include "store/schema.h"
#include "tests/store/filled_book.h"

namespace fortitor::book_test {
namespace {

class BookTest : public testing::Test {
 protected:
  std::string path(const char* name = "b.fortitor") const { return book_at((dir_.path() + "/" + name).toStdString()); }
  std::unique_ptr<Book> open() {
    auto b = Book::open(path(), "R. Vale");
    EXPECT_TRUE(b) << (b ? "" : b.error().message);
    return b ? std::move(*b) : nullptr;
  }
  static Id specimen(Book& b) {
    const auto job = b.add_job("TC-031", "Hanger bolts", "Thursday");
    const auto series = b.add_series(*job, "Tension", "tension-metal");
    TestRecord r;
    r.method = "tension-metal";
    r.job = "TC-031";
    r.fields.set("specimen.id", std::string("HB-01"));
    return *b.add_specimen(*series, "HB-01", r);
  }
  // Runs SQL behind the book's back.
  void sql(const QString& text, const char* name = "b.fortitor") {
    {
      QSqlDatabase db = outside_database("raw", path(name));
      QSqlQuery q(db);
      EXPECT_TRUE(q.exec(text)) << q.lastError().text().toStdString();
    }
    QSqlDatabase::removeDatabase("raw");
  }
  QTemporaryDir dir_;
};

TEST_F(BookTest, KeepsJobsSeriesSpecimensAndRecords) {
  Id id = 0;
  {
    auto b = open();
    id = specimen(*b);
    TestRecord r = *b->record(id);
    r.fields.set("specimen.material", std::string("S355J2"));
    ASSERT_TRUE(b->save_record(id, 0, r, {"1000000", "open", 2}, "material typed"));
  }
  auto b = open();
  ASSERT_EQ(b->jobs().size(), 1u);
  EXPECT_EQ(b->jobs()[0].due, "Thursday");
  const auto row = b->specimen(id);
  ASSERT_TRUE(row);
  EXPECT_EQ(row->stages, "1000000");
  EXPECT_EQ(row->open_judgements, 2);
  EXPECT_EQ(b->record(id)->fields.text("specimen.material"), "S355J2");
  EXPECT_EQ(b->record_version(id), 2);
  EXPECT_TRUE(b->verify().empty());
}

TEST_F(BookTest, TheOutlineIsWhatTheListsSay) {
  auto b = open();
  const Id id = specimen(*b);
  ASSERT_TRUE(b->add_specimen(b->series_of(id).id, "HB-02", *b->record(id)));
  ASSERT_TRUE(b->add_series(b->jobs()[0].id, "Impact", "tension-metal"));
  ASSERT_TRUE(b->add_job("TC-001", "empty"));
  TestRecord r = *b->record(id);
  ASSERT_TRUE(b->save_record(id, 0, r, {"2222222", "meets", 0}, "run"));
  ASSERT_TRUE(b->sign_off(id, b->record_version(id), "{}", "meets"));
  ASSERT_TRUE(b->save_record(id, 0, r, {"2222222", "meets", 0}, "changed after the signature"));
  ASSERT_TRUE(b->sign_off(id, b->record_version(id), "{}", "meets"));
  for (int again = 0; again < 2; ++again) {
    const auto outline = b->outline();
    const auto jobs = b->jobs();
    ASSERT_EQ(outline.size(), jobs.size());
    for (size_t j = 0; j < jobs.size(); ++j) {
      EXPECT_EQ(outline[j].job.code, jobs[j].code);
      const auto series = b->series(jobs[j].id);
      ASSERT_EQ(outline[j].series.size(), series.size());
      for (size_t e = 0; e < series.size(); ++e) {
        const auto pieces = b->specimens(series[e].id);
        ASSERT_EQ(outline[j].series[e].specimens.size(), pieces.size());
        for (size_t s = 0; s < pieces.size(); ++s) {
          EXPECT_EQ(outline[j].series[e].specimens[s].code, pieces[s].code);
          EXPECT_EQ(outline[j].series[e].specimens[s].signed_off, pieces[s].signed_off) << pieces[s].code << again;
        }
      }
    }
    // A version after the signature is not signed.
    ASSERT_TRUE(b->save_record(id, 0, r, {"2222222", "meets", 0}, "changed again"));
  }
}

TEST_F(BookTest, SearchWantsEveryWordSomewhere) {
  auto b = open();
  const Id id = specimen(*b);
  ASSERT_TRUE(b->add_specimen(b->series_of(id).id, "100%_a\\b", *b->record(id)));
  auto found = [&](const char* typed) { return b->search(typed, 10).size(); };
  EXPECT_EQ(found(""), 2u);
  EXPECT_EQ(found("hb"), 1u);
  EXPECT_EQ(found("hb hanger"), 1u);
  EXPECT_EQ(found("TENSION"), 2u);
  EXPECT_EQ(found("hb nothing"), 0u);
  EXPECT_EQ(found("100%"), 1u);
  EXPECT_EQ(found("0_"), 0u) << "a mark, not any letter";
  EXPECT_EQ(found("%_a\\b"), 1u);
  EXPECT_EQ(found("' OR 1=1 --"), 0u);
  EXPECT_EQ(b->search("tc-031", 1).size(), 1u);
  EXPECT_EQ(b->search("hb", 10)[0].job_code, "TC-031");
}

TEST_F(BookTest, RefusesDoublesWithASentence) {
  auto b = open();
  const Id id = specimen(*b);
  EXPECT_EQ(b->add_job("TC-031", "again").error().message, "There is already a job TC-031.");
  EXPECT_FALSE(b->add_job("", "x"));
  TestRecord r;
  r.method = "tension-metal";
  EXPECT_EQ(b->add_specimen(b->series_of(id).id, "HB-01", r).error().message,
            "There is already a specimen HB-01 in this series.");
}

TEST_F(BookTest, RunsComeBackToTheLastBit) {
  auto b = open();
  const Id id = specimen(*b);
  const TestRecord made = standin::simulate_tension({.seed = 3});
  ASSERT_TRUE(b->store_run(id, *made.run.samples(), "file x.csv"));
  ASSERT_TRUE(b->save_record(id, 0, made, {}, "imported"));
  const TestRecord back = *b->record(id);
  for (const Channel& c : made.run.samples()->channels) {
    const auto& got = back.run.samples()->find(c.name)->values;
    ASSERT_EQ(got.size(), c.values.size());
    for (size_t i = 0; i < got.size(); ++i)
      ASSERT_TRUE(got[i] == c.values[i] || (std::isnan(got[i]) && std::isnan(c.values[i]))) << c.name << i;
  }
  EXPECT_EQ(b->runs(id)[0].rows, int64_t(made.run.samples()->size()));
}

TEST_F(BookTest, AClosedRunCannotBeChanged) {
  auto b = open();
  const Id id = specimen(*b);
  const auto run = b->begin_run(id, {"time", "force"}, "x");
  ASSERT_TRUE(b->append_run(*run, {{0, 1}, {5, 6}}));
  ASSERT_TRUE(b->close_run(*run, ""));
  const auto late = b->append_run(*run, {{2}, {7}});
  ASSERT_FALSE(late);
  EXPECT_NE(late.error().message.find("never changed"), std::string::npos);
  EXPECT_EQ((*b->samples(*run))->size(), 2u);
}

TEST_F(BookTest, LogbookIsAppendOnlyAndItsChainTells) {
  {
    auto b = open();
    specimen(*b);
    EXPECT_GE(b->logbook().size(), 4u);
    EXPECT_EQ(b->logbook().front().who, "R. Vale");
  }
  ONLY_IN_A_FILE();  // of a server: shared_tamper_test
  sql("DROP TRIGGER logbook_no_update");
  sql("UPDATE logbook SET what = 'nothing happened' WHERE id = 2");
  EXPECT_FALSE(Book::open_read_only(path())) << "a trigger is missing";
  sql("CREATE TRIGGER logbook_no_update BEFORE UPDATE ON logbook BEGIN SELECT RAISE(ABORT, 'append-only'); END");
  const auto damage = (*Book::open_read_only(path()))->verify();
  ASSERT_EQ(damage.size(), 1u);
  EXPECT_EQ(damage[0].what, "logbook: the chain is broken at line 2");
}

TEST_F(BookTest, LogbookLinesCannotBeTakenOut) {
  {
    auto b = open();
    specimen(*b);
  }
  QSqlDatabase db = outside_database("raw2", path(), false);
  QSqlQuery q(db);
  EXPECT_FALSE(q.exec("DELETE FROM logbook WHERE id = 1"));
  EXPECT_FALSE(q.exec("UPDATE logbook SET who = 'x'"));
}

TEST_F(BookTest, DamagedSamplesAreFound) {
  ONLY_IN_A_FILE();
  Id run = 0;
  {
    auto b = open();
    run = *b->store_run(specimen(*b), *standin::simulate_tension({.seed = 1}).run.samples(), "x");
  }
  sql("UPDATE run_chunk SET columns = zeroblob(length(columns))");
  auto b = open();
  EXPECT_FALSE(b->samples(run));
  const auto damage = b->verify();
  ASSERT_EQ(damage.size(), 1u);
  EXPECT_NE(damage[0].what.find("damaged"), std::string::npos);
}

TEST_F(BookTest, OtherFilesGetASentence) {
  ONLY_IN_A_FILE();
  QFile text(QString::fromStdString(path("notes.fortitor")));
  ASSERT_TRUE(text.open(QIODevice::WriteOnly));
  text.write(QByteArray("dear diary, today we pulled a bar\n").repeated(100));
  text.close();
  const auto bad = Book::open(path("notes.fortitor"), "x");
  ASSERT_FALSE(bad);
  EXPECT_NE(bad.error().message.find("not a job book"), std::string::npos);
  const auto nowhere = Book::open(path("no/such/folder/b.fortitor"), "x");
  ASSERT_FALSE(nowhere);
  EXPECT_NE(nowhere.error().message.find("does not exist"), std::string::npos);
  sql("CREATE TABLE t (x)", "other.fortitor");
  EXPECT_FALSE(Book::open(path("other.fortitor"), "x"));
}

TEST_F(BookTest, TruncatedAndOverwrittenBooksNeverCrash) {
  ONLY_IN_A_FILE();
  {
    auto b = open();
    const Id id = specimen(*b);
    ASSERT_TRUE(b->store_run(id, *standin::simulate_tension({.seed = 1}).run.samples(), "x"));
  }
  QFile whole(QString::fromStdString(path()));
  ASSERT_TRUE(whole.open(QIODevice::ReadOnly));
  const QByteArray good = whole.readAll();
  for (qsizetype cut : {1, 99, 100, 4096, 5000, 40000}) {
    for (bool scribble : {false, true}) {
      QByteArray bad = scribble ? good : good.left(cut);
      if (scribble) bad.replace(cut, std::min<qsizetype>(600, bad.size() - cut), QByteArray(600, '\x5A'));
      const std::string name = path("cut.fortitor");
      QFile::remove(QString::fromStdString(name));
      QFile::remove(QString::fromStdString(name + "-wal"));
      QFile::remove(QString::fromStdString(name + "-shm"));
      QFile out(QString::fromStdString(name));
      ASSERT_TRUE(out.open(QIODevice::WriteOnly));
      out.write(bad);
      out.close();
      const auto b = Book::open(name, "x");
      if (b) {
        (*b)->verify();
      } else {
        EXPECT_GT(b.error().message.size(), 20u);
      }
    }
  }
}

TEST_F(BookTest, NewerBooksAreRefusedUntouched) {
  ONLY_IN_A_FILE();
  open().reset();
  sql("PRAGMA user_version = 99");
  const auto newer = Book::open(path(), "x");
  ASSERT_FALSE(newer);
  EXPECT_NE(newer.error().message.find("newer Fortitor"), std::string::npos);
}

TEST_F(BookTest, OlderBooksAreMigratedAfterACopy) {
  ONLY_IN_A_FILE();
  {
    QSqlDatabase db = QSqlDatabase::addDatabase("QSQLITE", "old");
    db.setDatabaseName(QString::fromStdString(path()));
    ASSERT_TRUE(db.open());
    ASSERT_TRUE(schema::migrate(db, 0, 1));
    QSqlQuery q(db);
    ASSERT_TRUE(q.exec("INSERT INTO job (code, title, due, created_at) VALUES ('OLD-1', 'kept', '', '')"));
  }
  QSqlDatabase::removeDatabase("old");
  auto b = open();
  ASSERT_TRUE(b);
  EXPECT_EQ(b->jobs()[0].code, "OLD-1");
  ASSERT_EQ(b->notices().size(), 1u);
  EXPECT_TRUE(b->remember_mapping("sig", "{}"));  // a table of the newer version
  const auto copy = Book::open_read_only(path("b.v1.fortitor"));
  ASSERT_TRUE(copy);
  EXPECT_EQ((*copy)->jobs()[0].code, "OLD-1");
}

TEST_F(BookTest, InterruptedRunsAreClosedAtTheNextOpening) {
  Id id = 0;
  {
    auto b = open();
    id = specimen(*b);
    const auto run = b->begin_run(id, {"time", "force"}, "x");
    ASSERT_TRUE(b->append_run(*run, {{0, 1}, {5, 6}}));
  }
  auto b = open();
  ASSERT_EQ(b->notices().size(), 1u);
  EXPECT_NE(b->notices()[0].find("HB-01"), std::string::npos);
  EXPECT_TRUE(b->runs(id)[0].interrupted);
  EXPECT_EQ(b->record(id)->run.samples()->size(), 2u);
}

TEST_F(BookTest, ReadOnlyBooksStayAsTheyAre) {
  open().reset();
  auto b = Book::open_read_only(path());
  ASSERT_TRUE(b);
  EXPECT_FALSE((*b)->add_job("X", "y"));
  EXPECT_FALSE(Book::open_read_only(path("none.fortitor")));
}

TEST_F(BookTest, SignatureHoldsForItsVersionOnly) {
  auto b = open();
  const Id id = specimen(*b);
  ASSERT_TRUE(b->sign_off(id, b->record_version(id), "{}", "meets"));
  EXPECT_TRUE(b->specimen(id)->signed_off);
  EXPECT_EQ(b->signature(id)->by, "R. Vale");
  ASSERT_TRUE(b->save_record(id, 0, *b->record(id), {}, "a second thought"));
  EXPECT_FALSE(b->specimen(id)->signed_off);
}

}  // namespace
}  // namespace fortitor::book_test
