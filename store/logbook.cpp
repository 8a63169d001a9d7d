#include "store/book.h"
#include "store/engine.h"
#include "store/schema.h"
#include "store/seal.h"
#include "store/sql.h"

namespace fortitor {

void Book::touch(const char* table, const QVariant& key) {
  touched_.emplace(table, key.toString());
}

// The rows that a change touched, by their hashes as they are now.
Outcome<QString> Book::seal_touched() {
  seal::Seals seals;
  for (const auto& [name, key] : touched_)
    for (const seal::Table& t : seal::kTables) {
      if (name != t.name) continue;
      const auto hash = seal::row_hash(db(), t, key);
      if (!hash) return hash.error();
      if (!hash->isEmpty()) seals[seal::subject(t.name, key)] = *hash;
    }
  touched_.clear();
  return seal::written(seals);
}

Outcome<Done> Book::log(const std::string& what, const std::string& detail, Id specimen_id) {
  QSqlQuery q(db());
  QString previous;
  qlonglong line = 1;
  if (!q.exec("SELECT hash, id FROM logbook ORDER BY id DESC LIMIT 1"))
    return sql_error(q, "The logbook could not be read");
  if (q.next()) {
    previous = q.value(0).toString();
    line = q.value(1).toLongLong() + 1;
  }
  q.finish();
  QString code = "";
  if (specimen_id != 0)
    if (const auto s = specimen(specimen_id)) code = qs(s->code);
  const auto seals = seal_touched();
  if (!seals) return seals.error();
  QStringList fields = {qs(clock_.utc()), qs(who_), qs(what), code, qs(detail), *seals};
  for (QString& f : fields)
    if (f.isNull()) f = "";
  q.prepare(
      "INSERT INTO logbook (id, at, who, what, specimen, detail, seals, previous, hash) VALUES (?, ?, ?, ?, ?, ?, ?, "
      "?, "
      "?)");
  q.addBindValue(line);
  for (const QString& f : fields) q.addBindValue(f);
  q.addBindValue(previous.isNull() ? QString("") : previous);
  q.addBindValue(seal::chain_hash(previous, fields));
  if (!q.exec()) return sql_error(q, "The logbook could not be written");
  if (engine::on_server(db())) return Done{};  // the server itself keeps the newest seals, and lets nobody write them
  q.prepare(
      "INSERT INTO seal (subject, sha256, line) VALUES (?, ?, ?) ON CONFLICT (subject) DO UPDATE SET sha256 = "
      "excluded.sha256, line = excluded.line");
  for (const auto& [subject, hash] : seal::read(*seals)) {
    q.bindValue(0, subject);
    q.bindValue(1, hash);
    q.bindValue(2, line);
    if (!q.exec()) return sql_error(q, "The logbook could not be written");
  }
  return Done{};
}

// A book from before version 4: what is there is sealed as it is found.
Outcome<Done> Book::seal_all() {
  return change("book sealed", "every row by its hash, as found", 0, [&]() -> Outcome<Done> {
    for (const seal::Table& t : seal::kTables) {
      const auto keys = seal::keys_of(db(), t);
      if (!keys) return keys.error();
      for (const QString& key : *keys) touch(t.name, key);
    }
    return Done{};
  });
}

ChainHead Book::head() const {
  QSqlQuery q(db());
  if (!q.exec("SELECT hash, (SELECT COUNT(*) FROM logbook) FROM logbook ORDER BY id DESC LIMIT 1") || !q.next())
    return {};
  return {q.value(1).toLongLong(), str(q.value(0).toString())};
}

Outcome<Done> Book::check_head(const ChainHead& head) const {
  QSqlQuery q(db());
  q.prepare("SELECT COUNT(*), MAX(id) FROM logbook WHERE id <= (SELECT id FROM logbook WHERE hash = ?)");
  q.addBindValue(text(head.hash));
  if (!q.exec() || !q.next()) return sql_error(q, "The logbook could not be read");
  const int64_t lines = q.value(0).toLongLong();
  if (lines == 0)
    return InputError{"head: the chain of this book never had the head " + head.hash +
                          ": it is another book, or its logbook was written anew",
                      {}};
  if (head.lines != 0 && head.lines != lines)
    return InputError{"head: that head stands at line " + std::to_string(lines) + " of the logbook, not at line " +
                          std::to_string(head.lines),
                      {}};
  return Done{};
}

Outcome<Done> Book::note(const std::string& what, const std::string& detail, Id specimen_id) {
  return change(what, detail, specimen_id, [] { return Outcome<Done>(Done{}); });
}

std::vector<LogEntry> Book::logbook(int newest) const {
  return logbook(LogQuery{}, newest);
}

std::vector<LogEntry> Book::logbook(const LogQuery& query, int newest) const {
  QString where = "what <> ''";
  std::vector<QString> values;
  const auto add = [&](const QString& condition, std::initializer_list<QString> bound) {
    where += " AND " + condition;
    values.insert(values.end(), bound);
  };
  for (const QString& word : qs(query.words).split(' ', Qt::SkipEmptyParts)) {
    QString pattern = word;
    pattern.replace("\\", "\\\\").replace("%", "\\%").replace("_", "\\_");
    add("(what || ' ' || detail || ' ' || specimen || ' ' || who) " + engine::like(db()) + " ? ESCAPE '\\'",
        {"%" + pattern + "%"});
  }
  if (!query.who.empty()) add("who = ?", {qs(query.who)});
  if (!query.from.empty()) add("at >= ?", {qs(query.from)});
  if (!query.to.empty()) add("at < ?", {qs(query.to)});
  if (!query.job.empty())
    add("(what LIKE ? OR (specimen <> '' AND specimen IN (SELECT s.code FROM specimen s JOIN series r ON r.id = "
        "s.series_id JOIN job j ON j.id = r.job_id WHERE j.code = ?)))",
        {"%" + qs(query.job) + "%", qs(query.job)});
  std::vector<LogEntry> out;
  QSqlQuery q(db());
  q.prepare("SELECT id, at, who, what, specimen, detail, previous, hash FROM logbook WHERE " + where +
            " ORDER BY id DESC LIMIT ?");
  for (const QString& v : values) q.addBindValue(v);
  q.addBindValue(newest);
  if (!q.exec()) return out;
  while (q.next()) {
    auto column = [&](int i) { return str(q.value(i).toString()); };
    out.push_back(
        {q.value(0).toLongLong(), column(1), column(2), column(3), column(4), column(5), column(6), column(7)});
  }
  return out;
}

std::vector<std::string> Book::writers() const {
  std::vector<std::string> out;
  QSqlQuery q(db());
  if (q.exec("SELECT DISTINCT who FROM logbook WHERE who <> '' ORDER BY who"))
    while (q.next()) out.push_back(str(q.value(0).toString()));
  return out;
}

Id Book::broken_link() const {
  QSqlQuery q(db());
  q.setForwardOnly(true);
  if (!q.exec(seal::Chain::query(schema::version_of(db())))) return 1;
  seal::Chain chain;
  while (q.next())
    if (!chain.goes_on(q)) return q.value(0).toLongLong();
  return q.lastError().isValid() ? chain.last + 1 : 0;
}

}  // namespace fortitor
