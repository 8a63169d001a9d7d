// Brinell hardness: diameter of the print of a ball (docs/methods/hardness-brinell.md; ISO 6506-1, ASTM E10).
#pragma once

#include <string>
#include <vector>

#include "core/methods/method.h"

namespace fortitor {

/// 0.102·2F/(πD(D − √(D² − d²))), F in N, D and d in mm. NaN for d ≥ D or what is not above zero.
double brinell_hardness(double force, double ball, double d);

/// Force–diameter indices 0.102·F/D² that suit a material of this family at this hardness (ISO 6506-1, table of the
/// ratio); empty when nothing is known of it. An unknown hardness (NaN) gives what is usual.
std::vector<double> brinell_indices(const std::string& family, double hb);

namespace methods {

const Method& hardness_brinell();

}  // namespace methods
}  // namespace fortitor
