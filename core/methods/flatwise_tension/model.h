// The inner working of flatwise-tension. Shared by its files only.
#pragma once

#include <array>
#include <optional>
#include <utility>

#include "core/methods/flatwise_tension/flatwise_tension.h"
#include "core/methods/support/loading.h"

namespace fortitor::flatwise {

/// What the method reports, by key: specs, values, How and figures speak of a result by these (names: words.json).
namespace key {
inline constexpr auto strength = "strength", failure_mode = "failure_mode", modulus = "modulus",
                      strain_break = "strain_break", cure_ratio = "cure_ratio", peak_force = "peak_force",
                      area = "area";
}  // namespace key

struct Pull {
  Loading loading;
  double peak = 0;  ///< N
  bool measured = false;
  std::optional<LineFit> line;  ///< force on displacement within the window
  double from = 0, to = 0;      ///< window, shares of the peak
};

/// Where it let go, and the words of it: shares of the area that add up to the whole.
inline constexpr std::array<std::pair<const char*, const char*>, 4> kModes = {
    std::pair{"core", "core"}, std::pair{"bond", "core–face bond"}, std::pair{"face", "face"},
    std::pair{"block", "block bond"}};

void describe(Method& method);
Plan plan(const TestRecord& record);

}  // namespace fortitor::flatwise
