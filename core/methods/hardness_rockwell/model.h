// The inner working of hardness-rockwell. Shared by its files and tests only.
#pragma once

#include "core/methods/support/indents.h"
#include "core/reference/hardness.h"

namespace fortitor::rockwell {

/// What the method reports, by key: specs, values, How and figures speak of a result by these (names: words.json).
namespace key {
inline constexpr auto hr = "hr", hr_sd = "hr_sd", depth = "depth", min_thickness = "min_thickness";
}  // namespace key

inline const std::string kReadings = "readings";

struct State {
  indents::IndentSet set;
  const RockwellScale* scale = nullptr;
  std::string written;    ///< the scale with its ball: "HRBW"
  double correction = 0;  ///< of a convex surface, added to every reading
  double resolution = 0;  ///< of a reading, in HR
};
State look(const TestRecord& record);
/// Diameter of the print that a depth leaves, mm.
double print_width(const RockwellScale& scale, double depth);
indents::Spacing spacing_of(const TestRecord& record);
double expected_size(const TestRecord& record);
void describe(Method& method);

}  // namespace fortitor::rockwell
