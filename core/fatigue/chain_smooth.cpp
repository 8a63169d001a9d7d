// Smoothing in pieces that overlap: the same as over the whole.
#include <algorithm>
#include <cmath>

#include "core/fatigue/chain.h"
#include "core/fatigue/smooth.h"
#include "core/parallel.h"

namespace fortitor::fatigue {
namespace {

constexpr size_t kStretch = 1 << 18;  // samples smoothed at a time, at least
constexpr double kSpike = 12;         // robust deviations
constexpr size_t kAround = 12;        // samples on either side that are a sample's surroundings

// Single samples far from their surroundings, of x[from, to). Gives the noise of one sample: a sample less the mean of
// its neighbours has √1.5 of it.
double find_spikes(const std::vector<double>& x, size_t from, size_t to, uint64_t origin, std::vector<uint64_t>& out) {
  if (x.size() < 2 * kAround) return 0;
  auto bend = [&](size_t i) { return x[i] - 0.5 * (x[i - 1] + x[i + 1]); };
  std::vector<double> some;
  double digit = HUGE_VAL;  // the finest step of the signal: what lies within it is no spike of a quiet night
  for (size_t i = std::max<size_t>(1, from), step = std::max<size_t>(1, (to - from) / 4096);
       i + 1 < std::min(to, x.size()); i += step)
    if (std::isfinite(bend(i))) {
      some.push_back(bend(i));
      if (x[i] != x[i - 1]) digit = std::min(digit, std::abs(x[i] - x[i - 1]));
    }
  const double usual = robust_deviation(some), least = std::max(6 * usual, 1e-12);
  for (size_t i = std::max<size_t>(1, from); i < to && i + 1 < x.size(); ++i) {
    const double left = x[i] - x[i - 1], right = x[i] - x[i + 1];
    if (!(std::abs(left) > least) || !(left * right > 0) || !(std::abs(right) > least)) continue;
    std::vector<double> near;
    for (size_t k = i > kAround ? i - kAround : 0; k <= std::min(x.size() - 1, i + kAround); ++k)
      if (k != i && std::isfinite(x[k])) near.push_back(x[k]);
    if (near.size() < kAround) continue;
    const auto middle = near.begin() + std::ptrdiff_t(near.size() / 2);
    std::nth_element(near.begin(), middle, near.end());
    const double median = *middle;
    for (double& v : near) v -= median;
    const double deviation = std::max({robust_deviation(near), usual, std::isfinite(digit) && usual == 0 ? digit : 0});
    if (std::abs(x[i] - median) > kSpike * deviation && deviation >= 0) out.push_back(origin + i);
  }
  return usual / std::sqrt(1.5);
}

struct PieceResult {
  std::vector<Extreme> extremes;
  std::vector<uint64_t> spikes;
  double noise = 0;
  std::vector<Stretch> stuck;  ///< runs of one value that touch an end, and those that are long enough
  RangeEnd top, bottom;
  std::vector<ZeroStep> steps;
};

constexpr double kFloat = 1.2e-7;  // the overview holds its ends as floats
constexpr double kNear = 0.01;     // of the range: what lies so far from an end is just short of it
constexpr double kDigits = 3;      // or so many steps of a coarse signal

// The ends of what was measured, as the overview has them.
void ends_of(const Raw& raw, RangeEnd& top, RangeEnd& bottom) {
  double least = HUGE_VAL, largest = -HUGE_VAL;
  for (float v : raw.overview.least)
    if (std::isfinite(v)) least = std::min(least, double(v));
  for (float v : raw.overview.largest)
    if (std::isfinite(v)) largest = std::max(largest, double(v));
  top.value = largest - kFloat * std::abs(largest);
  bottom.value = least + kFloat * std::abs(least);
}

void add(RangeEnd& to, const RangeEnd& part) {
  to.samples += part.samples;
  to.stretches += part.stretches;
  to.near += part.near;
}

// Runs of one value; short ones only where they touch an end and may go on beyond it.
void find_stuck(const std::vector<double>& x, size_t from, size_t to, uint64_t origin, size_t long_enough,
                std::vector<Stretch>& out) {
  size_t begin = from;
  for (size_t i = from + 1; i <= to; ++i) {
    if (i < to && x[i] == x[i - 1]) continue;
    if (std::isfinite(x[begin]) && (i - begin >= long_enough || begin == from || i == to))
      out.push_back({origin + begin, i - begin});
    begin = i;
  }
}

size_t long_enough(double rate) {
  return size_t(std::max(50.0, 5 * rate));
}

double take_out(std::vector<double>& x, size_t from, size_t to, uint64_t origin, double rate,
                std::vector<uint64_t>& spikes) {
  std::vector<uint64_t> found;
  const double noise = find_spikes(x, from, to, origin, found);
  for (uint64_t at : found) x[at - origin] = NAN;
  for (uint64_t at : found) spikes.push_back(at);
  size_t begin = from;
  for (size_t i = from + 1; i <= to; ++i) {
    if (i < to && x[i] == x[i - 1]) continue;
    if (std::isfinite(x[begin]) && i - begin >= long_enough(rate))
      for (size_t k = begin; k < i; ++k) x[k] = NAN;
    begin = i;
  }
  return noise;
}

// Stretches without a gap, each smoothed for itself. `begins`, `ends`: whether x begins and ends where the signal does.
template <class Use>
void smooth_stretches(const std::vector<double>& x, const LowPass& filter, bool begins, bool ends, const Use& use) {
  std::vector<double> y;
  for (size_t i = 0; i < x.size();) {
    if (std::isnan(x[i])) {
      ++i;
      continue;
    }
    size_t end = i;
    while (end < x.size() && !std::isnan(x[end])) ++end;
    y.assign(x.begin() + std::ptrdiff_t(i), x.begin() + std::ptrdiff_t(end));
    filter.both_ways(y, i > 0 || begins, end < x.size() || ends);
    use(i, y);
    i = end;
  }
}

}  // namespace

Outcome<Smoothed> smooth_signal(const Signal& signal, const Raw& raw, const Drift& drift, double cut, bool leave_out,
                                const Progress& progress, Workers workers) {
  const LowPass filter(cut, signal.rate());
  const size_t size = raw.samples;
  const size_t around =
      std::max({filter.memory() + LowPass::kEdge, leave_out ? long_enough(signal.rate()) + kAround : kAround,
                step_surroundings(signal.rate())});
  const size_t piece = std::max(kStretch, 4 * around);
  const size_t pieces = (size + piece - 1) / piece;
  std::vector<PieceResult> results(pieces);
  Smoothed out;
  ends_of(raw, out.top, out.bottom);
  double n = 0, sum = 0;
  for (size_t b = 0; b < raw.blocks.size(); ++b) n += raw.blocks[b].n, sum += raw.blocks[b].x;
  // The mean that is crossed is that of the levelled signal: of a straight piece over the samples that are there.
  double taken = 0;
  for (size_t b = 0; b < raw.blocks.size(); ++b) {
    const LevelSums& s = raw.blocks[b];
    if (!(s.n > 0) || drift.at.empty()) continue;
    if (raw.medians) {  // pieces of this line break within the block
      const double first = double(b * raw.block), length = double(std::min(size, (b + 1) * raw.block)) - first;
      double mean = 0;
      for (int k = 0; k < 64; ++k) mean += drift(first + (k + 0.5) / 64 * length) / 64;
      taken += s.n * mean;
    } else {
      const double left = drift(double(b * raw.block)), right = drift(double((b + 1) * raw.block));
      taken += s.n * left + (right - left) * s.t;
    }
  }
  out.mean = n > 0 ? (sum - taken) / n : 0;
  const auto done = in_parallel(pieces, workers.threads, progress, [&](size_t k) -> Outcome<Done> {
    PieceResult& r = results[k];
    const size_t first = k * piece, end = std::min(size, first + piece);
    const size_t from = first > around ? first - around : 0, to = std::min(size, end + around);
    std::vector<double> x(to - from);
    if (const auto got = signal.read(from, x.size(), x.data()); !got) return got;
    r.top.value = out.top.value;
    r.bottom.value = out.bottom.value;
    const double near = std::max(kNear * (out.top.value - out.bottom.value), kDigits * digit_of(x, 0, x.size()));
    count_ends(x, first - from, end - from, near, r.top, r.bottom);
    find_steps(x, first - from, end - from, from, signal.rate(), r.steps);
    if (leave_out) {
      std::vector<uint64_t> spikes;
      find_stuck(x, first - from, end - from, from, long_enough(signal.rate()), r.stuck);
      r.noise = take_out(x, 0, x.size(), from, signal.rate(), spikes);
      for (uint64_t s : spikes)
        if (s >= first && s < end) r.spikes.push_back(s);
    } else {
      r.noise = find_spikes(x, first - from, end - from, from, r.spikes);
      find_stuck(x, first - from, end - from, from, long_enough(signal.rate()), r.stuck);
    }
    drift.take_off(x.data(), x.size(), from);
    smooth_stretches(x, filter, from == 0, to == size, [&](size_t at, const std::vector<double>& y) {
      // Only what lies in the piece itself.
      const size_t begin = std::max(from + at, first), stop = std::min(from + at + y.size(), end);
      if (begin >= stop) return;
      extremes_of(y.data() + (begin - from - at), stop - begin, begin, r.extremes);
    });
    return Done{};
  });
  if (!done) return done.error();
  std::vector<Stretch> runs;
  std::vector<double> noises;
  size_t points = 0;
  for (const PieceResult& r : results) points += r.extremes.size(), noises.push_back(r.noise);
  if (!noises.empty()) {
    const auto middle = noises.begin() + std::ptrdiff_t(noises.size() / 2);
    std::nth_element(noises.begin(), middle, noises.end());
    out.noise = *middle;
  }
  out.extremes.reserve(points);
  for (PieceResult& r : results) {
    out.extremes.insert(out.extremes.end(), r.extremes.begin(), r.extremes.end());
    r.extremes = {};
    out.spike_count += r.spikes.size();
    for (uint64_t s : r.spikes)
      if (out.spikes.size() < kListed) out.spikes.push_back(s);
    for (const Stretch& s : r.stuck) runs.push_back(s);
    add(out.top, r.top);
    add(out.bottom, r.bottom);
    for (const ZeroStep& s : r.steps)
      if (out.steps.size() < kListed) out.steps.push_back(s);
  }
  // Runs that meet at the border of two pieces may be one: the samples beside the border say so.
  for (size_t i = 0; i < runs.size();) {
    Stretch whole = runs[i];
    size_t next = i + 1;
    while (next < runs.size() && runs[next].from == whole.from + whole.count) {
      double two[2];
      if (const auto got = signal.read(runs[next].from - 1, 2, two); !got) return got.error();
      if (!(two[0] == two[1])) break;
      whole.count += runs[next].count;
      ++next;
    }
    if (whole.count >= long_enough(signal.rate())) {
      out.stuck_samples += whole.count;
      if (out.stuck.size() < kListed) out.stuck.push_back(whole);
    }
    i = next;
  }
  // A logger that stood still and goes on jumps to where the strain is by then: that is said of it already.
  std::erase_if(out.steps, [&](const ZeroStep& s) {
    return std::any_of(out.stuck.begin(), out.stuck.end(),
                       [&](const Stretch& stood) { return s.at >= stood.from && s.at <= stood.from + stood.count; });
  });
  return out;
}

Outcome<Piece> look_at(const Signal& signal, const Drift& drift, double cut, uint64_t from, size_t count) {
  Piece p;
  const LowPass filter(cut, signal.rate());
  const size_t size = signal.size();
  from = std::min<uint64_t>(from, size);
  count = std::min<size_t>(count, size - from);
  const size_t around = filter.memory() + LowPass::kEdge;
  const size_t first = from > around ? from - around : 0, end = std::min<size_t>(size, from + count + around);
  std::vector<double> x(end - first);
  if (const auto got = signal.read(first, x.size(), x.data()); !got) return got.error();
  const auto begin = std::ptrdiff_t(from - first);
  p.measured.assign(x.begin() + begin, x.begin() + begin + std::ptrdiff_t(count));
  drift.take_off(x.data(), x.size(), first);
  p.levelled.assign(x.begin() + begin, x.begin() + begin + std::ptrdiff_t(count));
  p.smooth.assign(count, NAN);
  smooth_stretches(x, filter, first == 0, end == size, [&](size_t at, const std::vector<double>& y) {
    for (size_t i = 0; i < y.size(); ++i) {
      const size_t sample = first + at + i;
      if (sample >= from && sample < from + count) p.smooth[sample - from] = y[i];
    }
  });
  return p;
}

namespace {

// The hundred largest swings, the largest first: indices of their first turning points.
std::vector<size_t> largest_swings(const std::vector<Extreme>& turning) {
  std::vector<size_t> order(turning.size() - 1);
  for (size_t i = 0; i < order.size(); ++i) order[i] = i;
  const size_t wanted = std::min<size_t>(100, order.size());
  auto swing = [&](size_t i) { return std::abs(turning[i + 1].value - turning[i].value); };
  std::partial_sort(order.begin(), order.begin() + std::ptrdiff_t(wanted), order.end(),
                    [&](size_t a, size_t b) { return swing(a) > swing(b); });
  order.resize(wanted);
  return order;
}

// How far around a turning point its peak is looked for, and over how many samples the levelled signal is averaged.
struct Reach {
  size_t around, over;
};
Reach reach_of(double rate, double cut) {
  return {size_t(std::max(1.0, rate / cut / 4)), std::max<size_t>(1, size_t(rate / cut / 16))};
}

// Levelled extreme near a turning point.
Outcome<double> levelled_peak(const Signal& signal, const Drift& drift, const Reach& r, const Extreme& e, bool top) {
  const uint64_t from = e.at > r.around + r.over ? e.at - r.around - r.over : 0;
  std::vector<double> x(std::min<size_t>(2 * (r.around + r.over) + 1, signal.size() - from));
  if (const auto got = signal.read(from, x.size(), x.data()); !got) return got.error();
  drift.take_off(x.data(), x.size(), from);
  double best = NAN;
  for (size_t j = 0; j + r.over <= x.size(); ++j) {
    double mean = 0;
    for (size_t m = 0; m < r.over; ++m) mean += x[j + m];
    mean /= double(r.over);
    if (std::isfinite(mean) && (!(best == best) || (top ? mean > best : mean < best))) best = mean;
  }
  return std::isfinite(best) ? best : e.value;
}

}  // namespace

Outcome<double> peak_loss(const Signal& signal, const Drift& drift, double cut, const std::vector<Extreme>& turning) {
  if (turning.size() < 2 || !(cut > 0) || cut >= signal.rate() / 2) return double(NAN);
  const Reach reach = reach_of(signal.rate(), cut);
  const std::vector<size_t> swings = largest_swings(turning);
  double loss = 0;
  for (size_t i : swings) {
    const bool up = turning[i + 1].value > turning[i].value;
    const auto a = levelled_peak(signal, drift, reach, turning[i], !up),
               b = levelled_peak(signal, drift, reach, turning[i + 1], up);
    if (!a) return a.error();
    if (!b) return b.error();
    const double was = std::abs(*b - *a);
    if (was > 0) loss += (was - std::abs(turning[i + 1].value - turning[i].value)) / was / double(swings.size());
  }
  return std::max(0.0, loss);
}

Outcome<std::vector<double>> peak_losses(const Signal& signal, const Drift& drift, double cut,
                                         const std::vector<Extreme>& turning, const std::vector<double>& others,
                                         Workers workers) {
  std::vector<double> out(others.size());
  if (turning.size() < 2 || !(cut > 0) || cut >= signal.rate() / 2) return out;
  const Reach reach = reach_of(signal.rate(), cut);
  const std::vector<size_t> swings = largest_swings(turning);
  std::vector<std::vector<double>> each(swings.size(), std::vector<double>(others.size()));
  const auto done = in_parallel(swings.size(), workers.threads, {}, [&](size_t k) -> Outcome<Done> {
    const size_t i = swings[k];
    const bool up = turning[i + 1].value > turning[i].value;
    double was[2], is[2];
    for (size_t side = 0; side < 2; ++side) {
      const auto peak = levelled_peak(signal, drift, reach, turning[i + side], (side == 1) == up);
      if (!peak) return peak.error();
      was[side] = *peak;
    }
    for (size_t f = 0; f < others.size(); ++f) {
      for (size_t side = 0; side < 2; ++side) {
        const Extreme& e = turning[i + side];
        const uint64_t from = e.at > reach.around ? e.at - reach.around : 0;
        const auto look = look_at(signal, drift, others[f], from, 2 * reach.around + 1);
        if (!look) return look.error();
        const bool top = (side == 1) == up;
        double best = NAN;
        for (double v : look->smooth)
          if (std::isfinite(v) && (!(best == best) || (top ? v > best : v < best))) best = v;
        is[side] = std::isfinite(best) ? best : e.value;
      }
      const double before = std::abs(was[1] - was[0]);
      if (before > 0) each[k][f] = (before - std::abs(is[1] - is[0])) / before;
    }
    return Done{};
  });
  if (!done) return done.error();
  for (size_t f = 0; f < others.size(); ++f) {
    for (const auto& one : each) out[f] += one[f] / double(each.size());
    out[f] = std::max(0.0, out[f]);
  }
  return out;
}

}  // namespace fortitor::fatigue
