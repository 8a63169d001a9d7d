#include "app/model/timer_board.h"

#include <algorithm>

#include "app/theme/parts.h"

namespace fortitor {

using parts::qs;

QString RunningTimer::text() const {
  const QString name = qs(row.label + " " + row.code);
  if (left <= 0) return name + "  over";
  const qint64 minutes = (left + 59) / 60;
  if (minutes >= 48 * 60) return name + "  " + QString::number(minutes / 1440) + " d";
  return name + QString("  %1:%2").arg(minutes / 60, 2, 10, QChar('0')).arg(minutes % 60, 2, 10, QChar('0'));
}

TimerBoard::TimerBoard(Workbench* bench, QObject* parent) : QObject(parent), bench_(bench) {
  beat_.setInterval(1000);
  connect(&beat_, &QTimer::timeout, this, &TimerBoard::tick);
  connect(bench, &Workbench::docket_changed, this, &TimerBoard::tick);
  rigs_ = new LongRuns(bench, this);
  connect(rigs_, &LongRuns::changed, this, &TimerBoard::changed);
  connect(rigs_, &LongRuns::ended, this, &TimerBoard::ended);
  beat_.start();
}

const RunningTimer* TimerBoard::find(Id specimen, const std::string& label) const {
  for (const RunningTimer& t : timers_)
    if (t.row.specimen == specimen && t.row.label == label) return &t;
  return nullptr;
}

void TimerBoard::tick() {
  if (bench_->book() == nullptr || bench_->away()) return;
  rigs_->tick();
  std::vector<RunningTimer> now;
  for (const TimerRow& row : bench_->book()->timers()) {
    RunningTimer t{row, 0};
    t.left = bench_->clock().now().secsTo(QDateTime::fromString(qs(row.ends_at), Qt::ISODate));
    now.push_back(t);
  }
  auto face = [](const std::vector<RunningTimer>& list) {
    QString all;
    for (const RunningTimer& t : list) all += t.text() + ";";
    return all;
  };
  const bool same = face(now) == face(timers_);
  timers_ = std::move(now);
  for (const RunningTimer& t : timers_) {
    if (t.left > 0 || std::find(told_.begin(), told_.end(), t.row.id) != told_.end()) continue;
    told_.push_back(t.row.id);
    emit ended(qs(t.row.label) + " of " + qs(t.row.code) + " is over: the piece can be run.");
  }
  if (!same) emit changed();
}

Outcome<Done> TimerBoard::start(const TimerSpec& spec) {
  const auto stated = bench_->record().fields.number(spec.stated_path);
  if (!stated || !(*stated > 0)) return InputError{"Enter the time wanted for " + spec.name + " first.", {}};
  const QDateTime from = bench_->clock().now().toUTC();
  const auto id = bench_->book()->start_timer(bench_->specimen(), spec.name, from.toString(Qt::ISODate).toStdString(),
                                              from.addSecs(qint64(*stated)).toString(Qt::ISODate).toStdString());
  if (!id) return id.error();
  bench_->edit(qs(spec.name) + " timer started", [&](TestRecord& r) { r.fields.erase(spec.elapsed_path); });
  tick();
  emit changed();
  return Done{};
}

void TimerBoard::finish(const TimerSpec& spec) {
  const RunningTimer* t = find(bench_->specimen(), spec.name);
  if (t == nullptr) return;
  const qint64 seconds = QDateTime::fromString(qs(t->row.started_at), Qt::ISODate).secsTo(bench_->clock().now());
  const Id id = t->row.id;
  bench_->edit(qs(spec.name) + " ended", [&](TestRecord& r) {
    const std::string typed = typed_value(double(seconds), Dimension::time, UnitSet::si, 6);
    r.fields.set(spec.elapsed_path, reading_of(parse_quantity(typed, Dimension::time).value()));
  });
  const auto done = bench_->book()->acknowledge_timer(id, "timer ended: " + spec.name);
  if (!done) bench_->say(qs(done.error().message));
  tick();
  emit changed();
}

void TimerBoard::acknowledge(Id timer) {
  for (const RunningTimer& t : timers_) {
    if (t.row.id != timer) continue;
    // The specimen on the bench takes its elapsed time over; another one does when it is next opened.
    if (t.row.specimen == bench_->specimen())
      for (const TimerSpec& spec : bench_->method().timers)
        if (spec.name == t.row.label) return finish(spec);
    return;
  }
}

const TimerSpec* TimerBoard::short_timer() const {
  if (!bench_->has_specimen()) return nullptr;
  for (const TimerSpec& spec : bench_->method().timers) {
    if (bench_->record().answer(spec.finding) != nullptr) continue;
    const RunningTimer* t = find(bench_->specimen(), spec.name);
    const auto stated = bench_->record().fields.number(spec.stated_path),
               elapsed = bench_->record().fields.number(spec.elapsed_path);
    if (t != nullptr && t->left > 0) return &spec;
    if (t == nullptr && stated && *stated > 0 && elapsed.value_or(0) < *stated) return &spec;
  }
  return nullptr;
}

QString TimerBoard::obstacle() const {
  const TimerSpec* spec = short_timer();
  if (spec == nullptr || bench_->record().has_run()) return {};
  const QString name = qs(spec->name);
  if (const RunningTimer* t = find(bench_->specimen(), spec->name))
    return name + " ends in " + t->text().section("  ", 1) + " h. Wait, or say why it may be run before its time.";
  const auto elapsed = bench_->record().fields.number(spec->elapsed_path);
  if (!elapsed) return name + ": neither timed nor typed. Start its timer at Prepare, or say why it may be run.";
  return name + " was " + qs(format_value(*elapsed, Dimension::time, bench_->units(), 3)) + " of " +
         qs(format_value(bench_->record().fields.number(spec->stated_path).value_or(0), Dimension::time,
                         bench_->units(), 3)) +
         ". Say why it may be run before its time.";
}

void TimerBoard::accept_early(const QString& reason) {
  const TimerSpec* spec = short_timer();
  if (spec == nullptr || reason.trimmed().isEmpty()) return;
  const std::string code = spec->finding;
  const TimerSpec copy = *spec;
  if (find(bench_->specimen(), spec->name) != nullptr) finish(copy);  // what has passed is what counts
  bench_->edit("run before its time: " + reason, [&](TestRecord& r) {
    std::erase_if(r.answers, [&](const Answer& a) { return a.code == code; });
    r.answers.push_back(
        {code, "accept", reason.trimmed().toStdString(), bench_->book()->operator_name(), bench_->clock().utc()});
  });
  tick();
}

}  // namespace fortitor
