#include <QByteArray>
#include <QFileInfo>
#include <QScopeGuard>
#include <QStorageInfo>
#include <QtEndian>
#include <cstring>

#include "core/record/bounds.h"
#include "store/book.h"
#include "store/engine.h"
#include "store/seal.h"
#include "store/sql.h"

namespace fortitor {
namespace {

// Bytes of all columns, the bytes of equal weight together: neighbouring samples differ little in
// their high bytes, which then compress well.
QByteArray packed(const std::vector<std::vector<double>>& columns) {
  const size_t rows = columns.empty() ? 0 : columns.front().size();
  QByteArray raw(qsizetype(columns.size() * rows * sizeof(double)), Qt::Uninitialized);
  char* out = raw.data();
  for (const auto& column : columns) {
    const char* in = reinterpret_cast<const char*>(column.data());
    for (size_t byte = 0; byte < sizeof(double); ++byte)
      for (size_t i = 0; i < rows; ++i) *out++ = in[i * sizeof(double) + byte];
  }
  return qCompress(raw, 1);
}

// The size that a packed part says it has, from its first four bytes: a part is only unpacked when that is the size of
// its rows, however many a damaged file claims.
bool right_size(const QByteArray& data, size_t column_count, int64_t rows) {
  // Parts are written of 100,000 rows at most; a run has a column for a channel.
  constexpr int64_t kMostRows = int64_t(1) << 20;
  constexpr size_t kMostColumns = 64;
  if (data.size() < 4 || rows <= 0 || rows > kMostRows || column_count == 0 || column_count > kMostColumns)
    return false;
  return qFromBigEndian<quint32>(data.constData()) == uint64_t(column_count) * uint64_t(rows) * sizeof(double);
}

bool unpack(const QByteArray& data, size_t column_count, size_t rows, std::vector<std::vector<double>>& into) {
  const QByteArray raw = qUncompress(data);
  if (size_t(raw.size()) != column_count * rows * sizeof(double)) return false;
  const char* in = raw.constData();
  for (size_t c = 0; c < column_count; ++c) {
    const size_t start = into[c].size();
    into[c].resize(start + rows);
    char* out = reinterpret_cast<char*>(into[c].data() + start);
    for (size_t byte = 0; byte < sizeof(double); ++byte)
      for (size_t i = 0; i < rows; ++i) out[i * sizeof(double) + byte] = *in++;
  }
  return true;
}

}  // namespace

Outcome<Id> Book::insert_run(Id specimen_id, const std::vector<std::string>& channels, const std::string& source,
                             const std::string& segment) {
  QStringList names;
  for (const auto& c : channels) names << qs(c);
  QSqlQuery q(db());
  q.prepare("INSERT INTO run (specimen_id, started_at, source, channels, segment) VALUES (?, ?, ?, ?, ?)");
  q.addBindValue(qlonglong(specimen_id));
  q.addBindValue(text(clock_.utc()));
  q.addBindValue(text(source));
  q.addBindValue(names.join(","));
  q.addBindValue(text(segment));
  if (!q.exec()) return sql_error(q, "The run could not be begun");
  touch("run", q.lastInsertId());
  return q.lastInsertId().toLongLong();
}

Outcome<Done> Book::insert_part(Id run, const std::vector<std::vector<double>>& columns, Id part) {
  const QByteArray data = packed(columns);
  QSqlQuery q(db());
  q.prepare(
      "INSERT INTO run_chunk (run_id, part, row_count, columns, sha256) SELECT ?, CASE WHEN ? > 0 THEN ? ELSE "
      "COALESCE(MAX(part), 0) + 1 END, ?, ?, ? FROM run_chunk WHERE run_id = ?");
  q.addBindValue(qlonglong(run));
  q.addBindValue(qlonglong(part));
  q.addBindValue(qlonglong(part));
  q.addBindValue(qlonglong(columns.front().size()));
  q.addBindValue(data);
  q.addBindValue(sha256(data));
  q.addBindValue(qlonglong(run));
  if (!q.exec()) return sql_error(q, "Samples could not be written");
  return Done{};
}

Outcome<Done> Book::end_run(Id run, const std::string& stopped) {
  QSqlQuery q(db());
  q.prepare(engine::close_run(db()));
  q.addBindValue(text(clock_.utc()));
  q.addBindValue(text(stopped));
  q.addBindValue(0);
  q.addBindValue(qlonglong(run));
  if (!q.exec()) return sql_error(q, "The run could not be closed");
  touch("run", qlonglong(run));
  return Done{};
}

Outcome<Id> Book::begin_run(Id specimen_id, const std::vector<std::string>& channels, const std::string& source,
                            const std::string& segment) {
  // An hour of four channels at a hundred samples a second takes about 12 MB; what is less would end in the middle.
  constexpr qint64 kRoom = 32LL << 20;
  const QStorageInfo disk(engine::on_server(db()) ? QString() : QFileInfo(qs(path_)).absolutePath());
  if (disk.isValid() && disk.bytesAvailable() < kRoom)
    return InputError{"Only " + std::to_string(disk.bytesAvailable() >> 20) +
                          " MB are left on the disk of the book, and a run wants 32 MB at least. Nothing was started.",
                      {}};
  // Two benches never store one piece's run at once.
  if (!away() && !engine::hold(db(), specimen_id) && !engine::lost(db())) {
    const auto there = engine::at_work(db());
    const auto whose = there.find(specimen_id);
    const auto row = specimen(specimen_id);
    return InputError{(row ? row->code : std::string("The piece")) + " is at work at another bench" +
                          (whose == there.end() ? std::string() : " (" + str(whose->second) + ")") +
                          ". Nothing was started.",
                      {}};
  }
  Id id = 0;
  const auto done = change("run begun", source, specimen_id, [&]() -> Outcome<Done> {
    const auto run = insert_run(specimen_id, channels, source, segment);
    if (!run) return run.error();
    id = *run;
    return Done{};
  });
  if (!done && journals()) {
    held_.insert(specimen_id);  // it is held once the server is back
    return begin_aside(specimen_id, channels, source, segment, id);
  }
  if (!done) {
    engine::let_go(db(), specimen_id);
    return done.error();
  }
  held_.insert(specimen_id);
  return id;
}

Outcome<Done> Book::append_run(Id run, const std::vector<std::vector<double>>& columns) {
  if (columns.empty() || columns.front().empty()) return Done{};
  // Begin and close are the logbook's lines of a run. Parts of a shared book are numbered here: one whose answer was
  // lost is not written twice.
  auto done = change(
      "", "", 0, [&] { return insert_part(on_server(run), columns, shared() ? parts_[run] + 1 : 0); }, false);
  if (!done && journals()) return append_aside(run, columns);
  if (done && shared()) ++parts_[run];
  return done;
}

Outcome<Done> Book::close_run(Id run, const std::string& stopped) {
  if (journals()) return close_aside(run, stopped);
  if (const auto brought = bring_in(); !brought) return journals() ? close_aside(run, stopped) : brought;
  Id specimen_id = 0;
  QSqlQuery who(db());
  who.prepare("SELECT specimen_id FROM run WHERE id = ?");
  who.addBindValue(qlonglong(on_server(run)));
  if (who.exec() && who.next()) specimen_id = who.value(0).toLongLong();
  who.finish();
  auto done = change("run closed", stopped, specimen_id, [&] { return end_run(on_server(run), stopped); });
  if (!done && journals()) return close_aside(run, stopped);
  if (done) {
    engine::let_go(db(), specimen_id);
    held_.erase(specimen_id);
    parts_.erase(run);
  }
  return done;
}

// All of it or nothing: half a file is no run.
Outcome<Id> Book::store_run(Id specimen_id, const Samples& data, const std::string& source, const std::string& segment,
                            const std::function<void(double)>& progress) {
  std::vector<std::string> names;
  for (const Channel& c : data.channels) names.push_back(c.name);
  Id id = 0;
  const auto done = change("run stored", source + ", " + std::to_string(data.size()) + " samples", specimen_id,
                           [&]() -> Outcome<Done> {
                             const auto run = insert_run(specimen_id, names, source, segment);
                             if (!run) return run.error();
                             id = *run;
                             constexpr size_t kPart = 100000;
                             for (size_t at = 0; at < data.size(); at += kPart) {
                               if (progress) progress(double(at) / double(data.size()));
                               std::vector<std::vector<double>> columns;
                               for (const Channel& c : data.channels)
                                 columns.emplace_back(c.values.begin() + long(at),
                                                      c.values.begin() + long(std::min(at + kPart, data.size())));
                               if (const auto part = insert_part(id, columns); !part) return part;
                             }
                             return end_run(id, "");
                           });
  if (!done) return done.error();
  return id;
}

std::vector<RunRow> Book::runs(Id specimen_id) const {
  std::vector<RunRow> out;
  QSqlQuery q(db());
  q.prepare(
      "SELECT id, segment, started_at, closed_at, source, stopped, interrupted, (SELECT COALESCE(SUM(row_count), 0) "
      "FROM "
      "run_chunk WHERE "
      "run_id = run.id) FROM run WHERE specimen_id = ? ORDER BY id");
  q.addBindValue(qlonglong(specimen_id));
  if (!q.exec()) return out;
  while (q.next()) {
    RunRow r;
    r.id = q.value(0).toLongLong();
    r.specimen = specimen_id;
    r.segment = str(q.value(1).toString());
    r.started_at = str(q.value(2).toString());
    r.closed_at = str(q.value(3).toString());
    r.source = str(q.value(4).toString());
    r.stopped = str(q.value(5).toString());
    r.interrupted = q.value(6).toBool();
    r.rows = q.value(7).toLongLong();
    out.push_back(r);
  }
  return out;
}

std::vector<RunSpan> Book::run_spans(size_t most) const {
  std::vector<RunSpan> out;
  QSqlQuery q(db());
  q.prepare(
      "SELECT method, source, started_at, closed_at FROM (SELECT series.method, run.source, run.started_at, "
      "run.closed_at, run.id, ROW_NUMBER() OVER (PARTITION BY series.method ORDER BY run.id DESC) AS n FROM run "
      "JOIN specimen ON specimen.id = run.specimen_id JOIN series ON series.id = specimen.series_id "
      "WHERE run.closed_at <> '' AND run.interrupted = 0) AS newest WHERE n <= ? ORDER BY id");
  q.addBindValue(qlonglong(most));
  if (!q.exec()) return out;
  while (q.next())
    out.push_back({str(q.value(0).toString()), str(q.value(1).toString()), str(q.value(2).toString()),
                   str(q.value(3).toString())});
  return out;
}

Outcome<Done> Book::check_part(const QByteArray& data, const std::string& hash, int64_t rows,
                               const std::string& channels) {
  if (str(sha256(data)) != hash) return InputError{"is damaged", {}};
  const size_t count = size_t(qs(channels).split(',', Qt::SkipEmptyParts).size());
  std::vector<std::vector<double>> columns(count);
  if (!right_size(data, count, rows) || !unpack(data, count, size_t(rows), columns))
    return InputError{"does not unpack into its rows", {}};
  return Done{};
}

Outcome<SamplesPtr> Book::samples(Id run) const {
  if (const auto sound = seal::check_row(db(), "run", QString::number(run)); !sound) return sound.error();
  QSqlQuery q(db());
  q.prepare("SELECT channels FROM run WHERE id = ?");
  q.addBindValue(qlonglong(run));
  if (!q.exec() || !q.next()) return InputError{"The run is not in the book.", {}};
  const QStringList names = q.value(0).toString().split(',', Qt::SkipEmptyParts);
  std::vector<std::vector<double>> columns(size_t(names.size()));
  q.prepare("SELECT COALESCE(SUM(row_count), 0) FROM run_chunk WHERE run_id = ?");
  q.addBindValue(qlonglong(run));
  if (!q.exec() || !q.next()) return sql_error(q, "The run could not be read");
  if (q.value(0).toDouble() * double(names.size()) * sizeof(double) > double(room_in_memory()))
    return InputError{"The stored run has more samples than this machine has memory for.", {}};
  q.prepare("SELECT part, row_count, columns, sha256 FROM run_chunk WHERE run_id = ? ORDER BY part");
  q.addBindValue(qlonglong(run));
  if (!q.exec()) return sql_error(q, "The run could not be read");
  while (q.next()) {
    const QByteArray data = q.value(2).toByteArray();
    const int64_t rows = q.value(1).toLongLong();
    const bool sound = sha256(data) == q.value(3).toString() && right_size(data, columns.size(), rows) &&
                       unpack(data, columns.size(), size_t(rows), columns);
    if (!sound)
      return InputError{"Part " + std::to_string(q.value(0).toLongLong()) + " of the stored run is damaged.", {}};
  }
  if (q.lastError().isValid()) return sql_error(q, "The run could not be read");
  auto out = std::make_shared<Samples>();
  for (qsizetype i = 0; i < names.size(); ++i) {
    const bool all_missing =
        std::all_of(columns[size_t(i)].begin(), columns[size_t(i)].end(), [](double v) { return v != v; });
    if (all_missing && names.size() > 2) continue;  // an extensometer that was never mounted
    out->channels.push_back({str(names[i]), std::move(columns[size_t(i)])});
  }
  return SamplesPtr(out);
}

// Runs that no process goes on with are closed and said once; a run that is not yet in its record is put into it.
void Book::recover_runs() {
  QSqlQuery q(db());
  struct Open {
    Id run, specimen;
    std::string code;
  };
  std::vector<Open> open_runs;
  if (q.exec("SELECT run.id, specimen.code, specimen.id FROM run JOIN specimen ON specimen.id = run.specimen_id WHERE "
             "closed_at = ''"))
    while (q.next())
      open_runs.push_back({q.value(0).toLongLong(), q.value(2).toLongLong(), str(q.value(1).toString())});
  q.finish();
  for (const auto& [run, of, code] : open_runs) {
    if (!engine::hold(db(), of)) continue;  // it runs at another bench
    const auto over = qScopeGuard([&, piece = of] { engine::let_go(db(), piece); });
    const auto done = change("run recovered", code + ": it was interrupted", 0, [&, run = run]() -> Outcome<Done> {
      QSqlQuery u(db());
      u.prepare(engine::close_run(db()));
      u.addBindValue(text(clock_.utc()));
      u.addBindValue("interrupted");
      u.addBindValue(1);
      u.addBindValue(qlonglong(run));
      if (!u.exec()) return sql_error(u, "The run could not be recovered");
      touch("run", qlonglong(run));
      return Done{};
    });
    notices_.push_back(done ? code + ": its run was interrupted. Everything up to the last second is here."
                            : done.error().message);
  }
  std::vector<std::pair<Id, Id>> unseen;  // specimen, its newest run
  // Another bench of a shared book that closed a run saves its record in the next moment.
  constexpr int kMoment = 60;  // s
  q.prepare(
      "SELECT specimen_id, MAX(id) FROM run WHERE closed_at <> '' AND (closed_at <= ? OR interrupted = 1) GROUP BY "
      "specimen_id");
  q.addBindValue(shared() ? clock_.now().toUTC().addSecs(-kMoment).toString(Qt::ISODateWithMs) : QString("9999"));
  if (q.exec())
    while (q.next()) unseen.emplace_back(q.value(0).toLongLong(), q.value(1).toLongLong());
  q.finish();
  for (const auto& [specimen_id, run] : unseen) {
    q.prepare("SELECT COALESCE(run_id, 0) FROM record WHERE specimen_id = ? ORDER BY version DESC LIMIT 1");
    q.addBindValue(qlonglong(specimen_id));
    const bool seen = !q.exec() || !q.next() || q.value(0).toLongLong() >= run;
    q.finish();
    if (seen) continue;
    const auto done =
        change("run put into its record", "", specimen_id, [&, of = specimen_id, id = run]() -> Outcome<Done> {
          QSqlQuery u(db());
          u.prepare(
              "INSERT INTO record (specimen_id, version, json, run_id, saved_at) SELECT specimen_id, version + 1, "
              "json, ?, ? "
              "FROM record WHERE specimen_id = ? ORDER BY version DESC LIMIT 1");
          u.addBindValue(qlonglong(id));
          u.addBindValue(text(clock_.utc()));
          u.addBindValue(qlonglong(of));
          if (!u.exec()) return sql_error(u, "The run could not be put into its record");
          touch("record", u.lastInsertId());
          return Done{};
        });
    if (!done) notices_.push_back(done.error().message);
  }
}

}  // namespace fortitor
