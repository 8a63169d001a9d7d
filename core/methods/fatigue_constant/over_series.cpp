// Pieces of a series as one table of points, and groups of them against each other: lines, how many times longer one
// lives, whether one slope serves both.
#include <algorithm>
#include <cmath>

#include "core/language/language.h"
#include "core/methods/fatigue_constant/fatigue_constant.h"
#include "core/methods/fatigue_constant/model.h"
#include "core/record/words.h"
#include "core/statistics/sample.h"

namespace fortitor::sn {

using namespace ledger;
using D = Dimension;

namespace {

constexpr double kInterval = 0.975;  // quantile of a 95 % interval
constexpr double kSignificance = 0.05;

// A row with the range that it was tested at in words, whatever it was typed as: a force means the piece's own section,
// a rule for the mean stress its own material.
Row with_range(Row row, const Point& p) {
  if (!(p.range > 0)) return row;
  for (const char* column : {"force", "amplitude"}) row.cells.erase(column);
  row.cells.set("range", Reading{plain_number(p.range, 8) + " MPa", p.range, 0});
  return row;
}

bool counts(const SeriesPiece& p) {
  return p.record->fields.text("settings.series.left_out").empty() && p.evaluation->verdict != Verdict::void_test;
}

TestRecord one_table(const std::vector<SeriesPiece>& pieces, const TestRecord& settings) {
  TestRecord all = settings;
  all.method = "fatigue-constant";
  all.run = {};
  Rows rows;
  for (const SeriesPiece& p : pieces) {
    if (!counts(p)) continue;
    if (!all.fields.has("specimen.detail_category"))
      if (const FieldValue* v = p.record->fields.find("specimen.detail_category"))
        all.fields.set("specimen.detail_category", *v);
    // What holds for the series is typed there; what only a piece knows stands in its record.
    TestRecord own = *p.record;
    for (const char* path : {"settings.mean_stress", "settings.r_wanted", "settings.walker"})
      if (const FieldValue* v = settings.fields.find(path)) own.fields.set(path, *v);
    const State s = look(own);
    const bool converted = s.rule != fatigue::MeanStress::none;
    for (const Point& point : s.all) {
      Row row = own.run.rows(kTable)[point.row];
      if (row.cells.text("specimen").empty()) row.cells.set("specimen", p.record->specimen_id());
      if (converted || !row.cells.has("range")) row = with_range(std::move(row), point);
      rows.push_back(std::move(row));
    }
    if (converted) all.fields.erase("settings.mean_stress");
  }
  all.run.tables[kTable] = std::move(rows);
  all.fields.set("specimen.id", settings.series);
  return all;
}

// log₁₀ of the life at a range by a line, with its standard error.
struct Life {
  double log = NAN, error = NAN;
};
Life life_at(const fatigue::SnLine& l, double log_range) {
  return {l.log_c - l.slope * log_range, std::hypot(l.level_error, (log_range - l.pivot) * l.slope_error)};
}

}  // namespace

Evaluation over_series(const std::vector<SeriesPiece>& pieces, const TestRecord& settings) {
  const TestRecord all = one_table(pieces, settings);
  Evaluation none;
  none.method = all.method;
  if (all.run.rows(kTable).size() < 2 || pieces.size() < 2) return none;
  Evaluation e = methods::fatigue_constant().evaluate(all, {});
  e.method = all.method;
  e.specimen = settings.series;
  return e.results.empty() ? none : e;
}

void compare_lines(Evaluation& e, const std::vector<SeriesGroup>& groups, const TestRecord& settings) {
  std::vector<State> states;
  for (const SeriesGroup& g : groups) states.push_back(look(one_table(g.pieces, settings)));
  for (size_t g = 1; g < groups.size(); ++g) {
    if (!states[0].line || !states[g].line) continue;
    const fatigue::SnLine &a = *states[0].line, &b = *states[g].line;
    // Where both were tested: half way between the middles of their points.
    const double x = 0.5 * (a.pivot + b.pivot);
    const Life first = life_at(a, x), other = life_at(b, x);
    const double dof = double(a.failures + a.runouts + b.failures + b.runouts) - (a.slope_fixed ? 2 : 4);
    if (!(dof >= 1)) continue;
    const double apart = other.log - first.log, error = std::hypot(first.error, other.error);
    const double half = statistics::t_quantile(kInterval, dof) * error;
    const std::string key = "group_" + std::to_string(g + 1), with = groups[g].name + " over " + groups[0].name;
    auto add = [&](const std::string& what, const char* symbol, double value, Step step) {
      if (!std::isfinite(value)) return;
      ResultValue r;
      r.spec = spec_of(key + what, symbol, D::none, false, 3);
      r.spec.name = Tongue()(Words::of("fatigue-constant").result("group" + what), {{"groups", with}});
      r.value = value;
      step.value = value;
      r.how = {std::move(step)};
      e.results.push_back(std::move(r));
    };
    const std::string at = "at " + si(std::pow(10, x), D::stress, 3);
    add("_life_ratio", "N/N₁", std::pow(10, apart),
        {"N/N₁ = 10^(log N − log N₁)", at, 0, D::none, "means of the two lines"});
    add("_life_ratio_low", "", std::pow(10, apart - half), {"10^(Δ − t·u)", at, 0, D::none, "errors of both lines"});
    add("_life_ratio_high", "", std::pow(10, apart + half), {"10^(Δ + t·u)", at, 0, D::none, "errors of both lines"});
    double p = NAN;
    if (!a.slope_fixed && std::hypot(a.slope_error, b.slope_error) > 0) {
      const double t = (b.slope - a.slope) / std::hypot(a.slope_error, b.slope_error);
      p = statistics::t_two_sided(t, dof);
      add("_slope_p", "p_m", p, {"P(|T| ≥ |m − m₁|/u)", at, 0, D::none, "Student's t"});
    }
    const bool differ = std::abs(apart) > half;
    raise(e, "groups", Severity::note,
          with + ": " + significant(std::pow(10, apart), 3) + " times the life " + at + ", 95 % " +
              significant(std::pow(10, apart - half), 3) + " to " + significant(std::pow(10, apart + half), 3) + ": " +
              (differ ? "they differ." : "these few do not tell them apart.") +
              (std::isfinite(p) ? p < kSignificance ? " The slopes differ (p = " + significant(p, 2) + ")."
                                                    : " One slope may serve both (p = " + significant(p, 2) + ")."
                                : std::string()),
          {{"ratio", std::pow(10, apart)}, {"p", p}}, {}, key);
  }
}

}  // namespace fortitor::sn
