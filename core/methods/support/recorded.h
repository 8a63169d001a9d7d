// The run as it was recorded, where nothing was worked out of it.
#pragma once

#include "core/figure/figure.h"
#include "core/record/field.h"

namespace fortitor {

/// Load over what grows under it (extension, travel, angle), over time where nothing does; one line a part of the run.
/// Values are the record's own, raw: nothing is shifted or left out. Empty without a load or without two samples.
Figure recorded_figure(const TestRecord& record, const Schema& schema);

}  // namespace fortitor
