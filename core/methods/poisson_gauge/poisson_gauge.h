// Poisson's ratio by strain gauges (methods section 4; ASTM E132 for the slopes).
#pragma once

#include "core/methods/method.h"

namespace fortitor::methods {

const Method& poisson_gauge();

}  // namespace fortitor::methods
