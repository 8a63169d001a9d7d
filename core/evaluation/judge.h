// Verdicts: values with uncertainty against limits, under the decision rule of the job.
#pragma once

#include "core/evaluation/evaluation.h"

namespace fortitor {

/// A yes or a no under a named rule (ISO/IEC 17025, 7.8.6; JCGM 106, section 8). `simple`: the value against the limit.
/// `guarded_acceptance`: it meets only when it clears the limit by U. `guarded_rejection`: it fails only when it is
/// beyond the limit by U. `four`: a guard band of U on both sides, within it a conditional pass or fail.
enum class DecisionRule { simple, guarded_acceptance, guarded_rejection, four };

/// What is held against the limit: the value as computed, or rounded to the last place of the limit as it was typed
/// (the rounding method of ASTM E29).
enum class Compared { absolute, rounded };

struct Decision {
  DecisionRule rule = DecisionRule::simple;
  Compared compared = Compared::absolute;
};

/// From "settings.decision" and "settings.compared"; simple and absolute where they say nothing.
Decision decision_of(const Fields& settings);
/// "guarded-acceptance", "rounded": as they stand in settings, in JSON and beside every statement.
std::string_view rule_word(DecisionRule rule);
std::string_view compared_word(Compared compared);
/// "Simple acceptance; values compared as computed": for the page that the verdict stands on.
std::string decision_words(const std::string& rule, const std::string& compared);

/// The value as it is held against a limit.
double as_compared(double value, const Reading& limit, Compared compared);

/// Verdict of one result against its limit, with `near` (a limit lies inside value ± U) and the probability that the
/// true value conforms (normal with the budget's u). Of a lower bound only what lies on its sure side is decided, an
/// interval is taken as equally likely all along; what is not known is `open`, without a probability.
void judge_result(ResultValue& result, const Decision& decision);

/// Applies the record's limits to all results and sets the verdict of the specimen: the worst of
/// them, or void (with its reason) when any finding voids the test. A limit whose result is missing
/// leaves the verdict open. Note `rounding-decides` where the value as computed and as rounded would be told apart.
void judge(Evaluation& evaluation, const TestRecord& record);

}  // namespace fortitor
