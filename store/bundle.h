// A job as one file to hand on: a ZIP of records, runs and evaluations with their hashes (docs/record-format.md).
#pragma once

#include <functional>
#include <string>
#include <vector>

#include "store/book.h"

namespace fortitor {

/// Writes a job with every version of its records, the samples of its runs and what was signed. Refuses to write over
/// a file that is there. A sentence comes back for each piece that is left out since it cannot be read.
Outcome<std::vector<std::string>> write_bundle(const Book& book, const std::string& job_code, const std::string& path,
                                               const std::function<void(double)>& progress = {});

/// What came out of a bundle.
struct Unpacked {
  Id job = 0;
  std::string code;
  int specimens = 0;
  std::vector<std::string> notices;  ///< what was signed in the other book, and by whom
};

/// Takes a bundle into the book, all of it or nothing; `as` is another number for the job, its own when empty. Every
/// file is held against its hash and its stated size before anything is written. Refused: the number is taken, a file
/// is missing, changed, or larger than it says; a method this program does not know.
Outcome<Unpacked> read_bundle(Book& book, const std::string& path, const std::string& as = {});

}  // namespace fortitor
