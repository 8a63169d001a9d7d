// All that is said of a record in a few lines: for hundreds of them at a time.
#pragma once

#include <string>

#include "core/methods/method.h"

namespace fortitor {

/// Results, findings, figures, plan, what is asked next, progress: numbers to five figures, sums over what is drawn and over
/// the numbers within words.
std::string short_text(const Method& m, const TestRecord& r, const Evaluation& e);

/// The same of an evaluation alone in three numbers: findings, numbers told, their sum.
std::string shortest_text(const Evaluation& e);

}  // namespace fortitor
