// What a calibration certificate says of an instrument: its errors and their uncertainty over the range.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/outcome.h"
#include "core/quantity/unit.h"

namespace fortitor::calibration {

struct Point {
  double at = 0;        ///< internal units
  double error = 0;     ///< relative, of reading; signed
  double expanded = 0;  ///< U (k = 2), relative, > 0
};

/// "10 kN: 0.12 ± 0.20 %; 50 kN: −0.10 ± 0.15 %". Errors: what cannot be read, no uncertainty, a point twice, shares
/// beyond ± 20 % (a slip of units rather than an instrument).
Outcome<std::vector<Point>> read(const std::string& typed, Dimension dimension);

/// Between the points on straight lines; nothing outside of them by more than a tenth of the range's ends.
std::optional<Point> at(const std::vector<Point>& points, double value);

/// Standard uncertainty of an instrument whose known error is not taken off: U/2 and the error as the half-width of a
/// rectangle (JCGM 100, F.2.4.5 asks that it is not left out).
double standard(const Point& point);

/// The dimension in which the points of a slot's certificate stand; none for slots without such a table.
Dimension dimension_of(const std::string& slot);

}  // namespace fortitor::calibration
