// How long a run takes on its machine, worked out from what the record asks for.
#pragma once

#include "core/methods/method.h"

namespace fortitor::timing {

/// Cycles to the run-out over the frequency ("settings.plan.runout", "settings.frequency"); the rig counts by itself.
std::optional<RunTime> cycles(const TestRecord& record);

/// A piece pulled (or pressed) to the break: the straight part at the first speed, then as far as `share` of its length
/// at the second. Lengths: parallel length, else distance of the grips, else gauge length. Nothing without a speed.
std::optional<RunTime> pulled(const TestRecord& record, double share);

/// Readings still planned, each its dwell and `seconds` of handling and reading.
std::optional<RunTime> readings(const TestRecord& record, const TableSpec& table, double seconds);

}  // namespace fortitor::timing
