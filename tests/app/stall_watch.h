// Says where the interface thread stood when it did not answer: a thread of its own asks it twenty times a second, and
// has it write down its own stack when it has been away for longer than it may.
#pragma once

#include <execinfo.h>
#include <pthread.h>
#include <signal.h>
#include <unistd.h>

#include <QCoreApplication>
#include <QTimer>
#include <atomic>
#include <chrono>
#include <cstdio>
#include <thread>
#include <vector>

namespace fortitor {

class StallWatch : public QObject {
 public:
  /// Stacks go to `file` (a descriptor; -1: nowhere) for stalls of more than `limit_ms`.
  explicit StallWatch(int limit_ms = 100, int file = STDERR_FILENO) : limit_(limit_ms), main_(::pthread_self()) {
    file_ = file;
    struct sigaction action = {};
    action.sa_handler = [](int) {
      if (file_ < 0) return;
      void* frames[60];
      const int n = ::backtrace(frames, 60);
      ::backtrace_symbols_fd(frames, n, file_);
      [[maybe_unused]] const auto done = ::write(file_, "--\n", 3);
    };
    ::sigaction(SIGUSR2, &action, nullptr);
    void* warm[2];
    ::backtrace(warm, 2);  // loads what it needs before a signal does
    beat_.setInterval(10);
    QObject::connect(&beat_, &QTimer::timeout, this, [this] { answered(); });
    beat_.start();
    thread_ = std::thread([this] { watch(); });
  }
  ~StallWatch() override {
    over_ = true;
    thread_.join();
  }
  /// Each stall in milliseconds, and the longest.
  std::vector<int> stalls() const { return stalls_; }
  int longest() const { return longest_; }
  void forget() {
    stalls_.clear();
    longest_ = 0;
  }

 private:
  using Clock = std::chrono::steady_clock;
  static int64_t now() {
    return std::chrono::duration_cast<std::chrono::milliseconds>(Clock::now().time_since_epoch()).count();
  }
  void answered() {
    const int away = int(now() - last_.exchange(now()));
    if (away > limit_ + 10) stalls_.push_back(away);
    longest_ = std::max(longest_, away);
    told_ = false;
  }
  void watch() {
    while (!over_) {
      std::this_thread::sleep_for(std::chrono::milliseconds(20));
      if (!told_ && now() - last_ > limit_ + 10) {
        told_ = true;
        ::pthread_kill(main_, SIGUSR2);
      }
    }
  }
  static inline std::atomic<int> file_ = -1;
  const int limit_;
  const pthread_t main_;
  QTimer beat_;
  std::thread thread_;
  std::atomic<bool> over_ = false, told_ = false;
  std::atomic<int64_t> last_ = now();
  std::vector<int> stalls_;
  int longest_ = 0;
};

}  // namespace fortitor
