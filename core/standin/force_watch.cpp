#include "core/standin/force_watch.h"

#include <algorithm>
#include <cmath>
#include <utility>

namespace fortitor {
namespace {

constexpr size_t kToKnowZero = 5;  // readings from which the standing force is known
constexpr double kMoved = 8;       // standard deviations of the standing force that are a movement
constexpr size_t kMovedFor = 3;    // readings in a row
constexpr double kFallen = 0.25;   // of the peak, within kSudden of having been at kHeld of it: a break
constexpr double kHeld = 0.6;
constexpr double kSudden = 0.3;     // s
constexpr double kAboveNoise = 10;  // times what is usual off the line (1.65 standard deviations): more than noise …
constexpr size_t kOffLine = 64;     // … of so many readings
constexpr size_t kFewest = 12;
constexpr double kAfterBreak = 0.5;  // s recorded after a break
constexpr double kUnloaded = 0.03;   // of the peak, for kRest: the piece was unloaded
constexpr double kRest = 5;          // s

double middle(std::vector<double> all) {
  std::nth_element(all.begin(), all.begin() + long(all.size() / 2), all.end());
  return all[all.size() / 2];
}

}  // namespace

std::optional<Standing> movement(const std::vector<double>& force, double resolution) {
  if (force.size() < kToKnowZero + kMovedFor || !std::isfinite(force.back())) return std::nullopt;
  double digit = 0;
  std::vector<double> older, steps;
  for (size_t i = 0; i < force.size(); ++i) {
    if (i < std::max(kToKnowZero, force.size() / 2) && std::isfinite(force[i])) older.push_back(force[i]);
    const double step = i > 0 ? std::abs(force[i] - force[i - 1]) : NAN;
    if (!std::isfinite(step)) continue;
    steps.push_back(step);
    // Where it stands still to the last digit, its digit is the least movement.
    if (step > 0 && (digit == 0 || step < digit)) digit = step;
  }
  if (older.size() < kToKnowZero || steps.empty()) return std::nullopt;
  // A display that holds its nought still has noise that nobody sees before it moves.
  // The zero is the middle one: a single reading that stands out would drag a mean off, and rest would be a movement.
  const Standing s{middle(older), std::max({kMoved * middle(steps) / 0.954, 2 * digit, 2 * resolution})};
  for (size_t i = force.size() - kMovedFor; i < force.size(); ++i)
    if (!(std::abs(force[i] - s.zero) > s.threshold)) return std::nullopt;
  return s;
}

// Of a pull a reading stands on the line of the two before it; of noise nothing does.
bool EndWatch::stands_out() const {
  if (off_line_.size() < kFewest) return false;
  return peak_ >= std::max(4 * standing_.threshold, kAboveNoise * middle({off_line_.begin(), off_line_.end()}));
}

EndWatch::Says EndWatch::look(double t, double force) {
  const double said = std::abs(force - standing_.zero);
  if (!std::isfinite(said)) return Says::goes_on;
  const auto [before, last] = std::exchange(last_, {last_.second, said});
  if (++seen_ < 3) return Says::goes_on;
  off_line_.push_back(std::abs(said - 2 * last + before));
  if (off_line_.size() > kOffLine) off_line_.pop_front();
  // The middle one of three: a single reading that stands out is neither a peak nor a fall.
  const double f = std::max(std::min(said, last), std::min(std::max(said, last), before));
  peak_ = std::max(peak_, f);
  recent_.push_back({t, f});
  while (recent_.size() > 1 && t - recent_.front().first > kSudden) recent_.pop_front();
  if (broken_at_) return t - *broken_at_ >= kAfterBreak ? Says::over_broken : Says::goes_on;
  if (!stands_out()) return Says::goes_on;
  const bool held =
      std::any_of(recent_.begin(), recent_.end(), [&](const auto& r) { return r.second > kHeld * peak_; });
  if (f < kFallen * peak_ && held) {
    broken_at_ = t;
    return Says::broke;
  }
  if (f > kUnloaded * peak_) {
    resting_since_.reset();
  } else if (!resting_since_) {
    resting_since_ = t;
  } else if (t - *resting_since_ > kRest) {
    return Says::over_unloaded;
  }
  return Says::goes_on;
}

}  // namespace fortitor
