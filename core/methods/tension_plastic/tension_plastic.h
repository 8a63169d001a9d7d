// Tension of plastics (docs/methods/tension-plastic.md; ISO 527-1 and -2, ASTM D638).
#pragma once

#include "core/methods/method.h"

namespace fortitor::methods {

const Method& tension_plastic();

}  // namespace fortitor::methods
