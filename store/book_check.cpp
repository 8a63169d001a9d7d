// One piece held against the logbook: what fortitorctl check would say of it, without walking the whole book's rows.
#include <QUrl>
#include <map>

#include "core/methods/method.h"
#include "store/book.h"
#include "store/schema.h"
#include "store/seal.h"
#include "store/sql.h"

namespace fortitor {

std::vector<Damage> Book::verify_piece(Id specimen_id) const {
  std::vector<Damage> found;
  const QSqlDatabase d = db();
  const auto row = specimen(specimen_id);
  if (!row) return {{"The piece is not in the book."}};
  if (schema::version_of(d) < 4) return {};  // before version 4 nothing was sealed
  // Every row that has to do with the piece.
  std::map<QString, const char*> asked;  // subject, what it is to a person
  const auto rows = [&](const char* table, const char* words, const QString& sql) {
    QSqlQuery q(d);
    q.prepare(sql);
    q.addBindValue(qlonglong(specimen_id));
    if (!q.exec()) return;
    while (q.next()) asked[seal::subject(table, q.value(0).toString())] = words;
  };
  rows("specimen", "the piece itself", "SELECT id FROM specimen WHERE id = ?");
  rows("record", "a version of its record", "SELECT id FROM record WHERE specimen_id = ?");
  rows("run", "its run", "SELECT id FROM run WHERE specimen_id = ?");
  rows("signature", "its signature", "SELECT id FROM signature WHERE specimen_id = ?");
  rows("timer", "its timer", "SELECT id FROM timer WHERE specimen_id = ?");
  rows("evaluation", "what was signed",
       "SELECT e.id FROM evaluation e JOIN record r ON r.id = e.record_id WHERE r.specimen_id = ?");
  rows("series", "its series", "SELECT series_id FROM specimen WHERE id = ?");
  rows("series_record", "what holds for its series",
       "SELECT r.id FROM series_record r JOIN specimen s ON s.series_id = r.series_id WHERE s.id = ?");
  rows("job", "its job", "SELECT e.job_id FROM specimen s JOIN series e ON e.id = s.series_id WHERE s.id = ?");
  if (const auto record = typed_record(specimen_id))
    if (const Method* m = methods::find(record->method))
      for (const EquipmentSlot& slot : m->equipment) {
        const std::string name = record->fields.text("equipment." + slot.id + ".id");
        if (name.empty()) continue;
        QSqlQuery q(d);
        q.prepare("SELECT id FROM equipment WHERE kind = ? AND name = ?");
        q.addBindValue(text(slot.id));
        q.addBindValue(text(name));
        if (q.exec() && q.next())
          asked[seal::subject("equipment", q.value(0).toString())] = "an item of the Kit that it used";
      }
  // The newest hash of each by the logbook; what its lines speak of under the piece's mark must still be there.
  std::map<QString, std::pair<QString, qlonglong>> sealed;
  seal::Chain chain;
  bool whole = true;
  QSqlQuery lines(d);
  lines.setForwardOnly(true);
  if (!lines.exec(seal::Chain::query(schema::version_of(d))))
    return {{"The logbook cannot be read: " + cause(lines.lastError()) + "."}};
  while (lines.next()) {
    whole = chain.goes_on(lines) && whole;
    const bool of_piece = str(lines.value(4).toString()) == row->code;
    for (const auto& [subject, hash] : seal::read(lines.value(8).toString())) {
      if (of_piece && subject.startsWith("record/"))
        asked.try_emplace(subject, "a version of a record under this mark");
      if (of_piece && subject.startsWith("run/")) asked.try_emplace(subject, "a run under this mark");
      if (of_piece && subject.startsWith("signature/")) asked.try_emplace(subject, "a signature under this mark");
      if (asked.count(subject) != 0) sealed[subject] = {hash, chain.last};
    }
  }
  QSqlQuery versions(d);
  versions.prepare("SELECT COUNT(*), MAX(version) FROM record WHERE specimen_id = ?");
  versions.addBindValue(qlonglong(specimen_id));
  if (versions.exec() && versions.next() && versions.value(0).toLongLong() != versions.value(1).toLongLong())
    found.push_back({"A version of its record is gone."});
  if (!whole) found.push_back({"The chain of the logbook is broken."});
  for (const auto& [subject, words] : asked) {
    const std::string what = std::string(words) + " (" + str(subject) + ")";
    const auto line = sealed.find(subject);
    const QString table = subject.section('/', 0, 0),
                  key = QUrl::fromPercentEncoding(subject.section('/', 1).toLatin1());
    const seal::Table* t = nullptr;
    for (const seal::Table& one : seal::kTables)
      if (table == one.name) t = &one;
    if (t == nullptr) continue;
    const auto hash = seal::row_hash(d, *t, key);
    if (!hash)
      found.push_back({what + ": " + hash.error().message});
    else if (line == sealed.end())
      found.push_back({what + ": no line of the logbook speaks of it."});
    else if (hash->isEmpty())
      found.push_back({what + " is gone, and the logbook speaks of it."});
    else if (*hash != line->second.first)
      found.push_back({what + " is not what its line in the logbook says."});
  }
  if (const auto sound = check_signature(specimen_id); !sound) found.push_back({sound.error().message});
  return found;
}

}  // namespace fortitor
