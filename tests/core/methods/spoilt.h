// Records as people spoil them: a reading off, a field left out, another choice, limits close to the value, rows
// doubted or twice, samples thinned, noisy, stepped, cut. For the properties that hold whatever was done to a record.
#pragma once

#include "core/methods/method.h"
#include "tests/core/methods/chance.h"

namespace fortitor {

/// One field of the method left out, scaled, chosen otherwise; one of several readings missed or off.
void spoil_field(TestRecord& r, const Method& m, Chance& chance);
/// One row of some tables doubted, set aside, lost, twice, or one of its readings off.
void spoil_rows(TestRecord& r, Chance& chance);
/// One channel of some segments thinned, noisy, never zeroed, cut, stepped, coarse, standing still or gone.
void spoil_samples(TestRecord& r, Chance& chance);
/// Limits around what was found: met, near, failed.
void spoil_limits(TestRecord& r, const Evaluation& e, Chance& chance);
/// Every reading of a table off by a share of itself, a few by much.
void shake_rows(TestRecord& r, Chance& chance);

}  // namespace fortitor
