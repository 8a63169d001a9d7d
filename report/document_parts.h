// Shared by the files that put a document on its pages.
#pragma once

#include "report/document.h"

namespace fortitor::document {

/// A line of quiet words.
std::string quiet(const std::string& words);
/// A table with hairlines: heads and rows of cells that are markup already; `right`: columns of numbers.
std::string table(const std::vector<std::string>& heads, const std::vector<std::vector<std::string>>& rows,
                  const std::vector<bool>& right = {}, const std::vector<std::string>& second_heads = {});
/// The results of a series under its heading.
std::string results_of(const Document& d, const DocumentSeries& s, const Tongue& say);
/// Letterhead, parties, items, methods, results, statement, who answers for it.
page::Part first_page(const Document& d);
page::Part series_part(const Document& d, const DocumentSeries& s);
page::Part piece_part(const Document& d, const DocumentSeries& s, const DocumentPiece& p);
/// What broke, side by side: photographs that were taken after the run; empty markup without any.
page::Part fractures_part(const Document& d, const DocumentSeries& s);
page::Part equipment_part(const Document& d);

}  // namespace fortitor::document
