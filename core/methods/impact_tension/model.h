// The inner working of impact-tension. Shared by its files only.
#pragma once

#include "core/methods/impact_tension/impact_tension.h"

namespace fortitor::impact_tension {

/// What the method reports, by key: specs, values, How and figures speak of a result by these (names: words.json).
namespace key {
inline constexpr auto kt = "kt", energy = "energy", energy_min = "energy_min", available = "available",
                      arrangement = "arrangement";
}  // namespace key

void describe(Method& method);

}  // namespace fortitor::impact_tension
