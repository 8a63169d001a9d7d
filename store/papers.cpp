#include "store/papers.h"

#include <QJsonDocument>
#include <QJsonObject>
#include <QSqlQuery>
#include <QVariant>

#include "core/methods/method.h"
#include "core/quantity/plain.h"
#include "store/engine.h"
#include "store/seal.h"
#include "store/sql.h"

namespace fortitor {
namespace {

// "order: 4711 → 4712; arrived: 2026-11-20"
std::string changes(const lab::Entry& before, const lab::Entry& now) {
  const auto words = [](const lab::Entry& e, const FieldSpec& f) -> std::string {
    if (!e.fields.has(f.path)) return "–";
    if (f.kind == FieldKind::flag) return e.fields.flag(f.path) ? "yes" : "no";
    if (f.kind == FieldKind::picture) return "a picture";
    return e.fields.text(f.path);
  };
  std::string out;
  for (const FieldSpec& f : lab::schema(now.kind).fields) {
    const FieldValue *was = before.fields.find(f.path), *is = now.fields.find(f.path);
    if ((was == nullptr) == (is == nullptr) && (was == nullptr || *was == *is)) continue;
    out +=
        (out.empty() ? "" : "; ") + f.label + ": " + (before.id == 0 ? "" : words(before, f) + " → ") + words(now, f);
  }
  return out;
}

}  // namespace

Outcome<Book*> Papers::writer() const {
  if (writer_ == nullptr) return InputError{"The book is open for reading only.", {}};
  return writer_;
}

Outcome<std::vector<lab::Entry>> Papers::entries(std::string_view kind) const {
  std::vector<lab::Entry> out;
  QSqlQuery q(book_->db());
  q.prepare("SELECT id, name, json FROM entry WHERE kind = ? AND gone = 0 ORDER BY name");
  q.addBindValue(text(std::string(kind)));
  if (!q.exec()) return out;  // a book from before there were any, opened to read
  while (q.next()) {
    if (const auto sound = seal::check_row(book_->db(), "entry", q.value(0).toString()); !sound) return sound.error();
    auto e = lab::entry_from_json(kind, str(q.value(1).toString()), str(q.value(2).toString()), true);
    if (!e)
      return InputError{
          "“" + str(q.value(1).toString()) + "” (" + lab::kind_words(kind) + ") cannot be read: " + e.error().message,
          {}};
    e->id = q.value(0).toLongLong();
    out.push_back(std::move(*e));
  }
  return out;
}

Outcome<std::string> Papers::text_of(std::string_view kind, const std::string& name) const {
  QSqlQuery q(book_->db());
  q.prepare("SELECT id, json FROM entry WHERE kind = ? AND name = ? AND gone = 0");
  q.addBindValue(text(std::string(kind)));
  q.addBindValue(text(name));
  if (!q.exec() || !q.next()) return std::string();
  if (const auto sound = seal::check_row(book_->db(), "entry", q.value(0).toString()); !sound) return sound.error();
  return str(q.value(1).toString());
}

Outcome<lab::Entry> Papers::entry(std::string_view kind, const std::string& name) const {
  const auto json = text_of(kind, name);
  if (!json) return json.error();
  if (json->empty()) return lab::entry_of(kind, name);
  auto e = lab::entry_from_json(kind, name, *json, true);
  if (!e) return InputError{"“" + name + "” cannot be read: " + e.error().message, {}};
  QSqlQuery q(book_->db());
  q.prepare("SELECT id FROM entry WHERE kind = ? AND name = ?");
  q.addBindValue(text(std::string(kind)));
  q.addBindValue(text(name));
  if (q.exec() && q.next()) e->id = q.value(0).toLongLong();
  return e;
}

Outcome<Id> Papers::put(std::string_view kind, Id id, const std::string& name, const std::string& json,
                        const std::string& what, const std::string& detail) {
  const auto book = writer();
  if (!book) return book.error();
  if (const auto fine = check_name(name, "The name"); !fine) return fine.error();
  QSqlQuery taken((*book)->db());
  taken.prepare("SELECT id, gone FROM entry WHERE kind = ? AND name = ?");
  taken.addBindValue(text(std::string(kind)));
  taken.addBindValue(text(name));
  if (!taken.exec()) return sql_error(taken, "It could not be kept");
  if (taken.next() && taken.value(0).toLongLong() != id) {
    if (taken.value(1).toInt() == 0)
      return InputError{"There is already a " + plain::lower(lab::kind_words(kind)) + " “" + name + "”.", {}};
    if (id != 0) return InputError{"“" + name + "” was taken out of use; use another name.", {}};
    id = taken.value(0).toLongLong();  // comes back into use
  }
  taken.finish();
  const auto done = (*book)->change(what, detail, 0, [&]() -> Outcome<Done> {
    QSqlQuery q((*book)->db());
    q.prepare(id == 0 ? "INSERT INTO entry (kind, name, json) VALUES (?, ?, ?)"
                      : "UPDATE entry SET kind = ?, name = ?, json = ?, gone = 0 WHERE id = ?");
    q.addBindValue(text(std::string(kind)));
    q.addBindValue(text(name));
    q.addBindValue(text(json));
    if (id != 0) q.addBindValue(qlonglong(id));
    if (!q.exec()) return sql_error(q, "It could not be kept");
    if (id == 0) id = q.lastInsertId().toLongLong();
    (*book)->touch("entry", qlonglong(id));
    return Done{};
  });
  if (!done) return done.error();
  return id;
}

Outcome<Id> Papers::save(const lab::Entry& given) {
  lab::Entry e = given;
  if (const std::string called = e.text("name"); !called.empty()) e.name = called;
  if (const auto fine = lab::check(e); !fine) return fine.error();
  lab::Entry before = lab::entry_of(e.kind, e.name);
  before.fields = {};
  if (e.id != 0) {
    const auto all = entries(e.kind);
    if (!all) return all.error();
    for (const lab::Entry& other : *all)
      if (other.id == e.id) before = other;
  }
  const std::string what =
      plain::lower(lab::kind_words(e.kind)) + " “" + e.name + "” " + (before.id == 0 ? "entered" : "changed");
  return put(e.kind, e.id, e.name, lab::entry_to_json(e), what, changes(before, e));
}

Outcome<Done> Papers::set_gone(std::string_view kind, Id id, const std::string& what) {
  const auto book = writer();
  if (!book) return book.error();
  return (*book)->change(what, "", 0, [&]() -> Outcome<Done> {
    QSqlQuery q((*book)->db());
    q.prepare("UPDATE entry SET gone = 1 WHERE id = ? AND kind = ?");
    q.addBindValue(qlonglong(id));
    q.addBindValue(text(std::string(kind)));
    if (!q.exec()) return sql_error(q, "It could not be taken out of use");
    (*book)->touch("entry", qlonglong(id));
    return Done{};
  });
}

Outcome<Done> Papers::remove(const lab::Entry& e) {
  const auto refuse = [&](const std::string& why) { return InputError{"“" + e.name + "” stays: " + why + ".", {}}; };
  if (e.kind == lab::kCustomer) {
    for (const DocumentRow& d : documents())
      if (d.customer == e.name) return refuse("document " + d.number + " names this customer");
    const auto jobs = entries(lab::kJob);
    if (!jobs) return jobs.error();
    for (const lab::Entry& job : *jobs)
      if (job.text("customer") == e.name) return refuse("job " + job.name + " is for this customer");
  }
  if (e.kind == lab::kTemplate)
    for (const std::string_view kind : {lab::kJob, lab::kCustomer}) {
      const auto all = entries(kind);
      if (!all) return all.error();
      for (const lab::Entry& other : *all)
        if (other.text("template") == e.name)
          return refuse(plain::lower(lab::kind_words(kind)) + " “" + other.name + "” follows this template");
    }
  if (e.kind == lab::kPerson)
    for (const KeySignature& s : key_signatures())
      if (s.person == e.name) return refuse("this person signed; say instead that they have left");
  return set_gone(e.kind, e.id, plain::lower(lab::kind_words(e.kind)) + " “" + e.name + "” taken out of use");
}

Outcome<std::vector<lab::DemandSheet>> Papers::sheets() const {
  std::vector<lab::DemandSheet> out;
  QSqlQuery q(book_->db());
  q.prepare("SELECT id, name, json FROM entry WHERE kind = ? AND gone = 0 ORDER BY name");
  q.addBindValue(text(std::string(lab::kSheet)));
  for (bool more = q.exec(); more && q.next();) {
    if (const auto sound = seal::check_row(book_->db(), "entry", q.value(0).toString()); !sound) return sound.error();
    auto read = lab::demands_from_json(str(q.value(2).toString()));
    if (!read || read->size() != 1)
      return InputError{"The demand sheet “" + str(q.value(1).toString()) +
                            "” cannot be read: " + (read ? "it is not one sheet" : read.error().message),
                        {}};
    read->front().id = q.value(0).toLongLong();
    out.push_back(std::move(read->front()));
  }
  for (const lab::DemandSheet& s : lab::shipped_demands())
    if (std::none_of(out.begin(), out.end(), [&](const auto& own) { return own.name == s.name; })) out.push_back(s);
  return out;
}

Outcome<Id> Papers::save(const lab::DemandSheet& sheet) {
  if (const auto fine = lab::check(sheet); !fine) return fine.error();
  std::string detail;
  const auto all = sheets();
  if (!all) return all.error();
  for (const lab::DemandSheet& other : *all)
    if (sheet.id != 0 && other.id == sheet.id)
      for (const std::string& one : lab::differences(other, sheet)) detail += (detail.empty() ? "" : "; ") + one;
  if (sheet.id == 0)
    for (const lab::DemandRow& row : sheet.rows) detail += (detail.empty() ? "" : "; ") + row.words();
  return put(lab::kSheet, sheet.id, sheet.name, lab::demands_to_json({sheet}, -1),
             "demand sheet “" + sheet.name + "” " + (sheet.id == 0 ? "entered" : "changed"), detail);
}

Outcome<Done> Papers::remove(const lab::DemandSheet& sheet) {
  if (sheet.id == 0)
    return InputError{"“" + sheet.name + "” comes with the program; enter another of that name in its place.", {}};
  return set_gone(lab::kSheet, sheet.id, "demand sheet “" + sheet.name + "” taken out of use");
}

Outcome<std::optional<lab::DemandSheet>> Papers::demand_of(Id series) const {
  const auto json = text_of(lab::kChosen, std::to_string(series));
  if (!json) return json.error();
  if (json->empty()) return std::optional<lab::DemandSheet>();
  auto read = lab::demands_from_json(*json);
  if (!read || read->empty()) return InputError{"The demand of the series cannot be read.", {}};
  return std::optional(read->front());
}

Outcome<std::vector<std::string>> Papers::choose(Id series, const lab::DemandSheet& sheet) {
  if (const auto fine = lab::check(sheet); !fine) return fine.error();
  const auto book = writer();
  if (!book) return book.error();
  std::vector<std::string> left;
  const auto done = (*book)->together([&]() -> Outcome<Done> {
    QSqlQuery known((*book)->db());
    known.prepare("SELECT id FROM entry WHERE kind = ? AND name = ?");
    known.addBindValue(text(std::string(lab::kChosen)));
    known.addBindValue(text(std::to_string(series)));
    const Id id = known.exec() && known.next() ? known.value(0).toLongLong() : 0;
    known.finish();
    const auto kept = put(lab::kChosen, id, std::to_string(series), lab::demands_to_json({sheet}, -1),
                          "demand sheet chosen", sheet.title());
    if (!kept) return kept.error();
    auto common = (*book)->series_record(series);
    if (!common) return common.error();
    common->fields.set("settings.demand", sheet.title());
    if (const auto held = (*book)->save_series_record(series, *common, "demand of the series: " + sheet.title()); !held)
      return held;
    for (const SpecimenRow& row : (*book)->specimens(series)) {
      if (row.signed_off) {
        left.push_back(row.code + " is signed and keeps its limits.");
        continue;
      }
      auto record = (*book)->typed_record(row.id);
      if (!record) return record.error();
      const TestRecord before = *record;
      const lab::Applied applied = lab::apply(sheet, *record);
      for (const std::string& one : applied.left) left.push_back(row.code + ": " + one);
      if (before.limits == record->limits && before.fields == record->fields) continue;
      const Summary summary{row.stages, row.verdict, row.open_judgements};
      std::string detail;
      for (const std::string& one : applied.set) detail += (detail.empty() ? "" : "; ") + one;
      if (const auto saved = (*book)->save_record(row.id, 0, *record, summary, "limits from " + sheet.title(), detail);
          !saved)
        return saved.error();
    }
    return Done{};
  });
  if (!done) return done.error();
  return left;
}

std::set<Id> Papers::with_demand() const {
  std::set<Id> out;
  QSqlQuery q(book_->db());
  q.prepare("SELECT name FROM entry WHERE kind = ? AND gone = 0");
  q.addBindValue(text(std::string(lab::kChosen)));
  if (!q.exec()) return out;  // a book from before there were any, opened to read
  while (q.next()) out.insert(q.value(0).toLongLong());
  return out;
}

std::vector<OrderRow> Papers::orders() const {
  std::vector<OrderRow> out;
  QStringList columns = {"name"};
  for (const char* field : {"customer", "order", "project"})
    columns << engine::text_in(book_->db(), "json", {"settings", field});
  QSqlQuery q(book_->db());
  q.prepare("SELECT " + columns.join(", ") + " FROM entry WHERE kind = ? AND gone = 0 ORDER BY name");
  q.addBindValue(text(std::string(lab::kJob)));
  if (!q.exec()) return out;  // a book from before there were any, opened to read
  while (q.next()) {
    const auto words = [&](int i) { return str(q.value(i).toString()); };
    out.push_back({words(0), words(1), words(2), words(3)});
  }
  return out;
}

std::map<std::string, std::string> customers_of(const Book& book) {
  std::map<std::string, std::string> out;
  for (const OrderRow& row : Papers(book).orders())
    if (!row.customer.empty()) out[row.job] = row.customer;
  return out;
}

Outcome<std::vector<SeriesCompleteness>> completeness_of(const Book& book, Id job) {
  std::vector<SeriesCompleteness> out;
  const Papers papers(book);
  for (const SeriesRow& s : book.series(job)) {
    auto demand = papers.demand_of(s.id);
    if (!demand) return demand.error();
    if (!*demand) continue;
    SeriesCompleteness one{s, **demand, {}, {}, {}};
    std::vector<TestRecord> records;
    std::vector<std::optional<Evaluation>> evaluations;
    for (const SpecimenRow& row : book.specimens(s.id)) {
      auto record = book.record(row.id);
      if (!record) return InputError{row.code + ": " + record.error().message, {}};
      evaluations.push_back(record->has_run() ? std::optional(methods::evaluate(*record)) : std::nullopt);
      record->run.drop_samples();  // what was measured is in the evaluation; the runs of a large job are not held
      records.push_back(std::move(*record));
      one.codes.push_back(row.code);
      one.ids.push_back(row.id);
    }
    std::vector<lab::DemandPiece> pieces;
    for (size_t i = 0; i < records.size(); ++i)
      pieces.push_back({one.ids[i], one.codes[i], &records[i], evaluations[i] ? &*evaluations[i] : nullptr});
    one.table = lab::completeness(one.sheet, pieces);
    out.push_back(std::move(one));
  }
  return out;
}

}  // namespace fortitor
