#include <algorithm>
#include <cmath>

#include "core/curve/shape.h"
#include "core/curve/signal.h"

namespace fortitor {
namespace {

constexpr double kYieldDrop = 0.005;         // of the local maximum
constexpr double kMostPlasticStrain = 0.01;  // at an upper yield point

struct Turn {
  size_t index;
  bool trough;
};

// Turning points of a noisy signal that stand out by at least `threshold` on both sides.
std::vector<Turn> turning_points(const std::vector<double>& y, size_t first, size_t last, double threshold) {
  std::vector<Turn> turns;
  size_t low = first, high = first;
  int direction = -1;  // the curve has just fallen off the upper yield
  for (size_t i = first; i < last; ++i) {
    if (y[i] < y[low]) low = i;
    if (y[i] > y[high]) high = i;
    if (direction < 0 && y[i] > y[low] + threshold) {
      turns.push_back({low, true});
      direction = 1;
      high = i;
    } else if (direction > 0 && y[i] < y[high] - threshold) {
      turns.push_back({high, false});
      direction = -1;
      low = i;
    }
  }
  if (direction < 0 && low + 1 < last) turns.push_back({low, true});
  return turns;
}

// Whether a fall from `top` to `i` is one of the curve: the means over five samples before the top and from the fall on
// differ by more than the largest and smallest of so many noisy means would. A sharp point has few samples at its top,
// so that the mean before it only makes the fall look smaller.
bool out_of_noise(const std::vector<double>& y, size_t top, size_t i, size_t end, double sigma) {
  constexpr size_t kStretch = 5;
  if (!(sigma > 0)) return true;
  auto mean = [&](size_t from, size_t to) {
    double sum = 0;
    for (size_t k = from; k < to; ++k) sum += y[k];
    return sum / double(to - from);
  };
  const double before = mean(top + 1 - std::min(top + 1, kStretch), top + 1);
  const double after = mean(i, std::min(end, i + kStretch));
  const double many = std::max(20.0, double(i));
  return before - after > 2 * std::sqrt(2 * std::log(many)) * sigma / std::sqrt(double(kStretch));
}

}  // namespace

std::optional<Yielding> find_yielding(const std::vector<double>& strain, const std::vector<double>& stress,
                                      const ElasticWindow& elastic, size_t end) {
  end = std::min({end, stress.size(), strain.size()});
  if (elastic.last >= end) return std::nullopt;
  const double slope = elastic.line.slope;
  const double origin = -elastic.line.intercept / slope;
  const double sigma = noise_of(stress, elastic.first, end);

  // The first maximum from which stress falls by 0.5 % (and clear of noise).
  size_t top = elastic.last - 1;
  size_t fallen = end;
  for (size_t i = elastic.last; i < end; ++i) {
    const double plastic = strain[top] - origin - stress[top] / slope;
    if (stress[i] > stress[top]) {
      top = i;
      continue;
    }
    if (plastic > kMostPlasticStrain) return std::nullopt;
    const double drop = std::max(kYieldDrop * stress[top], 6 * sigma);
    if (stress[i] >= stress[top] - drop) continue;
    if (!out_of_noise(stress, top, i, end, sigma)) continue;
    // A slipping grip unloads the bar along its elastic line; yielding goes on straining.
    if (strain[i] < strain[top] - 0.25 * (stress[top] - stress[i]) / slope) return std::nullopt;
    fallen = i;
    break;
  }
  if (fallen == end) return std::nullopt;
  // A break straight from the elastic line is no yield point.
  if (stress[fallen] < 0.5 * stress[top]) return std::nullopt;
  Yielding y;
  y.upper = top;
  const double reh = stress[top];
  const double after_plastic = strain[top] - origin - reh / slope;

  // Necking also falls from a maximum; what tells it apart is that the force never comes back and
  // the bar has strained plastically before. A plateau keeps its level over strain.
  // From the fall on: a jolt of the extensometer earlier may hold any strain.
  size_t trough_probe = fallen;
  while (trough_probe < end && !(strain[trough_probe] >= strain[fallen] + 0.002)) ++trough_probe;
  if (trough_probe < end) {
    const double later = *std::max_element(stress.begin() + long(fallen), stress.begin() + long(end));
    const double kept = *std::min_element(stress.begin() + long(fallen), stress.begin() + long(trough_probe) + 1);
    const bool recovers = later >= 0.995 * reh;
    if (!recovers && (after_plastic > 0.004 || kept < 0.8 * reh)) return std::nullopt;
  }

  const double threshold = std::max(5 * sigma, 0.0015 * reh);
  // First pass over everything after R_eH gives the first trough and with it the plateau's level.
  double running_low = stress[fallen];
  size_t first_trough = fallen;
  for (size_t i = fallen; i < end; ++i) {
    if (stress[i] < running_low) {
      running_low = stress[i];
      first_trough = i;
    }
    if (stress[i] > running_low + threshold) break;
    if (strain[i] > strain[fallen] + 0.01) break;
  }
  // Plateau: from the first trough to the last time stress is within 1 % of its mean.
  // The transient trough may undercut all that follows, so the level starts from what comes after it.
  double level = HUGE_VAL;
  for (size_t i = first_trough; i < end && strain[i] <= strain[first_trough] + 0.02; ++i)
    if (strain[i] >= strain[first_trough] + 0.001) level = std::min(level, stress[i]);
  if (!std::isfinite(level) || level < stress[first_trough]) level = stress[first_trough];
  size_t plateau_end = first_trough;
  for (int pass = 0; pass < 8; ++pass) {
    size_t last_low = first_trough;
    double sum = 0, count = 0;
    for (size_t i = first_trough; i < end; ++i) {
      if (stress[i] <= 1.01 * level) last_low = i;
      // Past 6 % strain beyond R_eH nothing belongs to a plateau any more.
      if (strain[i] > strain[top] + 0.06 || stress[i] < 0.9 * level) break;
    }
    for (size_t i = first_trough; i <= last_low; ++i) {
      sum += stress[i];
      count += 1;
    }
    const double mean = sum / count;
    const bool settled = std::abs(mean - level) < 1e-5 * level;
    level = mean;
    plateau_end = last_low;
    if (settled) break;
  }
  y.plateau = level;
  y.plateau_end = plateau_end;
  // R_eL: without the first, transient trough when a later one exists.
  const auto turns = turning_points(stress, fallen, plateau_end + 1, threshold);
  std::vector<size_t> troughs;
  for (const Turn& t : turns)
    if (t.trough) troughs.push_back(t.index);
  if (troughs.empty()) troughs.push_back(first_trough);
  y.transient_left_out = troughs.size() > 1;
  auto from = troughs.begin() + (y.transient_left_out ? 1 : 0);
  y.lower = *std::min_element(from, troughs.end(), [&](size_t a, size_t b) { return stress[a] < stress[b]; });
  return y;
}

}  // namespace fortitor
