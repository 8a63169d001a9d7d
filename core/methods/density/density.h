// Density and moisture of regular pieces by their sizes, of any piece by weighing it in water (docs/methods/density.md;
// ISO 1183-1, ISO 13061-2).
#pragma once

#include "core/methods/method.h"

namespace fortitor {

/// Density of water free of air at `celsius`, kg/m³, 0 to 40 °C (Tanaka et al. 2001, Metrologia 38, 301–309).
double water_density(double celsius);

namespace methods {

const Method& density();

}  // namespace methods
}  // namespace fortitor
