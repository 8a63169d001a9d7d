// Crushing of thin shells: tubes, cans, cartons (docs/methods/crush-shell.md).
#pragma once

#include "core/methods/method.h"

namespace fortitor::methods {

const Method& crush_shell();

}  // namespace fortitor::methods
