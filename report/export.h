// Data exports: record with its samples, figures as SVG, PNG and PDF.
#pragma once

#include <string>

#include "core/evaluation/evaluation.h"
#include "core/outcome.h"
#include "core/record/record.h"

namespace fortitor {

/// Writes `folder`/ID.json and ID.csv (a number is added rather than writing over a file).
/// Returns the path of the record.
Outcome<std::string> export_record(const TestRecord& record, const std::string& folder);

/// Writes the figure; the ending of the path (.svg, .png, .pdf) says as what.
Outcome<Done> export_figure(const Evaluation& evaluation, UnitSet units, const std::string& path);

/// Results as tab-separated text with units, for the clipboard.
std::string results_text(const Evaluation& evaluation, const Fields& settings, UnitSet units);

}  // namespace fortitor
