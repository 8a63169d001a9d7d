// Flatwise tension of sandwich panels (docs/methods/flatwise-tension.md; ASTM C297).
#pragma once

#include "core/methods/method.h"

namespace fortitor::methods {

const Method& flatwise_tension();

}  // namespace fortitor::methods
