// Knoop hardness: the long diagonal of a slender pyramid, for thin coatings and single phases
// (docs/methods/hardness-knoop.md; ISO 4545-1, ASTM E92).
#pragma once

#include "core/methods/method.h"

namespace fortitor::knoop {

/// P/(0.07028·L²), P = `force` in kgf, L in mm; `force` here in N.
double hk_of(double force, double length);

}  // namespace fortitor::knoop

namespace fortitor::methods {

const Method& hardness_knoop();

}  // namespace fortitor::methods
