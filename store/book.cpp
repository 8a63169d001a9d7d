#include "store/book.h"

#include <QAtomicInt>
#include <QDateTime>
#include <QFile>
#include <QFileInfo>
#include <QSqlError>
#include <QSqlQuery>
#include <QVariant>

#include "core/bench/records.h"
#include "core/methods/method.h"
#include "core/series/series.h"
#include "store/schema.h"
#include "store/sql.h"

namespace fortitor {
namespace {

// A book beside which an untouched copy of an older version can be kept.
std::string copy_name(const std::string& path, int version) {
  const QFileInfo info(QString::fromStdString(path));
  QString name = info.path() + "/" + info.completeBaseName() + ".v" + QString::number(version);
  QString candidate = name + ".fortitor";
  for (int n = 2; QFile::exists(candidate); ++n) candidate = name + "-" + QString::number(n) + ".fortitor";
  return candidate.toStdString();
}

Outcome<Done> write_summary(const QSqlDatabase& db, Id specimen, const Summary& summary) {
  QSqlQuery q(db);
  q.prepare("UPDATE specimen SET stages = ?, verdict = ?, open_judgements = ? WHERE id = ?");
  q.addBindValue(text(summary.stages));
  q.addBindValue(text(summary.verdict));
  q.addBindValue(summary.open_judgements);
  q.addBindValue(qlonglong(specimen));
  if (!q.exec()) return sql_error(q, "The summary could not be saved");
  return Done{};
}

}  // namespace

std::string utc_now() {
  return QDateTime::currentDateTimeUtc().toString(Qt::ISODateWithMs).toStdString();
}

QSqlDatabase Book::db() const {
  return QSqlDatabase::database(qs(connection_), false);
}

Outcome<std::unique_ptr<Book>> Book::connect(const std::string& path, bool read_only) {
  static QAtomicInt counter;
  std::unique_ptr<Book> book(new Book);
  book->path_ = path;
  book->read_only_ = read_only;
  book->connection_ = "book-" + std::to_string(counter.fetchAndAddRelaxed(1));
  QSqlDatabase db = QSqlDatabase::addDatabase("QSQLITE", qs(book->connection_));
  db.setDatabaseName(qs(path));
  db.setConnectOptions(read_only ? "QSQLITE_OPEN_READONLY;QSQLITE_BUSY_TIMEOUT=4000" : "QSQLITE_BUSY_TIMEOUT=4000");
  if (!db.open()) return InputError{path + ": the book cannot be opened: " + str(db.lastError().text()) + ".", {}};
  QSqlQuery q(db);
  // The first read tells a book from any other file.
  if (!q.exec("PRAGMA schema_version") || !q.next())
    return InputError{
        path +
            ": this file is not a job book, or its head is damaged. Nothing was changed; open a copy kept elsewhere.",
        {}};
  return book;
}

Outcome<std::unique_ptr<Book>> Book::open(const std::string& path, const std::string& who) {
  const QFileInfo file(qs(path));
  const bool fresh = !file.exists() || file.size() == 0;
  if (fresh && !QFileInfo(file.absolutePath()).isDir())
    return InputError{path + ": the folder " + str(file.absolutePath()) + " does not exist.", {}};
  auto lock = std::make_unique<QLockFile>(qs(path) + ".lock");
  lock->setStaleLockTime(0);  // it ages by its process alone
  if (!lock->tryLock(0) && lock->error() == QLockFile::LockFailedError) {
    qint64 pid = 0;
    QString host, program;
    lock->getLockInfo(&pid, &host, &program);
    auto reader = open_read_only(path);
    if (!reader) return reader;
    (*reader)->who_ = who;
    (*reader)->owner_ = "process " + std::to_string(pid) + " on " + str(host) + " writes in it";
    (*reader)->notices_.push_back("This book is opened to read: " + (*reader)->owner_ +
                                  ". Close it there to write here.");
    return reader;
  }
  auto opened = connect(path, false);
  if (!opened) return opened;
  Book& book = **opened;
  book.lock_ = std::move(lock);
  book.who_ = who;
  QSqlDatabase db = book.db();
  QSqlQuery q(db);
  const int version = schema::version_of(db);
  if (version > schema::newest())
    return InputError{path + ": this book was written by a newer Fortitor (book version " + std::to_string(version) +
                          ", this program reads up to " + std::to_string(schema::newest()) +
                          "). Nothing was changed; use the newer program.",
                      {}};
  if (!fresh && version <= 0)
    return InputError{path + ": this file is a database but not a job book. Nothing was changed.", {}};
  if (!fresh) {
    const bool whole = q.exec("PRAGMA quick_check") && q.next() && q.value(0).toString() == "ok";
    if (!whole)
      return InputError{
          path +
              ": the book is damaged. Nothing was changed; run fortitorctl check and go on with a copy kept elsewhere.",
          {}};
  }
  q.finish();
  if (version < schema::newest()) {
    if (!fresh) {
      const std::string copy = copy_name(path, version);
      if (!q.prepare("VACUUM INTO ?"))
        return InputError{path + ": no copy could be put aside: " + str(q.lastError().text()) + ".", {}};
      q.addBindValue(qs(copy));
      if (!q.exec())
        return InputError{
            path + ": no copy could be put aside, so the book was not migrated: " + str(q.lastError().text()) + ".",
            {}};
      q.finish();
      book.notices_.push_back("The book was brought from version " + std::to_string(version) + " to " +
                              std::to_string(schema::newest()) + ". A copy of it as it was lies at " + copy + ".");
    }
    const auto done = schema::migrate(db, std::max(version, 0), schema::newest());
    if (!done) return InputError{path + ": " + done.error().message, {}};
  }
  for (const char* pragma : {"PRAGMA journal_mode = WAL", "PRAGMA synchronous = FULL", "PRAGMA foreign_keys = ON"})
    if (!q.exec(pragma)) return InputError{path + ": " + str(q.lastError().text()) + ".", {}};
  q.finish();
  if (fresh) {
    const auto noted = book.note("book begun", "version " + std::to_string(schema::newest()));
    if (!noted) return noted.error();
  }
  book.recover_runs();
  return opened;
}

Outcome<std::unique_ptr<Book>> Book::open_read_only(const std::string& path) {
  if (!QFile::exists(qs(path))) return InputError{path + ": there is no such file.", {}};
  auto opened = connect(path, true);
  if (!opened) return opened;
  const int version = schema::version_of((*opened)->db());
  if (version <= 0) return InputError{path + ": this file is not a job book.", {}};
  if (version > schema::newest()) return InputError{path + ": this book was written by a newer Fortitor.", {}};
  return opened;
}

Book::~Book() {
  const QString name = qs(connection_);
  {
    QSqlDatabase open_db = QSqlDatabase::database(name, false);
    if (open_db.isOpen()) open_db.close();
  }
  QSqlDatabase::removeDatabase(name);
}

Outcome<Done> Book::change(const std::string& what, const std::string& detail, Id specimen,
                           const std::function<Outcome<Done>()>& work) {
  if (read_only_)
    return InputError{"The book is open for reading only" + (owner_.empty() ? std::string() : ": " + owner_) + ".", {}};
  QSqlDatabase d = db();
  QSqlQuery begin(d);
  // Immediate: two benches on one book wait for each other instead of failing half-way.
  if (!begin.exec("BEGIN IMMEDIATE")) return sql_error(begin, "The change could not begin; nothing was changed");
  auto done = work();
  if (done && !what.empty()) done = log(what, detail, specimen);
  QSqlQuery end(d);
  if (!done) {
    end.exec("ROLLBACK");
    return done;
  }
  if (!end.exec("COMMIT")) {
    const auto error = sql_error(end, "The change could not be written; nothing was changed");
    end.exec("ROLLBACK");
    return error;
  }
  return Done{};
}

Outcome<Id> Book::add_job(const std::string& code, const std::string& title, const std::string& due) {
  if (code.empty()) return InputError{"A job needs a number, such as TC-031.", {}};
  if (job_by_code(code)) return InputError{"There is already a job " + code + ".", {}};
  Id id = 0;
  const auto done = change("job " + code + " opened", title, 0, [&]() -> Outcome<Done> {
    QSqlQuery q(db());
    q.prepare("INSERT INTO job (code, title, due, created_at) VALUES (?, ?, ?, ?)");
    for (const auto& v : {code, title, due, utc_now()}) q.addBindValue(text(v));
    if (!q.exec()) return sql_error(q, "The job could not be added");
    id = q.lastInsertId().toLongLong();
    return Done{};
  });
  if (!done) return done.error();
  return id;
}

Outcome<Id> Book::add_series(Id job, const std::string& title, const std::string& method) {
  Id id = 0;
  const auto done = change("series “" + title + "” added", method, 0, [&]() -> Outcome<Done> {
    QSqlQuery q(db());
    q.prepare("INSERT INTO series (job_id, title, method) VALUES (?, ?, ?)");
    q.addBindValue(qlonglong(job));
    q.addBindValue(text(title));
    q.addBindValue(text(method));
    if (!q.exec()) return sql_error(q, "The series could not be added");
    id = q.lastInsertId().toLongLong();
    return Done{};
  });
  if (!done) return done.error();
  return id;
}

Outcome<Id> Book::add_specimen(Id series_id, const std::string& code, const TestRecord& first) {
  if (code.empty()) return InputError{"A specimen needs its marking, such as HB-01.", {}};
  for (const SpecimenRow& s : specimens(series_id))
    if (s.code == code) return InputError{"There is already a specimen " + code + " in this series.", {}};
  Id id = 0;
  const auto done = change("specimen " + code + " added", "", 0, [&]() -> Outcome<Done> {
    QSqlQuery q(db());
    q.prepare(
        "INSERT INTO specimen (series_id, code, stages, verdict, open_judgements) VALUES (?, ?, '0000000', 'none', 0)");
    q.addBindValue(qlonglong(series_id));
    q.addBindValue(text(code));
    if (!q.exec()) return sql_error(q, "The specimen could not be added");
    id = q.lastInsertId().toLongLong();
    TestRecord r = first;
    r.run.drop_samples();
    q.prepare("INSERT INTO record (specimen_id, version, json, saved_at) VALUES (?, 1, ?, ?)");
    q.addBindValue(qlonglong(id));
    q.addBindValue(text(record_to_json(r, -1)));
    q.addBindValue(text(utc_now()));
    if (!q.exec()) return sql_error(q, "The record could not be saved");
    return Done{};
  });
  if (!done) return done.error();
  return id;
}

Outcome<Saved> Book::save_record(Id specimen_id, Id from, const TestRecord& record, const Summary& summary,
                                 const std::string& what) {
  TestRecord plain = record;
  plain.run.drop_samples();  // samples live in run_chunk
  Saved saved;
  const auto done = change(what, "", specimen_id, [&]() -> Outcome<Done> {
    const Id newest = record_version(specimen_id);
    if (from != 0 && newest > from) saved.overtaken = newest;
    saved.version = newest + 1;
    QSqlQuery q(db());
    q.prepare(
        "INSERT INTO record (specimen_id, version, json, run_id, saved_at) VALUES (?, ?, ?, (SELECT MAX(id) FROM run "
        "WHERE "
        "specimen_id = ?), ?)");
    q.addBindValue(qlonglong(specimen_id));
    q.addBindValue(qlonglong(saved.version));
    q.addBindValue(text(record_to_json(plain, -1)));
    q.addBindValue(qlonglong(specimen_id));
    q.addBindValue(text(utc_now()));
    if (!q.exec()) return sql_error(q, "The record could not be saved");
    return write_summary(db(), specimen_id, summary);
  });
  if (!done) return done.error();
  return saved;
}

Outcome<Done> Book::save_series_record(Id series_id, const TestRecord& settings, const std::string& what) {
  QSqlQuery find(db());
  find.prepare("SELECT method FROM series WHERE id = ?");
  find.addBindValue(qlonglong(series_id));
  if (!find.exec() || !find.next()) return InputError{"The series is not in the book.", {}};
  const Method* method = methods::find(str(find.value(0).toString()));
  if (method == nullptr) return InputError{"The series is of a method this program does not know.", {}};
  find.finish();
  return change(what, settings.series, 0, [&]() -> Outcome<Done> {
    QSqlQuery q(db());
    q.prepare(
        "INSERT INTO series_record (series_id, version, json, saved_at) SELECT ?, COALESCE(MAX(version), 0) + 1, ?, ? "
        "FROM series_record WHERE series_id = ?");
    q.addBindValue(qlonglong(series_id));
    q.addBindValue(text(series_settings_to_json(*method, settings)));
    q.addBindValue(text(utc_now()));
    q.addBindValue(qlonglong(series_id));
    if (!q.exec()) return sql_error(q, "The settings of the series could not be saved");
    return Done{};
  });
}

Outcome<Done> Book::set_summary(Id specimen_id, const Summary& summary) {
  return change("", "", 0, [&] { return write_summary(db(), specimen_id, summary); });
}

Outcome<Done> Book::set_setting(const std::string& key, const std::string& value) {
  return change("", "", 0, [&]() -> Outcome<Done> {  // a display choice is no event for the logbook
    QSqlQuery q(db());
    q.prepare("INSERT INTO setting (key, value) VALUES (?, ?) ON CONFLICT (key) DO UPDATE SET value = excluded.value");
    q.addBindValue(text(key));
    q.addBindValue(text(value));
    if (!q.exec()) return sql_error(q, "The setting could not be kept");
    return Done{};
  });
}

Outcome<Done> Book::remember_mapping(const std::string& signature, const std::string& json) {
  return change("column mapping remembered", signature, 0, [&]() -> Outcome<Done> {
    QSqlQuery q(db());
    q.prepare(
        "INSERT INTO column_mapping (signature, json) VALUES (?, ?) ON CONFLICT (signature) DO UPDATE SET json = "
        "excluded.json");
    q.addBindValue(text(signature));
    q.addBindValue(text(json));
    if (!q.exec()) return sql_error(q, "The mapping could not be kept");
    return Done{};
  });
}

}  // namespace fortitor
