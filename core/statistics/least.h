#pragma once

#include <limits>

namespace fortitor {

/// Stands for nothing where nothing would divide, or be a logarithm.
inline constexpr double kLeast = std::numeric_limits<double>::min();

}  // namespace fortitor
