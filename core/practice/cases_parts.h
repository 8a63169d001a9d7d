// Shared by the files that make cases.
#pragma once

#include "core/practice/cases.h"

namespace fortitor::cases {

/// The history of a bridge, spoilt as its recipe says, through the chain to the step that shows the finding.
Outcome<Evaluation> of_spectrum(const Recipe& recipe);

}  // namespace fortitor::cases
