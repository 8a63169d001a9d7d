#include "core/methods/fatigue_constant/fatigue_constant.h"

#include <algorithm>
#include <cmath>
#include <map>

#include "core/methods/fatigue_constant/model.h"
#include "core/methods/support/skeleton.h"
#include "core/section/section.h"

namespace fortitor::sn {

using namespace ledger;
using D = Dimension;
using fatigue::MeanStress;
using fatigue::SnPoint;

namespace {

MeanStress rule_of(const std::string& name) {
  static const std::map<std::string, MeanStress> rules = {{"goodman", MeanStress::goodman},
                                                          {"gerber", MeanStress::gerber},
                                                          {"swt", MeanStress::smith_watson_topper},
                                                          {"walker", MeanStress::walker}};
  const auto it = rules.find(name);
  return it == rules.end() ? MeanStress::none : it->second;
}

std::optional<double> slope_wanted(const Fields& f) {
  const std::string s = f.text("settings.slope");
  return s == "3" ? std::optional(3.0) : s == "5" ? std::optional(5.0) : std::nullopt;
}

// Gauge tables come as the run itself or as its part "toe_gauges".
Gauges gauges_of(const TestRecord& record) {
  Gauges g;
  SamplesPtr samples = record.run.samples("toe_gauges");
  if (!samples) samples = record.run.samples();
  const Channel* cycles = samples ? samples->find("cycles") : nullptr;
  if (cycles == nullptr) return g;
  g.cycles = cycles->values;
  for (double c : g.cycles)
    if (std::isfinite(c)) g.last_cycles = std::isnan(g.last_cycles) ? c : std::max(g.last_cycles, c);
  for (const Channel& c : samples->channels) {
    if (c.name.rfind("gauge_", 0) != 0) continue;
    g.strain.push_back(c.values);
    g.turns.push_back(fatigue::first_turn_of(g.cycles, c.values));
    ++g.count;
    const auto& turn = g.turns.back();
    if (!turn || (g.initiation && turn->cycles >= g.initiation->cycles)) continue;
    g.initiation = turn;
    g.first = g.count;
  }
  // The cracks grow together where the first gauge turns a second time.
  if (g.initiation) g.coalescence = fatigue::turn_of(g.cycles, g.strain[g.first - 1], g.initiation->cycles);
  return g;
}

void read_points(const TestRecord& record, State& s) {
  const double area = section_of(record.fields).area;
  const Rows& rows = record.run.rows(kTable);
  std::map<double, size_t> ran_out_at;
  for (size_t i = 0; i < rows.size(); ++i) {
    const Row& row = rows[i];
    Point p;
    p.row = i;
    p.specimen = row.cells.text("specimen");
    p.origin = row.cells.text("origin");
    if (const auto range = row.number("range"))
      p.raw = *range;
    else if (const auto amplitude = row.number("amplitude"))
      p.raw = 2 * *amplitude;
    else if (const auto force = row.number("force"); force && area > 0)
      p.raw = *force / area;
    p.r = row.number("r").value_or(NAN);
    p.cycles = row.number("cycles").value_or(NAN);
    p.runout = row.cells.flag("runout");
    p.range = p.raw;
    if (s.rule != MeanStress::none) {
      // What the rule cannot turn into the wanted ratio is no point of that line.
      if (!std::isfinite(p.r))
        p.unapplied = "no stress ratio is given";
      else if (p.r >= 1)
        p.unapplied = "both ends of the cycle are in compression";
      p.range = p.unapplied != nullptr ? NAN : fatigue::equivalent_range(s.rule, p.raw, p.r, s.wanted_r, s.rm, s.gamma);
      if (p.unapplied == nullptr && p.raw > 0 && !std::isfinite(p.range))
        p.unapplied = "its mean stress reaches the tensile strength";
    }
    p.counts = row.used() && p.range > 0 && p.cycles > 0 && std::isfinite(p.range);
    if (p.runout && p.counts) ++ran_out_at[p.cycles];
    s.all.push_back(p);
  }
  // A test that stopped exactly where others ran out and shows no crack is a run-out, whatever is marked.
  for (Point& p : s.all)
    if (!p.runout && p.origin.empty() && ran_out_at.count(p.cycles) != 0) p.runout = p.declared_failed = true;
}

}  // namespace

std::vector<SnPoint> State::counted() const {
  std::vector<SnPoint> out;
  for (const Point& p : all)
    if (p.counts) out.push_back({p.range, p.cycles, p.runout});
  return out;
}

bool State::says_at_reference() const {
  if (!line || line->slope_fixed) return line.has_value();
  double shortest = HUGE_VAL, longest = 0;
  for (const SnPoint& p : counted()) {
    shortest = std::min(shortest, p.cycles);
    longest = std::max(longest, p.cycles);
  }
  return (kReference >= shortest && kReference <= longest) || 2 * line->slope_error < line->slope;
}

State look(const TestRecord& record) {
  State s;
  const Fields& f = record.fields;
  s.staircase = f.text("settings.analysis") == "staircase";
  s.rule = rule_of(f.text("settings.mean_stress"));
  s.wanted_r = f.number("settings.r_wanted").value_or(-1);
  s.rm = f.number("specimen.rm").value_or(0);
  s.gamma = f.number("settings.walker").value_or(0.5);
  if ((s.rule == MeanStress::goodman || s.rule == MeanStress::gerber) && !(s.rm > 0)) s.rule = MeanStress::none;
  s.category = f.number("specimen.detail_category").value_or(0);
  read_points(record, s);
  s.gauges = gauges_of(record);
  const std::vector<SnPoint> points = s.counted();
  if (s.staircase) {
    const fatigue::Ladder ladder = fatigue::ladder_of(points, f.number("settings.staircase.step").value_or(0));
    s.step = ladder.step;
    std::vector<SnPoint> on;
    std::vector<size_t> rows;
    for (const Point& p : s.all)
      if (p.counts) rows.push_back(p.row);
    for (size_t i = 0; i < points.size(); ++i)
      if (std::find(ladder.off.begin(), ladder.off.end(), i) == ladder.off.end())
        on.push_back(points[i]);
      else
        s.off_rungs.push_back(rows[i]);
    s.stairs = fatigue::dixon_mood(on, s.step);
    s.probit = fatigue::probit(points);
  } else {
    s.line = fatigue::fit_sn(points, slope_wanted(f), f.text("settings.runouts") != "leave-out");
  }
  return s;
}

Values compute(const TestRecord&, const State& s, const Shifts& shifts) {
  Values v;
  const double stress = 1 + shift(shifts, "stress");
  if (s.gauges.initiation) {
    const double began = s.gauges.initiation->cycles + shift(shifts, "turn");
    put(v, key::n_initiation, began);
    if (s.gauges.coalescence) put(v, key::n_coalescence, s.gauges.coalescence->cycles + shift(shifts, "second"));
    if (s.gauges.last_cycles > 0) put(v, key::life_share_left, 1 - began / s.gauges.last_cycles);
  }
  if (s.staircase) {
    if (s.stairs) {
      put(v, key::staircase_mean, s.stairs->mean * stress + shift(shifts, "mean"));
      put(v, key::staircase_sd, s.stairs->sd + shift(shifts, "scatter"));
      put(v, key::staircase_ratio, s.stairs->scatter());
    }
    if (s.probit) {
      put(v, key::staircase_ml_mean, s.probit->mean * stress + shift(shifts, "ml_mean"));
      put(v, key::staircase_ml_sd, s.probit->sd + shift(shifts, "ml_sd"));
    }
    for (size_t i = s.all.size(); i-- > 0 && s.step > 0;)
      if (s.all[i].counts && std::find(s.off_rungs.begin(), s.off_rungs.end(), s.all[i].row) == s.off_rungs.end()) {
        put(v, key::next_level, s.all[i].raw + (s.all[i].runout ? s.step : -s.step));
        break;
      }
    return v;
  }
  if (!s.line) return v;
  // Level at the pivot and slope are independent; the line follows from both.
  fatigue::SnLine l = *s.line;
  const double level = l.log_c - l.slope * l.pivot + shift(shifts, "level");
  l.slope += shift(shifts, "slope");
  l.log_c = level + l.slope * (l.pivot + std::log10(stress));
  l.sd = std::max(0.0, l.sd + shift(shifts, "scatter"));
  put(v, key::sn_slope, l.slope);
  put(v, key::sn_logc, l.log_c);
  put(v, key::sn_sd, l.sd);
  if (!s.says_at_reference()) return v;
  put(v, key::strength_2e6_mean, l.range_at(kReference));
  put(v, key::strength_2e6_char, fatigue::characteristic_range(l, kReference));
  put(v, key::strength_2e6_977, l.range_at(kReference, -2));
  double supported = NAN;
  for (double c : fatigue::detail_categories())
    if (c <= get(v, key::strength_2e6_char) + 1e-9) supported = c;
  put(v, key::detail_supported, supported);
  return v;
}

std::vector<ResultSpec> specs(const TestRecord&) {
  std::vector<ResultSpec> out;
  auto add = [&](auto&&... of) { out.push_back(spec_of(of...)); };
  add(key::sn_slope, "m", D::none, true);
  add(key::strength_2e6_mean, "Δσ_50", D::stress, true);
  add(key::strength_2e6_char, "Δσ_C", D::stress, true);
  add(key::strength_2e6_977, "Δσ_97.7", D::stress, false, 4, true);
  add(key::sn_logc, "log C", D::none, false, 5, true);
  add(key::sn_sd, "s", D::none, true, 3);
  add(key::detail_supported, "Δσ_D", D::stress, true, 3);
  add(key::staircase_mean, "σ_D", D::stress, true);
  add(key::staircase_sd, "s_D", D::stress, true, 3);
  add(key::staircase_ml_mean, "σ_ML", D::stress, true);
  add(key::staircase_ml_sd, "s_ML", D::stress, false, 3);
  add(key::staircase_ratio, "", D::none, false, 3);
  add(key::next_level, "", D::stress, true);
  add(key::n_initiation, "N_i", D::none, true, 4);
  add(key::gauge_first, "", D::none, true);
  add(key::n_coalescence, "N_c", D::none, false, 4, true);
  add(key::life_share_left, "", D::elongation, false, 3, true);
  return out;
}

namespace {

std::vector<Step> how(const std::string& key, const TestRecord&, const State& s, const Values& v) {
  std::vector<Step> steps;
  const double value = get(v, key);
  const ledger::AddStep add{steps, value};
  if (s.line) {
    const fatigue::SnLine& l = *s.line;
    const std::string points = std::to_string(l.failures) + " failures" +
                               (l.runouts > 0 ? ", " + std::to_string(l.runouts) + " run-outs" : "");
    const std::string by = l.likelihood ? "maximum likelihood, run-outs as lower bounds"
                                        : "least squares of log N on log S, failures only (ASTM E739)";
    const std::string line =
        "m = " + significant(l.slope, 4) + ", log C = " + significant(l.log_c, 6) + ", s = " + significant(l.sd, 3);
    if (key == key::sn_slope) add(l.slope_fixed ? "m fixed" : "log N = log C − m·log S", points, D::none, by);
    if (key == key::sn_logc || key == key::sn_sd)
      add(key == key::sn_sd ? "s of log N about the line" : "log N = log C − m·log S", points, D::none, by);
    if (key == key::strength_2e6_mean) add("log S = (log C − log 2·10⁶)/m", line, D::stress);
    if (key == key::strength_2e6_char) {
      const size_t n = l.likelihood ? l.failures + l.runouts : l.failures;
      add("log S = (log C − k·s − log 2·10⁶)/m",
          line + ", k = " + significant(fatigue::characteristic_factor(l, value), 4) + " for n = " + std::to_string(n) +
              (l.slope_fixed ? "" : ", the line's own error there in it"),
          D::stress, "95 % survival at 75 % two-sided confidence");
    }
    if (key == key::strength_2e6_977) add("log S = (log C − 2·s − log 2·10⁶)/m", line, D::stress);
    if (key == key::detail_supported)
      add("largest usual step below Δσ_C", si(get(v, key::strength_2e6_char), D::stress), D::stress,
          "an observation on these pieces, not a rating");
  }
  if (s.stairs) {
    const fatigue::Staircase& t = *s.stairs;
    const std::string with = "S₀ = " + si(t.lowest, D::stress, 4) + ", d = " + si(t.step, D::stress, 3) +
                             ", N = " + std::to_string(t.n) + ", A = " + std::to_string(t.a) +
                             ", B = " + std::to_string(t.b);
    if (key == key::staircase_mean)
      add(t.survivals ? "S₀ + d·(A/N + ½)" : "S₀ + d·(A/N − ½)", with, D::stress,
          t.survivals ? "Dixon and Mood 1948, run-outs counted" : "Dixon and Mood 1948, failures counted");
    if (key == key::staircase_sd)
      add("1.62·d·((N·B − A²)/N² + 0.029)", with, D::stress, "holds where (N·B − A²)/N² is 0.3 or more");
    if (key == key::staircase_ratio) add("(N·B − A²)/N²", with, D::none);
  }
  if (key == key::staircase_ml_mean || key == key::staircase_ml_sd)
    add("P(failure) = Φ((S − µ)/s)", "all pieces of the staircase", D::stress, "probit, maximum likelihood");
  if (key == key::next_level)
    add("last level ± d",
        s.all.empty()         ? ""
        : s.all.back().runout ? "it ran out: one step up"
                              : "it failed: one step down",
        D::stress);
  if (key == key::n_initiation)
    add("two slopes through the running median", "gauge " + std::to_string(s.gauges.first) + " turns first", D::none,
        "least squares, continuous");
  if (key == key::n_coalescence) add("second turn of gauge " + std::to_string(s.gauges.first), "", D::none);
  if (key == key::life_share_left) add("1 − N_i/N", "", D::elongation);
  return steps;
}

void add_inputs(const TestRecord& record, const State& s, std::vector<UncertainInput>& inputs) {
  using Shape = UncertainInput::Shape;
  class_input(record, "equipment.load_cell.class", "stress", "stress range", inputs);
  if (s.staircase && s.stairs) {
    inputs.push_back({"mean", "few pieces about the limit", s.stairs->mean_error, Shape::normal,
                      std::max(1.0, double(s.stairs->n) - 1)});
    inputs.push_back({"scatter", "scatter out of few pieces", s.stairs->sd_error, Shape::normal});
  }
  if (s.staircase && s.probit) {
    const double dof = s.probit->dof;
    inputs.push_back({"ml_mean", "likelihood of the limit", s.probit->mean_error, Shape::normal, dof});
    inputs.push_back({"ml_sd", "likelihood of its scatter", s.probit->sd_error, Shape::normal, dof});
  }
  if (s.gauges.initiation)
    inputs.push_back(
        {"turn", "place of the turn, and the readings beside it", s.gauges.initiation->error, Shape::normal});
  if (s.gauges.coalescence)
    inputs.push_back(
        {"second", "place of the second turn, and the readings beside it", s.gauges.coalescence->error, Shape::normal});
  if (!s.line) return;
  const fatigue::SnLine& l = *s.line;
  const size_t parameters = l.slope_fixed ? 1 : 2;
  const double points = double(l.failures + l.runouts);
  inputs.push_back({"level", "scatter about the line", l.level_error, Shape::normal, points - double(parameters)});
  if (l.slope_error > 0) inputs.push_back({"slope", "slope of the line", l.slope_error, Shape::normal, points - 2});
  inputs.push_back({"scatter", "scatter out of few points", l.sd_error, Shape::normal});
}

void words(Evaluation& e, const TestRecord& record, const State& s, const Values&) {
  if (s.gauges.initiation)
    add_text(e, specs(record), key::gauge_first,
             "gauge " + std::to_string(s.gauges.first) + " of " + std::to_string(s.gauges.count),
             {{"smallest turn over all gauges", "", s.gauges.initiation->cycles, D::none, ""}});
}

}  // namespace

}  // namespace fortitor::sn

namespace fortitor::methods {

const Method& fatigue_constant() {
  static const Method method = [] {
    Parts<sn::State> parts;
    parts.describe = sn::describe;
    parts.results = sn::specs;
    parts.look = sn::look;
    parts.compute = sn::compute;
    parts.how = sn::how;
    parts.inputs = sn::add_inputs;
    parts.words = sn::words;
    parts.findings = sn::findings;
    parts.figures = sn::figures;
    parts.plan = sn::plan;
    // A count, and steps of a ladder: nothing about them is measured.
    parts.no_budget = {sn::key::staircase_ratio, sn::key::next_level, sn::key::detail_supported};
    return method_of("fatigue-constant", "ISO 12107, ASTM E739, EN 1993-1-9", parts);
  }();
  return method;
}

}  // namespace fortitor::methods
