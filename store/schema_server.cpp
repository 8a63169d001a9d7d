// Tables of a book on a server, made from those of a file, and what the server keeps of its own accord.
#include <QAtomicInt>
#include <QRegularExpression>
#include <QSqlError>
#include <QSqlQuery>
#include <map>
#include <set>

#include "store/schema.h"
#include "store/sql.h"

namespace fortitor::schema::server {
namespace {

bool of_a_file_only(const QString& sql) {
  return sql.startsWith("CREATE TRIGGER");
}

struct Function {
  const char *name, *takes, *returns, *body;
  bool for_all;  ///< runs with the rights of the book's owner
};
struct Trigger {
  const char *name, *when, *table, *each, *function;
};

constexpr Function kFunctions[] = {
    {"append_only", "", "trigger", " BEGIN RAISE EXCEPTION 'append-only'; END ", false},
    // Each line follows from the one before; what it seals is the newest; the other benches are called.
    {"line_follows", "", "trigger",
     " DECLARE last RECORD; BEGIN"
     " SELECT id, hash INTO last FROM logbook ORDER BY id DESC LIMIT 1;"
     " IF NEW.id <> COALESCE(last.id, 0) + 1 OR NEW.previous <> COALESCE(last.hash, '') THEN"
     " RAISE EXCEPTION 'the line does not follow from the one before'; END IF;"
     " RETURN NEW; END ",
     true},
    {"line_seals", "", "trigger",
     " DECLARE sealed TEXT; BEGIN"
     " FOREACH sealed IN ARRAY string_to_array(COALESCE(NEW.seals, ''), chr(10)) LOOP"
     " IF strpos(sealed, ' ') > 1 THEN"
     " INSERT INTO seal (subject, sha256, line) VALUES (split_part(sealed, ' ', 1), split_part(sealed, ' ', 2), NEW.id)"
     " ON CONFLICT (subject) DO UPDATE SET sha256 = EXCLUDED.sha256, line = EXCLUDED.line; END IF;"
     " END LOOP;"
     " PERFORM pg_notify('fortitor', NEW.id::TEXT); RETURN NULL; END ",
     true},
    {"run_stays", "", "trigger",
     " BEGIN IF TG_OP = 'DELETE' OR OLD.closed_at <> '' OR (NEW.id, NEW.specimen_id, NEW.started_at, NEW.source,"
     " NEW.channels, NEW.segment) IS DISTINCT FROM (OLD.id, OLD.specimen_id, OLD.started_at, OLD.source, OLD.channels,"
     " OLD.segment) THEN RAISE EXCEPTION 'a closed run is never changed'; END IF; RETURN NEW; END ",
     false},
    {"part_of_open_run", "", "trigger",
     // Whoever closes the run at this moment is waited for.
     " BEGIN IF (SELECT closed_at FROM run WHERE id = NEW.run_id FOR SHARE) <> '' THEN"
     " RAISE EXCEPTION 'a closed run is never changed'; END IF; RETURN NEW; END ",
     true},
    {"part_is_told", "", "trigger",
     " BEGIN PERFORM pg_notify('fortitor', 'run ' || (SELECT specimen_id FROM run WHERE id = NEW.run_id)); RETURN NULL;"
     " END ",
     true},
    {"document_stays", "", "trigger",
     " BEGIN IF TG_OP = 'DELETE' OR (NEW.id, NEW.number, NEW.edition, NEW.sha256, NEW.facts, NEW.bytes) IS DISTINCT "
     "FROM"
     " (OLD.id, OLD.number, OLD.edition, OLD.sha256, OLD.facts, OLD.bytes) THEN"
     " RAISE EXCEPTION 'an issued document is never changed'; END IF; RETURN NEW; END ",
     false},
    // Who may test enters jobs and what is wanted of a series; people, letterhead and templates are the keeper's.
    {"entry_of_role", "", "trigger",
     " BEGIN IF NEW.kind NOT IN ('job', 'chosen', 'customer') AND EXISTS (SELECT FROM pg_roles WHERE rolname ="
     " current_database() || '_keeps') AND NOT pg_has_role(session_user, current_database() || '_keeps', 'MEMBER') THEN"
     " RAISE EXCEPTION 'only the keeper of the book may change that'; END IF; RETURN NEW; END ",
     false},
    {"close_run", "at TEXT, why TEXT, broken BIGINT, which BIGINT", "bigint",
     " DECLARE n BIGINT; BEGIN UPDATE run SET closed_at = at, stopped = why, interrupted = broken"
     " WHERE id = which AND closed_at = ''; GET DIAGNOSTICS n = ROW_COUNT; RETURN n; END ",
     true},
};

constexpr const char* kNeverAgain = "BEFORE DELETE OR UPDATE OR TRUNCATE";
constexpr Trigger kTriggers[] = {
    {"logbook_append_only", kNeverAgain, "logbook", "STATEMENT", "append_only"},
    {"record_append_only", kNeverAgain, "record", "STATEMENT", "append_only"},
    {"run_chunk_append_only", kNeverAgain, "run_chunk", "STATEMENT", "append_only"},
    {"evaluation_append_only", kNeverAgain, "evaluation", "STATEMENT", "append_only"},
    {"signature_append_only", kNeverAgain, "signature", "STATEMENT", "append_only"},
    {"key_signature_append_only", kNeverAgain, "key_signature", "STATEMENT", "append_only"},
    {"series_record_append_only", kNeverAgain, "series_record", "STATEMENT", "append_only"},
    {"spectrum_record_append_only", kNeverAgain, "spectrum_record", "STATEMENT", "append_only"},
    {"run_never_emptied", "BEFORE TRUNCATE", "run", "STATEMENT", "append_only"},
    {"run_stays", "BEFORE DELETE OR UPDATE", "run", "ROW", "run_stays"},
    {"document_stays", "BEFORE DELETE OR UPDATE", "document", "ROW", "document_stays"},
    {"run_chunk_closed", "BEFORE INSERT", "run_chunk", "ROW", "part_of_open_run"},
    {"run_chunk_told", "AFTER INSERT", "run_chunk", "ROW", "part_is_told"},
    {"logbook_follows", "BEFORE INSERT", "logbook", "ROW", "line_follows"},
    {"logbook_seals", "AFTER INSERT", "logbook", "ROW", "line_seals"},
    {"entry_of_role", "BEFORE INSERT OR UPDATE", "entry", "ROW", "entry_of_role"},
};

QString definition(const Trigger& t) {  // as pg_get_triggerdef() writes it
  return QString("CREATE TRIGGER %1 %2 ON public.%3 FOR EACH %4 EXECUTE FUNCTION %5()")
      .arg(t.name, t.when, t.table, t.each, t.function);
}

}  // namespace

// SQLite's types in PostgreSQL's words. Text is compared byte by byte in both, whatever the language of the server.
QString translated(QString sql) {
  sql.replace("INTEGER PRIMARY KEY", "BIGINT GENERATED BY DEFAULT AS IDENTITY PRIMARY KEY");
  sql.replace(QRegularExpression("\\bINTEGER\\b"), "BIGINT");
  sql.replace(QRegularExpression("\\bTEXT\\b"), "TEXT COLLATE \"C\"");
  sql.replace(QRegularExpression("\\bBLOB\\b"), "BYTEA");
  return sql;
}

QStringList guards() {
  QStringList out = {"CREATE TABLE book_mark (version BIGINT NOT NULL, application BIGINT NOT NULL)",
                     "CREATE INDEX run_by_specimen ON run (specimen_id)",
                     "CREATE INDEX specimen_by_code ON specimen (code)",
                     "CREATE INDEX signature_by_specimen ON signature (specimen_id)",
                     "CREATE INDEX run_open ON run (id) WHERE closed_at = ''",
                     "CREATE INDEX timer_running ON timer (id) WHERE acknowledged_at = ''"};
  for (const Function& f : kFunctions)
    out << QString(
               "CREATE FUNCTION %1(%2) RETURNS %3 LANGUAGE plpgsql %4 SET search_path = public, pg_temp AS "
               "$body$%5$body$")
               .arg(f.name, f.takes, f.returns, f.for_all ? "SECURITY DEFINER" : "", f.body);
  for (const Trigger& t : kTriggers) out << definition(t);
  out << "REVOKE ALL ON SCHEMA public FROM PUBLIC";
  out << "REVOKE EXECUTE ON FUNCTION close_run FROM PUBLIC";
  return out;
}

namespace {

using Column = std::tuple<QString, QString, QString, bool>;  // table, name, type, may be null

InputError unreadable(const QSqlQuery& q) {
  return sql_error(q, "its tables could not be read");
}

Outcome<std::set<Column>> columns_of(const QSqlDatabase& db) {
  std::set<Column> out;
  QSqlQuery q(db);
  if (!q.exec("SELECT c.relname, a.attname, format_type(a.atttypid, a.atttypmod), NOT a.attnotnull FROM pg_attribute a "
              "JOIN "
              "pg_class c ON c.oid = a.attrelid JOIN pg_namespace n ON n.oid = c.relnamespace WHERE n.nspname = "
              "'public' AND "
              "c.relkind IN ('r', 'v', 'm', 'p', 'f') AND a.attnum > 0 AND NOT a.attisdropped"))
    return unreadable(q);
  while (q.next())
    out.insert({q.value(0).toString(), q.value(1).toString(), q.value(2).toString(), q.value(3).toBool()});
  // What a column points to stands beside it as one more.
  if (!q.exec("SELECT c.relname, a.attname, '→ ' || r.relname FROM pg_constraint k JOIN pg_class c ON c.oid = "
              "k.conrelid JOIN "
              "pg_class r ON r.oid = k.confrelid JOIN pg_attribute a ON a.attrelid = c.oid AND a.attnum = k.conkey[1] "
              "WHERE "
              "k.contype = 'f' AND k.convalidated AND k.connamespace = 'public'::regnamespace"))
    return unreadable(q);
  while (q.next()) out.insert({q.value(0).toString(), q.value(1).toString(), q.value(2).toString(), false});
  return out;
}

// The columns of a file of that version, in the words of a server.
std::set<Column> expected_columns(int version) {
  static QAtomicInt counter;
  const QString name = "schema-of-server-" + QString::number(counter.fetchAndAddRelaxed(1));
  std::set<Column> out = {{"book_mark", "version", "bigint", false}, {"book_mark", "application", "bigint", false}};
  {
    QSqlDatabase db = QSqlDatabase::addDatabase("QSQLITE", name);
    db.setDatabaseName(":memory:");
    db.open();
    QSqlQuery q(db);
    for (const QString& sql : statements(0, version)) q.exec(sql);
    q.exec(
        "SELECT m.name, c.name, c.type, c.\"notnull\" = 0 AND c.pk = 0 FROM sqlite_master m JOIN "
        "pragma_table_info(m.name) c WHERE m.type = 'table'");
    while (q.next()) {
      const QString type = q.value(2).toString();
      out.insert({q.value(0).toString(), q.value(1).toString(),
                  type == "INTEGER" ? "bigint"
                  : type == "BLOB"  ? "bytea"
                                    : "text",
                  q.value(3).toBool()});
    }
    q.exec(
        "SELECT m.name, f.\"from\", '→ ' || f.\"table\" FROM sqlite_master m JOIN pragma_foreign_key_list(m.name) f "
        "WHERE m.type = 'table'");
    while (q.next()) out.insert({q.value(0).toString(), q.value(1).toString(), q.value(2).toString(), false});
  }
  QSqlDatabase::removeDatabase(name);
  return out;
}

InputError not_a_book(const QString& what) {
  return {"its tables are not those of a job book: " + str(what), {}};
}

// Name and words of what the server runs, with who it runs as.
Outcome<std::map<QString, QString>> routines_of(const QSqlDatabase& db) {
  std::map<QString, QString> out;
  QSqlQuery q(db);
  if (!q.exec("SELECT p.proname, p.prosrc || CASE WHEN p.prosecdef THEN '!' ELSE '' END FROM pg_proc p JOIN "
              "pg_namespace n ON "
              "n.oid = p.pronamespace WHERE n.nspname = 'public'"))
    return unreadable(q);
  while (q.next()) out["the function “" + q.value(0).toString() + "”"] = q.value(1).toString();
  if (!q.exec("SELECT t.tgname, pg_get_triggerdef(t.oid) || CASE WHEN t.tgenabled = 'O' THEN '' ELSE ' (off)' END FROM "
              "pg_trigger t JOIN pg_class c ON c.oid = t.tgrelid JOIN pg_namespace n ON n.oid = c.relnamespace WHERE "
              "n.nspname "
              "= 'public' AND NOT t.tgisinternal"))
    return unreadable(q);
  while (q.next()) out["the trigger “" + q.value(0).toString() + "”"] = q.value(1).toString();
  if (!q.exec("SELECT rulename, definition FROM pg_rules WHERE schemaname = 'public'")) return unreadable(q);
  while (q.next()) out["the rule “" + q.value(0).toString() + "”"] = q.value(1).toString();
  return out;
}

std::map<QString, QString> expected_routines() {
  std::map<QString, QString> out;
  for (const Function& f : kFunctions)
    out[QString("the function “%1”").arg(f.name)] = QString(f.body) + (f.for_all ? "!" : "");
  for (const Trigger& t : kTriggers) out[QString("the trigger “%1”").arg(t.name)] = definition(t);
  return out;
}

}  // namespace

int version_of(const QSqlDatabase& db) {
  QSqlQuery q(db);
  if (!q.exec("SELECT to_regclass('public.book_mark') IS NOT NULL") || !q.next()) return -1;
  if (!q.value(0).toBool()) return 0;
  if (!q.exec(QString("SELECT version FROM book_mark WHERE application = %1").arg(kApplicationId)) || !q.next())
    return -1;
  return q.value(0).toInt();
}

Outcome<Done> compare(const QSqlDatabase& db, int version) {
  const auto read = columns_of(db);
  if (!read) return read.error();
  const std::set<Column> is = *read, wanted = expected_columns(version);
  const auto words = [](const Column& c) { return "the column “" + std::get<0>(c) + "." + std::get<1>(c) + "”"; };
  for (const Column& c : is)
    if (!wanted.count(c)) return not_a_book(words(c) + " does not belong there or was changed");
  for (const Column& c : wanted)
    if (!is.count(c)) return not_a_book(words(c) + " is missing");
  const auto runs = routines_of(db);
  if (!runs) return runs.error();
  const auto should = expected_routines();
  for (const auto& [name, body] : *runs)
    if (!should.count(name) || should.at(name) != body)
      return not_a_book(name + " does not belong there or was changed");
  for (const auto& [name, body] : should)
    if (!runs->count(name)) return not_a_book(name + " is missing");
  return Done{};
}

Outcome<Done> migrate(QSqlDatabase db, int from, int to) {
  QSqlQuery q(db);
  const auto fail = [&] {
    const InputError why = sql_error(q, "The book's tables could not be set up");
    q.exec("ROLLBACK");
    return why;
  };
  if (!q.exec("BEGIN")) return fail();
  // Two benches that open an empty book at once make its tables one after the other.
  if (!q.exec("SELECT pg_advisory_xact_lock(1179603540, 2)")) return fail();
  if (const int now = version_of(db); now >= to) {
    q.exec("ROLLBACK");
    return Done{};
  }
  for (const QString& sql : statements(from, to))
    if (!of_a_file_only(sql) && !q.exec(translated(sql))) return fail();
  if (from == 0)
    for (const QString& sql : guards())
      if (!q.exec(sql)) return fail();
  if (!q.exec("DELETE FROM book_mark") ||
      !q.exec(QString("INSERT INTO book_mark VALUES (%1, %2)").arg(to).arg(kApplicationId)) || !q.exec("COMMIT"))
    return fail();
  return Done{};
}

Outcome<Done> make_roles(const QSqlDatabase& db) {
  QSqlQuery q(db);
  if (!q.exec("SELECT current_database()") || !q.next()) return sql_error(q, "The roles could not be made");
  const QString name = q.value(0).toString();
  const auto quoted = [](QString s) { return "\"" + s.replace("\"", "\"\"") + "\""; };
  const auto role = [&](const char* which) { return quoted(name + "_" + which); };
  QStringList all;
  for (const char* which : {"reads", "tests", "signs", "keeps"}) {
    all << QString("DO $$ BEGIN CREATE ROLE %1 NOLOGIN; EXCEPTION WHEN duplicate_object THEN NULL; END $$")
               .arg(role(which));
    all << QString("GRANT CONNECT ON DATABASE %1 TO %2").arg(quoted(name), role(which))
        << QString("GRANT USAGE ON SCHEMA public TO %1").arg(role(which))
        << QString("GRANT SELECT ON ALL TABLES IN SCHEMA public TO %1").arg(role(which));
  }
  const auto grant = [&](const char* what, const char* tables, const char* which) {
    all << QString("GRANT %1 ON %2 TO %3").arg(what, tables, role(which));
  };
  for (const char* which : {"tests", "signs", "keeps"}) {
    grant("INSERT", "logbook", which);
    grant("SELECT", "ALL SEQUENCES IN SCHEMA public", which);  // the number of the row that was just written
  }
  grant("INSERT",
        "job, series, specimen, record, run, run_chunk, series_record, spectrum, spectrum_record, timer, "
        "column_mapping, setting, photograph, entry",
        "tests");
  grant("UPDATE", "specimen, timer, column_mapping, setting, entry", "tests");
  grant("UPDATE (json, gone)", "photograph", "tests");
  grant("EXECUTE", "FUNCTION close_run", "tests");
  grant("INSERT", "evaluation, signature, key_signature, document", "signs");
  grant("UPDATE (state, reason)", "document", "signs");
  grant("INSERT, UPDATE", "equipment, entry, setting", "keeps");
  all << QString("REVOKE CONNECT ON DATABASE %1 FROM PUBLIC").arg(quoted(name));
  for (const QString& sql : all)
    if (!q.exec(sql)) return sql_error(q, "The roles could not be made");
  return Done{};
}

}  // namespace fortitor::schema::server
