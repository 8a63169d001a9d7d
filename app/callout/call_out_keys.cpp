// What every key of the call-out sheet does, and what an answer does to the record.
#include <QDateTime>
#include <QKeyEvent>

#include "app/callout/call_out_panel.h"
#include "app/callout/call_out_sheet.h"
#include "app/theme/parts.h"
#include "app/wires/wire_board.h"
#include "core/record/keyed.h"

namespace fortitor {

using parts::qs;
using Phase = CallOut::Phase;

bool CallOutSheet::eventFilter(QObject* watched, QEvent* event) {
  if (watched != panel_->entry() || event->type() != QEvent::KeyPress) return QWidget::eventFilter(watched, event);
  auto* k = static_cast<QKeyEvent*>(event);
  if (k->modifiers() & (Qt::ControlModifier | Qt::AltModifier | Qt::MetaModifier)) return false;
  if (k->key() == Qt::Key_Return || k->key() == Qt::Key_Enter) {
    keep();
    return true;
  }
  if (k->key() == Qt::Key_Escape && typing_ != Typing::reading) {
    typing_ = Typing::reading;
    panel_->entry()->clear();
    refresh();
    return true;
  }
  // Letters are orders only while nothing is typed: "11.4 mm" stays a reading.
  if (typing_ != Typing::reading || !panel_->entry()->text().trimmed().isEmpty()) return false;
  return instrument_key(*k) || key(k->key());
}

bool CallOutSheet::key(int k) {
  const Method& m = bench_->method();
  const TableSpec w = now_.table;
  if (!panel_->entry()->isEnabled()) return false;
  const bool any = !bench_->record().run.rows(w.id).empty();
  switch (k) {
    case Qt::Key_M: missed(); return true;
    case Qt::Key_Space: drive(); return true;
    case Qt::Key_PageUp: table_->move_choice(-1); return true;
    case Qt::Key_PageDown: table_->move_choice(1); return true;
    case Qt::Key_Up:
    case Qt::Key_Down:
      if (!w.stepped()) return false;
      if (const FieldSpec* f = m.field("settings.step")) {
        const double step = call_out::changed_step(w, now_.step, k == Qt::Key_Up);
        bench_->set_field(*f, qs(call_out::typed_control(w, step)));
      }
      return true;
    case Qt::Key_R:
      if (any)
        change(row_name(chosen_row()) + " read again",
               [&, row = chosen_row()](TestRecord& r) { call_out::re_read(m, r, row); });
      return true;
    case Qt::Key_D:
      if (any)
        change("doubt about " + row_name(chosen_row()),
               [&, row = chosen_row()](TestRecord& r) { call_out::doubt(m, r, row); });
      return true;
    case Qt::Key_N:
      if (any) typing_ = Typing::note;
      refresh();
      return true;
    case Qt::Key_G:
      if (!w.stepped()) return false;
      if (now_.phase == Phase::reading || now_.phase == Phase::not_begun) typing_ = Typing::stop;
      refresh();
      return true;
    case Qt::Key_A:
      if (wires_ == nullptr || wires_->items().empty()) return mark(k);
      takes_ = !takes_;
      show_wires();
      return true;
    case Qt::Key_C:
      if (!w.may_crack) return mark(k);
      if (!any) return true;
      change("cracking heard", [&](TestRecord& r) {
        const auto began = QDateTime::fromString(qs(r.tested_at), Qt::ISODate);
        call_out::cracking(r, now_, began.isValid() ? double(began.secsTo(bench_->clock().now())) : 0);
      });
      bench_->say("Cracking noted on the way to " + qs(call_out::typed_control(w, now_.control)) + ".");
      return true;
    case Qt::Key_B:
      if (!w.ends_in_break) return false;
      broke();
      return true;
    case Qt::Key_E: end_run(); return true;
    default: return mark(k);
  }
}

bool CallOutSheet::mark(int k) {
  const Rows& rows = bench_->record().run.rows(now_.table.id);
  for (const RowMark& m : now_.table.marks) {
    if (k != m.key || rows.empty()) continue;
    if (m.value.empty()) {
      typing_ = Typing::word;
      asked_mark_ = m;
      refresh();
      return true;
    }
    const size_t row = marked_row();
    change(row_name(row) + ": " + qs(m.label), [&](TestRecord& r) { call_out::mark(bench_->method(), r, row, m); });
    return true;
  }
  return false;
}

size_t CallOutSheet::marked_row() const {
  const Rows& rows = bench_->record().run.rows(now_.table.id);
  return table_->chosen() ? chosen_row() : rows.empty() ? 0 : rows.size() - 1;
}

void CallOutSheet::keep_word() {
  const FieldSpec* column = now_.table.column(asked_mark_.column);
  const std::string text = panel_->entry()->text().trimmed().toStdString();
  if (column == nullptr) return;
  FieldValue value = text;
  if (column->kind != FieldKind::text) {
    const auto q = read_keyed(text, *column, {bench_->units(), &bare_unit(*column, bench_->units())});
    if (!q) {
      bench_->say(qs(q.error().message));
      return panel_->entry()->selectAll();
    }
    value = *q;
  }
  typing_ = Typing::reading;
  panel_->entry()->clear();
  bench_->say("");
  change(row_name(marked_row()) + ", " + qs(column->label) + ": " + qs(text),
         [&, row = marked_row(), mark = asked_mark_](TestRecord& r) {
           call_out::set_word(bench_->method(), r, row, mark, value);
         });
}

void CallOutSheet::keep() {
  QLineEdit* entry = panel_->entry();
  QString text = entry->text().trimmed();
  if (entry->isEnabled() && text.isEmpty() && typing_ == Typing::reading && instrument_ != nullptr) {
    if (instrument_->advance()) return refresh();
    text = instrument_->reading();
  }
  if (!entry->isEnabled() || text.isEmpty()) return;
  if (typing_ == Typing::note) return keep_note();
  if (typing_ == Typing::word) return keep_word();
  const TableSpec w = now_.table;
  const bool stop = typing_ == Typing::stop;
  const FieldSpec& field = stop ? *w.control : w.columns[std::min(now_.column, w.columns.size() - 1)];
  // A bare number has the unit that stands beside the field.
  const auto q = read_keyed(text.toStdString(), field, {bench_->units(), &bare_unit(field, bench_->units())});
  if (!q) {
    bench_->say(qs(q.error().message));
    entry->selectAll();
    return;
  }
  bench_->say("");
  entry->clear();
  shown_.clear();
  if (stop) {
    typing_ = Typing::reading;
    other_stop_ = *q;
    return refresh();
  }
  const auto at = other_stop_;
  other_stop_.reset();
  change(row_name(now_.row) + ", " + qs(field.label) + ": " + text, [&, now = now_](TestRecord& r) {
    call_out::keep(r, now, *q, at);
    if (!took_ || timed_row_ != now.row || now.row >= r.run.rows(now.table.id).size()) return;
    Row& row = r.run.tables[now.table.id][now.row];
    if (!row.has(now.table.stopwatch))
      row.cells.set(now.table.stopwatch, reading_of(parse_quantity(fixed(*took_, 1) + " s", Dimension::time).value()));
  });
}

void CallOutSheet::keep_note() {
  const QString text = panel_->entry()->text().trimmed();
  typing_ = Typing::reading;
  panel_->entry()->clear();
  change("note to " + row_name(chosen_row()),
         [&, row = chosen_row()](TestRecord& r) { call_out::note(bench_->method(), r, row, text.toStdString()); });
}

void CallOutSheet::missed() {
  const auto at = other_stop_;
  other_stop_.reset();
  shown_.clear();
  change(row_name(now_.row) + " missed", [&, now = now_](TestRecord& r) { call_out::keep(r, now, Reading{}, at); });
}

void CallOutSheet::broke() {
  if (now_.phase != Phase::reading || bench_->record().run.rows(now_.table.id).empty()) return;
  shown_.clear();
  change("broke", [now = now_](TestRecord& r) { call_out::broke(r, now); });
  bench_->say("Noted: it broke on the way to " + qs(call_out::typed_control(now_.table, now_.control)) +
              ". Look at the piece at After.");
}

void CallOutSheet::end_run() {
  if (bench_->record().run.rows(now_.table.id).empty()) return;
  if (now_.phase == Phase::unloading) {
    change("zeros after unloading left out", [](TestRecord& r) { r.run.open = false; });
    return;
  }
  const bool planned = now_.last_done, steps = now_.table.stepped();
  change("end of the run", [&](TestRecord& r) {
    call_out::end(bench_->method(), r, planned ? (steps ? "last stop as planned" : "") : "ended by the operator");
  });
}

}  // namespace fortitor
