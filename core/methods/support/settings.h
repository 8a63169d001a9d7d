// Which of a record's settings decide how its results are computed, and which of them are as usual.
#pragma once

#include "core/methods/method.h"

namespace fortitor {

/// Settings that decide how results come out of what was recorded: those of Evaluate first, then how results are
/// written, compared and converted. What does not apply under the record's choices is left out, and so is what has a
/// place of its own (a piece left out of its series, what-ifs that were kept).
std::vector<const FieldSpec*> settings_of_evaluation(const Method& method, const TestRecord& record);

/// Whether the record says something else than what holds without an entry.
bool other_than_usual(const FieldSpec& field, const Fields& fields);

}  // namespace fortitor
