// The evaluation of a record by one method, under a guard.
#pragma once

#include "core/methods/method.h"

namespace fortitor::methods {

/// Evaluates and judges a record by `method`. An exception out of the method becomes the finding `evaluation-failed`
/// (void) in the place of results: a fault of the program never costs the work on the bench.
Evaluation guarded(const Method& method, const TestRecord& record, const EvaluateOptions& options);

}  // namespace fortitor::methods
