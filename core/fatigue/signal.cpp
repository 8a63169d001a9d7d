#include "core/fatigue/signal.h"

#include <fcntl.h>
#include <sys/stat.h>
#include <unistd.h>

#include <algorithm>
#include <cerrno>
#include <charconv>
#include <cmath>
#include <cstdlib>
#include <cstring>
#include <limits>

#include "core/quantity/format.h"
#include "core/quantity/plain.h"
#include "core/record/csv.h"

namespace fortitor::fatigue {
namespace {

constexpr double kNothing = std::numeric_limits<double>::quiet_NaN();
constexpr size_t kInMemory = size_t(16) << 20;  // samples of a CSV that are kept in memory: 128 MB

// A file that is closed with its last user.
class File {
 public:
  explicit File(int fd) : fd_(fd) {}
  File(const File&) = delete;
  File& operator=(const File&) = delete;
  ~File() {
    if (fd_ >= 0) ::close(fd_);
  }
  int fd() const { return fd_; }
  // All of it or nothing.
  bool read(uint64_t at, size_t bytes, char* out) const {
    while (bytes > 0) {
      const ssize_t got = ::pread(fd_, out, bytes, off_t(at));
      if (got < 0 && errno == EINTR) continue;
      if (got <= 0) return false;
      at += uint64_t(got);
      out += got;
      bytes -= size_t(got);
    }
    return true;
  }

 private:
  int fd_;
};

struct Part {
  std::string path;
  std::shared_ptr<File> file;
  size_t first = 0, count = 0;
};

// Little-endian numbers of four or eight bytes, several files as one.
class BinarySignal : public Signal {
 public:
  BinarySignal(std::vector<Part> parts, size_t width, double rate, double scale, std::optional<double> sentinel)
      : parts_(std::move(parts)), width_(width), rate_(rate), scale_(scale), sentinel_(sentinel) {}
  size_t size() const override { return parts_.empty() ? 0 : parts_.back().first + parts_.back().count; }
  double rate() const override { return rate_; }
  Outcome<Done> read(size_t from, size_t count, double* out) const override {
    std::vector<char> raw(std::min(count, kPiece) * width_);
    for (const Part& p : parts_) {
      size_t at = std::max(from, p.first);
      const size_t end = std::min(from + count, p.first + p.count);
      while (at < end) {
        const size_t n = std::min(kPiece, end - at);
        if (!p.file->read((at - p.first) * width_, n * width_, raw.data()))
          return InputError{p.path + ": could not be read at sample " + std::to_string(at - p.first) +
                                ": it was cut or its disk is gone.",
                            {}};
        double* to = out + (at - from);
        if (width_ == 4) {
          const float* f = reinterpret_cast<const float*>(raw.data());
          for (size_t i = 0; i < n; ++i) to[i] = double(f[i]);
        } else {
          std::memcpy(to, raw.data(), n * 8);
        }
        finish(to, n);
        at += n;
      }
    }
    return Done{};
  }

 private:
  static constexpr size_t kPiece = 1 << 16;
  void finish(double* x, size_t n) const {
    if (sentinel_) {
      // A value written as four bytes is compared as four bytes.
      const double mark = width_ == 4 ? double(float(*sentinel_)) : *sentinel_;
      for (size_t i = 0; i < n; ++i)
        if (x[i] == mark) x[i] = kNothing;
    }
    // Infinite is not measured either: the product with zero tells it from any finite number.
    for (size_t i = 0; i < n; ++i) x[i] = x[i] * 0 == 0 ? x[i] * scale_ : kNothing;
  }
  std::vector<Part> parts_;
  size_t width_;
  double rate_, scale_;
  std::optional<double> sentinel_;
};

class MemorySignal : public Signal {
 public:
  MemorySignal(std::vector<double> x, double rate) : x_(std::move(x)), rate_(rate) {}
  size_t size() const override { return x_.size(); }
  double rate() const override { return rate_; }
  Outcome<Done> read(size_t from, size_t count, double* out) const override {
    std::copy_n(x_.begin() + std::ptrdiff_t(from), count, out);
    return Done{};
  }

 private:
  std::vector<double> x_;
  double rate_;
};

std::string ending_of(const std::string& path) {
  const size_t dot = path.find_last_of('.');
  std::string end = dot == std::string::npos ? "" : path.substr(dot + 1);
  for (char& c : end) c = plain::lower(c);
  return end;
}

bool is_time(const std::string& name) {
  std::string low = name;
  for (char& c : low) c = plain::lower(c);
  for (const char* word : {"time", "zeit", "temps", "tempo", "tiempo"})
    if (low.rfind(word, 0) == 0) return true;
  return low == "t" || low == "s";
}

// Samples of a CSV as they come: in memory first, in a nameless file once there are too many.
class Sink {
 public:
  Outcome<Done> push(double v) {
    held_.push_back(v);
    if (held_.size() < (file_ ? kBlock : kInMemory)) return Done{};
    return spill();
  }
  Outcome<std::shared_ptr<const Signal>> take(double rate) {
    if (!file_) return std::shared_ptr<const Signal>(std::make_shared<MemorySignal>(std::move(held_), rate));
    if (const auto done = spill(); !done) return done.error();
    return std::shared_ptr<const Signal>(std::make_shared<BinarySignal>(
        std::vector<Part>{{"temporary copy", file_, 0, written_}}, 8, rate, 1, std::nullopt));
  }

 private:
  static constexpr size_t kBlock = 1 << 17;
  Outcome<Done> spill() {
    if (!file_) {
      const char* folder = std::getenv("TMPDIR");
      std::string name = std::string(folder != nullptr && *folder != 0 ? folder : "/tmp") + "/fortitor-signal-XXXXXX";
      const int fd = ::mkstemp(name.data());
      if (fd < 0)
        return InputError{"A long CSV needs room for a temporary copy, and " + name +
                              " could not be made: " + std::strerror(errno) + ".",
                          {}};
      ::unlink(name.c_str());  // it is gone with its last user, whatever happens
      file_ = std::make_shared<File>(fd);
    }
    const char* at = reinterpret_cast<const char*>(held_.data());
    size_t bytes = held_.size() * 8;
    while (bytes > 0) {
      const ssize_t n = ::write(file_->fd(), at, bytes);
      if (n < 0 && errno == EINTR) continue;
      if (n <= 0)
        return InputError{
            std::string("There is no room for the temporary copy of a long CSV: ") + std::strerror(errno) + ".", {}};
      at += n;
      bytes -= size_t(n);
    }
    written_ += held_.size();
    held_.clear();
    held_.shrink_to_fit();
    return Done{};
  }
  std::vector<double> held_;
  std::shared_ptr<File> file_;
  size_t written_ = 0;
};

struct Columns {
  size_t value = 0;
  std::optional<size_t> time;
};

Outcome<Columns> columns_of(const CsvDialect& d, const SignalSpec& spec, const std::string& path) {
  Columns c;
  const size_t n = d.columns.size();
  for (size_t i = 0; i < n; ++i)
    if (!c.time && n > 1 && is_time(d.columns[i])) c.time = i;
  if (spec.column.empty()) {
    c.value = n - 1;
    if (c.time == c.value && n > 1) c.value = n - 2;
    return c;
  }
  for (size_t i = 0; i < n; ++i)
    if (d.columns[i] == spec.column) {
      c.value = i;
      return c;
    }
  size_t number = 0;
  const auto [end, error] = std::from_chars(spec.column.data(), spec.column.data() + spec.column.size(), number);
  if (error == std::errc() && end == spec.column.data() + spec.column.size() && number >= 1 && number <= n) {
    c.value = number - 1;
    return c;
  }
  std::string names;
  for (const std::string& name : d.columns) names += (names.empty() ? "" : ", ") + name;
  return InputError{path + ": has no column “" + spec.column + "”; it has " + names + ".", {}};
}

Outcome<std::shared_ptr<const Signal>> open_csv(const SignalSpec& spec, const Progress& progress) {
  Sink sink;
  constexpr double kMostMissing = 1e7;
  double missed = 0;
  double rate = spec.rate, last = kNothing, pending = kNothing, pending_at = kNothing;
  bool has_pending = false;
  std::optional<InputError> wrong;
  size_t row = 0;
  for (size_t k = 0; k < spec.files.size(); ++k) {
    const std::string& path = spec.files[k];
    std::optional<Columns> at;
    const auto take = [&](const CsvTable& part, double share) {
      if (!at) {
        const auto found = columns_of(part.dialect, spec, path);
        if (!found) wrong = found.error();
        if (wrong) return false;
        at = *found;
      }
      const std::vector<double>& values = part.columns[at->value];
      for (size_t i = 0; i < values.size() && !wrong; ++i, ++row) {
        double v = values[i];
        if (spec.sentinel && v == *spec.sentinel) v = kNothing;
        v = std::isfinite(v) ? v * spec.scale : kNothing;
        if (!at->time) {
          if (const auto done = sink.push(v); !done) wrong = done.error();
          continue;
        }
        const double t = part.columns[*at->time][i];
        if (!std::isfinite(t)) continue;
        if (std::isfinite(last) && t < last) {
          wrong = InputError{path + ": row " + std::to_string(row + 1) + ": time runs backwards.", {}};
          break;
        }
        if (!(rate > 0)) {  // the first step of time is the rate
          if (has_pending && t > pending_at) {
            rate = 1 / (t - pending_at);
            // Clocks are written with few digits: a rate near a whole number is that number.
            if (std::abs(rate - std::round(rate)) < 0.01 * rate && rate > 1) rate = std::round(rate);
            if (const auto done = sink.push(pending); !done) wrong = done.error();
          } else {
            pending = v;
            pending_at = last = t;
            has_pending = true;
            continue;
          }
        } else if (std::isfinite(last)) {
          const double missing = std::round((t - last) * rate) - 1;
          // A gap is written out sample by sample: a few lines must not fill the disk.
          missed += missing;
          if (missed > kMostMissing + 100 * double(row))
            wrong = InputError{path + ": row " + std::to_string(row + 1) + ": time jumps by " + fixed(missing, 0) +
                                   " samples, a hundred times what was recorded.",
                               {}};
          for (double m = 0; m < missing && !wrong; ++m)
            if (const auto done = sink.push(kNothing); !done) wrong = done.error();
        }
        last = t;
        if (!wrong)
          if (const auto done = sink.push(v); !done) wrong = done.error();
      }
      if (!wrong && progress && !progress((double(k) + share) / double(spec.files.size())))
        wrong = InputError{"The reading was stopped.", {}};
      return !wrong;
    };
    const auto done = stream_csv(path, take);
    if (wrong) return *wrong;
    if (!done) return done.error();
  }
  if (!(rate > 0)) return InputError{spec.files.front() + ": the rate is not known: give it in samples a second.", {}};
  return sink.take(rate);
}

}  // namespace

std::shared_ptr<const Signal> signal_of(std::vector<double> samples, double rate) {
  return std::make_shared<MemorySignal>(std::move(samples), rate);
}

Outcome<std::shared_ptr<const Signal>> open_signal(const SignalSpec& spec, const Progress& progress) {
  if (spec.files.empty()) return InputError{"No signal is named.", {}};
  if (!std::isfinite(spec.rate) || spec.rate < 0)
    return InputError{"The rate must be more than 0 samples a second.", {}};
  if (!std::isfinite(spec.scale) || spec.scale == 0) return InputError{"The scale must be a number other than 0.", {}};
  const std::string format = spec.format.empty() ? ending_of(spec.files.front()) : spec.format;
  if (format != "f32" && format != "f64") {
    if (!spec.format.empty() && format != "csv")
      return InputError{"The format “" + spec.format + "” is none of csv, f32, f64.", {}};
    return open_csv(spec, progress);
  }
  if (!(spec.rate > 0))
    return InputError{spec.files.front() + ": the rate is not known: give it in samples a second.", {}};
  const size_t width = format == "f32" ? 4 : 8;
  std::vector<Part> parts;
  size_t first = 0;
  for (const std::string& path : spec.files) {
    const int fd = ::open(path.c_str(), O_RDONLY | O_CLOEXEC);
    if (fd < 0) return InputError{path + ": cannot be opened: " + std::strerror(errno) + ".", {}};
    auto file = std::make_shared<File>(fd);
    struct stat s {};
    if (::fstat(fd, &s) != 0 || !S_ISREG(s.st_mode)) return InputError{path + ": is no file of samples.", {}};
    if (s.st_size == 0 || size_t(s.st_size) % width != 0)
      return InputError{path + ": " + std::to_string(s.st_size) + " bytes are no whole number of samples of " +
                            std::to_string(width) + " bytes.",
                        {}};
    parts.push_back({path, file, first, size_t(s.st_size) / width});
    first += parts.back().count;
  }
  return std::shared_ptr<const Signal>(
      std::make_shared<BinarySignal>(std::move(parts), width, spec.rate, spec.scale, spec.sentinel));
}

}  // namespace fortitor::fatigue
