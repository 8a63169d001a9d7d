// An evaluation and what hangs on it as lines of text, so that a change of any number can be seen in a diff.
#pragma once

#include <string>
#include <vector>

#include "core/methods/method.h"

namespace fortitor {

/// Everything that the program says of a record: results with their derivation and budget, findings, what figures hold,
/// lines, alternatives, plan, progress. Numbers to six figures.
std::string kept_text(const TestRecord& record);

/// The same for the judgement over a series.
std::string kept_text(const Evaluation& evaluation);

/// Every difference between two texts by what it means: the record, the result or finding, from what to what, and for a
/// value by how much of its U; empty when there is none. Numbers may differ by one in their last printed place (another
/// compiler rounds otherwise), whole numbers and words not at all.
std::string differences(const std::string& kept, const std::string& now);

/// Paths of all records among the tests' data, in order.
std::vector<std::string> record_files();

/// Holds a text against the one kept under that name among the tests' data; writes it with FORTITOR_KEEP=1.
void hold_kept(const std::string& name, const std::string& now);

}  // namespace fortitor
