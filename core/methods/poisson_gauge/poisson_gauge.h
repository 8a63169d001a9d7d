// Poisson's ratio by strain gauges (docs/methods/poisson-gauge.md; ASTM E132 for the slopes).
#pragma once

#include "core/methods/method.h"

namespace fortitor::methods {

const Method& poisson_gauge();

}  // namespace fortitor::methods
