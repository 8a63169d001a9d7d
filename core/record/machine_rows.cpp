#include "core/record/machine_rows.h"

#include <algorithm>

#include "core/quantity/plain.h"
#include "core/record/csv_parts.h"

namespace fortitor::machine {

using csv::kMostColumns;

namespace {

constexpr size_t kLook = 600;  // lines by which a way of writing is judged

// Cells of a line. Blanks in a row part aligned columns; quotes keep a separator in.
void cells_of(std::string_view line, char separator, std::vector<std::string_view>& cells) {
  cells.clear();
  if (separator == ' ') {
    for (size_t i = 0; i < line.size() && cells.size() <= kMostColumns;) {
      while (i < line.size() && (line[i] == ' ' || line[i] == '\t')) ++i;
      const size_t from = i;
      bool quoted = false;
      while (i < line.size() && (quoted || (line[i] != ' ' && line[i] != '\t'))) {
        if (line[i] == '"') quoted = !quoted;
        ++i;
      }
      if (i > from) cells.push_back(line.substr(from, i - from));
    }
    return;
  }
  bool quoted = false;
  size_t from = 0;
  for (size_t i = 0; i <= line.size() && cells.size() <= kMostColumns; ++i) {
    if (i < line.size() && line[i] == '"') quoted = !quoted;
    if (i == line.size() || (line[i] == separator && !quoted)) {
      cells.push_back(line.substr(from, i - from));
      from = i + 1;
    }
  }
}

}  // namespace

Lines lines_of(std::string_view text) {
  Lines out;
  for (size_t at = 0; at < text.size();) {
    size_t end = text.find_first_of("\r\n", at);
    if (end == std::string_view::npos) end = text.size();
    out.push_back(text.substr(at, end - at));
    at = end + 1;
    if (end + 1 < text.size() && text[end] == '\r' && text[end + 1] == '\n') ++at;
  }
  return out;
}

bool blank_line(std::string_view line) {
  return line.find_first_not_of(" \t\r;,|") == std::string_view::npos;
}

size_t Stretch::numbers() const {
  return size_t(std::count_if(columns.begin(), columns.end(),
                              [](Column c) { return c == Column::number || c == Column::clock; }));
}

bool RowReader::fits(size_t line, std::vector<Column>& columns) {
  read(line);
  size_t used = cells_.size();
  while (used > columns.size() && cells_[used - 1].kind == Cell::Kind::empty) --used;
  if (used > columns.size() || used * 2 < columns.size()) return false;
  size_t numbers = 0;
  std::vector<Column> now = columns;
  for (size_t i = 0; i < used; ++i) {
    const Cell& c = cells_[i];
    if (c.kind == Cell::Kind::empty) continue;
    const Column is = c.kind == Cell::Kind::number  ? Column::number
                      : c.kind == Cell::Kind::clock ? Column::clock
                                                    : Column::text;
    if (now[i] == Column::unknown) now[i] = is;
    if (now[i] == Column::text) continue;
    if (now[i] != is) return false;
    ++numbers;
  }
  if (numbers == 0) return false;
  columns = std::move(now);
  return true;
}

std::optional<Stretch> RowReader::from(size_t line, size_t least) {
  read(line);
  if (cells_.empty() || cells_.size() > kMostColumns) return std::nullopt;
  Stretch s;
  s.first = line;
  s.columns.assign(cells_.size(), Column::unknown);
  // In the first row a word makes its column one of words; a row of words alone is none.
  for (size_t i = line; i < lines_.size(); ++i) {
    if (blank_line(lines_[i])) continue;
    if (!fits(i, s.columns)) break;
    s.last = i + 1;
    ++s.rows;
    if (s.rows == least && s.numbers() < std::min<size_t>(2, s.columns.size())) return std::nullopt;
  }
  if (s.rows < least) return std::nullopt;
  return s;
}

const std::vector<Cell>& RowReader::read(size_t line) {
  cells_of(lines_[line], how_.separator, texts_);
  cells_.clear();
  for (std::string_view t : texts_) cells_.push_back(read_cell(t, how_.decimal));
  return cells_;
}

bool RowReader::begins_with_digit(size_t cell) const {
  const std::string_view text = csv::unquoted(csv::strip(texts_[cell]));
  return !text.empty() && plain::is_digit(text.front());
}

std::vector<std::string> RowReader::words(size_t line) {
  cells_of(lines_[line], how_.separator, texts_);
  std::vector<std::string> out;
  for (std::string_view t : texts_) out.emplace_back(csv::unquoted(csv::strip(t)));
  return out;
}

Worth worth(const Lines& lines, Writing how, size_t least) {
  const Lines head(lines.begin(), lines.begin() + long(std::min(lines.size(), kLook)));
  RowReader rows(head, how);
  Worth out;
  double& score = out.score;
  for (size_t i = 0; i < head.size();) {
    const auto s = blank_line(head[i]) ? std::nullopt : rows.from(i, least);
    if (!s) {
      ++i;
      continue;
    }
    bool parts = s->numbers() > 1;
    size_t grouped = 0, marks = 0;
    for (size_t k = s->first; k < s->last; ++k) {
      const auto& cells = rows.read(k);
      grouped += size_t(std::count_if(cells.begin(), cells.end(), [](const Cell& c) { return c.grouped; }));
      marks += head[k].find(how.decimal) != std::string_view::npos;
      for (size_t c = 0; parts && c < std::min(cells.size(), s->columns.size()); ++c)
        if (s->columns[c] == Column::text && cells[c].kind == Cell::Kind::text) parts = !rows.begins_with_digit(c);
    }
    out.parts = out.parts || parts;
    // More columns of numbers are better, a decimal mark that is used is, groups that may be decimals are worse.
    score += double(s->rows) * double(s->numbers()) - 0.01 * double(grouped) + 0.001 * double(marks);
    if (s->numbers() == 1) score -= 0.5 * double(s->rows);
    // Columns of words are often numbers that were parted at the wrong places.
    score -= 0.3 * double(s->rows) * double(std::count(s->columns.begin(), s->columns.end(), Column::text));
    i = s->last;
  }
  // Blanks part everything somehow: a mark that parts as well is what was meant.
  if (how.separator == ' ') score *= 0.7;
  return out;
}

bool like_a_row(const std::vector<Cell>& cells) {
  const auto words = std::count_if(cells.begin(), cells.end(), [](auto& c) { return c.kind == Cell::Kind::text; });
  const auto empty = std::count_if(cells.begin(), cells.end(), [](auto& c) { return c.kind == Cell::Kind::empty; });
  const auto numbers = std::ptrdiff_t(cells.size()) - words - empty;
  return numbers >= 2 && numbers > words;
}

std::optional<InputError> row_above(const Lines& lines, RowReader& rows, const Stretch& s, size_t after) {
  for (size_t i = s.first; i-- > after;) {
    if (blank_line(lines[i])) continue;
    const auto& cells = rows.read(i);
    if (like_a_row(cells)) return InputError{"line " + std::to_string(i + 1) + ": is no row like those behind it.", {}};
    const auto numbers =
        std::count_if(cells.begin(), cells.end(), [](auto& c) { return c.kind == Cell::Kind::number; });
    if (numbers == 0) break;  // names or units: what stands above them is another matter
  }
  return std::nullopt;
}

std::optional<InputError> line_between(const Lines& lines, RowReader& rows, const Stretch& before, const Stretch& s) {
  size_t between = 0, line = 0;
  for (size_t i = before.last; i < s.first; ++i)
    if (!blank_line(lines[i])) {
      ++between;
      line = i;
    }
  if (between != 1 || before.columns.size() != s.columns.size()) return std::nullopt;
  auto first_of = [&](size_t row) -> std::optional<double> {
    const auto& cells = rows.read(row);
    for (size_t c = 0; c < std::min(cells.size(), s.columns.size()); ++c)
      if (s.columns[c] == Column::number || s.columns[c] == Column::clock)
        return cells[c].kind == Cell::Kind::empty ? std::nullopt : std::optional(cells[c].value);
    return std::nullopt;
  };
  const auto ended = first_of(before.last - 1), begins = first_of(s.first);
  if (!ended || !begins || !(*begins > *ended)) return std::nullopt;
  return InputError{"line " + std::to_string(line + 1) + ": “" + std::string(lines[line].substr(0, 40)) +
                        "” stands between two rows of one table.",
                    {}};
}

std::optional<InputError> odd_word(const Lines& lines, RowReader& rows, size_t line, const Stretch& s, bool at_end) {
  if (blank_line(lines[line])) return std::nullopt;
  const std::vector<Cell> cells = rows.read(line);
  // A row of numbers with a cell too many would vanish between two tables.
  const bool words = std::any_of(cells.begin(), cells.end(), [](auto& c) { return c.kind == Cell::Kind::text; });
  if (cells.size() > s.columns.size() && !words)
    return InputError{"line " + std::to_string(line + 1) + ": the row has " + std::to_string(cells.size()) +
                          " cells where " + std::to_string(s.columns.size()) + " were expected.",
                      {}};
  if (cells.size() != s.columns.size()) return std::nullopt;
  auto counts = [&](size_t c) { return s.columns[c] == Column::number || s.columns[c] == Column::clock; };
  size_t numbers = 0, odd = cells.size();
  bool begins = false, first = true;
  for (size_t c = 0; c < cells.size(); ++c) {
    if (!counts(c)) continue;
    const bool number = cells[c].kind == Cell::Kind::number || cells[c].kind == Cell::Kind::clock;
    numbers += number;
    if (first) begins = number;
    first = false;
    if (cells[c].kind == Cell::Kind::text) odd = std::min(odd, c);
  }
  if (odd == cells.size() || numbers * 2 < s.numbers() || (at_end && !begins)) return std::nullopt;
  return InputError{"line " + std::to_string(line + 1) + ", column " + std::to_string(odd + 1) + ": “" +
                        rows.words(line)[odd].substr(0, 40) + "” is not a number.",
                    {}};
}

}  // namespace fortitor::machine
