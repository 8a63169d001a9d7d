#include "store/journal.h"

#include <QAtomicInt>
#include <QDir>
#include <QFile>
#include <QSqlDatabase>
#include <QUuid>

#include "store/book_file.h"
#include "store/sql.h"

namespace fortitor {
namespace {

constexpr const char* kTables[] = {
    "PRAGMA journal_mode = WAL",
    "PRAGMA synchronous = FULL",
    "CREATE TABLE IF NOT EXISTS name (name TEXT NOT NULL)",
    "CREATE TABLE IF NOT EXISTS line (id INTEGER PRIMARY KEY AUTOINCREMENT, kind TEXT NOT NULL, who TEXT NOT NULL, at "
    "TEXT NOT NULL, body BLOB NOT NULL)",
    "CREATE TABLE IF NOT EXISTS refused (id INTEGER PRIMARY KEY, kind TEXT NOT NULL, who TEXT NOT NULL, at TEXT NOT "
    "NULL, body BLOB NOT NULL, why TEXT NOT NULL)",
    "CREATE TABLE IF NOT EXISTS run (number INTEGER PRIMARY KEY, on_server INTEGER NOT NULL)"};

InputError cannot(const QSqlQuery& q) {
  return sql_error(q, "The journal of this bench cannot be written");
}

}  // namespace

Outcome<std::unique_ptr<Journal>> Journal::open(const std::string& folder, const std::string& address) {
  if (!QDir().mkpath(qs(folder))) return InputError{folder + ": the folder for the journal cannot be made.", {}};
  std::unique_ptr<Journal> out(new Journal);
  // One that nobody has open: left behind by a window that ended, or a new one.
  const QString stem = QDir(qs(folder)).filePath(sha256(QByteArray::fromStdString(address)).left(16));
  std::string path;
  for (int n = 1; !out->file_; ++n) {
    path = str(stem + "-" + QString::number(n) + ".journal");
    auto owned = BookFile::own(path);
    if (!owned) return InputError{path + ": " + owned.error().message + ".", {}};
    out->file_ = std::move(owned->file);
  }
  static QAtomicInt counter;
  out->connection_ = "journal-" + std::to_string(counter.fetchAndAddRelaxed(1));
  QSqlDatabase db = QSqlDatabase::addDatabase("QSQLITE", qs(out->connection_));
  db.setDatabaseName(qs(path));
  if (!db.open()) return InputError{path + ": the journal cannot be opened: " + cause(db.lastError()) + ".", {}};
  QSqlQuery q(db);
  for (const char* sql : kTables)
    if (!q.exec(sql)) return cannot(q);
  if (!q.exec("SELECT name FROM name")) return cannot(q);
  if (q.next()) {
    out->name_ = str(q.value(0).toString());
  } else {
    out->name_ = str(QUuid::createUuid().toString(QUuid::WithoutBraces));
    q.prepare("INSERT INTO name VALUES (?)");
    q.addBindValue(text(out->name_));
    if (!q.exec()) return cannot(q);
  }
  if (!q.exec("SELECT number, on_server FROM run")) return cannot(q);
  while (q.next()) {
    out->runs_[q.value(0).toLongLong()] = q.value(1).toLongLong();
    out->last_run_ = std::min<int64_t>(out->last_run_, q.value(0).toLongLong());
  }
  if (!q.exec("SELECT COUNT(*), COALESCE(MIN(at), '') FROM line") || !q.next()) return cannot(q);
  out->waiting_ = size_t(q.value(0).toLongLong());
  out->since_ = str(q.value(1).toString());
  return out;
}

Journal::~Journal() {
  if (connection_.empty()) return;
  QSqlDatabase::database(qs(connection_), false).close();
  QSqlDatabase::removeDatabase(qs(connection_));
}

Outcome<Done> Journal::add(const Line& line) {
  QSqlQuery q(QSqlDatabase::database(qs(connection_), false));
  q.prepare("INSERT INTO line (kind, who, at, body) VALUES (?, ?, ?, ?)");
  for (const auto* words : {&line.kind, &line.who, &line.at}) q.addBindValue(text(*words));
  q.addBindValue(line.body);
  if (!q.exec()) return cannot(q);
  if (waiting_++ == 0) since_ = line.at;
  return Done{};
}

Outcome<std::vector<Journal::Line>> Journal::next() const {
  QSqlQuery q(QSqlDatabase::database(qs(connection_), false));
  if (!q.exec("SELECT id, kind, who, at, body FROM line ORDER BY id LIMIT 1")) return cannot(q);
  std::vector<Line> out;
  if (q.next())
    out.push_back({q.value(0).toLongLong(), str(q.value(1).toString()), str(q.value(2).toString()),
                   str(q.value(3).toString()), q.value(4).toByteArray()});
  return out;
}

Outcome<Done> Journal::taken(int64_t id) {
  QSqlQuery q(QSqlDatabase::database(qs(connection_), false));
  q.prepare("DELETE FROM line WHERE id <= ?");
  q.addBindValue(qlonglong(id));
  if (!q.exec()) return cannot(q);
  if (!q.exec("SELECT COUNT(*), COALESCE(MIN(at), '') FROM line") || !q.next()) return cannot(q);
  waiting_ = size_t(q.value(0).toLongLong());
  since_ = str(q.value(1).toString());
  return Done{};
}

Outcome<Done> Journal::refuse(int64_t id, const std::string& why) {
  QSqlQuery q(QSqlDatabase::database(qs(connection_), false));
  q.prepare("INSERT OR REPLACE INTO refused SELECT id, kind, who, at, body, ? FROM line WHERE id = ?");
  q.addBindValue(text(why));
  q.addBindValue(qlonglong(id));
  if (!q.exec()) return cannot(q);
  return taken(id);
}

std::vector<Journal::Refused> Journal::refused() const {
  std::vector<Refused> out;
  QSqlQuery q(QSqlDatabase::database(qs(connection_), false));
  q.exec("SELECT kind, who, at, why FROM refused ORDER BY id");
  while (q.next()) {
    const auto words = [&](int i) { return str(q.value(i).toString()); };
    out.push_back({words(0), words(1), words(2), words(3)});
  }
  return out;
}

Outcome<int64_t> Journal::new_run() {
  const int64_t number = last_run_ - 1;
  if (const auto kept = is_now(number, 0); !kept) return kept.error();
  last_run_ = number;
  return number;
}

Outcome<Done> Journal::is_now(int64_t run, int64_t on_server) {
  QSqlQuery q(QSqlDatabase::database(qs(connection_), false));
  q.prepare("INSERT INTO run VALUES (?, ?) ON CONFLICT (number) DO UPDATE SET on_server = excluded.on_server");
  q.addBindValue(qlonglong(run));
  q.addBindValue(qlonglong(on_server));
  if (!q.exec()) return cannot(q);
  runs_[run] = on_server;
  return Done{};
}

int64_t Journal::number_of(int64_t run) const {
  const auto known = runs_.find(run);
  return known == runs_.end() ? run : known->second;
}

}  // namespace fortitor
