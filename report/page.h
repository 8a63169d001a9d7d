// What printed pages have in common: words made safe for markup, findings with their answers, the way onto paper.
#pragma once

#include <functional>
#include <memory>
#include <string>
#include <vector>

#include "core/evaluation/evaluation.h"
#include "core/language/language.h"
#include "core/outcome.h"

class QPaintDevice;
class QTextDocument;

namespace fortitor::page {

std::string escaped(const std::string& text);
/// "R_p0.2" → R<sub>p0.2</sub>
std::string symbol(const std::string& symbol);
const char* verdict_colour(Verdict v);
/// A complete HTML document of its own. `seals`: what the pages rest on, for machines to read.
std::string document(const std::string& title, const std::string& body, const std::string& seals = {});

/// One thing to print, a page or more: markup with kFigure wherever the next of its figures belongs.
struct Sheet {
  std::string markup;
  std::vector<Figure> figures;
  UnitSet units = UnitSet::si;
  double height = 0.36;                   ///< of a figure, as a share of the width
  std::string name = {};                  ///< stands on every page: the piece, its job
  std::string mark = {};                  ///< at the foot of every page: the fingerprint of what was printed
  Language language = Language::english;  ///< of the figures; the markup is in its words already
};
inline constexpr const char* kFigure = "<!--figure-->";
/// Where a page may begin anew, so that none holds the closing lines alone.
inline constexpr const char* kMayBreak = "<!--may-break-->";

/// Hears how far a long file is, 0 … 1.
using Progress = std::function<void(double)>;

/// A sheet laid out without pages, as high as it comes; `device`: on which it will be painted.
std::unique_ptr<QTextDocument> in_one_piece(const Sheet& sheet, double width, QPaintDevice* device);
/// Sheets as a document to be painted; `width` in px at 96 dpi.
void fill(QTextDocument& document, const std::vector<Sheet>& sheets, double width);
/// An A4 PDF with real text and vector figures, every page with its name and number of its sheet. Refuses to write
/// over a file that is there.
Outcome<Done> pdf(const std::vector<Sheet>& sheets, const std::string& title, const std::string& path,
                  const std::string& seals = {}, const Progress& progress = {});

/// Writes text to a new file, whole or not at all; refuses to write over one that is there.
Outcome<Done> write_new(const std::string& text, const std::string& path);

}  // namespace fortitor::page
