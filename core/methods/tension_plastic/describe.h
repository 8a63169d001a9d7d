// What tension-plastic asks and advises, apart from what it computes. Shared by its files only.
#pragma once

#include "core/methods/method.h"

namespace fortitor::plastic {

/// Grip separation, else parallel length, mm: what crosshead travel is divided by. 0 when neither is given.
double length_of(const TestRecord& record);
void describe(Method& method);
Plan plan(const TestRecord& record);

}  // namespace fortitor::plastic
