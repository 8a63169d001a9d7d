// The file under an open book: who may write in it, and whether it is still what this process left. store/ only.
#pragma once

#include <QByteArray>
#include <cstdint>
#include <memory>
#include <mutex>
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

  /// Held from the beginning of a change until it is remembered: this process may write by several connections.
  std::mutex& writing() { return writing_; }
  /// The file as it is now is what this process left: called after everything it writes.
  void remember();
  /// Whether the file still lies at `path`, and nobody else has written in it since.
  Outcome<Done> still_there(const std::string& path) const;
  /// It lies at `path`, but not as this process left it.
  bool written_over(const std::string& path) const;
  /// Its head says that it is written with a log beside it (bytes 18 and 19, sqlite.org/fileformat2.html, 1.3.3).
  bool written_with_log() const { return sample_.with_log; }
  /// It has further names (hard links), beside which no log of what was written would be looked for.
  bool several_names() const;

 private:
  struct Times {
    int64_t size = -1, seconds = 0, nanoseconds = 0;
    bool operator==(const Times&) const = default;
  };
  struct Sample {
    QByteArray digest;
    bool with_log = false;
  };
  explicit BookFile(int handle) : handle_(handle) {}
  Times times() const;
  Sample sample() const;
  int compared() const;
  int handle_;
  uint64_t device_ = 0, inode_ = 0;
  std::mutex writing_;
  mutable std::mutex state_;
  mutable Times left_;
  Sample sample_;
};

}  // namespace fortitor
