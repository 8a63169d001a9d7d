// A job book held against itself: file, schema, chain, every row, every part of every run, every signature.
#include <map>
#include <set>

#include "core/bench/records.h"
#include "store/book.h"
#include "store/engine.h"
#include "store/keys.h"
#include "store/schema.h"
#include "store/seal.h"
#include "store/sql.h"

namespace fortitor {
namespace {

constexpr size_t kMostDamage = 200;  // beyond, nobody reads on

class Verifier {
 public:
  Verifier(const Book& book, const QSqlDatabase& db) : book_(book), db_(db) {}
  std::vector<Damage> run();

 private:
  void say(const std::string& what) {
    if (found_.size() < kMostDamage) found_.push_back({what});
  }
  // Runs a query row by row; an error on the way is damage too.
  template <class Row>
  void each(const QString& sql, const std::string& where, const Row& row) {
    QSqlQuery q(db_);
    q.setForwardOnly(true);
    if (!q.exec(sql)) return say(where + ": cannot be read: " + cause(q.lastError()));
    while (q.next()) row(q);
    if (q.lastError().isValid()) say(where + ": cannot be read: " + cause(q.lastError()));
  }
  bool file();
  void types();
  void chain();
  void rows();
  void parts();
  void records();
  void signatures();
  bool became(const QString& then, const QString& now) const;

  const Book& book_;
  QSqlDatabase db_;
  std::vector<Damage> found_;
  seal::Seals seals_;                   // newest of every row, by the chain
  std::map<QString, qlonglong> lines_;  // and the line it stands in
  bool sealed_ = false;                 // there are lines with seals
};

bool Verifier::file() {
  const int version = schema::version_of(db_);
  if (version != schema::newest())
    say("schema: version " + std::to_string(version) + ", expected " + std::to_string(schema::newest()));
  if (const auto same = schema::compare(db_, version); !same) {
    say("schema: " + same.error().message);
    return false;
  }
  if (engine::on_server(db_)) return true;  // pages, types and references are the server's own
  each("PRAGMA application_id", "file", [&](const QSqlQuery& q) {
    if (q.value(0).toInt() != schema::kApplicationId) say("file: it does not bear the mark of a job book");
  });
  each("PRAGMA integrity_check", "file", [&](const QSqlQuery& q) {
    if (q.value(0).toString() != "ok") say("file: " + str(q.value(0).toString()));
  });
  each("PRAGMA foreign_key_check", "file",
       [&](const QSqlQuery& q) { say("table " + str(q.value(0).toString()) + ": a row points to nothing"); });
  return true;
}

// SQLite keeps any type in any column: text kept as bytes reads the same here, and no question of a filter finds it.
void Verifier::types() {
  if (engine::on_server(db_)) return;
  std::vector<QString> tables;
  each("SELECT name FROM sqlite_master WHERE type = 'table'", "schema",
       [&](const QSqlQuery& q) { tables.push_back(q.value(0).toString()); });
  for (const QString& table : tables) {
    QStringList wrong;
    each("PRAGMA table_info(" + table + ")", "schema", [&](const QSqlQuery& q) {
      const QString column = q.value(1).toString(), type = q.value(2).toString().toLower();
      const bool may_be_null = q.value(3).toInt() == 0;
      wrong << QString("(typeof(%1) <> '%2'%3)")
                   .arg(column, type, may_be_null ? QString(" AND %1 IS NOT NULL").arg(column) : QString());
    });
    each("SELECT COUNT(*) FROM " + table + " WHERE " + wrong.join(" OR "), str(table), [&](const QSqlQuery& q) {
      if (q.value(0).toInt() > 0)
        say(str(table) + ": " + std::to_string(q.value(0).toInt()) +
            " rows hold a value of another type than their column");
    });
  }
}

void Verifier::chain() {
  seal::Chain chain;
  bool whole = true;
  each(seal::Chain::query(schema::version_of(db_)), "logbook", [&](const QSqlQuery& q) {
    if (!chain.goes_on(q) && whole) {
      say("logbook: the chain is broken at line " + std::to_string(chain.last));
      whole = false;  // said once; what the lines seal is still held against the rows
    }
    if (!q.value(8).isNull())
      for (const auto& [subject, hash] : seal::read(q.value(8).toString())) {
        seals_[subject] = hash;
        lines_[subject] = chain.last;
      }
  });
  sealed_ = chain.sealed;
}

void Verifier::rows() {
  if (!sealed_) return;
  seal::Seals left = seals_;
  for (const seal::Table& t : seal::kTables) {
    const auto keys = seal::keys_of(db_, t);
    if (!keys) {
      say(keys.error().message);
      continue;
    }
    for (const QString& key : *keys) {
      const QString subject = seal::subject(t.name, key);
      const auto it = left.find(subject);
      if (it == left.end()) {
        say(str(subject) + ": no line of the logbook speaks of it");
        continue;
      }
      const auto hash = seal::row_hash(db_, t, key);
      if (!hash)
        say(str(subject) + ": " + hash.error().message);
      else if (*hash != it->second)
        say(str(subject) + ": is not what its line in the logbook says");
      left.erase(it);
    }
  }
  for (const auto& [subject, hash] : left) say(str(subject) + ": the logbook speaks of it, and it is gone");
  seal::Seals kept;
  bool same = true;
  each("SELECT subject, sha256, line FROM seal", "seals", [&](const QSqlQuery& q) {
    const QString subject = q.value(0).toString();
    kept[subject] = q.value(1).toString();
    const auto line = lines_.find(subject);
    same = same && line != lines_.end() && line->second == q.value(2).toLongLong();
  });
  if (kept != seals_ || !same) say("seals: they are not those of the logbook");
}

void Verifier::parts() {
  each(
      "SELECT run_id, part, row_count, columns, sha256, (SELECT channels FROM run WHERE run.id = run_id) FROM "
      "run_chunk ORDER BY run_id, part",
      "runs", [&](const QSqlQuery& q) {
        const auto sound = book_.check_part(q.value(3).toByteArray(), q.value(4).toString().toStdString(),
                                            q.value(2).toLongLong(), q.value(5).toString().toStdString());
        if (!sound)
          say("run " + std::to_string(q.value(0).toLongLong()) + ": part " + std::to_string(q.value(1).toLongLong()) +
              " " + sound.error().message);
      });
}

void Verifier::records() {
  each("SELECT specimen_id, version, json FROM record", "records", [&](const QSqlQuery& q) {
    const auto wrong = [&](const std::string& why) {
      say("record of specimen " + std::to_string(q.value(0).toLongLong()) + ", version " +
          std::to_string(q.value(1).toLongLong()) + ": " + why);
    };
    const auto r = stored_record_from_json(str(q.value(2).toString()));
    if (!r) return wrong(r.error().message);
    // A value that its rules do not allow is a slip of a person, shown and mended where the piece is opened.
    for (const RecordFault& f : r->faults)
      if (!f.kept) wrong(f.message);
  });
}

// Whether a piece of that mark is the one of this mark now: a piece may be marked anew after it was signed.
bool Verifier::became(const QString& then, const QString& now) const {
  std::set<QString> seen;
  std::vector<QString> names = {then};
  while (!names.empty()) {
    const QString name = names.back();
    names.pop_back();
    if (name == now) return true;
    if (!seen.insert(name).second) continue;
    const QString prefix = name + " → ";
    QSqlQuery q(db_);
    q.prepare("SELECT detail FROM logbook WHERE what = 'marked anew' AND substr(detail, 1, ?) = ?");
    q.addBindValue(int(prefix.size()));
    q.addBindValue(prefix);
    for (bool more = q.exec(); more && q.next();) names.push_back(q.value(0).toString().mid(prefix.size()));
  }
  return false;
}

void Verifier::signatures() {
  std::vector<Id> pieces;
  each("SELECT DISTINCT specimen_id FROM signature", "signatures",
       [&](const QSqlQuery& q) { pieces.push_back(q.value(0).toLongLong()); });
  for (Id piece : pieces) {
    const auto row = book_.specimen(piece);
    const std::string code = row ? row->code : "specimen " + std::to_string(piece);
    if (const auto sound = book_.check_signature(piece); !sound) say(code + ": " + sound.error().message);
    // Its seal stands in the chain: a signature without one was not made by the program.
    const auto s = book_.signature(piece);
    if (!s || s->record_sha256.empty()) continue;
    QSqlQuery q(db_);
    q.prepare("SELECT specimen FROM logbook WHERE what = 'sealed' AND detail = ?");
    q.addBindValue(text(s->record_sha256 + " " + s->run_sha256 + " " + s->evaluation_sha256));
    bool there = false;
    for (bool more = q.exec(); more && !there && q.next();) there = became(q.value(0).toString(), qs(code));
    if (!there) say(code + ": its signature has no line in the logbook");
  }
  for (const std::string& wrong : keys::check_all(book_)) say(wrong);
}

std::vector<Damage> Verifier::run() {
  QSqlQuery snapshot(db_);
  snapshot.exec(engine::begin_reading(db_));  // one moment of the book, though another process writes on
  if (file()) {
    types();
    chain();
    rows();
    parts();
    records();
    signatures();
  }
  snapshot.exec("ROLLBACK");
  return found_;
}

}  // namespace

std::vector<Damage> Book::verify() const {
  return Verifier(*this, db()).run();
}

}  // namespace fortitor
