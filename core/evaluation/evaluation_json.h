// The evaluation document of the command line.
#pragma once

#include <string>

#include "core/evaluation/evaluation.h"

namespace fortitor {

/// Writes "evaluation/1": values in internal units whatever the display units (angles in degrees,
/// strains as ratios); the number as reported beside them.
std::string evaluation_to_json(const Evaluation& evaluation, const Fields& settings, int indent = 2);

}  // namespace fortitor
