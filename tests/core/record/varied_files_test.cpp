// Files, records and typed texts as they come: hundreds written at random, sound and damaged, and what is read of them or
// said against them kept as text.
#include <gtest/gtest.h>

#include <cmath>
#include <sstream>

#include "core/quantity/date.h"
#include "core/quantity/parse.h"
#include "core/record/cell.h"
#include "core/record/csv.h"
#include "core/record/machine_file.h"
#include "core/record/mapping.h"
#include "tests/c_text.h"
#include "tests/core/methods/chance.h"
#include "tests/core/methods/kept_text.h"
#include "tests/core/methods/method_records.h"

namespace fortitor::varied_files_test {
namespace {

using Texts = std::vector<std::string>;

std::string table_file(Chance& chance) {
  const char separator = ",;\t "[chance.below(4)];
  const char decimal = separator == ',' ? '.' : ".,"[chance.below(2)];
  const std::string nl = chance.below(3) == 0 ? "\r\n" : chance.below(9) == 0 ? "\r" : "\n";
  const Texts names = {"Time", "Zeit", "t", "Force", "Kraft (kN)", "Load [N]", "Extension", "Weg in mm", "Strain %", "Position/mm", "Temp {°C}", "", "x", "Force"};
  const Texts units = {"s", "kN", "mm", "[N]", "(%)", "", "-", "°C", "furlong"};
  const size_t columns = 1 + chance.below(4), rows = chance.below(6) == 0 ? chance.below(3) : 3 + chance.below(12);
  std::string out;
  const auto line = [&](const Texts& cells) {
    for (size_t i = 0; i < cells.size(); ++i) out += (i > 0 ? std::string(1, separator) : "") + cells[i];
    out += nl;
  };
  for (size_t i = chance.below(4); i > 0; --i) line(chance.below(2) == 0 ? Texts{"Operator", "AW"} : Texts{"Width", "12.5", "mm"});
  if (chance.below(4) != 0) {
    Texts head;
    for (size_t i = 0; i < columns; ++i) head.push_back(chance.of(names));
    line(head);
    if (chance.below(3) == 0) {
      Texts second;
      for (size_t i = 0; i < columns; ++i) second.push_back(chance.of(units));
      line(second);
    }
  }
  const bool clock = chance.below(6) == 0, grouped = chance.below(6) == 0, words = chance.below(6) == 0;
  for (size_t r = 0; r < rows; ++r) {
    Texts cells;
    for (size_t i = 0; i < columns; ++i) {
      char text[48];
      const double v = i == 0 ? 0.5 * double(r) : (chance.share() - 0.3) * std::pow(10, double(chance.below(5)));
      chance.below(9) == 0 ? c_snprintf(text, sizeof text, "%.3e", v) : c_snprintf(text, sizeof text, "%.*f", int(chance.below(4)), v);
      std::string cell = text;
      if (const size_t end = std::min(cell.find('.'), cell.size()); grouped && v > 1000 && end > 3 && cell.find('e') == std::string::npos) cell.insert(end - 3, decimal == '.' ? "," : ".");
      for (char& c : cell)
        if (c == '.' && decimal == ',' && !grouped) c = ',';
      if (clock && i == 0) c_snprintf(text, sizeof text, "23:59:%02d%s", int(50 + r) % 60, chance.below(2) == 0 ? "" : ".5"), cell = text;
      if (words && i + 1 == columns) cell = chance.of(Texts{"up", "down", "hold", ""});
      switch (chance.below(40)) {
        case 0: cell = ""; break;
        case 1: cell = chance.of(Texts{"---", "NaN", "n/a", "#N/A", "*", "broken", "1.2.3", "+5", "1e", "1,2,3", "∞", "−3"}); break;
        case 2: cell = "\"" + cell + "\""; break;
        case 3: cell = " " + cell + " "; break;
        default: break;
      }
      cells.push_back(cell);
    }
    if (chance.below(60) == 0) cells.push_back("7");
    if (chance.below(60) == 0) cells.pop_back();
    if (chance.below(40) == 0) out += nl;
    line(cells);
    if (chance.below(40) == 0) line({"Specimen 2"});
  }
  if (chance.below(6) == 0) line({"Mean", "5.2"});
  if (chance.below(8) == 0 && !out.empty()) out.resize(out.size() - nl.size());
  return out;
}

void write(std::ostream& out, const CsvTable& t) {
  out << " '" << t.dialect.separator << t.dialect.decimal << "' " << t.dialect.header_lines << " rows " << t.rows();
  for (size_t i = 0; i < t.columns.size(); ++i) {
    double sum = 0;
    size_t gone = 0;
    for (size_t k = 0; k < t.columns[i].size(); ++k) std::isfinite(t.columns[i][k]) ? sum += t.columns[i][k] * double(k % 3 + 1) : gone += 1;
    out << " | " << t.dialect.columns[i] << " [" << t.dialect.units[i] << "] " << num(sum, 7) << " gone " << gone;
  }
  out << "\n";
}

TEST(KeptNumbersVariedFiles, TablesOfMachines) {
  std::ostringstream out;
  for (uint64_t seed = 1; seed <= 400; ++seed) {
    Chance chance(seed);
    const std::string text = table_file(chance);
    out << "== " << seed << "\n";
    const auto plain = parse_csv(text);
    if (plain)
      write(out, *plain);
    else
      out << " refused: " << plain.error().message << "\n";
    const auto file = machine_file(text);
    if (!file) {
      out << " no file: " << file.error().message << "\n";
      continue;
    }
    out << " " << file->encoding << " " << file->separator << " " << file->decimal << "\n";
    for (const MachineBlock& b : file->blocks) {
      out << " block “" << b.title << "”";
      write(out, b.table);
      for (const char* method : {"tension-metal", "proof-load"})
        for (const auto& [channel, guess] : guess_channels(b.table.dialect, *methods::find(method))) {
          out << "  " << method << " " << channel << " from " << guess.source.column << " " << guess.source.unit << (guess.sure ? " sure" : "");
          if (const auto s = samples_from_table(b.table, {{channel, guess.source}}, *methods::find(method)); !s) out << " " << s.error().message;
          out << "\n";
        }
    }
    for (const std::string& note : file->notes) out << " note: " << note << "\n";
  }
  hold_kept("varied-tables", out.str());
}

TEST(KeptNumbersVariedFiles, DamagedRecords) {
  std::vector<std::string> texts;
  for (const std::string& f : record_files())
    if (const auto text = read_file(f)) texts.push_back(*text);
  ASSERT_GT(texts.size(), 20u);
  std::ostringstream out;
  const Texts put = {"null", "-1", "0", "\"\"", "\"three\"", "[]", "{}", "true", "1e999", "\"5 furlong\"", "\"1 mm\"", "{\"typed\":\"4 N\"}", "{\"typed\":\"4 N\",\"value\":5}", "12.5", "[1,2]", "\"NaN\""};
  for (uint64_t seed = 1; seed <= 500; ++seed) {
    Chance chance(seed);
    std::string text = texts[seed % texts.size()];
    // One value in place of another, a key spelled otherwise, a part gone.
    const size_t kind = chance.below(6);
    if (kind <= 3) {
      std::vector<size_t> colons;
      for (size_t i = 0; i + 1 < text.size(); ++i)
        if (text[i] == ':' && text[i + 1] == ' ') colons.push_back(i + 2);
      if (colons.empty()) continue;
      const size_t at = colons[chance.below(colons.size())];
      size_t end = at, depth = 0;
      bool quoted = false;
      for (; end < text.size(); ++end) {
        const char c = text[end];
        if (c == '"') quoted = !quoted;
        if (quoted) continue;
        if (c == '{' || c == '[') ++depth;
        if ((c == '}' || c == ']') && depth-- == 0) break;
        if ((c == ',' || c == '\n') && depth == 0) break;
      }
      text.replace(at, end - at, chance.of(put));
    } else if (kind == 4) {
      const size_t at = text.find('"', chance.below(text.size() - 10));
      if (at != std::string::npos) text.insert(at + 1, "un");
    } else {
      text.resize(chance.below(text.size()));
    }
    out << seed << " ";
    const auto r = record_from_json(text);
    if (!r) {
      out << r.error().message << "\n";
      continue;
    }
    const std::string again = record_to_json(*r);
    const auto twice = record_from_json(again);
    out << "read " << r->fields.all().size() << " " << r->run.row_count() << " " << again.size() << " " << (twice && record_to_json(*twice) == again ? "as written" : "not as written") << "\n";
  }
  hold_kept("varied-records", out.str());
}

TEST(KeptNumbersVariedFiles, TextsAsTyped) {
  const Texts parts = {"1", "2", "12", "0", "5", "3", "250", ".", ",", " ", "-", "+", "/", "e", "E3", "·10", "^", "×", "1/2", "mm", "in", "N", "kN", "lbf", "MPa", "%", "°", "′", "″", "ft", "kgf", "µm", "m", "s", "min", "°C", "'", "(", ")", ":", "~", "½", "10³", "mm²", "J/mm²"};
  std::ostringstream out;
  for (uint64_t seed = 1; seed <= 1500; ++seed) {
    Chance chance(seed);
    std::string text;
    // Numbers first, a unit last, more often than not.
    for (size_t i = 1 + chance.below(5); i > 0; --i) text += parts[chance.below(3) == 0 ? chance.below(parts.size()) : chance.below(13)];
    if (chance.below(4) != 0) text += (chance.below(2) == 0 ? " " : "") + parts[19 + chance.below(parts.size() - 19)];
    const Dimension dimension = std::vector{Dimension::length, Dimension::force, Dimension::stress, Dimension::none, Dimension::temperature, Dimension::time, Dimension::elongation, Dimension::angle, Dimension::area}[chance.below(9)];
    out << "“" << text << "” ";
    const auto q = parse_quantity(text, dimension);
    if (q) {
      const Reading r = reading_of(*q);
      out << num(r.value.value_or(NAN), 7) << " digit " << num(r.resolution, 7);
    } else {
      out << q.error().message;
    }
    const Cell cell = read_cell(text, chance.below(2) == 0 ? '.' : ',');
    out << " | cell " << int(cell.kind) << " " << num(cell.value, 7) << "\n";
  }
  hold_kept("varied-typed", out.str());
}

// What people type, cut short anywhere, with a letter gone, doubled or changed for its neighbour.
TEST(KeptNumbersVariedFiles, TypedTextsWithASlip) {
  using D = Dimension;
  const std::vector<std::pair<const char*, D>> typed = {
      {"2 5/8 in", D::length}, {"2-5/8\"", D::length}, {"5' 6 1/2\"", D::length}, {"1½ in", D::length}, {"12,47 mm", D::length}, {"1,450 lbf", D::force}, {"1'450 N", D::force},
      {"12.5·10³ N", D::force}, {"3×10^2 kN", D::force}, {"-4.5e-3 MPa", D::stress}, {"205 GPa", D::modulus}, {"1.450,5 MPa", D::stress}, {"23 °C", D::temperature}, {"73.4 ºF", D::temperature},
      {"1 h 30 min", D::time}, {"2 weeks", D::time}, {"0.22", D::elongation}, {"1200 µε", D::strain}, {"12 mm/m", D::strain}, {"150 ft-lbs", D::energy}, {"2.5 J/cm²", D::impact_area},
      {"90 deg", D::angle}, {"1.5 rev", D::angle}, {"300 kgf/mm2", D::stress}, {"45 N/mm", D::stiffness}, {"5 mm/min", D::speed}, {"7.85 g/cm3", D::density}, {"±3 mm", D::length}, {"~ 10 mm", D::length}};
  std::ostringstream out;
  const auto say = [&](const std::string& text, D dimension) {
    out << "“" << text << "” ";
    const auto q = parse_quantity(text, dimension);
    if (q)
      out << num(q->value, 7) << " digit " << num(reading_of(*q).resolution, 7) << "\n";
    else
      out << q.error().message << "\n";
  };
  for (const auto& [whole, dimension] : typed) {
    const std::string text = whole;
    for (size_t i = 0; i < text.size(); ++i) {
      if ((text[i] & 0xC0) == 0x80) continue;  // within a letter
      say(text.substr(0, i), dimension);
      say(text.substr(i), dimension);
      say(text.substr(0, i) + text.substr(i + 1), dimension);
      say(text.substr(0, i) + text[i] + text.substr(i), dimension);
      if (i > 0) say(text.substr(0, i - 1) + text[i] + text[i - 1] + text.substr(i + 1), dimension);
    }
  }
  hold_kept("varied-slips", out.str());
}

// Clocks at every edge of their parts, numbers in groups of one digit to four, with every mark.
TEST(KeptNumbersVariedFiles, CellsAtTheirEdges) {
  Texts cells;
  for (const char* hours : {"", "0:", "9:", "12:", "23:", "24:", "999999:", "1000000:"})
    for (const char* minutes : {"0", "59", "60", "61", "05"})
      for (const char* seconds : {":0", ":59.9", ":60", ":60.9", ":61", ":62", ":5,25", ":", ":1.", ":1.x"}) cells.push_back(std::string(hours) + minutes + seconds);
  for (const char* date : {"2026-11-24 ", "24.11.2026T", "11/24/2026  ", "24.11-2026 ", "24.11 ", "1.2.3.4 ", "2026-11-24"})
    for (const char* time : {"12:31:05.2", "1:05,2 PM", "12:00:00 am", "12:00:00 p.m.", "12:30:00PM", "0:30 AM"}) cells.push_back(std::string(date) + time);
  for (const char* sign : {"", "-", "+", "−", "--"})
    for (const char* first : {"", "0", "1", "12", "123", "1234"})
      for (const char* mark : {",", ".", "'", " ", "\u00A0", "\u2009", "’"})
        for (const char* second : {"", "1", "12", "123", "1234", "123456", "123,5", "123.5", "123e2", "12e", "123e-400", "123e400"})
          cells.push_back(std::string(sign) + first + mark + second);
  for (const char* more : {"1,234,567", "1,234.567,8", "1.234.567", "1,234'567", "1 234 567,25", "12,34,567", "0,125", "0,125,000", "1,,234", "1,234,", "nan", "NaN", "-", "--", "n/a", "N/A", "#DIV/0!", "inf", "\"7\"", "\"7", " 7 ", "7 mm", "1e5", "1E+05", "1e+", ".5", "5.", "."}) cells.push_back(more);
  std::ostringstream out;
  for (const std::string& text : cells) {
    out << "“" << text << "”";
    for (char decimal : {'.', ','}) {
      const Cell c = read_cell(text, decimal);
      out << " " << int(c.kind) << " " << num(c.value, 7) << (c.grouped ? " grouped" : "");
    }
    out << "\n";
  }
  hold_kept("varied-cells", out.str());
}

TEST(KeptNumbersVariedFiles, DaysAsTyped) {
  const Texts parts = {"1", "2", "11", "30", "31", "29", "2026", "26", ".", "-", "/", " ", "Nov", "Dec", "February", "mon", "fri", "today", "tomorrow", "yesterday", "+3", "in 2 weeks", "next", "13", "0", "W48", "th"};
  std::ostringstream out;
  for (uint64_t seed = 1; seed <= 500; ++seed) {
    Chance chance(seed);
    std::string text;
    for (size_t i = 1 + chance.below(5); i > 0; --i) text += chance.of(parts) + (chance.below(4) == 0 ? " " : "");
    out << "“" << text << "”";
    for (DaySense sense : {DaySense::coming, DaySense::past}) {
      const auto day = parse_day(text, "2026-11-26", sense);
      out << " " << (day ? *day : day.error().message);
    }
    out << "\n";
  }
  hold_kept("varied-days", out.str());
}

}  // namespace
}  // namespace fortitor::varied_files_test
