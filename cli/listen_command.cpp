// fortitorctl listen: lines of an instrument or a machine as readings.
#include <fcntl.h>
#include <netdb.h>
#include <poll.h>
#include <signal.h>
#include <sys/socket.h>
#include <sys/stat.h>
#include <termios.h>
#include <unistd.h>

#include <chrono>
#include <cmath>
#include <cstdio>
#include <cstring>
#include <filesystem>

#include "cli/commands.h"
#include "core/json/json.h"
#include "core/line/line.h"
#include "core/quantity/plain.h"
#include "core/quantity/unit.h"
#include "core/record/csv.h"
#include "store/clock.h"

namespace fortitor::cli {
namespace {

using Steady = std::chrono::steady_clock;

volatile sig_atomic_t ended = 0;

constexpr size_t kToPropose = 20;  // lines that a format is proposed from
constexpr double kPatience = 3;    // s: an instrument that speaks slowly is judged by fewer
constexpr int kLookMs = 50;        // how often a growing file and a lost device are looked for
constexpr double kSilence = 1;     // s without a line are a gap

// A way in. `read` gives what came since; it waits at most kLookMs.
class Wire {
 public:
  virtual ~Wire() = default;
  virtual std::string read() = 0;
  /// Nothing will come any more: standard input has ended.
  virtual bool over() const { return false; }
  /// Connected now.
  virtual bool open() const = 0;
};

std::string read_from(int fd, bool& gone) {
  pollfd p = {fd, POLLIN, 0};
  if (::poll(&p, 1, kLookMs) <= 0) return {};
  char bytes[65536];
  const ssize_t n = ::read(fd, bytes, sizeof bytes);
  if (n > 0) return {bytes, size_t(n)};
  gone = n == 0 || (errno != EAGAIN && errno != EINTR);
  return {};
}

void nap() {
  ::poll(nullptr, 0, kLookMs);
}

class Tcp : public Wire {
 public:
  Tcp(std::string host, std::string port) : host_(std::move(host)), port_(std::move(port)) {}
  ~Tcp() override { close(); }
  bool open() const override { return fd_ >= 0; }
  std::string read() override {
    if (fd_ < 0 && !connect()) {
      nap();
      return {};
    }
    bool gone = false;
    std::string out = read_from(fd_, gone);
    if (gone) close();
    return out;
  }

 private:
  bool connect() {
    addrinfo wanted = {}, *found = nullptr;
    wanted.ai_socktype = SOCK_STREAM;
    if (::getaddrinfo(host_.c_str(), port_.c_str(), &wanted, &found) != 0) return false;
    for (addrinfo* a = found; a != nullptr && fd_ < 0; a = a->ai_next) {
      const int fd = ::socket(a->ai_family, a->ai_socktype, a->ai_protocol);
      if (fd >= 0 && ::connect(fd, a->ai_addr, a->ai_addrlen) == 0)
        fd_ = fd;
      else if (fd >= 0)
        ::close(fd);
    }
    ::freeaddrinfo(found);
    return fd_ >= 0;
  }
  void close() {
    if (fd_ >= 0) ::close(fd_);
    fd_ = -1;
  }
  std::string host_, port_;
  int fd_ = -1;
};

class Serial : public Wire {
 public:
  explicit Serial(std::string device) : device_(std::move(device)) {}
  ~Serial() override {
    if (fd_ >= 0) ::close(fd_);
  }
  bool open() const override { return fd_ >= 0; }
  std::string read() override {
    if (fd_ < 0) {
      fd_ = ::open(device_.c_str(), O_RDONLY | O_NOCTTY | O_NONBLOCK);
      termios t = {};
      if (fd_ >= 0 && ::tcgetattr(fd_, &t) == 0) {
        ::cfmakeraw(&t);  // the speed is what the port was set to; Kit and stty set it
        ::tcsetattr(fd_, TCSANOW, &t);
      }
      if (fd_ < 0) {
        nap();
        return {};
      }
    }
    bool gone = false;
    std::string out = read_from(fd_, gone);
    if (gone) {
      ::close(fd_);
      fd_ = -1;
      nap();
    }
    return out;
  }

 private:
  std::string device_;
  int fd_ = -1;
};

// A file that another program goes on writing; written anew (shorter) it is read from its beginning.
class Growing : public Wire {
 public:
  explicit Growing(std::string path) : path_(std::move(path)) {}
  ~Growing() override {
    if (file_ != nullptr) std::fclose(file_);
  }
  bool open() const override { return file_ != nullptr; }
  std::string read() override {
    struct stat s = {};
    if (::stat(path_.c_str(), &s) != 0) {
      nap();
      return {};
    }
    if (file_ == nullptr || uint64_t(s.st_size) < at_ || s.st_ino != inode_) {
      if (file_ != nullptr) std::fclose(file_);
      file_ = std::fopen(path_.c_str(), "rb");
      at_ = 0;
      inode_ = s.st_ino;
    }
    char bytes[65536];
    std::clearerr(file_);
    const size_t n = file_ == nullptr ? 0 : std::fread(bytes, 1, sizeof bytes, file_);
    at_ += n;
    if (n == 0) nap();
    return {bytes, n};
  }

 private:
  std::string path_;
  std::FILE* file_ = nullptr;
  uint64_t at_ = 0;
  ino_t inode_ = 0;
};

class Input : public Wire {
 public:
  bool open() const override { return !over_; }
  bool over() const override { return over_; }
  std::string read() override { return read_from(STDIN_FILENO, over_); }

 private:
  bool over_ = false;
};

std::unique_ptr<Wire> wire_of(const std::string& where) {
  if (where == "-") return std::make_unique<Input>();
  if (where.rfind("file:", 0) == 0) return std::make_unique<Growing>(where.substr(5));
  if (where.rfind("serial:", 0) == 0) return std::make_unique<Serial>(where.substr(7));
  if (where.rfind("tcp:", 0) != 0) return nullptr;
  const std::string rest = where.substr(4);
  const size_t colon = rest.rfind(':');
  if (colon == std::string::npos || colon == 0 || !plain::whole(rest.substr(colon + 1))) return nullptr;
  return std::make_unique<Tcp>(rest.substr(0, colon), rest.substr(colon + 1));
}

// "10s", "2min", "1.5": seconds.
std::optional<double> seconds_of(const std::string& typed) {
  if (typed.empty()) return HUGE_VAL;
  if (const auto bare = plain::number(typed)) return *bare;
  const auto q = parse_quantity(typed, Dimension::time);
  return q && q->value > 0 ? std::optional(q->value) : std::nullopt;
}

// What came in, as a record's samples: a CSV with a column a channel, gaps as empty lines of their own.
class Keeper {
 public:
  bool begin(const std::string& folder, const line::Format& f) {
    std::error_code failed;
    std::filesystem::create_directories(folder, failed);
    if (std::filesystem::exists(folder + "/samples.csv", failed)) return false;
    std::FILE* how = std::fopen((folder + "/format.json").c_str(), "wb");
    file_ = std::fopen((folder + "/samples.csv").c_str(), "wb");
    if (how == nullptr || file_ == nullptr) return false;
    const std::string text = line::format_to_json(f);
    std::fwrite(text.data(), 1, text.size(), how);
    std::fclose(how);
    return true;
  }
  ~Keeper() {
    if (file_ != nullptr) std::fclose(file_);
  }
  // A row stands under the head of the first one: values go by their channel, and another unit of the same dimension is
  // converted. False: one that cannot be is not kept as a number of another unit.
  bool take(const line::Format& f, const line::Reading& r, double arrived) {
    if (file_ == nullptr) return true;
    if (columns_.empty()) {
      std::string head = f.time.empty() ? "time [s]" : "";
      for (const line::Value& v : r.values) {
        columns_.push_back({v.channel, v.unit});
        head += (head.empty() ? "" : ";") + v.channel + (v.unit.empty() ? "" : " [" + v.unit + "]");
      }
      put(head);
    }
    std::vector<double> values;
    for (const Column& c : columns_) {
      const line::Value* v = r.find(c.channel);
      if (v == nullptr) return false;
      if (v->unit == c.unit) {
        values.push_back(v->value);
        continue;
      }
      const Unit *from = find_unit(v->unit), *to = find_unit(c.unit);
      if (from == nullptr || to == nullptr || from->dimension != to->dimension) return false;
      values.push_back((v->value * from->factor + from->offset - to->offset) / to->factor);
    }
    std::string row = f.time.empty() ? plain::fixed(arrived, 4) : "";
    for (const double v : values) row += (row.empty() ? "" : ";") + plain::shortest(v);
    put(row);
    return true;
  }

 private:
  void put(const std::string& text) {
    std::fwrite(text.data(), 1, text.size(), file_);
    std::fputc('\n', file_);
    std::fflush(file_);  // what came in is on disk, whatever happens next
  }
  struct Column {
    std::string channel, unit;
  };
  std::FILE* file_ = nullptr;
  std::vector<Column> columns_;
};

void show(const line::Reading& r, bool json, const std::string& at) {
  if (json) {
    if (r.values.empty()) {
      Json j = {{"at", at}, {"state", line::state_word(r.state)}, {"text", r.text}};
      if (!r.why.empty()) j["why"] = r.why;
      std::printf("%s\n", j.dump().c_str());
    }
    for (const line::Value& v : r.values) {
      const Json j = {{"at", at},
                      {"channel", v.channel},
                      {"value", v.value},
                      {"unit", v.unit},
                      {"state", line::state_word(r.state)},
                      {"text", r.text}};
      std::printf("%s\n", j.dump().c_str());
    }
  } else {
    std::string words;
    for (const line::Value& v : r.values)
      words += (words.empty() ? "" : "  ") + (r.values.size() > 1 ? v.channel + " " : "") + v.typed;
    if (r.values.empty())
      words = std::string(line::state_word(r.state)) + (r.why.empty() ? "" : ": " + r.why);
    else if (r.state == line::State::moving)
      words += "  moving";
    std::printf("%s\n", words.c_str());
  }
  std::fflush(stdout);
}

}  // namespace

int listen(const ListenOptions& o) {
  auto wire = wire_of(o.where);
  if (!wire) return bad_input("“" + o.where + "” is no way in: expected tcp:HOST:PORT, serial:DEVICE, file:PATH or -");
  const auto span = seconds_of(o.span);
  if (!span) return bad_input("--for: “" + o.span + "” is no time; write 10s");
  std::optional<line::Format> format;
  if (!o.format.empty()) {
    const auto text = read_file(o.format, 1 << 20);
    if (!text) return bad_input(text.error().message);
    auto read = line::format_from_json(*text);
    if (!read) return bad_input(o.format + ": " + read.error().message);
    format = *read;
  }
  ::signal(SIGINT, [](int) { ended = 1; });
  ::signal(SIGTERM, [](int) { ended = 1; });
  line::Splitter splitter;
  std::vector<std::pair<std::string, std::string>> held;  // lines and when they came
  Keeper keeper;
  const auto begun = Steady::now();
  auto heard = begun;
  bool any = false, silent = false;
  size_t heads = 0, good = 0, bad = 0, strange = 0;
  const auto since = [](Steady::time_point t) { return std::chrono::duration<double>(Steady::now() - t).count(); };
  const auto take = [&](const std::string& text, const std::string& at) {
    if (heads > 0) {
      --heads;
      return;
    }
    const line::Reading r = line::read(*format, text);
    ++(r.state == line::State::bad ? bad : good);
    show(r, o.json, at);
    if (!r.values.empty() && !keeper.take(*format, r, since(begun))) ++strange;
  };
  const auto settle = [&]() -> int {
    if (!format) {
      std::vector<std::string> lines;
      for (const auto& [text, at] : held) lines.push_back(text);
      const auto proposed = line::propose(lines);
      if (!proposed) return bad_input(o.where + ": " + proposed.error().message);
      format = *proposed;
      heads = format->head_lines;
      if (o.json)
        std::printf("%s\n", Json{{"format", Json::parse(line::format_to_json(*format))}}.dump().c_str());
      else
        std::printf("%s\n", line::words_of(*format).c_str());
    }
    if (!o.record.empty() && !keeper.begin(o.record, *format))
      return bad_input(o.record + ": holds samples already, or cannot be written");
    for (const auto& [text, at] : held) take(text, at);
    held.clear();
    return 0;
  };
  bool settled = false;
  while (ended == 0 && since(begun) < *span) {
    const std::string bytes = wire->read();
    if (!bytes.empty()) {
      if (silent && any)
        std::printf("%s\n", o.json ? Json{{"gap", since(heard)}}.dump().c_str()
                                   : ("gap of " + plain::fixed(since(heard), 1) + " s").c_str());
      silent = false;
      heard = Steady::now();
      splitter.put(bytes);
    } else if (any && !silent && since(heard) > kSilence) {
      silent = true;
      remark(o.where + (wire->open() ? ": nothing comes in" : ": the wire is broken; it is waited for"));
    }
    while (auto text = splitter.next()) {
      any = true;
      if (settled)
        take(*text, Clock().utc());
      else
        held.emplace_back(std::move(*text), Clock().utc());
    }
    const bool enough =
        format || held.size() >= kToPropose || (held.size() >= 3 && since(begun) > kPatience) || wire->over();
    if (!settled && any && enough) {
      if (const int failed = settle(); failed != 0) return failed;
      settled = true;
    }
    if (wire->over() || (o.until_end && any && !wire->open())) break;
  }
  if (!settled && any)
    if (const int failed = settle(); failed != 0) return failed;
  if (!any) return bad_input(o.where + ": nothing came in");
  if (bad > 0) remark(std::to_string(bad) + (bad == 1 ? " line was" : " lines were") + " no reading of this format");
  if (strange > 0)
    remark(std::to_string(strange) + (strange == 1 ? " reading was" : " readings were") +
           " not kept: not the channels and units of the first one");
  return good > 0 ? 0 : 1;
}

}  // namespace fortitor::cli
