// What a record may hold, held against a record in memory. There is one set of rules, that of the reader of the record
// format: forms ask it before they keep a value, the book before it stores one, the evaluation before it computes.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/record/field.h"
#include "core/record/record.h"

namespace fortitor {

/// Whatever would not be read back as it stands: values that break a rule, entries that their method does not know,
/// texts that mean something else to the reader. Found by writing the record (without its samples) and reading it.
std::vector<RecordFault> faults_of(const TestRecord& record, const Schema& schema);

/// The first of `faults` that is not among those known already; nothing when there is none.
std::optional<RecordFault> new_fault(const std::vector<RecordFault>& faults, const std::vector<RecordFault>& known);

/// The record without the entries that the faults name: nothing is computed from those.
TestRecord without_faults(TestRecord record, const std::vector<RecordFault>& faults);

}  // namespace fortitor
