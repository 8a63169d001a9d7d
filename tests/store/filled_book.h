// A book with something of everything in it, and ways to write to its file from outside.
#pragma once

#include <gtest/gtest.h>

#include <QFile>
#include <QSqlDatabase>
#include <QSqlError>
#include <QSqlQuery>
#include <QSqlRecord>
#include <QTemporaryDir>
#include <QUrl>

#include "core/evaluation/evaluation_json.h"
#include "core/methods/method.h"
#include "core/series/series.h"
#include "core/standin/tension_bench.h"
#include "store/book.h"
#include "tests/store/shared_server.h"

namespace fortitor {

/// Two jobs, three pieces, runs of several parts, versions, a signature, timers, settings; closed on return.
inline void fill_book(const std::string& path) {
  auto opened = Book::open(path, "R. Vale");
  ASSERT_TRUE(opened) << opened.error().message;
  Book& b = **opened;
  const auto job = b.add_job("TC-041", "Hanger bolts, line 2", "Thursday");
  ASSERT_TRUE(b.add_job("TC-042", "Track rope clamps"));
  const auto series = b.add_series(*job, "Tension, round bar", "tension-metal");
  for (int n = 1; n <= 3; ++n) {
    TestRecord r = standin::simulate_tension({.seed = uint64_t(n)});
    r.fields.set("specimen.id", "HB-0" + std::to_string(n));
    TestRecord empty = r;
    empty.run = {};
    const auto id = b.add_specimen(*series, "HB-0" + std::to_string(n), empty);
    ASSERT_TRUE(id);
    std::vector<std::string> names;
    const Samples& s = *r.run.samples();
    for (const Channel& c : s.channels) names.push_back(c.name);
    const auto run = b.begin_run(*id, names, "stand-in frame");
    ASSERT_TRUE(run) << run.error().message;
    for (size_t from = 0; from < s.size(); from += s.size() / 3 + 1) {
      std::vector<std::vector<double>> part;
      for (const Channel& c : s.channels)
        part.emplace_back(c.values.begin() + long(from),
                          c.values.begin() + long(std::min(s.size(), from + s.size() / 3 + 1)));
      ASSERT_TRUE(b.append_run(*run, part));
    }
    ASSERT_TRUE(b.close_run(*run, ""));
    const auto saved = b.save_record(*id, 1, r, {"1111100", "meets", 1}, "run kept");
    ASSERT_TRUE(saved);
    if (n == 1) {
      const auto read = b.record(*id);
      ASSERT_TRUE(read) << read.error().message;
      const Evaluation e = methods::evaluate(*read);
      const auto done = b.sign_off(*id, saved->version, evaluation_to_json(e, read->fields, -1),
                                   std::string(verdict_word(e.verdict)));
      ASSERT_TRUE(done) << done.error().message;
    }
    if (n == 3) {
      ASSERT_TRUE(b.start_timer(*id, "Cure", "2026-11-24T08:00:00.000Z", "2026-11-25T08:00:00.000Z"));
    }
  }
  auto settings = b.series_record(*series);
  ASSERT_TRUE(settings);
  ASSERT_TRUE(b.save_series_record(*series, *settings, "settings of the series"));
  const auto spectrum = b.add_spectrum(b.jobs().front().id, "Gauge 1");
  ASSERT_TRUE(spectrum);
  ASSERT_TRUE(b.save_spectrum(*spectrum, *b.spectrum_record(*spectrum), R"({"damage": 2.05e-5})", "spectrum computed"));
  ASSERT_TRUE(b.set_setting("units", "si"));
  ASSERT_TRUE(b.remember_mapping("time;load;ext", "{\"force\":\"load\"}"));
  ASSERT_TRUE(b.note("lamp of bay 2 replaced", "nothing to do with a piece"));
}

/// A way past the program into what it keeps: a file, or a server as its owner, who need not mind triggers.
inline QSqlDatabase outside_database(const char* name, const std::string& path, bool past_triggers = true) {
  QSqlDatabase db = QSqlDatabase::addDatabase(on_server() ? "QPSQL" : "QSQLITE", name);
  db.setDatabaseName(QString::fromStdString(path));
  if (on_server()) {
    const QUrl url(QString::fromStdString(path));
    db.setDatabaseName(url.path().mid(1));
    db.setHostName(SharedServer::one().folder());
    db.setUserName("keeper");
  }
  EXPECT_TRUE(db.open()) << db.lastError().text().toStdString();
  if (on_server() && past_triggers) {
    EXPECT_TRUE(QSqlQuery(db).exec("SET session_replication_role = replica"));
  }
  return db;
}

/// Runs SQL behind the book's back. Triggers are taken away and put back as they were, as somebody would who knows
/// them.
inline void outside(const std::string& path, const QString& script) {
  {
    QSqlDatabase db = outside_database("outside", path);
    QSqlQuery q(db);
    QStringList triggers, names;
    if (!on_server()) {
      ASSERT_TRUE(q.exec("SELECT name, sql FROM sqlite_master WHERE type = 'trigger'"));
      while (q.next()) {
        names << q.value(0).toString();
        triggers << q.value(1).toString();
      }
      q.finish();
    }
    for (const QString& trigger : names) EXPECT_TRUE(q.exec("DROP TRIGGER " + trigger));
    for (const QString& sql : script.split(";;", Qt::SkipEmptyParts))
      EXPECT_TRUE(q.exec(sql)) << sql.toStdString() << ": " << q.lastError().text().toStdString();
    for (const QString& sql : triggers) EXPECT_TRUE(q.exec(sql));
    if (!on_server()) q.exec("PRAGMA wal_checkpoint(TRUNCATE)");
  }
  QSqlDatabase::removeDatabase("outside");
}

/// What `check` says of a book, a line each; empty: it is sound.
inline std::string damage_of(const std::string& path) {
  const auto book = Book::open_read_only(path);
  if (!book) return book.error().message;
  std::string out;
  for (const Damage& d : (*book)->verify()) out += d.what + "\n";
  return out;
}

/// Everything that a book's tables hold, as text; what cannot be read says so in its place.
inline QByteArray content_of(const std::string& path) {
  QByteArray out;
  {
    QSqlDatabase db = QSqlDatabase::addDatabase("QSQLITE", "content");
    db.setDatabaseName(QString::fromStdString(path));
    db.setConnectOptions("QSQLITE_OPEN_READONLY");
    if (!db.open()) out += "closed";
    QSqlQuery q(db);
    for (const char* table : {"sqlite_master", "job", "series", "specimen", "run", "run_chunk", "record", "evaluation",
                              "signature", "setting", "timer", "column_mapping", "series_record", "logbook", "seal"}) {
      out += table;
      if (!q.exec(QString("SELECT * FROM %1 ORDER BY 1, 2").arg(table))) {
        out += "unreadable";
        continue;
      }
      while (q.next())
        for (int i = 0; i < q.record().count(); ++i)
          out += QByteArray::number(q.value(i).typeId()) + ':' + q.value(i).toByteArray() + '|';
      if (q.lastError().isValid()) out += "broken";
    }
  }
  QSqlDatabase::removeDatabase("content");
  return out;
}

}  // namespace fortitor
