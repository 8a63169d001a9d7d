// Vickers hardness: two diagonals of a square pyramid, single indents and traverses (docs/methods/hardness-vickers.md;
// ISO 6507-1, ASTM E92; case depth: ISO 18203).
#pragma once

#include "core/methods/method.h"

namespace fortitor::vickers {

/// 0.1891·F/d², F in N, d in mm (ISO 6507-1, clause 4).
double hv_of(double force, double d);

}  // namespace fortitor::vickers

namespace fortitor {

/// Curved surface under a pyramid: by what the hardness read there is multiplied to hold for a flat one. From the
/// geometry of the contact: the outline of a 136° pyramid pressed into a sphere or cylinder of `diameter` mm, its area
/// against that of the square with the same mean diagonal `d`. Convex: below 1. `cylinder_45`: the diagonals lie at 45°
/// to the axis, otherwise one lies along it. NaN for d ≥ half the diameter.
double curved_vickers_factor(double d, double diameter, bool sphere, bool convex, bool cylinder_45 = true);

namespace methods {

const Method& hardness_vickers();

}  // namespace methods
}  // namespace fortitor
