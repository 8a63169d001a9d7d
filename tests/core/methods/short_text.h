// All that is said of a record in a few lines: for hundreds of them at a time.
#pragma once

#include <string>

#include "core/figure/layout.h"
#include "core/methods/method.h"

namespace fortitor {

/// Results, findings, figures, plan, what is asked next, progress: numbers to five figures, sums over what is drawn and over
/// the numbers within words.
std::string short_text(const Method& m, const TestRecord& r, const Evaluation& e);

/// The same of an evaluation alone in three numbers: findings, numbers told, their sum.
std::string shortest_text(const Evaluation& e);

/// One line of a figure as it is drawn: how many shapes, where on the whole, the numbers among its words.
std::string figure_text(const Figure& f, const figure::Options& options);

}  // namespace fortitor
