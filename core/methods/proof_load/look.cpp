// From the runs to cycles: stiffness, what did not come back, loops, holds, where the destruction leaves its line.
#include <algorithm>
#include <cmath>

#include "core/curve/fit.h"
#include "core/methods/proof_load/model.h"

namespace fortitor::proof {
namespace {

// Displacement where the force crosses a level on [from, to), by straight line; NaN when it does not.
double crossing(const Curve& c, double level, size_t from, size_t to, bool rising) {
  for (size_t i = std::max<size_t>(from, 1); i < to; ++i) {
    const double a = c.force[i - 1], b = c.force[i];
    if (rising ? a < level && b >= level : a > level && b <= level)
      return c.travel[i - 1] + (c.travel[i] - c.travel[i - 1]) * (a == b ? 0 : (level - a) / (b - a));
  }
  return from < c.size() && c.force[from] == level ? c.travel[from] : NAN;
}

Curve curve_of(const std::vector<double>& force, const std::vector<double>& travel, size_t from, size_t to) {
  Curve c;
  for (size_t i = from; i < to; ++i)
    if (std::isfinite(force[i]) && std::isfinite(travel[i])) c.force.push_back(force[i]), c.travel.push_back(travel[i]);
  if (!c.force.empty()) c.peak = size_t(std::max_element(c.force.begin(), c.force.end()) - c.force.begin());
  return c;
}

Curve curve_of(const Samples& samples) {
  const Signals s = clean(samples, samples.find("displacement") != nullptr ? "displacement" : "crosshead");
  return s.crosshead.size() == s.force.size() ? curve_of(s.force, s.crosshead, 0, s.force.size()) : Curve{};
}

// The last sample of the hold: back from the unloading line to where force stops falling at its rate.
double held_of(const Curve& c) {
  const double top = c.top();
  size_t down = c.peak;
  while (down + 1 < c.size() && c.force[down] > 0.85 * top) ++down;
  if (down + 1 >= c.size()) return NAN;
  size_t low = down;
  while (low + 1 < c.size() && c.force[low] > 0.6 * top) ++low;
  if (low <= down) return top;
  const double rate = (c.force[down] - c.force[low]) / double(low - down);
  size_t i = down;
  while (i > c.peak && c.force[i - 1] - c.force[i] > 0.5 * rate) --i;
  return c.force[i];
}

}  // namespace

double State::largest() const {
  double most = 0;
  for (const Cycle& c : cycles) most = std::max(most, c.curve.top());
  return destruction ? std::max(most, destruction->top()) : most;
}

Cycle cycle_of(Curve curve, double preload) {
  Cycle c;
  c.curve = std::move(curve);
  const Curve& k = c.curve;
  const double top = k.top();
  std::vector<double> x, f;
  for (size_t i = 0; i <= k.peak && i < k.size(); ++i)
    if (k.force[i] >= 0.4 * top && k.force[i] <= 0.9 * top) x.push_back(k.travel[i]), f.push_back(k.force[i]);
  if (const auto line = fit_line(x, f); line && line->slope > 0) {
    c.stiffness = line->slope;
    c.stiffness_error = line->slope_error;
    c.noise = line->residual_sd / line->slope;
  }
  const double level = preload > 0 ? preload : 0.05 * top;
  c.reference = crossing(k, level, 0, k.peak + 1, true);
  c.set = crossing(k, level, k.peak, k.size(), false) - c.reference;
  if (k.size() > 2 && k.peak + 1 < k.size()) c.loop = work_under(k.travel, k.force, 0, k.size()) / 1e3;
  c.held = held_of(k);
  return c;
}

void split(const std::vector<double>& force, const std::vector<double>& travel, double proof, double preload,
           std::vector<Curve>& cycles, std::optional<Curve>& destruction) {
  const size_t n = std::min(force.size(), travel.size());
  size_t from = 0;
  bool up = false;
  for (size_t i = 0; i < n; ++i) {
    if (force[i] >= 0.95 * proof) up = true;
    if (!up || force[i] > preload) continue;
    Curve c = curve_of(force, travel, from, i + 1);
    // A break also brings the force down: but beyond the proof load, and at once.
    if (c.top() > 1.1 * proof) {
      destruction = std::move(c);
      return;
    }
    cycles.push_back(std::move(c));
    from = i;
    up = false;
  }
  Curve rest = curve_of(force, travel, from, n);
  if (rest.top() > 0.5 * proof) destruction = std::move(rest);
}

State look(const TestRecord& record) {
  State s;
  const Fields& f = record.fields;
  s.rated = f.number("specimen.rated").value_or(0);
  s.proof = f.number("specimen.proof").value_or(0);
  s.fixture = f.number("specimen.fixture_limit").value_or(0);
  s.preload = f.number("specimen.reference_preload").value_or(0.05 * s.proof);
  s.grades = words_of(f.text("specimen.function"));
  std::vector<Curve> cycles;
  const auto look_at = [&](const Samples& part) {
    for (ChannelFault& fault : channel_faults(part)) s.facts.faults.push_back(std::move(fault));
  };
  for (size_t i = 0;; ++i) {
    const SamplesPtr samples = record.run.samples("cycles", i);
    if (!samples) break;
    cycles.push_back(curve_of(*samples));
    look_at(*samples);
  }
  if (const SamplesPtr samples = record.run.samples("destruction"))
    s.destruction = curve_of(*samples), look_at(*samples);
  if (cycles.empty() && !s.destruction) {
    const Loading l = loading_of(record, {"displacement", "crosshead"});
    s.continuous = true;
    s.facts = facts_of(l, 0);
    if (!l.empty() && l.s.crosshead.size() == l.s.force.size() && s.proof > 0)
      split(l.s.force, l.s.crosshead, s.proof, s.preload, cycles, s.destruction);
  }
  for (Curve& c : cycles)
    if (c.size() > 3) s.cycles.push_back(cycle_of(std::move(c), s.preload));
  if (s.destruction && s.destruction->size() < 4) s.destruction.reset();
  if (!s.any()) return s;
  s.facts.peak_force = s.largest();
  // It broke when the force fell to less than 60 % of its largest and nothing was said of a stop.
  const Curve* last = s.last();
  const bool fell = s.destruction && last->force.back() < 0.6 * last->top();
  s.censored = f.flag("run.censored") || !s.destruction || !fell;
  if (!s.destruction || s.cycles.empty() || !(s.cycles.back().stiffness > 0)) return s;
  // Where the destruction leaves the line of the last cycle, carried on from its own reference point.
  const Curve& d = *s.destruction;
  const double level = s.preload > 0 ? s.preload : 0.05 * s.cycles.back().curve.top();
  const double start = crossing(d, level, 0, d.peak + 1, true), k = s.cycles.back().stiffness;
  const double share = 1 + f.number("settings.departure").value_or(0.05);
  if (!std::isfinite(start)) return s;
  auto beyond = [&](size_t i) { return (d.travel[i] - start) - share * (d.force[i] - level) / k; };
  size_t i = d.peak;
  while (i > 0 && (d.force[i] <= level || beyond(i) > 0)) --i;
  if (i < d.peak && d.force[i] > level) {
    const double a = beyond(i), b = beyond(i + 1), t = b > a ? -a / (b - a) : 0;
    s.elastic_limit = d.force[i] + t * (d.force[i + 1] - d.force[i]);
    s.elastic_at = d.travel[i] + t * (d.travel[i + 1] - d.travel[i]);
  }
  return s;
}

Snatch snatch_of(double mass, double speed, double distance, double stiffness) {
  Snatch s;
  if (!(mass > 0) || !(speed > 0)) return s;
  const double v = speed / 1e3;
  if (distance > 0) s.mean = mass * v * v / (2 * distance / 1e3);
  if (stiffness > 0)
    s.peak = v * std::sqrt(stiffness * 1e3 * mass);
  else if (std::isfinite(s.mean))
    s.peak = 2 * s.mean;
  return s;
}

}  // namespace fortitor::proof
