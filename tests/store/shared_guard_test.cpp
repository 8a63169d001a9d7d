// What a server itself refuses, to roles and to the book's owner, and what check finds when somebody got past that.
#include <gtest/gtest.h>

#include "store/papers.h"
#include "store/shared.h"
#include "tests/store/filled_book.h"

namespace fortitor::shared_guard_test {
namespace {

class SharedGuard : public testing::Test {
 protected:
  void SetUp() override {
    if (!on_server()) GTEST_SKIP() << "ctest runs it as Shared.Books";
    name_ = SharedServer::fresh();
    const auto made = set_up_shared(address(), "R. Vale", {});
    ASSERT_TRUE(made) << made.error().message;
    fill_book(address());
    for (const char* role : {"reads", "tests", "signs", "keeps"}) {
      const QString login = name_ + "_who_" + role;
      SharedServer::run("postgres", {"CREATE ROLE " + login + " LOGIN IN ROLE " + name_ + "_" + role});
    }
  }
  std::string address() const { return SharedServer::one().address(name_); }
  std::string as(const char* role) const { return SharedServer::one().address(name_, name_ + "_who_" + role); }
  /// What the server says to a statement; empty: it did it.
  std::string tries(const QString& user, const QString& sql, bool past_triggers = false) {
    std::string out;
    {
      QSqlDatabase db = QSqlDatabase::addDatabase("QPSQL", "tries");
      db.setHostName(SharedServer::one().folder());
      db.setUserName(user);
      db.setDatabaseName(name_);
      EXPECT_TRUE(db.open());
      QSqlQuery q(db);
      if (past_triggers) {
        EXPECT_TRUE(q.exec("SET session_replication_role = replica"));
      }
      if (!q.exec(sql)) out = q.lastError().text().toStdString();
    }
    QSqlDatabase::removeDatabase("tries");
    return out;
  }
  QString name_;
};

TEST_F(SharedGuard, RolesAreRefusedWhatIsNotTheirs) {
  const char* never[] = {"UPDATE record SET json = '{}'",
                         "DELETE FROM record",
                         "UPDATE run SET closed_at = ''",
                         "DELETE FROM run",
                         "UPDATE run_chunk SET row_count = 1",
                         "DELETE FROM run_chunk",
                         "UPDATE seal SET sha256 = ''",
                         "DELETE FROM seal",
                         "INSERT INTO seal VALUES ('a', 'b', 1)",
                         "UPDATE logbook SET what = ''",
                         "DELETE FROM logbook",
                         "TRUNCATE logbook",
                         "DROP TABLE record",
                         "ALTER TABLE record DISABLE TRIGGER ALL",
                         "SET session_replication_role = replica",
                         "DELETE FROM signature",
                         "UPDATE signature SET signed_by = ''",
                         "UPDATE evaluation SET json = '{}'",
                         "DELETE FROM document",
                         "UPDATE document SET bytes = ''",
                         "DELETE FROM specimen",
                         "DELETE FROM job",
                         "UPDATE job SET title = ''",
                         "CREATE TABLE mine (n INTEGER)",
                         "UPDATE book_mark SET version = 1",
                         "CREATE OR REPLACE FUNCTION append_only() RETURNS trigger LANGUAGE sql AS ''"};
  for (const char* role : {"reads", "tests", "signs", "keeps"})
    for (const char* sql : never) EXPECT_NE(tries(name_ + "_who_" + role, sql), "") << role << ": " << sql;
  const struct {
    const char* role;
    std::vector<const char*> refused;
  } own[] = {
      {"reads",
       {"INSERT INTO job (code, title, due, created_at) VALUES ('a', 'b', '', '')", "UPDATE setting SET value = ''",
        "UPDATE specimen SET verdict = 'meets'", "SELECT close_run('', '', 0, 1)"}},
      {"tests",
       {"INSERT INTO evaluation (record_id, json, saved_at) VALUES (1, '{}', '')",
        "INSERT INTO signature (specimen_id, record_version, verdict, signed_by, signed_at) VALUES (1, 1, '', '', '')",
        "INSERT INTO equipment (kind, name, json) VALUES ('frame', 'x', '{}')",
        "INSERT INTO entry (kind, name, json) VALUES ('person', 'x', '{}')"}},
      {"signs",
       {"INSERT INTO run (specimen_id, started_at, source, channels) VALUES (1, '', '', '')",
        "INSERT INTO equipment (kind, name, json) VALUES ('frame', 'x', '{}')", "SELECT close_run('', '', 0, 1)"}},
      {"keeps",
       {"INSERT INTO run (specimen_id, started_at, source, channels) VALUES (1, '', '', '')",
        "INSERT INTO signature (specimen_id, record_version, verdict, signed_by, signed_at) VALUES (1, 1, '', '', "
        "'')"}}};
  for (const auto& [role, refused] : own)
    for (const char* sql : refused) EXPECT_NE(tries(name_ + "_who_" + role, sql), "") << role << ": " << sql;
  EXPECT_EQ(damage_of(address()), "");
}

TEST_F(SharedGuard, RolesDoWhatIsTheirs) {
  auto reads = Book::open(as("reads"), "A. Looker");
  ASSERT_TRUE(reads) << reads.error().message;
  EXPECT_TRUE((*reads)->read_only());
  EXPECT_EQ((*reads)->notices().front(), "This book is opened to read: your role on the server reads only.");
  EXPECT_FALSE((*reads)->add_job("TC-060", "Not theirs"));
  EXPECT_EQ((*reads)->outline().size(), 2u);
  {
    auto tests = Book::open(as("tests"), "M. Orr");
    ASSERT_TRUE(tests) << tests.error().message;
    const auto job = (*tests)->add_job("TC-060", "Theirs");
    ASSERT_TRUE(job) << job.error().message;
    const auto series = (*tests)->add_series(*job, "Tension", "tension-metal");
    TestRecord r = standin::simulate_tension({.seed = 7});
    const auto id = (*tests)->add_specimen(*series, "HB-09", r);
    ASSERT_TRUE(id) << id.error().message;
    const auto run = (*tests)->store_run(*id, *r.run.samples(), "a file");
    ASSERT_TRUE(run) << run.error().message;
    ASSERT_TRUE((*tests)->save_record(*id, 1, r, {"1111100", "meets", 0}, "run kept"));
    const auto refused = (*tests)->sign_off(*id, 2, "{}", "meets");
    ASSERT_FALSE(refused);
    EXPECT_NE(refused.error().message.find("refuses it to this role"), std::string::npos) << refused.error().message;
    auto signs = Book::open(as("signs"), "N. Ext");
    ASSERT_TRUE(signs) << signs.error().message;
    const auto read = (*signs)->record(*id);
    const auto signature =
        (*signs)->sign_off(*id, 2, evaluation_to_json(methods::evaluate(*read), read->fields, -1), "meets");
    ASSERT_TRUE(signature) << signature.error().message;
  }
  auto keeps = Book::open(as("keeps"), "R. Vale");
  ASSERT_TRUE(keeps) << keeps.error().message;
  kit::Item item;
  item.kind = "frame";
  item.fields.set(item.path("id"), std::string("F-9"));
  const auto kept = (*keeps)->save_item(item, "frame F-9 added");
  ASSERT_TRUE(kept) << kept.error().message;
  EXPECT_EQ(damage_of(address()), "");
}

TEST_F(SharedGuard, TheOwnerToo) {
  for (const char* sql :
       {"UPDATE record SET json = '{}'", "DELETE FROM record", "TRUNCATE record CASCADE",
        "UPDATE run SET closed_at = ''", "UPDATE run SET source = 'x'", "DELETE FROM run", "TRUNCATE run CASCADE",
        "UPDATE run_chunk SET row_count = 1", "UPDATE logbook SET what = 'x'", "DELETE FROM logbook",
        "TRUNCATE logbook CASCADE", "UPDATE signature SET signed_by = 'x'", "UPDATE evaluation SET json = '{}'",
        "INSERT INTO logbook (id, at, who, what, specimen, detail, previous, hash) VALUES (2, '', '', '', "
        "'', '', '', '')",
        "INSERT INTO run_chunk VALUES (1, 99, 1, '', '')"})
    EXPECT_NE(tries("keeper", sql), "") << sql;
  EXPECT_EQ(damage_of(address()), "");
}

// Whoever owns the server can get past everything but the chain.
TEST_F(SharedGuard, CheckFindsWhatTheOwnerDidPastTheTriggers) {
  const char* ways[] = {
      "UPDATE job SET title = 'Other bolts' WHERE id = 1",
      "UPDATE specimen SET verdict = 'fails' WHERE id = 2",
      "UPDATE record SET json = replace(json, 'HB-01', 'HB-00') WHERE id = 2",
      "DELETE FROM record WHERE id = 4",
      "UPDATE run SET source = 'another frame' WHERE id = 1",
      "UPDATE run_chunk SET columns = set_byte(columns, 20, get_byte(columns, 20) # 1) WHERE run_id = 1 AND part = 1",
      "DELETE FROM run_chunk WHERE run_id = 1 AND part = 2",
      "UPDATE evaluation SET json = json || ' '",
      "UPDATE signature SET signed_by = 'M. Orr'",
      "DELETE FROM signature",
      "UPDATE logbook SET who = 'M. Orr' WHERE id = 3",
      "DELETE FROM logbook WHERE id > 4",
      "DELETE FROM logbook WHERE id = 4",
      "UPDATE seal SET sha256 = repeat('0', 64) WHERE subject = 'record/2'",
      "DELETE FROM seal WHERE subject = 'record/2'",
      "UPDATE timer SET ends_at = '2027-01-01T00:00:00.000Z'",
      "UPDATE setting SET value = 'inch' WHERE key = 'units'",
      "INSERT INTO job (code, title, due, created_at) VALUES ('TC-100', 'Never opened', '', '')",
      "INSERT INTO record (specimen_id, version, json, saved_at) SELECT specimen_id, 9, json, saved_at FROM record "
      "WHERE id = 2",
      "UPDATE series_record SET json = '{}'",
      "UPDATE spectrum_record SET results = '{}'",
      "ALTER TABLE record DISABLE TRIGGER record_append_only",
      "DROP TRIGGER logbook_append_only ON logbook",
      "CREATE TRIGGER mine BEFORE INSERT ON record FOR EACH ROW EXECUTE FUNCTION append_only()",
      "CREATE OR REPLACE FUNCTION append_only() RETURNS trigger LANGUAGE plpgsql AS 'BEGIN RETURN NULL; END'",
      "CREATE RULE mine AS ON INSERT TO record DO INSTEAD NOTHING",
      "CREATE VIEW mine AS SELECT * FROM record",
      "ALTER TABLE record ADD COLUMN mine TEXT",
      "ALTER TABLE job ALTER COLUMN due DROP NOT NULL",
      "ALTER TABLE record DROP CONSTRAINT record_specimen_id_fkey",
      "CREATE TABLE mine (n BIGINT)"};
  ASSERT_EQ(damage_of(address()), "");
  for (const char* way : ways) {
    const QString copy = name_ + "_copy";
    SharedServer::run("postgres", {"CREATE DATABASE " + copy + " TEMPLATE " + name_});
    const QString kept = std::exchange(name_, copy);
    ASSERT_EQ(damage_of(address()), "");
    ASSERT_EQ(tries("keeper", way, true), "") << way;
    EXPECT_NE(damage_of(address()), "") << way;
    name_ = kept;
    SharedServer::run("postgres", {"DROP DATABASE " + copy});
  }
}

}  // namespace
}  // namespace fortitor::shared_guard_test
