#include "core/spectrum/chain.h"

#include <algorithm>
#include <cmath>

namespace fortitor::spectrum {

using fatigue::Extreme;

double LifeLine::knee() const {
  return category * std::pow(2e6 / 5e6, 1 / m);
}

double LifeLine::cut_off() const {
  return knee() * std::pow(5e6 / 1e8, 1 / (m + 2));
}

double LifeLine::damage(double range, bool with_cut_off) const {
  if (!(range > 0)) return 0;
  const double k = knee();
  if (range >= k) return std::pow(range / category, m) / 2e6;
  if (with_cut_off && range <= cut_off()) return 0;
  return std::pow(range / k, m + 2) / 5e6;
}

double Week::range_at(double share) const {
  if (ranges.empty()) return NAN;
  const double at = (1 - std::clamp(share, 0.0, 1.0)) * double(ranges.size() - 1);
  const size_t i = std::min(size_t(at), ranges.size() - 1), j = std::min(i + 1, ranges.size() - 1);
  return ranges[i] + (at - double(i)) * (ranges[j] - ranges[i]);
}

namespace {

bool same_source(const fatigue::SignalSpec& a, const fatigue::SignalSpec& b) {
  return a.files == b.files && a.format == b.format && a.rate == b.rate && a.scale == b.scale && a.column == b.column &&
         a.sentinel == b.sentinel;
}

// The first step that a change of settings touches.
int first_changed(const Settings& a, const Settings& b) {
  if (a.weeks.size() != b.weeks.size() || !std::equal(a.weeks.begin(), a.weeks.end(), b.weeks.begin(), same_source))
    return int(ChainStep::raw);
  if (a.block != b.block || (a.level == "quiet") != (b.level == "quiet"))
    return int(ChainStep::raw);  // the blocks are summed anew
  if (a.level != b.level) return int(ChainStep::level);
  if (a.cut != b.cut || a.leave_out != b.leave_out) return int(ChainStep::smooth);
  if (a.gate != b.gate) return int(ChainStep::turn);
  if (a.count != b.count) return int(ChainStep::count);
  if (a.p != b.p || a.share != b.share || a.modulus != b.modulus || a.category != b.category || a.m != b.m)
    return int(ChainStep::cut);
  if (a.levels != b.levels) return int(ChainStep::chain);
  if (a.length != b.length || a.seed != b.seed) return int(ChainStep::drive);
  return kSteps;
}

void count_week(Week& w, const Settings& s) {
  std::vector<double> points;
  points.reserve(w.turning.size());
  for (const Extreme& e : w.turning) points.push_back(e.value);
  w.ranges.clear();
  const bool three = s.count == "three-point";
  w.weight = three ? 0.5 : 1;
  const auto cycles = three ? fatigue::rainflow_three_point(points) : fatigue::rainflow_four_point(points);
  w.ranges.reserve(cycles.size() * (three ? 2 : 1));
  for (const fatigue::Cycle& c : cycles) {
    w.ranges.push_back(c.range());
    if (three && c.count == 1) w.ranges.push_back(c.range());
  }
  std::sort(w.ranges.begin(), w.ranges.end());
  w.cycles = w.weight * double(w.ranges.size());
  // The last turning point is still open: nothing has come back from it.
  w.turning_points = w.turning.empty() ? 0 : double(w.turning.size() - 1);
  w.upward = 0;
  for (size_t i = 0; i + 1 < points.size(); ++i)
    w.upward += points[i] < w.smooth.mean && points[i + 1] >= w.smooth.mean;
  w.irregularity = w.turning_points > 0 ? w.upward / (w.turning_points / 2) : NAN;
  // A low-pass leaves of white noise its share of the band.
  w.rate = w.signal ? w.signal->rate() : 0;
  w.noise = w.smooth.noise * (s.cut > 0 && w.rate > 2 * s.cut ? std::sqrt(2 * s.cut / w.rate) : 1);
  constexpr double kScale = 0.01;
  w.gate_beyond = s.gate + std::max(kScale * s.gate, std::sqrt(2.0) * w.noise);
  const double fewer = double(fatigue::turning_points(w.turning, w.gate_beyond).size());
  w.count_error = (double(w.turning.size()) - fewer) / 2;
}

void cut_ranges(Week& w, const Settings& s, double omission) {
  const LifeLine line{s.category, s.m};
  const double stress = s.modulus * 1e-6;
  w.range_max = w.ranges.empty() ? NAN : w.ranges.back();
  w.range_p = w.range_at(s.p);
  w.omission_level = omission;
  double damage = 0, whole = 0, omitted = 0, powers = 0;
  size_t below = 0;
  for (double r : w.ranges) {
    const double range = r * stress, d = line.damage(range, false);
    damage += line.damage(range, true);
    whole += d;
    powers += std::pow(range, s.m);
    if (r < omission) omitted += d, ++below;
  }
  const double n = double(w.ranges.size());
  w.damage = w.weight * damage;
  w.damage_no_cutoff = w.weight * whole;
  w.damage_omitted = whole > 0 ? omitted / whole : NAN;
  w.cycles_omitted = n > 0 ? double(below) / n : NAN;
  w.range_equivalent = n > 0 ? std::pow(powers / n, 1 / s.m) : NAN;
}

void keep_turning(Week& w) {
  w.kept.clear();
  for (const Extreme& e : fatigue::turning_points(w.turning, w.omission_level)) w.kept.push_back(e.value);
}

void put_together(Spectrum& s) {
  Week& t = s.together;
  t = {};
  t.name = "all weeks";
  double up = 0, loss = 0, with_loss = 0;
  for (const Week& w : s.weeks) {
    t.ranges.insert(t.ranges.end(), w.ranges.begin(), w.ranges.end());
    t.weight = w.weight;
    t.cycles += w.cycles;
    t.turning_points += w.turning_points;
    up += w.upward;
    t.rate = std::max(t.rate, w.rate);
    t.noise = std::max(t.noise, w.noise);
    t.gate_beyond = std::max(t.gate_beyond, w.gate_beyond);
    t.smooth.noise = std::max(t.smooth.noise, w.smooth.noise);
    t.count_error += w.count_error;
    if (std::isfinite(w.peak_loss)) loss += w.peak_loss, ++with_loss;
    t.raw.samples += w.raw.samples;
    t.raw.missing += w.raw.missing;
    t.raw.gap_count += w.raw.gap_count;
    t.smooth.spike_count += w.smooth.spike_count;
    t.smooth.stuck_samples += w.smooth.stuck_samples;
  }
  if (s.weeks.size() == 1) t.signal = s.weeks[0].signal;
  std::sort(t.ranges.begin(), t.ranges.end());
  t.upward = up;
  t.irregularity = t.turning_points > 0 ? up / (t.turning_points / 2) : NAN;
  t.peak_loss = loss / with_loss;  // no number where no week was filtered
}

void make_chain(Spectrum& s) {
  double least = HUGE_VAL, largest = -HUGE_VAL;
  for (const Week& w : s.weeks)
    for (double v : w.kept) least = std::min(least, v), largest = std::max(largest, v);
  const fatigue::Levels levels = fatigue::levels_over(least, largest, s.settings.levels);
  s.sum = fatigue::Transitions(levels);
  for (Week& w : s.weeks) {
    w.transitions = fatigue::Transitions(levels);
    w.transitions.add(w.kept);
    s.sum.add(w.transitions);
  }
}

double damage_of(const std::vector<fatigue::Cycle>& cycles, const Settings& s) {
  const LifeLine line{s.category, s.m};
  double sum = 0;
  for (const fatigue::Cycle& c : cycles) sum += c.count * line.damage(c.range() * s.modulus * 1e-6, false);
  return sum;
}

// Upward crossings of the mean over the peaks.
double irregularity_of(const std::vector<double>& points) {
  if (points.size() < 3) return NAN;
  double mean = 0;
  for (double v : points) mean += v / double(points.size());
  double up = 0;
  for (size_t i = 0; i + 1 < points.size(); ++i) up += points[i] < mean && points[i + 1] >= mean;
  return up / (double(points.size() - 1) / 2);
}

double source_damage(const Spectrum& s) {
  double damage = 0, transitions = 0;
  for (const Week& w : s.weeks) {
    damage += damage_of(fatigue::rainflow_four_point(w.kept), s.settings);
    transitions += double(w.kept.size());
  }
  return transitions > 0 ? damage / transitions : NAN;
}

Outcome<Done> make_drive(Spectrum& s) {
  const auto path = fatigue::walk(s.sum, s.settings.length, s.settings.seed);
  if (!path) return path.error();
  Drive& d = s.drive;
  d = {};
  d.values = fatigue::values_of(*path, s.sum.levels);
  const auto cycles = fatigue::rainflow_four_point(d.values);
  d.damage_per_transition = damage_of(cycles, s.settings) / double(d.values.size() - 1);
  d.source_per_transition = source_damage(s);
  d.irregularity = irregularity_of(d.values);
  double up = 0, n = 0;
  for (const Week& w : s.weeks) {
    const double i = irregularity_of(w.kept), weight = double(w.kept.size());
    if (std::isfinite(i)) up += i * weight, n += weight;
  }
  d.source_irregularity = n > 0 ? up / n : NAN;
  for (const fatigue::Cycle& c : cycles) d.ranges.push_back(c.range());
  std::sort(d.ranges.begin(), d.ranges.end());
  d.range_max = d.ranges.empty() ? NAN : d.ranges.back();
  return Done{};
}

}  // namespace

Outcome<Done> compute(Spectrum& now, const Settings& settings, const ComputeOptions& options,
                      const fatigue::Progress& progress) {
  if (settings.weeks.empty()) return InputError{"A spectrum wants at least one signal.", {}};
  int from = now.weeks.empty() ? int(ChainStep::raw) : first_changed(now.settings, settings);
  const auto lost = [&](const Week& w) { return w.smooth.extremes.empty() && !w.turning.empty(); };
  if (from == int(ChainStep::turn) && std::any_of(now.weeks.begin(), now.weeks.end(), lost))
    from = int(ChainStep::smooth);
  // What was not wanted before is still to do; what stays after the cut is found with the cut.
  if (now.done < int(options.until))
    from =
        std::min(from, now.done < int(ChainStep::chain) ? std::min(now.done + 1, int(ChainStep::cut)) : now.done + 1);
  from = std::max(from, 0);
  now.from = from;
  now.done = std::min(now.done, from - 1);
  now.settings = settings;
  const Settings& s = settings;
  if (from == int(ChainStep::raw)) now.weeks.assign(s.weeks.size(), {});
  if (from <= int(ChainStep::cut)) now.study.clear();
  const double weeks = double(s.weeks.size());
  for (size_t k = 0; k < s.weeks.size(); ++k) {
    Week& w = now.weeks[k];
    w.name = k < s.names.size() && !s.names[k].empty() ? s.names[k] : "week " + std::to_string(k + 1);
    // Reading takes about as long as smoothing.
    const auto part = [&](double begin, double length) -> fatigue::Progress {
      if (!progress) return {};
      return [&progress, k, weeks, begin, length](double share) {
        return progress((double(k) + begin + length * share) / weeks);
      };
    };
    auto failed = [&](const InputError& e) {
      now.weeks.clear();
      now.done = -1;
      return e;
    };
    if (from <= int(ChainStep::raw)) {
      auto signal = fatigue::open_signal(s.weeks[k], part(0, 0.25));
      if (!signal) return failed(signal.error());
      w.signal = std::move(*signal);
      auto raw = fatigue::read_raw(*w.signal, s.block, s.level == "quiet", part(0.25, 0.25), options.workers);
      if (!raw) return failed(raw.error());
      w.raw = std::move(*raw);
    }
    if (from <= int(ChainStep::level))
      w.drift = s.level == "none"    ? fatigue::Drift{}
                : s.level == "quiet" ? fatigue::level_by_medians(w.raw.blocks, w.raw.block, w.raw.samples)
                                     : fatigue::level_by_squares(w.raw.blocks, w.raw.block, w.raw.samples);
    if (from <= int(ChainStep::smooth)) {
      auto smooth =
          fatigue::smooth_signal(*w.signal, w.raw, w.drift, s.cut, s.leave_out, part(0.5, 0.45), options.workers);
      if (!smooth) return failed(smooth.error());
      w.smooth = std::move(*smooth);
    }
    if (from <= int(ChainStep::turn)) {
      w.turning = fatigue::turning_points(w.smooth.extremes, s.gate);
      w.turning.shrink_to_fit();
      if (!options.keep_extremes) w.smooth.extremes = {};
      auto loss = fatigue::peak_loss(*w.signal, w.drift, s.cut, w.turning);
      if (!loss) return failed(loss.error());
      w.peak_loss = *loss;
      w.losses.clear();
      if (options.losses && std::isfinite(w.peak_loss)) {
        std::vector<double> cuts;
        for (int step = -4; step <= 6; ++step)
          if (const double f = s.cut * std::pow(2, step / 2.0); f < w.signal->rate() * 0.45) cuts.push_back(f);
        const auto losses = fatigue::peak_losses(*w.signal, w.drift, s.cut, w.turning, cuts, options.workers);
        if (!losses) return failed(losses.error());
        for (size_t i = 0; i < cuts.size(); ++i) w.losses.emplace_back(cuts[i], (*losses)[i]);
      }
    }
    if (from <= int(ChainStep::count)) count_week(w, s);
  }
  if (from <= int(ChainStep::count)) put_together(now);
  if (from <= int(ChainStep::cut)) {
    // One level for all weeks, from all their cycles.
    const double omission = s.share * now.together.range_at(s.p);
    cut_ranges(now.together, s, omission);
    for (Week& w : now.weeks) {
      cut_ranges(w, s, omission);
      if (options.until >= ChainStep::chain) keep_turning(w);
    }
  }
  if (options.until < ChainStep::chain || now.together.ranges.empty()) {
    now.drive = {};
    now.done = int(ChainStep::cut);
    return Done{};
  }
  if (from <= int(ChainStep::chain)) make_chain(now);
  if (options.until >= ChainStep::drive && from <= int(ChainStep::drive))
    if (const auto made = make_drive(now); !made) {
      now.drive = {};
      now.done = int(ChainStep::chain);
      return made.error();
    }
  now.done = int(options.until);
  if (options.study && now.study.empty()) {
    auto study = study_blocks(now, 1000000, progress);
    if (!study) return study.error();
    now.study = std::move(*study);
  }
  if (progress) progress(1);
  return Done{};
}

Outcome<std::vector<BlockLength>> study_blocks(const Spectrum& s, size_t longest, const fatigue::Progress& progress) {
  constexpr int kSeeds = 20;
  const double source = source_damage(s);
  if (!(source > 0)) return InputError{"The source does no damage: there is nothing to compare blocks with.", {}};
  std::vector<BlockLength> out;
  for (double length = 1000; length <= double(longest) * 1.001; length *= std::sqrt(10.0)) {
    BlockLength b;
    b.length = size_t(std::round(length / (length < 1e4 ? 10 : 100)) * (length < 1e4 ? 10 : 100));
    b.least = HUGE_VAL;
    b.of = kSeeds;
    for (int seed = 1; seed <= kSeeds; ++seed) {
      const auto path = fatigue::walk(s.sum, b.length, uint64_t(seed) * 7919 + b.length);
      if (!path) return path.error();
      const auto values = fatigue::values_of(*path, s.sum.levels);
      const double ratio =
          damage_of(fatigue::rainflow_four_point(values), s.settings) / double(values.size() - 1) / source;
      b.mean += ratio / kSeeds;
      b.least = std::min(b.least, ratio);
      b.largest = std::max(b.largest, ratio);
      b.within += std::abs(ratio - 1) <= 0.05;
      if (progress && !progress((std::log10(length) - 3 + double(seed) / kSeeds * 0.5) / 3.5))
        return InputError{"The work was stopped.", {}};
    }
    out.push_back(b);
  }
  return out;
}

size_t shortest_block(const std::vector<BlockLength>& study) {
  size_t best = 0;
  for (size_t i = study.size(); i-- > 0;) {
    if (study[i].within * 20 < study[i].of * 19) break;
    best = study[i].length;
  }
  return best;
}

}  // namespace fortitor::spectrum
