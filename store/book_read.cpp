#include <map>

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

SpecimenRow read_specimen(const QSqlQuery& q) {
  SpecimenRow s;
  s.id = q.value(0).toLongLong();
  s.series = q.value(1).toLongLong();
  s.code = column(q, 2);
  s.stages = column(q, 3);
  s.verdict = column(q, 4);
  s.open_judgements = q.value(5).toInt();
  s.signed_off = q.value(6).toBool();
  return s;
}

// Signed means: signed in the version that is the newest.
constexpr const char* kSpecimenSelect =
    "SELECT s.id, s.series_id, s.code, s.stages, s.verdict, s.open_judgements, EXISTS (SELECT 1 FROM signature g WHERE "
    "g.specimen_id = s.id AND g.record_version = (SELECT MAX(version) FROM record r WHERE r.specimen_id = s.id)) FROM "
    "specimen s ";
// The same for all specimens at once: signatures are gathered first, not looked through for each.
constexpr const char* kAllSpecimens =
    "SELECT s.id, s.series_id, s.code, s.stages, s.verdict, s.open_judgements, g.version IS NOT NULL AND g.version = "
    "(SELECT MAX(version) FROM record r WHERE r.specimen_id = s.id) FROM specimen s LEFT JOIN (SELECT specimen_id, "
    "MAX(record_version) AS version FROM signature GROUP BY specimen_id) g ON g.specimen_id = s.id ";

}  // namespace

std::vector<JobRow> Book::jobs() const {
  QSqlQuery q(db());
  q.prepare("SELECT id, code, title, due FROM job ORDER BY code");
  return rows_of<JobRow>(q, read_job);
}

std::vector<JobOutline> Book::outline() const {
  std::vector<JobOutline> out;
  std::map<Id, size_t> job_at;
  for (JobRow& job : jobs()) {
    job_at[job.id] = out.size();
    out.push_back({std::move(job), {}});
  }
  std::map<Id, std::pair<size_t, size_t>> series_at;
  QSqlQuery q(db());
  q.setForwardOnly(true);
  if (!q.exec("SELECT id, job_id, title, method FROM series ORDER BY id")) return out;
  while (q.next()) {
    const auto job = job_at.find(q.value(1).toLongLong());
    if (job == job_at.end()) continue;
    auto& series = out[job->second].series;
    series_at[q.value(0).toLongLong()] = {job->second, series.size()};
    series.push_back({{q.value(0).toLongLong(), q.value(1).toLongLong(), column(q, 2), column(q, 3)}, {}});
  }
  if (!q.exec(QString(kAllSpecimens) + "ORDER BY s.code")) return out;
  while (q.next())
    if (const auto at = series_at.find(q.value(1).toLongLong()); at != series_at.end())
      out[at->second.first].series[at->second.second].specimens.push_back(read_specimen(q));
  if (!q.exec("SELECT id, job_id, title FROM spectrum ORDER BY id")) return out;  // a book read as it was has none
  while (q.next())
    if (const auto at = job_at.find(q.value(1).toLongLong()); at != job_at.end())
      out[at->second].spectra.push_back({Id(q.value(0).toLongLong()), Id(q.value(1).toLongLong()), column(q, 2)});
  return out;
}

std::vector<FoundRow> Book::search(const std::string& typed, int most) const {
  // Every word must stand somewhere in specimen, series or job. The series that have it are found first: the many
  // specimens are then only asked for their own marking and their series.
  const QStringList words = qs(typed).split(' ', Qt::SkipEmptyParts);
  QString where;
  for (qsizetype i = 0; i < words.size(); ++i)
    where += QString(i == 0 ? "WHERE" : "AND") +
             QString(
                 " (s.code %1 ? ESCAPE '\\' OR s.series_id IN (SELECT e.id FROM series e JOIN job j ON j.id = "
                 "e.job_id WHERE (e.title || ' ' || j.code || ' ' || j.title) %1 ? ESCAPE '\\')) ")
                 .arg(engine::like(db()));
  QSqlQuery q(db());
  q.setForwardOnly(true);
  q.prepare(
      "SELECT f.id, f.code, e.id, e.title, j.id, j.code, j.title FROM (SELECT s.id, s.code, s.series_id FROM "
      "specimen s " +
      where + "LIMIT ?) f JOIN series e ON e.id = f.series_id JOIN job j ON j.id = e.job_id");
  for (QString w : words) {
    for (const char* special : {"\\", "%", "_"}) w.replace(special, QString("\\") + special);
    for (int twice = 0; twice < 2; ++twice) q.addBindValue("%" + w + "%");
  }
  q.addBindValue(most);
  return rows_of<FoundRow>(q, [](const QSqlQuery& r) {
    return FoundRow{r.value(0).toLongLong(),
                    column(r, 1),
                    r.value(2).toLongLong(),
                    column(r, 3),
                    r.value(4).toLongLong(),
                    column(r, 5),
                    column(r, 6)};
  });
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

std::vector<SpecimenRow> Book::specimens(Id series_id) const {
  QSqlQuery q(db());
  q.prepare(QString(kSpecimenSelect) + "WHERE s.series_id = ? ORDER BY s.code");
  q.addBindValue(qlonglong(series_id));
  return rows_of<SpecimenRow>(q, read_specimen);
}

std::optional<SpecimenRow> Book::specimen(Id id) const {
  QSqlQuery q(db());
  q.prepare(QString(kSpecimenSelect) + "WHERE s.id = ?");
  q.addBindValue(qlonglong(id));
  const auto found = rows_of<SpecimenRow>(q, read_specimen);
  return found.empty() ? std::nullopt : std::optional(found.front());
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
