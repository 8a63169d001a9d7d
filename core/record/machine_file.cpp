#include "core/record/machine_file.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <optional>
#include <set>

#include "core/record/bounds.h"
#include "core/record/encoding.h"
#include "core/record/header.h"
#include "core/record/machine_rows.h"

namespace fortitor {

using namespace machine;

namespace {

constexpr size_t kNumbersBy = 1 << 20;
constexpr double kNothing = std::numeric_limits<double>::quiet_NaN();
std::optional<char> stated_separator(const Lines& lines) {
  if (lines.empty()) return std::nullopt;
  std::string_view first = lines.front();
  if (first.size() >= 2 && first.front() == '"' && first.back() == '"') first = first.substr(1, first.size() - 2);
  if (first.substr(0, 4) != "sep=" && first.substr(0, 4) != "Sep=" && first.substr(0, 4) != "SEP=") return std::nullopt;
  return first.size() > 4 ? first[4] : '\t';
}

std::string joined(const std::vector<std::string>& words) {
  std::string out;
  for (const std::string& w : words) {
    if (w.empty()) continue;
    if (!out.empty()) out += ' ';
    out += w;
  }
  return out;
}

// Names in columns of aligned text are parted by two blanks where they hold one themselves.
std::vector<std::string> aligned_words(std::string_view line) {
  std::vector<std::string> out;
  std::string word;
  size_t blanks = 0;
  for (char c : line) {
    if (c == ' ' || c == '\t') {
      ++blanks;
      if (c == '\t') ++blanks;
      continue;
    }
    if (blanks >= 2 && !word.empty()) {
      out.push_back(word);
      word.clear();
    } else if (blanks == 1 && !word.empty()) {
      word += ' ';
    }
    blanks = 0;
    word += c;
  }
  if (!word.empty()) out.push_back(word);
  return out;
}

MachineBlock block_of(const Lines& lines, RowReader& rows, const Stretch& s, size_t after, const MachineBlock* before,
                      Writing how) {
  const size_t width = s.columns.size();
  std::vector<std::vector<std::string>> above;
  const size_t from = std::max(after, s.first > 400 ? s.first - 400 : 0);
  for (size_t i = from; i < s.first; ++i) {
    std::vector<std::string> words = rows.words(i);
    if (how.separator == ' ' && words.size() != width) {
      auto spaced = aligned_words(lines[i]);
      if (spaced.size() == width) words = std::move(spaced);
    }
    above.push_back(std::move(words));
  }
  Header header = header_of(above, width);
  MachineBlock block;
  for (size_t i = std::min(header.first, above.size()); i-- > 0;) {
    block.title = joined(above[i]);
    if (!block.title.empty()) break;
  }
  CsvDialect& d = block.table.dialect;
  d.separator = how.separator;
  d.decimal = how.decimal;
  d.header_lines = s.first;
  for (size_t i = 0; i < std::min(header.first, above.size()); ++i) d.head.emplace_back(lines[from + i]);
  const bool nameless = std::all_of(header.names.begin(), header.names.end(), [](auto& n) { return n.empty(); });
  std::vector<size_t> kept;
  for (size_t i = 0; i < width; ++i)
    if (s.columns[i] == Column::number || s.columns[i] == Column::clock) kept.push_back(i);
  for (size_t i : kept) {
    d.columns.push_back(header.names[i]);
    d.units.push_back(s.columns[i] == Column::clock ? "s" : is_clock_unit(header.units[i]) ? "" : header.units[i]);
  }
  // A further specimen under the same columns need not name them again.
  if (nameless && before != nullptr && before->table.dialect.columns.size() == kept.size()) {
    d.columns = before->table.dialect.columns;
    d.units = before->table.dialect.units;
  }
  name_columns(d.columns);
  std::vector<std::vector<double>>& columns = block.table.columns;
  columns.resize(kept.size());
  for (auto& c : columns) c.reserve(s.rows);
  for (size_t line = s.first; line < s.last; ++line) {
    if (blank_line(lines[line])) continue;
    const auto& cells = rows.read(line);
    for (size_t k = 0; k < kept.size(); ++k) {
      const bool there = kept[k] < cells.size() && cells[kept[k]].kind != Cell::Kind::empty;
      columns[k].push_back(there ? cells[kept[k]].value : kNothing);
    }
  }
  // A clock counts from its first time, over midnight too.
  for (size_t k = 0; k < kept.size(); ++k) {
    if (s.columns[kept[k]] != Column::clock) continue;
    double first = kNothing, last = kNothing, days = 0;
    for (double& v : columns[k]) {
      if (!std::isfinite(v)) continue;
      if (std::isfinite(last) && v < last - 43200) days += 86400;
      last = v;
      if (!std::isfinite(first)) first = v;
      v += days - first;
    }
  }
  return block;
}

// "t F t F" under one another's names are two specimens side by side.
std::vector<MachineBlock> side_by_side(MachineBlock block, const std::vector<std::string>& raw) {
  const size_t n = raw.size();
  for (size_t period = 2; period * 2 <= n; ++period) {
    if (n % period != 0) continue;
    bool repeats = true;
    for (size_t i = period; i < n; ++i) repeats = repeats && raw[i] == raw[i % period];
    // Four columns of one name are four gauges, not two specimens.
    repeats = repeats && std::set<std::string>(raw.begin(), raw.begin() + long(period)).size() == period;
    if (!repeats) continue;
    std::vector<MachineBlock> out;
    for (size_t k = 0; k < n / period; ++k) {
      MachineBlock one;
      one.title = (block.title.empty() ? "" : block.title + ", ") + "columns " + std::to_string(k + 1);
      one.table.dialect = block.table.dialect;
      one.table.dialect.columns.assign(raw.begin(), raw.begin() + long(period));
      one.table.dialect.units.assign(block.table.dialect.units.begin() + long(k * period),
                                     block.table.dialect.units.begin() + long((k + 1) * period));
      size_t rows = 0;
      for (size_t c = 0; c < period; ++c) {
        one.table.columns.push_back(block.table.columns[k * period + c]);
        const auto& v = one.table.columns.back();
        for (size_t i = v.size(); i > rows; --i)
          if (std::isfinite(v[i - 1])) rows = i;
      }
      for (auto& c : one.table.columns) c.resize(rows);
      if (rows > 0) out.push_back(std::move(one));
    }
    if (out.size() > 1) return out;
  }
  std::vector<MachineBlock> out;
  out.push_back(std::move(block));
  return out;
}

// Names as the file has them: a number stands behind the second of a name, where the name itself stands before it.
std::vector<std::string> without_numbers(const std::vector<std::string>& names) {
  std::vector<std::string> out = names;
  for (std::string& n : out) {
    const size_t at = n.rfind(" (");
    if (at == std::string::npos || n.back() != ')') continue;
    if (n.find_first_not_of("0123456789", at + 2) != n.size() - 1) continue;
    const std::string bare = n.substr(0, at);
    if (std::find(names.begin(), names.end(), bare) != names.end()) n = bare;
  }
  return out;
}

std::string separator_name(char c) {
  return c == '\t' ? "tab" : c == ' ' ? "blanks" : std::string(1, c);
}

void add_block(MachineFile& file, MachineBlock block) {
  const auto raw = without_numbers(block.table.dialect.columns);
  for (MachineBlock& b : side_by_side(std::move(block), raw)) file.blocks.push_back(std::move(b));
}

// Small tables beside large ones are summaries, no specimens.
void drop_summaries(MachineFile& file) {
  size_t most = 0;
  for (const MachineBlock& b : file.blocks) most = std::max(most, b.table.rows());
  const size_t before = file.blocks.size();
  std::erase_if(file.blocks, [&](const MachineBlock& b) { return b.table.rows() < 20 && b.table.rows() * 10 < most; });
  if (file.blocks.size() < before)
    file.notes.push_back(std::to_string(before - file.blocks.size()) +
                         " small tables beside the readings were passed over as summaries.");
}

}  // namespace

Outcome<MachineFile> machine_file(std::string_view bytes, const std::function<bool(double)>& progress) {
  auto decoded = decode_text(bytes);
  if (!decoded) return decoded.error();
  // What begins with a megabyte without a digit is no table, however long it goes on.
  if (decoded->text.find_first_of("0123456789") > kNumbersBy)
    return InputError{"No row of numbers was found in the file.", {}};
  MachineFile file;
  file.encoding = decoded->encoding;
  const Lines lines = lines_of(decoded->text);
  std::vector<Writing> ways;
  const auto stated = stated_separator(lines);
  for (char separator : {';', '\t', '|', ',', ' '})
    for (char decimal : {'.', ','}) {
      if (separator == ',' && decimal == ',' && decoded->text.find("\",\"") == std::string::npos) continue;
      if (!stated || *stated == separator) ways.push_back({separator, decimal});
    }
  if (ways.empty()) ways = {{*stated, '.'}, {*stated, ','}};
  Writing how = ways.front();
  double best = 0;
  size_t least = 3;  // rows that must follow one another; a short file may have fewer
  for (size_t wanted : {size_t(3), size_t(1)}) {
    if (best > 0) break;
    least = wanted;
    bool parted = false;  // by a mark that stands in no number: blanks part nothing then but groups of digits
    for (const Writing& w : ways) {
      if (w.separator == ' ' && parted) continue;
      const Worth is = worth(lines, w, least);
      parted = parted || (is.parts && w.separator != ',');
      if (is.score > best) {
        best = is.score;
        how = w;
      }
    }
  }
  if (best <= 0) return InputError{"No row of numbers was found in the file.", {}};
  file.separator = separator_name(how.separator);
  file.decimal = how.decimal;
  RowReader rows(lines, how);
  size_t after = 0;
  std::optional<Stretch> last;
  for (size_t i = 0; i < lines.size();) {
    const auto s = blank_line(lines[i]) ? std::nullopt : rows.from(i, least);
    if (!s) {
      ++i;
      continue;
    }
    // Words between two rows of the same columns are no header: somebody must look at them.
    if (after > 0 && i <= after + 1)
      if (const auto odd = odd_word(lines, rows, after, *last, false)) return *odd;
    if (last)
      if (const auto odd = line_between(lines, rows, *last, *s)) return *odd;
    if (const auto odd = row_above(lines, rows, *s, after)) return *odd;
    add_block(file, block_of(lines, rows, *s, after, file.blocks.empty() ? nullptr : &file.blocks.back(), how));
    after = i = s->last;
    last = s;
    if (progress && !progress(double(i) / double(lines.size()))) return InputError{"the reading was stopped.", {}};
  }
  if (file.blocks.empty()) return InputError{"No row of numbers was found in the file.", {}};
  if (after < lines.size())
    if (const auto odd = odd_word(lines, rows, after, *last, true)) return *odd;
  size_t behind = 0;
  for (size_t i = after; i < lines.size(); ++i) behind += !blank_line(lines[i]);
  if (behind > 0)
    file.notes.push_back(std::to_string(behind) + (behind == 1 ? " line" : " lines") +
                         " behind the numbers were passed over.");
  drop_summaries(file);
  return file;
}

Outcome<MachineFile> read_machine_file(const std::string& path, const std::function<bool(double)>& progress) {
  if (auto table = read_csv(path, progress)) {
    MachineFile file;
    file.encoding = "utf-8";
    file.separator = separator_name(table->dialect.separator);
    file.decimal = table->dialect.decimal;
    add_block(file, MachineBlock{{}, std::move(*table)});
    return file;
  } else {
    // Stopped by the person, or no table in any spelling.
    for (const char* final : {"stopped.", "columns.", "it is no table.", "not a file."})
      if (table.error().message.ends_with(final)) return table.error();
  }
  constexpr size_t kMost = size_t(256) << 20;
  auto bytes = read_file(path, kMost);
  if (!bytes) return bytes.error();
  const bool workbook = bytes->compare(0, 4, "PK\x03\x04") == 0;
  if (workbook) {
    auto text = workbook_text(*bytes, most_unpacked(bytes->size()));
    if (!text) return InputError{path + ": " + text.error().message, {}};
    *bytes = std::move(*text);
  }
  auto file = machine_file(*bytes, progress);
  if (!file) return InputError{path + ": " + file.error().message, {}};
  if (workbook) file->encoding = "workbook";
  return file;
}

}  // namespace fortitor
