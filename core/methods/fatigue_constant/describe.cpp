// What fatigue-constant asks and advises.
#include <algorithm>
#include <cmath>

#include "core/methods/fatigue_constant/fatigue_constant.h"
#include "core/methods/fatigue_constant/model.h"
#include "core/methods/support/equipment.h"
#include "core/methods/support/fields.h"
#include "core/methods/support/load_path.h"
#include "core/methods/support/timing.h"
#include "core/section/section.h"

namespace fortitor::sn {

using D = Dimension;

std::vector<double> planned_levels(const Fields& f) {
  const double high = f.number("settings.plan.highest").value_or(0), low = f.number("settings.plan.lowest").value_or(0);
  const int levels = int(std::clamp(f.number("settings.plan.levels").value_or(4), 1.0, 20.0));
  std::vector<double> out;
  if (!(high > 0) || !(low > 0) || high < low) return out;
  for (int i = 0; i < levels; ++i) {
    const double share = levels > 1 ? double(i) / (levels - 1) : 0, range = high * std::pow(low / high, share);
    out.push_back(std::round(range / 5) * 5 > 0 ? std::round(range / 5) * 5 : range);
  }
  return out;
}

Plan plan(const TestRecord& r) {
  Plan p;
  const Fields& f = r.fields;
  const std::vector<double> levels = planned_levels(f);
  const double guess =
      f.number("settings.plan.strength").value_or(f.number("specimen.detail_category").value_or(0) * 1.4);
  const std::string fixed = f.text("settings.slope");
  const double slope = fixed == "5" ? 5 : 3, most = f.number("settings.plan.runout").value_or(1e7),
               hertz = f.number("settings.frequency").value_or(0);
  if (f.text("settings.analysis") == "staircase") {
    if (!f.number("settings.staircase.step"))
      p.warnings.push_back("A step near the expected scatter tells most: 5 % of the limit is a usual guess.");
    return p;
  }
  if (levels.empty()) {
    if (guess > 0) {
      p.advice.push_back({"settings.plan.highest", "Highest level",
                          std::round(guess * std::pow(2e6 / 1e5, 1 / slope) / 5) * 5, D::stress,
                          "about 10⁵ cycles by the first guess"});
      p.advice.push_back({"settings.plan.lowest", "Lowest level",
                          std::round(guess * std::pow(2e6 / 3e6, 1 / slope) / 5) * 5, D::stress, "about 3·10⁶ cycles"});
    }
    return p;
  }
  const double each = std::max(1.0, f.number("settings.plan.replicates").value_or(3));
  double cycles = 0;
  std::string words;
  for (double level : levels) {
    words += (words.empty() ? "" : ", ") + plain_number(level, 4);
    if (guess > 0) cycles += each * std::min(most, 2e6 * std::pow(guess / level, slope));
  }
  std::string line = plain_number(each, 3) + " pieces each at " + words + " MPa: replication " +
                     plain_number(std::round(100 * (1 - 1 / each)), 3) + " %";
  if (cycles > 0 && hertz > 0) line += ", about " + significant(cycles / hertz / 86400, 2) + " days of machine";
  p.warnings.push_back(line + ".");
  if (levels.size() < 3 && fixed.empty()) p.warnings.push_back("Two levels tell no slope: three or more, or fix it.");
  return p;
}

namespace {

// A level (range, MPa) as the column in which points are typed wants it.
Fields row_at(const TestRecord& r, double level) {
  const std::string as = r.fields.text("settings.points_in");
  const double area = section_of(r.fields).area;
  Fields row;
  auto put = [&](const char* column, double value, D d) {
    row.set(column, reading_of(parse_quantity(typed_value(value, d, UnitSet::si, 4), d).value()));
  };
  if (as == "amplitude")
    put("amplitude", level / 2, D::stress);
  else if (as != "force")
    put("range", level, D::stress);
  else if (area > 0)
    put("force", level * area, D::force);
  return row;
}

}  // namespace

std::vector<Fields> planned_points(const TestRecord& r) {
  std::vector<Fields> out;
  const Fields& f = r.fields;
  if (f.text("settings.analysis") == "staircase") {
    // The level of a row is known when the one before has ended: down after a failure, up after a run-out.
    const auto step = f.number("settings.staircase.step"), start = f.number("settings.staircase.start");
    const Rows& rows = r.run.rows(kTable);
    const double area = section_of(f).area;
    out.resize(std::max<size_t>(kStairs, rows.size() + 1));
    for (size_t i = 0; i <= rows.size(); ++i) {
      if (i == 0) {
        if (start && *start > 0) out[0] = row_at(r, *start);
        continue;
      }
      const Row& last = rows[i - 1];
      const auto range = last.number("range"), amplitude = last.number("amplitude"), force = last.number("force");
      const double level = range ? *range : amplitude ? 2 * *amplitude : force && area > 0 ? *force / area : NAN;
      if (!step || !(*step > 0) || !last.has("cycles") || !std::isfinite(level)) continue;
      const double next = level + (last.cells.flag("runout") ? *step : -*step);
      if (next > 0) out[i] = row_at(r, next);
    }
    return out;
  }
  const std::vector<double> levels = planned_levels(f);
  const double each = std::clamp(f.number("settings.plan.replicates").value_or(3), 1.0, 50.0);
  // One piece at every level, then the next: when the series is cut short every level has been seen.
  for (int turn = 0; turn < int(each); ++turn)
    for (double level : levels) out.push_back(row_at(r, level));
  return out;
}

void describe(Method& m) {
  using namespace fortitor::fields;
  m.fields = common();
  auto add = [&](FieldSpec f) { m.fields.push_back(std::move(f)); };
  const Stage prepare = Stage::prepare, set_up = Stage::set_up, evaluate = Stage::evaluate;
  add(of_series(quantity("specimen.detail_category", D::stress, prepare, "Δσ_C")));
  add(of_series(quantity("specimen.rm", D::stress, prepare, "R_m")));
  for (FieldSpec f : section_fields({"flat", "round", "tube"}, Stage::measure)) {
    f.required = false;
    add(std::move(f));
  }
  add(of_series(choice("settings.analysis", set_up, {"line", "staircase"}, true)));
  add(of_series(choice("settings.points_in", set_up, {"range", "amplitude", "force"}, true)));
  auto only = [](FieldSpec f, const char* path, const char* value, bool otherwise = false) {
    f.when_path = path;
    f.when_value = value;
    f.when_default = otherwise;
    return f;
  };
  add(of_series(only(quantity("settings.staircase.step", D::stress, set_up, "d"), "settings.analysis", "staircase")));
  add(of_series(only(quantity("settings.staircase.start", D::stress, set_up), "settings.analysis", "staircase")));
  add(of_series(quantity("settings.frequency", D::frequency, set_up, "f")));
  for (const auto& [path, label, hint] :
       {std::tuple{"settings.plan.highest", "Highest level", ""},
        {"settings.plan.lowest", "Lowest level", ""},
        {"settings.plan.strength", "First guess at 2·10⁶", "Range; from experience or a category."}})
    add(of_series(only(quantity(path, D::stress, set_up), "settings.analysis", "line")));
  for (const auto& [path, label] : {std::pair{"settings.plan.levels", "Levels"},
                                    {"settings.plan.replicates", "Pieces a level"},
                                    {"settings.plan.runout", "Run-out at cycles"}})
    add(of_series(number(path, set_up)));
  add(of_series(number("settings.gauges.count", set_up)));
  add(of_series(number("settings.gauges.every", set_up)));
  add(of_series(quantity("settings.limit.stiffness", D::elongation, set_up)));
  add(of_series(quantity("settings.r_wanted", D::none, evaluate, "R")));
  m.fields.back().may_be_negative = m.fields.back().may_be_zero = true;
  add(of_series(number("settings.walker", evaluate)));
  m.schools = {school("settings.slope", {"free", "3", "5"}), school("settings.runouts", {"bound", "leave-out"}),
               school("settings.mean_stress", {"none", "goodman", "gerber", "swt", "walker"})};
  TableSpec t;
  t.id = kTable;
  t.least = 1;
  t.usual = 14;
  FieldSpec range = only(quantity("range", D::stress, Stage::run, "Δσ"), "settings.points_in", "range", true);
  FieldSpec amplitude = only(quantity("amplitude", D::stress, Stage::run, "σ_a"), "settings.points_in", "amplitude");
  FieldSpec force = only(quantity("force", D::force, Stage::run, "ΔF"), "settings.points_in", "force");
  FieldSpec cycles = quantity("cycles", D::none, Stage::run, "N");
  FieldSpec r = column("r", D::none);
  FieldSpec runout = flag("runout", Stage::run);
  FieldSpec origin = text("origin", Stage::run), specimen = text("specimen", Stage::run),
            machine = text("machine", Stage::run);
  FieldSpec frequency = quantity("frequency", D::frequency, Stage::run);
  r.planned = origin.planned = specimen.planned = machine.planned = frequency.planned = true;
  t.columns = {range, amplitude, force, cycles, runout, r, origin, specimen, machine, frequency};
  t.marks = {{'U', "runout", "true"}, {'O', "origin", ""},    {'P', "specimen", ""}, {'S', "r", ""},
             {'L', "range", ""},      {'L', "amplitude", ""}, {'L', "force", ""}};
  t.planned_rows = planned_points;
  t.runs_by_itself = true;
  m.tables = {t};
  ChannelSpec counter{
      "cycles", {}, D::none, false, {"cycles", "cycle", "=n", "lastwechsel", "zyklen", "cicli", "ciclos", "anzahl"},
      false};
  m.channels = {counter};
  SegmentSpec toe{"toe_gauges", {}, false, {counter}};
  for (int i = 1; i <= 12; ++i) {
    const std::string n = std::to_string(i);
    ChannelSpec gauge{
        "gauge_" + n, {}, D::microstrain, false, {"gauge_" + n, "gauge " + n, "=g" + n, "dms " + n, "sg" + n}, false};
    m.channels.push_back(gauge);
    toe.channels.push_back(gauge);
  }
  m.segments = {toe};
  m.equipment = {equipment::frame(), equipment::load_cell(), equipment::caliper()};
  for (FieldSpec& f : m.equipment[1].fields) f.required = false;
  m.prepare_sketch = m.measure_sketch = m.after_sketch = "weld-bracket";
  m.setup_sketch = m.run_sketch = "weld-bracket";
  m.standin = "fatigue-rig";
  m.minutes = {10, 25, 10};
  m.run_time = timing::cycles;
  m.limit_keys = {key::strength_2e6_char, key::strength_2e6_mean, key::staircase_mean, key::sn_slope};
  m.series.limit_keys = m.limit_keys;
  m.after_keys = {key::strength_2e6_mean, key::strength_2e6_char};
  m.series.key = key::strength_2e6_char;
  m.series.evaluate = over_series;
  m.series.compare = compare_lines;
  m.printed_settings = {"settings.analysis",    "settings.slope",    "settings.runouts",
                        "settings.mean_stress", "settings.r_wanted", "settings.staircase"};
  equipment::add_from_shelf(m, {"rig", "fixture"});
  finish(m);
}

}  // namespace fortitor::sn
