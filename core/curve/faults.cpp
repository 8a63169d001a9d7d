#include "core/curve/faults.h"

#include <algorithm>
#include <cmath>
#include <optional>

#include "core/curve/signal.h"

namespace fortitor {
namespace {

constexpr size_t kNear = 10;  // samples on either side that a jump is held against

// The loaded part of a run.
struct Part {
  const std::vector<double>& time;
  const std::vector<double>& force;
  size_t from = 0, to = 0, peak = 0;
  double top = 0;
};

std::optional<Part> loaded(const std::vector<double>& time, const std::vector<double>& force) {
  Part p{time, force};
  for (size_t i = 0; i < force.size(); ++i)
    if (std::abs(force[i]) > p.top) p.top = std::abs(force[i]), p.peak = i;
  if (!(p.top > 0) || time.size() != force.size()) return std::nullopt;
  while (p.from < force.size() && !(std::abs(force[p.from]) >= 0.05 * p.top)) ++p.from;
  p.to = force.size();
  while (p.to > p.from && !(std::abs(force[p.to - 1]) >= 0.05 * p.top)) --p.to;
  return p.to - p.from >= 20 ? std::optional(p) : std::nullopt;
}

// How fast a channel goes between two samples, against the slower of the stretches before and behind them: a run has slow
// parts and fast ones.
double pace(const std::vector<double>& v, const Part& p, size_t first, size_t last) {
  constexpr size_t kLeast = 5;
  const double here = std::abs(v[last] - v[first]) / double(last - first);
  const size_t before = std::min(first, last - first), after = std::min(p.to - 1 - last, last - first);
  double beside = HUGE_VAL;
  if (before >= kLeast) beside = std::min(beside, std::abs(v[first] - v[first - before]) / double(before));
  if (after >= kLeast) beside = std::min(beside, std::abs(v[last + after] - v[last]) / double(after));
  return beside > 0 && std::isfinite(beside) ? here / beside : 0;
}

// Whether a channel comes in steps of `count`: then it may stand on one for long.
bool in_counts(const std::vector<double>& v, const Part& p, double count) {
  size_t whole = 0, there = 0;
  for (size_t i = p.from; i < p.to; ++i) there += std::isfinite(v[i]), whole += std::abs(v[i] / count - std::round(v[i] / count)) < 1e-3;
  return whole > there / 2;
}

std::optional<ChannelFault> frozen(const Channel& c, Part p, const Samples& samples) {
  const std::vector<double>& v = c.values;
  while (p.to > p.from && !std::isfinite(v[p.to - 1])) --p.to;  // taken off before the end
  size_t runs = 0, longest = 0, at = p.from, n = 0, start = p.from;
  double count = HUGE_VAL;
  for (size_t i = p.from; i < p.to; ++i) {
    if (!std::isfinite(v[i])) return std::nullopt;  // not there for a while
    if (i > p.from && v[i] == v[i - 1]) {
      ++n;
    } else {
      if (i > p.from) count = std::min(count, std::abs(v[i] - v[i - 1]));
      n = 1, start = i, ++runs;
    }
    if (n > longest) longest = n, at = start;
  }
  const size_t last = at + longest - 1;
  if (longest < 8 || runs < 3) return std::nullopt;
  if (double(longest) < 10 * double(p.to - p.from - longest) / double(runs - 1)) return std::nullopt;
  // Travel stands still in every hold and then goes on as before; frozen it has something to catch up with.
  const double usual = std::abs(v[p.to - 1] - v[p.from]) / double(p.to - 1 - p.from);
  const bool travel = c.name == "crosshead" || c.name == "displacement";
  if (travel && !(last + 1 < p.to && std::abs(v[last + 1] - v[last]) > 5 * usual)) return std::nullopt;
  // The machine went on meanwhile. A record of force over time alone is that of a blow, which no hold interrupts.
  bool went = samples.channels.size() == 2 || (travel && std::abs(v[last + 1] - v[last]) > 0.5 * usual * double(longest));  // it did: it caught up
  for (const Channel& d : samples.channels)
    if (&d != &c && d.name != "time" && (d.name == "crosshead" || d.name == "displacement" || d.name == "angle" || travel) && std::isfinite(d.values[at]) &&
        std::isfinite(d.values[last]))
      went = went || pace(d.values, p, at, last) >= 0.5;
  if (!went) return std::nullopt;
  if (last + 1 < p.to ? std::abs(v[last + 1] - v[last]) < 4 * count * (1 - 1e-9) : longest < 20 || in_counts(v, p, count)) return std::nullopt;
  return ChannelFault{ChannelFault::Kind::frozen, c.name, p.time[at], p.time[last], v[at]};
}

std::optional<ChannelFault> jumped(const Channel& c, const Part& p, double usual_gap) {
  const std::vector<double>& v = c.values;
  const bool is_force = &c.values == &p.force;
  double low = HUGE_VAL, high = -HUGE_VAL, count = HUGE_VAL;
  for (size_t i = p.from; i < p.to; ++i) {
    low = std::min(low, v[i]), high = std::max(high, v[i]);  // NaN leaves both as they are
    if (i > p.from && std::abs(v[i] - v[i - 1]) > 0) count = std::min(count, std::abs(v[i] - v[i - 1]));
  }
  double least = 0.005 * (high - low);
  if (std::isfinite(count) && 16 * count > least && in_counts(v, p, count)) least = 16 * count * (1 - 1e-9);  // a few counts are no jump
  for (size_t i = kNear + 1; i + kNear < p.to; ++i) {
    const double step = std::abs(v[i] - v[i - 1]);
    if (!(step > least)) continue;
    const bool falls = is_force && i >= p.from && std::abs(v[i]) < std::abs(v[i - 1]);
    if (falls && i >= p.peak) continue;  // what comes after the largest force is the piece giving in
    if (!is_force && std::abs(p.force[i] - p.force[i - 1]) > 0.003 * p.top) continue;
    bool alone = p.time[i] - p.time[i - 1] < 3 * usual_gap;
    size_t moving = 0;
    for (size_t k = i - kNear; alone && k <= i + kNear; ++k) alone = k == i || step > 10 * std::abs(v[k] - v[k - 1]), moving += v[k] != v[k - 1];
    if (alone && moving > kNear) return ChannelFault{falls ? ChannelFault::Kind::dropped : ChannelFault::Kind::jumped, c.name, p.time[i], p.time[i], v[i] - v[i - 1]};
  }
  return std::nullopt;
}

// Second differences of noise change their sign 73 times in 100, those of a curve that is coarsely sampled seldom.
std::optional<ChannelFault> noisy(const Channel& c, Part p) {
  const std::vector<double>& v = c.values;
  while (p.to > p.from && !std::isfinite(v[p.to - 1])) --p.to;
  if (p.to - p.from < 200) return std::nullopt;
  double low = HUGE_VAL, high = -HUGE_VAL, last = 0, count = HUGE_VAL;
  double squares = 0;
  size_t changes = 0, seen = 0;
  for (size_t i = p.from; i < p.to; ++i) {
    if (!std::isfinite(v[i])) return std::nullopt;
    low = std::min(low, v[i]), high = std::max(high, v[i]);
    if (i < p.from + 2) continue;
    if (v[i] != v[i - 1]) count = std::min(count, std::abs(v[i] - v[i - 1]));
    const double bend = v[i] - 2 * v[i - 1] + v[i - 2];
    squares += bend * bend;
    if (bend != 0 && last != 0) ++seen, changes += (bend > 0) != (last > 0);
    if (bend != 0) last = bend;
  }
  if (seen < 100 || double(changes) < 0.62 * double(seen)) return std::nullopt;
  const double limit = 0.007 * (high - low);
  if (squares / (6 * double(p.to - p.from)) < limit * limit) return std::nullopt;  // the median is dear, and less than this
  const double sd = noise_of_bent(v, p.from, p.to);
  if (sd < 2 * count && in_counts(v, p, count)) return std::nullopt;  // coarse, not rough
  return sd > limit ? std::optional(ChannelFault{ChannelFault::Kind::noisy, c.name, p.time[p.from], p.time[p.to - 1], sd}) : std::nullopt;
}

}  // namespace

std::vector<ChannelFault> channel_faults(const Samples& s) {
  std::vector<ChannelFault> out;
  const Channel *time = s.find("time"), *force = s.find("force") != nullptr ? s.find("force") : s.find("torque");
  if (time == nullptr || force == nullptr) return out;
  const auto part = loaded(time->values, force->values);
  if (!part) return out;
  const double usual_gap = (part->time[part->to - 1] - part->time[part->from]) / double(part->to - 1 - part->from);
  for (const Channel& c : s.channels) {
    if (&c == time || c.values.size() != time->values.size()) continue;
    if (auto f = frozen(c, *part, s)) out.push_back(std::move(*f));
    if (auto f = jumped(c, *part, usual_gap)) out.push_back(std::move(*f));
    if (auto f = noisy(c, *part)) out.push_back(std::move(*f));
  }
  return out;
}

}  // namespace fortitor
