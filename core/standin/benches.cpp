#include "core/standin/benches.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <stdexcept>

#include "core/bench/call_out.h"
#include "core/methods/method.h"
#include "core/quantity/format.h"
#include "core/quantity/plain.h"
#include "core/record/keyed.h"

namespace fortitor::standin {

const Bench* find_bench(const std::string& id) {
  static const std::array list = {&universal_frame(), &bending_bench(),  &strain_bench(),        &torsion_bench(),
                                  &polymer_frame(),   &laminate_frame(), &sandwich_frame(),      &press(),
                                  &shell_press(),     &scale_bench(),    &microhardness_bench(), &hardness_bench(),
                                  &brinell_bench(),   &pendulum_bench(), &drop_tower(),          &plate_press(),
                                  &proof_bench(),     &fatigue_rig()};
  for (const Bench* b : list)
    if (b->id == id) return b;
  return nullptr;
}

std::string piece_of(const TestRecord& record, const Bench& bench) {
  const std::string piece = record.fields.text("equipment.standin.piece");
  for (const Choice& c : bench.pieces)
    if (c.value == piece) return piece;
  return bench.pieces.empty() ? "" : bench.pieces.front().value;
}

uint64_t seed_of(const TestRecord& record) {
  return uint64_t(std::max(1.0, record.fields.number("equipment.standin.seed").value_or(1)));
}

bool has_fault(const TestRecord& record, const std::string& fault) {
  // Practice hides one or two: "slip,drift".
  const std::string list = "," + record.fields.text("equipment.standin.fault") + ",";
  return !fault.empty() && list.find("," + fault + ",") != std::string::npos;
}

void type_into(TestRecord& record, const std::string& path, const std::string& typed) {
  const FieldSpec* field = methods::find(record.method)->field(path);
  if (field == nullptr) throw std::logic_error("no field " + path + " in " + record.method);
  switch (field->kind) {
    case FieldKind::text:
    case FieldKind::picture:
    case FieldKind::date:
    case FieldKind::choice:
    case FieldKind::choices: record.fields.set(path, typed); return;
    case FieldKind::number: record.fields.set(path, plain::number(typed).value()); return;
    case FieldKind::flag: record.fields.set(path, typed == "true"); return;
    case FieldKind::readings:
    case FieldKind::texts: type_list(record, path, {typed}); return;
    case FieldKind::quantity: record.fields.set(path, reading_of(parse_quantity(typed, field->dimension).value()));
  }
}

void type_list(TestRecord& record, const std::string& path, const std::vector<std::string>& typed) {
  const FieldSpec* field = methods::find(record.method)->field(path);
  if (field == nullptr) throw std::logic_error("no field " + path + " in " + record.method);
  Readings list;
  for (const auto& t : typed) list.push_back(reading_of(parse_quantity(t, field->dimension).value()));
  if (list.empty()) return;
  if (field->kind == FieldKind::quantity)
    record.fields.set(path, list.front());
  else
    record.fields.set(path, list);
}

namespace {

void read_stage(const Bench& bench, TestRecord& r, Stage stage) {
  const Method& m = *methods::find(r.method);
  for (const FieldSpec& f : m.fields)
    if (f.stage == stage && (f.kind == FieldKind::quantity || f.kind == FieldKind::readings) && !r.fields.has(f.path))
      type_list(r, f.path, bench.readings(r, f.path, std::max(1, f.wanted)));
}

}  // namespace

TestRecord measured_piece(const Bench& bench, const std::string& method, const SimulateOptions& o) {
  TestRecord r;
  r.method = method;
  r.operator_name = "stand-in";
  r.fields.set("specimen.id", "SI-" + std::to_string(o.seed));
  r.fields.set("equipment.standin.piece", o.piece.empty() ? bench.pieces.front().value : o.piece);
  r.fields.set("equipment.standin.seed", double(o.seed));
  std::string faults;
  for (const std::string& f : o.faults) faults += (faults.empty() ? "" : ",") + f;
  if (!faults.empty()) r.fields.set("equipment.standin.fault", faults);
  bench.draft(r);
  read_stage(bench, r, Stage::measure);
  read_stage(bench, r, Stage::set_up);
  const Plan plan = methods::find(method)->plan(r);
  for (const Advice& a : plan.advice)
    if (!r.fields.has(a.setting)) type_into(r, a.setting, typed_value(a.value, a.dimension, UnitSet::si, 3));
  return r;
}

std::vector<std::string> parts_of(const std::string& shown) {
  std::vector<std::string> out(1);
  for (char c : shown)
    if (c == ';')
      out.emplace_back();
    else
      out.back() += c;
  return out;
}

void run_stepwise(const Bench& bench, TestRecord& r) {
  const Method& m = *methods::find(r.method);
  const auto machine = bench.step_machine(r);
  machine->balance();
  auto keep_all = [&] {
    // What is read by a hand on the machine is read when its movements are done.
    while (machine->dial() && !machine->dial()->reading_counts)
      if (!machine->act()) break;
    machine->know(r);
    auto shows = machine->read();
    const CallOut asked = call_out_of(m, r, nullptr);
    for (const FieldSpec& c : asked.table.columns) {
      if (c.planned || asked.planned.has(c.path) || (c.kind != FieldKind::quantity && c.kind != FieldKind::readings))
        continue;
      std::string text = shows.count(c.path) ? shows[c.path] : std::string();
      for (const std::string& part : parts_of(text))
        call_out::keep(r, call_out_of(m, r, nullptr), part.empty() ? Reading{} : read_keyed(part, c).value());
    }
    for (const FieldSpec& c : m.keyed_table()->columns)  // what is seen, not read off
      if (c.kind == FieldKind::flag && shows.count(c.path) && shows[c.path] == "true")
        r.run.tables[m.keyed_table()->id].back().cells.set(c.path, true);
      else if (c.kind == FieldKind::choice && shows.count(c.path) && !r.run.rows(m.keyed_table()->id).empty())
        r.run.tables[m.keyed_table()->id].back().cells.set(c.path, shows[c.path]);
  };
  constexpr int kMostStops = 80;
  for (int stop = 0; stop < kMostStops; ++stop) {
    const CallOut now = call_out_of(m, r, nullptr);
    if (now.last_done) break;
    const auto moved = machine->go_to(now.table.stepped() ? now.control : double(now.row));
    const StepStatus s = machine->status();
    // A stop takes about ten seconds of a person's time.
    for (size_t i = 0; i < s.cracks; ++i) call_out::cracking(r, now, 10.0 * stop);
    if (!moved || s.broken) {
      call_out::broke(r, now);
      break;
    }
    keep_all();
    // Wider steps once a test that is led by its travel no longer climbs.
    const TableSpec& t = now.table;
    if (t.stepped() && t.ends_in_break && t.broke_path.empty() && stop >= 20 && stop % 4 == 0)
      type_into(r, "settings.step", call_out::typed_control(t, 2 * now.step));
  }
  const TableSpec& table = *m.keyed_table();
  const bool planned = !table.stepped() || table.last_stop(r) > 0;
  if (r.run.open)
    call_out::end(m, r, !table.stepped() ? "" : planned ? "last stop as planned" : "ended by the operator");
  if (r.run.open && machine->unload()) keep_all();
  read_stage(bench, r, Stage::after);
  if (bench.looks)
    for (const auto& [path, value] : bench.looks(r)) type_into(r, path, value);
}

std::vector<FieldSpec> fields(const Bench& bench) {
  FieldSpec piece, fault;
  piece.path = "equipment.standin.piece";
  piece.label = "Piece";
  piece.kind = fault.kind = FieldKind::choice;
  piece.stage = fault.stage = Stage::run;
  piece.choices = bench.pieces;
  fault.path = "equipment.standin.fault";
  fault.label = "Practice fault";
  fault.choices = bench.faults;
  fault.first_is_usual = piece.first_is_usual = true;
  return {piece, fault};
}

}  // namespace fortitor::standin
