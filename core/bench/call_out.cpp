#include "core/bench/call_out.h"

#include <algorithm>
#include <cmath>

#include "core/record/keyed.h"

namespace fortitor {
namespace {

using Phase = CallOut::Phase;

// Words and ticks of a row come by marks, places by the plan: only numbers are asked for.
bool asks_for(const FieldSpec& c) {
  return !c.planned && (c.kind == FieldKind::quantity || c.kind == FieldKind::readings);
}

Fields planned_cells(const TableSpec& t, const TestRecord& record, size_t row) {
  if (!t.planned_rows) return {};
  const std::vector<Fields> planned = t.planned_rows(record);
  return row < planned.size() ? planned[row] : Fields{};
}

// First column of a row that has not been asked for yet.
bool asked(const Row& row, const TableSpec& table, size_t& column) {
  for (size_t c = 0; c < table.columns.size(); ++c)
    if (asks_for(table.columns[c]) && !cell_complete(row, table.columns[c])) {
      column = c;
      return true;
    }
  return false;
}

Reading typed_reading(const std::string& text, Dimension d) {
  return reading_of(parse_quantity(text, d).value());
}

std::string unloaded(const FieldSpec& column) {
  return "run.unload." + column.path;
}

Rows& rows_of(const Method& method, TestRecord& record) {
  return record.run.tables[method.keyed_table()->id];
}

}  // namespace

CallOut call_out_of(const Method& method, const TestRecord& record, const Evaluation* evaluation) {
  CallOut c;
  c.table = method.keyed_table()->for_record(record);
  const TableSpec& t = c.table;
  const Run& run = record.run;
  const Rows& rows = run.rows(t.id);
  c.phase = run.open ? Phase::reading : rows.empty() ? Phase::not_begun : Phase::ended;
  if (t.planned_rows) {
    const std::vector<Fields> planned = t.planned_rows(record);
    if (!planned.empty()) c.table.usual = planned.size();
  }
  c.row = rows.size();
  for (size_t i = 0; i < rows.size(); ++i) {
    if (rows[i].state == Row::State::set_aside || !asked(rows[i], t, c.column)) continue;
    c.row = i;
    c.part = rows[i].cells.readings(t.columns[c.column].path).size();
    c.again = i + 1 < rows.size() || rows[i].note.find("first read") != std::string::npos;
    if (t.control) c.control = rows[i].number(t.control->path).value_or(0);
    break;
  }
  if (!t.control) {
    c.last_done = rows.size() >= t.usual && c.row == rows.size();
    if (c.row == rows.size()) c.planned = planned_cells(t, record, c.row);
    // What the plan says is not asked for again.
    while (c.column < t.columns.size() && (!asks_for(t.columns[c.column]) || c.planned.has(t.columns[c.column].path)))
      ++c.column;
  } else {
    c.step = t.first_step(record);
    if (c.row == rows.size() && !rows.empty()) {
      double highest = 0;
      for (const Row& r : rows) highest = std::max(highest, r.number(t.control->path).value_or(0));
      const double last = t.last_stop(record);
      c.last_done = last > 0 && highest >= last * (1 - 1e-9);
      // Stops stay on the grid of the step, even after a stop that was set by hand.
      c.control = c.step > 0 ? std::floor(highest / c.step + 1 + 1e-9) * c.step : highest;
      if (last > 0 && !c.last_done) c.control = std::min(c.control, last);
    }
  }
  if (run.open && !run.stopped.empty() && t.read_unloaded) {
    c.phase = Phase::unloading;
    c.control = 0;
    c.column = 0;
    while (c.column < t.columns.size() && record.fields.has(unloaded(t.columns[c.column]))) ++c.column;
  }
  c.predicted.resize(t.columns.size());
  if (evaluation != nullptr && rows.size() >= 2)
    for (const RowLine& line : evaluation->lines)
      for (size_t i = 0; i < t.columns.size(); ++i)
        if (line.column == t.columns[i].path) c.predicted[i] = line.at(c.control);
  return c;
}

namespace call_out {

std::string typed_control(const TableSpec& table, double control) {
  // One unit for all stops of a run: 0 picks the small one (N, deg).
  const Unit& unit = display_unit(table.control->dimension, UnitSet::si, 0);
  std::string text = fixed(std::abs(control) / unit.factor, 4);
  while (text.back() == '0') text.pop_back();
  if (text.back() == '.') text.pop_back();
  return (control < 0 ? "-" : "") + text + " " + std::string(unit.symbol);
}

void keep(TestRecord& record, const CallOut& now, const Reading& reading, const std::optional<Reading>& at) {
  const TableSpec& t = now.table;
  if (now.phase == Phase::ended || now.column >= t.columns.size()) return;
  const FieldSpec& column = t.columns[now.column];
  if (now.phase == Phase::unloading) {
    record.fields.set(unloaded(column), reading);
    if (now.column + 1 == t.columns.size()) record.run.open = false;
    return;
  }
  record.run.open = true;
  Rows& rows = record.run.tables[t.id];
  const bool fresh = now.row >= rows.size();
  const Fields planned_of_row = fresh ? planned_cells(t, record, now.row) : Fields{};
  if (fresh) rows.emplace_back();
  Row& row = fresh ? rows.back() : rows[now.row];
  if (fresh)
    for (const auto& [name, value] : planned_of_row.all()) row.cells.set(name, value);
  if (t.control && at) row.cells.set(t.control->path, *at);
  if (t.control && !at && fresh)
    row.cells.set(t.control->path, typed_reading(typed_control(t, now.control), t.control->dimension));
  if (column.kind != FieldKind::readings) {
    row.cells.set(column.path, reading);
    return;
  }
  Readings list = row.cells.readings(column.path);
  list.push_back(reading);
  row.cells.set(column.path, list);
}

void re_read(const Method& method, TestRecord& record, size_t at) {
  Rows& rows = rows_of(method, record);
  if (at >= rows.size()) return;
  Row& row = rows[at];
  std::string before;
  for (const FieldSpec& c : method.keyed_table()->for_record(record).columns) {
    if (!asks_for(c) || !row.has(c.path)) continue;
    for (const Reading& r : row.cells.readings(c.path))
      before += (before.empty() ? "" : ", ") + (r.missed() ? std::string("missed") : r.typed);
    row.cells.erase(c.path);
  }
  if (!before.empty()) row.note += (row.note.empty() ? "" : "; ") + ("first read " + before);
  row.state = Row::State::used;
}

void doubt(const Method& method, TestRecord& record, size_t at) {
  Rows& rows = rows_of(method, record);
  if (at < rows.size()) rows[at].state = rows[at].doubtful() ? Row::State::used : Row::State::doubtful;
}

void note(const Method& method, TestRecord& record, size_t at, const std::string& text) {
  Rows& rows = rows_of(method, record);
  if (at >= rows.size() || text.empty()) return;
  std::string& n = rows[at].note;
  n += (n.empty() ? "" : "; ") + text;
}

void set_word(const Method& method, TestRecord& record, size_t at, const RowMark& m, const FieldValue& value) {
  Rows& rows = rows_of(method, record);
  if (at < rows.size()) rows[at].cells.set(m.column, value);
}

void mark(const Method& method, TestRecord& record, size_t at, const RowMark& m) {
  Rows& rows = rows_of(method, record);
  const FieldSpec* column = method.keyed_table()->column(m.column);
  if (at >= rows.size() || column == nullptr) return;
  Fields& cells = rows[at].cells;
  const bool flag = column->kind == FieldKind::flag;
  const bool on = flag ? cells.flag(m.column) : cells.text(m.column) == m.value;
  if (on)
    cells.erase(m.column);
  else if (flag)
    cells.set(m.column, true);
  else
    cells.set(m.column, m.value);
}

void cracking(TestRecord& record, const CallOut& now, double seconds) {
  record.events.push_back({seconds, "heard-cracking", "on the way to " + typed_control(now.table, now.control)});
}

void broke(TestRecord& record, const CallOut& now) {
  const TableSpec& t = now.table;
  if (!t.ends_in_break || now.phase != Phase::reading || record.run.rows(t.id).empty()) return;
  Rows& rows = record.run.tables[t.id];
  // A stop that was asked for and never read was not held.
  while (!rows.empty()) {
    size_t column = 0;
    if (!asked(rows.back(), t, column) || column > 0) break;
    rows.pop_back();
  }
  if (!t.broke_path.empty() && !rows.empty()) {
    const auto held = rows.back().number(t.control->path);
    if (held && now.control > *held)
      record.fields.set(t.broke_path, Readings{typed_reading(typed_control(t, *held), t.control->dimension),
                                               typed_reading(typed_control(t, now.control), t.control->dimension)});
  }
  record.run.open = false;
  record.run.stopped.clear();
}

void end(const Method& method, TestRecord& record, const std::string& why) {
  record.run.stopped = why;
  record.run.open = method.keyed_table()->read_unloaded && !record.fields.any_under("run.unload");
}

double changed_step(const TableSpec& table, double internal, bool larger) {
  const double unit = display_unit(table.control->dimension, UnitSet::si, 0).factor;
  if (!(internal > 0)) return unit;
  const double step = internal / unit;
  const double ten = std::pow(10, std::floor(std::log10(step) + 1e-9));
  std::vector<double> row;
  for (double decade : {ten / 10, ten, ten * 10})
    for (double s : {1.0, 2.0, 2.5, 5.0}) row.push_back(s * decade);
  const auto up = std::find_if(row.begin(), row.end(), [&](double s) { return s > step * (1 + 1e-6); });
  const auto down = std::find_if(row.rbegin(), row.rend(), [&](double s) { return s < step * (1 - 1e-6); });
  return unit * (larger ? *up : *down);
}

}  // namespace call_out
}  // namespace fortitor
