// The inner working of crush-shell. Shared by its files only.
#pragma once

#include <string>

#include "core/methods/method.h"

namespace fortitor::crush {

/// What the method reports, by key: specs, values, How and figures speak of a result by these (names: words.json).
namespace key {
inline constexpr auto peak_force = "peak_force", mean_crush_force = "mean_crush_force", crush_energy = "crush_energy",
                      crush_efficiency = "crush_efficiency", max_force = "max_force", peak_travel = "peak_travel",
                      crush_stroke = "crush_stroke", crush_ratio = "crush_ratio";
}  // namespace key

/// What could explain the scatter of a series, ticked per piece.
inline const std::string kSuspectsPath = "specimen.suspects.";
inline constexpr const char* kSuspects[] = {"dent", "off_centre", "not_level", "fluid", "platen_gap"};

/// mm; 0 when it is not given.
double height_of(const TestRecord& record);

void describe(Method& method);
Plan plan(const TestRecord& record);

}  // namespace fortitor::crush
