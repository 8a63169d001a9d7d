#include "core/bench/pasted.h"

#include <algorithm>
#include <cmath>
#include <set>

#include "core/quantity/plain.h"
#include "core/record/keyed.h"

namespace fortitor {
namespace {

using Line = std::vector<std::string>;

constexpr size_t kMostRows = 10000, kMostColumns = 200;

std::string trimmed(std::string_view s) {
  const size_t from = s.find_first_not_of(" \t\r\n\""), to = s.find_last_not_of(" \t\r\n\"");
  return from == std::string_view::npos ? std::string() : std::string(s.substr(from, to - from + 1));
}

Line parted(std::string_view line, char by) {
  Line out;
  for (size_t from = 0;;) {
    const size_t to = by == '\0' ? std::string_view::npos : line.find(by, from);
    out.push_back(trimmed(line.substr(from, to == std::string_view::npos ? to : to - from)));
    if (to == std::string_view::npos) return out;
    from = to + 1;
  }
}

std::vector<std::string_view> lines_of(std::string_view text) {
  std::vector<std::string_view> out;
  for (size_t from = 0; from < text.size();) {
    const size_t to = std::min(text.find_first_of("\r\n", from), text.size());
    if (!trimmed(text.substr(from, to - from)).empty()) out.push_back(text.substr(from, to - from));
    from = to + 1;
  }
  return out;
}

bool has_digit(const std::string& s) {
  return std::any_of(s.begin(), s.end(), [](char c) { return c >= '0' && c <= '9'; });
}

// A comma parts columns only where no cell would be half a number: "43,2" is one cell, "8.21,8.24,43" are three.
char separator_of(const std::vector<std::string_view>& lines) {
  for (char by : {'\t', ';'})
    if (std::any_of(lines.begin(), lines.end(), [&](auto l) { return l.find(by) != std::string_view::npos; }))
      return by;
  const auto commas = [](std::string_view l) { return std::count(l.begin(), l.end(), ','); };
  const bool points =
      std::any_of(lines.begin(), lines.end(), [](auto l) { return l.find('.') != std::string_view::npos; });
  const bool several =
      std::all_of(lines.begin(), lines.end(), [&](auto l) { return commas(l) == commas(lines[0]); }) &&
      (commas(lines[0]) >= 2 || (commas(lines[0]) == 1 && (points || !has_digit(std::string(lines[0])))));
  return several ? ',' : '\0';
}

// "Load (N)", "Load [N]", "Load / N" → "Load" and "N", where what stands there is a unit.
void part_unit(std::string& name, std::string& unit) {
  for (const auto& [open, close] : {std::pair{'(', ')'}, {'[', ']'}, {'/', '\0'}}) {
    const size_t from = name.rfind(open);
    if (from == std::string::npos || (close != '\0' && !name.ends_with(close))) continue;
    const std::string inside =
        trimmed(std::string_view(name).substr(from + 1, name.size() - from - 1 - (close != '\0' ? 1 : 0)));
    if (find_unit(inside) == nullptr) continue;
    unit = inside;
    name = trimmed(std::string_view(name).substr(0, from));
    return;
  }
}

bool all_units(const Line& line) {
  bool any = false;
  for (const std::string& cell : line) {
    Line part = parted(cell, '\0');
    std::string unit = part[0];
    if (unit.size() > 2 && ((unit.front() == '(' && unit.back() == ')') || (unit.front() == '[' && unit.back() == ']')))
      unit = unit.substr(1, unit.size() - 2);
    if (unit.empty()) continue;
    if (find_unit(unit) == nullptr) return false;
    any = true;
  }
  return any;
}

using plain::lower;

// Words by which the columns of readings are called in the languages of spreadsheets.
const std::vector<std::vector<std::string>>& words() {
  static const std::vector<std::vector<std::string>> all = {
      {"load", "force", "last", "kraft", "carico", "forza", "charge", "force", "carga", "fuerza"},
      {"deflection", "dial", "durchbiegung", "freccia", "fleche", "flèche", "flecha"},
      {"torque", "drehmoment", "coppia", "couple", "par"},
      {"angle", "twist", "winkel", "angolo", "angle", "angulo", "ángulo"},
      {"energy", "energie", "energia", "énergie", "energía", "kv", "ku"},
      {"depth", "tiefe", "profondità", "profondeur", "profundidad"},
      {"diagonal", "diagonale", "d1", "d2"},
      {"diameter", "durchmesser", "diametro", "diamètre", "diámetro"},
      {"temperature", "temperatur", "temperatura", "température"},
      {"cycles", "zyklen", "lastwechsel", "cicli", "ciclos", "n"},
      {"reading", "hardness", "härte", "durezza", "dureté", "dureza", "hrc", "hrb", "wert", "value"},
      {"distance", "abstand", "distanza", "distancia"},
  };
  return all;
}

// How well a name speaks for a column: 3 its own name or symbol, 2 a word of it, 1 a word of its kind.
int fit(const std::string& name, const FieldSpec& column) {
  const std::string n = lower(name), label = lower(column.label), path = lower(column.path),
                    symbol = lower(column.symbol);
  if (n.empty()) return 0;
  if (n == label || n == path || (!symbol.empty() && n == symbol)) return 3;
  if (n.find(label) != std::string::npos || (n.size() > 2 && label.find(n) != std::string::npos)) return 2;
  for (const auto& kind : words()) {
    const auto speaks = [&](const std::string& of) {
      return std::any_of(kind.begin(), kind.end(), [&](const std::string& w) {
        return w.size() < 3 ? of == w : of.find(w) != std::string::npos;
      });
    };
    if (speaks(n) && (speaks(label) || speaks(path))) return 1;
  }
  return 0;
}

std::vector<const FieldSpec*> columns_of(const TableSpec& table) {
  std::vector<const FieldSpec*> out;
  if (table.control) out.push_back(&*table.control);
  for (const FieldSpec& c : table.columns) out.push_back(&c);
  return out;
}

bool takes_several(const FieldSpec& c) {
  return c.kind == FieldKind::readings;
}

bool said_missed(const std::string& cell) {
  const std::string c = lower(cell);
  return c == "missed" || c == "m" || c == "-" || c == "–" || c == "n/a" || c == "na";
}

bool yes(const std::string& cell) {
  static const std::set<std::string> words = {"1",  "x",  "yes", "y", "true", "ja", "j",
                                              "si", "sì", "sí",  "s", "oui",  "o"};
  return words.count(lower(cell)) != 0;
}

bool no(const std::string& cell) {
  static const std::set<std::string> words = {"0", "no", "n", "false", "nein", "non", "-", "–"};
  return words.count(lower(cell)) != 0;
}

std::string word_of(const FieldSpec& column, const std::string& cell) {
  for (const Choice& c : column.choices)
    if (lower(c.value) == lower(cell) || lower(c.label) == lower(cell)) return c.value;
  return {};
}

// Puts one cell into its row; a sentence when it cannot be read.
std::string put(Row& row, const FieldSpec& column, const std::string& cell, const PastedUse& use, UnitSet units) {
  if (column.kind == FieldKind::flag) {
    // What is neither may be a tick in words of their own: it is asked back, never taken for a no.
    const bool ticked = yes(cell) || fit(cell, column) >= 2;
    if (!ticked && !no(cell)) return "“" + cell + "” is neither yes nor no";
    if (ticked) row.cells.set(column.path, true);
    return {};
  }
  if (column.kind == FieldKind::text) {
    row.cells.set(column.path, cell);
    return {};
  }
  if (column.kind == FieldKind::choice) {
    const std::string word = word_of(column, cell);
    if (word.empty()) return "“" + cell + "” is none of its words";
    row.cells.set(column.path, word);
    return {};
  }
  if (column.kind == FieldKind::number) {
    const auto q = parse_quantity(cell, Dimension::none, {units, nullptr});
    if (!q) return q.error().message;
    row.cells.set(column.path, q->value);
    return {};
  }
  Reading reading;
  if (said_missed(cell)) {
    reading.typed = "missed";
  } else {
    const bool bare = !use.unit.empty() && plain::number(cell).has_value();
    const Unit* own = use.unit.empty() ? &bare_unit(column, units) : find_unit(use.unit, column.dimension);
    if (own == nullptr) return "“" + use.unit + "” is no unit of it";
    const auto r = read_keyed(bare ? cell + " " + use.unit : cell, column, {units, own});
    if (!r) return r.error().message;
    reading = *r;
  }
  if (!takes_several(column)) {
    row.cells.set(column.path, reading);
    return {};
  }
  Readings list = row.cells.readings(column.path);
  list.push_back(reading);
  row.cells.set(column.path, list);
  return {};
}

}  // namespace

Outcome<PastedTable> read_pasted(std::string_view text) {
  const auto lines = lines_of(text);
  if (lines.empty()) return InputError{"There is nothing to paste.", {}};
  if (lines.size() > kMostRows) return InputError{"A table has at most 10000 rows.", {}};
  const char by = separator_of(lines);
  std::vector<Line> rows;
  size_t width = 0;
  for (std::string_view l : lines) {
    rows.push_back(parted(l, by));
    width = std::max(width, rows.back().size());
  }
  if (width > kMostColumns) return InputError{"A table has at most 200 columns.", {}};
  for (Line& r : rows) r.resize(width);
  PastedTable out;
  out.names.resize(width);
  out.units.resize(width);
  // Names have letters and no cell that begins with a number ("d1" is a name, "8.2 mm" is none).
  const auto starts_as_number = [](const std::string& cell) {
    std::string_view rest = cell;
    return plain::take_number(rest).has_value() || (!cell.empty() && cell[0] >= '0' && cell[0] <= '9');
  };
  const auto heads = [&](const Line& l) { return std::none_of(l.begin(), l.end(), starts_as_number); };
  size_t first = 0;
  if (rows.size() > 1 && heads(rows[0])) {
    out.names = rows[0];
    for (size_t c = 0; c < width; ++c) part_unit(out.names[c], out.units[c]);
    first = 1;
    if (rows.size() > 2 && all_units(rows[1])) {
      for (size_t c = 0; c < width; ++c)
        if (!rows[1][c].empty()) {
          std::string unit = rows[1][c];
          if (unit.size() > 2 && (unit.front() == '(' || unit.front() == '[')) unit = unit.substr(1, unit.size() - 2);
          out.units[c] = unit;
        }
      first = 2;
    }
  }
  out.cells.assign(rows.begin() + long(first), rows.end());
  return out;
}

Outcome<PastedTable> pasted_of(const CsvTable& table) {
  if (table.rows() > kMostRows) return InputError{"A table has at most 10000 rows.", {}};
  PastedTable out;
  out.names = table.dialect.columns;
  out.units = table.dialect.units;
  for (size_t r = 0; r < table.rows(); ++r) {
    Line line;
    for (const auto& column : table.columns) line.push_back(std::isnan(column[r]) ? "" : plain::shortest(column[r]));
    out.cells.push_back(std::move(line));
  }
  return out;
}

std::vector<PastedUse> guess_use(const PastedTable& pasted, const TableSpec& table) {
  const auto columns = columns_of(table);
  std::vector<PastedUse> out(pasted.names.size());
  const bool named =
      std::any_of(pasted.names.begin(), pasted.names.end(), [](const std::string& n) { return !n.empty(); });
  if (!named) {
    // In the order of work; a list of readings takes as many as it wants.
    size_t at = 0;
    for (const FieldSpec* c : columns) {
      const bool keyed = !c->planned && (c->kind == FieldKind::quantity || c->kind == FieldKind::readings);
      // One column alone is what is read, not where it was read.
      if (!keyed || (out.size() == 1 && table.control && c == columns.front())) continue;
      const size_t n = takes_several(*c) ? size_t(std::max(1, c->wanted)) : 1;
      for (size_t i = 0; i < n && at < out.size(); ++i) out[at++] = {c->path, {}};
    }
    return out;
  }
  std::set<std::string> taken;
  const auto unit_fits = [&](size_t i, const FieldSpec& c) {
    return pasted.units[i].empty() || find_unit(pasted.units[i], c.dimension) != nullptr;
  };
  for (int wanted = 3; wanted >= 1; --wanted)
    for (size_t i = 0; i < out.size(); ++i)
      for (const FieldSpec* c : columns)
        if (out[i].column.empty() && (taken.count(c->path) == 0 || takes_several(*c)) && unit_fits(i, *c) &&
            fit(pasted.names[i], *c) == wanted) {
          out[i] = {c->path, pasted.units[i]};
          taken.insert(c->path);
        }
  // A unit that fits one column only speaks for it.
  for (size_t i = 0; i < out.size(); ++i) {
    if (!out[i].column.empty() || pasted.units[i].empty()) continue;
    const FieldSpec* only = nullptr;
    int n = 0;
    for (const FieldSpec* c : columns)
      if (taken.count(c->path) == 0 && c->dimension != Dimension::none && unit_fits(i, *c)) only = c, ++n;
    if (n != 1) continue;
    out[i] = {only->path, pasted.units[i]};
    taken.insert(only->path);
  }
  return out;
}

Outcome<Rows> rows_of(const PastedTable& pasted, const std::vector<PastedUse>& use, const TableSpec& table,
                      UnitSet units) {
  const auto columns = columns_of(table);
  const auto spec = [&](const std::string& path) {
    const auto at = std::find_if(columns.begin(), columns.end(), [&](const FieldSpec* c) { return c->path == path; });
    return at == columns.end() ? nullptr : *at;
  };
  std::set<std::string> used;
  for (const PastedUse& u : use) {
    const FieldSpec* c = spec(u.column);
    if (c != nullptr && !used.insert(u.column).second && !takes_several(*c))
      return InputError{"Two columns are said to be " + c->label + ".", {}};
  }
  if (used.empty()) return InputError{"Say what the columns are.", {}};
  Rows out;
  for (size_t r = 0; r < pasted.cells.size(); ++r) {
    Row row;
    for (size_t i = 0; i < use.size() && i < pasted.cells[r].size(); ++i) {
      const FieldSpec* c = spec(use[i].column);
      const std::string& cell = pasted.cells[r][i];
      if (c == nullptr || cell.empty()) continue;
      if (const std::string why = put(row, *c, cell, use[i], units); !why.empty())
        return InputError{"Row " + std::to_string(r + 1) + ", " +
                              (pasted.names[i].empty() ? "column " + std::to_string(i + 1) : pasted.names[i]) + ": " +
                              why,
                          {}};
    }
    if (row.cells.all().empty()) continue;
    out.push_back(std::move(row));
  }
  if (out.empty()) return InputError{"No row of the table has a reading.", {}};
  return out;
}

void append_rows(TestRecord& record, const TableSpec& table, const Rows& rows, bool open) {
  Rows& all = record.run.tables[table.id];
  all.insert(all.end(), rows.begin(), rows.end());
  record.run.open = open;
}

std::string signature_of(const PastedTable& pasted) {
  std::string out = "table of readings";
  for (size_t i = 0; i < pasted.names.size(); ++i) out += "|" + pasted.names[i] + "[" + pasted.units[i] + "]";
  return out;
}

}  // namespace fortitor
