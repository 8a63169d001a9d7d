// The stand-in behind the call-out sheet.
#include "app/callout/call_out_panel.h"
#include "app/callout/call_out_sheet.h"
#include "app/callout/rig_view.h"
#include "app/theme/parts.h"
#include "core/standin/benches.h"

namespace fortitor {

using parts::qs;
using Phase = CallOut::Phase;

bool CallOutSheet::through() const {
  return instrument_ != nullptr && instrument_->holds_piece();
}

bool CallOutSheet::by_rig() const {
  const standin::Bench* standin = standin::find_bench(bench_->method().standin);
  return standin != nullptr && standin->long_machine;
}

// Space when the piece leaves the bath, Space again with the blow: the time between goes to the row that is struck.
bool CallOutSheet::take_time() {
  const FieldSpec* timed = now_.table.column(now_.table.stopwatch);
  if (now_.table.stopwatch.empty() || timed == nullptr) return false;
  const Rows& rows = bench_->record().run.rows(now_.table.id);
  // Only a row that has nothing read yet: its piece is still in the bath.
  if (now_.row < rows.size())
    for (const FieldSpec& c : now_.table.columns)
      if (!c.planned && rows[now_.row].has(c.path)) return false;
  if (timed_row_ == now_.row && took_) return false;  // struck already: the stand-in reads
  if (!watch_.isActive()) {
    timed_row_ = now_.row;
    took_.reset();
    since_.start();
    watch_.start(100);
    refresh();
    return true;
  }
  watch_.stop();
  took_ = since_.elapsed() / 1e3;
  return false;  // the blow itself follows
}

// The stand-in goes to the stop and shows its instruments; what it shows is offered in the field, and a
// person keeps it or types what they read.
void CallOutSheet::drive() {
  if (take_time()) return;
  if (wired_.control) return bench_->say("The machine is real: the program only listens to it.");
  const Method& m = bench_->method();
  const standin::Bench* standin = standin::find_bench(m.standin);
  if (standin == nullptr || !standin->step_machine) return;
  if (by_rig()) return rig_->switch_over();
  if (!machine_) {
    machine_ = standin->step_machine(bench_->record());
    machine_for_ = bench_->specimen();
    machine_->balance();
    // Taken up again in the middle of a run: the piece carries what it carried.
    const Rows& rows = bench_->record().run.rows(now_.table.id);
    for (const Row& row : rows)
      if (const auto at = now_.table.control ? row.number(now_.table.control->path) : std::nullopt)
        if (const auto back = machine_->go_to(*at); !back) return bench_->say(qs(back.error().message));
    if (rows.empty())
      bench_->edit("stand-in piece", [&](TestRecord& r) {
        r.fields.set("equipment.standin.piece", standin::piece_of(r, *standin));
        r.fields.set("equipment.standin.seed", double(standin::seed_of(r)));
      });
  }
  if (through() && machine_row_ == now_.row && machine_->dial() && !machine_->dial()->reading_counts) {
    const auto moved = machine_->act();
    if (!moved) bench_->say(qs(moved.error().message));
    return refresh();
  }
  const double to = other_stop_ && other_stop_->value ? *other_stop_->value
                    : now_.table.stepped()            ? now_.control
                                                      : double(now_.row);
  // What lies under the instrument stays there while its row is read; then a good eye is offered.
  if (through() && machine_row_ == now_.row) {
    const auto shows = machine_->read();
    const auto it = shows.find(now_.table.columns[now_.column].path);
    const auto readings = it == shows.end() ? std::vector<std::string>{} : standin::parts_of(it->second);
    if (now_.part < readings.size()) instrument_->offer(qs(readings[now_.part]));
    return refresh();
  }
  const auto moved = now_.phase == Phase::unloading ? machine_->unload() : machine_->go_to(to);
  if (!moved) {
    bench_->say(qs(moved.error().message));
    return;
  }
  if (through()) {
    machine_row_ = now_.row;
    return refresh();
  }
  const StepStatus s = machine_->status();
  if (s.broken) {
    shown_ = qs(s.message) + " B keeps the bracket.";
    return refresh();
  }
  machine_->know(bench_->record());
  const auto read = machine_->read();
  shown_ = "Stand-in:";
  const TableSpec& w = now_.table;
  for (const FieldSpec& c : w.columns) {
    if (c.planned || (c.kind != FieldKind::quantity && c.kind != FieldKind::readings)) continue;
    const auto it = read.find(c.path);
    shown_ += "  " + qs(c.label) + " " + (it == read.end() ? "shows nothing" : qs(it->second));
    if (&c == &w.columns[now_.column] && it != read.end()) panel_->entry()->setText(qs(it->second));
  }
  for (const RowMark& mark : w.marks)
    if (const auto it = read.find(mark.column); it != read.end() && it->second == mark.value)
      shown_ += ".  It " + qs(mark.label) + ": " + QChar(mark.key) + " marks it.";
  if (s.cracks > 0) shown_ += ".  You hear cracking: C notes it.";
  refresh();
  panel_->entry()->selectAll();
}

}  // namespace fortitor
