// Turning points of a signal: where it goes back by more than a gate.
#pragma once

#include <cstddef>
#include <cstdint>
#include <vector>

namespace fortitor::fatigue {

struct Extreme {
  uint64_t at = 0;  ///< sample
  double value = 0;
};

/// Every place where x stops rising or falling (a plateau counts once), and its first and last sample. x has no NaN and
/// begins at sample `from`.
void extremes_of(const double* x, size_t count, uint64_t from, std::vector<Extreme>& out);

/// Hysteresis: a reversal counts when the signal has moved back by more than the gate (≥ 0). What it keeps of the
/// extremes of a signal is what it would keep of all its samples.
class TurningPoints {
 public:
  explicit TurningPoints(double gate) : gate_(gate) {}
  void push(const Extreme& e);
  /// With the last extreme, which nothing has confirmed yet.
  std::vector<Extreme> take();
  /// Turning points that the signal has left by more than the gate.
  size_t confirmed() const { return points_.size(); }

 private:
  double gate_;
  int direction_ = 0;
  bool any_ = false;
  Extreme low_, high_, newest_;
  std::vector<Extreme> points_;
};

std::vector<Extreme> turning_points(const std::vector<Extreme>& extremes, double gate);

}  // namespace fortitor::fatigue
