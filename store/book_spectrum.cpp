// Spectra in the book: settings and results by version; the samples stay in their files.
#include <QSqlQuery>
#include <QVariant>

#include "core/spectrum/spectrum.h"
#include "store/book.h"
#include "store/seal.h"
#include "store/sql.h"

namespace fortitor {

Outcome<Id> Book::add_spectrum(Id job, const std::string& title) {
  if (title.empty()) return InputError{"A spectrum needs a name, such as BW-A gauge 1.", {}};
  for (const SpectrumRow& s : spectra(job))
    if (s.title == title) return InputError{"The job has a spectrum “" + title + "” already.", {}};
  Id id = 0;
  const auto done = change("spectrum “" + title + "” added", "", 0, [&]() -> Outcome<Done> {
    QSqlQuery q(db());
    q.prepare("INSERT INTO spectrum (job_id, title) VALUES (?, ?)");
    q.addBindValue(qlonglong(job));
    q.addBindValue(text(title));
    if (!q.exec()) return sql_error(q, "The spectrum could not be added");
    id = q.lastInsertId().toLongLong();
    touch("spectrum", qlonglong(id));
    return Done{};
  });
  if (!done) return done.error();
  return id;
}

std::vector<SpectrumRow> Book::spectra(Id job) const {
  std::vector<SpectrumRow> out;
  QSqlQuery q(db());
  q.prepare("SELECT id, job_id, title FROM spectrum WHERE job_id = ? ORDER BY id");
  q.addBindValue(qlonglong(job));
  q.exec();
  while (q.next())
    out.push_back({Id(q.value(0).toLongLong()), Id(q.value(1).toLongLong()), q.value(2).toString().toStdString()});
  return out;
}

std::optional<SpectrumRow> Book::spectrum(Id id) const {
  QSqlQuery q(db());
  q.prepare("SELECT id, job_id, title FROM spectrum WHERE id = ?");
  q.addBindValue(qlonglong(id));
  if (!q.exec() || !q.next()) return std::nullopt;
  return SpectrumRow{Id(q.value(0).toLongLong()), Id(q.value(1).toLongLong()), q.value(2).toString().toStdString()};
}

Outcome<TestRecord> Book::spectrum_record(Id id) const {
  const auto row = spectrum(id);
  if (!row) return InputError{"The spectrum is not in the book.", {}};
  QSqlQuery q(db());
  q.prepare("SELECT json, id FROM spectrum_record WHERE spectrum_id = ? ORDER BY version DESC LIMIT 1");
  q.addBindValue(qlonglong(id));
  if (!q.exec()) return sql_error(q, "The spectrum could not be read");
  if (!q.next()) {
    TestRecord none;
    none.method = spectrum::kMethod;
    none.fields.set("specimen.id", row->title);
    return none;
  }
  if (const auto sound = seal::check_row(db(), "spectrum_record", q.value(1).toString()); !sound) return sound.error();
  auto parsed = spectrum::record_from_json(q.value(0).toString().toStdString(), true);
  if (!parsed) return InputError{"The stored spectrum cannot be read: " + parsed.error().message, {}};
  return *parsed;
}

std::string Book::spectrum_results(Id id) const {
  QSqlQuery q(db());
  q.prepare("SELECT results FROM spectrum_record WHERE spectrum_id = ? ORDER BY version DESC LIMIT 1");
  q.addBindValue(qlonglong(id));
  return q.exec() && q.next() ? q.value(0).toString().toStdString() : std::string();
}

Outcome<Done> Book::save_spectrum(Id id, const TestRecord& record, const std::string& results,
                                  const std::string& what) {
  const auto row = spectrum(id);
  if (!row) return InputError{"The spectrum is not in the book.", {}};
  const std::string json = spectrum::record_to_json(record);
  if (record.faults.empty())
    if (const auto back = spectrum::record_from_json(json); !back)
      return InputError{back.error().message + ". It is not kept.", {}};
  return change(what, row->title, 0, [&]() -> Outcome<Done> {
    QSqlQuery q(db());
    q.prepare(
        "INSERT INTO spectrum_record (spectrum_id, version, json, results, saved_at) SELECT ?, COALESCE(MAX(version), "
        "0) "
        "+ 1, ?, ?, ? FROM spectrum_record WHERE spectrum_id = ?");
    q.addBindValue(qlonglong(id));
    q.addBindValue(text(json));
    q.addBindValue(text(results));
    q.addBindValue(text(clock_.utc()));
    q.addBindValue(qlonglong(id));
    if (!q.exec()) return sql_error(q, "The spectrum could not be saved");
    touch("spectrum_record", q.lastInsertId());
    return Done{};
  });
}

}  // namespace fortitor
