// From the runs to cycles: stiffness, what did not come back, loops, holds, where the destruction leaves its line.
#include <algorithm>
#include <cmath>
#include <functional>

#include "core/curve/fit.h"
#include "core/curve/shape.h"
#include "core/curve/signal.h"
#include "core/methods/proof_load/model.h"
#include "core/statistics/sample.h"

namespace fortitor::proof {
namespace {

constexpr double kStraightFrom = 0.4, kStraightTo = 0.9;  // of the top: the stretch that the stiffness is read over
constexpr double kUp = 0.95;                              // of the proof load: a cycle went up
constexpr double kBeyondProof = 1.1;                      // of the proof load: a destruction, no cycle

constexpr double kUnloadedTo = 1.5, kUnloadedShare = 0.1;  // times the preload; of the largest force
constexpr double kWhole = 0.5;                             // of a load: a piece in two carries less

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
  if (c.empty()) return c;
  c.peak = size_t(std::max_element(c.force.begin(), c.force.end()) - c.force.begin());
  c.noise = noise_of_bent(c.force, 0, c.size());
  c.travel_noise = noise_of_bent(c.travel, 0, c.size());
  // A largest reading stands above its flat top by what the largest of so many noisy ones does, and anywhere on it.
  const Stretch top = flat_top(c.force, c.peak, 3 * c.noise, c.size());
  c.lift = c.noise * statistics::lift_of_largest(double(top.last - top.first + 1));
  c.top_half = c.noise > 0 ? 0.5 * std::abs(c.travel[top.last] - c.travel[top.first]) : 0;
  return c;
}

// Standard error of ∮F dx by trapezia, from the noise of both, J.
double loop_error_of(const Curve& c) {
  double by_travel = 0, by_force = 0;
  for (size_t i = 1; i + 1 < c.size(); ++i) {
    by_travel += std::pow(0.5 * (c.force[i + 1] - c.force[i - 1]), 2);
    by_force += std::pow(0.5 * (c.travel[i + 1] - c.travel[i - 1]), 2);
  }
  return std::hypot(c.travel_noise * std::sqrt(by_travel), c.noise * std::sqrt(by_force)) / 1e3;
}

// A part of the run; pulled the other way it is turned.
Curve curve_of(const Samples& samples, bool& turned) {
  Signals s = clean(samples, samples.find("displacement") != nullptr ? "displacement" : "crosshead");
  if (s.crosshead.size() != s.force.size() || s.force.empty()) return {};
  const auto [low, high] = std::minmax_element(s.force.begin(), s.force.end());
  if (-*low > *high) {
    turned = true;
    for (double& f : s.force) f = -f;
    const size_t peak = size_t(std::max_element(s.force.begin(), s.force.end()) - s.force.begin());
    if (s.crosshead[peak] < s.crosshead.front())
      for (double& x : s.crosshead) x = -x;
  }
  return curve_of(s.force, s.crosshead, 0, s.force.size());
}

constexpr double kOfNoise = 4;  // deviations of the noise that one reading may be off by

double noise_of_rise(const Curve& c) {
  return noise_of_bent(c.force, 0, c.peak);
}

// The end of the hold by its shape: the corner of the course from the largest force to the middle of unloading, which
// is the point farthest above the line between both. Without a hold the course is that line, and its corner the largest
// force.
double held_of(const Curve& c) {
  constexpr double kUnloading = 0.6;  // of the largest force: well on the way down
  constexpr double kCorner = 0.02;    // of it: less is noise on the line, or a hold that lost nothing
  const double top = c.top();
  size_t low = c.peak;
  while (low + 1 < c.size() && c.force[low] > kUnloading * top) ++low;
  if (c.force[low] > kUnloading * top) return NAN;  // it was never unloaded
  size_t corner = c.peak;
  double most = 0;
  for (size_t i = c.peak + 1; i < low; ++i) {
    const double line = top + (c.force[low] - top) * double(i - c.peak) / double(low - c.peak);
    if (c.force[i] - line > most) most = c.force[i] - line, corner = i;
  }
  return most > std::max(kCorner * top, 2 * kOfNoise * noise_of_rise(c)) ? c.force[corner] : top;
}

// What the load reads when nothing is on the piece any more: what is left after a break, two readings or more behind it
// (the halves hang, they carry nothing). NaN without one.
double rest_after_break(const Curve& c) {
  constexpr double kLittle = 0.25;  // of the largest force: more is no rest
  const auto at = broke_at(c);
  if (!at || *at + 2 >= c.size() || c.force.back() >= kLittle * c.top()) return NAN;
  return c.force.back();
}

}  // namespace

std::optional<size_t> broke_at(const Curve& c) {
  constexpr double kFall = 0.4;             // of the largest force (docs/methods/proof-load.md)
  constexpr double kStart = 0.1;            // of it: from here on the travel is watched
  constexpr double kSpring = 0.25;          // of what a spring gives back over that fall
  constexpr double kFrom = 0.1, kTo = 0.4;  // of the largest force: where the piece is a spring, loading
  constexpr double kSteep = 0.02;           // of the largest force from one reading to the next
  if (c.size() < 4) return std::nullopt;
  const double top = c.top(), zero = std::min(c.force.front(), 0.0);
  size_t down = c.peak, held = c.peak;
  while (down < c.size() && c.force[down] > zero + (1 - kFall) * (top - zero)) {
    if (c.force[down] >= zero + (1 - kStart) * (top - zero)) held = down;
    ++down;
  }
  if (down >= c.size()) return std::nullopt;
  // A machine that unloads goes back by what the spring gives; a piece that breaks does not, however fast it is read.
  const double from = crossing(c, kFrom * top, 0, c.peak + 1, true), to = crossing(c, kTo * top, 0, c.peak + 1, true);
  const double per_load = to > from ? (to - from) / ((kTo - kFrom) * top)
                                    : std::abs(c.travel[c.peak] - c.travel.front()) / std::max(top, 1e-9);
  if (c.travel[held] - c.travel[down] > kSpring * per_load * (c.force[held] - c.force[down])) return std::nullopt;
  size_t last = down;
  while (last > c.peak && c.force[last - 1] - c.force[last] > kSteep * top) --last;
  return last;
}

namespace {

// Whether the force was gone twenty times as fast as it came, whatever the travel says: a fixture that springs back
// with the halves takes the travel along.
bool fell_at_once(const Curve& c) {
  constexpr double kTimes = 20, kFrom = 0.6, kTo = 0.9;  // of the largest force
  const double top = c.top();
  size_t rise_from = 0, rise_to = 0, fall_from = c.peak, fall_to = c.peak;
  while (rise_from < c.peak && c.force[rise_from] < kFrom * top) ++rise_from;
  for (rise_to = rise_from; rise_to < c.peak && c.force[rise_to] < kTo * top;) ++rise_to;
  for (; fall_to < c.size() && c.force[fall_to] > kFrom * top; ++fall_to)
    if (c.force[fall_to] >= kTo * top) fall_from = fall_to;
  return fall_to < c.size() && kTimes * double(fall_to - fall_from) <= double(rise_to - rise_from);
}

}  // namespace

const Curve* State::strongest() const {
  if (broken_cycle) return &cycles[*broken_cycle].curve;
  const Curve* most = nullptr;
  for (const Cycle& c : cycles)
    if (most == nullptr || c.curve.top() > most->top()) most = &c.curve;
  return destruction && (most == nullptr || destruction->top() > most->top()) ? &*destruction : most;
}

double State::largest() const {
  const Curve* most = strongest();
  return most != nullptr ? std::max(0.0, most->top()) : 0;
}

Cycle cycle_of(Curve curve, double preload) {
  Cycle c;
  c.curve = std::move(curve);
  const Curve& k = c.curve;
  const double top = k.top();
  std::vector<double> x, f;
  for (size_t i = 0; i <= k.peak && i < k.size(); ++i)
    if (k.force[i] >= kStraightFrom * top && k.force[i] <= kStraightTo * top)
      x.push_back(k.travel[i]), f.push_back(k.force[i]);
  if (const auto line = fit_line(x, f); line && line->slope > 0) {
    c.stiffness = line->slope;
    c.stiffness_error = line->slope_error;
    c.noise = line->residual_sd / line->slope;
  }
  if (k.jumped) {  // a slope, a loop and a set over a jump are those of the jump
    c.stiffness = NAN;
    c.stiffness_error = c.noise = 0;
  }
  const double level = preload > 0 ? preload : kReferenceShare * top;
  c.reference = crossing(k, level, 0, k.peak + 1, true);
  c.broke = broke_at(k).has_value();
  if (c.broke || k.size() < 4) return c;  // what a break leaves is no loop, and its force was not held
  c.held = held_of(k);
  c.unloaded = k.force.back() <= std::max(kUnloadedTo * level, k.force.front() + kUnloadedShare * top);
  if (!c.unloaded || k.jumped) return c;
  c.set = crossing(k, level, k.peak, k.size(), false) - c.reference;
  if (k.peak + 1 < k.size()) {
    c.loop = work_under(k.travel, k.force, 0, k.size()) / 1e3;
    c.loop_error = loop_error_of(k);
  }
  return c;
}

void split(const std::vector<double>& force, const std::vector<double>& travel, double proof, double preload,
           std::vector<Curve>& cycles, std::optional<Curve>& destruction) {
  const size_t n = std::min(force.size(), travel.size());
  size_t from = 0;
  bool up = false;
  for (size_t i = 0; i < n; ++i) {
    if (force[i] >= kUp * proof) up = true;
    if (!up || force[i] > preload) continue;
    Curve c = curve_of(force, travel, from, i + 1);
    // A break also brings the force down: beyond the proof load, or at once.
    if (c.top() > kBeyondProof * proof || broke_at(c)) {
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

namespace {

constexpr double kOffset = 0.002, kOffsetForce = 5;  // of the largest force, N: below both an offset is of no account
constexpr double kAlike = 0.01;                      // of the largest force: parts that begin at one reading
constexpr double kPreloaded = 0.1;                   // what a reference preload may be off, of itself

bool beyond(double offset, double top, double noise) {
  return std::abs(offset) > std::max({kOffset * top, kOffsetForce, kOfNoise * noise});
}

// Whether a rest is that of the zero: the part began at it, or at the reference preload above it.
bool is_zero(double rest, double first, double preload, double top, double noise) {
  return std::isfinite(rest) && beyond(rest, top, noise) &&
         (std::abs(first - rest) <= kAlike * top ||
          (preload > 0 && std::abs(first - rest - preload) <= kPreloaded * preload));
}

// Takes the rest off, or says that it is kept.
bool take_off(ForceZero& zero, double rest, const TestRecord& record) {
  zero.value = rest;
  zero.quiet = 1;
  zero.after = zero.beyond = true;
  zero.off = record.fields.text("settings.zero") != "keep";
  return zero.off;
}

// Where a run begins loaded, what is left after its break is the zero that was never read.
void zero_run(const TestRecord& record, Loading& l, State& s) {
  if (l.empty() || s.facts.zero.quiet > 0 || l.s.crosshead.size() != l.s.force.size()) return;
  const Curve c = curve_of(l.s.force, l.s.crosshead, 0, l.s.force.size());
  const double rest = rest_after_break(c);
  if (c.empty() || !is_zero(rest, c.force.front(), s.preload, c.top(), noise_of_rise(c)) ||
      !take_off(s.facts.zero, rest, record))
    return;
  for (double& f : l.s.force) f -= rest;
}

// The zero of a run in parts. They begin at nothing or at their reference preload; beginning at something else, all
// alike, they were never zeroed, and the rest after the break says by how much. Without one it is said.
void zero_parts(const TestRecord& record, std::vector<Curve>& cycles, State& s) {
  std::vector<Curve*> parts;
  for (Curve& c : cycles)
    if (!c.empty()) parts.push_back(&c);
  if (s.destruction && !s.destruction->empty()) parts.push_back(&*s.destruction);
  if (parts.empty()) return;
  double top = 0, low = HUGE_VAL, high = -HUGE_VAL, rest = NAN, noise = 0;
  for (const Curve* c : parts) {
    top = std::max(top, c->top());
    noise = std::max(noise, noise_of_rise(*c));
    low = std::min(low, c->force.front());
    high = std::max(high, c->force.front());
    if (const double left = rest_after_break(*c); std::isfinite(left)) rest = left;
  }
  const double first = parts.front()->force.front();
  s.facts.zero.first = first;
  const bool alike = high - low <= kAlike * top + 2 * kOfNoise * noise;
  if (alike && is_zero(rest, first, s.preload, top, noise)) {
    if (take_off(s.facts.zero, rest, record))
      for (Curve* c : parts)
        for (double& f : c->force) f -= rest;
    return;
  }
  // Only a preload that was entered says that the parts begin at it.
  const auto preload = record.fields.number("specimen.reference_preload");
  const bool at_preload = preload && std::abs(first - *preload) < kPreloaded * *preload;
  const bool sound = !(std::isfinite(rest) && beyond(rest, top, noise)) && (at_preload || !beyond(first, top, noise));
  s.facts.zero.quiet = sound ? 1 : 0;  // 0 is said
}

// How far the noise of the departure (mm) moves the force at which it is met: by how fast it grows with the force, over
// a stretch on both sides wide enough to see that, and the last of many noisy readings below the line is found.
double departure_error(const Curve& d, size_t at, double force, double departure, double noise,
                       const std::function<double(size_t)>& beyond) {
  constexpr double kAway = 8;  // of the noise
  if (!(noise > 0)) return 0;
  size_t a = at, b = at;
  while (a > 0 && departure - beyond(a) < kAway * noise && d.force[a] > 0.5 * force) --a;
  while (b < d.peak && beyond(b) - departure < kAway * noise) ++b;
  const double grows = beyond(b) - beyond(a), way = d.force[b] - d.force[a];
  // Twice: the line was put through one such reading, at the reference preload.
  return grows > 0 && way > 0 ? std::sqrt(2.0) * noise * way / grows * statistics::lift_of_largest(double(b - a)) : 0;
}

}  // namespace

State look(const TestRecord& record) {
  State s;
  const Fields& f = record.fields;
  s.rated = f.number("specimen.rated").value_or(0);
  s.proof = f.number("specimen.proof").value_or(0);
  s.fixture = f.number("specimen.fixture_limit").value_or(0);
  s.preload = f.number("specimen.reference_preload").value_or(kReferenceShare * s.proof);
  s.grades = words_of(f.text("specimen.function"));
  std::vector<Curve> cycles;
  const auto look_at = [&](const Samples& part) {
    bool jumped = false;
    for (ChannelFault& fault : channel_faults(part)) {
      jumped = jumped || fault.kind == ChannelFault::Kind::jumped;
      s.facts.faults.push_back(std::move(fault));
    }
    return jumped;
  };
  for (size_t i = 0;; ++i) {
    const SamplesPtr samples = record.run.samples("cycles", i);
    if (!samples) break;
    cycles.push_back(curve_of(*samples, s.facts.sign_flipped));
    cycles.back().jumped = look_at(*samples);
  }
  if (const SamplesPtr samples = record.run.samples("destruction"))
    s.destruction = curve_of(*samples, s.facts.sign_flipped), look_at(*samples);
  if (cycles.empty() && !s.destruction) {
    Loading l = loading_of(record, {"displacement", "crosshead"});
    s.continuous = true;
    s.facts = facts_of(l, 0);
    zero_run(record, l, s);
    if (!l.empty() && l.s.crosshead.size() == l.s.force.size() && s.proof > 0)
      split(l.s.force, l.s.crosshead, s.proof, s.preload, cycles, s.destruction);
  }
  if (!s.continuous) zero_parts(record, cycles, s);
  for (size_t i = 0; i < cycles.size(); ++i) {
    if (cycles[i].size() <= 3) continue;
    s.cycles.push_back(cycle_of(std::move(cycles[i]), s.preload));
    Cycle& c = s.cycles.back();
    if (!c.broke) continue;
    // What carried its load again later was whole: the travel was lost, not the piece.
    double later = s.destruction ? s.destruction->top() : 0;
    for (size_t k = i + 1; k < cycles.size(); ++k) later = std::max(later, cycles[k].top());
    if (later > kWhole * c.curve.top()) {
      c.broke = false;
      c.travel_lost = true;
      c.stiffness = c.set = c.loop = NAN;
      continue;
    }
    s.broken_cycle = s.cycles.size() - 1;
    s.destruction.reset();  // whatever was recorded after it, this piece was in two
    break;
  }
  if (s.destruction && s.destruction->size() < 4) s.destruction.reset();
  if (!s.any()) return s;
  s.facts.peak_force = s.largest();
  // It broke in a cycle or in the destruction, and nothing was said of a stop. Stopped and unloaded it did not.
  const Curve* last = s.last();
  const bool fell = s.destruction && (broke_at(*last) || fell_at_once(*last));
  s.censored = !s.broken_cycle && (f.flag("run.censored") || !s.destruction || !fell);
  if (!s.destruction || s.cycles.empty() || !(s.cycles.back().stiffness > 0)) return s;
  // Where the destruction leaves the line of the last cycle, carried on from its own reference point.
  const Curve& d = *s.destruction;
  const double level = s.preload > 0 ? s.preload : kReferenceShare * s.cycles.back().curve.top();
  const double start = crossing(d, level, 0, d.peak + 1, true), k = s.cycles.back().stiffness;
  const double share = 1 + f.number("settings.departure").value_or(kDeparture);
  if (!std::isfinite(start)) return s;
  // Where somebody sees it: the first reading of the destruction that reaches that force.
  if (const auto picked = f.number("settings.elastic_limit"); picked && *picked > level && *picked <= d.force[d.peak]) {
    s.elastic_at = crossing(d, *picked, 0, d.peak + 1, true);
    s.elastic_limit = *picked;
    s.elastic_picked = true;
    return s;
  }
  auto beyond = [&](size_t i) { return (d.travel[i] - start) - share * (d.force[i] - level) / k; };
  size_t i = d.peak;
  while (i > 0 && (d.force[i] <= level || beyond(i) > 0)) --i;
  if (i < d.peak && d.force[i] > level) {
    const double a = beyond(i), b = beyond(i + 1), t = b > a ? -a / (b - a) : 0;
    s.elastic_limit = d.force[i] + t * (d.force[i + 1] - d.force[i]);
    s.elastic_at = d.travel[i] + t * (d.travel[i + 1] - d.travel[i]);
    s.elastic_error =
        departure_error(d, i, s.elastic_limit, beyond(i), std::hypot(d.travel_noise, share * d.noise / k), beyond);
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
