// Keeping what came in: a job and its series, or the series in hand, with a piece for each specimen of the files.
#pragma once

#include <vector>

#include "core/bench/arrival.h"
#include "store/book.h"

namespace fortitor {

struct KeptArrivals {
  std::vector<Id> series;  ///< that got pieces, the first of the first file first
  size_t pieces = 0;
  /// Which could not be kept, by their place among those given, and why.
  std::vector<std::pair<size_t, std::string>> refused;
};

/// Keeps every arrival that has a run. `into`: a series of the same method; 0: a new job with a series for each method.
/// A piece of the series that waits for its run under the same mark takes it. `today` and `now` are those of the bench:
/// a file without a day is dated now, and says so in its logbook.
Outcome<KeptArrivals> keep_arrivals(Book& book, const std::vector<Arrival>& arrivals, Id into, const std::string& today,
                                    const std::string& now);

}  // namespace fortitor
