// The inner working of hardness-brinell. Shared by its files and tests only.
#pragma once

#include "core/methods/support/indents.h"

namespace fortitor::brinell {

/// What the method reports, by key: specs, values, How and figures speak of a result by these (names: words.json).
namespace key {
inline constexpr auto hb = "hb", hb_sd = "hb_sd", diameter = "diameter", index = "index", depth = "depth",
                      min_thickness = "min_thickness", hb_mpa = "hb_mpa";
}  // namespace key

inline const std::string kIndents = "indents";

inline constexpr double kPerNewton = 0.102;   ///< 1/g₀ (ISO 6506-1)
inline constexpr double kLargestPrint = 0.6;  ///< of the ball (ISO 6506-1)

struct State {
  indents::IndentSet set;
  double force = NAN, ball = NAN;  ///< N, mm
  bool steel_ball = false;
  double resolution = 0;  ///< of a diameter as read, mm
  double index() const { return kPerNewton * force / (ball * ball); }
};
State look(const TestRecord& record);
indents::Spacing spacing_of(const TestRecord& record);
double expected_size(const TestRecord& record);
/// Force and ball of the usual ones whose print would lie between 0.24 and 0.6 of the ball at hardness `hb`, with an
/// index that suits; in words, empty when there is none.
std::string better_load(const std::string& family, double hb, double ball);
void describe(Method& method);

}  // namespace fortitor::brinell
