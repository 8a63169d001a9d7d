#include "store/schema.h"

#include <QAtomicInt>
#include <QSqlError>
#include <QSqlQuery>
#include <QStringList>
#include <set>
#include <vector>

#include "store/engine.h"

namespace fortitor::schema {
namespace {

// One entry a version; an entry once released is never edited, only followed by another.
const std::vector<QStringList>& steps() {
  static const std::vector<QStringList> all = {
      {
          "CREATE TABLE job (id INTEGER PRIMARY KEY, code TEXT NOT NULL UNIQUE, title TEXT NOT NULL, due TEXT NOT NULL,"
          " created_at TEXT NOT NULL)",
          "CREATE TABLE series (id INTEGER PRIMARY KEY, job_id INTEGER NOT NULL REFERENCES job(id), title TEXT NOT "
          "NULL,"
          " method TEXT NOT NULL)",
          "CREATE TABLE specimen (id INTEGER PRIMARY KEY, series_id INTEGER NOT NULL REFERENCES series(id),"
          " code TEXT NOT NULL, stages TEXT NOT NULL, verdict TEXT NOT NULL, open_judgements INTEGER NOT NULL,"
          " UNIQUE (series_id, code))",
          "CREATE TABLE run (id INTEGER PRIMARY KEY, specimen_id INTEGER NOT NULL REFERENCES specimen(id),"
          " started_at TEXT NOT NULL, closed_at TEXT NOT NULL DEFAULT '', source TEXT NOT NULL, channels TEXT NOT NULL,"
          " stopped TEXT NOT NULL DEFAULT '', interrupted INTEGER NOT NULL DEFAULT 0)",
          "CREATE TABLE run_chunk (run_id INTEGER NOT NULL REFERENCES run(id), part INTEGER NOT NULL,"
          " row_count INTEGER NOT NULL, columns BLOB NOT NULL, sha256 TEXT NOT NULL, PRIMARY KEY (run_id, part))",
          "CREATE TABLE record (id INTEGER PRIMARY KEY, specimen_id INTEGER NOT NULL REFERENCES specimen(id),"
          " version INTEGER NOT NULL, json TEXT NOT NULL, run_id INTEGER REFERENCES run(id), saved_at TEXT NOT NULL,"
          " UNIQUE (specimen_id, version))",
          "CREATE TABLE evaluation (id INTEGER PRIMARY KEY, record_id INTEGER NOT NULL REFERENCES record(id),"
          " json TEXT NOT NULL, saved_at TEXT NOT NULL)",
          "CREATE TABLE signature (id INTEGER PRIMARY KEY, specimen_id INTEGER NOT NULL REFERENCES specimen(id),"
          " record_version INTEGER NOT NULL, verdict TEXT NOT NULL, signed_by TEXT NOT NULL, signed_at TEXT NOT NULL)",
          "CREATE TABLE equipment (id INTEGER PRIMARY KEY, kind TEXT NOT NULL, name TEXT NOT NULL, json TEXT NOT NULL)",
          "CREATE TABLE setting (key TEXT PRIMARY KEY, value TEXT NOT NULL)",
          "CREATE TABLE logbook (id INTEGER PRIMARY KEY, at TEXT NOT NULL, who TEXT NOT NULL, what TEXT NOT NULL,"
          " specimen TEXT NOT NULL, detail TEXT NOT NULL, previous TEXT NOT NULL, hash TEXT NOT NULL)",
          // Append-only, whatever writes to the file.
          "CREATE TRIGGER logbook_no_update BEFORE UPDATE ON logbook BEGIN SELECT RAISE(ABORT, 'append-only'); END",
          "CREATE TRIGGER logbook_no_delete BEFORE DELETE ON logbook BEGIN SELECT RAISE(ABORT, 'append-only'); END",
          "CREATE TRIGGER run_chunk_closed BEFORE INSERT ON run_chunk WHEN (SELECT closed_at FROM run WHERE id = "
          "NEW.run_id) <> ''"
          " BEGIN SELECT RAISE(ABORT, 'a closed run is never changed'); END",
          "CREATE INDEX record_by_specimen ON record (specimen_id, version)",
      },
      {
          "CREATE TABLE timer (id INTEGER PRIMARY KEY, specimen_id INTEGER NOT NULL REFERENCES specimen(id),"
          " label TEXT NOT NULL, started_at TEXT NOT NULL, ends_at TEXT NOT NULL, acknowledged_at TEXT NOT NULL "
          "DEFAULT '')",
          "CREATE TABLE column_mapping (signature TEXT PRIMARY KEY, json TEXT NOT NULL)",
      },
      {
          // A run may have named parts; a series keeps its own settings and answers, version by version.
          "ALTER TABLE run ADD COLUMN segment TEXT NOT NULL DEFAULT ''",
          "CREATE TABLE series_record (id INTEGER PRIMARY KEY, series_id INTEGER NOT NULL REFERENCES series(id),"
          " version INTEGER NOT NULL, json TEXT NOT NULL, saved_at TEXT NOT NULL, UNIQUE (series_id, version))",
          // What was signed, by its hashes: record, run with all its parts, evaluation.
          "ALTER TABLE signature ADD COLUMN evaluation_id INTEGER REFERENCES evaluation(id)",
          "ALTER TABLE signature ADD COLUMN record_sha256 TEXT NOT NULL DEFAULT ''",
          "ALTER TABLE signature ADD COLUMN run_sha256 TEXT NOT NULL DEFAULT ''",
          "ALTER TABLE signature ADD COLUMN evaluation_sha256 TEXT NOT NULL DEFAULT ''",
      },
      {
          // The chain covers every row: each line of the logbook holds the hashes of what it speaks of (NULL in lines
          // from before), and the newest of each row is at hand without walking the chain.
          "ALTER TABLE logbook ADD COLUMN seals TEXT",
          "CREATE TABLE seal (subject TEXT PRIMARY KEY, sha256 TEXT NOT NULL, line INTEGER NOT NULL REFERENCES "
          "logbook(id))",
      },
      {
          // Spectra belong to a job: what was chosen, version by version, with what came of it. The samples stay in
          // their files.
          "CREATE TABLE spectrum (id INTEGER PRIMARY KEY, job_id INTEGER NOT NULL REFERENCES job(id), title TEXT NOT "
          "NULL, UNIQUE (job_id, title))",
          "CREATE TABLE spectrum_record (id INTEGER PRIMARY KEY, spectrum_id INTEGER NOT NULL REFERENCES spectrum(id),"
          " version INTEGER NOT NULL, json TEXT NOT NULL, results TEXT NOT NULL, saved_at TEXT NOT NULL, UNIQUE "
          "(spectrum_id, version))",
      },
      {
          // What leaves the laboratory: customers, letterhead, templates, people and demand sheets by kind and name;
          // documents that were issued, byte by byte; photographs, small before whole so that a list reads only those;
          // signatures made with a key.
          "CREATE TABLE entry (id INTEGER PRIMARY KEY, kind TEXT NOT NULL, name TEXT NOT NULL, json TEXT NOT NULL,"
          " gone INTEGER NOT NULL DEFAULT 0, UNIQUE (kind, name))",
          "CREATE TABLE document (id INTEGER PRIMARY KEY, number TEXT NOT NULL, edition INTEGER NOT NULL, kind TEXT "
          "NOT "
          "NULL,"
          " job_id INTEGER NOT NULL REFERENCES job(id), covers TEXT NOT NULL, customer TEXT NOT NULL, language TEXT "
          "NOT "
          "NULL,"
          " issued_at TEXT NOT NULL, issued_by TEXT NOT NULL, state TEXT NOT NULL, replaces INTEGER REFERENCES "
          "document(id),"
          " reason TEXT NOT NULL DEFAULT '', sha256 TEXT NOT NULL, facts TEXT NOT NULL, bytes BLOB NOT NULL,"
          " UNIQUE (number, edition))",
          "CREATE TABLE photograph (id INTEGER PRIMARY KEY, specimen_id INTEGER NOT NULL REFERENCES specimen(id),"
          " stage INTEGER NOT NULL, name TEXT NOT NULL, taken_by TEXT NOT NULL, taken_at TEXT NOT NULL, json TEXT NOT "
          "NULL,"
          " gone INTEGER NOT NULL DEFAULT 0, small BLOB NOT NULL, bytes BLOB NOT NULL)",
          "CREATE INDEX photograph_by_specimen ON photograph (specimen_id)",
          "CREATE TABLE key_signature (id INTEGER PRIMARY KEY, subject TEXT NOT NULL, role TEXT NOT NULL, person TEXT "
          "NOT "
          "NULL,"
          " public_key TEXT NOT NULL, words TEXT NOT NULL, signature TEXT NOT NULL, made_at TEXT NOT NULL)",
          "CREATE INDEX key_signature_by_subject ON key_signature (subject)",
      },
  };
  return all;
}

}  // namespace

int newest() {
  return static_cast<int>(steps().size());
}

QStringList statements(int from, int to) {
  QStringList out;
  for (int v = from; v < to; ++v) out += steps()[size_t(v)];
  return out;
}

int version_of(const QSqlDatabase& db) {
  if (engine::on_server(db)) return server::version_of(db);
  QSqlQuery q(db);
  return q.exec("PRAGMA user_version") && q.next() ? q.value(0).toInt() : -1;
}

namespace {

using Shape = std::set<std::vector<QString>>;

Shape shape_of(const QSqlDatabase& db) {
  Shape out;
  QSqlQuery q(db);
  if (!q.exec("SELECT type, name, tbl_name, sql FROM sqlite_master")) return out;
  while (q.next()) {
    std::vector<QString> row;
    for (int i = 0; i < 4; ++i) row.push_back(q.value(i).toString());
    out.insert(std::move(row));
  }
  return out;
}

// What a book of that version looks like when this program makes it.
Shape expected(int version) {
  static QAtomicInt counter;
  const QString name = "schema-" + QString::number(counter.fetchAndAddRelaxed(1));
  Shape out;
  {
    QSqlDatabase db = QSqlDatabase::addDatabase("QSQLITE", name);
    db.setDatabaseName(":memory:");
    if (db.open()) {
      QSqlQuery q(db);
      for (const QString& sql : statements(0, version)) q.exec(sql);
      out = shape_of(db);
    }
  }
  QSqlDatabase::removeDatabase(name);
  return out;
}

}  // namespace

Outcome<Done> compare(const QSqlDatabase& db, int version) {
  if (engine::on_server(db)) return server::compare(db, version);
  const Shape is = shape_of(db), wanted = expected(version);
  for (const auto& row : is)
    if (!wanted.count(row))
      return InputError{"its tables are not those of a job book: the " + row[0].toStdString() + " “" +
                            row[1].toStdString() + "” does not belong there or was changed",
                        {}};
  for (const auto& row : wanted)
    if (!is.count(row))
      return InputError{"its tables are not those of a job book: the " + row[0].toStdString() + " “" +
                            row[1].toStdString() + "” is missing",
                        {}};
  return Done{};
}

namespace {

// All of them or none.
Outcome<Done> run_all(const QSqlDatabase& db, QStringList all) {
  all.prepend("BEGIN");
  all.append("COMMIT");
  QSqlQuery q(db);
  for (const QString& sql : all)
    if (!q.exec(sql)) {
      const InputError why{"The book's tables could not be set up: " + q.lastError().text().toStdString() + ".", {}};
      q.exec("ROLLBACK");
      return why;
    }
  return Done{};
}

bool guard(const QString& sql) {
  return sql.startsWith("CREATE TRIGGER");
}

}  // namespace

Outcome<Done> make_tables(QSqlDatabase db) {
  QStringList all;
  for (const QString& sql : statements(0, newest()))
    if (!guard(sql)) all << (engine::on_server(db) ? server::translated(sql) : sql);
  return run_all(db, all);
}

Outcome<Done> make_guards(QSqlDatabase db) {
  if (engine::on_server(db))
    return run_all(
        db, server::guards() << QString("INSERT INTO book_mark VALUES (%1, %2)").arg(newest()).arg(kApplicationId));
  QStringList all;
  for (const QString& sql : statements(0, newest()))
    if (guard(sql)) all << sql;
  return run_all(db, all << QString("PRAGMA user_version = %1").arg(newest())
                         << QString("PRAGMA application_id = %1").arg(kApplicationId));
}

Outcome<Done> migrate(QSqlDatabase db, int from, int to) {
  if (engine::on_server(db)) return server::migrate(db, from, to);
  auto fail = [&](const QSqlError& e) {
    db.rollback();
    return InputError{"The book's tables could not be set up: " + e.text().toStdString() + ".", {}};
  };
  if (!db.transaction()) return fail(db.lastError());
  QSqlQuery q(db);
  for (const QString& sql : statements(from, to))
    if (!q.exec(sql)) return fail(q.lastError());
  if (!q.exec(QString("PRAGMA user_version = %1").arg(to))) return fail(q.lastError());
  if (!q.exec(QString("PRAGMA application_id = %1").arg(kApplicationId))) return fail(q.lastError());
  if (!db.commit()) return fail(db.lastError());
  return Done{};
}

}  // namespace fortitor::schema
