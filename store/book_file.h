// The file under an open book: who may write in it, and whether it is still what this process left. store/ only.
#pragma once

#include <array>
#include <cstdint>
#include <memory>
#include <string>

#include "core/outcome.h"

namespace fortitor {

/// One owner of a file, not of a path: the same file by a symbolic or a hard link is the same file. The lock
/// (flock(2)) lives with its process and leaves nothing behind.
class BookFile {
 public:
  /// What owning came to. No `file`: `taken_by` says who has it ("process 312").
  struct Owned {
    std::unique_ptr<BookFile> file;
    std::string taken_by;
  };
  /// Makes the file when it is not there. Errors: it cannot be opened to write.
  static Outcome<Owned> own(const std::string& path);
  ~BookFile();
  BookFile(const BookFile&) = delete;
  BookFile& operator=(const BookFile&) = delete;

  /// The file as it is now is what this process left: called after everything it writes.
  void remember();
  /// Whether the file still lies at `path`, and nobody else has written in it since.
  Outcome<Done> still_there(const std::string& path) const;
  /// It lies at `path`, but not as this process left it.
  bool written_over(const std::string& path) const;
  /// Its times alone are others: nothing that can be seen at once was changed.
  bool touched() const;
  /// Its head says that it is written with a log beside it (bytes 18 and 19, sqlite.org/fileformat2.html, 1.3.3).
  bool written_with_log() const { return left_.head[18] == 2 && left_.head[19] == 2; }
  /// It has further names (hard links), beside which no log of what was written would be looked for.
  bool several_names() const;

 private:
  struct State {
    int64_t size = -1, seconds = 0, nanoseconds = 0;
    std::array<char, 100> head = {};  ///< of an SQLite file (sqlite.org/fileformat2.html, 1.3)
    bool operator==(const State&) const = default;
  };
  explicit BookFile(int handle) : handle_(handle) {}
  State state() const;
  int handle_;
  uint64_t device_ = 0, inode_ = 0;
  State left_;
};

}  // namespace fortitor
