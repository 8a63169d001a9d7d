// What compression-solid asks and advises, apart from what it computes. Shared by its files only.
#pragma once

#include "core/methods/method.h"
#include "core/section/section.h"

namespace fortitor::compression {

/// What the method reports, by key: specs, values, How and figures speak of a result by these (names: words.json).
namespace key {
inline constexpr auto strength = "strength", e_modulus = "e_modulus", rp02 = "rp02", rp1 = "rp1", sigma_25 = "sigma_25",
                      slenderness = "slenderness", barrelling = "barrelling", fm = "fm", area = "area",
                      at_strain = "at_strain", toe_shift = "toe_shift", modulus_r2 = "modulus_r2";
}  // namespace key

/// Height over least width: up to twice nothing buckles; a hundredth more is the caliper's.
inline constexpr double kSlender = 2.02;

/// Mean height, mm; 0 when not measured.
double height_of(const TestRecord& record);
/// Least width of the section: what the piece could buckle over.
double least_width(const Section& section, const Shifts& shifts = {});
bool perpendicular(const TestRecord& record);
void describe(Method& method);
Plan plan(const TestRecord& record);

}  // namespace fortitor::compression
