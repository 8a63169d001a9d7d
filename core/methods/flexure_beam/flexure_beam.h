// Bending of beams in three or four points (methods section 6; ISO 178, ISO 13061-3 and -4, ASTM D143).
#pragma once

#include "core/methods/method.h"

namespace fortitor::methods {

const Method& flexure_beam();

}  // namespace fortitor::methods
