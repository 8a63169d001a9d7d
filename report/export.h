// Data exports: record with its samples, figures as SVG, PNG and PDF.
#pragma once

#include <string>

#include "core/evaluation/evaluation.h"
#include "core/figure/layout.h"
#include "core/outcome.h"
#include "core/record/record.h"

namespace fortitor {

/// Writes `folder`/ID.json and ID.csv (a number is added rather than writing over a file).
/// Returns the path of the record.
Outcome<std::string> export_record(const TestRecord& record, const std::string& folder);

/// Writes the figure; the ending of the path (.svg, .png, .pdf, .csv for its data) says as what. `axes`: those of a
/// part that is shown (figure::Options::keep).
Outcome<Done> export_figure(const Figure& figure, UnitSet units, const std::string& path,
                            const std::vector<figure::Frame>& axes = {});
/// The first figure of an evaluation.
Outcome<Done> export_figure(const Evaluation& evaluation, UnitSet units, const std::string& path);
/// What is drawn, in the units of the set: two columns a curve, named by panel and curve, parted by commas.
std::string figure_csv(const Figure& figure, UnitSet units);

/// A cell of a table parted by commas: quoted where it must be.
std::string csv_cell(const std::string& text);

/// Results as tab-separated text with units, for the clipboard.
std::string results_text(const Evaluation& evaluation, const Fields& settings, UnitSet units);

}  // namespace fortitor
