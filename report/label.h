// Labels for pieces: mark, job, and a QR code (ISO/IEC 18004, by libqrencode) that is scanned back into Find or do.
#pragma once

#include <string>
#include <vector>

#include "core/outcome.h"
#include "store/book.h"

namespace fortitor {

struct Label {
  std::string code, job, series, customer;
  std::string address;  ///< what the QR code says: "fortitor:TC-031/HB-03"
};
/// Labels of a job's pieces, in their order; `only`: of this one.
Outcome<std::vector<Label>> labels_of(const Book& book, const std::string& job, Id only = 0);
enum class LabelPaper { roll, sheet };  ///< 62 × 29 mm each on its own, or 3 × 9 of them on A4
/// A PDF of labels. Refuses to write over a file that is there.
Outcome<Done> write_labels(const std::vector<Label>& labels, LabelPaper paper, const std::string& path);
/// The dark squares of the QR code of some words, row by row; empty when they are too long for one.
std::vector<std::vector<bool>> qr_squares(const std::string& words);

}  // namespace fortitor
