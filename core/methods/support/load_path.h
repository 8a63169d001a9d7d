// What follows from what a run is expected to reach: the advised cell, parts that cannot take it.
#pragma once

#include "core/methods/method.h"

namespace fortitor {

/// The parts of the method's load path that are rated in the quantity of the plan, with what the record says of them.
std::vector<LoadPathPart> load_path_of(const Method& method, const TestRecord& record, Dimension quantity);

/// Fills in load path, the advised cell (`cell`: slot id), parts that cannot take what is planned (blocking), a cell
/// that is far too large (warning). Call it when the expectation is in.
void judge_load_path(const Method& method, const TestRecord& record, const std::string& cell, Plan& plan);

/// A sentence for every one of these settings that is not there: "Set the speed."
void want_settings(const TestRecord& record, const std::vector<std::pair<std::string, std::string>>& settings,
                   Plan& plan);

/// Largest of 1, 2, 2.5, 5 times a power of ten that is at most `most`; 0 for none.
double round_step(double most);

}  // namespace fortitor
