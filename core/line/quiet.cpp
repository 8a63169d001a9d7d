#include "core/line/quiet.h"

#include <algorithm>
#include <cmath>

namespace fortitor::line {

void Quiet::put(double at, double value) {
  if (!std::isfinite(at) || !std::isfinite(value)) return;
  at = any_ ? std::max(at, last_) : at;
  if (!any_) first_ = at;
  any_ = true;
  last_ = at;
  const auto tenth = int64_t(std::floor(at / kTenth));
  Part& p = parts_[size_t(tenth % int64_t(parts_.size()) + int64_t(parts_.size())) % parts_.size()];
  if (p.tenth != tenth) p = {tenth, value, value};
  p.low = std::min(p.low, value);
  p.high = std::max(p.high, value);
}

void Quiet::forget() {
  *this = Quiet();
}

bool Quiet::over(double now, double window, double silence, double& low, double& high) const {
  window = std::min(window, kLongest);
  if (!any_ || now - last_ > silence || first_ > now - window) return false;
  const auto from = int64_t(std::floor((now - window) / kTenth)), to = int64_t(std::floor(now / kTenth));
  bool found = false;
  double heard = now - window;  // until when something is known; what was said before the window still stood then
  for (int64_t t = from; t <= to; ++t) {
    const Part& p = parts_[size_t(t % int64_t(parts_.size()) + int64_t(parts_.size())) % parts_.size()];
    if (p.tenth != t) continue;
    if (double(t) * kTenth - heard > silence + kTenth) return false;
    heard = double(t + 1) * kTenth;
    low = found ? std::min(low, p.low) : p.low;
    high = found ? std::max(high, p.high) : p.high;
    found = true;
  }
  return found;
}

}  // namespace fortitor::line
