// Drop-weight impact of composite plates, and quasi-static indentation as the other way of making the dent (methods,
// section 10; ASTM D7136, ASTM D6264).
#pragma once

#include <string>
#include "core/methods/method.h"

namespace fortitor::drop {

inline constexpr double kGravity = kStandardGravity * 1e3;  ///< g₀, mm/s²
inline const std::string kDamage = "drawn";                 ///< table of what was drawn on the plate
/// Energy asked for, J: as entered, or per thickness. Thickness in mm.
double target_of(const Fields& fields, double thickness);

}  // namespace fortitor::drop

namespace fortitor::methods {

const Method& drop_impact();

}  // namespace fortitor::methods
