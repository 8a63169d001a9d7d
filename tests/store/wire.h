// A wire between a bench and its server, to be pulled: whoever connects to a port of this machine is led to the
// server's socket, slowly if that is wanted, until the wire is pulled or cut.
#pragma once

#include <arpa/inet.h>
#include <netinet/in.h>
#include <netinet/tcp.h>
#include <poll.h>
#include <sys/socket.h>
#include <sys/un.h>
#include <unistd.h>
#include <atomic>
#include <chrono>
#include <cstring>
#include <deque>
#include <list>
#include <string>
#include <thread>
#include <vector>

namespace fortitor {

class Wire {
 public:
  /// `to`: path of the server's socket. `delay`: s, each way.
  explicit Wire(std::string to, double delay = 0) : to_(std::move(to)), delay_(delay) {
    door_ = ::socket(AF_INET, SOCK_STREAM | SOCK_CLOEXEC | SOCK_NONBLOCK, 0);
    sockaddr_in here = {};
    here.sin_family = AF_INET;
    here.sin_addr.s_addr = htonl(INADDR_LOOPBACK);
    ::bind(door_, reinterpret_cast<const sockaddr*>(&here), sizeof here);
    ::listen(door_, 64);
    socklen_t size = sizeof here;
    ::getsockname(door_, reinterpret_cast<sockaddr*>(&here), &size);
    port_ = ntohs(here.sin_port);
    thread_ = std::thread([this] { carry(); });
  }
  ~Wire() {
    end_ = true;
    thread_.join();
    ::close(door_);
  }
  Wire(const Wire&) = delete;
  Wire& operator=(const Wire&) = delete;
  int port() const { return port_; }
  /// Nothing goes through and nothing says so.
  void pull() { pulled_ = true; }
  /// Every connection ends, and none is made.
  void cut() { cut_ = true; }
  void mend() { pulled_ = cut_ = false; }

 private:
  using Time = std::chrono::steady_clock::time_point;
  struct Way {  // from one end to the other
    int from, to;
    std::deque<std::pair<Time, std::string>> on_the_way;
  };
  struct Pair {
    Way there, back;
    bool over = false;
  };

  static void close_both(Pair& p) {
    ::close(p.there.from);
    ::close(p.there.to);
  }
  void let_in() {
    const int bench = ::accept4(door_, nullptr, nullptr, SOCK_CLOEXEC | SOCK_NONBLOCK);
    if (bench < 0) return;
    const int one = 1;
    ::setsockopt(bench, IPPROTO_TCP, TCP_NODELAY, &one, sizeof one);
    sockaddr_un there = {};
    there.sun_family = AF_UNIX;
    std::strncpy(there.sun_path, to_.c_str(), sizeof there.sun_path - 1);
    const int server = ::socket(AF_UNIX, SOCK_STREAM | SOCK_CLOEXEC, 0);
    if (cut_ || ::connect(server, reinterpret_cast<const sockaddr*>(&there), sizeof there) != 0) {
      ::close(server);
      ::close(bench);
      return;
    }
    pairs_.push_back({{bench, server, {}}, {server, bench, {}}});
  }
  void take(Way& w, Pair& p) const {
    char data[65536];
    const ssize_t n = ::recv(w.from, data, sizeof data, MSG_DONTWAIT);
    if (n > 0)
      w.on_the_way.emplace_back(std::chrono::steady_clock::now() +
                                    std::chrono::duration_cast<Time::duration>(std::chrono::duration<double>(delay_)),
                                std::string(data, size_t(n)));
    else if (n == 0 || (errno != EAGAIN && errno != EINTR))
      p.over = true;
  }
  static void give(Way& w, Pair& p) {
    while (!w.on_the_way.empty() && w.on_the_way.front().first <= std::chrono::steady_clock::now()) {
      std::string& data = w.on_the_way.front().second;
      const ssize_t n = ::send(w.to, data.data(), data.size(), MSG_DONTWAIT | MSG_NOSIGNAL);
      if (n < 0) {
        p.over = p.over || (errno != EAGAIN && errno != EINTR);
        return;
      }
      data.erase(0, size_t(n));
      if (data.empty()) w.on_the_way.pop_front();
    }
  }
  void carry() {
    while (!end_) {
      std::vector<pollfd> all = {{door_, POLLIN, 0}};
      bool waits = false;
      for (const Pair& p : pairs_) {
        for (const Way* w : {&p.there, &p.back}) {
          if (!pulled_) all.push_back({w->from, POLLIN, 0});
          waits = waits || !w->on_the_way.empty();
        }
      }
      const timespec rest = {0, waits ? 50000 : 20000000};
      ::ppoll(all.data(), all.size(), &rest, nullptr);
      if (!pulled_) let_in();
      for (auto p = pairs_.begin(); p != pairs_.end();) {
        if (!pulled_)
          for (Way* w : {&p->there, &p->back}) {
            take(*w, *p);
            give(*w, *p);
          }
        if (p->over || cut_) {
          close_both(*p);
          p = pairs_.erase(p);
        } else {
          ++p;
        }
      }
    }
    for (Pair& p : pairs_) close_both(p);
  }

  std::string to_;
  double delay_;
  int door_ = -1, port_ = 0;
  std::atomic<bool> end_ = false, pulled_ = false, cut_ = false;
  std::list<Pair> pairs_;
  std::thread thread_;
};

}  // namespace fortitor
