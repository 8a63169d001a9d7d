#include "core/standin/plates.h"

#include <cmath>

#include "core/standin/frame_model.h"
#include "core/standin/instruments.h"

namespace fortitor::standin {

double plate_thickness(const TestRecord& r) {
  return mean_of(r, "specimen.thickness", find_in(kPlates, r).thickness);
}
double dent_of(double per) {
  return 0.21 * std::pow(per / 6.7, 1.9);
}
double damage_of_strike(double per) {
  return 24 * std::pow(per / 6.7, 0.7);
}
double retention_of(double per) {
  return 1 / (1 + 0.95 * std::pow(per / 6.7, 0.8));
}

Dented::Dented(double thickness, uint64_t seed)
    : stiff_(330 * std::pow(thickness / 4.2, 1.6) * scatter(seed, 21, 0.02)),
      first_(3600 * std::pow(thickness / 4.2, 1.5) * scatter(seed, 22, 0.03)) {}

double Dented::push(double depth) {
  if (depth > most_) {
    most_ = depth;
    double f = stiff_ * std::pow(depth, 1.25);
    if (!cracked_ && f >= first_) cracked_ = true, at_ = depth;
    // The load falls by a seventh and the plate goes on softer.
    if (cracked_) f = first_ * 0.86 + 0.72 * stiff_ * (std::pow(depth, 1.25) - std::pow(at_, 1.25));
    top_ = f;
    return f;
  }
  // Back along a steeper line to the dent that stays.
  const double stays = most_ * (cracked_ ? 0.3 : 0.06);
  return depth <= stays ? 0 : top_ * std::pow((depth - stays) / (most_ - stays), cracked_ ? 2.4 : 1.3);
}

}  // namespace fortitor::standin
