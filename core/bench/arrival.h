// Files of testing machines that came in, each specimen of them as a piece that is nearly ready: its method proposed,
// what the file says of it filled in, what is still missing named.
#pragma once

#include <string>
#include <vector>

#include "core/bench/propose.h"
#include "core/record/mapping.h"
#include "core/record/says.h"

namespace fortitor {

struct Arrival {
  std::string file;  ///< name without its folder
  size_t block = 0;
  Proposal proposed;
  std::map<std::string, ChannelGuess> columns;  ///< channel → column
  TestRecord record;                            ///< with its samples; without a size where the file says none
  bool without_length = false;                  ///< nobody knows over what length the extension was measured
  std::string problem;                          ///< why there is no run; empty: there is one
};

/// The specimens of a file. A file that cannot be read is one arrival with its problem. `as`: the method where a person
/// says so; null: the one proposed.
std::vector<Arrival> arrivals_of(const std::string& path, const Method* as = nullptr);
/// The same of a file that was read.
std::vector<Arrival> arrivals_of(const std::string& name, const MachineFile& file, const Method* as = nullptr);

/// What still has to be typed before there is a result, as the end of "Type …"; empty when nothing is.
std::string missing_of(const Arrival& arrival);
/// Takes what was typed for what is missing. Of a size: "10.02 mm" is a diameter, "12.5 × 3.0 mm" width and thickness.
/// Several readings of a diameter are parted by semicolons. The error is a sentence.
Outcome<Done> take_size(Arrival& arrival, const std::string& typed);

/// What was read, before there is a size: load over travel, or over time. Empty without a run.
Figure raw_curve(const Arrival& arrival);

/// Files out of what was dropped or named: folders give the files in them, in the order of their names.
std::vector<std::string> files_of(const std::vector<std::string>& paths);

}  // namespace fortitor
