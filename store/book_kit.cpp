// The Kit in the book: items and benches, each change with its line in the logbook.
#include <QSqlQuery>
#include <QVariant>

#include "store/book.h"
#include "store/engine.h"
#include "store/seal.h"
#include "store/sql.h"

namespace fortitor {
namespace {

// "class: 1 → 0.5; due: 2026-11-28 → 2027-11-28"
std::string changes(const kit::Item& before, const kit::Item& now) {
  auto words = [](const kit::Item& item, const FieldSpec& f) -> std::string {
    const FieldValue* v = item.fields.find(f.path);
    if (v == nullptr) return "–";
    if (f.kind == FieldKind::flag) return item.fields.flag(f.path) ? "yes" : "no";
    if (f.kind == FieldKind::number)
      return QString::number(item.fields.number(f.path).value_or(0), 'g', 10).toStdString();
    if (const auto list = item.fields.readings(f.path); !list.empty()) return list.front().typed;
    return item.fields.text(f.path);
  };
  std::string out;
  for (const FieldSpec& f : kit::schema(now.kind).fields) {
    const std::string was = words(before, f), is = words(now, f);
    if (was != is) out += (out.empty() ? "" : "; ") + f.label + ": " + (before.id == 0 ? is : was + " → " + is);
  }
  return out;
}

std::string certificate_key(const kit::Item& item) {
  return "kit.certificate." + std::to_string(item.id) + ".";
}

}  // namespace

Outcome<std::vector<kit::Item>> Book::kit() const {
  QSqlQuery q(db());
  if (!q.exec("SELECT id, kind, name, json FROM equipment ORDER BY id"))
    return sql_error(q, "The Kit could not be read");
  std::vector<kit::Item> out;
  while (q.next()) {
    const std::string name = str(q.value(2).toString());
    if (const auto sound = seal::check_row(db(), "equipment", q.value(0).toString()); !sound) return sound.error();
    auto item = kit::from_json(str(q.value(1).toString()), str(q.value(3).toString()), true);
    if (!item) return InputError{"“" + name + "” of the Kit cannot be read: " + item.error().message, {}};
    item->id = q.value(0).toLongLong();
    out.push_back(std::move(*item));
  }
  if (q.lastError().isValid()) return sql_error(q, "The Kit could not be read");
  return out;
}

Outcome<Id> Book::save_item(const kit::Item& item, const std::string& what) {
  if (const auto fine = kit::check(item); !fine) return fine.error();
  const auto all = kit();
  if (!all) return all.error();
  kit::Item before;
  before.kind = item.kind;
  for (const kit::Item& other : *all) {
    if (other.id == item.id) before = other;
    if (other.id != item.id && other.kind == item.kind && other.name() == item.name())
      return InputError{"The Kit already has “" + item.name() + "” of that kind.", {}};
  }
  if (item.id != 0 && before.id != item.id) return InputError{"“" + item.name() + "” is not in the Kit.", {}};
  Id id = item.id;
  const auto done = change(what, changes(before, item), 0, [&]() -> Outcome<Done> {
    QSqlQuery q(db());
    q.prepare(id == 0 ? "INSERT INTO equipment (kind, name, json) VALUES (?, ?, ?)"
                      : "UPDATE equipment SET kind = ?, name = ?, json = ? WHERE id = ?");
    q.addBindValue(text(item.kind));
    q.addBindValue(text(item.name()));
    q.addBindValue(text(kit::to_json(item)));
    if (id != 0) q.addBindValue(qlonglong(id));
    if (!q.exec()) return sql_error(q, "The Kit could not be changed");
    if (id == 0) id = q.lastInsertId().toLongLong();
    touch("equipment", qlonglong(id));
    if (item.is_bench() || before.id == 0 || before.name() == item.name()) return Done{};
    // Benches know their items by name: they go with a new one.
    for (kit::Item bench : *all) {
      if (!bench.holds(before)) continue;
      bench.set_of_kind(item.kind, item.name());
      q.prepare("UPDATE equipment SET json = ? WHERE id = ?");
      q.addBindValue(text(kit::to_json(bench)));
      q.addBindValue(qlonglong(bench.id));
      if (!q.exec()) return sql_error(q, "The Kit could not be changed");
      touch("equipment", qlonglong(bench.id));
    }
    return Done{};
  });
  if (!done) return done.error();
  return id;
}

std::vector<ItemUse> Book::uses(const kit::Item& item) const {
  std::vector<ItemUse> out;
  if (kit::find_kind(item.kind) == nullptr) return out;
  QSqlQuery q(db());
  q.prepare(QString("SELECT s.id, s.code, COALESCE(%1, '') FROM record r JOIN specimen s ON s.id = r.specimen_id "
                    "WHERE r.id IN (SELECT MAX(id) FROM record GROUP BY specimen_id) AND %2 = ? ORDER BY 3 DESC, 1")
                .arg(engine::text_in(db(), "r.json", {"tested_at"}),
                     engine::text_in(db(), "r.json", {"equipment", qs(item.kind), "id"})));
  q.addBindValue(text(item.name()));
  if (!q.exec()) return out;
  while (q.next()) out.push_back({q.value(0).toLongLong(), str(q.value(1).toString()), str(q.value(2).toString())});
  return out;
}

Outcome<int> Book::mark_uses(const kit::Item& item, const std::string& since, const std::string& reason) {
  if (reason.empty()) return InputError{"Records are marked for a reason: nothing was changed.", {}};
  int marked = 0;
  const auto done = together([&]() -> Outcome<Done> {
    for (const ItemUse& use : uses(item)) {
      if (use.tested_at.empty() || use.tested_at.substr(0, 10) < since) continue;
      auto record = typed_record(use.specimen);
      if (!record) return record.error();
      const auto row = specimen(use.specimen);
      record->fields.set(item.path("held"), reason);
      std::erase_if(record->answers, [](const Answer& a) { return a.code == "calibration-expired"; });
      const Summary summary{row ? row->stages : "0000000", row ? row->verdict : "none",
                            row ? row->open_judgements + 1 : 1};
      const auto saved = save_record(use.specimen, 0, *record, summary, "marked: " + item.name() + " was off", reason);
      if (!saved) return saved.error();
      ++marked;
    }
    return Done{};
  });
  if (!done) return done.error();
  return marked;
}

Outcome<Done> Book::attach_certificate(const kit::Item& item, const std::string& name, const QByteArray& bytes) {
  constexpr qsizetype kLargest = 16 * 1024 * 1024;
  if (bytes.isEmpty()) return InputError{name + ": the file is empty.", {}};
  if (bytes.size() > kLargest) return InputError{name + ": is larger than 16 MB; attach a smaller scan.", {}};
  // Each has a row of its own: a newer one writes over nothing.
  const std::string key = certificate_key(item) + std::to_string(certificates(item).size() + 1);
  return together([&]() -> Outcome<Done> {
    // A name holds no line end; the bytes follow it.
    std::string plain = name;
    std::erase(plain, '\n');
    if (const auto kept = set_setting(key, plain + "\n" + bytes.toBase64().toStdString()); !kept) return kept;
    return note("certificate of " + item.name() + " attached", plain + ", SHA-256 " + str(sha256(bytes)));
  });
}

std::vector<std::string> Book::certificates(const kit::Item& item) const {
  std::vector<std::string> out;
  QSqlQuery q(db());
  q.prepare("SELECT " + engine::first_line(db(), "value") +
            " FROM setting WHERE key LIKE ? ORDER BY CAST(substr(key, ?) AS INTEGER)");
  const QString key = text(certificate_key(item)).toString();
  q.addBindValue(key + "%");
  q.addBindValue(key.size() + 1);
  if (q.exec())
    while (q.next()) out.push_back(str(q.value(0).toString()));
  return out;
}

QByteArray Book::certificate(const kit::Item& item, size_t number) const {
  const auto kept = setting(certificate_key(item) + std::to_string(number + 1));
  const size_t end = kept ? kept->find('\n') : std::string::npos;
  return end == std::string::npos ? QByteArray()
                                  : QByteArray::fromBase64(QByteArray::fromStdString(kept->substr(end + 1)));
}

std::vector<kit::DailyCheck> Book::daily_checks(const kit::Item& item) const {
  const auto kept = setting("kit.checks." + std::to_string(item.id));
  const auto checks = kept ? kit::checks_from_json(*kept) : std::vector<kit::DailyCheck>{};
  return checks ? *checks : std::vector<kit::DailyCheck>{};
}

std::vector<kit::DailyCheck> Book::checks_of(const kit::Item& item, size_t most) const {
  std::vector<kit::DailyCheck> all = daily_checks(item);
  if (item.kind != "reference_block" && item.kind != "pendulum" && item.kind != "hammer") return all;
  size_t looked = 0;
  for (const ItemUse& use : uses(item)) {
    if (use.tested_at.empty() || ++looked > most) continue;
    const auto record = typed_record(use.specimen);
    if (!record) continue;
    if (auto check = kit::check_in(*record, item.kind)) {
      // Records keep the time of the place, checks Greenwich.
      const QDateTime at = QDateTime::fromString(qs(check->at), Qt::ISODate);
      if (at.isValid()) check->at = str(at.toUTC().toString(Qt::ISODateWithMs));
      all.push_back(std::move(*check));
    }
  }
  std::stable_sort(all.begin(), all.end(),
                   [](const kit::DailyCheck& a, const kit::DailyCheck& b) { return a.at < b.at; });
  return all;
}

Outcome<Done> Book::add_daily_check(const kit::Item& item, const kit::DailyCheck& check) {
  std::vector<kit::DailyCheck> all = daily_checks(item);
  if (const auto fine = kit::fits(check, all); !fine) return fine;
  all.push_back(check);
  return together([&]() -> Outcome<Done> {
    if (const auto kept = set_setting("kit.checks." + std::to_string(item.id), kit::checks_to_json(all)); !kept)
      return kept;
    return note("daily check of " + item.name(), check.value + (check.note.empty() ? "" : ", " + check.note));
  });
}

}  // namespace fortitor
