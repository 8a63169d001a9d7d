// Tension of metals at room temperature (ISO 6892-1, ASTM E8/E8M); docs/methods/tension-metal.md.
#pragma once

#include "core/methods/method.h"

namespace fortitor::methods {

const Method& tension_metal();

}  // namespace fortitor::methods
