#include "core/plan/plan.h"

#include <algorithm>
#include <cmath>

namespace fortitor {

double advised_cell(double low, double high) {
  if (!(high > 0) || !std::isfinite(high)) return 0;
  static constexpr double kCells[] = {10,  20,  50,  100, 200, 500, 1e3, 2e3, 5e3,
                                      1e4, 2e4, 5e4, 1e5, 2e5, 5e5, 1e6, 2e6, 5e6};
  for (double c : kCells)
    if (high <= 0.9 * c && low >= 0.1 * c) return c;
  for (double c : kCells)
    if (high <= 0.9 * c) return c;
  return kCells[std::size(kCells) - 1];
}

double speed_for_strain_rate(double strain_rate, double parallel_length, double modulus, double area,
                             double stiffness) {
  const double compliance = stiffness > 0 ? modulus * area / stiffness : 0.0;
  return strain_rate * (parallel_length + compliance);
}

double sampling_for(double yield_strain, double strain_rate, int points) {
  if (!(yield_strain > 0) || !(strain_rate > 0)) return 50;
  return std::ceil(points * strain_rate / yield_strain);
}

}  // namespace fortitor
