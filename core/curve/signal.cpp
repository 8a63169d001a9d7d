#include "core/curve/signal.h"

#include <algorithm>
#include <cmath>
#include <numeric>

#include "core/curve/fit.h"

namespace fortitor {
namespace {

constexpr double kOfMedian = 1.4826;  // standard deviation of normal noise by the median of its magnitudes

// An offset worth a finding: of the largest force, and N.
constexpr double kOffsetShare = 0.002, kOffsetForce = 5.0;
constexpr size_t kBendsLookedAt = 20000;  // of a long channel
// Standing still: noise and count are of the first so many samples; a count is no more than this share of the range.
constexpr size_t kHead = 50, kTrendOver = 4000;
constexpr double kLargestCount = 0.2;
// A trend: times the standard error of the change, times noise or count, and of the range.
constexpr double kTrendErrors = 4.5, kTrendNoise = 1.5, kTrendShare = 1e-5;
// The band that standing still keeps to: times the noise, a count and a hair, and of the range.
constexpr double kBandNoise = 6, kBandCount = 1.01, kBandShare = 2e-5;

constexpr size_t kLeastQuiet = 10;

void turn_round(std::vector<double>& y) {
  for (double& v : y) v = -v;
}

// Travel between the first sample and the last one that is there up to `peak`, for telling which way a channel ran.
double travel_to(const std::vector<double>& y, size_t peak) {
  if (y.empty()) return 0;
  size_t last = std::min(peak, y.size() - 1);
  while (last > 0 && !std::isfinite(y[last])) --last;
  for (double v : y)
    if (std::isfinite(v)) return std::isfinite(y[last]) ? y[last] - v : 0;
  return 0;
}

// Rows under one time stamp. Where that is the rule the clock is coarse and every row is a sample; where it is the
// exception, or where all of them do, a row that repeats the one before it in every channel is one sample written
// twice.
void part_stamps(Signals& s, const Samples& samples, std::vector<size_t>& rows, std::vector<double>& time) {
  const size_t n = rows.size();
  size_t shared = 0;
  for (size_t i = 1; i < n; ++i) shared += time[i] == time[i - 1];
  if (shared == 0) return;
  auto repeats = [&](size_t a, size_t b) {
    return std::all_of(samples.channels.begin(), samples.channels.end(), [&](const Channel& c) {
      return c.values[a] == c.values[b] || (std::isnan(c.values[a]) && std::isnan(c.values[b]));
    });
  };
  size_t twice = 0;
  for (size_t i = 1; i < n; ++i) twice += time[i] == time[i - 1] && repeats(rows[i], rows[i - 1]);
  if (shared * 5 < n || twice * 10 >= shared * 9) {
    size_t to = 0;
    for (size_t i = 0; i < n; ++i) {
      if (i > 0 && time[i] == time[i - 1] && repeats(rows[i], rows[to - 1])) {
        ++s.duplicates;
        continue;
      }
      rows[to] = rows[i];
      time[to++] = time[i];
    }
    rows.resize(to);
    time.resize(to);
  }
  for (size_t i = 0; i < time.size();) {
    size_t end = i + 1;
    while (end < time.size() && time[end] == time[i]) ++end;
    if (end > i + 1) {
      s.clock_coarse = true;
      // Up to the next stamp; the last group takes as long as its rows took before.
      const double stamp = time[i];
      const double step = end < time.size() ? (time[end] - stamp) / double(end - i)
                          : i > 0           ? (stamp - time[0]) / double(i)
                                            : 1.0;
      for (size_t k = i; k < end; ++k) time[k] = stamp + step * double(k - i);
    }
    i = end;
  }
}

}  // namespace

bool any_finite(const std::vector<double>& v) {
  return std::any_of(v.begin(), v.end(), [](double x) { return std::isfinite(x); });
}

std::vector<double> Signals::aligned(const Samples& samples, const std::string& name) const {
  const Channel* c = samples.find(name);
  if (c == nullptr) return {};
  if (rows.empty()) return c->values;
  std::vector<double> out;
  out.reserve(rows.size());
  for (size_t i : rows) out.push_back(c->values[i]);
  return out;
}

Signals clean(const Samples& samples, const std::string& travel_channel) {
  Signals s;
  const Channel* force = samples.find("force");
  if (force == nullptr || force->values.empty()) return s;
  const Channel* clock = samples.find("time");
  const size_t n = force->values.size();
  s.time_invented = clock == nullptr;
  auto time_at = [&](size_t i) { return clock != nullptr ? clock->values[i] : double(i); };

  bool plain = true;  // the usual file needs no reordering: one pass, no index
  for (size_t i = 0; i < n && plain; ++i)
    plain = std::isfinite(force->values[i]) && std::isfinite(time_at(i)) && (i == 0 || time_at(i) > time_at(i - 1));
  if (!plain) {
    auto& rows = s.rows;
    rows.reserve(n);
    for (size_t i = 0; i < n; ++i)
      if (std::isfinite(force->values[i]) && std::isfinite(time_at(i))) rows.push_back(i);
    s.dropped = n - rows.size();
    if (rows.empty()) return s;  // an empty list of rows would mean all of them
    auto earlier = [&](size_t a, size_t b) { return time_at(a) < time_at(b); };
    if (!std::is_sorted(rows.begin(), rows.end(), earlier)) {
      s.sorted_by_us = true;
      std::stable_sort(rows.begin(), rows.end(), earlier);
    }
    s.time.reserve(rows.size());
    for (size_t i : rows) s.time.push_back(time_at(i));
    part_stamps(s, samples, rows, s.time);
  } else if (clock != nullptr) {
    s.time = clock->values;
    s.faults = channel_faults(samples);
  } else {
    s.time.resize(n);
    std::iota(s.time.begin(), s.time.end(), 0.0);
  }
  s.force = s.aligned(samples, "force");
  s.extension = s.aligned(samples, "extension");
  s.strain = s.aligned(samples, "strain");
  s.strain_lateral = s.aligned(samples, "strain_lateral");
  s.crosshead = s.aligned(samples, travel_channel);
  if (s.force.empty()) return s;
  const auto [low, high] = std::minmax_element(s.force.begin(), s.force.end());
  if (*low < 0 && -*low > std::abs(*high)) {
    s.sign_flipped = true;
    turn_round(s.force);
  }
  const size_t peak = size_t(std::max_element(s.force.begin(), s.force.end()) - s.force.begin());
  for (auto* channel : {&s.extension, &s.crosshead})
    if (travel_to(*channel, peak) < 0) turn_round(*channel);
  if (travel_to(s.strain, peak) < 0) {
    s.strain_flipped = true;
    turn_round(s.strain);
    turn_round(s.strain_lateral);  // one convention for both gauges
  }
  return s;
}

double noise_of(const std::vector<double>& y, size_t first, size_t last) {
  last = std::min(last, y.size());
  if (last < first + 3) return 0;
  // A few thousand differences tell the noise as well as a million.
  const size_t stride = std::max<size_t>(1, (last - first) / 8000);
  std::vector<double> steps;
  steps.reserve((last - first) / stride + 1);
  for (size_t i = first + 1; i < last; i += stride) {
    const double d = y[i] - y[i - 1];
    if (std::isfinite(d)) steps.push_back(d);
  }
  if (steps.size() < 2) return 0;
  auto median = [](std::vector<double>& v) {
    auto middle = v.begin() + long(v.size() / 2);
    std::nth_element(v.begin(), middle, v.end());
    return *middle;
  };
  const double drift = median(steps);  // a steady ramp is no noise
  for (double& d : steps) d = std::abs(d - drift);
  return 1.4826 * median(steps) / std::sqrt(2.0);
}

double noise_of_bent(const std::vector<double>& y, size_t first, size_t last) {
  last = std::min(last, y.size());
  std::vector<double> bends;
  const size_t stride = std::max<size_t>(1, (last - std::min(first, last)) / kBendsLookedAt);
  for (size_t i = first + 1; i + 1 < last; i += stride) {
    const double b = std::abs(y[i + 1] - 2 * y[i] + y[i - 1]);
    if (std::isfinite(b)) bends.push_back(b);
  }
  if (bends.size() < 3) return 0;
  const auto middle = bends.begin() + long(bends.size() / 2);
  std::nth_element(bends.begin(), middle, bends.end());
  return kOfMedian * *middle / std::sqrt(6.0);
}

ForceZero take_zero(std::vector<double>& force, const std::vector<const std::vector<double>*>& others, bool keep) {
  ForceZero z;
  if (force.empty()) return z;
  std::vector<const std::vector<double>*> channels = others;
  channels.push_back(&force);
  z.first = force.front();
  z.quiet = std::min(quiet_stretch(channels), force.size());
  z.value = mean_of(force, 0, z.quiet);
  if (z.quiet > 1) z.error = noise_of(force, 0, z.quiet) / std::sqrt(double(z.quiet));
  const double top = *std::max_element(force.begin(), force.end());
  z.beyond = std::abs(z.value) > std::max(kOffsetShare * top, kOffsetForce);
  z.off = z.beyond && !keep;
  if (z.off)
    for (double& f : force) f -= z.value;
  return z;
}

double mean_of(const std::vector<double>& y, size_t first, size_t last) {
  double sum = 0;
  size_t n = 0;
  for (size_t i = first; i < std::min(last, y.size()); ++i) {
    if (!std::isfinite(y[i])) continue;
    sum += y[i];
    ++n;
  }
  return n == 0 ? 0 : sum / double(n);
}

namespace {

// Leading samples of one channel that show no motion; all of them for a channel that says nothing.
size_t quiet_of(const std::vector<double>& y) {
  const size_t n = y.size();
  double low = HUGE_VAL, high = -HUGE_VAL;
  for (double v : y) {
    if (!std::isfinite(v)) continue;
    low = std::min(low, v);
    high = std::max(high, v);
  }
  if (!(high > low)) return n;
  // Noise and count of the first samples, not of the whole run: plastic flow is rougher than standing still.
  const size_t head = std::min<size_t>(n, kHead);
  const double sigma = noise_of(y, 0, head);
  double count = 0;
  for (size_t i = 1; i < head; ++i) {
    const double d = std::abs(y[i] - y[i - 1]);
    if (d > 0 && (count == 0 || d < count)) count = d;
  }
  if (count > kLargestCount * (high - low)) count = 0;  // a first sample of another kind is no count
  // A trend: the line over the stretch changes by more than its error and the count explain.
  std::vector<double> index(std::min(n, kTrendOver));
  std::iota(index.begin(), index.end(), 0.0);
  auto trend = [&](size_t last) {
    last = std::min(last, index.size());
    const auto line = fit_line(index, y, 0, last);
    if (!line) return false;
    const double change = std::abs(line->slope) * double(last), error = line->slope_error * double(last);
    return change >
               std::max({kTrendErrors * error, kTrendNoise * (sigma > 0 ? 0 : count), kTrendShare * (high - low)}) &&
           change > kTrendNoise * sigma;
  };
  if (trend(kLeastQuiet)) return 0;
  const double band = std::max({kBandNoise * sigma, kBandCount * count, kBandShare * (high - low)});
  double mean = 0, counted = 0;
  size_t quiet = 0;
  for (size_t i = 0; i < n; ++i) {
    if (!std::isfinite(y[i])) {
      quiet = i + 1;
      continue;
    }
    if (counted == 0) mean = y[i];
    if (std::abs(y[i] - mean) > band) break;
    // The reference follows only the first stretch, so that a slow start cannot drag it along.
    if (counted < 200) mean += (y[i] - mean) / (counted + 1);
    counted += 1;
    quiet = i + 1;
  }
  if (quiet == n) return n;
  // The first of the ramp may still lie in the band: a fifth at a time goes, and what shows a trend all along was
  // never quiet.
  const size_t whole = quiet;
  while (quiet >= kLeastQuiet && trend(quiet)) quiet -= std::max<size_t>(1, quiet / 5);
  return quiet * 5 < whole * 2 ? 0 : quiet;
}

}  // namespace

size_t quiet_stretch(const std::vector<const std::vector<double>*>& channels) {
  size_t quiet = SIZE_MAX, longest = 0;
  for (const auto* y : channels) {
    if (y == nullptr || y->empty() || !any_finite(*y)) continue;
    longest = std::max(longest, y->size());
    quiet = std::min(quiet, quiet_of(*y));
  }
  if (quiet == SIZE_MAX || quiet >= longest) return 0;  // nothing ever moved
  quiet -= quiet / 10;                                  // stay clear of the moment motion began
  return quiet < kLeastQuiet ? 0 : quiet;
}

}  // namespace fortitor
