// What tension-plastic asks and advises, apart from what it computes. Shared by its files only.
#pragma once

#include "core/methods/method.h"

namespace fortitor::plastic {

/// What the method reports, by key: specs, values, How and figures speak of a result by these (names: words.json).
namespace key {
inline constexpr auto e_modulus = "e_modulus", sigma_y = "sigma_y", eps_y = "eps_y", sigma_m = "sigma_m",
                      eps_m = "eps_m", sigma_b = "sigma_b", eps_b = "eps_b", eps_tb = "eps_tb", sigma_x = "sigma_x",
                      fm = "fm", area = "area", toe_shift = "toe_shift", modulus_r2 = "modulus_r2", build = "build";
}  // namespace key

/// Grip separation, else parallel length, mm: what crosshead travel is divided by. 0 when neither is given.
double length_of(const TestRecord& record);
void describe(Method& method);
Plan plan(const TestRecord& record);

}  // namespace fortitor::plastic
