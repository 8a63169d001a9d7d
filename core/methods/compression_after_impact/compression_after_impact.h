// Compression of a plate with a dent (docs/methods/compression-after-impact.md; ASTM D7137).
#pragma once

#include "core/methods/method.h"

namespace fortitor::cai {

inline constexpr double kBendingLimit = 10;  ///< %
/// 100·|ε_f − ε_b|/|ε_f + ε_b| with its sign (above 0: the front is shortened more), %; NaN where they cancel.
double bending_of(double front, double back);

}  // namespace fortitor::cai

namespace fortitor::methods {

const Method& compression_after_impact();

}  // namespace fortitor::methods
