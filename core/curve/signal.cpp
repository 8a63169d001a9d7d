#include "core/curve/signal.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace fortitor {
namespace {

void turn_round(std::vector<double>& y) {
  for (double& v : y) v = -v;
}

// Travel between the first sample and the one at `peak`, for telling which way a channel ran.
double travel(const std::vector<double>& y, size_t peak) {
  if (y.empty() || !std::isfinite(y[peak])) return 0;
  for (double v : y)
    if (std::isfinite(v)) return y[peak] - v;
  return 0;
}

}  // namespace

Signals clean(const Samples& samples, const std::string& travel_channel) {
  Signals s;
  const Channel* force = samples.find("force");
  if (force == nullptr || force->values.empty()) return s;
  const Channel* time = samples.find("time");
  const size_t n = force->values.size();
  s.time_invented = time == nullptr;
  auto time_at = [&](size_t i) { return time != nullptr ? time->values[i] : double(i); };

  bool plain = true;  // the usual file needs no reordering: one pass, no index
  for (size_t i = 0; i < n && plain; ++i) {
    plain = std::isfinite(force->values[i]) && std::isfinite(time_at(i)) && (i == 0 || time_at(i) > time_at(i - 1));
  }
  std::vector<size_t> rows;
  if (!plain) {
    rows.reserve(n);
    for (size_t i = 0; i < n; ++i)
      if (std::isfinite(force->values[i]) && std::isfinite(time_at(i))) rows.push_back(i);
    s.dropped = n - rows.size();
    auto earlier = [&](size_t a, size_t b) { return time_at(a) < time_at(b); };
    if (!std::is_sorted(rows.begin(), rows.end(), earlier)) {
      s.sorted_by_us = true;
      std::stable_sort(rows.begin(), rows.end(), earlier);
    }
    const size_t before = rows.size();
    rows.erase(std::unique(rows.begin(), rows.end(), [&](size_t a, size_t b) { return time_at(a) == time_at(b); }),
               rows.end());
    s.duplicates = before - rows.size();
  }
  auto take = [&](const std::string& name) {
    const Channel* c = samples.find(name);
    if (c == nullptr) return std::vector<double>{};
    if (plain) return c->values;
    std::vector<double> out;
    out.reserve(rows.size());
    for (size_t i : rows) out.push_back(c->values[i]);
    return out;
  };
  s.force = take("force");
  s.extension = take("extension");
  s.strain = take("strain");
  s.strain_lateral = take("strain_lateral");
  s.crosshead = take(travel_channel);
  if (s.time_invented) {
    s.time.resize(s.force.size());
    std::iota(s.time.begin(), s.time.end(), 0.0);
  } else {
    s.time = take("time");
  }
  if (s.force.empty()) return s;
  const auto [low, high] = std::minmax_element(s.force.begin(), s.force.end());
  if (*low < 0 && -*low > std::abs(*high)) {
    s.sign_flipped = true;
    const size_t peak = size_t(low - s.force.begin());
    turn_round(s.force);
    for (auto* channel : {&s.extension, &s.strain, &s.crosshead})
      if (travel(*channel, peak) < 0) turn_round(*channel);
  }
  return s;
}

double noise_of(const std::vector<double>& y, size_t first, size_t last) {
  last = std::min(last, y.size());
  if (last < first + 3) return 0;
  // A few thousand differences tell the noise as well as a million.
  const size_t stride = std::max<size_t>(1, (last - first) / 20000);
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

ForceZero take_zero(std::vector<double>& force, const std::vector<double>& motion, bool keep) {
  ForceZero z;
  if (force.empty()) return z;
  z.quiet = std::min(quiet_stretch(motion), force.size());
  z.value = mean_of(force, 0, z.quiet);
  const double top = *std::max_element(force.begin(), force.end());
  z.beyond = std::abs(z.value) > std::max(0.002 * top, 5.0);
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

size_t quiet_stretch(const std::vector<double>& motion) {
  const size_t n = motion.size();
  if (n < 10) return 0;
  double low = HUGE_VAL, high = -HUGE_VAL;
  for (double v : motion) {
    if (!std::isfinite(v)) continue;
    low = std::min(low, v);
    high = std::max(high, v);
  }
  if (!(high > low)) return 0;
  // Noise of the first samples, not of the whole run: plastic flow is rougher than standing still.
  const double sigma = noise_of(motion, 0, std::min<size_t>(n, 50));
  const double band = std::max(6 * sigma, 2e-5 * (high - low));
  double mean = motion[0];
  size_t quiet = 0;
  double count = 0;
  for (size_t i = 0; i < n; ++i) {
    if (!std::isfinite(motion[i])) continue;
    if (count == 0) mean = motion[i];
    if (std::abs(motion[i] - mean) > band) break;
    // The reference follows only the first stretch, so that a slow start cannot drag it along.
    if (count < 200) mean += (motion[i] - mean) / (count + 1);
    count += 1;
    quiet = i + 1;
  }
  if (quiet == n) return 0;
  quiet -= quiet / 10;  // stay clear of the moment motion began
  return quiet < 3 ? 0 : quiet;
}

}  // namespace fortitor
