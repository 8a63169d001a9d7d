// Independent pieces of work on all cores.
#pragma once

#include <algorithm>
#include <atomic>
#include <condition_variable>
#include <deque>
#include <functional>
#include <future>
#include <mutex>
#include <optional>
#include <thread>
#include <vector>

#include "core/outcome.h"

namespace fortitor {

/// Threads that are worth having: 1 … what the machine has.
inline size_t threads_of(size_t wanted = 0) {
  return wanted > 0 ? wanted : std::max<size_t>(1, std::thread::hardware_concurrency());
}

/// Calls work(piece) for 0 … pieces − 1, each once, on `threads` threads (0: as many as there are). The first error
/// ends it; so does `progress` returning false, which is asked on one thread at a time.
template <class Work>
Outcome<Done> in_parallel(size_t pieces, size_t threads, const std::function<bool(double)>& progress,
                          const Work& work) {
  threads = std::min(threads_of(threads), std::max<size_t>(1, pieces));
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

/// Hands that take up work in the order in which it comes, beside the thread that gives it. What is still waiting when
/// the crew ends is done first. Work may wait for what was given before it, never for what comes after.
class Crew {
 public:
  explicit Crew(size_t threads = 0) {
    for (size_t t = 0; t < threads_of(threads); ++t) hands_.emplace_back([this] { serve(); });
  }
  ~Crew() {
    {
      const std::lock_guard guard(lock_);
      ending_ = true;
    }
    comes_.notify_all();
  }
  Crew(const Crew&) = delete;
  Crew& operator=(const Crew&) = delete;

  /// The result of work(), or what it threw, when it is asked for.
  template <class Work>
  auto start(Work work) -> std::future<decltype(work())> {
    auto task = std::make_shared<std::packaged_task<decltype(work())()>>(std::move(work));
    auto result = task->get_future();
    {
      const std::lock_guard guard(lock_);
      waiting_.emplace_back([task] { (*task)(); });
    }
    comes_.notify_one();
    return result;
  }

 private:
  void serve() {
    for (;;) {
      std::function<void()> work;
      {
        std::unique_lock guard(lock_);
        comes_.wait(guard, [this] { return ending_ || !waiting_.empty(); });
        if (waiting_.empty()) return;
        work = std::move(waiting_.front());
        waiting_.pop_front();
      }
      work();
    }
  }

  std::mutex lock_;
  std::condition_variable comes_;
  std::deque<std::function<void()>> waiting_;
  bool ending_ = false;
  std::vector<std::jthread> hands_;  // last: they end before what they use
};

/// Results of make(0) … make(count − 1), made by a crew and taken in that order; no more than `ahead` are at work or
/// wait to be taken, so that a thousand pages need the room of a few.
template <class T>
class Ahead {
 public:
  Ahead(Crew& crew, size_t count, size_t ahead, std::function<T(size_t)> make)
      : crew_(crew), count_(count), ahead_(std::max<size_t>(1, ahead)), make_(std::move(make)) {}
  ~Ahead() {
    for (auto& f : made_) f.wait();
  }
  T next() {
    while (begun_ < count_ && made_.size() < ahead_) {
      made_.push_back(crew_.start([make = &make_, i = begun_] { return (*make)(i); }));
      ++begun_;
    }
    T out = made_.front().get();
    made_.pop_front();
    return out;
  }

 private:
  Crew& crew_;
  size_t count_, ahead_, begun_ = 0;
  std::function<T(size_t)> make_;
  std::deque<std::future<T>> made_;
};

}  // namespace fortitor
