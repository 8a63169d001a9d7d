// Verdicts: values with uncertainty against limits, under the decision rule of the job.
#pragma once

#include "core/evaluation/evaluation.h"

namespace fortitor {

/// `simple`: the value decides, `near` is pointed out. `guarded_acceptance`: a value must clear its
/// limit by U. `guarded_rejection`: a value fails only beyond its limit by U. (JCGM 106, section 8.)
enum class DecisionRule { simple, guarded_acceptance, guarded_rejection };

DecisionRule decision_rule(const Fields& settings);

/// Verdict of one result against its limit. `near` when a limit lies inside value ± U; lower bounds
/// and intervals are `open` when the limit lies within what is not known.
void judge_result(ResultValue& result, DecisionRule rule);

/// Applies the record's limits to all results and sets the verdict of the specimen: the worst of
/// them, or void (with its reason) when any finding voids the test. A limit whose result is missing
/// leaves the verdict open.
void judge(Evaluation& evaluation, const TestRecord& record);

}  // namespace fortitor
