#include "core/record/says.h"

#include <algorithm>
#include <array>

#include "core/quantity/date.h"
#include "core/quantity/parse.h"
#include "core/quantity/plain.h"

namespace fortitor {
namespace {

std::string stripped(std::string s) {
  const auto first = s.find_first_not_of(" \t\r\"'#%");
  if (first == std::string::npos) return {};
  return s.substr(first, s.find_last_not_of(" \t\r\"'") - first + 1);
}

// Letters without case and accents, one blank between words: "Prüf-Nr.:" → "pruf nr".
std::string plain_words(const std::string& text) {
  static const std::pair<const char*, const char*> accents[] = {
      {"ä", "a"}, {"ö", "o"}, {"ü", "u"}, {"ß", "ss"},       {"é", "e"},       {"è", "e"}, {"ê", "e"},
      {"à", "a"}, {"á", "a"}, {"ì", "i"}, {"í", "i"},        {"ò", "o"},       {"ó", "o"}, {"ù", "u"},
      {"ú", "u"}, {"ñ", "n"}, {"ç", "c"}, {"Ä", "a"},        {"Ö", "o"},       {"Ü", "u"}, {"É", "e"},
      {"È", "e"}, {"À", "a"}, {"₀", "0"}, {"Ø", "diameter"}, {"ø", "diameter"}};
  std::string s = text;
  for (const auto& [from, to] : accents)
    for (size_t at = s.find(from); at != std::string::npos; at = s.find(from, at + 1))
      s.replace(at, std::string(from).size(), to);
  std::string out;
  for (char c : s) {
    const char l = plain::lower(c);
    if ((l >= 'a' && l <= 'z') || (l >= '0' && l <= '9'))
      out += l;
    else if (!out.empty() && out.back() != ' ')
      out += ' ';
  }
  while (!out.empty() && out.back() == ' ') out.pop_back();
  return out;
}

enum class Means {
  piece,
  person,
  date,
  time,
  diameter,
  width,
  thickness,
  gauge_length,
  rate,
  material,
  customer,
  order
};
using WordList = std::vector<const char*>;

// Whole names of a line, without its unit and its number.
const std::vector<std::pair<Means, WordList>>& dictionary() {
  static const std::vector<std::pair<Means, WordList>> all = {
      {Means::piece,
       {"specimen",    "specimen id", "specimen name", "specimen no", "specimen number", "sample",
        "sample id",   "sample name", "sample no",     "piece",       "test piece",      "piece id",
        "id",          "probe",       "proben nr",     "probennr",    "probe nr",        "probenbezeichnung",
        "bezeichnung", "probekorper", "prufling",      "provino",     "id provino",      "nome provino",
        "campione",    "id campione", "eprouvette",    "echantillon", "nom eprouvette",  "probeta",
        "muestra",     "id muestra"}},
      {Means::person,
       {"operator", "tested by", "technician", "tester", "user", "bediener", "prufer", "bearbeiter", "operatore",
        "tecnico", "operateur", "technicien", "operador"}},
      {Means::date, {"date",           "test date",  "date of test", "tested on",       "tested at", "date time",
                     "test date time", "start",      "start time",   "datum",           "prufdatum", "datum uhrzeit",
                     "datum zeit",     "data",       "data prova",   "data e ora",      "data ora",  "date d essai",
                     "date essai",     "date heure", "fecha",        "fecha de ensayo", "fecha hora"}},
      {Means::time, {"time of day", "test time", "uhrzeit", "prufzeit", "ora", "heure", "hora"}},
      {Means::diameter,
       {"diameter", "specimen diameter", "dia", "d0", "d", "durchmesser", "probendurchmesser", "diametro", "diametre"}},
      {Means::width,
       {"width", "specimen width", "b0", "breite", "probenbreite", "larghezza", "largeur", "ancho", "anchura"}},
      {Means::thickness,
       {"thickness", "specimen thickness", "a0", "dicke", "probendicke", "starke", "spessore", "epaisseur", "espesor"}},
      {Means::gauge_length,
       {"gauge length", "gage length", "original gauge length", "initial gauge length", "l0", "lo", "messlange",
        "anfangsmesslange", "lunghezza iniziale", "tratto utile", "base di misura", "longueur initiale",
        "longueur de base", "longitud de referencia", "longitud inicial"}},
      {Means::rate,
       {"test speed", "crosshead speed", "speed", "rate", "test rate", "prufgeschwindigkeit", "geschwindigkeit",
        "velocita", "velocita di prova", "vitesse", "vitesse d essai", "velocidad", "velocidad de ensayo"}},
      {Means::material, {"material", "werkstoff", "materiale", "materiau", "matiere"}},
      {Means::customer, {"customer", "client", "kunde", "auftraggeber", "cliente"}},
      {Means::order,
       {"order", "order no", "order number", "job", "auftrag", "auftragsnummer", "ordine", "commande", "pedido"}}};
  return all;
}

std::vector<std::string> cells_of_head(const std::string& line, char separator) {
  std::vector<std::string> out(1);
  for (char c : line)
    if (c == separator && c != ' ')
      out.emplace_back();
    else
      out.back() += c;
  return out;
}

// A name, what stands behind it, and a unit that stands apart.
struct Line {
  std::string name, value, unit;
};

// "Diameter (mm);10.02", "Durchmesser: 10,02 mm", "width = 12.5", "Diameter;10.02;mm".
std::optional<Line> line_of(const std::vector<std::string>& cells) {
  std::vector<std::string> words;
  for (const std::string& c : cells)
    if (std::string s = stripped(c); !s.empty()) words.push_back(std::move(s));
  if (words.empty()) return std::nullopt;
  Line out;
  if (words.size() == 1 || words.front().find(": ") != std::string::npos ||
      words.front().find('=') != std::string::npos) {
    // One cell, or a comma within it was taken for a separator.
    const std::string& w = words.front();
    size_t at = w.find(':');
    if (const size_t equals = w.find('='); equals < at) at = equals;
    if (at == std::string::npos || at + 1 >= w.size()) return std::nullopt;
    out.name = stripped(w.substr(0, at));
    out.value = stripped(w.substr(at + 1));
    for (size_t i = 1; i < words.size(); ++i) out.value += "," + words[i];
  } else {
    out.name = words[0];
    if (!out.name.empty() && out.name.back() == ':') out.name.pop_back();
    out.value = words[1];
    if (words.size() > 2 && find_unit(words[2]) != nullptr) out.unit = words[2];
  }
  // A unit in brackets belongs to the value.
  for (const auto& [open, close] : {std::pair{'(', ')'}, {'[', ']'}, {'{', '}'}}) {
    const size_t from = out.name.rfind(open), to = out.name.rfind(close);
    if (from == std::string::npos || to == std::string::npos || to < from || from == 0) continue;
    const std::string inside = stripped(out.name.substr(from + 1, to - from - 1));
    if (find_unit(inside) == nullptr) continue;
    out.unit = inside;
    out.name = stripped(out.name.substr(0, from));
  }
  if (out.name.empty() || out.value.empty()) return std::nullopt;
  return out;
}

std::optional<Means> meaning_of(const std::string& name) {
  std::string words = plain_words(name);
  for (const auto& [means, list] : dictionary())
    if (std::find(list.begin(), list.end(), words) != list.end()) return means;
  // "Diameter 2", "d1": the second reading of a size.
  while (!words.empty() && words.back() >= '0' && words.back() <= '9') words.pop_back();
  while (!words.empty() && words.back() == ' ') words.pop_back();
  for (const auto& [means, list] : dictionary())
    if ((means == Means::diameter || means == Means::width || means == Means::thickness) &&
        std::find(list.begin(), list.end(), words) != list.end())
      return means;
  return std::nullopt;
}

// A typed quantity with its unit, in the decimal mark of the file; empty where it cannot be read.
std::string quantity_text(const Line& line, Dimension d, const std::string& usual) {
  std::string text = line.value;
  const auto own = parse_quantity(text, d);
  if (own && own->unit_typed) return text;
  text += " " + (line.unit.empty() ? usual : line.unit);
  return parse_quantity(text, d) ? text : std::string();
}

// "14:12:33", "14:12", "2:12 PM" → "14:12:33"; empty for anything else.
std::string clock_text(const std::string& typed) {
  int part[3] = {0, 0, 0};
  size_t n = 0, i = 0;
  for (; i < typed.size() && n < 3; ++n) {
    size_t digits = 0;
    while (i + digits < typed.size() && digits < 2 && typed[i + digits] >= '0' && typed[i + digits] <= '9')
      part[n] = part[n] * 10 + (typed[i + digits++] - '0');
    if (digits == 0) return {};
    i += digits;
    if (i < typed.size() && typed[i] == ':')
      ++i;
    else {
      ++n;
      break;
    }
  }
  std::string rest;
  for (; i < typed.size(); ++i)
    if (plain::lower(typed[i]) == 'a' || plain::lower(typed[i]) == 'p') rest += plain::lower(typed[i]);
  if (n < 2 || part[1] > 59 || part[2] > 59) return {};
  if (rest == "p" && part[0] < 12) part[0] += 12;
  if (rest == "a" && part[0] == 12) part[0] = 0;
  if (part[0] > 23) return {};
  auto two = [](int v) { return std::string(v < 10 ? "0" : "") + std::to_string(v); };
  return two(part[0]) + ":" + two(part[1]) + (n > 2 ? ":" + two(part[2]) : "");
}

// Day and time of day out of "24.11.2026 14:12:33", "2026-11-24T14:12", "24/11/2026".
void take_moment(const std::string& typed, std::string& day, std::string& clock) {
  std::string text = typed;
  size_t at = 0;
  const size_t colon = text.find(':');
  if (colon != std::string::npos) {
    at = text.find_last_of("T ,", colon);
    if (at == std::string::npos) at = 0;
    clock = clock_text(stripped(text.substr(at == 0 ? 0 : at + 1)));
    text = stripped(text.substr(0, at));
    while (!text.empty() && (text.back() == ',' || text.back() == ' ')) text.pop_back();
  }
  // Strokes: the day is the one that is no month; where both could be it is not certain.
  std::array<std::string, 3> parts;
  size_t n = 0;
  for (char c : text)
    if (c == '/')
      n = std::min<size_t>(n + 1, 3);
    else if (n < 3)
      parts[n] += c;
  if (n == 2) {
    const int a = int(plain::number(parts[0]).value_or(0)), b = int(plain::number(parts[1]).value_or(0));
    if (parts[0].size() == 4)
      text = parts[0] + "-" + parts[1] + "-" + parts[2];
    else if (a > 12 || a == b)
      text = parts[0] + "." + parts[1] + "." + parts[2];
    else if (b > 12)
      text = parts[1] + "." + parts[0] + "." + parts[2];
    else
      return;
  }
  // Only whole dates: a day without its year would be counted from today.
  if (std::count_if(text.begin(), text.end(), [](char c) { return c >= '0' && c <= '9'; }) < 5) return;
  if (const auto read = parse_day(text, "2000-01-01", DaySense::past)) day = *read;
}

std::string kind_of(const std::string& words) {
  static const std::pair<const char*, WordList> kinds[] = {
      {"compression", {"compression", "druckversuch", "compressione", "compresion", "crush"}},
      {"bending", {"bend", "flexur", "biegeversuch", "flessione", "flexion"}},
      {"torsion", {"torsion", "torsione", "verdreh"}},
      {"tension", {"tensile", "tension", "zugversuch", "trazione", "traction", "traccion"}}};
  for (const auto& [kind, list] : kinds)
    for (const char* word : list)
      if ((" " + words).find(std::string(" ") + word) != std::string::npos) return kind;  // "extension" is no tension
  return {};
}

struct HeadReader {
  FileSays& says;
  char decimal = '.';
  std::string length_unit = "mm", day = {}, clock = {};

  void size(const char* name, const Line& line) {
    if (const std::string text = quantity_text(line, Dimension::length, length_unit); !text.empty())
      says.sizes[name].push_back(text);
  }

  void take(Line line) {
    const auto means = meaning_of(line.name);
    if (!means) return;
    // The file writes commas for points everywhere: 10,025 mm is no ten thousand.
    const bool counted = *means == Means::diameter || *means == Means::width || *means == Means::thickness ||
                         *means == Means::gauge_length || *means == Means::rate;
    if (counted && decimal == ',' && line.value.find('.') == std::string::npos)
      std::replace(line.value.begin(), line.value.end(), ',', '.');
    switch (*means) {
      case Means::piece: says.piece = line.value; break;
      case Means::person: says.operator_name = line.value; break;
      case Means::material: says.material = line.value; break;
      case Means::customer: says.customer = line.value; break;
      case Means::order: says.order = line.value; break;
      case Means::date: take_moment(line.value, day, clock); break;
      case Means::time: clock = clock_text(line.value); break;
      case Means::diameter: size("diameter", line); break;
      case Means::width: size("width", line); break;
      case Means::thickness: size("thickness", line); break;
      case Means::gauge_length: says.gauge_length = quantity_text(line, Dimension::length, length_unit); break;
      case Means::rate:
        for (Dimension d : {Dimension::speed, Dimension::strain_rate, Dimension::stress_rate, Dimension::force_rate})
          if (const auto q = parse_quantity(line.value + (line.unit.empty() ? "" : " " + line.unit), d);
              q && q->unit_typed)
            says.rate = q->typed;
        break;
    }
  }

  void finish() {
    if (!day.empty()) says.tested_at = clock.empty() ? day : day + "T" + clock;
  }
};

}  // namespace

bool FileSays::empty() const {
  return piece.empty() && operator_name.empty() && material.empty() && customer.empty() && order.empty() &&
         tested_at.empty() && sizes.empty() && gauge_length.empty() && rate.empty() && kind.empty();
}

FileSays file_says(const MachineFile& file, size_t block) {
  FileSays says;
  HeadReader reader{says, file.decimal};
  if (block >= file.blocks.size()) return says;
  // A machine that counts in inches types its sizes in them.
  for (const std::string& unit : file.blocks[block].table.dialect.units)
    if (unit == "in" || unit == "inch") reader.length_unit = "in";
  for (size_t b : {size_t(0), block}) {
    if (b == block) says.sizes.clear();  // of the piece itself, where it names them
    const CsvDialect& d = file.blocks[b].table.dialect;
    for (const std::string& text : d.head) {
      if (says.kind.empty()) says.kind = kind_of(plain_words(text));
      if (const auto line = line_of(cells_of_head(text, d.separator))) reader.take(*line);
    }
    if (block == 0) break;
  }
  reader.finish();
  return says;
}

std::string size_path(const Schema& schema, const std::string& size) {
  for (const std::string& path : {"specimen.section." + size, "specimen." + size})
    if (schema.field(path) != nullptr) return path;
  return {};
}

}  // namespace fortitor
