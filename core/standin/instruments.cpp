#include "core/standin/instruments.h"

#include <algorithm>
#include <cmath>
#include <cstdlib>

#include "core/quantity/plain.h"

namespace fortitor::standin {

std::string shown(double value, double step, const std::string& unit) {
  int decimals = 0;
  for (double s = step; s < 0.999 && decimals < 6; s *= 10) ++decimals;
  double rounded = std::round(value / step) * step;
  if (rounded == 0) rounded = 0;  // no "-0"
  return plain::fixed(rounded, decimals) + " " + unit;
}

namespace {

// Friction and a steady hand have no long tails.
double steady(double noise) {
  return std::clamp(noise, -2.0, 2.0);
}

}  // namespace

std::string DialGauge::read(double travel, double slip) {
  return shown(travel - zero_ + slip + 0.15 * division_ * steady(noise_(random_)), division_, "mm");
}

StrainIndicator::StrainIndicator(uint64_t seed) : random_(seed * 104729 + 11) {
  for (size_t c = 0; c < 4; ++c) {
    wander_[c] = 40e-6 * noise_(random_);  // bridges are never balanced by themselves
    drift_[c] = 0.05e-6 * noise_(random_);
  }
}

std::optional<std::string> StrainIndicator::read(size_t channel, double strain) {
  wander_[channel] += drift_[channel];
  if (open_[channel]) return std::nullopt;
  return shown((strain + wander_[channel] - zero_[channel]) * 1e6 + 0.4 * steady(noise_(random_)), 1, "µε");
}

void taper(std::vector<std::string>& readings, double size, double step) {
  const bool same =
      std::all_of(readings.begin(), readings.end(), [&](const std::string& r) { return r == readings.front(); });
  if (readings.size() < 2 || !same) return;
  std::string_view first = readings.front();
  const double read = plain::take_number(first).value_or(0);
  readings.back() = shown(read + (size < read ? -step : step), step, "mm");
}

std::vector<std::string> caliper(double size, double scatter, double step, int wanted, uint64_t seed) {
  std::mt19937_64 random(seed);
  std::normal_distribution<double> hand;
  std::vector<std::string> out;
  for (int i = 0; i < wanted; ++i)
    out.push_back(shown(size + scatter * std::clamp(hand(random), -1.5, 1.5), step, "mm"));
  taper(out, size, step);
  return out;
}

}  // namespace fortitor::standin
