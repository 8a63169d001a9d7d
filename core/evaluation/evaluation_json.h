// The evaluation document of the command line.
#pragma once

#include <string>

#include "core/evaluation/evaluation.h"

namespace fortitor {

/// Writes "evaluation/1": values in internal units whatever the display units (angles in degrees,
/// strains as ratios); the number as reported beside them.
std::string evaluation_to_json(const Evaluation& evaluation, const Fields& settings, int indent = 2);

/// The usual values that a signed document was judged beside, and no others: whoever opens it, with whatever values of
/// his own, gets the same answer. `otherwise` where the document is older than that or cannot be read.
ReferenceShelf shelf_of_signed(const std::string& signed_json, const ReferenceShelf& otherwise);

/// Holds an evaluation against the document that was signed: numbers that are no longer what was signed, and a verdict
/// that is another one, become the finding `differs-from-signed` at the head of the list, which no answer takes away.
void compare_with_signed(Evaluation& evaluation, const std::string& signed_json);

}  // namespace fortitor
