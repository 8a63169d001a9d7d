// Marks of specimens as people type a row of them.
#pragma once

#include <string>
#include <vector>

#include "core/outcome.h"

namespace fortitor {

/// "B-1, B-2; B-7" as they stand; "B-1..B-6", "B-1…6", "B-01 to 06", "B-1 – B-6" and "6 × B-" as six, with as many
/// digits as were typed. At most 500. Errors: a row that runs backwards or has no end, the same mark twice.
Outcome<std::vector<std::string>> specimen_marks(const std::string& typed);

}  // namespace fortitor
