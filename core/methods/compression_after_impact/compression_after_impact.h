// Compression of a plate with a dent (methods, section 10; ASTM D7137).
#pragma once

#include "core/methods/method.h"

namespace fortitor::methods {

const Method& compression_after_impact();

}  // namespace fortitor::methods
