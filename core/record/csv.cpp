#include "core/record/csv.h"

#include <algorithm>
#include <charconv>
#include <cmath>
#include <cstdint>
#include <cstdio>
#include <cstring>
#include <limits>
#include <map>
#include <memory>
#include <optional>

#include "core/quantity/unit.h"

namespace fortitor {
namespace {

constexpr double kMissing = std::numeric_limits<double>::quiet_NaN();
constexpr size_t kSniffLines = 200;
constexpr size_t kMostColumns = 4096;
constexpr size_t kLongestLine = 1 << 20;
constexpr size_t kBlock = 1 << 22;  // bytes of a file held at a time

bool blank(char c) {
  return c == ' ' || c == '\t' || c == '\r';
}

std::string_view strip(std::string_view s, char separator) {
  auto space = [&](char c) { return blank(c) && c != separator; };
  while (!s.empty() && space(s.front())) s.remove_prefix(1);
  while (!s.empty() && space(s.back())) s.remove_suffix(1);
  return s;
}

std::string_view unquoted(std::string_view s) {
  if (s.size() >= 2 && s.front() == '"' && s.back() == '"') return s.substr(1, s.size() - 2);
  return s;
}

std::vector<std::string_view> head_lines(std::string_view text) {
  std::vector<std::string_view> lines;
  size_t at = 0;
  while (at < text.size() && lines.size() < kSniffLines) {
    size_t end = text.find_first_of("\r\n", at);
    if (end == std::string_view::npos) end = text.size();
    lines.push_back(text.substr(at, end - at));
    at = end + 1;
    if (end + 1 < text.size() && text[end] == '\r' && text[end + 1] == '\n') ++at;
  }
  return lines;
}

std::vector<std::string_view> cells_of(std::string_view line, char separator) {
  std::vector<std::string_view> cells;
  bool in_quotes = false;
  size_t start = 0;
  for (size_t i = 0; i <= line.size(); ++i) {
    if (i < line.size() && line[i] == '"') in_quotes = !in_quotes;
    if (i == line.size() || (line[i] == separator && !in_quotes)) {
      cells.push_back(unquoted(strip(line.substr(start, i - start), separator)));
      start = i + 1;
      if (cells.size() > kMostColumns) break;  // no table; nobody needs the rest
    }
  }
  return cells;
}

// Parses one cell; empty is NaN, anything else that is no number is nullopt.
std::optional<double> cell_number(std::string_view cell, char decimal) {
  cell = unquoted(cell);
  if (cell.empty()) return kMissing;
  char buffer[64];
  if (decimal != '.') {
    if (cell.size() >= sizeof buffer) return std::nullopt;
    for (size_t i = 0; i < cell.size(); ++i) {
      if (cell[i] == '.') return std::nullopt;
      buffer[i] = cell[i] == decimal ? '.' : cell[i];
    }
    cell = std::string_view(buffer, cell.size());
  }
  if (cell.front() == '+') cell.remove_prefix(1);
  double value = 0;
  const auto [stop, error] = std::from_chars(cell.data(), cell.data() + cell.size(), value);
  if (error == std::errc::result_out_of_range && stop == cell.data() + cell.size())
    return cell.find("e-") != std::string_view::npos || cell.find("E-") != std::string_view::npos ? 0.0 : kMissing;
  if (error != std::errc() || stop != cell.data() + cell.size()) return std::nullopt;
  return std::isfinite(value) ? value : kMissing;  // "nan" and "inf" are how some machines say missing
}

// A plain decimal that ends where its cell ends. The digits make a whole number below 2⁵³ and the
// power of ten is at most 10²², so one division rounds correctly (Clinger 1990, the fast case);
// anything else returns null and is read the general way.
const char* plain_number(const char* p, const char* end, char decimal, char separator, double& value) {
  static constexpr double kPowers[] = {1e0,  1e1,  1e2,  1e3,  1e4,  1e5,  1e6,  1e7,  1e8,  1e9,  1e10, 1e11,
                                       1e12, 1e13, 1e14, 1e15, 1e16, 1e17, 1e18, 1e19, 1e20, 1e21, 1e22};
  const bool negative = p != end && *p == '-';
  if (negative) ++p;
  const char* const first = p;
  uint64_t digits = 0;
  const char* point = nullptr;
  for (; p != end; ++p) {
    const unsigned d = unsigned(*p) - '0';
    if (d < 10)
      digits = digits * 10 + d;
    else if (*p == decimal && point == nullptr)
      point = p;
    else
      break;
  }
  const ptrdiff_t count = p - first - (point != nullptr ? 1 : 0);
  if (count < 1 || count > 18 || digits > (uint64_t(1) << 53)) return nullptr;
  if (p != end && *p != separator && *p != '\n' && *p != '\r') return nullptr;
  const double v = double(digits) / kPowers[point != nullptr ? p - point - 1 : 0];
  value = negative ? -v : v;
  return p;
}

// Cells that are numbers in this dialect, or 0 when the line is not a data row.
size_t numeric_cells(std::string_view line, char separator, char decimal) {
  const auto cells = cells_of(line, separator);
  size_t numbers = 0;
  for (std::string_view c : cells) {
    const auto v = cell_number(c, decimal);
    if (!v) return 0;
    if (!c.empty()) ++numbers;
  }
  return numbers == 0 ? 0 : cells.size();
}

std::string printable(std::string_view s) {
  std::string out(s.substr(0, 40));
  for (char& c : out)
    if (static_cast<unsigned char>(c) < 0x20) c = ' ';
  return out;
}

// "Load [kN]", "Ext (mm)", "Force / N" → name and unit.
void split_unit(std::string& name, std::string& unit) {
  for (const auto& [open, close] : {std::pair{'[', ']'}, std::pair{'(', ')'}}) {
    const size_t from = name.rfind(open);
    if (from == std::string::npos || name.back() != close) continue;
    const std::string inside = name.substr(from + 1, name.size() - from - 2);
    if (find_unit(inside) == nullptr) continue;
    unit = inside;
    name = std::string(strip(name.substr(0, from), '\0'));
    return;
  }
  const size_t slash = name.rfind(" / ");
  if (slash != std::string::npos && find_unit(name.substr(slash + 3)) != nullptr) {
    unit = name.substr(slash + 3);
    name = name.substr(0, slash);
  }
}

bool looks_like_units(const std::vector<std::string_view>& cells) {
  size_t known = 0, filled = 0;
  for (std::string_view c : cells) {
    if (c.size() >= 2 && (c.front() == '[' || c.front() == '(')) c = c.substr(1, c.size() - 2);
    if (c.empty() || c == "-") continue;
    ++filled;
    known += find_unit(c) != nullptr;
  }
  return filled > 0 && known * 2 > filled;
}

}  // namespace

Outcome<CsvDialect> sniff_csv(std::string_view text) {
  if (text.size() >= 2 &&
      (static_cast<unsigned char>(text[0]) == 0xFF || text.substr(0, 64).find('\0') != std::string_view::npos))
    return InputError{"The file is not plain text (UTF-16 or binary): save it as UTF-8 CSV.", {}};
  if (text.substr(0, 3) == "\xEF\xBB\xBF") text.remove_prefix(3);
  const auto lines = head_lines(text);
  for (std::string_view line : lines)
    if (line.size() > kLongestLine) return InputError{"The file has a line of more than 1 MB: it is no table.", {}};
  CsvDialect best;
  size_t best_score = 0, best_columns = 0;
  struct Try {
    char separator, decimal;
  };
  // A comma can part cells or decimals; where both readings work the one with a stabler width wins.
  for (const Try t :
       {Try{';', ','}, Try{';', '.'}, Try{'\t', ','}, Try{'\t', '.'}, Try{',', '.'}, Try{' ', '.'}, Try{' ', ','}}) {
    for (size_t first = 0; first < lines.size(); ++first) {
      const size_t width = numeric_cells(lines[first], t.separator, t.decimal);
      if (width == 0) continue;
      size_t run = 0;
      for (size_t i = first; i < lines.size(); ++i) {
        if (strip(lines[i], t.separator).empty()) continue;
        if (numeric_cells(lines[i], t.separator, t.decimal) != width) break;
        ++run;
      }
      const size_t remaining = lines.size() - first;
      if (run * 2 < remaining && run < 3) continue;
      size_t decimals = 0;
      for (size_t i = first; i < std::min(lines.size(), first + run); ++i)
        decimals += lines[i].find(t.decimal) != std::string_view::npos;
      const size_t score = run * 4 + (width > 1 ? run * 3 : 0) + (decimals > 0 ? 1 : 0);
      if (score > best_score) {
        best_score = score;
        best_columns = width;
        best.separator = t.separator;
        best.decimal = t.decimal;
        best.header_lines = first;
      }
      break;
    }
  }
  if (best_score == 0) return InputError{"No row of numbers was found in the file.", {}};
  if (best_columns > kMostColumns)
    return InputError{"The file has more than " + std::to_string(kMostColumns) + " columns.", {}};
  best.columns.assign(best_columns, {});
  best.units.assign(best_columns, {});
  size_t names_at = best.header_lines;
  if (names_at > 0) {
    const auto cells = cells_of(lines[names_at - 1], best.separator);
    // "t,F,x" may read as units too; they are names when no row of as many words stands above them.
    const bool named = names_at > 1 && [&] {
      const auto above = cells_of(lines[names_at - 2], best.separator);
      return above.size() == best_columns && std::any_of(above.begin(), above.end(), [](auto c) { return !c.empty(); });
    }();
    const bool bracketed = !cells.empty() && !cells[0].empty() && (cells[0].front() == '[' || cells[0].front() == '(');
    if (cells.size() == best_columns && (named || bracketed) && looks_like_units(cells)) {
      for (size_t i = 0; i < best_columns; ++i) {
        std::string_view c = cells[i];
        if (c.size() >= 2 && (c.front() == '[' || c.front() == '(')) c = c.substr(1, c.size() - 2);
        best.units[i] = std::string(c);
      }
      --names_at;
    }
  }
  if (names_at > 0) {
    const auto cells = cells_of(lines[names_at - 1], best.separator);
    if (cells.size() == best_columns)
      for (size_t i = 0; i < best_columns; ++i) best.columns[i] = std::string(cells[i]);
  }
  for (size_t i = 0; i < best_columns; ++i) {
    if (best.columns[i].empty()) best.columns[i] = "column " + std::to_string(i + 1);
    if (best.units[i].empty()) split_unit(best.columns[i], best.units[i]);
  }
  // Two columns of one name are told apart: "F", "F (2)".
  std::map<std::string, int> seen;
  for (std::string& name : best.columns)
    if (const int n = ++seen[name]; n > 1) name += " (" + std::to_string(n) + ")";
  return best;
}

namespace {

// Rows of one dialect, taken in as text comes: always whole lines.
class RowReader {
 public:
  explicit RowReader(const CsvDialect& dialect) : skip_(dialect.header_lines) {
    table_.dialect = dialect;
    table_.columns.resize(dialect.columns.size());
  }
  // One guess at the number of rows saves most of the growing; `bytes` are still to come, the next of them first.
  void expect(std::string_view next, size_t bytes) {
    const char *p = next.data(), *end = p + next.size();
    for (size_t i = 0; i < skip_ && p != end; ++i) p = after_line(p, end);
    const char* stop = p;
    while (stop != end && *stop != '\n') ++stop;
    const size_t guess = bytes / std::max<size_t>(8, size_t(stop - p) + 1);
    for (auto& c : table_.columns) c.reserve(guess + guess / 50);
  }
  Outcome<Done> feed(std::string_view text);
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
  CsvTable table_;
  size_t skip_, line_ = 1;
};

Outcome<Done> RowReader::feed(std::string_view text) {
  const char* p = text.data();
  const char* const end = p + text.size();
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
    while (probe != end && blank(*probe) && *probe != separator && *probe != '\r') ++probe;
    if (probe == end) break;
    if (*probe == '\n' || *probe == '\r') {
      next_line();
      continue;
    }
    for (size_t column = 0;; ++column) {
      while (p != end && *p == ' ' && separator != ' ') ++p;
      if (column >= width) return fail(column, "the row has more than " + std::to_string(width) + " cells.");
      double value = kMissing;
      bool read = false;
      if (const char* stop = plain_number(p, end, decimal, separator, value)) {
        p = stop;
        read = true;
      } else if (decimal == '.' && p != end) {  // exponents and long numbers
        const auto [last, error] = std::from_chars(p, end, value);
        if (error == std::errc() && (last == end || *last == separator || *last == '\n' || *last == '\r')) {
          if (!std::isfinite(value)) value = kMissing;
          p = last;
          read = true;
        }
      }
      if (!read) {
        const char* cell_end = p;
        bool in_quotes = false;
        while (cell_end != end && *cell_end != '\n' && *cell_end != '\r' && (in_quotes || *cell_end != separator)) {
          if (*cell_end == '"') in_quotes = !in_quotes;
          ++cell_end;
        }
        const std::string_view cell = strip(std::string_view(p, size_t(cell_end - p)), separator);
        const auto parsed = cell_number(cell, decimal);
        if (!parsed) return fail(column, "“" + printable(cell) + "” is not a number.");
        value = *parsed;
        p = cell_end;
      }
      table_.columns[column].push_back(value);
      if (p != end && *p == separator) {
        ++p;
        continue;
      }
      if (column + 1 != width)
        return fail(column, "the row has " + std::to_string(column + 1) + " cells where " + std::to_string(width) +
                                " were expected.");
      break;
    }
    if (p != end) next_line();
  }
  return Done{};
}

}  // namespace

Outcome<CsvTable> parse_csv(std::string_view text, const CsvDialect& dialect) {
  if (text.substr(0, 3) == "\xEF\xBB\xBF") text.remove_prefix(3);
  RowReader reader(dialect);
  reader.expect(text, text.size());
  if (const auto fed = reader.feed(text); !fed) return fed.error();
  return reader.take();
}

Outcome<CsvTable> parse_csv(std::string_view text) {
  auto dialect = sniff_csv(text);
  if (!dialect) return dialect.error();
  return parse_csv(text, *dialect);
}

Outcome<CsvTable> read_csv(const std::string& path, const std::function<bool(double)>& progress) {
  const std::unique_ptr<std::FILE, int (*)(std::FILE*)> file(std::fopen(path.c_str(), "rb"), std::fclose);
  if (!file) return InputError{path + ": cannot be opened: " + std::strerror(errno) + ".", {}};
  std::fseek(file.get(), 0, SEEK_END);
  const double size = double(std::max(1L, std::ftell(file.get())));
  std::rewind(file.get());
  auto fail = [&](const InputError& e) { return InputError{path + ": " + e.message, {}}; };
  std::string held;  // read and not yet taken in
  std::optional<RowReader> reader;
  double taken = 0;
  for (bool more = true; more;) {
    const size_t before = held.size();
    held.resize(before + kBlock);
    const size_t got = std::fread(held.data() + before, 1, kBlock, file.get());
    held.resize(before + got);
    more = got == kBlock;
    if (std::ferror(file.get())) return InputError{path + ": cannot be read.", {}};
    if (!reader && held.compare(0, 3, "\xEF\xBB\xBF") == 0) held.erase(0, 3);
    // Whole lines only; the rest waits for the next block.
    size_t whole = held.size();
    if (more) {
      whole = held.find_last_of('\n');
      if (whole == std::string::npos) whole = held.find_last_of('\r', held.size() - 2);
      if (whole == std::string::npos || held.size() - whole > kLongestLine + 1)
        return fail({"a line of more than 1 MB: it is no table.", {}});
      ++whole;
    }
    if (!reader) {
      const auto dialect = sniff_csv(std::string_view(held).substr(0, whole));
      if (!dialect) return fail(dialect.error());
      reader.emplace(*dialect);
      reader->expect(std::string_view(held).substr(0, std::min<size_t>(whole, kLongestLine)), size_t(size));
    }
    if (const auto fed = reader->feed(std::string_view(held).substr(0, whole)); !fed) return fail(fed.error());
    held.erase(0, whole);
    taken += double(got);
    if (progress && !progress(std::min(1.0, taken / size))) return InputError{path + ": the reading was stopped.", {}};
  }
  return reader->take();
}

Outcome<std::string> read_file(const std::string& path) {
  std::FILE* f = std::fopen(path.c_str(), "rb");
  if (f == nullptr) return InputError{path + ": cannot be opened: " + std::strerror(errno) + ".", {}};
  std::string text;
  char buffer[1 << 16];
  size_t n = 0;
  while ((n = std::fread(buffer, 1, sizeof buffer, f)) > 0) text.append(buffer, n);
  const bool broken = std::ferror(f) != 0;
  std::fclose(f);
  if (broken) return InputError{path + ": cannot be read.", {}};
  return text;
}

}  // namespace fortitor
