// Proof load of components: cycles to a proof load with function checks, then destruction (methods, section 11). The
// program rates nothing.
#pragma once

#include "core/methods/method.h"

namespace fortitor::methods {

const Method& proof_load();

}  // namespace fortitor::methods
