// The inner working of tension-composite. Shared by its files and tests only.
#pragma once

#include "core/methods/support/pulled.h"

namespace fortitor::composite {

/// A bilinear curve: two lines and where they meet.
struct Transition {
  double strain = 0, first = 0, second = 0;  ///< strain, slopes in MPa
};

struct Laminate {
  Pulled pulled;
  std::vector<double> front, back;  ///< back-to-back strains in the rows of the curve; empty when not there
  std::optional<ModulusFit> chord;
  double from = 0, to = 0;  ///< strains of the chord
  std::optional<Transition> transition;
};
Laminate laminate_of(const TestRecord& record);

Values compute(const TestRecord& record, const Laminate& l, double area);
const std::vector<ResultSpec>& specs();
void describe(Method& method);

}  // namespace fortitor::composite
