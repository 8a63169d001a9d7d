// The laminate plates of the impact stand-ins: one plate through drop, dent and compression.
#pragma once

#include <cstdint>
#include <memory>

#include "core/record/record.h"
#include "core/standin/machine.h"

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

/// Mean of its readings, mm; the plate's own where it has none.
double plate_thickness(const TestRecord& r);
/// Depth of the dent, mm, minutes after a strike of `per` J/mm.
double dent_of(double per);
/// Length of the damage across the plate, mm.
double damage_of_strike(double per);
/// Share of the undamaged strength in compression that is left.
double retention_of(double per);

/// Force, N, of a plate that has been pushed in by δ, mm: stiffening with δ, softer and with a sudden fall at the first
/// damage.
class Dented {
 public:
  /// `thickness` mm; `seed`: the piece.
  Dented(double thickness, uint64_t seed);
  /// Force at a depth, mm, after all depths before it.
  double push(double depth);

 private:
  double stiff_, first_, most_ = 0, top_ = 0, at_ = 0;
  bool cracked_ = false;
};

/// A plate pressed in slowly until the energy asked for is in it.
std::unique_ptr<Machine> indent_press(const TestRecord& r);

}  // namespace fortitor::standin
