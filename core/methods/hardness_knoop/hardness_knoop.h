// Knoop hardness: the long diagonal of a slender pyramid, for thin coatings and single phases (methods, section 8;
// ISO 4545-1, ASTM E92).
#pragma once

#include "core/methods/method.h"

namespace fortitor::methods {

const Method& hardness_knoop();

}  // namespace fortitor::methods
