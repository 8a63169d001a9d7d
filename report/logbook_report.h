// Lines of the logbook on paper: a day, or what was asked for.
#pragma once

#include <string>
#include <vector>

#include "store/book.h"

namespace fortitor {

struct LogbookReport {
  std::string title;            ///< "Thursday 26 November 2026"
  std::vector<LogEntry> lines;  ///< the newest first, as the book gives them
  ChainHead head;               ///< of the book
  std::string book;             ///< its name
};
/// Writes a .pdf or .html; refuses to write over a file that is there.
Outcome<Done> write_logbook_report(const LogbookReport& report, const std::string& path);

}  // namespace fortitor
