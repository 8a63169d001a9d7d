// Fatigue at constant amplitude: S–N line, staircase, detail category, mean stress, crack start
// (docs/methods/fatigue-constant.md; ASTM E739, ISO 12107, EN 1993-1-9).
#pragma once

#include "core/methods/method.h"

namespace fortitor::methods {

const Method& fatigue_constant();

}  // namespace fortitor::methods
