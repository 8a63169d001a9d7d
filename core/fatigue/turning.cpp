#include "core/fatigue/turning.h"

namespace fortitor::fatigue {

void extremes_of(const double* x, size_t count, uint64_t from, std::vector<Extreme>& out) {
  if (count == 0) return;
  out.push_back({from, x[0]});
  double last = x[0];
  bool up = false, moving = false;
  for (size_t i = 1; i < count; ++i) {
    const double v = x[i];
    if (v == last) continue;
    const bool rises = v > last;
    if (moving && rises != up) out.push_back({from + i - 1, last});
    up = rises;
    moving = true;
    last = v;
  }
  if (count > 1) out.push_back({from + count - 1, x[count - 1]});
}

void TurningPoints::push(const Extreme& e) {
  if (!any_) {
    low_ = high_ = e;
    any_ = true;
    return;
  }
  if (direction_ == 0) {
    if (e.value < low_.value) low_ = e;
    if (e.value > high_.value) high_ = e;
    if (e.value - low_.value > gate_) {
      points_.push_back(low_);
      direction_ = 1;
      newest_ = e;
    } else if (high_.value - e.value > gate_) {
      points_.push_back(high_);
      direction_ = -1;
      newest_ = e;
    }
    return;
  }
  const double on = direction_ * (e.value - newest_.value);
  if (on > 0) {
    newest_ = e;
  } else if (-on > gate_) {
    points_.push_back(newest_);
    direction_ = -direction_;
    newest_ = e;
  }
}

std::vector<Extreme> TurningPoints::take() {
  if (direction_ != 0) points_.push_back(newest_);
  return std::move(points_);
}

std::vector<Extreme> turning_points(const std::vector<Extreme>& extremes, double gate) {
  TurningPoints t(gate);
  for (const Extreme& e : extremes) t.push(e);
  return t.take();
}

}  // namespace fortitor::fatigue
