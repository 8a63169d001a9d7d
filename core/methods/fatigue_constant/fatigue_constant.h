// Fatigue at constant amplitude: S–N line, staircase, detail category, mean stress, crack start (methods, section 12;
// ASTM E739, ISO 12107, EN 1993-1-9).
#pragma once

#include "core/methods/method.h"

namespace fortitor::methods {

const Method& fatigue_constant();

}  // namespace fortitor::methods
