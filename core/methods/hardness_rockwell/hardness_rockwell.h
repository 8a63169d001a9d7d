// Rockwell hardness: depth left by a preliminary and a total force, all scales (docs/methods/hardness-rockwell.md; ISO
// 6508-1, ASTM E18).
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/methods/method.h"
#include "core/reference/hardness.h"

namespace fortitor {

/// A scale that would suit a reading better, and why; none when the reading is trusted where it stands.
struct BetterScale {
  std::string scale;  ///< "B"; empty: none is better
  std::string why;    ///< "C is not trusted below 20: the cone sinks in too far"
};
std::optional<BetterScale> better_rockwell(const RockwellScale& scale, double hr);

/// Which of the plates hang for a total force, N: indices into `plates`; empty with `base` alone. None when no choice
/// of plates makes it within 0.5 %.
std::optional<std::vector<size_t>> plates_for(double total, double base, const std::vector<double>& plates);

namespace methods {

const Method& hardness_rockwell();

}  // namespace methods
}  // namespace fortitor
