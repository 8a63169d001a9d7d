// The numbers of a week by their key, and what is not known of them. Of the files of this folder only.
#pragma once

#include "core/spectrum/spectrum.h"
#include "core/uncertainty/budget.h"

namespace fortitor::spectrum {

/// Every number of a week by its result key; `rig` Hz, 0: none.
Values values_of(const Week& week, const Settings& settings, double rig);
/// Puts budgets and uncertainties into the results of a week. They hold for the history that was recorded; what
/// another week would bring is the scatter over the weeks.
void attach_budget(Evaluation& evaluation, const Week& week, const Settings& settings, double rig);

}  // namespace fortitor::spectrum
