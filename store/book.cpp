#include "store/book.h"

#include <QAtomicInt>
#include <QDateTime>
#include <QFile>
#include <QFileInfo>
#include <QScopeGuard>
#include <QSqlError>
#include <QSqlQuery>
#include <QUrl>
#include <QVariant>

#include <sys/stat.h>
#include <unistd.h>

#include "core/bench/records.h"
#include "core/methods/method.h"
#include "core/series/series.h"
#include "store/book_file.h"
#include "store/engine.h"
#include "store/journal.h"
#include "store/papers.h"
#include "store/schema.h"
#include "store/sql.h"

namespace fortitor {
namespace {

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

QSqlDatabase Book::db() const {
  return QSqlDatabase::database(qs(connection_), false);
}

Outcome<Done> Book::change(const std::string& what, const std::string& detail, Id specimen,
                           const std::function<Outcome<Done>()>& work, bool to_chain) {
  if (read_only_)
    return InputError{"The book is open for reading only" + (owner_.empty() ? std::string() : ": " + owner_) + ".", {}};
  if (const auto there = still_there(); !there)
    return InputError{there.error().message + " Nothing was written; save a copy elsewhere.", {}};
  touched_.clear();
  if (joined_) {  // part of a larger change: it begins and ends
    auto done = work();
    if (done && (!what.empty() || !touched_.empty())) done = log(what, detail, specimen);
    return done;
  }
  if (journal_ && !bringing_in_) {
    if (away())
      return InputError{std::string("The server of this book ") +
                            (out_of_room_ ? "has had no room for anything since " : "does not answer since ") +
                            day_here(away_at_) + "; nothing was changed.",
                        {}};
    if (const auto brought = bring_in(); !brought) return brought;  // first what was confirmed before
  }
  const std::lock_guard one_at_a_time(ground_->writing());
  writing_ = true;
  const auto over = qScopeGuard([this] { writing_ = false; });
  QSqlDatabase d = db();
  if (const auto begun = engine::begin_change(d, !journal_, to_chain); !begun) {
    if (shared() && engine::lost(d)) goes_away(false);
    return begun;
  }
  if (!journal_) away_at_.clear();
  auto done = work();
  // A change without words is no event for a person, but the chain covers it all the same.
  if (done && (!what.empty() || !touched_.empty())) done = log(what, detail, specimen);
  QSqlQuery end(d);
  if (done && !end.exec("COMMIT")) done = sql_error(end, "The change could not be written; nothing was changed");
  if (!done) end.exec("ROLLBACK");
  if (!done && shared()) {
    const bool full = engine::refusal_of(done.error()) == engine::Refusal::out_of_room;
    if (engine::lost(d) || (full && journal_)) goes_away(full);
  }
  // Beside another name of the file nobody would look for the log: what is confirmed stands in the file itself.
  if (done && ground_->several_names()) end.exec("PRAGMA wal_checkpoint(TRUNCATE)");
  ground_->remember();
  return done;
}

void Book::goes_away(bool out_of_room) {
  away_at_ = clock_.utc();
  out_of_room_ = out_of_room;
}

Outcome<Done> Book::together(const std::function<Outcome<Done>()>& work) {
  return change("", "", 0, [&] {
    joined_ = true;
    auto done = work();
    joined_ = false;
    return done;
  });
}

Outcome<Id> Book::add_job(const std::string& code, const std::string& title, const std::string& due) {
  if (code.empty()) return InputError{"A job needs a number, such as TC-031.", {}};
  for (const auto& [name, words] :
       {std::pair(&code, "The number of the job"), std::pair(&title, "The title of the job")})
    if (const auto fine = check_name(*name, words); !fine) return fine.error();
  if (job_by_code(code)) return InputError{"There is already a job " + code + ".", {}};
  Id id = 0;
  const auto done = change("job " + code + " opened", title, 0, [&]() -> Outcome<Done> {
    QSqlQuery q(db());
    q.prepare("INSERT INTO job (code, title, due, created_at) VALUES (?, ?, ?, ?)");
    for (const auto& v : {code, title, due, clock_.utc()}) q.addBindValue(text(v));
    if (!q.exec()) return sql_error(q, "The job could not be added");
    id = q.lastInsertId().toLongLong();
    touch("job", qlonglong(id));
    return Done{};
  });
  if (!done) return done.error();
  return id;
}

Outcome<Id> Book::add_series(Id job, const std::string& title, const std::string& method) {
  if (const auto fine = check_name(title, "The name of the series"); !fine) return fine.error();
  Id id = 0;
  const auto done = change("series “" + title + "” added", method, 0, [&]() -> Outcome<Done> {
    QSqlQuery q(db());
    q.prepare("INSERT INTO series (job_id, title, method) VALUES (?, ?, ?)");
    q.addBindValue(qlonglong(job));
    q.addBindValue(text(title));
    q.addBindValue(text(method));
    if (!q.exec()) return sql_error(q, "The series could not be added");
    id = q.lastInsertId().toLongLong();
    touch("series", qlonglong(id));
    return Done{};
  });
  if (!done) return done.error();
  return id;
}

Outcome<Id> Book::add_specimen(Id series_id, const std::string& code, const TestRecord& first) {
  if (code.empty()) return InputError{"A specimen needs its marking, such as HB-01.", {}};
  if (const auto fine = check_name(code, "The marking of the specimen"); !fine) return fine.error();
  for (const SpecimenRow& s : specimens(series_id))
    if (s.code == code) return InputError{"There is already a specimen " + code + " in this series.", {}};
  TestRecord plain = first;
  plain.fields.set("specimen.id", code);  // a record's id is its piece's mark
  plain.run.drop_samples();
  // A series that was given a demand gives it to whoever comes later.
  if (const auto demand = Papers(static_cast<const Book&>(*this)).demand_of(series_id);
      demand && *demand && !plain.fields.has("settings.demand"))
    lab::apply(**demand, plain);
  const auto json = record_to_store(plain);
  if (!json) return json.error();
  Id id = 0;
  const auto done = change("specimen " + code + " added", "", 0, [&]() -> Outcome<Done> {
    QSqlQuery q(db());
    q.prepare(
        "INSERT INTO specimen (series_id, code, stages, verdict, open_judgements) VALUES (?, ?, '0000000', 'none', 0)");
    q.addBindValue(qlonglong(series_id));
    q.addBindValue(text(code));
    if (!q.exec()) return sql_error(q, "The specimen could not be added");
    id = q.lastInsertId().toLongLong();
    touch("specimen", qlonglong(id));
    q.prepare("INSERT INTO record (specimen_id, version, json, saved_at) VALUES (?, 1, ?, ?)");
    q.addBindValue(qlonglong(id));
    q.addBindValue(text(*json));
    q.addBindValue(text(clock_.utc()));
    if (!q.exec()) return sql_error(q, "The record could not be saved");
    touch("record", q.lastInsertId());
    return Done{};
  });
  if (!done) return done.error();
  return id;
}

Outcome<Done> Book::mark(Id specimen_id, const std::string& code) {
  const auto row = specimen(specimen_id);
  if (!row) return InputError{"The specimen is not in the book.", {}};
  if (code.empty()) return InputError{"A specimen needs its marking, such as HB-01.", {}};
  if (const auto fine = check_name(code, "The marking of the specimen"); !fine) return fine;
  for (const SpecimenRow& s : specimens(row->series))
    if (s.code == code) return InputError{"There is already a specimen " + code + " in this series.", {}};
  return change("marked anew", row->code + " → " + code, specimen_id, [&]() -> Outcome<Done> {
    QSqlQuery q(db());
    q.prepare("UPDATE specimen SET code = ? WHERE id = ?");
    q.addBindValue(text(code));
    q.addBindValue(qlonglong(specimen_id));
    if (!q.exec()) return sql_error(q, "The marking could not be changed");
    touch("specimen", qlonglong(specimen_id));
    return Done{};
  });
}

Outcome<Saved> Book::save_record(Id specimen_id, Id from, const TestRecord& record, const Summary& summary,
                                 const std::string& what, const std::string& detail) {
  TestRecord plain = record;
  plain.run.drop_samples();  // samples live in run_chunk
  if (const auto row = specimen(specimen_id))
    plain.fields.set("specimen.id", row->code);  // a record's id is its piece's mark
  const auto json = record_to_store(plain);
  if (!json) return json.error();
  Saved saved;
  const auto done = change(what, detail, specimen_id, [&]() -> Outcome<Done> {
    const Id newest = record_version(specimen_id);
    saved.version = newest + 1;
    saved.overtaken.reset();
    if (from != 0 && newest > from) saved.overtaken = newest;
    QSqlQuery q(db());
    q.prepare(
        "INSERT INTO record (specimen_id, version, json, run_id, saved_at) VALUES (?, ?, ?, (SELECT MAX(id) FROM run "
        "WHERE "
        "specimen_id = ?), ?)");
    q.addBindValue(qlonglong(specimen_id));
    q.addBindValue(qlonglong(saved.version));
    q.addBindValue(text(*json));
    q.addBindValue(qlonglong(specimen_id));
    q.addBindValue(text(clock_.utc()));
    if (!q.exec()) return sql_error(q, "The record could not be saved");
    touch("record", q.lastInsertId());
    touch("specimen", qlonglong(specimen_id));
    return write_summary(db(), specimen_id, summary);
  });
  if (!done && journals()) return save_aside(specimen_id, from, *json, summary, what, detail, saved.version);
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
  const std::string json = series_settings_to_json(*method, settings);
  if (settings.faults.empty())
    if (const auto back = series_settings_from_json(*method, json); !back)
      return InputError{back.error().message + ". It is not kept.", {}};
  return change(what, settings.series, 0, [&]() -> Outcome<Done> {
    QSqlQuery q(db());
    q.prepare(
        "INSERT INTO series_record (series_id, version, json, saved_at) SELECT ?, COALESCE(MAX(version), 0) + 1, ?, ? "
        "FROM series_record WHERE series_id = ?");
    q.addBindValue(qlonglong(series_id));
    q.addBindValue(text(json));
    q.addBindValue(text(clock_.utc()));
    q.addBindValue(qlonglong(series_id));
    if (!q.exec()) return sql_error(q, "The settings of the series could not be saved");
    touch("series_record", q.lastInsertId());
    return Done{};
  });
}

Outcome<Done> Book::set_summary(Id specimen_id, const Summary& summary) {
  return change("", "", 0, [&] {
    touch("specimen", qlonglong(specimen_id));
    return write_summary(db(), specimen_id, summary);
  });
}

Outcome<Done> Book::set_setting(const std::string& key, const std::string& value) {
  return change("", "", 0, [&]() -> Outcome<Done> {  // a display choice is no event for the logbook
    QSqlQuery q(db());
    q.prepare("INSERT INTO setting (key, value) VALUES (?, ?) ON CONFLICT (key) DO UPDATE SET value = excluded.value");
    q.addBindValue(text(key));
    q.addBindValue(text(value));
    if (!q.exec()) return sql_error(q, "The setting could not be kept");
    touch("setting", qs(key));
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
    touch("column_mapping", qs(signature));
    return Done{};
  });
}

}  // namespace fortitor
