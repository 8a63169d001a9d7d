// What every method asks, says and offers, and the tables the program rests on, kept as text: a stage that loses its
// caution, a column that is no longer planned, a unit whose factor moved shows as a line of a diff.
#include <sstream>

#include "core/quantity/format.h"
#include "core/record/encoding.h"
#include "core/reference/hardness.h"
#include "core/reference/library.h"
#include "core/reference/materials.h"
#include "tests/core/methods/kept_text.h"
#include "tests/core/methods/method_records.h"

namespace fortitor::kept_described_test {
namespace {

class KeptNumbersDescribed : public testing::TestWithParam<const Method*> {};

std::string field_line(const FieldSpec& f) {
  std::ostringstream out;
  out << "  " << f.path << " “" << f.label << "” kind " << int(f.kind) << " of " << dimension_phrase(f.dimension)
      << " at " << int(f.stage);
  if (f.wanted != 1) out << " wants " << f.wanted;
  if (f.required) out << " required";
  if (!f.symbol.empty()) out << " symbol " << f.symbol;
  if (!f.unit.empty()) out << " in " << f.unit;
  if (!f.when_path.empty())
    out << " when " << f.when_path << "=" << f.when_value << "/" << f.when_at_least
        << (f.when_default ? " or nothing" : "");
  if (f.first_is_usual) out << " first usual";
  if (f.spread_limit != 0.01) out << " spread " << f.spread_limit;
  if (f.may_be_zero) out << " zero";
  if (f.may_be_negative) out << " negative";
  if (f.common) out << (*f.common ? " of the series" : " of the piece");
  if (f.brought) out << " brought";
  if (f.from_reference) out << " reference";
  if (!f.record_of.empty()) out << " record of " << f.record_of;
  if (!f.division_path.empty()) out << " divisions " << f.division_path << " drum " << f.drum;
  if (f.planned) out << " planned";
  for (const Choice& c : f.choices) out << " [" << c.value << ": " << c.label << "]";
  if (!f.hint.empty()) out << " — " << f.hint;
  return out.str() + "\n";
}

std::string spec_line(const ResultSpec& s) {
  return "  " + s.key + " " + s.symbol + " “" + s.name + "” " + std::string(dimension_phrase(s.dimension)) + " class " +
         std::to_string(int(s.rounding)) + " figures " + std::to_string(s.figures) + (s.headline ? " headline" : "") +
         (s.printed ? " printed" : "") + "\n";
}

TEST_P(KeptNumbersDescribed, Method) {
  const Method& m = *GetParam();
  std::ostringstream out;
  out << m.id << " | " << m.name << " | " << m.short_name << " | " << m.standard << " | stand-in " << m.standin << "\n";
  for (const FieldSpec& f : m.fields) out << field_line(f);
  for (const ChannelSpec& c : m.channels) {
    out << "channel " << c.name << " “" << c.label << "” " << dimension_phrase(c.dimension)
        << (c.required ? " required" : "") << (c.by_unit ? " by unit" : "");
    for (const std::string& w : c.words) out << " " << w;
    out << "\n";
  }
  for (const TableSpec& t : m.tables) {
    out << "table " << t.id << " “" << t.label << "” row " << t.row << " stage " << int(t.stage) << " least " << t.least
        << " usual " << t.usual << " | " << t.instruction << " | " << t.broke_path << (t.ends_in_break ? " breaks" : "")
        << (t.may_crack ? " cracks" : "") << (t.read_unloaded ? " unloaded" : "") << " " << t.instrument << " "
        << t.stopwatch << "\n";
    if (t.control) out << "  control" << field_line(*t.control);
    for (const FieldSpec& c : t.columns) out << field_line(c);
    for (const RowMark& k : t.marks)
      out << "  mark " << k.key << " " << k.column << "=" << k.value << " " << k.label << " " << k.when << "\n";
    for (const auto& [key, column] : t.lists) out << "  list " << key << " of " << column << "\n";
  }
  for (const School& s : m.schools) {
    out << "school " << s.setting << " “" << s.label << "”";
    for (const Choice& c : s.choices) out << " [" << c.value << ": " << c.label << "]";
    out << "\n";
  }
  for (const EquipmentSlot& s : m.equipment) {
    out << "slot " << s.id << " “" << s.label << "” at " << int(s.stage) << " rating " << s.rating
        << (s.in_load_path ? " in the load path" : "") << "\n";
    for (const FieldSpec& f : s.papers) out << field_line(f);
  }
  for (const StageGuide& g : m.stages) {
    out << "stage " << g.lead << "\n";
    for (const std::string& s : g.guidance) out << "  " << s << "\n";
    for (const std::string& s : g.cautions) out << "  △ " << s << "\n";
    for (const CheckItem& c : g.checklist) out << "  ☐ " << c.id << (c.safety ? " safety " : " ") << c.text << "\n";
  }
  for (const std::string& s : {m.prepare_sketch, m.measure_sketch, m.after_sketch, m.setup_sketch, m.run_sketch})
    out << "sketch " << s << "\n";
  for (const auto* keys : {&m.limit_keys, &m.measure_keys, &m.after_keys, &m.printed_settings}) {
    out << "keys";
    for (const std::string& k : *keys) out << " " << k;
    out << "\n";
  }
  for (const TimerSpec& t : m.timers)
    out << "timer " << t.stated_path << " " << t.elapsed_path << " " << t.name << " " << t.finding << "\n";
  const Wording& w = m.wording;
  for (const std::string& s : {w.run_first, w.growing, w.after_run, w.to_measure, w.measure_why, w.set_up, w.looks})
    out << "words " << s << "\n";
  out << "minutes " << m.minutes.before << " " << m.minutes.run << " " << m.minutes.after << "\n";
  out << "series " << m.series.key << " " << m.series.suspects_path << "\n";
  for (const FieldSpec& f : m.series.fields) out << field_line(f);
  for (const std::string& k : m.limit_keys)
    if (const auto s = m.result(k)) out << spec_line(*s);
  // Every result that a made piece has, as it is described.
  standin::SimulateOptions o;
  o.method = m.id;
  o.seed = 9;
  TestRecord r = standin::find_bench(m.standin)->simulate(o);
  r.method = m.id;
  for (const ResultValue& x : methods::evaluate(r, {.uncertainty = false}).results) out << spec_line(x.spec);
  hold_kept("described-" + m.id, out.str());
}

INSTANTIATE_TEST_SUITE_P(OfEveryMethod, KeptNumbersDescribed,
                         testing::ValuesIn(methods::all().begin(), methods::all().end()), method_test_name);

TEST(KeptNumbersOfTables, UnitsScalesMaterials) {
  std::ostringstream out;
  out.precision(12);
  for (const Unit& u : all_units())
    out << "unit " << u.symbol << " " << dimension_phrase(u.dimension) << " " << int(u.dimension) << " × " << u.factor
        << " + " << u.offset << (u.us_customary ? " us" : "") << "\n";
  for (int d = 0; d <= int(Dimension::section_modulus); ++d)
    for (UnitSet set : {UnitSet::si, UnitSet::us, UnitSet::kgf})
      for (double size : {0.0, 0.05, 50.0, 2e4, 3e5}) out << display_unit(Dimension(d), set, size).symbol << " ";
  out << "\n";
  for (const RockwellScale& s : rockwell_scales())
    out << "scale " << s.id << " " << s.ball << " " << s.preliminary << " " << s.total << " " << s.n << " " << s.s
        << " " << s.low << " " << s.high << "\n";
  for (const ReferenceMaterial& m : *shipped_reference()) {
    out << m.name << " " << m.group << " " << m.family;
    for (const auto& [key, v] : m.values) out << " " << key << " " << v.low << "…" << v.mean << "…" << v.high;
    out << "\n";
  }
  for (const MaterialFamily& f : material_families())
    out << "family " << f.name << " " << f.e_low << " " << f.e_high << " " << f.yield_low << " " << f.yield_high << " "
        << f.rm_low << " " << f.rm_high << " " << f.density << " " << f.elongation_exponent << " " << f.poisson << "\n";
  for (const char* typed :
       {"Structural steel", "stainless", "HIGH-STRENGTH", "cold drawn", "alloy steel", "aluminum", "magnesium", "titan",
        "bronze", "brass", "copper", "nickel", "cast iron", "zinc", "oak", ""})
    out << typed << ": " << (find_family(typed) != nullptr ? find_family(typed)->name : "none") << "\n";
  hold_kept("tables", out.str());
}

}  // namespace
}  // namespace fortitor::kept_described_test
