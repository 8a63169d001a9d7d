// Readings that came over a wire: marked where they stand, and kept beside what somebody types over them.
#pragma once

#include <string>

#include "core/record/record.h"

namespace fortitor {

/// Marks in `after` every reading that differs from `before`, place by place, fields and rows. `source`: the instrument
/// and when ("CAL-1, 2026-11-26T10:05:33"); empty: a hand typed it, and what was heard there stays beside it.
void mark_heard(const TestRecord& before, TestRecord& after, const std::string& source);

}  // namespace fortitor
