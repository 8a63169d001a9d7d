// Records read and written with the schemas of all methods: the way in and out for window, book and command line.
#pragma once

#include <string>
#include <string_view>

#include "core/outcome.h"
#include "core/record/record.h"

namespace fortitor {

/// read_record() with the methods of the program.
Outcome<TestRecord> record_from_json(std::string_view text);
/// read_stored_record() with them.
Outcome<TestRecord> stored_record_from_json(std::string_view text);
/// The text of a record for the book. Errors: what would not be read back; a fault that the record came with
/// (TestRecord::faults) may stay until somebody mends it.
Outcome<std::string> record_to_store(const TestRecord& record);
/// write_record() with the method of the record; an unknown method is a programming error.
std::string record_to_json(const TestRecord& record, int indent = 2);
/// Record file with its run loaded. Errors name the file.
Outcome<TestRecord> load_record(const std::string& path);
/// Fills in the samples of the files a record names, `folder` being where it lies.
Outcome<Done> load_runs(TestRecord& record, const std::string& folder);

}  // namespace fortitor
