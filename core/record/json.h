// The open record: JSON exactly as described in docs/record-format.md. What a method may hold is handed in as a
// schema; nothing here knows a method.
#pragma once

#include <optional>
#include <string>
#include <string_view>

#include "core/outcome.h"
#include "core/record/field.h"
#include "core/record/record.h"

namespace fortitor {

/// Reads a record document. Refuses what the schema of its method does not know, with the path of the first
/// offending key ("specimen.sectoin: unknown") or the place where the JSON breaks ("line 3, column 14: …"); sizes
/// that are zero or negative; a lower limit above its upper one; documents nested deeper than 64 levels. A run given
/// as `file` is not opened here; see load_run_files().
Outcome<TestRecord> read_record(std::string_view text, const Schemas& schemas);

/// The same for a record out of a book: what breaks a rule for values refuses nothing but stands in its `faults`.
/// Errors: what is no such document at all.
Outcome<TestRecord> read_stored_record(std::string_view text, const Schemas& schemas);

/// Writes the document that read_record() reads back to the same record. Inline samples are written in internal
/// units with 17 significant digits unless their segment names a file.
std::string write_record(const TestRecord& record, const Schema& schema, int indent = 2);

/// Fills the samples of every segment from its CSV, `folder` being where the record lies. The file must be a plain
/// file inside that folder. Missing columns, unknown units and unreadable rows are errors with file, line, column.
Outcome<Done> load_run_files(TestRecord& record, const std::string& folder, const Schema& schema);

/// Record file with its run loaded. Errors name the file.
Outcome<TestRecord> read_record_file(const std::string& path, const Schemas& schemas);

/// Samples as CSV text with a header and a units row, in internal units; 17 digits give every bit back.
std::string samples_to_csv(const Samples& samples, const Schema& schema, int digits = 9);
/// Unit in which a channel is written to files, as find_unit() reads it back.
std::string written_unit(const ChannelSpec* channel);

/// A limit as typed. A bare number for a ratio is asked back: 0.22 may be 22 % or 0.22 %.
Outcome<Reading> read_limit(const std::string& typed, Dimension dimension, const TypingContext& context = {});
/// The reading with its text so that it says the same without knowing how it was typed: "1,250" under US units means
/// 1250, which a reader of the record would have to ask back.
Reading readable(Reading reading, Dimension dimension);
/// Which rule a value breaks, as a sentence without its path: the one set of rules for what is typed, read or stored.
std::optional<std::string> broken_rule(const Reading& reading, const FieldSpec& field);
std::optional<std::string> broken_rule(const Limit& limit);
/// Whether a field is a size of something: zero and negative values are bad input.
bool must_be_positive(const FieldSpec& field);

}  // namespace fortitor
