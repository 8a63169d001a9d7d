#include "report/document_parts.h"

#include <algorithm>
#include <cmath>
#include <set>

#include "core/laboratory/editions.h"
#include "core/series/series.h"
#include "report/figure.h"
#include "report/piece_parts.h"
#include "store/clock.h"

namespace fortitor {
namespace document {
namespace {

using page::escaped;
using parts_of_piece::heading;

std::string title_line(const std::string& left, const std::string& right) {
  return "<h3 style=\"margin-top:2px;margin-bottom:0px;font-size:11pt\">" + left + "</h3><p style=\"margin-top:0px\">" +
         quiet(right) + "</p>";
}

// Photographs beside one another, each with its caption and, where a scale is set, its bar.
std::string photographs(const DocumentPiece& p, const Tongue& say) {
  std::string cells, out;
  size_t n = 0;
  for (size_t i = 0; i < p.photographs.size(); ++i) {
    if (p.pictures[i].isEmpty()) continue;
    const PhotographRow& row = p.photographs[i];
    const std::string caption = row.caption.empty() ? row.name : row.caption;
    cells += "<td width=\"50%\" valign=\"top\"><img src=\"data:image/jpeg;base64," +
             p.pictures[i].toBase64().toStdString() + "\" width=\"300\"/><br/>" + escaped(p.row.code + ": " + caption) +
             " " + quiet(say.day(row.taken_at) + ", " + row.taken_by) + "</td>";
    if (++n % 2 == 0) {
      out += "<tr>" + cells + "</tr>";
      cells.clear();
    }
  }
  if (!cells.empty()) out += "<tr>" + cells + "<td></td></tr>";
  return out.empty() ? ""
                     : heading(say("Photographs")) + "<table width=\"100%\" cellspacing=\"0\" cellpadding=\"3\">" +
                           out + "</table>";
}

}  // namespace

page::Part piece_part(const Document& d, const DocumentSeries& s, const DocumentPiece& p) {
  const Tongue say(d.language);
  const Certificate& c = p.certificate;
  const Evaluation& e = c.evaluation;
  page::Part part;
  part.fresh = true;
  part.sheet.units = d.units;
  part.sheet.language = d.language;
  part.sheet.height = 0.32;
  std::string& m = part.sheet.markup;
  const std::string at = c.record.tested_at.empty() ? say("on an unrecorded day") : say.day(c.record.tested_at);
  m = title_line(escaped(p.row.code) + " · " + escaped(say(s.method->name)),
                 say("tested {day} by {who}",
                     {{"day", at}, {"who", c.record.operator_name.empty() ? "–" : c.record.operator_name}}) +
                     " · " + say("series {name}", {{"name", s.row.title}}));
  m += "<p style=\"margin-top:2px\">" + escaped(say("Verdict:")) +
       " <b><span style=\"color:" + std::string(page::verdict_colour(e.verdict)) + "\">" +
       escaped(parts_of_piece::verdict_words(e.verdict, say)) + "</span></b></p>";
  const auto draw = [&](const Figure& f) {
    part.sheet.figures.push_back(parts_of_piece::translated(f, say));
    m += page::kFigure;
  };
  const std::vector<const Figure*> figures = d.figures_of(e);
  if (!figures.empty()) draw(*figures.front());
  m += parts_of_piece::results(c);
  for (size_t i = 1; i < figures.size(); ++i) {
    m += heading(parts_of_piece::text_words(figures[i]->title, say));
    draw(*figures[i]);
  }
  m += parts_of_piece::pictures(c) + photographs(p, say);
  m += parts_of_piece::two_columns(
      parts_of_piece::facts(c, say("Specimen"), {"specimen."}),
      parts_of_piece::facts(c, say("Conditions"), {"conditions."}) + parts_of_piece::settings(c));
  m += parts_of_piece::what_ifs(c) + parts_of_piece::rows(c) + parts_of_piece::judgements(e, say);
  std::string by;
  for (const SignedBy& one : p.signatures)
    by += (by.empty() ? "" : "; ") +
          say(one.role == "released" ? "released by {who}, {day}" : "signed by {who}, {day}",
              {{"who", one.person}, {"day", say.day(day_here(one.at))}}) +
          (one.with_key ? "" : " " + say("(without a key)"));
  m += "<p style=\"margin-top:6px\">" + escaped(by.empty() ? say("Draft: not signed.") : by + ".") + "</p>";
  return part;
}

page::Part series_part(const Document& d, const DocumentSeries& s) {
  const Tongue say(d.language);
  const SeriesReport& r = *s.report;
  page::Part part;
  part.fresh = true;
  part.sheet.units = d.units;
  part.sheet.language = d.language;
  std::string& m = part.sheet.markup;
  const auto spec = s.method->result(r.key);
  m = title_line(escaped(say("Series {name}", {{"name", s.row.title}})),
                 say(s.method->name) + " · " + (spec ? say(spec->name) : r.key));
  for (size_t i = 0; i < r.judged.figures.size(); ++i)
    if (i == 0 || r.judged.figures[i].printed) {
      part.sheet.figures.push_back(parts_of_piece::translated(r.judged.figures[i], say));
      m += page::kFigure;
    }
  std::vector<std::vector<std::string>> rows;
  for (const ResultValue& x : r.judged.results) {
    if (!x.spec.headline || x.spec.key.rfind("group_", 0) == 0) continue;
    const auto name = say.english() ? std::optional(x.spec.name) : say.known(x.spec.name);
    if (!name) continue;
    const std::string value = x.is_text() ? parts_of_piece::text_words(x.text, say)
                              : x.spec.dimension == Dimension::none && x.spec.figures == 6
                                  ? std::to_string(int(x.value))
                                  : say.number(format_value(x.value, x.spec.dimension, d.units, x.spec.figures));
    if (!value.empty())
      rows.push_back({"<b>" + page::symbol(x.spec.symbol) + "</b>", escaped(*name), "<b>" + escaped(value) + "</b>"});
  }
  m += heading(say("Numbers")) + table({say("Symbol"), say("Name"), say("Value")}, rows, {false, false, true});
  m += parts_of_piece::judgements(r.judged, say);
  return part;
}

page::Part fractures_part(const Document& d, const DocumentSeries& s) {
  const Tongue say(d.language);
  constexpr size_t kBeside = 3;
  page::Part part;
  part.sheet.units = d.units;
  part.sheet.language = d.language;
  std::string rows, cells;
  size_t n = 0;
  for (const DocumentPiece& p : s.pieces)
    for (size_t i = 0; i < p.photographs.size(); ++i) {
      if (p.pictures[i].isEmpty() || p.photographs[i].stage < int(Stage::after)) continue;
      cells += "<td width=\"33%\" valign=\"top\"><img src=\"data:image/jpeg;base64," +
               p.pictures[i].toBase64().toStdString() + "\" width=\"200\"/><br/><b>" + escaped(p.row.code) +
               "</b></td>";
      if (++n % kBeside != 0) continue;
      rows += "<tr>" + cells + "</tr>";
      cells.clear();
    }
  if (n < 2) return part;  // one alone stands with its piece
  if (!cells.empty()) rows += "<tr>" + cells + "</tr>";
  part.sheet.markup = heading(say("After the test: {name}", {{"name", s.row.title}})) +
                      "<table width=\"100%\" cellspacing=\"0\" cellpadding=\"3\">" + rows + "</table>";
  return part;
}

// Equipment of all pieces, each once, with the days of its calibration.
page::Part equipment_part(const Document& d) {
  const Tongue say(d.language);
  std::set<std::vector<std::string>> lines;
  for (const DocumentSeries& s : d.series)
    for (const DocumentPiece& p : s.pieces) {
      if (!p.tested()) continue;
      for (const EquipmentSlot& slot : s.method->equipment) {
        const auto text = [&](const char* field) {
          return p.certificate.record.fields.text("equipment." + slot.id + "." + field);
        };
        if (text("id").empty()) continue;
        std::string cls = text("class");
        lines.insert({escaped(say(slot.label)), "<b>" + escaped(text("id")) + "</b>", escaped(cls),
                      escaped(text("serial")), escaped(say.day(text("calibrated"))), escaped(say.day(text("due")))});
      }
    }
  page::Part part;
  part.sheet.units = d.units;
  part.sheet.language = d.language;
  if (lines.empty()) return part;
  std::vector<std::vector<std::string>> rows(lines.begin(), lines.end());
  part.sheet.markup =
      heading(say("Equipment used")) +
      table({say("Kind"), say("Name"), say("Class"), say("Serial mark"), say("Calibrated"), say("Due")}, rows);
  return part;
}

}  // namespace document

namespace {

// Each tested piece as a document of its own: what came, what was found, its page.
std::vector<page::Part> piece_by_piece(const Document& d) {
  std::vector<page::Part> out;
  for (const DocumentSeries& s : d.series)
    for (const DocumentPiece& p : s.pieces) {
      if (!p.tested()) continue;
      Document one = d;
      one.series = {s};
      one.series.front().pieces = {p};
      one.series.front().completeness.reset();  // of the set, not of one
      out.push_back(document::first_page(one));
      out.back().fresh = true;
      out.push_back(document::piece_part(d, s, p));
      out.back().fresh = false;
    }
  return out;
}

}  // namespace

std::vector<page::Part> document_parts(const Document& d) {
  if (d.covers == DocumentRequest::Covers::pieces) return piece_by_piece(d);
  std::vector<page::Part> out = {document::first_page(d)};
  const auto add = [&out](page::Part part) {
    if (!part.sheet.markup.empty()) out.push_back(std::move(part));
  };
  // The equipment is one list for all; the other parts come series by series, in the order that the template gives.
  const auto parts = d.parts();
  const bool list_first = !parts.empty() && parts.front() == "equipment";
  if (list_first) add(document::equipment_part(d));
  for (const DocumentSeries& s : d.series)
    for (const std::string& part : parts) {
      if (part == "series" && s.report) add(document::series_part(d, s));
      if (part == "photographs") add(document::fractures_part(d, s));
      if (part == "pieces")
        for (const DocumentPiece& p : s.pieces)
          if (p.tested()) add(document::piece_part(d, s, p));
    }
  if (!list_first && d.has_part("equipment")) add(document::equipment_part(d));
  return out;
}

page::Surround document_surround(const Document& d) {
  const Tongue say(d.language);
  page::Surround s;
  s.head_left = d.letterhead.text("laboratory");
  s.head_right = d.number.empty() ? say("Draft, not issued") + " · " + d.covers_words()
                                  : say("No. {number}, edition {edition}",
                                        {{"number", d.number}, {"edition", std::to_string(d.edition)}});
  s.foot = (d.number.empty() ? d.covers_words() : d.number) +
           (d.letterhead.text("footer").empty() ? "" : " · " + d.letterhead.text("footer"));
  s.page_of = say("page {page} of {pages}");
  s.end = d.number.empty() ? say("End of the draft") : say("End of document {number}", {{"number", d.number}});
  return s;
}

std::string document_html(const Document& d) {
  const Tongue say(d.language);
  std::string body;
  figure::Options options;
  options.width = 680;
  options.set = d.units;
  for (page::Part& part : document_parts(d)) {
    std::string m = std::move(part.sheet.markup);
    for (const Figure& f : part.sheet.figures) {
      options.height = f.panels.size() >= 4 ? 460 : 300;
      if (const size_t at = m.find(page::kFigure); at != std::string::npos)
        m.replace(at, std::string(page::kFigure).size(), figure_svg(f, options));
    }
    body += "<section>" + m + "</section>";
  }
  body += "<p align=\"center\">— " + page::escaped(document_surround(d).end) + " —</p>";
  std::string html = page::document(say("Test report"), body);
  const std::string english = "<html lang=\"en\">";
  if (const size_t at = html.find(english); at != std::string::npos)
    html.replace(at, english.size(), "<html lang=\"" + std::string(language_code(d.language)) + "\">");
  return html;
}

}  // namespace fortitor
