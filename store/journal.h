// What was confirmed at a bench while the server of its shared book was away: in a file of its own, line by line, until
// the server has it.
#pragma once

#include <QByteArray>
#include <map>
#include <memory>
#include <string>
#include <vector>

#include "core/outcome.h"

namespace fortitor {

class BookFile;

class Journal {
 public:
  struct Line {
    int64_t id = 0;
    std::string kind;     ///< "begin", "part", "close", "record"
    std::string who, at;  ///< who confirmed it and when, as the book writes times
    QByteArray body;
  };
  /// The journal of an address in a folder; one that a window left behind is taken up before a new one is begun.
  /// Errors: the folder cannot be written.
  static Outcome<std::unique_ptr<Journal>> open(const std::string& folder, const std::string& address);
  ~Journal();
  Journal(const Journal&) = delete;
  Journal& operator=(const Journal&) = delete;

  /// On return it is on the disk of this bench.
  Outcome<Done> add(const Line& line);
  /// The oldest that the server does not have yet; nothing when it has all.
  Outcome<std::vector<Line>> next() const;
  /// The server has everything up to a line.
  Outcome<Done> taken(int64_t id);
  /// The server refuses that line for good: it is set aside with the reason, and holds up none behind it.
  Outcome<Done> refuse(int64_t id, const std::string& why);
  struct Refused {
    std::string kind, who, at, why;
  };
  /// What was set aside, the oldest first.
  std::vector<Refused> refused() const;
  size_t waiting() const { return waiting_; }
  /// When the first that waits was confirmed.
  const std::string& since() const { return since_; }
  /// By which the server knows what it has of this journal.
  const std::string& name() const { return name_; }
  /// A run that was begun here has a number of its own (below 0) until the server gives one; and a run may go on under
  /// another number.
  Outcome<int64_t> new_run();
  Outcome<Done> is_now(int64_t run, int64_t on_server);
  int64_t number_of(int64_t run) const;

 private:
  Journal() = default;
  std::string connection_, name_, since_;
  std::unique_ptr<BookFile> file_;
  std::map<int64_t, int64_t> runs_;
  int64_t last_run_ = 0;
  size_t waiting_ = 0;
};

}  // namespace fortitor
