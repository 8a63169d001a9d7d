#include <QCryptographicHash>

#include "core/bench/records.h"
#include "store/book.h"
#include "store/schema.h"
#include "store/sql.h"

namespace fortitor {
namespace {

// Fields are separated by a byte that text cannot hold, so that no two lines hash alike.
QString chain_hash(const QString& previous, const QStringList& fields) {
  QCryptographicHash h(QCryptographicHash::Sha256);
  h.addData(previous.toUtf8());
  for (const QString& f : fields) {
    h.addData(QByteArray(1, '\0'));
    h.addData(f.toUtf8());
  }
  return h.result().toHex();
}

}  // namespace

Outcome<Done> Book::log(const std::string& what, const std::string& detail, Id specimen_id) {
  QSqlQuery q(db());
  QString previous;
  if (!q.exec("SELECT hash FROM logbook ORDER BY id DESC LIMIT 1"))
    return sql_error(q, "The logbook could not be read");
  if (q.next()) previous = q.value(0).toString();
  q.finish();
  QString code = "";
  if (specimen_id != 0)
    if (const auto s = specimen(specimen_id)) code = qs(s->code);
  const QStringList fields = {qs(utc_now()), qs(who_), qs(what), code, qs(detail)};
  q.prepare("INSERT INTO logbook (at, who, what, specimen, detail, previous, hash) VALUES (?, ?, ?, ?, ?, ?, ?)");
  for (const QString& f : fields) q.addBindValue(f.isNull() ? QString("") : f);
  q.addBindValue(previous.isNull() ? QString("") : previous);
  q.addBindValue(chain_hash(previous, fields));
  if (!q.exec()) return sql_error(q, "The logbook could not be written");
  return Done{};
}

Outcome<Done> Book::note(const std::string& what, const std::string& detail, Id specimen_id) {
  return change(what, detail, specimen_id, [] { return Outcome<Done>(Done{}); });
}

std::vector<LogEntry> Book::logbook(int newest) const {
  std::vector<LogEntry> out;
  QSqlQuery q(db());
  q.prepare("SELECT id, at, who, what, specimen, detail, previous, hash FROM logbook ORDER BY id DESC LIMIT ?");
  q.addBindValue(newest);
  if (!q.exec()) return out;
  while (q.next()) {
    auto column = [&](int i) { return str(q.value(i).toString()); };
    out.push_back(
        {q.value(0).toLongLong(), column(1), column(2), column(3), column(4), column(5), column(6), column(7)});
  }
  return out;
}

std::vector<Damage> Book::verify() const {
  std::vector<Damage> found;
  QSqlQuery q(db());
  if (!q.exec("PRAGMA integrity_check")) {
    found.push_back({"the file cannot be checked: " + str(q.lastError().text())});
    return found;
  }
  while (q.next())
    if (q.value(0).toString() != "ok") found.push_back({"file: " + str(q.value(0).toString())});
  if (schema::version_of(db()) != schema::newest())
    found.push_back({"schema: version " + std::to_string(schema::version_of(db())) + ", expected " +
                     std::to_string(schema::newest())});
  if (q.exec("PRAGMA foreign_key_check"))
    while (q.next()) found.push_back({"table " + str(q.value(0).toString()) + ": a row points to nothing"});

  QString previous;
  if (!q.exec("SELECT id, at, who, what, specimen, detail, previous, hash FROM logbook ORDER BY id"))
    found.push_back({"logbook: cannot be read: " + str(q.lastError().text())});
  while (q.next()) {
    QStringList fields;
    for (int i = 1; i <= 5; ++i) fields << q.value(i).toString();
    const bool sound = q.value(6).toString() == previous && q.value(7).toString() == chain_hash(previous, fields);
    if (!sound) {
      found.push_back({"logbook: the chain is broken at line " + std::to_string(q.value(0).toLongLong())});
      break;
    }
    previous = q.value(7).toString();
  }
  std::vector<Id> runs_found;
  if (q.exec("SELECT id FROM run"))
    while (q.next()) runs_found.push_back(q.value(0).toLongLong());
  for (Id run : runs_found)
    if (const auto s = samples(run); !s) found.push_back({"run " + std::to_string(run) + ": " + s.error().message});
  if (q.exec("SELECT specimen_id, version, json FROM record"))
    while (q.next())
      if (const auto r = record_from_json(str(q.value(2).toString())); !r)
        found.push_back({"record of specimen " + std::to_string(q.value(0).toLongLong()) + ", version " +
                         std::to_string(q.value(1).toLongLong()) + ": " + r.error().message});
  std::vector<Id> signed_pieces;
  if (q.exec("SELECT DISTINCT specimen_id FROM signature"))
    while (q.next()) signed_pieces.push_back(q.value(0).toLongLong());
  for (Id piece : signed_pieces) {
    const auto row = specimen(piece);
    const std::string code = row ? row->code : "specimen " + std::to_string(piece);
    if (const auto sound = check_signature(piece); !sound) found.push_back({code + ": " + sound.error().message});
    // Its seal stands in the chain: a signature without one was not made by the program.
    const auto s = signature(piece);
    if (!s || s->record_sha256.empty()) continue;
    q.prepare("SELECT COUNT(*) FROM logbook WHERE what = 'sealed' AND specimen = ? AND detail = ?");
    q.addBindValue(text(code));
    q.addBindValue(text(s->record_sha256 + " " + s->run_sha256 + " " + s->evaluation_sha256));
    if (!q.exec() || !q.next() || q.value(0).toInt() == 0)
      found.push_back({code + ": its signature has no line in the logbook"});
  }
  return found;
}

}  // namespace fortitor
