// What a curved surface does to a Vickers indent, from the geometry of the contact.
#include <cmath>

#include "core/methods/hardness_vickers/hardness_vickers.h"

namespace fortitor {

double curved_vickers_factor(double d, double diameter, bool sphere, bool convex, bool cylinder_45) {
  if (!(d > 0) || !(diameter > 2 * d)) return NAN;
  // Heights over the tip of the indent: the pyramid rises with slope s(φ), the surface falls from `t` by r²/D (a
  // sphere) or by the part of it across the axis (a cylinder). Where they meet is the outline.
  const double face = std::tan(22.0 * M_PI / 180), sign = convex ? 1 : -1;
  auto bend = [&](double phi) {
    if (sphere) return sign / diameter;
    const double across = cylinder_45 ? std::sin(phi + M_PI / 4) : std::sin(phi);  // φ from a diagonal
    return sign * across * across / diameter;
  };
  auto slope = [&](double phi) {  // φ from a diagonal; the face lies 45° off it
    const double off = std::fmod(phi, M_PI / 2) - M_PI / 4;
    return face * std::cos(off);
  };
  auto radius = [&](double phi, double t) {
    const double s = slope(phi), k = bend(phi);
    return std::abs(k) < 1e-12 ? t / s : (-s + std::sqrt(std::max(0.0, s * s + 4 * k * t))) / (2 * k);
  };
  auto mean_diagonal = [&](double t) {
    double sum = 0;
    for (int i = 0; i < 4; ++i) sum += radius(i * M_PI / 2, t);
    return sum / 2;
  };
  double low = 0, high = 0.5 * d;  // depth whose mean diagonal is d
  for (int i = 0; i < 80; ++i) (mean_diagonal(0.5 * (low + high)) < d ? low : high) = 0.5 * (low + high);
  const double t = 0.5 * (low + high);
  double area = 0;
  constexpr int kSteps = 720;
  for (int i = 0; i < kSteps; ++i) {
    const double r = radius((i + 0.5) * 2 * M_PI / kSteps, t);
    area += 0.5 * r * r * 2 * M_PI / kSteps;
  }
  return d * d / 2 / area;
}

}  // namespace fortitor
