#include "store/bundle.h"

#include <zip.h>
#include <QFile>
#include <QFileInfo>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>

#include "core/bench/progress.h"
#include "core/bench/records.h"
#include "core/methods/method.h"
#include "core/parallel.h"
#include "core/record/bounds.h"
#include "core/record/csv.h"
#include "core/record/json.h"
#include "core/record/mapping.h"
#include "core/series/series.h"
#include "store/packed_file.h"
#include "store/sql.h"

namespace fortitor {
namespace {

constexpr const char* kManifest = "bundle.json";
constexpr zip_uint64_t kMostManifest = 16u << 20;

// A file of a bundle, with its place in the list of what there is.
struct Packed {
  PackedFile file;
  QJsonObject listed;
};

Packed packed(const QString& name, const std::string& text) {
  const QByteArray data = QByteArray::fromStdString(text);
  return {packed_file(name.toUtf8(), data), {{"name", name}, {"bytes", data.size()}, {"sha256", sha256(data)}}};
}

// Files on their way into the archive. A run is written out beside the reading of the next piece.
struct Writer {
  Crew crew;
  std::vector<std::future<std::vector<Packed>>> files;
  void add(const QString& name, std::string text) {
    files.push_back(crew.start([=] { return std::vector{packed(name, text)}; }));
  }
};

// Runs go beside the record as CSV that gives every bit back; the record names them.
std::vector<Packed> packed_piece(const QString& folder, TestRecord record) {
  const Method& method = *methods::find(record.method);
  std::vector<Packed> out;
  int n = 0;
  for (Segment& s : record.run.segments) {
    if (!s.samples) continue;
    s.file = "run" + (n > 0 ? "-" + std::to_string(n + 1) : std::string()) + ".csv";
    ++n;
    s.mapping.clear();
    for (const Channel& c : s.samples->channels) s.mapping[c.name] = {c.name, ""};
    out.push_back(packed(folder + "/" + qs(s.file), samples_to_csv(*s.samples, method, 17)));
  }
  out.push_back(packed(folder + "/record.json", record_to_json(record)));
  return out;
}

Outcome<Done> write_zip(const std::vector<Packed>& files, const QByteArray& manifest, const std::string& path) {
  int code = 0;
  zip_t* zip = zip_open(path.c_str(), ZIP_CREATE | ZIP_EXCL, &code);
  if (zip == nullptr)
    return InputError{path + (code == ZIP_ER_EXISTS ? " is already there; nothing is overwritten."
                                                    : ": the bundle cannot be written."),
                      {}};
  const PackedFile head = packed_file(kManifest, manifest);
  bool good = add_packed(zip, head);
  for (const Packed& f : files) good = good && add_packed(zip, f.file);
  if (!good || zip_close(zip) != 0) {
    const std::string why = zip_strerror(zip);
    zip_discard(zip);
    QFile::remove(qs(path));
    return InputError{path + ": the bundle could not be written: " + why + ".", {}};
  }
  return Done{};
}

// One file out of the archive, no larger than it says.
Outcome<QByteArray> unpack(zip_t* zip, const QString& name, zip_uint64_t most) {
  const zip_int64_t index = zip_name_locate(zip, name.toUtf8().constData(), ZIP_FL_ENC_GUESS);
  if (index < 0) return InputError{str(name) + " is missing", {}};
  zip_file_t* file = zip_fopen_index(zip, zip_uint64_t(index), 0);
  if (file == nullptr) return InputError{str(name) + " cannot be read", {}};
  QByteArray out;
  char buffer[1 << 16];
  zip_int64_t got = 0;
  while ((got = zip_fread(file, buffer, sizeof buffer)) > 0) {
    out.append(buffer, got);
    if (zip_uint64_t(out.size()) > most) break;
  }
  zip_fclose(file);
  if (got < 0) return InputError{str(name) + " is damaged", {}};
  if (zip_uint64_t(out.size()) > most) return InputError{str(name) + " unpacks beyond its stated size", {}};
  return out;
}

struct Archive {
  QJsonObject manifest;
  std::map<QString, QByteArray> files;
};

Outcome<Archive> read_zip(const std::string& path) {
  auto refuse = [&](const std::string& why) { return InputError{path + ": " + why + ". Nothing was taken in.", {}}; };
  if (const auto plain = check_plain_file(path); !plain) return plain.error();
  int code = 0;
  zip_t* opened = zip_open(path.c_str(), ZIP_RDONLY | ZIP_CHECKCONS, &code);
  if (opened == nullptr)
    return refuse(code == ZIP_ER_NOENT ? "there is no such file" : "this is no bundle, or it is damaged");
  const std::unique_ptr<zip_t, decltype(&zip_discard)> zip(opened, zip_discard);
  Archive a;
  const auto head = unpack(zip.get(), kManifest, kMostManifest);
  if (!head) return refuse(head.error().message);
  a.manifest = QJsonDocument::fromJson(*head).object();
  if (a.manifest["format"].toString() != "fortitor-bundle") return refuse("this is no bundle of a job");
  if (a.manifest["version"].toInt() != 1) return refuse("it was written by a newer Fortitor");
  // Asked before a byte of them is unpacked, of the archive's own list too.
  const zip_uint64_t most = most_unpacked(size_t(QFileInfo(qs(path)).size()));
  const std::string too_much = "it would unpack to more than " + std::to_string(most >> 20) + " MB";
  zip_uint64_t left = most, listed = 0;
  for (zip_int64_t i = 0; i < zip_get_num_entries(zip.get(), 0); ++i) {
    zip_stat_t s;
    if (zip_stat_index(zip.get(), zip_uint64_t(i), 0, &s) == 0 && (s.valid & ZIP_STAT_SIZE) != 0)
      listed += std::min(s.size, most);
  }
  if (listed > most) return refuse(too_much);
  for (const QJsonValue& v : a.manifest["files"].toArray()) {
    const QJsonObject f = v.toObject();
    const QString name = f["name"].toString();
    const double bytes = f["bytes"].toDouble(-1);
    if (name.isEmpty() || bytes < 0 || bytes > double(left)) return refuse(too_much);
    left -= zip_uint64_t(bytes);
    const auto data = unpack(zip.get(), name, zip_uint64_t(bytes));
    if (!data) return refuse(data.error().message);
    if (double(data->size()) != bytes || sha256(*data) != f["sha256"].toString())
      return refuse(str(name) + " is not what was packed");
    a.files[name] = *data;
  }
  return a;
}

// A record of the archive with the runs that lie beside it.
Outcome<TestRecord> piece_of(const Archive& a, const QString& folder) {
  const auto it = a.files.find(folder + "/record.json");
  if (it == a.files.end()) return InputError{str(folder) + "/record.json is missing", {}};
  auto record = stored_record_from_json(it->second.toStdString());
  if (record)
    for (const RecordFault& f : record->faults)
      if (!f.kept) return InputError{str(folder) + "/record.json: " + f.message, {}};
  if (!record) return InputError{str(folder) + "/record.json: " + record.error().message, {}};
  for (Segment& s : record->run.segments) {
    if (s.file.empty()) continue;
    const auto file = a.files.find(folder + "/" + qs(s.file));
    if (file == a.files.end()) return InputError{str(folder) + "/" + s.file + " is missing", {}};
    const auto table = parse_csv(file->second.toStdString());
    if (!table) return InputError{str(folder) + "/" + s.file + ": " + table.error().message, {}};
    auto samples = samples_from_table(*table, s.mapping, *methods::find(record->method));
    if (!samples) return InputError{str(folder) + "/" + s.file + ": " + samples.error().message, {}};
    s.samples = *samples;
  }
  return record;
}

}  // namespace

Outcome<std::vector<std::string>> write_bundle(const Book& book, const std::string& job_code, const std::string& path,
                                               const std::function<void(double)>& progress) {
  const auto job = book.job_by_code(job_code);
  if (!job) return InputError{"There is no job " + job_code + " in this book.", {}};
  if (QFile::exists(qs(path))) return InputError{path + " is already there; nothing is overwritten.", {}};
  Writer w;
  std::vector<std::string> left_out;
  QJsonArray all_series;
  int number = 0;
  double all = 0;
  for (const SeriesRow& s : book.series(job->id)) all += double(book.specimens(s.id).size());
  for (const SeriesRow& s : book.series(job->id)) {
    QJsonArray pieces;
    for (const SpecimenRow& row : book.specimens(s.id)) {
      if (progress) progress(number / all);
      const QString folder = QString("specimens/%1").arg(++number, 4, 10, QChar('0'));
      auto record = book.record(row.id);
      const auto sound = record ? book.check_signature(row.id) : Outcome<Done>(record.error());
      if (!sound) {  // one bad piece never stops the others
        left_out.push_back(row.code + ": " + sound.error().message + " It is left out.");
        continue;
      }
      QJsonObject piece{{"code", qs(row.code)}, {"folder", folder}};
      const auto versions = book.versions(row.id);
      QJsonArray older;
      for (size_t i = versions.size(); i-- > 1;) {  // the newest is record.json
        auto old = book.record_at(row.id, versions[i].version);
        if (!old) {
          left_out.push_back(row.code + ", version " + std::to_string(versions[i].version) + ": " +
                             old.error().message + " It is left out.");
          continue;
        }
        old->run.drop_samples();
        const QString name = folder + "/version-" + QString::number(versions[i].version) + ".json";
        w.add(name, record_to_json(*old));
        older.append(name);
      }
      piece["older"] = older;
      w.files.push_back(w.crew.start([folder, r = std::move(*record)] { return packed_piece(folder, r); }));
      if (const auto evaluation = book.signed_evaluation(row.id)) w.add(folder + "/evaluation.json", *evaluation);
      if (const auto signature = book.signature(row.id))
        piece["signed"] = QJsonObject{{"by", qs(signature->by)},
                                      {"at", qs(signature->at)},
                                      {"verdict", qs(signature->verdict)},
                                      {"version", qint64(signature->record_version)},
                                      {"record_sha256", qs(signature->record_sha256)},
                                      {"run_sha256", qs(signature->run_sha256)},
                                      {"evaluation_sha256", qs(signature->evaluation_sha256)}};
      pieces.append(piece);
    }
    QJsonObject one{{"title", qs(s.title)}, {"method", qs(s.method)}, {"specimens", pieces}};
    const auto settings = book.series_record(s.id);
    if (!settings) return settings.error();
    one["settings"] = qs(series_settings_to_json(*methods::find(s.method), *settings));
    all_series.append(one);
  }
  std::vector<Packed> files;
  QJsonArray list;
  for (auto& some : w.files)
    for (Packed& f : some.get()) {
      list.append(f.listed);
      files.push_back(std::move(f));
    }
  const ChainHead head = book.head();
  const QJsonObject manifest{
      {"format", "fortitor-bundle"},
      {"version", 1},
      {"made_at", qs(book.clock().utc())},
      {"made_by", qs(book.operator_name())},
      {"book", QJsonObject{{"lines", qint64(head.lines)}, {"head", qs(head.hash)}}},
      {"job", QJsonObject{{"code", qs(job->code)}, {"title", qs(job->title)}, {"due", qs(job->due)}}},
      {"series", all_series},
      {"files", list}};
  if (files.empty() && !left_out.empty()) return InputError{left_out.front(), {}};
  if (const auto done = write_zip(files, QJsonDocument(manifest).toJson(), path); !done) return done.error();
  return left_out;
}

Outcome<Unpacked> read_bundle(Book& book, const std::string& path, const std::string& as) {
  auto archive = read_zip(path);
  if (!archive) return archive.error();
  auto refuse = [&](const std::string& why) { return InputError{path + ": " + why + ". Nothing was taken in.", {}}; };
  const QJsonObject job = archive->manifest["job"].toObject();
  Unpacked out;
  out.code = as.empty() ? str(job["code"].toString()) : as;
  if (book.job_by_code(out.code))
    return refuse("there is already a job " + out.code + " in this book; give the job another number");
  // Everything is read before anything is written.
  struct Piece {
    TestRecord record;
    std::vector<TestRecord> older;
    std::string code;
  };
  struct Series {
    std::string title, method;
    TestRecord settings;
    std::vector<Piece> pieces;
  };
  std::vector<Series> all;
  for (const QJsonValue& v : archive->manifest["series"].toArray()) {
    const QJsonObject o = v.toObject();
    Series s{str(o["title"].toString()), str(o["method"].toString()), {}, {}};
    const Method* method = methods::find(s.method);
    if (method == nullptr) return refuse("the method " + s.method + " is not known to this program");
    const auto settings = series_settings_from_json(*method, str(o["settings"].toString()));
    if (!settings) return refuse("settings of the series " + s.title + ": " + settings.error().message);
    s.settings = *settings;
    for (const QJsonValue& p : o["specimens"].toArray()) {
      const QJsonObject one = p.toObject();
      auto record = piece_of(*archive, one["folder"].toString());
      if (!record) return refuse(record.error().message);
      if (record->method != s.method) return refuse("a specimen is of another method than its series");
      if (const std::string id = record->specimen_id(); id != str(one["code"].toString()))
        return refuse("the record of " + str(one["code"].toString()) + " is of another piece: “" + id + "”");
      Piece piece{*record, {}, str(one["code"].toString())};
      for (const QJsonValue& name : one["older"].toArray()) {
        const auto it = archive->files.find(name.toString());
        if (it == archive->files.end()) return refuse(str(name.toString()) + " is missing");
        auto old = stored_record_from_json(it->second.toStdString());
        if (old)
          for (const RecordFault& f : old->faults)
            if (!f.kept) return refuse(str(name.toString()) + ": " + f.message);
        if (!old) return refuse(str(name.toString()) + ": " + old.error().message);
        piece.older.push_back(*old);
      }
      if (const QJsonObject sign = one["signed"].toObject(); !sign.isEmpty())
        out.notices.push_back(piece.code + " was signed in its own book by " + str(sign["by"].toString()) + " on " +
                              str(sign["at"].toString()) + " (" + str(sign["verdict"].toString()) +
                              "); here it is not signed yet.");
      s.pieces.push_back(std::move(piece));
    }
    all.push_back(std::move(s));
  }
  const auto done = book.together([&]() -> Outcome<Done> {
    const auto id = book.add_job(out.code, str(job["title"].toString()), str(job["due"].toString()));
    if (!id) return id.error();
    out.job = *id;
    for (const Series& s : all) {
      const auto series = book.add_series(*id, s.title, s.method);
      if (!series) return series.error();
      if (const auto kept = book.save_series_record(*series, s.settings, "settings of the series from a bundle"); !kept)
        return kept;
      for (const Piece& p : s.pieces) {
        const auto piece = book.add_specimen(*series, p.code, p.older.empty() ? p.record : p.older.front());
        if (!piece) return piece.error();
        for (size_t i = 1; i < p.older.size(); ++i)
          if (const auto v = book.save_record(*piece, 0, p.older[i], {}, "older version from a bundle"); !v)
            return v.error();
        for (const Segment& segment : p.record.run.segments)
          if (segment.samples)
            if (const auto run = book.store_run(*piece, *segment.samples, "bundle", segment.name); !run)
              return run.error();
        TestRecord newest = p.record;
        newest.job = out.code;
        const Evaluation e = methods::evaluate(newest, {.shelf = book.shelf()});
        const Summary summary{progress_code(progress_of(*methods::find(s.method), newest, &e, false)),
                              std::string(verdict_word(e.verdict)), int(e.open_judgements().size())};
        if (const auto v = book.save_record(*piece, 0, newest, summary, "taken from a bundle"); !v) return v.error();
        ++out.specimens;
      }
    }
    return book.note("bundle taken in",
                     out.code + ", head of its book " + str(archive->manifest["book"].toObject()["head"].toString()));
  });
  if (!done) return done.error();
  return out;
}

}  // namespace fortitor
