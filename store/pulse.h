// Whether the server of a shared book answers, asked beside everything else. store/ only.
#pragma once

#include <QSqlDatabase>
#include <atomic>
#include <condition_variable>
#include <mutex>
#include <string>
#include <thread>

namespace fortitor {

/// Asks the server every second by a connection of its own. When it does not answer within some seconds (it was paused,
/// the wire was pulled: nothing says so) the book's connection is cut, so that whoever waits on it goes on.
class Pulse {
 public:
  /// `patience`: seconds without an answer.
  Pulse(std::string address, const QSqlDatabase& book, double patience = 4);
  ~Pulse();
  Pulse(const Pulse&) = delete;
  Pulse& operator=(const Pulse&) = delete;
  bool beats() const { return beats_; }
  /// The connection that is cut; before it is closed by others, none.
  void watch(const QSqlDatabase& book);
  void watch_nothing();

 private:
  void ask();
  void look();
  bool rest(double seconds);
  void cut();

  std::string address_;
  double patience_;
  std::mutex guard_;
  std::condition_variable end_now_;
  bool end_ = false;
  int book_ = -1, own_ = -1;  ///< sockets
  double asked_ = 0;          ///< when an answer is being waited for since; 0: none is
  std::atomic<bool> beats_ = true;
  std::thread asks_, looks_;
};

}  // namespace fortitor
