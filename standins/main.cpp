// fortitor-standins: instruments and machines that speak over a TCP port or a pseudo-terminal, for tests, the demo and
// practice. Nothing real is behind them.
#include <arpa/inet.h>
#include <fcntl.h>
#include <poll.h>
#include <pty.h>
#include <signal.h>
#include <sys/socket.h>
#include <termios.h>
#include <unistd.h>
#include <CLI/CLI.hpp>
#include <chrono>
#include <cstdio>
#include <thread>

#include "core/memory.h"
#include "core/standin/speaker.h"

namespace {

using namespace fortitor;
using Steady = std::chrono::steady_clock;

int refuse(const std::string& why) {
  std::fprintf(stderr, "fortitor-standins: %s\n", why.c_str());
  return 2;
}

// Speaks to whoever listens: each listener hears from the first line on. False when it went away.
void speak(int to, const standin::SpeakerOptions& options, double speed) {
  auto made = standin::make_speaker(options);
  if (!made) return;
  standin::Speaker& s = **made;
  const auto say = [&](const std::string& text) {
    for (size_t at = 0; at < text.size();) {
      const ssize_t n = ::send(to, text.data() + at, text.size() - at, MSG_NOSIGNAL);
      const ssize_t written = n < 0 && errno == ENOTSOCK ? ::write(to, text.data() + at, text.size() - at) : n;
      if (written <= 0) return false;
      at += size_t(written);
    }
    return true;
  };
  if (!s.head().empty() && !say(s.head())) return;
  const auto begun = Steady::now();
  for (size_t n = 0; !s.done(n); ++n) {
    std::this_thread::sleep_until(begun + std::chrono::duration_cast<Steady::duration>(
                                              std::chrono::duration<double>(double(n) / (s.rate() * speed))));
    if (!say(s.line(n))) return;
  }
}

int listen_on(int port, const standin::SpeakerOptions& options, double speed, bool once) {
  const int server = ::socket(AF_INET, SOCK_STREAM, 0);
  const int yes = 1;
  ::setsockopt(server, SOL_SOCKET, SO_REUSEADDR, &yes, sizeof yes);
  sockaddr_in at = {};
  at.sin_family = AF_INET;
  at.sin_port = htons(uint16_t(port));
  at.sin_addr.s_addr = htonl(INADDR_LOOPBACK);  // this machine alone
  if (::bind(server, reinterpret_cast<sockaddr*>(&at), sizeof at) != 0 || ::listen(server, 8) != 0)
    return refuse("port " + std::to_string(port) + " cannot be opened");
  socklen_t size = sizeof at;
  ::getsockname(server, reinterpret_cast<sockaddr*>(&at), &size);
  std::printf("%s speaks at tcp:127.0.0.1:%d\n", options.name.c_str(), int(ntohs(at.sin_port)));
  std::fflush(stdout);
  for (;;) {
    const int to = ::accept(server, nullptr, nullptr);
    if (to < 0) continue;
    const auto talk = [to, options, speed] {
      speak(to, options, speed);
      ::close(to);
    };
    if (once) {
      talk();
      return 0;
    }
    std::thread(talk).detach();
  }
}

int terminal(const standin::SpeakerOptions& options, double speed) {
  int ours = 0, theirs = 0;
  char name[128] = {};
  termios raw = {};
  ::cfmakeraw(&raw);
  if (::openpty(&ours, &theirs, name, &raw, nullptr) != 0) return refuse("no pseudo-terminal can be opened");
  std::printf("%s speaks at serial:%s\n", options.name.c_str(), name);
  std::fflush(stdout);
  speak(ours, options, speed);
  std::this_thread::sleep_for(std::chrono::seconds(1));  // what was written last is still to be read
  return 0;
}

}  // namespace

int main(int argc, char** argv) {
  keep_memory();
  ::signal(SIGPIPE, SIG_IGN);
  CLI::App app{"Instruments and machines that speak: stand-ins over TCP and pseudo-terminals.", "fortitor-standins"};
  app.set_version_flag("--version", std::string("fortitor-standins " FORTITOR_VERSION));
  standin::SpeakerOptions options;
  bool list = false, pty = false, once = false;
  int port = -1;
  double speed = 1;
  std::vector<std::string> faults;
  app.add_flag("--list", list, "What there is");
  app.add_option("NAME", options.name, "Which one, such as frame");
  app.add_option("--port", port, "TCP port on this machine; 0 takes a free one")->check(CLI::Range(0, 65535));
  app.add_flag("--pty", pty, "A pseudo-terminal instead of a port");
  app.add_flag("--once", once, "Ends after one listener");
  app.add_option("--form", options.form, "In which of its two forms it speaks")->check(CLI::Range(0, 1));
  app.add_option("--seed", options.seed, "The same seed sends the same lines");
  app.add_option("--speed", speed, "So many times as fast")->check(CLI::Range(0.01, 10000.0));
  app.add_option("--rest", options.rest, "Seconds that a frame stands still before it pulls")
      ->check(CLI::Range(0, 3600));
  app.add_option("--fault", faults, "Something that goes wrong, such as half-lines; may be repeated");
  try {
    app.parse(argc, argv);
  } catch (const CLI::ParseError& e) {
    if (e.get_exit_code() == 0) return app.exit(e);
    return refuse(std::string(e.what()) + "; see fortitor-standins --help");
  }
  if (list) {
    for (const auto& k : standin::speakers()) std::printf("%-16s %s\n", k.name.c_str(), k.what.c_str());
    return 0;
  }
  options.faults = {faults.begin(), faults.end()};
  if (const auto made = standin::make_speaker(options); !made) return refuse(made.error().message);
  if (pty) return terminal(options, speed);
  if (port < 0) return refuse("say --port N or --pty");
  return listen_on(port, options, speed, once);
}
