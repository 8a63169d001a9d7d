#include "report/series_report.h"

#include "core/quantity/date.h"
#include "core/quantity/format.h"
#include "core/series/series.h"
#include "report/certificate.h"
#include "report/figure.h"
#include "report/page.h"
#include "report/piece_parts.h"

namespace fortitor {
namespace {

using page::escaped;

std::string numbers(const SeriesReport& r) {
  std::string rows;
  for (const ResultValue& x : r.judged.results) {
    std::string how;
    for (const Step& s : x.how)
      how += (how.empty() ? "" : "; ") + s.expression + (s.source.empty() ? "" : " (" + s.source + ")");
    if (x.is_text()) {
      rows += "<tr><td></td><td>" + escaped(x.spec.name) + "</td><td colspan=\"2\">" + escaped(x.text) + "</td></tr>";
      continue;
    }
    if (!x.spec.headline && x.spec.key.rfind("group_", 0) == 0) continue;  // stands in the words of its group
    const std::string value = x.spec.dimension == Dimension::none && x.spec.figures == 6
                                  ? std::to_string(int(x.value))
                                  : format_value(x.value, x.spec.dimension, r.units, x.spec.figures);
    rows += "<tr><td><b>" + page::symbol(x.spec.symbol) + "</b></td><td>" + escaped(x.spec.name) +
            "</td><td align=\"right\"><b>" + escaped(value) + "</b></td><td><span style=\"color:#6F7780\">" +
            escaped(how) + "</span></td></tr>";
    if (const std::string stands = stand_words(x, r.units); !stands.empty())
      rows += "<tr><td></td><td align=\"right\" colspan=\"2\">" + escaped(stands) + "</td><td></td></tr>";
  }
  return parts_of_piece::heading("Numbers") + "<table width=\"100%\" cellspacing=\"0\" cellpadding=\"3\">" + rows +
         "</table>";
}

std::string pieces(const SeriesReport& r) {
  std::string rows;
  const std::string& suspects = r.method->series.suspects_path;
  for (const SeriesPiece& p : r.pieces) {
    std::string seen;
    for (const FieldSpec& f : r.method->fields)
      if (!suspects.empty() && f.path.compare(0, suspects.size(), suspects) == 0 && p.record->fields.flag(f.path))
        seen += (seen.empty() ? "" : ", ") + f.label;
    const std::string out = p.record->fields.text("settings.series.left_out");
    if (!out.empty()) seen += (seen.empty() ? "" : "; ") + ("left out: " + out);
    const bool void_test = p.evaluation->verdict == Verdict::void_test;
    if (void_test) seen += (seen.empty() ? "" : "; ") + ("void: " + p.evaluation->verdict_reason);
    rows += "<tr><td>" + escaped(p.record->specimen_id()) + "</td><td align=\"right\"><b>" +
            escaped(piece_words(p, r.key, r.units)) + "</b></td><td>" + escaped(moment_words(p.record->tested_at)) +
            "</td><td>" + escaped(seen) + "</td></tr>";
  }
  return parts_of_piece::heading("Pieces") + "<table width=\"100%\" cellspacing=\"0\" cellpadding=\"2\">" + rows +
         "</table>";
}

std::string body(const SeriesReport& r) {
  const auto spec = r.method->result(r.key);
  bool standin = false;
  for (const SeriesPiece& p : r.pieces) standin = standin || !p.record->fields.text("equipment.standin.piece").empty();
  return "<table width=\"100%\" cellspacing=\"0\" cellpadding=\"8\"><tr bgcolor=\"#22303C\"><td><span "
         "style=\"color:#E0B84C;font-size:14pt\"><b>Series report</b></span><br/><span style=\"color:#F3F0E8\">" +
         escaped(r.method->name) + " · " + escaped(spec ? spec->name : r.key) +
         "</span></td><td align=\"right\"><span style=\"color:#FBFAF6;font-size:12pt\"><b>" + escaped(r.title) +
         "</b></span><br/><span style=\"color:#F3F0E8\">" + escaped(r.job) + "</span></td></tr></table>" +
         page::kFigure + numbers(r) + parts_of_piece::judgements(r.judged, Tongue()) + pieces(r) +
         (standin
              ? "<p style=\"margin-top:8px\"><b>Pieces made on a stand-in machine are no tests of real pieces.</b></p>"
              : "") +
         "<p style=\"margin-top:8px;color:#6F7780\">" + escaped(practice_sentence()) + "</p>";
}

// The first picture, and those that say they belong on paper.
std::vector<Figure> printed(const SeriesReport& r) {
  std::vector<Figure> out;
  for (size_t i = 0; i < r.judged.figures.size(); ++i)
    if (i == 0 || r.judged.figures[i].printed) out.push_back(r.judged.figures[i]);
  return out;
}

}  // namespace

std::string series_report_html(const SeriesReport& r) {
  std::string markup = body(r);
  figure::Options options;
  options.width = 680;
  options.height = 300;
  options.set = r.units;
  std::string drawn;
  for (const Figure& f : printed(r)) drawn += figure_svg(f, options);
  markup.replace(markup.find(page::kFigure), std::string(page::kFigure).size(), drawn);
  return page::document("Series report", "<section>" + markup + "</section>");
}

Outcome<Done> series_report_pdf(const SeriesReport& r, const std::string& path) {
  return page::pdf({{body(r), printed(r), r.units, 0.36, r.job + " · " + r.title}}, "Series report", path);
}

Outcome<Done> write_series_report(const SeriesReport& r, const std::string& path) {
  if (path.ends_with(".pdf")) return series_report_pdf(r, path);
  return page::write_new(series_report_html(r), path);
}

}  // namespace fortitor
