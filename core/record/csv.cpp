#include "core/record/csv.h"

#include <algorithm>
#include <charconv>
#include <cmath>
#include <cstdint>
#include <cstdio>
#include <cstring>
#include <memory>
#include <optional>

#include "core/record/bounds.h"
#include "core/record/csv_parts.h"

namespace fortitor {

using csv::blank;
using csv::cell_number;
using csv::kLongestLine;
using csv::kMissing;
using csv::strip;

namespace {

constexpr size_t kBlock = 1 << 22;  // bytes of a file looked at first, to see how it is written
constexpr size_t kNext = 1 << 18;   // bytes held at a time from then on: they stay in the cache

// A plain decimal that ends where its cell ends. The digits make a whole number below 2⁵³ and the
// power of ten is at most 10²², so one division rounds correctly (Clinger 1990, the fast case);
// anything else returns null and is read the general way. A line's end must follow in the text.
inline const char* plain_number(const char* p, char decimal, char separator, double& value) {
  static constexpr double kPowers[] = {1e0,  1e1,  1e2,  1e3,  1e4,  1e5,  1e6,  1e7,  1e8,  1e9,  1e10, 1e11,
                                       1e12, 1e13, 1e14, 1e15, 1e16, 1e17, 1e18, 1e19, 1e20, 1e21, 1e22};
  const bool negative = *p == '-';
  p += negative;
  const char* const first = p;
  uint64_t digits = 0;
  unsigned d = 0;
  while ((d = unsigned(*p) - '0') < 10) {
    digits = digits * 10 + d;
    ++p;
  }
  ptrdiff_t count = p - first, fraction = 0;
  if (*p == decimal) {
    const char* const point = ++p;
    while ((d = unsigned(*p) - '0') < 10) {
      digits = digits * 10 + d;
      ++p;
    }
    fraction = p - point;
    count += fraction;
  }
  if (*p != separator && *p != '\n' && *p != '\r') return nullptr;
  if (count < 1 || count > 18 || digits > (uint64_t(1) << 53)) return nullptr;
  const double v = double(digits) / kPowers[fraction];
  value = negative ? -v : v;
  return p;
}

std::string printable(std::string_view s) {
  std::string out(s.substr(0, 40));
  for (char& c : out)
    if (static_cast<unsigned char>(c) < 0x20) c = ' ';
  return out;
}

}  // namespace

namespace {

// Rows of one dialect, taken in as text comes.
class CsvRowReader {
 public:
  explicit CsvRowReader(const CsvDialect& dialect) : skip_(dialect.header_lines) {
    table_.dialect = dialect;
    table_.columns.resize(dialect.columns.size());
    row_.resize(dialect.columns.size());
  }
  // One guess at the number of rows saves most of the growing; `bytes` are still to come, the next of them first.
  void expect(std::string_view next, size_t bytes) {
    const char *p = next.data(), *end = p + next.size();
    for (size_t i = 0; i < skip_ && p != end; ++i) p = after_line(p, end);
    const size_t lines = size_t(std::count(p, end, '\n'));
    const size_t guess = bytes / std::max<size_t>(8, size_t(end - p) / std::max<size_t>(1, lines));
    for (auto& c : table_.columns) c.reserve(guess + guess / 50);
  }
  // Whole lines, but for the last of the text, which may have no end.
  Outcome<Done> feed(std::string_view text);
  const CsvTable& so_far() const { return table_; }
  void forget() {
    for (auto& c : table_.columns) c.clear();
  }
  CsvTable take() {
    // A guess that was far off must not stay in memory.
    for (auto& c : table_.columns)
      if (c.capacity() > c.size() + c.size() / 8 + 1024) c.shrink_to_fit();
    return std::move(table_);
  }

 private:
  static const char* after_line(const char* p, const char* end) {
    while (p != end && *p != '\n' && *p != '\r') ++p;
    if (p != end && *p == '\r') {
      ++p;
      if (p != end && *p == '\n') ++p;
    } else if (p != end) {
      ++p;
    }
    return p;
  }
  Outcome<Done> lines(const char* p, const char* end);
  CsvTable table_;
  std::vector<double> row_;  ///< the row that is being read
  size_t skip_, line_ = 1;
};

Outcome<Done> CsvRowReader::feed(std::string_view text) {
  size_t whole = text.find_last_of("\r\n");
  whole = whole == std::string_view::npos ? 0 : whole + 1;
  if (const auto done = lines(text.data(), text.data() + whole); !done) return done;
  if (whole == text.size()) return Done{};
  const std::string last = std::string(text.substr(whole)) + "\n";
  return lines(last.data(), last.data() + last.size());
}

// Every line has its end, so that no cell needs to look for the end of the text.
Outcome<Done> CsvRowReader::lines(const char* p, const char* end) {
  auto next_line = [&] {
    p = after_line(p, end);
    ++line_;
  };
  for (; skip_ > 0 && p != end; --skip_) next_line();
  auto fail = [&](size_t column, const std::string& what) {
    return InputError{"line " + std::to_string(line_) + ", column " + std::to_string(column + 1) + ": " + what, {}};
  };
  const size_t width = table_.columns.size();
  const char separator = table_.dialect.separator, decimal = table_.dialect.decimal;
  while (p != end) {
    const char* probe = p;
    while (blank(*probe) && *probe != separator && *probe != '\r') ++probe;
    if (*probe == '\n' || *probe == '\r') {
      next_line();
      continue;
    }
    for (size_t column = 0;; ++column) {
      while (*p == ' ' && separator != ' ') ++p;
      if (column >= width) return fail(column, "the row has more than " + std::to_string(width) + " cells.");
      double value = kMissing;
      const char* stop = plain_number(p, decimal, separator, value);
      if (stop == nullptr && decimal == '.') {  // exponents and long numbers
        const auto [last, error] = std::from_chars(p, end, value);
        if (error == std::errc() && (*last == separator || *last == '\n' || *last == '\r')) {
          if (!std::isfinite(value)) value = kMissing;
          stop = last;
        }
      }
      if (stop == nullptr) {
        stop = p;
        bool in_quotes = false;
        while (*stop != '\n' && *stop != '\r' && (in_quotes || *stop != separator)) {
          if (*stop == '"') in_quotes = !in_quotes;
          ++stop;
        }
        const std::string_view cell = strip(std::string_view(p, size_t(stop - p)), separator);
        const auto parsed = cell_number(cell, decimal);
        if (!parsed) return fail(column, "“" + printable(cell) + "” is not a number.");
        value = *parsed;
      }
      p = stop;
      row_[column] = value;
      if (*p == separator) {
        ++p;
        continue;
      }
      if (column + 1 != width)
        return fail(column, "the row has " + std::to_string(column + 1) + " cells where " + std::to_string(width) +
                                " were expected.");
      break;
    }
    for (size_t c = 0; c < width; ++c) table_.columns[c].push_back(row_[c]);
    next_line();
  }
  return Done{};
}

}  // namespace

Outcome<CsvTable> parse_csv(std::string_view text, const CsvDialect& dialect) {
  if (text.substr(0, 3) == "\xEF\xBB\xBF") text.remove_prefix(3);
  CsvRowReader reader(dialect);
  reader.expect(text, text.size());
  if (const auto fed = reader.feed(text); !fed) return fed.error();
  return reader.take();
}

Outcome<CsvTable> parse_csv(std::string_view text) {
  auto dialect = sniff_csv(text);
  if (!dialect) return dialect.error();
  return parse_csv(text, *dialect);
}

namespace {

// Reads a file block by block; `after` looks at the reader when a block is in and stops by returning false.
Outcome<Done> read_blocks(const std::string& path, std::optional<CsvRowReader>& reader, bool expect,
                          const std::function<bool(double)>& after) {
  if (const auto plain = check_plain_file(path); !plain) return plain.error();
  const std::unique_ptr<std::FILE, int (*)(std::FILE*)> file(std::fopen(path.c_str(), "rb"), std::fclose);
  if (!file) return InputError{path + ": cannot be opened: " + std::strerror(errno) + ".", {}};
  std::fseek(file.get(), 0, SEEK_END);
  const double size = double(std::max(1L, std::ftell(file.get())));
  std::rewind(file.get());
  auto fail = [&](const InputError& e) { return InputError{path + ": " + e.message, {}}; };
  // What was read and not yet taken in: the tail of a block, a line at most, before the next one.
  constexpr size_t kRoom = kBlock + kLongestLine + 2;
  const std::unique_ptr<char[]> room(new char[kRoom]);
  size_t held = 0;
  double taken = 0;
  for (bool more = true; more;) {
    const size_t wanted = reader ? kNext : kBlock, got = std::fread(room.get() + held, 1, wanted, file.get());
    if (std::ferror(file.get())) return InputError{path + ": cannot be read.", {}};
    more = got == wanted;
    std::string_view text(room.get(), held + got);
    if (!reader && text.substr(0, 3) == "\xEF\xBB\xBF") text.remove_prefix(3);
    // Whole lines only; the rest waits for the next block.
    size_t whole = text.size();
    if (more) {
      whole = text.find_last_of('\n');
      if (whole == std::string_view::npos) whole = text.find_last_of('\r', text.size() - 2);
      whole = whole == std::string_view::npos ? 0 : whole + 1;
      if (text.size() - whole > kLongestLine) return fail({"a line of more than 1 MB: it is no table.", {}});
    }
    if (!reader) {
      const auto dialect = sniff_csv(text.substr(0, whole));
      if (!dialect) return fail(dialect.error());
      reader.emplace(*dialect);
      if (expect) reader->expect(text.substr(0, std::min(whole, kLongestLine)), size_t(size));
    }
    if (const auto fed = reader->feed(text.substr(0, whole)); !fed) return fail(fed.error());
    held = text.size() - whole;
    std::memmove(room.get(), text.data() + whole, held);
    taken += double(got);
    if (!after(std::min(1.0, taken / size))) return InputError{path + ": the reading was stopped.", {}};
  }
  return Done{};
}

}  // namespace

Outcome<CsvTable> read_csv(const std::string& path, const std::function<bool(double)>& progress) {
  std::optional<CsvRowReader> reader;
  const auto done = read_blocks(path, reader, true, [&](double share) { return !progress || progress(share); });
  if (!done) return done.error();
  return reader->take();
}

Outcome<Done> stream_csv(const std::string& path, const std::function<bool(const CsvTable&, double)>& take) {
  std::optional<CsvRowReader> reader;
  return read_blocks(path, reader, false, [&](double share) {
    const bool on = take(reader->so_far(), share);
    reader->forget();
    return on;
  });
}

Outcome<std::string> read_file(const std::string& path, size_t most) {
  if (const auto plain = check_plain_file(path); !plain) return plain.error();
  std::FILE* f = std::fopen(path.c_str(), "rb");
  if (f == nullptr) return InputError{path + ": cannot be opened: " + std::strerror(errno) + ".", {}};
  std::string text;
  char buffer[1 << 16];
  size_t n = 0;
  while (text.size() <= most && (n = std::fread(buffer, 1, sizeof buffer, f)) > 0) text.append(buffer, n);
  const bool broken = std::ferror(f) != 0;
  std::fclose(f);
  if (broken) return InputError{path + ": cannot be read.", {}};
  if (text.size() > most)
    return InputError{path + ": more than " + std::to_string(most >> 20) + " MB; it is not read.", {}};
  return text;
}

}  // namespace fortitor
