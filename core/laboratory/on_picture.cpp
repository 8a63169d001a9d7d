#include "core/laboratory/on_picture.h"

#include <cmath>

#include "core/quantity/format.h"
#include "core/quantity/plain.h"

namespace fortitor::lab {

Outcome<PictureScale> scale_of(double pixels, const std::string& typed, UnitSet units) {
  const auto q = parse_quantity(typed, Dimension::length, {units, nullptr});
  if (!q) return q.error();
  if (!(q->value > 0)) return InputError{"The known length is above zero.", {}};
  if (!(pixels >= 10)) return InputError{"The two marks lie too close to one another for a scale.", {}};
  const Reading r = reading_of(*q);
  return PictureScale{pixels, q->value, r.resolution};
}

PictureLength length_on(const PictureScale& s, double pixels) {
  PictureLength out;
  if (!(s.pixels > 0) || !(s.length > 0)) return out;
  out.value = pixels * s.length / s.pixels;
  // Two marks each (GUM, 5.1.2); a digit as typed is a rectangle of its step (GUM, 4.3.7).
  const double ends = std::sqrt(2.0) * kPointing;
  const double of_distance = ends * s.length / s.pixels, of_scale = out.value * ends / s.pixels,
               of_length = out.value * (s.resolution / std::sqrt(12.0)) / s.length;
  out.standard = std::sqrt(of_distance * of_distance + of_scale * of_scale + of_length * of_length);
  return out;
}

Reading reading_on(const PictureScale& s, double pixels) {
  const PictureLength l = length_on(s, pixels);
  // The last digit is of the size of u, so that the reading does not say more than is known.
  const int decimals = l.standard > 0 ? std::clamp(int(std::ceil(-std::log10(l.standard * 2))), 0, 4) : 2;
  Reading r;
  r.typed = plain::fixed(l.value, decimals) + " mm";
  r.value = plain::number(plain::fixed(l.value, decimals)).value_or(l.value);
  r.resolution = std::pow(10.0, -decimals);
  r.standard = l.standard;
  return r;
}

}  // namespace fortitor::lab
