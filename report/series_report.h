// The report over a series: its numbers with their derivation, the figure, every piece, the judgements.
#pragma once

#include <string>
#include <vector>

#include "core/evaluation/evaluation.h"
#include "core/methods/method.h"

namespace fortitor {

struct SeriesReport {
  const Method* method = nullptr;
  std::string job, title, key;
  std::vector<SeriesPiece> pieces;
  TestRecord settings;
  Evaluation judged;
  UnitSet units = UnitSet::si;
};

std::string series_report_html(const SeriesReport& report);
/// Refuses to write over a file that is there.
Outcome<Done> series_report_pdf(const SeriesReport& report, const std::string& path);
/// To a new file; the ending of the path (.pdf, else HTML) says as what.
Outcome<Done> write_series_report(const SeriesReport& report, const std::string& path);

}  // namespace fortitor
