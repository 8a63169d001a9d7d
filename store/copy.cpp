#include "store/copy.h"

#include <unistd.h>
#include <QAtomicInt>
#include <QFile>
#include <QScopeGuard>
#include <QSqlError>
#include <QSqlRecord>

#include "store/engine.h"
#include "store/keeper_door.h"
#include "store/schema.h"
#include "store/sql.h"

namespace fortitor {

namespace {

// Every table after those it points to, by the columns that order its rows.
struct Table {
  const char *name, *key;
};
constexpr Table kInOrder[] = {{"job", "id"},
                              {"series", "id"},
                              {"specimen", "id"},
                              {"run", "id"},
                              {"run_chunk", "run_id, part"},
                              {"record", "id"},
                              {"evaluation", "id"},
                              {"signature", "id"},
                              {"equipment", "id"},
                              {"setting", "key"},
                              {"timer", "id"},
                              {"column_mapping", "signature"},
                              {"series_record", "id"},
                              {"spectrum", "id"},
                              {"spectrum_record", "id"},
                              {"entry", "id"},
                              {"document", "id"},
                              {"photograph", "id"},
                              {"key_signature", "id"},
                              {"logbook", "id"},
                              {"seal", "subject"}};

// So much is written before it is confirmed.
constexpr qint64 kBatchBytes = 16 << 20;
constexpr int kBatchRows = 5000;

class Copier {
 public:
  Copier(QSqlDatabase from, QSqlDatabase to, std::string name)
      : from_(std::move(from)), to_(std::move(to)), name_(std::move(name)) {}
  Outcome<Done> run(const std::string& head, const std::function<void(double)>& progress);

 private:
  Outcome<Done> prepare(const std::string& head);
  Outcome<Done> table(const Table& t);
  Outcome<Done> finish();
  InputError failed(const QSqlQuery& q) const { return sql_error(q, name_ + ": the copy could not be written"); }
  Outcome<Done> exec(const QString& sql) {
    QSqlQuery q(to_);
    if (!q.exec(sql)) return failed(q);
    return Done{};
  }
  QSqlDatabase from_, to_;
  std::string name_;
};

// A place is empty, or holds what was copied of the same head before.
Outcome<Done> Copier::prepare(const std::string& head) {
  QSqlQuery q(to_);
  if (q.exec("SELECT head FROM copy_under_way") && q.next()) {
    if (str(q.value(0).toString()) == head) return Done{};
    q.finish();
    for (auto t = std::rbegin(kInOrder); t != std::rend(kInOrder); ++t)
      if (const auto dropped = exec(QString("DROP TABLE IF EXISTS %1").arg(t->name)); !dropped) return dropped;
    if (const auto dropped = exec("DROP TABLE copy_under_way"); !dropped) return dropped;
  }
  if (const auto made = schema::make_tables(to_); !made) return made;
  if (const auto begun = exec("CREATE TABLE copy_under_way (head TEXT NOT NULL)"); !begun) return begun;
  q.prepare("INSERT INTO copy_under_way VALUES (?)");
  q.addBindValue(text(head));
  if (!q.exec()) return failed(q);
  return Done{};
}

Outcome<Done> Copier::table(const Table& t) {
  const QStringList keys = QString(t.key).split(", ");
  QSqlQuery last(to_);
  QStringList backwards;
  for (const QString& k : keys) backwards << k + " DESC";
  if (!last.exec(QString("SELECT %1 FROM %2 ORDER BY %3 LIMIT 1").arg(t.key, t.name, backwards.join(", "))))
    return failed(last);
  const bool goes_on = last.next();
  QSqlQuery read(from_);
  read.setForwardOnly(true);
  QStringList places(keys.size(), "?");
  read.prepare(
      QString("SELECT * FROM %1 %2 ORDER BY %3")
          .arg(t.name, goes_on ? QString("WHERE (%1) > (%2)").arg(t.key, places.join(", ")) : QString(), t.key));
  if (goes_on)
    for (int i = 0; i < keys.size(); ++i) read.addBindValue(last.value(i));
  last.finish();
  if (!read.exec()) return sql_error(read, std::string("The table ") + t.name + " cannot be read");
  QSqlQuery write(to_);
  qint64 bytes = 0;
  int rows = 0;
  if (const auto begun = exec("BEGIN"); !begun) return begun;
  while (read.next()) {
    const QSqlRecord row = read.record();
    if (rows == 0 && bytes == 0 && write.lastQuery().isEmpty()) {
      QStringList names, marks;
      for (int i = 0; i < row.count(); ++i) names << row.fieldName(i), marks << "?";
      write.prepare(QString("INSERT INTO %1 (%2) VALUES (%3)").arg(t.name, names.join(", "), marks.join(", ")));
    }
    for (int i = 0; i < row.count(); ++i) {
      const QVariant v = read.value(i);
      if (v.typeId() == QMetaType::QByteArray) bytes += v.toByteArray().size();
      if (v.typeId() == QMetaType::QString) bytes += v.toString().size();
      write.bindValue(i, v);
    }
    if (!write.exec()) {
      const InputError why = failed(write);
      if (const auto undone = exec("ROLLBACK"); !undone) return undone;
      return why;
    }
    if (++rows < kBatchRows && bytes < kBatchBytes) continue;
    rows = 0;
    bytes = 1;
    if (const auto kept = exec("COMMIT"); !kept) return kept;
    if (const auto begun = exec("BEGIN"); !begun) return begun;
  }
  if (read.lastError().isValid()) return sql_error(read, std::string("The table ") + t.name + " cannot be read");
  return exec("COMMIT");
}

Outcome<Done> Copier::finish() {
  if (engine::on_server(to_))
    for (const Table& t : kInOrder)
      if (QString(t.key) == "id")
        if (const auto set =
                exec(QString("SELECT setval(pg_get_serial_sequence('%1', 'id'), (SELECT COALESCE(MAX(id), 0) "
                             "+ 1 FROM %1), false)")
                         .arg(t.name));
            !set)
          return set;
  if (const auto dropped = exec("DROP TABLE copy_under_way"); !dropped) return dropped;
  return schema::make_guards(to_);
}

Outcome<Done> Copier::run(const std::string& head, const std::function<void(double)>& progress) {
  if (const auto ready = prepare(head); !ready) return ready;
  int n = 0;
  for (const Table& t : kInOrder) {
    if (progress) progress(double(n++) / double(std::size(kInOrder)));
    if (const auto done = table(t); !done) return done;
  }
  return finish();
}

Outcome<Done> to_file(const QString& part) {
  QFile file(part);
  if (!file.open(QIODevice::ReadOnly) || ::fsync(file.handle()) != 0)
    return InputError{"The disk did not take it.", {}};
  return Done{};
}

}  // namespace

Outcome<Done> copy_book(const Book& from, const std::string& to, const std::function<void(double)>& progress) {
  const bool server = engine::is_address(to);
  if (!server && QFile::exists(qs(to))) return InputError{to + " is already there; nothing is overwritten.", {}};
  const std::string target = server ? to : to + ".part";
  const QSqlDatabase source = KeeperDoor::of(from);
  QSqlQuery moment(source);
  moment.exec(engine::begin_reading(source));
  const auto over = qScopeGuard([&] { QSqlQuery(source).exec("ROLLBACK"); });
  const std::string head = from.head().hash;
  {
    auto made = KeeperDoor::connect(target);
    if (!made) return made.error();
    QSqlDatabase db = KeeperDoor::of(**made);
    QSqlQuery q(db);
    if (server && schema::version_of(db) != 0)
      return InputError{to + ": there is a book already; nothing is overwritten.", {}};
    if (const auto done = Copier(source, db, to).run(head, progress); !done) return done;
    if ((*made)->head().hash != head) return InputError{to + ": the copy does not end where the book ends.", {}};
  }
  if (server) return Done{};
  if (const auto kept = to_file(qs(target)); !kept || !QFile::rename(qs(target), qs(to)))
    return InputError{to + ": the copy could not be written.", {}};
  return Done{};
}

}  // namespace fortitor
