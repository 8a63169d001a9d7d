// A folder into which a machine's own program writes: which of its files are new and whole.
#pragma once

#include <cstdint>
#include <map>
#include <string>
#include <vector>

namespace fortitor {

struct FileSeen {
  std::string path;
  uint64_t size = 0;    ///< bytes
  int64_t changed = 0;  ///< time of its last change, in ticks of any clock
  bool operator==(const FileSeen&) const = default;
};

/// Files of a folder as they can be listed now, without hidden ones and those that programs write under a name of
/// their own first (".part", ".tmp", "~"). A folder that cannot be read has none. Any thread.
std::vector<FileSeen> files_in(const std::string& folder);

class WatchedFolder {
 public:
  /// What the folder holds at this look. Returns what is news: files that were not there at the first look, or were
  /// written again since, and are as long and as old as at the look before: nobody is writing to them. Empty ones are
  /// none yet. Each is told once.
  std::vector<std::string> look(const std::vector<FileSeen>& now);

 private:
  bool began_ = false;
  std::map<std::string, FileSeen> known_, growing_;
};

}  // namespace fortitor
