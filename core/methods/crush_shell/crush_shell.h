// Crushing of thin shells: tubes, cans, cartons (methods section 3).
#pragma once

#include "core/methods/method.h"

namespace fortitor::methods {

const Method& crush_shell();

}  // namespace fortitor::methods
