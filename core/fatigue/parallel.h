// Independent pieces of work on all cores; shared by the chain's files only.
#pragma once

#include <atomic>
#include <mutex>
#include <optional>
#include <thread>
#include <vector>

#include "core/fatigue/signal.h"

namespace fortitor::fatigue {

/// Calls work(piece) for 0 … pieces − 1, each once, on `threads` threads (0: as many as there are). The first error
/// ends it; so does `progress` returning false, which is asked on one thread at a time.
template <class Work>
Outcome<Done> in_parallel(size_t pieces, size_t threads, const Progress& progress, const Work& work) {
  if (threads == 0) threads = std::max(1u, std::thread::hardware_concurrency());
  threads = std::min(threads, std::max<size_t>(1, pieces));
  std::atomic<size_t> next{0}, done{0};
  std::mutex lock;
  std::optional<InputError> wrong;
  const auto run = [&] {
    for (;;) {
      const size_t i = next++;
      if (i >= pieces) return;
      const Outcome<Done> result = work(i);
      const std::lock_guard guard(lock);
      ++done;
      if (!result && !wrong) wrong = result.error();
      if (!wrong && progress && !progress(double(done) / double(pieces)))
        wrong = InputError{"The work was stopped.", {}};
      if (wrong) next = pieces;
    }
  };
  std::vector<std::jthread> pool;
  for (size_t t = 1; t < threads; ++t) pool.emplace_back(run);
  run();
  pool.clear();  // joins
  if (wrong) return *wrong;
  return Done{};
}

}  // namespace fortitor::fatigue
