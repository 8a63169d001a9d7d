// Every job with its series and specimens, however large the book: read once, then kept as the logbook says that rows
// changed; and what is looked for in it.
#include <QStringList>
#include <algorithm>
#include <map>
#include <set>

#include "core/quantity/numbering.h"
#include "store/book.h"
#include "store/seal.h"
#include "store/sql.h"

namespace fortitor {
namespace {

std::string at(const QSqlQuery& q, int i) {
  return str(q.value(i).toString());
}

// Signed means: in the version that is the newest.
constexpr const char* kSpecimenSelect =
    "SELECT s.id, s.series_id, s.code, s.stages, s.verdict, s.open_judgements, EXISTS (SELECT 1 FROM signature g WHERE "
    "g.specimen_id = s.id AND g.record_version = (SELECT MAX(version) FROM record r WHERE r.specimen_id = s.id)) FROM "
    "specimen s ";
// The same for all specimens at once: signatures are gathered first, not looked through for each.
constexpr const char* kAllSpecimens =
    "SELECT s.id, s.series_id, s.code, s.stages, s.verdict, s.open_judgements, g.version IS NOT NULL AND g.version = "
    "(SELECT MAX(version) FROM record r WHERE r.specimen_id = s.id) FROM specimen s LEFT JOIN (SELECT specimen_id, "
    "MAX(record_version) AS version FROM signature GROUP BY specimen_id) g ON g.specimen_id = s.id ";

SpecimenRow specimen_row(const QSqlQuery& q) {
  SpecimenRow s;
  s.id = q.value(0).toLongLong();
  s.series = q.value(1).toLongLong();
  s.code = at(q, 2);
  s.stages = at(q, 3);
  s.verdict = at(q, 4);
  s.open_judgements = q.value(5).toInt();
  s.signed_off = q.value(6).toBool();
  return s;
}

void in_order(std::vector<SpecimenRow>& rows) {
  std::sort(rows.begin(), rows.end(), [](const SpecimenRow& a, const SpecimenRow& b) {
    return a.code == b.code ? a.id < b.id : numbering::before(a.code, b.code);
  });
}

std::vector<SpecimenRow> specimen_rows(QSqlQuery& q) {
  std::vector<SpecimenRow> out;
  if (!q.exec()) return out;
  while (q.next()) out.push_back(specimen_row(q));
  return out;
}

// Lines beyond which all is read anew.
constexpr int kFewLines = 300;

}  // namespace

std::vector<JobOutline> Book::outline() const {
  return kept_outline();
}

const std::vector<JobOutline>& Book::kept_outline() const {
  QSqlQuery q(db());
  const bool told = q.exec("SELECT MAX(id) FROM logbook") && q.next();
  if (!told && !outline_.empty()) return outline_;  // a server that cannot be asked just now emptied nothing
  const Id line = told ? q.value(0).toLongLong() : 0;
  q.finish();
  // What a change that is under way wrote may be taken back.
  const bool known = outline_line_ > 0 && outline_line_ <= line && !writing_;
  if (!known || (outline_line_ < line && !catch_up(line))) outline_ = read_outline();
  outline_line_ = writing_ ? 0 : line;
  return outline_;
}

std::vector<JobOutline> Book::read_outline() const {
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
    series.push_back({{q.value(0).toLongLong(), q.value(1).toLongLong(), at(q, 2), at(q, 3)}, {}});
  }
  if (!q.exec(kAllSpecimens)) return out;
  while (q.next())
    if (const auto of = series_at.find(q.value(1).toLongLong()); of != series_at.end())
      out[of->second.first].series[of->second.second].specimens.push_back(specimen_row(q));
  for (JobOutline& job : out)
    for (auto& series : job.series) in_order(series.specimens);
  if (!q.exec("SELECT id, job_id, title FROM spectrum ORDER BY id")) return out;  // a book read as it was has none
  while (q.next())
    if (const auto job = job_at.find(q.value(1).toLongLong()); job != job_at.end())
      out[job->second].spectra.push_back({Id(q.value(0).toLongLong()), Id(q.value(1).toLongLong()), at(q, 2)});
  return out;
}

// Takes up what the lines since say was touched; false when all must be read anew.
bool Book::catch_up(Id line) const {
  if (line - outline_line_ > kFewLines) return false;
  QSqlQuery q(db());
  q.prepare("SELECT seals FROM logbook WHERE id > ? AND id <= ?");
  q.addBindValue(qlonglong(outline_line_));
  q.addBindValue(qlonglong(line));
  if (!q.exec()) return false;
  QStringList specimens, records, signatures;
  while (q.next())
    for (const auto& [subject, hash] : seal::read(q.value(0).toString())) {
      const QString table = subject.section('/', 0, 0);
      const QString key = QString::number(subject.section('/', 1).toLongLong());
      if (table == "job" || table == "series" || table == "spectrum") return false;
      if (table == "specimen") specimens << key;
      if (table == "record") records << key;
      if (table == "signature") signatures << key;
    }
  for (const auto& [table, keys] : {std::pair("record", &records), std::pair("signature", &signatures)})
    if (!keys->isEmpty())
      specimens << QString("SELECT specimen_id FROM %1 WHERE id IN (%2)").arg(table, keys->join(','));
  std::map<Id, SpecimenRow> fresh;
  for (const QString& which : specimens) {
    if (!q.exec(QString(kSpecimenSelect) + "WHERE s.id IN (" + which + ")")) return false;
    while (q.next()) fresh[q.value(0).toLongLong()] = specimen_row(q);
  }
  std::set<Id> of_series;
  for (const auto& [id, row] : fresh) of_series.insert(row.series);
  for (JobOutline& job : outline_)
    for (SeriesOutline& series : job.series) {
      if (of_series.erase(series.series.id) == 0) continue;
      for (SpecimenRow& old : series.specimens)
        if (const auto now = fresh.find(old.id); now != fresh.end()) {
          old = now->second;
          fresh.erase(now);
        }
      for (auto now = fresh.begin(); now != fresh.end();)
        if (now->second.series == series.series.id) {
          series.specimens.push_back(now->second);
          now = fresh.erase(now);
        } else {
          ++now;
        }
      in_order(series.specimens);
    }
  return fresh.empty();
}

std::vector<SpecimenRow> Book::specimens(Id series_id) const {
  QSqlQuery q(db());
  q.prepare(QString(kSpecimenSelect) + "WHERE s.series_id = ?");
  q.addBindValue(qlonglong(series_id));
  std::vector<SpecimenRow> out = specimen_rows(q);
  in_order(out);
  return out;
}

std::optional<SpecimenRow> Book::specimen(Id id) const {
  QSqlQuery q(db());
  q.prepare(QString(kSpecimenSelect) + "WHERE s.id = ?");
  q.addBindValue(qlonglong(id));
  const auto found = specimen_rows(q);
  return found.empty() ? std::nullopt : std::optional(found.front());
}

std::vector<FoundRow> Book::search(const std::string& typed, int most) const {
  // Every word must stand somewhere in specimen, series or job; what a series has is asked once for all of its pieces.
  const QStringList words = qs(typed).split(' ', Qt::SkipEmptyParts);
  std::vector<FoundRow> out;
  for (const JobOutline& job : kept_outline())
    for (const SeriesOutline& series : job.series) {
      const QString place = qs(series.series.title + ' ' + job.job.code + ' ' + job.job.title);
      QStringList left;
      for (const QString& word : words)
        if (!place.contains(word, Qt::CaseInsensitive)) left << word;
      for (const SpecimenRow& s : series.specimens) {
        const QString code = left.isEmpty() ? QString() : qs(s.code);
        const auto has = [&](const QString& word) { return code.contains(word, Qt::CaseInsensitive); };
        if (!std::all_of(left.begin(), left.end(), has)) continue;
        if (out.size() >= size_t(std::max(0, most))) return out;
        out.push_back({s.id, s.code, series.series.id, series.series.title, job.job.id, job.job.code, job.job.title});
      }
    }
  return out;
}

}  // namespace fortitor
