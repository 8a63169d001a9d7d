// What an open book stands on: a file that this process owns, or a server that many write to. store/ only.
#pragma once

#include <QByteArray>
#include <cstdint>
#include <memory>
#include <mutex>
#include <string>

#include "core/outcome.h"

namespace fortitor {

/// Shared by all connections of this process to one book.
class BookGround {
 public:
  virtual ~BookGround() = default;
  /// Held from the beginning of a change until it is remembered: this process may write by several connections.
  std::mutex& writing() { return writing_; }
  /// What is there now is what this process left: called after everything it writes.
  virtual void remember() {}
  /// Whether the book is still at `path`, and nobody has written in it who may not.
  virtual Outcome<Done> still_there(const std::string&) const { return Done{}; }
  /// It is there, but not as this process left it.
  virtual bool written_over(const std::string&) const { return false; }
  /// It has further names, beside which no log of what was written would be looked for.
  virtual bool several_names() const { return false; }

 private:
  std::mutex writing_;
};

/// A book on a server: what is there, and who may write, is the server's to say.
class BookServer : public BookGround {};

/// One owner of a file, not of a path: the same file by a symbolic or a hard link is the same file. The lock
/// (flock(2)) lives with its process and leaves nothing behind.
class BookFile : public BookGround {
 public:
  /// What owning came to. No `file`: `taken_by` says who has it ("process 312").
  struct Owned {
    std::unique_ptr<BookFile> file;
    std::string taken_by;
  };
  /// Makes the file when it is not there. Errors: it cannot be opened to write.
  static Outcome<Owned> own(const std::string& path);
  ~BookFile() override;
  BookFile(const BookFile&) = delete;
  BookFile& operator=(const BookFile&) = delete;

  void remember() override;
  Outcome<Done> still_there(const std::string& path) const override;
  bool written_over(const std::string& path) const override;
  /// Its head says that it is written with a log beside it (bytes 18 and 19, sqlite.org/fileformat2.html, 1.3.3).
  bool written_with_log() const { return sample_.with_log; }
  bool several_names() const override;

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
  mutable std::mutex state_;
  mutable Times left_;
  Sample sample_;
};

}  // namespace fortitor
