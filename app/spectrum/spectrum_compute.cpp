// What the spectrum desk computes beside the window, and what it writes.
#include <QCryptographicHash>
#include <QDir>
#include <QFile>
#include <QFileInfo>

#include "app/spectrum/spectrum_desk.h"
#include "app/theme/parts.h"
#include "core/quantity/plain.h"
#include "core/spectrum/drive_file.h"
#include "core/standin/bridge.h"
#include "report/page.h"
#include "report/spectrum_report.h"

namespace fortitor {

using parts::qs;
using spectrum::ChainStep;

namespace {

// SHA-256 of a file as hex; empty when it was stopped or could not be read.
std::string digest_of(const std::string& path, Task& task) {
  QFile file(qs(path));
  if (!file.open(QIODevice::ReadOnly)) return {};
  QCryptographicHash hash(QCryptographicHash::Sha256);
  QByteArray piece(1 << 20, Qt::Uninitialized);
  for (qint64 n; (n = file.read(piece.data(), piece.size())) > 0;) {
    if (task.stopped()) return {};
    hash.addData(QByteArrayView(piece.constData(), n));
  }
  return hash.result().toHex().toStdString();
}

}  // namespace

TestRecord SpectrumDesk::resolved(const TestRecord& record) const {
  TestRecord r = record;
  const QDir folder = QFileInfo(qs(bench_->book()->path())).absoluteDir();
  for (Row& row : r.run.tables["sources"])
    if (const std::string file = row.cells.text("file"); !file.empty())
      row.cells.set("file", folder.absoluteFilePath(qs(file)).toStdString());
  return r;
}

void SpectrumDesk::compute(bool preview, bool with_study) {
  const auto settings = spectrum::settings_of(resolved(preview ? shown_ : record_));
  if (!settings) return bench_->say(qs(settings.error().message));
  if (settings->weeks.empty()) return;
  if (task_) bench_->tasks().cancel(task_);  // what was asked before is outdated
  const quint64 ticket = ++ticket_;
  const auto before = now_;
  const auto next = std::make_shared<spectrum::Spectrum>();
  const auto wrong = std::make_shared<std::string>();
  const auto overviews = std::make_shared<std::vector<std::shared_ptr<const overview::Kept>>>();
  const QString book = qs(bench_->book()->path());
  task_ = bench_->tasks().run(
      "Computing “" + qs(record_.specimen_id()) + "”", this,
      [=](Task& task) {
        if (before) *next = *before;
        spectrum::ComputeOptions options;
        options.until = preview ? ChainStep::cut : ChainStep::drive;
        options.study = with_study;
        const auto done = spectrum::compute(*next, *settings, options, [&](double share) {
          task.set_progress(share);
          return !task.stopped();
        });
        if (!done) *wrong = done.error().message;
        if (next->from > int(ChainStep::raw)) return;
        for (size_t k = 0; k < next->weeks.size(); ++k) {
          const spectrum::Week& w = next->weeks[k];
          if (!w.signal) continue;
          auto kept = std::make_shared<overview::Kept>(overview::Kept{w.raw.overview, w.signal->rate(), w.raw.samples});
          overview::keep(book, settings->weeks[k], *kept);
          overviews->push_back(std::move(kept));
        }
      },
      [=, this] {
        if (!overviews->empty()) overviews_ = *overviews;
        take(ticket, next, *wrong, preview);
      });
}

void SpectrumDesk::take(quint64 ticket, const SpectrumPtr& next, const std::string& wrong, bool preview) {
  if (ticket != ticket_) return;
  task_.reset();
  if (!wrong.empty()) bench_->say(qs(wrong));
  if (next->weeks.empty()) return;
  now_ = next;
  evaluation_ = evaluation_of(*now_, preview ? shown_ : record_);
  steps_->show_steps(now_.get());
  show_week(week_at_);
  show_picture();
  show_ledger();
  if (preview) return;
  // The book learns what came of it, and which files it came of.
  if (bench_->book()->read_only() || !wrong.empty()) {
    emit computed_now();
    return;
  }
  const std::string results = to_json(*now_, record_);
  bool hashed = true;
  for (const Row& row : record_.run.rows("sources")) hashed = hashed && row.has("sha256");
  if (hashed) {
    if (bench_->book()->spectrum_results(id_) != results)
      if (const auto saved = keep("spectrum computed", results); !saved) bench_->say(qs(saved.error().message));
    emit computed_now();
    return;
  }
  const auto files = std::make_shared<std::map<std::string, std::string>>();
  const TestRecord with_paths = resolved(record_);
  std::vector<std::pair<std::string, std::string>> wanted;
  for (size_t i = 0; i < record_.run.rows("sources").size(); ++i)
    wanted.emplace_back(record_.run.rows("sources")[i].cells.text("file"),
                        with_paths.run.rows("sources")[i].cells.text("file"));
  task_ = bench_->tasks().run(
      "Taking the fingerprints of the files", this,
      [files, wanted](Task& task) {
        for (const auto& [name, path] : wanted) (*files)[name] = digest_of(path, task);
      },
      [this, ticket, files, results] {
        if (ticket != ticket_) return;
        task_.reset();
        for (Row& row : record_.run.tables["sources"])
          if (const std::string d = (*files)[row.cells.text("file")]; !d.empty()) row.cells.set("sha256", d);
        shown_ = record_;
        if (const auto saved = keep("spectrum computed", results); !saved) bench_->say(qs(saved.error().message));
        emit computed_now();
      },
      [this] { task_.reset(); });
}

Outcome<Done> SpectrumDesk::keep(const QString& what, const std::string& results) {
  return bench_->book()->save_spectrum(id_, record_, results, what.toStdString());
}

void SpectrumDesk::make_weeks(double hours, double rate) {
  const QString folder = qs(bench_->book()->path()) + ".strain";
  QDir().mkpath(folder);
  const auto files = std::make_shared<QStringList>();
  const auto wrong = std::make_shared<std::string>();
  task_ = bench_->tasks().run(
      "Making three weeks on the stand-in bridge", this,
      [=](Task& task) {
        for (int week = 1; week <= 3; ++week) {
          const QString path = folder + "/bridge-" + QString::number(week) + "-" + QString::number(hours) + "h.f32";
          if (!QFile::exists(path)) {
            standin::BridgeTraffic t;
            t.seed = uint64_t(week);
            t.hours = hours;
            t.rate = rate;
            const auto done = standin::write_bridge_history(t, path.toStdString(), [&](double share) {
              task.set_progress((week - 1 + share) / 3);
              return !task.stopped();
            });
            if (!done) {
              *wrong = done.error().message;
              return;
            }
          }
          files->append(path);
        }
      },
      [=, this] {
        task_.reset();
        if (!wrong->empty()) return bench_->say(qs(*wrong));
        record_.fields.set(
            "settings.rate",
            reading_of(parse_quantity(QString::number(rate).toStdString() + " Hz", Dimension::frequency).value()));
        add_weeks(*files);
      },
      [this] { task_.reset(); });
}

Outcome<Done> SpectrumDesk::write_drive(const QString& path) const {
  if (!now_ || now_->drive.values.empty())
    return InputError{"There is no drive yet: the chain has to be computed first.", {}};
  const double area = record_.fields.number("settings.area").value_or(0);
  spectrum::DriveScale scale;
  scale.newton = area > 0 ? now_->settings.modulus * 1e-6 * area : 0;
  scale.thermal_range = record_.fields.number("settings.thermal.range").value_or(0) * 1e6;
  scale.thermal_cycles = record_.fields.number("settings.thermal.cycles").value_or(7);
  const bool csv = path.endsWith(".csv");
  return page::write_new(
      csv ? drive_csv(now_->drive, scale, now_->settings.seed) : drive_binary(now_->drive, scale, now_->settings.seed),
      path.toStdString());
}

Outcome<Done> SpectrumDesk::write_report(const QString& path) const {
  if (!now_ || now_->together.ranges.empty()) return InputError{"There is nothing to report yet.", {}};
  return write_spectrum_report(*now_, record_, job_.toStdString(), bench_->units(), path.toStdString());
}

Outcome<TestRecord> SpectrumDesk::dragged(const Handle& handle, double value) const {
  TestRecord r = record_;
  const FieldSpec* field = spectrum::schema().field(handle.setting);
  if (field == nullptr) return InputError{"There is nothing to drag.", {}};
  if (handle.setting == "settings.share") {
    const double range = now_ ? now_->together.range_p * 1e-6 : 0;
    if (!(range > 0)) return InputError{"There is no range to cut from.", {}};
    r.fields.set(handle.setting, std::round(1000 * std::clamp(value / range, 0.0, 0.95)) / 1000);
    return r;
  }
  if (field->kind == FieldKind::number) {
    r.fields.set(handle.setting, plain::number(plain_number(std::clamp(value, 1e-6, 0.5), 2)).value());
    return r;
  }
  const double least = handle.setting == "settings.cut" ? 0.01 : 1e-9;
  const std::string typed = typed_value(std::max(value, least), field->dimension, UnitSet::si, 3);
  const auto q = parse_quantity(typed, field->dimension);
  if (!q) return q.error();
  r.fields.set(handle.setting, reading_of(*q));
  return r;
}

// While it is dragged nothing is kept: the newest place wins. Let go, it is one edit.
void SpectrumDesk::drag(const Handle& handle, double value, bool keep) {
  const auto record = dragged(handle, value);
  if (!record) return bench_->say(qs(record.error().message));
  if (keep) return edit("dragged: " + qs(handle.label), [&](TestRecord& r) { r = *record; });
  shown_ = *record;
  compute(true);
}

}  // namespace fortitor
