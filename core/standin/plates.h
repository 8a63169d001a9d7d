// The laminate plates of the impact stand-ins: one plate through drop, dent and compression.
#pragma once

#include <cstdint>

namespace fortitor::standin {

struct Plate {
  const char *id, *label, *material;
  double thickness;  ///< mm
  double modulus;    ///< MPa, in compression
  double undamaged;  ///< MPa
  double struck;     ///< J/mm it was struck with before it is compressed; 0: whole
  double bending;    ///< share by which it carries more on the front as it is put in, left pair
};
inline constexpr Plate kPlates[] = {
    {"roof-shell", "roof shell, 6.7 J/mm", "CFRP quasi-isotropic", 4.2, 48300, 390, 6.7, 0.04},
    {"roof-shell-light", "roof shell, 3 J/mm", "CFRP quasi-isotropic", 4.2, 48300, 390, 3.0, 0.03},
    {"roof-shell-hard", "roof shell, 10 J/mm", "CFRP quasi-isotropic", 4.2, 48300, 390, 10.0, -0.05},
    {"roof-shell-whole", "roof shell, not struck", "CFRP quasi-isotropic", 4.2, 48300, 390, 0, 0.03}};

/// Depth of the dent, mm, minutes after a strike of `per` J/mm.
double dent_of(double per);
/// Length of the damage across the plate, mm.
double damage_of_strike(double per);
/// Share of the undamaged strength in compression that is left.
double retention_of(double per);

}  // namespace fortitor::standin
