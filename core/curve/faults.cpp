#include "core/curve/faults.h"

#include <algorithm>
#include <cmath>
#include <optional>

#include "core/curve/signal.h"

namespace fortitor {
namespace {

constexpr size_t kNear = 10;          // samples on either side that a jump is held against
constexpr double kLoaded = 0.05;      // of the largest force: below it grips settle and pieces fall out
constexpr size_t kFewestLoaded = 20;  // loaded samples that tell anything of a channel
constexpr double kWhole = 1e-3;       // of a step: nearer to a whole number of steps a reading comes in steps
constexpr double kRounding = 1e-9;    // relative: less is how a count was written down

// Frozen: one reading again and again while the machine goes on.
constexpr size_t kStands = 8, kStandsToEnd = 20;   // equal readings; to the very end, where nothing is caught up with
constexpr size_t kLeastRuns = 3;                   // of equal readings: fewer, and the channel never moved at all
constexpr double kLongerThanUsual = 10;            // times the mean length of the others
constexpr double kCatchesUp = 5, kCaughtUp = 0.5;  // times its usual step when it goes on; of what it missed
constexpr double kGoesOn = 0.5;                    // of its pace beside: another channel did not stop
constexpr double kLeavesBy = 4;                    // counts: a smaller leap is the next step of a coarse channel

// Jumped: one step that stands alone.
constexpr double kJump = 0.005,
                 kForceStep = 0.003;  // of the channel's range; of the largest force, where force steps too
constexpr double kJumpCounts = 16;    // a few counts are no jump
constexpr double kBeside = 10, kForceBeside = 1.5;  // times every step near it
constexpr double kGap = 3;                          // times the usual: across a gap of time anything may happen

// Noisy: sign changes of second differences (independent noise 73 in 100, a coarsely sampled curve seldom) and size.
constexpr size_t kNoisySamples = 200, kNoisyBends = 100;
constexpr double kTurns = 0.62;   // share of changes of sign between the two
constexpr double kRough = 0.007;  // of the range
constexpr double kCoarse = 2;     // counts: less is how coarsely it is read, not how rough it is

// A burst of noise: blocks, each rough beside the others.
constexpr size_t kBlock = 16, kRoughBlocks = 2, kFewestBlocks = 6;
constexpr double kBurst = 0.015, kBlockTurns = 0.5;  // of the range; share of changes of sign in a block
constexpr double kRougher = 8;                       // times the usual block

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
  while (p.from < force.size() && !(std::abs(force[p.from]) >= kLoaded * p.top)) ++p.from;
  p.to = force.size();
  while (p.to > p.from && !(std::abs(force[p.to - 1]) >= kLoaded * p.top)) --p.to;
  return p.to - p.from >= kFewestLoaded ? std::optional(p) : std::nullopt;
}

// How fast a channel goes between two samples, against the slower of the stretches before and behind them: a run has
// slow parts and fast ones.
double pace(const std::vector<double>& v, const Part& p, size_t first, size_t last) {
  constexpr size_t kLeast = 5;
  const double here = std::abs(v[last] - v[first]) / double(last - first);
  const size_t before = std::min(first, last - first), after = std::min(p.to - 1 - last, last - first);
  double beside = HUGE_VAL;
  if (before >= kLeast) beside = std::min(beside, std::abs(v[first] - v[first - before]) / double(before));
  if (after >= kLeast) beside = std::min(beside, std::abs(v[last + after] - v[last]) / double(after));
  return beside > 0 && std::isfinite(beside) ? here / beside : 0;
}

// A channel over the loaded part, in one pass.
struct Look {
  const Channel& channel;
  Part part;          // of this channel: it may have been taken off before the end
  bool whole = true;  // no reading is missing in it
  double low = HUGE_VAL, high = -HUGE_VAL;
  double count = HUGE_VAL;               // least step that is none
  size_t runs = 0, longest = 0, at = 0;  // of equal readings
  double squares = 0;                    // of second differences
  size_t bends = 0, changes = 0;         // second differences that are none, changes of their sign
};

Look look_at(const Channel& c, const Part& loaded) {
  Look l{c, loaded};
  const std::vector<double>& v = c.values;
  while (l.part.to > l.part.from && !std::isfinite(v[l.part.to - 1])) --l.part.to;
  double last = 0, step_before = 0;
  size_t n = 0, start = l.part.from;
  for (size_t i = l.part.from; i < l.part.to; ++i) {
    const double y = v[i];
    if (!std::isfinite(y)) l.whole = false;
    l.low = std::min(l.low, y), l.high = std::max(l.high, y);  // NaN leaves both as they are
    if (i == l.part.from) {
      n = 1, l.runs = 1;
    } else {
      const double step = y - v[i - 1];
      if (step == 0) {
        ++n;
      } else {
        if (const double size = std::abs(step); size < l.count) l.count = size;
        n = 1, start = i, ++l.runs;
      }
      if (i > l.part.from + 1) {
        const double bend = step - step_before;
        l.squares += bend * bend;
        if (bend != 0) ++l.bends, l.changes += (bend > 0) != (last > 0), last = bend;
      }
      step_before = step;
    }
    if (n > l.longest) l.longest = n, l.at = start;
  }
  return l;
}

// Whether a channel comes in steps: then it may stand on one for long.
bool in_counts(const Look& l) {
  const std::vector<double>& v = l.channel.values;
  size_t whole = 0, there = 0;
  for (size_t i = l.part.from; i < l.part.to; ++i)
    there += std::isfinite(v[i]), whole += std::abs(v[i] / l.count - std::round(v[i] / l.count)) < kWhole;
  return whole > there / 2;
}

std::optional<ChannelFault> frozen(const Look& l, const Samples& samples) {
  const std::vector<double>& v = l.channel.values;
  const Part& p = l.part;
  const size_t last = l.at + l.longest - 1;
  if (!l.whole || l.longest < kStands || l.runs < kLeastRuns) return std::nullopt;
  if (double(l.longest) < kLongerThanUsual * double(p.to - p.from - l.longest) / double(l.runs - 1))
    return std::nullopt;
  // Travel stands still in every hold and then goes on as before; frozen it has something to catch up with.
  const double usual = std::abs(v[p.to - 1] - v[p.from]) / double(p.to - 1 - p.from);
  const std::string& name = l.channel.name;
  const bool travel = name == "crosshead" || name == "displacement", leaves = last + 1 < p.to;
  const double leap = leaves ? std::abs(v[last + 1] - v[last]) : 0;
  if (travel && !(leap > kCatchesUp * usual)) return std::nullopt;
  // The machine went on meanwhile. A record of force over time alone is that of a blow, which no hold interrupts.
  bool went =
      samples.channels.size() == 2 || (travel && leap > kCaughtUp * usual * double(l.longest));  // it did: it caught up
  for (const Channel& d : samples.channels)
    if (&d != &l.channel && d.name != "time" && d.values.size() == v.size() &&
        (d.name == "crosshead" || d.name == "displacement" || d.name == "angle" || travel) &&
        std::isfinite(d.values[l.at]) && std::isfinite(d.values[last]))
      went = went || pace(d.values, p, l.at, last) >= kGoesOn;
  if (!went) return std::nullopt;
  if (leaves ? leap < kLeavesBy * l.count * (1 - kRounding) : l.longest < kStandsToEnd || in_counts(l))
    return std::nullopt;
  return ChannelFault{ChannelFault::Kind::frozen, name, p.time[l.at], p.time[last], v[l.at]};
}

// Whether the force steps there too: by more than it does in passing, and more than beside it.
bool force_steps(const Part& loaded, size_t at) {
  const auto step = [&](size_t i) { return std::abs(loaded.force[i] - loaded.force[i - 1]); };
  if (step(at) <= kForceStep * loaded.top) return false;
  double beside = 0;
  for (size_t k = at - kNear; k <= at + kNear; ++k)
    if (k != at) beside = std::max(beside, step(k));
  return step(at) > kForceBeside * beside;
}

std::optional<ChannelFault> jumped(const Look& l, const Part& loaded, double usual_gap) {
  const std::vector<double>& v = l.channel.values;
  const bool is_force = &v == &loaded.force;
  double least = kJump * (l.high - l.low);
  if (std::isfinite(l.count) && kJumpCounts * l.count > least && in_counts(l))
    least = kJumpCounts * l.count * (1 - kRounding);
  for (size_t i = kNear + 1; i + kNear < loaded.to; ++i) {
    const double step = std::abs(v[i] - v[i - 1]);
    if (!(step > least)) continue;
    const bool falls = is_force && i >= loaded.from && std::abs(v[i]) < std::abs(v[i - 1]);
    if (falls && i >= loaded.peak) continue;  // what comes after the largest force is the piece giving in
    if (!is_force && force_steps(loaded, i)) continue;
    bool alone = loaded.time[i] - loaded.time[i - 1] < kGap * usual_gap;
    size_t moving = 0;
    for (size_t k = i - kNear; alone && k <= i + kNear; ++k)
      alone = k == i || step > kBeside * std::abs(v[k] - v[k - 1]), moving += v[k] != v[k - 1];
    if (alone && moving > kNear)
      return ChannelFault{falls ? ChannelFault::Kind::dropped : ChannelFault::Kind::jumped, l.channel.name,
                          loaded.time[i], loaded.time[i], v[i] - v[i - 1]};
  }
  return std::nullopt;
}

std::optional<ChannelFault> noisy(const Look& l) {
  const Part& p = l.part;
  if (!l.whole || p.to - p.from < kNoisySamples || l.bends < kNoisyBends ||
      double(l.changes) < kTurns * double(l.bends))
    return std::nullopt;
  const double limit = kRough * (l.high - l.low);
  if (l.squares / (6 * double(p.to - p.from)) < limit * limit)
    return std::nullopt;  // the median is dear, and less than this
  const double sd = noise_of_bent(l.channel.values, p.from, p.to);
  if (!(sd > limit) || (sd < kCoarse * l.count && in_counts(l))) return std::nullopt;  // coarse, not rough
  return ChannelFault{ChannelFault::Kind::noisy, l.channel.name, p.time[p.from], p.time[p.to - 1], sd};
}

// Whether the second differences of a block change their sign as those of noise do.
bool turns(const std::vector<double>& v, size_t first, size_t last) {
  size_t bends = 0, changes = 0;
  double before = 0;
  for (size_t i = first + 1; i + 1 < last; ++i) {
    const double bend = v[i + 1] - 2 * v[i] + v[i - 1];
    if (!std::isfinite(bend) || bend == 0) continue;
    ++bends, changes += (bend > 0) != (before > 0), before = bend;
  }
  return bends > 0 && double(changes) >= kBlockTurns * double(bends);
}

std::optional<ChannelFault> burst(const Look& l) {
  const std::vector<double>& v = l.channel.values;
  const Part& p = l.part;
  const size_t blocks = (p.to - p.from) / kBlock;
  if (blocks < kFewestBlocks) return std::nullopt;
  const double limit = kBurst * (l.high - l.low);
  const auto start = [&](size_t block) { return p.from + block * kBlock; };
  std::vector<double> scatter(blocks);  // from the squares: no less than from the median, and cheap
  for (size_t b = 0; b < blocks; ++b) {
    double squares = 0;
    for (size_t i = start(b) + 1; i + 1 < start(b + 1); ++i) {
      const double bend = v[i + 1] - 2 * v[i] + v[i - 1];
      if (std::isfinite(bend)) squares += bend * bend;
    }
    scatter[b] = std::sqrt(squares / (6 * (kBlock - 2)));
  }
  std::vector<double> sorted = scatter;
  std::nth_element(sorted.begin(), sorted.begin() + long(blocks / 3), sorted.end());
  const double usual = sorted[blocks / 3], least = std::max(limit, kRougher * usual);
  const auto rough = [&](size_t b) {
    return scatter[b] > least && noise_of_bent(v, start(b), start(b + 1)) > least && turns(v, start(b), start(b + 1));
  };
  // The longest stretch of them.
  size_t first = 0, count = 0;
  for (size_t b = 0; b < blocks;) {
    size_t end = b;
    while (end < blocks && rough(end)) ++end;
    if (end - b > count) first = b, count = end - b;
    b = end + 1;
  }
  if (count < kRoughBlocks) return std::nullopt;
  const size_t last = start(first + count) - 1;
  const double sd = noise_of_bent(v, start(first), last + 1);
  if (sd < kCoarse * l.count && in_counts(l)) return std::nullopt;  // a coarse reading that flickers
  return ChannelFault{ChannelFault::Kind::burst, l.channel.name, p.time[start(first)], p.time[last], sd, usual};
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
    const Look l = look_at(c, *part);
    if (auto f = frozen(l, s)) out.push_back(std::move(*f));
    if (auto f = jumped(l, *part, usual_gap)) out.push_back(std::move(*f));
    if (auto f = burst(l))
      out.push_back(std::move(*f));
    else if (auto all_of_it = noisy(l))
      out.push_back(std::move(*all_of_it));
  }
  return out;
}

}  // namespace fortitor
