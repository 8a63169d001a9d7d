// Torsion of bars and tubes to failure (methods section 7; ISO 18338 for metals).
#pragma once

#include "core/methods/method.h"

namespace fortitor::methods {

const Method& torsion_bar();

}  // namespace fortitor::methods
