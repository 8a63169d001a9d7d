// Impact tension: a round or flat bar pulled apart by the pendulum (docs/methods/impact-tension.md; ISO 8256 for
// plastics; for metals no designation is fixed, the report says how it was done).
#pragma once

#include "core/methods/method.h"

namespace fortitor::methods {

const Method& impact_tension();

}  // namespace fortitor::methods
