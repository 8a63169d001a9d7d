#include <algorithm>
#include <cmath>

#include "core/curve/shape.h"
#include "core/curve/signal.h"

namespace fortitor {
namespace {

// An upper yield point (ISO 6892-1, 3.10.2.1) is the first maximum from which the force falls.
constexpr double kYieldDrop = 0.005;         // of the local maximum: a fall of half a per cent is one of the curve …
constexpr double kClearOfNoise = 6;          // … when it is as many standard deviations of the noise deep
constexpr double kMostPlasticStrain = 0.01;  // at it: steels yield within some per mille
constexpr double kElasticReturn = 0.25;      // of the elastic strain of the fall, back: less is no grip that slipped
constexpr double kBreak = 0.5;               // of the maximum left after the fall: less is a break from the straight

// Necking also falls from a maximum. What tells yielding apart:
constexpr double kPlateauLooked = 0.002;  // strain behind the fall over which a plateau keeps its level …
constexpr double kPlateauKeeps = 0.8;     // … to this share of R_eH, where the force never comes back
constexpr double kComesBack = 0.995;      // of R_eH: hardening has come back to it
constexpr double kNeckStrain = 0.004;     // plastic strain at a maximum without return that only necking has

// The plateau and R_eL on it (3.10.2.2, without the transient).
constexpr double kTurnNoise = 5, kTurnShare = 0.0015;   // a trough stands out by as many deviations and this of R_eH
constexpr double kFirstTrough = 0.01;                   // strain within which the first trough is looked for
constexpr double kLevelFrom = 0.001, kLevelTo = 0.02;   // strains behind it between which the first level is taken
constexpr double kOnPlateau = 1.01, kOffPlateau = 0.9;  // of its level: still on it; left it, downwards
constexpr double kLongestPlateau = 0.06;                // strain: past it nothing belongs to a plateau any more
constexpr int kPasses = 8;                              // of level and end of the plateau, which settle each other
constexpr double kSettled = 1e-5;                       // relative change of the level that is none

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
  constexpr double kFewSamples = 20;  // below it "the largest of many" says nothing
  const double many = std::max(kFewSamples, double(i));
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

  size_t top = elastic.last - 1;
  size_t fallen = end;
  for (size_t i = elastic.last; i < end; ++i) {
    const double plastic = strain[top] - origin - stress[top] / slope;
    if (stress[i] > stress[top]) {
      top = i;
      continue;
    }
    if (plastic > kMostPlasticStrain) return std::nullopt;
    const double drop = std::max(kYieldDrop * stress[top], kClearOfNoise * sigma);
    if (stress[i] >= stress[top] - drop) continue;
    if (!out_of_noise(stress, top, i, end, sigma)) continue;
    // A slipping grip unloads the bar along its elastic line; yielding goes on straining.
    if (strain[i] < strain[top] - kElasticReturn * (stress[top] - stress[i]) / slope) return std::nullopt;
    fallen = i;
    break;
  }
  if (fallen == end) return std::nullopt;
  // A break straight from the elastic line is no yield point.
  if (stress[fallen] < kBreak * stress[top]) return std::nullopt;
  Yielding y;
  y.upper = top;
  const double reh = stress[top];
  const double after_plastic = strain[top] - origin - reh / slope;

  // The force of a neck never comes back, and the bar has strained plastically before.
  // From the fall on: a jolt of the extensometer earlier may hold any strain.
  size_t trough_probe = fallen;
  while (trough_probe < end && !(strain[trough_probe] >= strain[fallen] + kPlateauLooked)) ++trough_probe;
  if (trough_probe < end) {
    const double later = *std::max_element(stress.begin() + long(fallen), stress.begin() + long(end));
    const double kept = *std::min_element(stress.begin() + long(fallen), stress.begin() + long(trough_probe) + 1);
    const bool recovers = later >= kComesBack * reh;
    if (!recovers && (after_plastic > kNeckStrain || kept < kPlateauKeeps * reh)) return std::nullopt;
  }

  const double threshold = std::max(kTurnNoise * sigma, kTurnShare * reh);
  // First pass over everything after R_eH gives the first trough and with it the plateau's level.
  double running_low = stress[fallen];
  size_t first_trough = fallen;
  for (size_t i = fallen; i < end; ++i) {
    if (stress[i] < running_low) {
      running_low = stress[i];
      first_trough = i;
    }
    if (stress[i] > running_low + threshold) break;
    if (strain[i] > strain[fallen] + kFirstTrough) break;
  }
  // From the first trough to the last time stress is about its mean.
  // The transient trough may undercut all that follows, so the level starts from what comes after it.
  double level = HUGE_VAL;
  for (size_t i = first_trough; i < end && strain[i] <= strain[first_trough] + kLevelTo; ++i)
    if (strain[i] >= strain[first_trough] + kLevelFrom) level = std::min(level, stress[i]);
  if (!std::isfinite(level) || level < stress[first_trough]) level = stress[first_trough];
  size_t plateau_end = first_trough;
  for (int pass = 0; pass < kPasses; ++pass) {
    size_t last_low = first_trough;
    double sum = 0, count = 0;
    for (size_t i = first_trough; i < end; ++i) {
      if (stress[i] <= kOnPlateau * level) last_low = i;
      if (strain[i] > strain[top] + kLongestPlateau || stress[i] < kOffPlateau * level) break;
    }
    for (size_t i = first_trough; i <= last_low; ++i) {
      sum += stress[i];
      count += 1;
    }
    const double mean = sum / count;
    const bool settled = std::abs(mean - level) < kSettled * level;
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
