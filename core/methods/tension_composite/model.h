// The inner working of tension-composite. Shared by its files and tests only.
#pragma once

#include "core/methods/support/pulled.h"

namespace fortitor::composite {

/// A bilinear curve: two lines and where they meet.
struct Transition {
  double strain = 0, first = 0, second = 0;  ///< strain, slopes in MPa
};

struct Laminate {
  Section section;
  Pulled pulled;
  Origin origin;                    ///< of the strains, with the chord that counts from it
  std::vector<double> front, back;  ///< back-to-back strains in the rows of the curve; empty when not there
  double from = 0, to = 0;          ///< strains of the chord
  std::optional<Transition> transition;
};
Laminate laminate_of(const TestRecord& record);

std::vector<ResultSpec> specs(const TestRecord& record);
Plan plan(const TestRecord& record);
void describe(Method& method);

}  // namespace fortitor::composite
