// The pictures of a set of fatigue points: S–N, staircase, Haigh, gauges.
#include <algorithm>
#include <cmath>

#include "core/methods/fatigue_constant/model.h"

namespace fortitor::sn {

using namespace ledger;
using D = Dimension;
using fatigue::MeanStress;

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
