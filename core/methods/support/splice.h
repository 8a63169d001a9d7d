// How the strain of a curve goes on after its extensometer came off: with the crosshead, less what the machine gives.
#pragma once

#include <vector>

#include "core/methods/support/stress_curve.h"

namespace fortitor {

/// Stiffness and length of what lies beyond the extensometer, from the part where both were read
/// (docs/methods/tension-metal.md).
/// @param crosshead travel, mm, in rows of the curve
/// @param removed last row of the extensometer
/// @param entered stiffness of the machine, N/mm; 0: none was entered, it is fitted
/// @param parallel length of the piece, mm; stands where none can be fitted
Splice splice_of(const StressCurve& curve, const std::vector<double>& crosshead, size_t removed, double entered,
                 double parallel);

/// Strain of a row behind the removal.
/// @param length L, mm
/// @param compliance 1/k, mm/N
double spliced(const StressCurve& curve, size_t row, double length, double compliance);

}  // namespace fortitor
