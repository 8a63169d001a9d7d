// An evaluation and what hangs on it as lines of text, so that a change of any number can be seen in a diff.
#pragma once

#include <string>
#include <vector>

#include "core/methods/method.h"

namespace fortitor {

/// Everything that the program says of a record: results with their derivation and budget, findings, figures as they
/// are laid out, lines, alternatives, plan, progress. Numbers to six figures, lengths on paper to a tenth of a px.
std::string kept_text(const TestRecord& record);

/// The same for the judgement over a series.
std::string kept_text(const Evaluation& evaluation);

/// The first line in which two texts differ, with its number and both wordings; empty when there is none. Numbers may
/// differ by one in their last printed place (another compiler rounds otherwise), whole numbers and words not at all.
std::string first_difference(const std::string& kept, const std::string& now);

/// A number as the shorter of these texts spell it; "none" where it is not finite. Less than 10⁻¹² is what rounding leaves.
std::string num(double v, int figures = 5);

/// Paths of all records among the tests' data, in order.
std::vector<std::string> record_files();

/// Holds a text against the one kept under that name among the tests' data; writes it with FORTITOR_KEEP=1.
void hold_kept(const std::string& name, const std::string& now);

}  // namespace fortitor
