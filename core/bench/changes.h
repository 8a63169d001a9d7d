// What changed between two versions of a record, in words for the logbook.
#pragma once

#include <string>

#include "core/record/field.h"
#include "core/record/record.h"

namespace fortitor {

/// "Diameter: 10.01 mm, 10.02 mm → 10.01 mm, 10.04 mm; Cell: LC-50 → LC-100"; limits, rows of tables and answers with
/// their codes; at most so many parts, the rest counted. Empty when nothing of it changed.
std::string record_changes(const TestRecord& before, const TestRecord& after, const Schema& schema, size_t most = 8);

}  // namespace fortitor
