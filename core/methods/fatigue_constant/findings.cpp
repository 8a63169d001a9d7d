// What a set of fatigue points is judged by, and its pictures: S–N, staircase, Haigh, gauges.
#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "core/methods/fatigue_constant/model.h"

namespace fortitor::sn {

using namespace ledger;
using D = Dimension;
using fatigue::MeanStress;

namespace {

constexpr double kOtherStep = 0.1;     // of the step entered: another one was run
constexpr double kScatterHolds = 0.3;  // of (N·B − A²)/N²: below it Dixon and Mood's scatter does not hold (1948)
constexpr double kSlopeKnown = 0.35;   // of the slope, with k = 2
constexpr double kSameLife = 1.0001;   // a life that rounds to the reference is not beyond it

std::string cycles_words(double n) {
  return significant(n, 3);
}

}  // namespace

void findings(Evaluation& e, const TestRecord& record, const State& s, const Values& v) {
  const std::vector<fatigue::SnPoint> points = s.counted();
  std::string declared;
  std::set<double> levels, failed_levels, ratios;
  double shortest = HUGE_VAL, longest = 0;
  for (const Point& p : s.all) {
    if (!p.counts) continue;
    if (p.declared_failed) declared += (declared.empty() ? "" : ", ") + std::to_string(p.row + 1);
    levels.insert(std::round(p.range * 1e6) / 1e6);
    if (!p.runout) failed_levels.insert(std::round(p.range * 1e6) / 1e6);
    if (std::isfinite(p.r)) ratios.insert(p.r);
    shortest = std::min(shortest, p.cycles);
    longest = std::max(longest, p.cycles);
  }
  const char* main = s.staircase ? key::staircase_mean : key::strength_2e6_mean;
  if (!declared.empty())
    raise(e, "runout-as-failure", Severity::check,
          "Point " + declared +
              " is marked failed at the cycles at which others ran out, and no origin of a crack is given. It is "
              "taken as a run-out: a test that was stopped says “at least”.",
          {}, {}, main);
  if (ratios.size() > 1 && s.rule == MeanStress::none)
    raise(e, "ratio-mixed", Severity::check,
          "The points have different stress ratios and no rule for the mean stress is chosen: one line through them "
          "mixes two things.",
          {}, {}, main);
  const std::string rule = record.fields.text("settings.mean_stress");
  if ((rule == "goodman" || rule == "gerber") && !(s.rm > 0))
    raise(e, "rm-missing", Severity::check,
          "The chosen rule for the mean stress wants the tensile strength; ranges are as tested.", {}, {}, main);
  std::map<std::string, std::string> unapplied;
  for (const Point& p : s.all)
    if (p.unapplied != nullptr && p.raw > 0)
      unapplied[p.unapplied] += (unapplied[p.unapplied].empty() ? "" : ", ") + std::to_string(p.row + 1);
  for (const auto& [why, which] : unapplied)
    raise(e, "mean-stress-unapplied", Severity::check,
          "The rule for the mean stress cannot be applied to point " + which + ": " + why +
              ". They are left out of the line.",
          {}, {}, main);
  if (s.staircase) {
    const auto asked = record.fields.number("settings.staircase.step");
    if (asked && s.step > 0 && std::abs(*asked / s.step - 1) > kOtherStep)
      raise(e, "staircase-step", Severity::check,
            "The levels were run in steps of " + si(s.step, D::stress, 3) + ", not of the " + si(*asked, D::stress, 3) +
                " entered: the step that was run is used.",
            {{"step", s.step}, {"entered", *asked}}, {}, main);
    if (!s.off_rungs.empty()) {
      std::string which;
      for (size_t row : s.off_rungs) which += (which.empty() ? "" : ", ") + std::to_string(row + 1);
      raise(e, "staircase-level", Severity::check,
            "Point " + which + " lies off the levels of the staircase, which stand " + si(s.step, D::stress, 3) +
                " apart: it is left out of Dixon and Mood's count. Typed wrong, or no piece of this staircase.",
            {}, {}, main);
    }
    if (s.stairs && !s.probit)
      raise(e, "staircase-likelihood", Severity::note,
            "Failures and run-outs mix at one level at most: the likelihood has no maximum, and says nothing about the "
            "scatter. "
            "More pieces, or smaller steps, would show it.",
            {}, {}, key::staircase_ml_sd);
    if (s.stairs && s.stairs->scatter() < kScatterHolds)
      raise(e, "staircase-scatter", Severity::check,
            "(N·B − A²)/N² is " + significant(s.stairs->scatter(), 2) +
                "; below 0.3 the scatter of Dixon and Mood does not hold." +
                (s.probit ? " Maximum likelihood gives " + si(s.probit->mean, D::stress, 4) + ", scatter " +
                                si(s.probit->sd, D::stress, 3) + "."
                          : std::string(" Maximum likelihood finds no scatter either.")),
            {{"ratio", s.stairs->scatter()}}, {}, key::staircase_sd);
    if (!s.stairs && points.size() >= 2)
      raise(e, "staircase-one-sided", Severity::check,
            "All pieces " + std::string(points.front().runout ? "ran out" : "failed") + ": the limit lies " +
                (points.front().runout ? "higher." : "lower."),
            {}, {}, key::next_level);
    return;
  }
  if (points.size() >= 2 && !s.line)
    raise(e, "too-few-levels", Severity::check,
          "A line wants failures at two levels or more; there are " + std::to_string(failed_levels.size()) + ".",
          {{"levels", double(failed_levels.size())}}, {}, main);
  if (!s.line) return;
  const fatigue::SnLine& l = *s.line;
  if (!l.slope_fixed && failed_levels.size() < 3)
    raise(e, "too-few-levels", Severity::check,
          "Failures lie at " + std::to_string(failed_levels.size()) +
              " levels; a fitted slope wants three or more, or fix it.",
          {{"levels", double(failed_levels.size())}}, {}, key::sn_slope);
  if (!l.slope_fixed && 2 * l.slope_error > kSlopeKnown * l.slope)
    raise(e, "slope-scatter", Severity::check,
          "The slope is known to ± " + percent(2 * l.slope_error / l.slope) +
              " only. More levels, further apart, or a fixed slope.",
          {{"error", l.slope_error}}, {}, key::sn_slope);
  if (kReference > longest * kSameLife || kReference < shortest)
    raise(e, "extrapolated", Severity::check,
          "The points reach from " + cycles_words(shortest) + " to " + cycles_words(longest) +
              " cycles: the range at 2·10⁶ is the line carried on, no test lies there." +
              (s.says_at_reference()
                   ? ""
                   : " Within its uncertainty the slope might as well be none: nothing can be said at 2·10⁶, and no "
                     "range is given there. Test at lower ranges, or fix the slope."),
          {{"longest", longest}}, {}, main);
  if (s.category > 0) {
    const fatigue::DetailLine detail{s.category};
    std::string below, level;
    for (const Point& p : s.all) {
      if (!p.counts) continue;
      const double life = detail.life_constant(p.range);
      if (!p.runout && p.cycles < life) below += (below.empty() ? "" : ", ") + std::to_string(p.row + 1);
      if (!std::isfinite(life)) level += (level.empty() ? "" : ", ") + std::to_string(p.row + 1);
    }
    if (!level.empty())
      raise(e, "below-limit", Severity::note,
            "Point " + level + " lies below the constant amplitude limit of category " + plain_number(s.category, 3) +
                ", " + si(detail.knee(), D::stress, 3) +
                ": no failure is expected there, and no factor on life is given (EN 1993-1-9).",
            {{"limit", detail.knee()}}, {}, key::strength_2e6_char);
    if (!below.empty())
      raise(e, "below-detail", Severity::note,
            "Point " + below + " lies below the line of category " + plain_number(s.category, 3) + ".", {}, {},
            key::strength_2e6_char);
  }
  (void)v;
}

namespace {

Trace curve(const std::string& label, int tone, Dash dash, double weight = 2) {
  Trace t;
  t.label = label;
  t.tone = tone;
  t.dash = dash;
  t.weight = weight;
  t.outlier = false;
  return t;
}

void sn_figure(Evaluation& e, const State& s, const Values& v) {
  Figure f;
  f.id = "sn";
  f.title = "stress range over cycles";
  Panel p;
  p.name = "S–N";
  p.x = {"cycles", D::none, Axis::Scale::log};
  p.y = {"stress range", D::stress, Axis::Scale::log};
  Trace failed, out;
  failed.kind = out.kind = Trace::Kind::points;
  failed.label = "failures";
  out.label = "run-outs";
  failed.tone = 5;
  out.tone = 2;
  out.marker = Marker::diamond;
  out.bound_along_x = true;
  double least = HUGE_VAL, most = 0, shortest = HUGE_VAL, longest = 0;
  for (const Point& pt : s.all) {
    if (!(pt.range > 0) || !(pt.cycles > 0)) continue;
    Trace& t = pt.runout ? out : failed;
    t.x.push_back(pt.cycles);
    t.y.push_back(pt.range);
    t.hollow.push_back(!pt.counts);
    if (pt.runout) t.bound.push_back(1);
    least = std::min(least, pt.range);
    most = std::max(most, pt.range);
    shortest = std::min(shortest, pt.cycles);
    longest = std::max(longest, pt.cycles);
  }
  if (failed.x.empty() && out.x.empty()) return;
  const double from = std::min(shortest, kReference) / 2, to = std::max(longest, kReference) * 2;
  auto over = [&](Trace t, const std::function<double(double)>& range) {
    for (int i = 0; i <= 120; ++i) {
      const double n = from * std::pow(to / from, i / 120.0), y = range(n);
      if (y > 0 && std::isfinite(y)) t.x.push_back(n), t.y.push_back(y);
    }
    if (!t.x.empty()) p.traces.push_back(std::move(t));
  };
  if (s.category > 0) {
    const fatigue::DetailLine d{s.category};
    over(curve("category " + plain_number(s.category, 3), 1, Dash::dash_dot),
         [&](double n) { return n <= 5e6 ? d.category * std::cbrt(2e6 / n) : d.knee(); });
  }
  if (s.line) {
    const fatigue::SnLine& l = *s.line;
    over(curve("mean", 5, Dash::solid), [&](double n) { return l.range_at(n); });
    over(curve("95 %", 3, Dash::dashed, 1.4), [&](double n) { return fatigue::characteristic_range(l, n); });
    over(curve("", 6, Dash::dotted, 1.2), [&](double n) { return l.range_at(n, 2); });
    over(curve("", 6, Dash::dotted, 1.2), [&](double n) { return l.range_at(n, -2); });
    for (const char* key : {key::strength_2e6_mean, key::strength_2e6_char}) {
      if (!v.count(key)) continue;
      Mark m;
      m.key = key;
      m.label = key == std::string(key::strength_2e6_mean) ? "2·10⁶" : "";
      m.points = {{kReference, get(v, key)}};
      m.drop_line = key == std::string(key::strength_2e6_mean);
      m.value = get(v, key);
      m.dimension = D::stress;
      p.marks.push_back(m);
    }
  }
  if (!failed.x.empty()) p.traces.push_back(std::move(failed));
  if (!out.x.empty()) p.traces.push_back(std::move(out));
  p.y.from = 0.55 * std::min(least, v.count(key::strength_2e6_char) ? get(v, key::strength_2e6_char) : least);
  p.y.to = 1.5 * most;
  p.x.from = from;
  p.x.to = to;
  f.panels.push_back(std::move(p));
  e.figures.push_back(std::move(f));
}

void stairs_figure(Evaluation& e, const State& s, const Values& v) {
  Figure f;
  f.id = "staircase";
  f.title = "staircase";
  Panel p;
  p.name = "Staircase";
  p.x = {"piece", D::none};
  p.y = {"stress", D::stress};
  p.y.with_zero = false;
  Trace path = curve("", 6, Dash::dotted, 1.2), failed, out;
  path.outlier = true;
  failed.kind = out.kind = Trace::Kind::points;
  failed.marker = Marker::cross;
  failed.label = "failed";
  out.label = "ran out";
  failed.tone = 2;
  for (const Point& pt : s.all) {
    if (!pt.counts) continue;
    const double n = double(pt.row + 1);
    path.x.push_back(n);
    path.y.push_back(pt.raw);
    (pt.runout ? out : failed).x.push_back(n);
    (pt.runout ? out : failed).y.push_back(pt.raw);
  }
  if (path.x.empty()) return;
  const double last = path.x.back();
  p.traces = {path, failed, out};
  if (v.count(key::next_level)) {
    Trace next;
    next.kind = Trace::Kind::points;
    next.label = "next";
    next.x = {last + 1};
    next.y = {get(v, key::next_level)};
    next.hollow = {1};
    next.tone = 5;
    p.traces.push_back(next);
  }
  if (v.count(key::staircase_mean)) {
    Mark m;
    m.kind = Mark::Kind::level;
    m.key = key::staircase_mean;
    m.label = "limit";
    m.points = {{0, get(v, key::staircase_mean)}};
    m.value = get(v, key::staircase_mean);
    m.dimension = D::stress;
    m.tone = Mark::Tone::main;
    p.marks.push_back(m);
  }
  f.panels.push_back(std::move(p));
  e.figures.push_back(std::move(f));
}

// Amplitude over mean: every rule through the strength at 2·10⁶, the points where they were tested.
void haigh_figure(Evaluation& e, const State& s, const Values& v) {
  const double strength = s.staircase ? get(v, key::staircase_mean) : get(v, key::strength_2e6_mean);
  std::vector<const Point*> tested;
  for (const Point& p : s.all)
    if (p.counts && std::isfinite(p.r) && p.r < 1) tested.push_back(&p);
  if (tested.empty() || !std::isfinite(strength)) return;
  const double r = s.rule == MeanStress::none ? tested.front()->r : s.wanted_r;
  Figure f;
  f.id = "haigh";
  f.title = "amplitude over mean stress";
  Panel p;
  p.name = "Haigh";
  p.x = {"mean stress", D::stress};
  p.y = {"amplitude", D::stress};
  Trace points;
  points.kind = Trace::Kind::points;
  double most = 0;
  for (const Point* t : tested) {
    const double a = t->raw / 2;
    points.x.push_back(a * (1 + t->r) / (1 - t->r));
    points.y.push_back(a);
    points.hollow.push_back(t->runout);
    most = std::max(most, points.x.back());
  }
  // What the strength would be at other means, by each rule.
  const double a0 = strength / 2, m0 = a0 * (1 + r) / (1 - r);
  struct Rule {
    MeanStress rule;
    const char* name;
    int tone;
    Dash dash;
  };
  for (const Rule& k :
       {Rule{MeanStress::goodman, "Goodman", 5, Dash::solid}, Rule{MeanStress::gerber, "Gerber", 3, Dash::dashed},
        Rule{MeanStress::smith_watson_topper, "Smith–Watson–Topper", 2, Dash::dash_dot},
        Rule{MeanStress::walker, "Walker", 1, Dash::dotted}}) {
    const bool wants_rm = k.rule == MeanStress::goodman || k.rule == MeanStress::gerber;
    if (wants_rm && !(s.rm > 0)) continue;
    if (k.rule == MeanStress::walker && s.gamma == 0.5) continue;  // the same as the one before
    const double reversed = fatigue::reversed_amplitude(k.rule, a0, m0, s.rm, s.gamma);
    Trace t = curve(k.name, k.tone, k.dash, k.rule == s.rule ? 2.4 : 1.4);
    t.outlier = true;
    for (int i = 0; i <= 60; ++i) {
      const double ratio = -1 + 1.9 * i / 60.0,
                   range = fatigue::equivalent_range(k.rule, 2 * reversed, -1, ratio, s.rm, s.gamma);
      const double a = range / 2, mean = a * (1 + ratio) / (1 - ratio);
      if (a > 0 && mean < std::max(2 * most, s.rm > 0 ? s.rm : 4 * a0)) t.x.push_back(mean), t.y.push_back(a);
    }
    p.traces.push_back(std::move(t));
  }
  p.traces.push_back(std::move(points));
  f.panels.push_back(std::move(p));
  e.figures.push_back(std::move(f));
}

void gauge_figure(Evaluation& e, const State& s) {
  const Gauges& g = s.gauges;
  if (g.count == 0) return;
  Figure f;
  f.id = "gauges";
  f.title = "gauges along the toe";
  Panel p;
  p.name = "Gauges";
  p.x = {"cycles", D::none};
  p.y = {"strain at peak load", D::microstrain};
  p.y.with_zero = false;
  for (size_t i = 0; i < g.count; ++i) {
    Trace t = curve(std::to_string(i + 1), int(i % 7), i + 1 == g.first ? Dash::solid : Dash::dashed,
                    i + 1 == g.first ? 2.4 : 1.4);
    t.outlier = true;
    t.x = g.cycles;
    t.y = g.strain[i];
    p.traces.push_back(std::move(t));
    if (!g.turns[i]) continue;
    size_t near = 0;
    for (size_t k = 0; k < g.cycles.size(); ++k)
      if (std::abs(g.cycles[k] - g.turns[i]->cycles) < std::abs(g.cycles[near] - g.turns[i]->cycles)) near = k;
    Mark m;
    m.key = key::n_initiation;
    m.label = i + 1 == g.first ? "crack begins" : "";
    m.points = {{g.turns[i]->cycles, g.strain[i][near]}};
    m.on_demand = i + 1 != g.first;
    p.marks.push_back(m);
  }
  if (g.coalescence) {
    Mark m;
    m.kind = Mark::Kind::level;
    m.along_x = true;
    m.key = key::n_coalescence;
    m.label = "cracks grow together";
    m.points = {{g.coalescence->cycles, 0}};
    m.tone = Mark::Tone::quiet;
    p.marks.push_back(m);
  }
  f.panels.push_back(std::move(p));
  e.figures.push_back(std::move(f));
}

}  // namespace

void figures(Evaluation& e, const TestRecord&, const State& s, const Values& v) {
  s.staircase ? stairs_figure(e, s, v) : sn_figure(e, s, v);
  haigh_figure(e, s, v);
  gauge_figure(e, s);
  if (s.category > 0 && !s.staircase) {
    RowValue factor{kTable, "life_factor", "on the line", D::none, {}};
    const fatigue::DetailLine d{s.category};
    for (const Point& p : s.all) {
      const double life = d.life_constant(p.range);
      factor.values.push_back(p.counts && std::isfinite(life) ? p.cycles / life : NAN);
    }
    e.row_values.push_back(std::move(factor));
  }
}

}  // namespace fortitor::sn
