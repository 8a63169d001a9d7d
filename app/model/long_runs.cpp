#include "app/model/long_runs.h"

#include <algorithm>
#include <cmath>

#include "app/theme/parts.h"
#include "core/bench/call_out.h"
#include "core/record/keyed.h"
#include "core/standin/benches.h"
#include "store/book_setting.h"

namespace fortitor {

using parts::qs;

namespace {

// A run as the book keeps it, to be gone on with at the next start.
struct KeptRun {
  int64_t specimen = 0;
  uint64_t row = 0;
  double frequency = 10, most = 1e7;  // Hz, cycles
  std::string since;
  double before = 0, hurry = 1;
  bool halted = false;
};

const SettingRows<KeptRun>& kept_runs() {
  static const SettingRows<KeptRun> runs("long_runs", {{"specimen", &KeptRun::specimen},
                                                       {"row", &KeptRun::row},
                                                       {"frequency", &KeptRun::frequency},
                                                       {"most", &KeptRun::most},
                                                       {"since", &KeptRun::since},
                                                       {"before", &KeptRun::before},
                                                       {"hurry", &KeptRun::hurry},
                                                       {"halted", &KeptRun::halted}});
  return runs;
}

const Row* row_of(const TestRecord& record, size_t row) {
  const Method* m = methods::find(record.method);
  if (m == nullptr || m->keyed_table() == nullptr) return nullptr;
  const Rows& rows = record.run.rows(m->keyed_table()->id);
  return row < rows.size() ? &rows[row] : nullptr;
}

// A row is done when nothing is asked of it any more: somebody may have typed it meanwhile.
bool done(const TestRecord& record, size_t at) {
  const Row* row = row_of(record, at);
  if (row == nullptr) return false;
  for (const FieldSpec& c : methods::find(record.method)->keyed_table()->for_record(record).columns)
    if (!c.planned && (c.kind == FieldKind::quantity || c.kind == FieldKind::readings) && !cell_complete(*row, c))
      return false;
  return true;
}

// Puts cells as a machine shows them into a row, where nothing is known yet.
void fill(TestRecord& record, size_t at, const std::map<std::string, std::string>& cells) {
  const TableSpec table = methods::find(record.method)->keyed_table()->for_record(record);
  Rows& rows = record.run.tables[table.id];
  if (at >= rows.size()) return;
  for (const FieldSpec& c : table.columns) {
    const auto it = cells.find(c.path);
    if (it == cells.end() || rows[at].has(c.path)) continue;
    if (c.kind == FieldKind::flag) {
      if (it->second == "true") rows[at].cells.set(c.path, true);
    } else if (const auto reading = read_keyed(it->second, c)) {
      rows[at].cells.set(c.path, *reading);
    }
  }
}

QString short_count(double n) {
  return n >= 1e6   ? QString::number(n / 1e6, 'f', 2) + " M"
         : n >= 1e4 ? QString::number(n / 1e3, 'f', 0) + " k"
                    : QString::number(n, 'f', 0);
}

}  // namespace

QString LongRun::text() const {
  return qs(code) + " point " + QString::number(order.row + 1) + "  " + short_count(status.cycles) +
         (halted ? "  halted" : "");
}

LongRuns::LongRuns(Workbench* bench, QObject* parent) : QObject(parent), bench_(bench) {}

const LongRun* LongRuns::of(Id specimen) const {
  const auto it = std::find_if(runs_.begin(), runs_.end(), [&](const LongRun& r) { return r.specimen == specimen; });
  return it == runs_.end() ? nullptr : &*it;
}

LongRun* LongRuns::find(Id specimen) {
  return const_cast<LongRun*>(of(specimen));
}

double LongRuns::seconds_of(const LongRun& run) const {
  if (run.halted) return run.before;
  return run.before + std::max<qint64>(0, run.since.msecsTo(bench_->clock().now().toUTC())) / 1e3 * run.hurry;
}

bool LongRuns::equip(LongRun& run) const {
  const auto record = bench_->book()->typed_record(run.specimen);
  const auto row = bench_->book()->specimen(run.specimen);
  if (!record || !row) return false;
  const Method* m = methods::find(record->method);
  const standin::Bench* standin = m != nullptr ? standin::find_bench(m->standin) : nullptr;
  const Row* cells = row_of(*record, run.order.row);
  if (standin == nullptr || !standin->long_machine || cells == nullptr) return false;
  run.code = row->code;
  run.order.cells = cells->cells;
  run.machine = standin->long_machine(*record, run.order);
  return true;
}

void LongRuns::load() {
  of_book_ = bench_->book();
  runs_.clear();
  if (of_book_ == nullptr) return;
  for (const KeptRun& kept : kept_runs().of(*of_book_)) {
    LongRun run;
    run.specimen = kept.specimen;
    run.order.row = kept.row;
    run.order.frequency = std::clamp(kept.frequency, 1e-3, 1e4);
    run.order.most = std::max(1.0, kept.most);
    run.since = QDateTime::fromString(qs(kept.since), Qt::ISODateWithMs);
    run.before = std::max(0.0, kept.before);
    run.hurry = std::clamp(kept.hurry, 1.0, 1e7);
    run.halted = kept.halted;
    if (run.since.isValid() && equip(run)) runs_.push_back(std::move(run));
  }
}

Outcome<Done> LongRuns::store() const {
  std::vector<KeptRun> all;
  for (const LongRun& r : runs_)
    all.push_back({r.specimen, r.order.row, r.order.frequency, r.order.most,
                   r.since.toUTC().toString(Qt::ISODateWithMs).toStdString(), r.before, r.hurry, r.halted});
  return kept_runs().keep(*bench_->book(), all);
}

Outcome<Done> LongRuns::start(size_t row) {
  const Id specimen = bench_->specimen();
  if (of(specimen) != nullptr) return InputError{"The rig runs a point of this record already.", {}};
  const Method& m = bench_->method();
  const standin::Bench* standin = standin::find_bench(m.standin);
  if (standin == nullptr || !standin->long_machine) return InputError{"There is no rig for this.", {}};
  LongRun run;
  run.specimen = specimen;
  run.order.row = row;
  const Fields& f = bench_->record().fields;
  run.order.frequency = std::clamp(f.number("settings.frequency").value_or(10), 1e-3, 1e4);
  run.order.most = std::max(1.0, f.number("settings.plan.runout").value_or(1e7));
  run.hurry = hurry_;
  run.since = bench_->clock().now().toUTC();
  // The row begins with its level: what is on the rig is in the book before it moves.
  auto step = standin->step_machine(bench_->record());
  const auto there = step->go_to(double(row));
  if (!there) return there.error();
  step->know(bench_->record());
  std::map<std::string, std::string> level = step->read();
  level.erase("cycles");
  level.erase("runout");
  bench_->keep_raw("point " + QString::number(row + 1) + " on the rig", [&](TestRecord& r) {
    const TableSpec table = m.keyed_table()->for_record(r);
    Rows& rows = r.run.tables[table.id];
    r.run.open = true;
    r.fields.set("equipment.standin.piece", standin::piece_of(r, *standin));
    r.fields.set("equipment.standin.seed", double(standin::seed_of(r)));
    if (row >= rows.size()) {
      rows.emplace_back();
      const std::vector<Fields> planned = table.planned_rows ? table.planned_rows(r) : std::vector<Fields>{};
      if (row < planned.size())
        for (const auto& [name, value] : planned[row].all()) rows.back().cells.set(name, value);
    }
    fill(r, row, level);
  });
  if (!equip(run)) return InputError{"The rig cannot be set to this point: the book did not take it.", {}};
  runs_.push_back(run);
  if (const auto kept = store(); !kept) {
    runs_.pop_back();
    return kept.error();
  }
  (void)bench_->book()->note("rig started: point " + std::to_string(row + 1),
                             plain_number(run.order.frequency, 4) + " Hz", specimen);
  tick();
  emit changed();
  return Done{};
}

void LongRuns::halt(Id specimen) {
  LongRun* run = find(specimen);
  if (run == nullptr || run->halted) return;
  run->before = seconds_of(*run);
  run->halted = true;
  if (const auto kept = store(); !kept) bench_->say(qs(kept.error().message));
  (void)bench_->book()->note("rig halted: point " + std::to_string(run->order.row + 1),
                             plain_number(run->status.cycles, 9) + " cycles", specimen);
  emit changed();
}

void LongRuns::go_on(Id specimen) {
  LongRun* run = find(specimen);
  if (run == nullptr || !run->halted) return;
  run->since = bench_->clock().now().toUTC();
  run->halted = false;
  if (const auto kept = store(); !kept) bench_->say(qs(kept.error().message));
  (void)bench_->book()->note("rig goes on: point " + std::to_string(run->order.row + 1),
                             plain_number(run->status.cycles, 9) + " cycles", specimen);
  emit changed();
}

void LongRuns::set_hurry(Id specimen, double hurry) {
  hurry_ = std::clamp(hurry, 1.0, 1e7);
  if (LongRun* run = find(specimen)) {
    run->before = seconds_of(*run);
    run->since = bench_->clock().now().toUTC();
    run->hurry = hurry_;
    if (const auto kept = store(); !kept) bench_->say(qs(kept.error().message));
  }
  emit changed();
}

Samples LongRuns::gauges_of(const LongRun& run, const TestRecord& record) {
  Samples out;
  const size_t gauges = run.status.gauges.size();
  if (gauges == 0 || !(run.status.cycles > 0) || run.machine == nullptr) return out;
  const double least = run.status.cycles / 2000, wanted = record.fields.number("settings.gauges.every").value_or(0);
  const double every = std::max({1.0, least, wanted > 0 ? wanted : run.status.cycles / 80});
  out.channels.resize(gauges + 1);
  out.channels[0].name = "cycles";
  for (size_t g = 0; g < gauges; ++g) out.channels[g + 1].name = "gauge_" + std::to_string(g + 1);
  auto read = [&](double cycles) {
    const LongStatus s = run.machine->after(cycles / run.order.frequency);
    out.channels[0].values.push_back(s.cycles);
    for (size_t g = 0; g < gauges; ++g) out.channels[g + 1].values.push_back(s.gauges[g]);
  };
  double n = 1;
  for (; n < run.status.cycles; n += every) read(n);
  read(run.status.cycles);
  return out;
}

bool LongRuns::finish(LongRun& run) {
  if (run.writing && *run.writing) return false;
  const size_t at = run.order.row;
  const auto record = bench_->book()->record(run.specimen);
  if (!record) return false;
  if (done(*record, at)) return true;
  Samples gauges = gauges_of(run, *record);
  const bool first = !gauges.channels.empty() && record->run.samples("toe_gauges") == nullptr;
  SamplesPtr samples;
  if (first) {
    samples = std::make_shared<const Samples>(std::move(gauges));
    if (const auto kept = bench_->book()->store_run(run.specimen, *samples, "rig, gauges along the toe", "toe_gauges");
        !kept)
      return false;
  }
  const auto write = [at, samples, cells = run.status.cells, frequency = run.order.frequency](TestRecord& r) {
    fill(r, at, cells);
    Rows& rows = r.run.tables[methods::find(r.method)->keyed_table()->id];
    if (at < rows.size() && !rows[at].has("frequency"))
      if (const auto f = parse_quantity(plain_number(frequency, 4) + " Hz", Dimension::frequency))
        rows[at].cells.set("frequency", reading_of(*f));
    if (samples) r.run.set_samples(samples, "toe_gauges");
  };
  const QString words = "point " + QString::number(at + 1) + ": " + qs(run.status.message);
  if (bench_->specimen() == run.specimen) {
    bench_->keep_raw(words, write);
  } else {
    // Written beside the window; the next look finds it there.
    run.writing = std::make_shared<bool>(true);
    bench_->edit_specimen(run.specimen, words, write, [this, writing = run.writing] {
      *writing = false;
      tick();
    });
    return false;
  }
  const auto now = bench_->book()->typed_record(run.specimen);
  return now && done(*now, at);
}

void LongRuns::tick() {
  if (busy_) return;  // writing a row moves the docket, which asks again
  busy_ = true;
  if (bench_->book() != of_book_) load();
  bool moved = !runs_.empty();
  std::vector<QString> said;
  for (size_t i = 0; i < runs_.size();) {
    LongRun& run = runs_[i];
    run.status = run.machine->after(seconds_of(run));
    if (!run.status.ended || bench_->book()->read_only() || !finish(run)) {
      ++i;
      continue;
    }
    said.push_back(qs(run.code) + ", point " + QString::number(run.order.row + 1) + " at " +
                   QString::number(run.status.cycles, 'f', 0) + " cycles. " + qs(run.status.message));
    runs_.erase(runs_.begin() + std::ptrdiff_t(i));
    if (const auto kept = store(); !kept) bench_->say(qs(kept.error().message));
  }
  busy_ = false;
  if (moved) emit changed();
  for (const QString& s : said) emit ended(s);
}

}  // namespace fortitor
