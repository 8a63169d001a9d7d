// Round numbers along an axis.
#pragma once

#include <string>
#include <vector>

namespace fortitor::figure {

struct Tick {
  double value = 0;  ///< internal units
  std::string label;
  bool minor = false;  ///< a line without words (between decades)
};

/// Ticks at multiples of 1, 2 or 5 times a power of ten (in units of `unit`), about `about` (≥ 1) of them, within
/// [low, high]. Empty when the range is empty or not finite. After Heckbert, “Nice numbers for graph labels”,
/// Graphics Gems 1990.
std::vector<Tick> linear_ticks(double low, double high, int about, double unit = 1);

/// Ticks of a logarithmic axis, low > 0: the decades, and 2 and 5 between them when there are fewer than three.
/// Exponents are written as powers beyond 10⁴ and below 10⁻³.
std::vector<Tick> log_ticks(double low, double high, double unit = 1);

}  // namespace fortitor::figure
