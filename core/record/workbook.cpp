// Workbooks (.xlsx, ECMA-376): a ZIP of XML, taken apart with libzip and expat.
#include <expat.h>
#include <zip.h>

#include <cmath>
#include <functional>
#include <map>
#include <memory>
#include <set>

#include "core/quantity/plain.h"
#include "core/record/csv_parts.h"
#include "core/record/machine_file.h"

namespace fortitor {

using csv::kMostColumns;

namespace {

struct Archive {
  Archive(std::string_view bytes, size_t limit) : most(limit) {
    zip_source_t* source = zip_source_buffer_create(bytes.data(), bytes.size(), 0, nullptr);
    if (source == nullptr) return;
    zip = zip_open_from_source(source, ZIP_RDONLY, nullptr);
    if (zip == nullptr) zip_source_free(source);
  }
  ~Archive() {
    if (zip != nullptr) zip_discard(zip);
  }
  Archive(const Archive&) = delete;
  Archive& operator=(const Archive&) = delete;

  // Text of an entry; empty when it is not there. What unpacks beyond the limit is cut, and `whole` turns false.
  std::string entry(const std::string& name) {
    std::string out;
    zip_file_t* file = zip_fopen(zip, name.c_str(), 0);
    if (file == nullptr) return out;
    char buffer[1 << 16];
    for (zip_int64_t n = 0; (n = zip_fread(file, buffer, sizeof buffer)) > 0;) {
      out.append(buffer, size_t(n));
      taken += size_t(n);
      if (taken > most) {
        whole = false;
        break;
      }
    }
    zip_fclose(file);
    return out;
  }
  zip_t* zip = nullptr;
  size_t most, taken = 0;
  bool whole = true;
};

using Attributes = std::map<std::string, std::string>;

// Elements and the text in them, names without their prefix.
struct Reader {
  std::function<void(const std::string&, const Attributes&)> open;
  std::function<void(const std::string&, const std::string&)> close;
  std::string text;
  bool enough = false;  ///< set by one of them: nothing more is read

  bool read(const std::string& xml) {
    const std::unique_ptr<std::remove_pointer_t<XML_Parser>, decltype(&XML_ParserFree)> parser(
        XML_ParserCreate(nullptr), XML_ParserFree);
    XML_SetUserData(parser.get(), this);
    XML_SetElementHandler(
        parser.get(),
        [](void* self, const char* name, const char** pairs) {
          Attributes a;
          for (; *pairs != nullptr; pairs += 2) a[bare(pairs[0])] = pairs[1];
          static_cast<Reader*>(self)->text.clear();
          if (auto& f = static_cast<Reader*>(self)->open) f(bare(name), a);
          if (static_cast<Reader*>(self)->enough) XML_StopParser(static_cast<Reader*>(self)->parser_, XML_FALSE);
        },
        [](void* self, const char* name) {
          auto* r = static_cast<Reader*>(self);
          if (r->close) r->close(bare(name), r->text);
          if (r->enough) XML_StopParser(r->parser_, XML_FALSE);
        });
    XML_SetCharacterDataHandler(
        parser.get(), [](void* self, const char* s, int n) { static_cast<Reader*>(self)->text.append(s, size_t(n)); });
    // Documents that define entities of their own are no sheets.
    parser_ = parser.get();
    XML_SetEntityDeclHandler(parser.get(),
                             [](void* self, const char*, int, const char*, int, const char*, const char*, const char*,
                                const char*) { XML_StopParser(static_cast<Reader*>(self)->parser_, XML_FALSE); });
    for (size_t at = 0; at < xml.size();) {
      const size_t n = std::min<size_t>(xml.size() - at, 1 << 20);
      if (XML_Parse(parser.get(), xml.data() + at, int(n), at + n == xml.size()) == XML_STATUS_ERROR) return false;
      at += n;
    }
    return true;
  }

 private:
  static std::string bare(const char* name) {
    const std::string_view s(name);
    const size_t colon = s.rfind(':');
    return std::string(colon == std::string_view::npos ? s : s.substr(colon + 1));
  }
  XML_Parser parser_ = nullptr;
};

// Stops where the strings would take more than `most` bytes of memory: the last of them are empty then, and so is the
// sheet.
std::vector<std::string> shared_strings(const std::string& xml, size_t most, bool& whole_book) {
  std::vector<std::string> out;
  std::string whole;
  bool phonetic = false;
  size_t taken = 0;
  Reader r;
  r.open = [&](const std::string& name, const Attributes&) {
    if (name == "si") whole.clear();
    if (name == "rPh") phonetic = true;
  };
  r.close = [&](const std::string& name, const std::string& text) {
    if (name == "t" && !phonetic) whole += text;
    if (name == "rPh") phonetic = false;
    if (name != "si") return;
    taken += whole.size() + sizeof whole;
    if (taken > most) return void(r.enough = true);
    out.push_back(whole);
  };
  r.read(xml);
  if (r.enough) whole_book = false;
  return out;
}

// Styles that show a number as a time of the clock.
std::set<int> clock_styles(const std::string& xml) {
  std::set<int> formats = {18, 19, 20, 21, 22, 45, 46, 47}, out;
  bool in_cells = false;
  int index = 0;
  Reader r;
  r.open = [&](const std::string& name, const Attributes& a) {
    auto number = [&](const char* key) { return a.count(key) ? int(plain::whole(a.at(key)).value_or(0)) : 0; };
    if (name == "numFmt" && a.count("formatCode")) {
      const std::string& code = a.at("formatCode");
      if (code.find(':') != std::string::npos && code.find_first_of("sS") != std::string::npos)
        formats.insert(number("numFmtId"));
    }
    if (name == "cellXfs") in_cells = true;
    if (name == "xf" && in_cells) {
      if (formats.count(number("numFmtId"))) out.insert(index);
      ++index;
    }
  };
  r.close = [&](const std::string& name, const std::string&) {
    if (name == "cellXfs") in_cells = false;
  };
  r.read(xml);
  return out;
}

// Names of the sheets with the files they lie in, in their order.
std::vector<std::pair<std::string, std::string>> sheets_of(Archive& a) {
  std::map<std::string, std::string> targets;
  Reader links;
  links.open = [&](const std::string& name, const Attributes& at) {
    if (name == "Relationship" && at.count("Id") && at.count("Target")) targets[at.at("Id")] = at.at("Target");
  };
  links.read(a.entry("xl/_rels/workbook.xml.rels"));
  std::vector<std::pair<std::string, std::string>> out;
  Reader book;
  book.open = [&](const std::string& name, const Attributes& at) {
    if (name != "sheet" || !at.count("name")) return;
    std::string file = at.count("id") && targets.count(at.at("id"))
                           ? targets[at.at("id")]
                           : "worksheets/sheet" + std::to_string(out.size() + 1) + ".xml";
    file = file.front() == '/' ? file.substr(1) : "xl/" + file;
    out.emplace_back(at.at("name"), file);
  };
  book.read(a.entry("xl/workbook.xml"));
  return out;
}

size_t column_of(const std::string& place) {
  size_t n = 0;
  for (char c : place) {
    if (c < 'A' || c > 'Z') break;
    n = n * 26 + size_t(c - 'A') + 1;
    if (n > kMostColumns) return kMostColumns;
  }
  return n == 0 ? 0 : n - 1;
}

std::string clock_text(double days) {
  double seconds = days >= 1 && days > 366 ? (days - std::floor(days)) * 86400 : days * 86400;
  seconds = std::round(seconds * 1e6) / 1e6;
  const double hours = std::floor(seconds / 3600), minutes = std::floor((seconds - 3600 * hours) / 60);
  const std::string rest = plain::fixed(seconds - 3600 * hours - 60 * minutes, 6);
  return plain::fixed(hours, 0) + ":" + plain::padded(int(minutes), 2) + ":" +
         std::string(rest.size() < 9 ? 1 : 0, '0') + rest;
}

std::string flat(std::string s) {
  for (char& c : s)
    if (c == '\t' || c == '\n' || c == '\r' || c == '"') c = ' ';
  return s;
}

bool append_sheet(std::string& out, const std::string& xml, const std::vector<std::string>& strings,
                  const std::set<int>& clocks, size_t most, bool& enough) {
  std::vector<std::string> row;
  std::string type, inlined;
  size_t column = 0, expected_row = 1, held = 0;  // held: bytes of the row
  int style = 0;
  Reader r;
  r.open = [&](const std::string& name, const Attributes& a) {
    if (name == "row") {
      row.clear();
      column = held = 0;
      const size_t at = a.count("r") ? size_t(std::max<int64_t>(plain::whole(a.at("r")).value_or(0), 0)) : expected_row;
      if (at > expected_row) out += '\n';  // rows left out part tables
      expected_row = at + 1;
    } else if (name == "c") {
      type = a.count("t") ? a.at("t") : "";
      style = a.count("s") ? int(plain::whole(a.at("s")).value_or(0)) : 0;
      if (a.count("r")) column = column_of(a.at("r"));
      inlined.clear();
    }
  };
  r.close = [&](const std::string& name, const std::string& text) {
    auto put = [&](std::string s) {
      if (column >= kMostColumns) return;
      if (row.size() <= column) row.resize(column + 1);
      held += s.size();
      row[column] = std::move(s);
    };
    if (name == "t") inlined += text;
    if (name == "v") {
      if (type == "s") {
        const size_t i = size_t(plain::whole(text).value_or(-1));  // below 0: beyond every string
        put(i < strings.size() ? flat(strings[i]) : "");
      } else if ((type.empty() || type == "n") && clocks.count(style)) {
        put(clock_text(plain::number(text).value_or(0)));
      } else if (type != "e") {  // an error of a formula is a missing value
        put(flat(text));
      }
    }
    if (name == "c") {
      if (type == "inlineStr") put(flat(inlined));
      ++column;
    }
    if (out.size() + held > most) return void(r.enough = enough = true);
    if (name == "row") {
      for (size_t i = 0; i < row.size(); ++i) {
        if (i > 0) out += '\t';
        out += row[i];
      }
      out += '\n';
    }
  };
  return r.read(xml);
}

}  // namespace

Outcome<std::string> workbook_text(std::string_view bytes, size_t most) {
  Archive archive(bytes, most);
  if (archive.zip == nullptr) return InputError{"The file is no workbook: its archive cannot be opened.", {}};
  const auto sheets = sheets_of(archive);
  if (sheets.empty()) return InputError{"The file is no workbook: it names no sheets.", {}};
  const auto strings = shared_strings(archive.entry("xl/sharedStrings.xml"), most, archive.whole);
  const auto clocks = clock_styles(archive.entry("xl/styles.xml"));
  std::string out = "sep=\t\n";
  for (const auto& [name, file] : sheets) {
    out += flat(name) + "\n";
    bool enough = false;
    const bool read = append_sheet(out, archive.entry(file), strings, clocks, most, enough);
    if (!archive.whole || out.size() > most || enough)
      return InputError{
          "The workbook unpacks to more than " + std::to_string(most >> 20) + " MB; save the sheet as text.", {}};
    if (!read) return InputError{"The sheet “" + flat(name) + "” of the workbook cannot be read.", {}};
    out += '\n';
  }
  return out;
}

}  // namespace fortitor
