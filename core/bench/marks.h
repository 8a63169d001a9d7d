// Marks of specimens as people type a row of them.
#pragma once

#include <string>
#include <vector>

#include "core/outcome.h"

namespace fortitor {

/// "B-1, B-2; B-7" as they stand; "B-1..B-6", "B-1…6", "B-01 to 06", "B-1 – B-6" and "6 × B-" as six, with as many
/// digits as were typed. At most 500. Errors: a row that runs backwards or has no end, the same mark twice.
Outcome<std::vector<std::string>> specimen_marks(const std::string& typed);

/// "HC-05", "HC-05, HC-07", "HC-05…08" for neighbours, "HC-05 and 3 more" otherwise.
std::string marks_in_short(const std::vector<std::string>& marks);

/// What a scanned label says: "B-01", "*B-01*", "TC-031/B-01", "TC-031 B-01". Whatever else was typed has no mark.
struct ScannedMark {
  std::string job, mark;
};
ScannedMark read_label(const std::string& typed);
/// Marks are the same whatever the case of their letters (scanners may have the shift locked).
bool same_mark(const std::string& a, const std::string& b);

}  // namespace fortitor
