// The open record: JSON exactly as described in docs/record-format.md.
#pragma once

#include <string>
#include <string_view>

#include "core/outcome.h"
#include "core/record/record.h"

namespace fortitor {

/// Reads a record document. Refuses what it does not know, with the path of the first offending key
/// ("specimen.sectoin: unknown") or the place where the JSON breaks ("line 3, column 14: …").
/// A run given as `file` is not opened here; see load_run_file().
Outcome<TestRecord> record_from_json(std::string_view text);

/// Writes the document that record_from_json() reads back to the same record. Inline samples are
/// written in internal units with 17 significant digits unless the run names a file.
std::string record_to_json(const TestRecord& record, int indent = 2);

/// Fills record.run.samples from its CSV, `folder` being where the record lies. Missing columns,
/// unknown units and unreadable rows are errors with file, line and column.
Outcome<Done> load_run_file(TestRecord& record, const std::string& folder);

/// Record file with its run loaded. Errors name the file.
Outcome<TestRecord> load_record(const std::string& path);

/// Samples as CSV text with a header and a units row, in internal units.
std::string samples_to_csv(const Samples& samples);

/// Dimension of a run channel by name ("force", "strain_lateral", …), or none if unknown.
const Dimension* channel_dimension(const std::string& name);

}  // namespace fortitor
