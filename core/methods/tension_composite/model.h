// The inner working of tension-composite. Shared by its files and tests only.
#pragma once

#include "core/methods/support/pulled.h"

namespace fortitor::composite {

/// What the method reports, by key: specs, values, How and figures speak of a result by these (names: words.json).
namespace key {
inline constexpr auto sigma_m = "sigma_m", e_chord = "e_chord", eps_m = "eps_m", nu12 = "nu12",
                      transition_strain = "transition_strain", e_second = "e_second",
                      bending_percent = "bending_percent", failure_code = "failure_code", fm = "fm", area = "area",
                      chord_from = "chord_from", chord_to = "chord_to", toe_shift = "toe_shift";
}  // namespace key

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
