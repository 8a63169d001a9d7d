// One reading as it is keyed into a field: its unit, divisions of a drum, what it must not be. The one way for the
// window, the record files and the stand-ins.
#pragma once

#include <string>

#include "core/record/field.h"
#include "core/record/record.h"

namespace fortitor {

/// Reads typed text as a reading of `field`. Where the field counts divisions (FieldSpec::division_path) a bare number
/// is a count ("292.5"), "5:42.5" is five marks of the drum and 42.5 divisions; a length with its unit stays a length.
/// Errors: those of parse_quantity(); divisions beyond a mark; a negative count.
Outcome<Reading> read_keyed(const std::string& text, const FieldSpec& field, const TypingContext& context = {});

/// Whether a cell of a row holds all that is asked of it: `wanted` readings, or one whole length where divisions
/// could have been keyed. A missed reading is an answer.
bool cell_complete(const Row& row, const FieldSpec& column);

/// What a cell measures, internal units: the mean of its readings, or, of divisions, the distance from the first to
/// the second. Empty while it is not complete, when one was missed, or when the length of a division is not known.
std::optional<double> cell_value(const Row& row, const FieldSpec& column, const TestRecord& record);

}  // namespace fortitor
