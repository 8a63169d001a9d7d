// Pendulum impact on notched bars: a set of blows at one temperature; the transition over the sets of a series
// (docs/methods/impact-pendulum.md; ISO 148-1, ISO 179-1, ISO 180, ASTM E23, ASTM D256).
#pragma once

#include "core/methods/method.h"

namespace fortitor::methods {

const Method& impact_pendulum();

}  // namespace fortitor::methods
