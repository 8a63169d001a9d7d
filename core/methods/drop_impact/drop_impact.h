// Drop-weight impact of composite plates, and quasi-static indentation as the other way of making the dent (methods,
// section 10; ASTM D7136, ASTM D6264).
#pragma once

#include "core/methods/method.h"

namespace fortitor::methods {

const Method& drop_impact();

}  // namespace fortitor::methods
