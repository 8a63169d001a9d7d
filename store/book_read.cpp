#include <QSqlRecord>
#include <map>
#include <set>

#include "core/bench/records.h"
#include "core/evaluation/evaluation_json.h"
#include "core/methods/method.h"
#include "core/series/series.h"
#include "store/book.h"
#include "store/engine.h"
#include "store/seal.h"
#include "store/sql.h"

namespace fortitor {
namespace {

template <class Row, class Read>
std::vector<Row> rows_of(QSqlQuery& q, const Read& read) {
  std::vector<Row> out;
  if (!q.exec()) return out;
  while (q.next()) out.push_back(read(q));
  return out;
}

std::string column(const QSqlQuery& q, int i) {
  return str(q.value(i).toString());
}

JobRow read_job(const QSqlQuery& q) {
  return {q.value(0).toLongLong(), column(q, 1), column(q, 2), column(q, 3)};
}

}  // namespace

std::vector<JobRow> Book::jobs() const {
  QSqlQuery q(db());
  q.prepare("SELECT id, code, title, due FROM job ORDER BY code");
  return rows_of<JobRow>(q, read_job);
}

std::optional<JobRow> Book::job_by_code(const std::string& code) const {
  QSqlQuery q(db());
  q.prepare("SELECT id, code, title, due FROM job WHERE code = ?");
  q.addBindValue(text(code));
  const auto found = rows_of<JobRow>(q, read_job);
  return found.empty() ? std::nullopt : std::optional(found.front());
}

std::vector<SeriesRow> Book::series(Id job) const {
  QSqlQuery q(db());
  q.prepare("SELECT id, job_id, title, method FROM series WHERE job_id = ? ORDER BY id");
  q.addBindValue(qlonglong(job));
  return rows_of<SeriesRow>(q, [](const QSqlQuery& r) {
    return SeriesRow{r.value(0).toLongLong(), r.value(1).toLongLong(), column(r, 2), column(r, 3)};
  });
}

SeriesRow Book::series_of(Id specimen_id) const {
  QSqlQuery q(db());
  q.prepare(
      "SELECT e.id, e.job_id, e.title, e.method FROM series e JOIN specimen s ON s.series_id = e.id WHERE s.id = ?");
  q.addBindValue(qlonglong(specimen_id));
  if (!q.exec() || !q.next()) return {};
  return {q.value(0).toLongLong(), q.value(1).toLongLong(), column(q, 2), column(q, 3)};
}

JobRow Book::job_of(Id specimen_id) const {
  QSqlQuery q(db());
  q.prepare("SELECT id, code, title, due FROM job WHERE id = ?");
  q.addBindValue(qlonglong(series_of(specimen_id).job));
  const auto found = rows_of<JobRow>(q, read_job);
  return found.empty() ? JobRow{} : found.front();
}

Outcome<TestRecord> Book::record(Id specimen_id) const {
  return record_at(specimen_id, record_version(specimen_id));
}

Outcome<TestRecord> Book::typed_record(Id specimen_id) const {
  auto read = version_at(specimen_id, record_version(specimen_id));
  if (!read) return read.error();
  return std::move(read->first);
}

std::map<Id, TestRecord> Book::typed_records(const std::vector<Id>& specimens) const {
  std::map<Id, TestRecord> out;
  QStringList ids;
  for (Id id : specimens) ids << QString::number(id);
  if (ids.isEmpty()) return out;
  const QString among = " IN (" + ids.join(',') + ")";
  QSqlQuery q(db());
  // What was signed is read with the usual values it was signed by, one by one.
  std::set<Id> with_signature;
  if (q.exec("SELECT DISTINCT specimen_id FROM signature WHERE specimen_id" + among))
    while (q.next()) with_signature.insert(q.value(0).toLongLong());
  std::map<QString, QString> seals;
  const QString newest = "FROM record r WHERE r.specimen_id" + among +
                         " AND r.version = (SELECT MAX(version) FROM record n WHERE n.specimen_id = r.specimen_id)";
  if (q.exec("SELECT subject, sha256 FROM seal WHERE subject IN (SELECT 'record/' || r.id " + newest + ")"))
    while (q.next()) seals[q.value(0).toString()] = q.value(1).toString();
  if (!q.exec("SELECT r.* " + newest)) return out;
  while (q.next()) {
    const QSqlRecord row = q.record();
    const Id id = row.value("specimen_id").toLongLong();
    if (with_signature.count(id) != 0) continue;
    const auto sealed = seals.find(seal::subject("record", row.value("id").toString()));
    if (sealed == seals.end() || sealed->second != seal::row_hash(row)) continue;
    auto parsed = stored_record_from_json(str(row.value("json").toString()));
    if (!parsed) continue;
    parsed->shelf = shelf_;
    out.emplace(id, std::move(*parsed));
  }
  // Signed, or something is odd: whoever reads one alone knows what.
  for (Id id : specimens)
    if (out.count(id) == 0)
      if (auto one = typed_record(id)) out.emplace(id, std::move(*one));
  return out;
}

Outcome<TestRecord> Book::record_at(Id specimen_id, Id version) const {
  auto read = version_at(specimen_id, version);
  if (!read) return read.error();
  if (read->second != 0)
    if (const auto loaded = load_segments(specimen_id, read->second, read->first); !loaded) return loaded.error();
  return std::move(read->first);
}

Outcome<std::pair<TestRecord, Id>> Book::version_at(Id specimen_id, Id version) const {
  QSqlQuery q(db());
  q.prepare("SELECT json, run_id, id FROM record WHERE specimen_id = ? AND version = ?");
  q.addBindValue(qlonglong(specimen_id));
  q.addBindValue(qlonglong(version));
  if (!q.exec()) return sql_error(q, "The record could not be read");
  if (!q.next()) return InputError{"This specimen has no such record.", {}};
  if (const auto sound = seal::check_row(db(), "record", q.value(2).toString()); !sound) return sound.error();
  auto parsed = stored_record_from_json(column(q, 0));
  if (!parsed) return InputError{"The stored record cannot be read: " + parsed.error().message, {}};
  const auto was = signed_evaluation(specimen_id, version);
  parsed->shelf = was ? shelf_of_signed(*was, shelf_) : shelf_;
  return std::pair(std::move(*parsed), Id(q.value(1).toLongLong()));
}

std::vector<VersionRow> Book::versions(Id specimen_id) const {
  QSqlQuery q(db());
  q.prepare("SELECT version, saved_at FROM record WHERE specimen_id = ? ORDER BY version DESC");
  q.addBindValue(qlonglong(specimen_id));
  return rows_of<VersionRow>(q, [](const QSqlQuery& r) { return VersionRow{r.value(0).toLongLong(), column(r, 1)}; });
}

// The newest run of every segment up to the one the record was saved with; all of a repeated segment.
Outcome<Done> Book::load_segments(Id specimen_id, Id newest_run, TestRecord& record) const {
  const Method* method = methods::find(record.method);
  std::map<std::string, std::vector<Id>> by_segment;
  QSqlQuery q(db());
  q.prepare("SELECT id, segment FROM run WHERE specimen_id = ? AND id <= ? ORDER BY id");
  q.addBindValue(qlonglong(specimen_id));
  q.addBindValue(qlonglong(newest_run));
  if (!q.exec()) return sql_error(q, "The runs could not be read");
  while (q.next()) by_segment[column(q, 1)].push_back(q.value(0).toLongLong());
  for (const auto& [name, runs] : by_segment) {
    const bool repeated =
        method != nullptr && std::any_of(method->segments.begin(), method->segments.end(),
                                         [&, n = name](const SegmentSpec& s) { return s.id == n && s.repeated; });
    std::vector<Segment> loaded;
    for (size_t i = repeated ? 0 : runs.size() - 1; i < runs.size(); ++i) {
      auto data = samples(runs[i]);
      if (!data) return data.error();
      Segment s;  // the book holds the samples now; the file's name stays in the run's source
      s.name = name;
      s.samples = *data;
      loaded.push_back(std::move(s));
    }
    if (const Segment* before = record.run.find_segment(name)) loaded.front().mapping = before->mapping;
    std::erase_if(record.run.segments, [&, n = name](const Segment& s) { return s.name == n; });
    for (Segment& s : loaded) record.run.segments.push_back(std::move(s));
  }
  return Done{};
}

Outcome<TestRecord> Book::series_record(Id series_id) const {
  QSqlQuery q(db());
  q.prepare("SELECT title, method FROM series WHERE id = ?");
  q.addBindValue(qlonglong(series_id));
  if (!q.exec()) return sql_error(q, "The series could not be read");
  if (!q.next()) return InputError{"The series is not in the book.", {}};
  TestRecord none;
  none.series = column(q, 0);
  const Method* method = methods::find(column(q, 1));
  if (method == nullptr) return InputError{"The series is of a method this program does not know: " + column(q, 1), {}};
  none.method = series_schema(*method).id;
  q.prepare("SELECT json, id FROM series_record WHERE series_id = ? ORDER BY version DESC LIMIT 1");
  q.addBindValue(qlonglong(series_id));
  if (!q.exec()) return sql_error(q, "The series could not be read");
  if (!q.next()) return none;
  if (const auto sound = seal::check_row(db(), "series_record", q.value(1).toString()); !sound) return sound.error();
  auto parsed = series_settings_from_json(*method, column(q, 0), true);
  if (!parsed) return InputError{"The stored settings of the series cannot be read: " + parsed.error().message, {}};
  parsed->series = none.series;
  return parsed;
}

Id Book::record_version(Id specimen_id) const {
  QSqlQuery q(db());
  q.prepare("SELECT MAX(version) FROM record WHERE specimen_id = ?");
  q.addBindValue(qlonglong(specimen_id));
  return q.exec() && q.next() ? q.value(0).toLongLong() : 0;
}

std::optional<std::string> Book::setting(const std::string& key) const {
  QSqlQuery q(db());
  q.prepare("SELECT value FROM setting WHERE key = ?");
  q.addBindValue(text(key));
  if (!q.exec() || !q.next()) return std::nullopt;
  return column(q, 0);
}

std::optional<std::string> Book::mapping(const std::string& signature) const {
  QSqlQuery q(db());
  q.prepare("SELECT json FROM column_mapping WHERE signature = ?");
  q.addBindValue(text(signature));
  if (!q.exec() || !q.next()) return std::nullopt;
  return column(q, 0);
}

}  // namespace fortitor
