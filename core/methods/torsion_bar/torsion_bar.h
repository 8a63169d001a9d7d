// Torsion of bars and tubes to failure (docs/methods/torsion-bar.md; ISO 18338 for metals).
#pragma once

#include "core/methods/method.h"

namespace fortitor::torsion {

/// Sizes of the bar, shifts applied. mm, mm⁴.
struct Bar {
  double diameter = 0, inner = 0, length = 0, j = 0;
  double radius() const { return diameter / 2; }
  bool tube() const { return inner > 0; }
};
Bar bar_of(const TestRecord& record, const Shifts& shifts = {});

}  // namespace fortitor::torsion

namespace fortitor::methods {

const Method& torsion_bar();

}  // namespace fortitor::methods
