#include "core/curve/spikes.h"

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

constexpr size_t kAround = 10;     // samples on either side that a spike is held against
constexpr double kOfOthers = 8;    // times what the others lie off their neighbours
constexpr double kOfStep = 3;      // times what its neighbours differ
constexpr double kOfRange = 0.01;  // of the range of all others
constexpr double kCounts = 16;     // least steps of a channel that stands still otherwise
constexpr size_t kFewest = 2 * kAround + 5;

// How far the samples [i, i + width) lie off the line between those before and behind, all on one side; 0 otherwise.
double off(const std::vector<double>& v, size_t i, size_t width, size_t* farthest = nullptr) {
  const double a = v[i - 1], b = v[i + width];
  double least = HUGE_VAL, most = 0;
  int side = 0;
  for (size_t k = 0; k < width; ++k) {
    const double d = v[i + k] - (a + (b - a) * double(k + 1) / double(width + 1));
    if (!std::isfinite(d) || (side != 0 && (d > 0) != (side > 0))) return 0;
    side = d > 0 ? 1 : -1;
    least = std::min(least, std::abs(d));
    if (std::abs(d) > most) {
      most = std::abs(d);
      if (farthest != nullptr) *farthest = i + k;
    }
  }
  return least;
}

// Whether it also lies beyond where the courses before and behind it go on to: the top of a triangle, or a short
// plateau, lies off the line between its neighbours, but on the way of one side or short of both.
bool beyond_both(const std::vector<double>& v, size_t i, size_t width, double d) {
  constexpr double kBeyond = 0.5;  // of what it lies off the line
  if (i < 2 || i + width + 1 >= v.size()) return false;
  const double a = v[i - 1], b = v[i + width], before = a - v[i - 2], behind = b - v[i + width + 1];
  const double side = v[i] > 0.5 * (a + b) ? 1 : -1;
  for (size_t k = 0; k < width; ++k)
    for (double on : {a + before * double(k + 1), b + behind * double(width - k)})
      if (!(side * (v[i + k] - on) > kBeyond * d)) return false;
  return true;
}

// The largest that any other near lies off its own neighbours.
double others_off(const std::vector<double>& v, size_t i, size_t width) {
  double most = 0;
  const size_t from = i > kAround ? i - kAround : 1, to = std::min(v.size() - 1, i + width + kAround);
  for (size_t k = from; k < to; ++k) {
    if (k + 1 >= i && k <= i + width) continue;  // touches the spike
    const double d = std::abs(v[k] - 0.5 * (v[k - 1] + v[k + 1]));
    if (std::isfinite(d)) most = std::max(most, d);
  }
  return most;
}

double least_step(const std::vector<double>& v) {
  double least = HUGE_VAL;
  for (size_t i = 1; i < v.size(); ++i)
    if (const double step = std::abs(v[i] - v[i - 1]); step > 0 && step < least) least = step;
  return std::isfinite(least) ? least : 0;
}

void look(const Channel& c, const std::vector<double>& time, std::vector<Spike>& out) {
  const std::vector<double>& v = c.values;
  if (v.size() < kFewest || v.size() != time.size()) return;
  double low = HUGE_VAL, high = -HUGE_VAL;  // of all readings that a neighbour comes near to: without the spikes
  for (size_t i = 1; i < v.size(); ++i) {
    if (!std::isfinite(v[i]) || !std::isfinite(v[i - 1])) continue;
    low = std::min(low, std::max(v[i], v[i - 1]));
    high = std::max(high, std::min(v[i], v[i - 1]));
  }
  if (!(high > low)) return;
  const double floor = kOfRange * (high - low);
  double count = -1;
  for (size_t i = 1; i + 1 < v.size(); ++i) {
    // What lies off the line by d, more than three times what its neighbours differ, lies 2/3·d off the one before it:
    // nearly every sample ends here.
    if (!(std::abs(v[i] - v[i - 1]) > (1 - 1 / kOfStep) * floor)) continue;
    for (size_t width : {size_t(1), size_t(2)}) {
      if (i + width >= v.size()) break;
      size_t at = i;
      const double d = off(v, i, width, &at);
      if (!(d > floor) || !(d > kOfStep * std::abs(v[i + width] - v[i - 1]))) continue;
      if (!beyond_both(v, i, width, d) || !(d > kOfOthers * others_off(v, i, width))) continue;
      if (count < 0) count = least_step(v);
      if (d < kCounts * count) continue;
      const double a = v[i - 1], b = v[i + width];
      out.push_back({c.name, i, width, time[i], v[at], a + (b - a) * double(at - i + 1) / double(width + 1)});
      i += width;  // its far side is no spike of the other sign
      break;
    }
  }
}

}  // namespace

std::vector<Spike> spikes_of(const Samples& samples) {
  std::vector<Spike> out;
  const Channel* time = samples.find("time");
  // Samples out of their order have neighbours that are none.
  if (time == nullptr || !std::is_sorted(time->values.begin(), time->values.end())) return out;
  for (const Channel& c : samples.channels)
    if (&c != time) look(c, time->values, out);
  return out;
}

SamplesPtr without_spikes(const SamplesPtr& samples, const std::vector<Spike>& spikes) {
  if (spikes.empty()) return samples;
  auto out = std::make_shared<Samples>(*samples);
  for (Channel& c : out->channels)
    for (const Spike& s : spikes) {
      if (s.channel != c.name || s.first == 0 || s.first + s.width >= c.values.size()) continue;
      const double a = c.values[s.first - 1], b = c.values[s.first + s.width];
      for (size_t k = 0; k < s.width; ++k) c.values[s.first + k] = a + (b - a) * double(k + 1) / double(s.width + 1);
    }
  return out;
}

}  // namespace fortitor
