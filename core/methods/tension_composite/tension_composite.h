// Tension of fibre composites (docs/methods/tension-composite.md; ISO 527-4 and -5, ASTM D3039).
#pragma once

#include "core/methods/method.h"

namespace fortitor::methods {

const Method& tension_composite();

}  // namespace fortitor::methods
