// From the columns of a machine's file to the channels of a run.
#pragma once

#include <map>
#include <string>

#include "core/outcome.h"
#include "core/record/csv.h"
#include "core/record/field.h"
#include "core/record/record.h"

namespace fortitor {

/// Guesses which column is which channel of the schema, by the channels' own words and by units. A guess is for a
/// person to look at; columns it cannot place are left out.
std::map<std::string, ChannelSource> guess_mapping(const CsvDialect& dialect, const Schema& schema);

/// A guess with how it was made: sure when the column's name speaks for the channel and its unit fits.
struct ChannelGuess {
  ChannelSource source;
  bool sure = false;
};
/// guess_mapping() with its sureness.
std::map<std::string, ChannelGuess> guess_channels(const CsvDialect& dialect, const Schema& schema);

/// Samples of the mapped columns in internal units. An empty unit in the mapping means the file's
/// own units row. Errors name the missing column or the unit that does not fit.
Outcome<SamplesPtr> samples_from_table(const CsvTable& table, const std::map<std::string, ChannelSource>& mapping,
                                       const Schema& schema);

/// Key under which a mapping is remembered: the same column names and units give the same key.
std::string mapping_signature(const CsvDialect& dialect);

}  // namespace fortitor
