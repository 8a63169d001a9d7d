// Parts of a document flowing over pages like print: a table is cut between its rows and has its head again, a heading
// stays with what follows, a figure keeps its size, and no page stays nearly empty but the last.
#pragma once

#include <QByteArray>
#include <string>
#include <utility>
#include <vector>

#include "report/page.h"

namespace fortitor::page {

struct Part {
  Sheet sheet;
  /// Begins a page of its own, unless the one before would stay under a third full.
  bool fresh = false;
};

/// What stands around the text of every page, in the language of the document.
struct Surround {
  std::string head_left, head_right;  ///< from the second page on
  std::string foot;                   ///< of every page
  std::string page_of = "page {page} of {pages}";
  std::string end;  ///< after the last part: "End of document 2026-0014"
};

/// A PDF with real text and vector figures, in the form in which archives keep them (archive.h) once it is passed on.
Outcome<QByteArray> flow_pdf(const std::vector<Part>& parts, const Surround& surround, const std::string& title,
                             const Progress& progress = {});

/// How full each page of the last flow came to be, 0 … 1, for those who judge it.
struct Filled {
  std::vector<double> pages;
};
Outcome<QByteArray> flow_pdf(const std::vector<Part>& parts, const Surround& surround, const std::string& title,
                             Filled& filled, const Progress& progress = {});

}  // namespace fortitor::page
