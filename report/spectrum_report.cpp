#include "report/spectrum_report.h"

#include "core/quantity/format.h"
#include "report/certificate.h"
#include "report/figure.h"
#include "report/page.h"
#include "report/piece_parts.h"

namespace fortitor {
namespace {

using page::escaped;

std::string numbers(const spectrum::Spectrum& s, const Evaluation& e, UnitSet units) {
  std::string head, rows;
  std::vector<Evaluation> weeks;
  if (s.weeks.size() > 1)
    for (const spectrum::Week& w : s.weeks) {
      weeks.push_back(evaluation_of_week(s, w));
      head += "<td align=\"right\">" + escaped(w.name) + "</td>";
    }
  for (const ResultValue& r : e.results) {
    rows += "<tr><td>" + escaped(r.spec.name) + "</td><td align=\"right\"><b>" + escaped(spectrum::shown(r, units)) +
            "</b></td><td align=\"right\">" + escaped(spectrum::shown_uncertainty(r, units)) + "</td>";
    for (const Evaluation& w : weeks) {
      const ResultValue* one = w.find(r.spec.key);
      rows +=
          "<td align=\"right\">" + (one != nullptr ? escaped(spectrum::shown(*one, units)) : std::string()) + "</td>";
    }
    rows += "<td><span style=\"color:#6F7780\">" + (r.how.empty() ? std::string() : escaped(r.how.front().expression)) +
            "</span></td></tr>";
  }
  return parts_of_piece::heading("Numbers") +
         "<table width=\"100%\" cellspacing=\"0\" cellpadding=\"3\"><tr><td></td><td align=\"right\">" +
         (weeks.empty() ? "" : "all weeks") + "</td><td></td>" + head + "<td></td></tr>" + rows + "</table>";
}

std::string chosen(const TestRecord& record) {
  std::string rows;
  for (const FieldSpec& f : spectrum::schema().fields) {
    const FieldValue* v = record.fields.find(f.path);
    if (v == nullptr || f.path.rfind("settings.", 0) != 0) continue;
    std::string words;
    if (const auto* r = std::get_if<Reading>(v)) words = r->typed;
    if (const auto* t = std::get_if<std::string>(v)) words = *t;
    if (const auto* d = std::get_if<double>(v)) words = plain_number(*d, 8);
    rows += "<tr><td>" + escaped(f.label) + "</td><td>" + escaped(words) + "</td></tr>";
  }
  std::string sources;
  for (const Row& row : record.run.rows("sources"))
    sources += "<tr><td>" + escaped(row.cells.text("file")) + "</td><td><span style=\"color:#6F7780\">" +
               escaped(row.cells.text("sha256").substr(0, 16)) + "</span></td></tr>";
  return parts_of_piece::heading("Sources") + "<table cellspacing=\"0\" cellpadding=\"2\">" + sources + "</table>" +
         (rows.empty() ? parts_of_piece::heading("Everything else is as usual.")
                       : parts_of_piece::heading("What was chosen") + "<table cellspacing=\"0\" cellpadding=\"2\">" +
                             rows + "</table>");
}

}  // namespace

Outcome<Done> write_spectrum_report(const spectrum::Spectrum& s, const TestRecord& record, const std::string& job,
                                    UnitSet units, const std::string& path) {
  const Evaluation e = evaluation_of(s, record);
  std::vector<Figure> figures;
  for (spectrum::ChainStep step : {spectrum::ChainStep::cut, spectrum::ChainStep::chain, spectrum::ChainStep::drive})
    for (Figure& f : figures_of(s, step)) figures.push_back(std::move(f));
  figures.push_back(spectrum::life_figure(s, record));
  std::string markup =
      "<table width=\"100%\" cellspacing=\"0\" cellpadding=\"8\"><tr bgcolor=\"#22303C\"><td><span "
      "style=\"color:#E0B84C;font-size:14pt\"><b>Spectrum report</b></span></td>"
      "<td align=\"right\"><span style=\"color:#FBFAF6;font-size:12pt\"><b>" +
      escaped(record.specimen_id()) + "</b></span><br/><span style=\"color:#F3F0E8\">" + escaped(job) +
      "</span></td></tr></table>" + page::kFigure + numbers(s, e, units) + parts_of_piece::judgements(e, Tongue());
  for (size_t i = 1; i < figures.size(); ++i) markup += page::kFigure;
  markup += chosen(record) +
            "<p style=\"margin-top:8px\">An observation on these weeks. Fortitor rates no detail: codes and the "
            "designer do.</p><p style=\"color:#6F7780\">" +
            escaped(practice_sentence()) + "</p>";
  if (path.ends_with(".pdf"))
    return page::pdf({{markup, figures, units, 0.36, job + " · " + record.specimen_id()}}, "Spectrum report", path);
  figure::Options options;
  options.width = 680;
  options.height = 300;
  options.set = units;
  for (const Figure& f : figures) {
    const size_t at = markup.find(page::kFigure);
    if (at != std::string::npos)
      markup.replace(at, std::string(page::kFigure).size(), f.empty() ? std::string() : figure_svg(f, options));
  }
  return page::write_new(page::document("Spectrum report", "<section>" + markup + "</section>"), path);
}

}  // namespace fortitor
