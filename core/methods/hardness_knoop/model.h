// The inner working of hardness-knoop. Shared by its files and tests only.
#pragma once

#include "core/methods/hardness_knoop/hardness_knoop.h"
#include "core/methods/support/indents.h"

namespace fortitor::knoop {

/// What the method reports, by key: specs, values, How and figures speak of a result by these (names: words.json).
namespace key {
inline constexpr auto hk = "hk", hk_sd = "hk_sd", diagonal = "diagonal", division_effect = "division_effect",
                      depth = "depth", min_thickness = "min_thickness";
}  // namespace key

inline const std::string kIndents = "indents";

inline constexpr double kProjected = 0.07028;  ///< projected area over the square of the long diagonal (ISO 4545-1)
inline constexpr double kSlender = 2.5;        ///< of the long diagonal is kept free across, where neighbours lie

struct State {
  indents::IndentSet set;
  std::vector<double> lopsided;         ///< difference of the halves, one a row; NaN where the middle was not read
  double force = NAN;                   ///< N
  double division = 0, resolution = 0;  ///< mm
};
State look(const TestRecord& record);
indents::Spacing spacing_of(const TestRecord& record);
double expected_size(const TestRecord& record);
void describe(Method& method);

}  // namespace fortitor::knoop
