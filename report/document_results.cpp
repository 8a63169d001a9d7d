// The tables of a document: the results of a series, a row a piece.
#include <algorithm>
#include <cmath>
#include <set>

#include "core/evaluation/judge.h"
#include "report/document_parts.h"
#include "report/piece_parts.h"

namespace fortitor::document {
namespace {

using page::escaped;
using parts_of_piece::heading;

constexpr size_t kMostColumns = 6;  // of results in one table

std::string cell_of(const ResultValue* r, const DocumentPiece& p, const Document& d, const Tongue& say) {
  if (r == nullptr || (!r->is_text() && !std::isfinite(r->value))) return "–";
  if (r->is_text()) return escaped(parts_of_piece::text_words(r->text, say));
  const Printed shown = reported(*r, p.certificate.record.fields, d.units);
  std::string out = "<b>" + escaped(say.number(shown.number)) + "</b>";
  if (r->standard_uncertainty > 0)
    out +=
        " " + quiet("± " +
                    say.number(printed_uncertainty(r->expanded(), r->shown_like(), r->spec.dimension, d.units).number));
  if (r->verdict != Verdict::none)
    out += "<br/><span style=\"font-size:7pt;color:" + std::string(page::verdict_colour(r->verdict)) + "\">" +
           escaped(parts_of_piece::verdict_words(r->verdict, say)) +
           (parts_of_piece::sure_words(*r, say).empty() ? "" : ", " + escaped(parts_of_piece::sure_words(*r, say))) +
           "</span>";
  return out;
}

// Of the pieces, the first that has it: its unit and limit stand in the head of the column.
const ResultValue* example(const DocumentSeries& s, const std::string& key) {
  for (const DocumentPiece& p : s.pieces)
    if (const ResultValue* r = p.certificate.evaluation.find(key); r != nullptr && !r->is_text()) return r;
  return nullptr;
}

// "≥ 355 MPa"; where pieces have different limits, nothing: each has its own page.
std::string limit_of(const DocumentSeries& s, const std::string& key, const Document& d, const Tongue& say) {
  std::set<std::string> all;
  for (const DocumentPiece& p : s.pieces)
    if (const ResultValue* r = p.certificate.evaluation.find(key))
      if (const std::string one = parts_of_piece::limit_words(*r, p.certificate.record, d.units, say); !one.empty())
        all.insert(one);
  return all.size() == 1 ? *all.begin() : all.empty() ? "" : say("by piece");
}

}  // namespace

std::string results_of(const Document& d, const DocumentSeries& s, const Tongue& say) {
  std::string out;
  bool several_k = false;
  for (size_t from = 0; from < std::max<size_t>(1, s.keys.size()); from += kMostColumns) {
    std::vector<std::string> heads = {say("Item")}, limits = {quiet(say("Limit"))};
    std::vector<std::vector<std::string>> rows;
    std::vector<bool> right = {false};
    const size_t to = std::min(s.keys.size(), from + kMostColumns);
    for (size_t i = from; i < to; ++i) {
      const auto spec = s.method->result(s.keys[i]);
      const ResultValue* like = example(s, s.keys[i]);
      std::string unit;
      if (like != nullptr) unit = reported(*like, s.pieces.front().certificate.record.fields, d.units).unit;
      heads.push_back("<b>" + page::symbol(spec->symbol) + "</b>" + (unit.empty() ? "" : " " + escaped(unit)));
      limits.push_back(quiet(limit_of(s, s.keys[i], d, say)));
      right.push_back(true);
    }
    heads.push_back(say("Verdict"));
    limits.push_back("");
    right.push_back(false);
    const bool limited = std::any_of(limits.begin() + 1, limits.end(), [](const std::string& l) {
      return l.find("></span>") == std::string::npos && !l.empty();
    });
    for (const DocumentPiece& p : s.pieces) {
      const Evaluation& e = p.certificate.evaluation;
      std::vector<std::string> row = {"<b>" + escaped(p.row.code) + "</b>"};
      for (size_t i = from; i < to; ++i) {
        const ResultValue* r = p.tested() ? e.find(s.keys[i]) : nullptr;
        several_k = several_k || (r != nullptr && r->standard_uncertainty > 0 && r->coverage_factor() > 2);
        row.push_back(cell_of(r, p, d, say));
      }
      row.push_back(!p.tested() ? quiet(say("not tested"))
                                : "<span style=\"color:" + std::string(page::verdict_colour(e.verdict)) + "\"><b>" +
                                      escaped(parts_of_piece::verdict_words(e.verdict, say)) + "</b></span>");
      rows.push_back(std::move(row));
    }
    out += table(heads, rows, right, limited ? limits : std::vector<std::string>());
  }
  std::string names;
  for (const std::string& key : s.keys)
    if (const auto spec = s.method->result(key))
      names += (names.empty() ? "" : "; ") + page::symbol(spec->symbol) + " " + escaped(say(spec->name));
  out += "<p style=\"margin-top:2px;color:#6F7780;font-size:7pt\">" + names + ". " +
         escaped(say("± is the expanded uncertainty U with k = 2, for a coverage of about 95 %.")) +
         (several_k
              ? " " + escaped(say("Where few degrees of freedom ask for a larger k, the page of the piece states it."))
              : "") +
         "</p>";
  return heading(s.row.title + " · " + say(s.method->name)) +
         (s.demand ? "<p style=\"margin-top:0px\">" + quiet(say("Demand:")) + " " + escaped(s.demand->title()) + "</p>"
                   : "") +
         out;
}

std::string quiet(const std::string& words) {
  return "<span style=\"color:#6F7780\">" + escaped(words) + "</span>";
}

std::string table(const std::vector<std::string>& heads, const std::vector<std::vector<std::string>>& rows,
                  const std::vector<bool>& right, const std::vector<std::string>& second_heads) {
  const auto cell = [&](const std::string& words, size_t column, bool head) {
    const bool numbers = column < right.size() && right[column];
    // Words after a column of numbers keep their distance.
    const bool apart = !numbers && column > 0 && column - 1 < right.size() && right[column - 1];
    return std::string("<td valign=\"top\"") +
           (numbers ? " align=\"right\""
            : apart ? " style=\"padding-left:14px\""
                    : "") +
           ">" + (head ? "<span style=\"color:#6F7780\">" + words + "</span>" : words) + "</td>";
  };
  std::string out = "<table width=\"100%\" cellspacing=\"0\" cellpadding=\"3\"><thead><tr bgcolor=\"#F3F0E8\">";
  for (size_t i = 0; i < heads.size(); ++i) out += cell(heads[i], i, true);
  if (!second_heads.empty()) {
    out += "</tr><tr>";
    for (size_t i = 0; i < second_heads.size(); ++i) out += cell(second_heads[i], i, true);
  }
  out += "</tr></thead>";
  for (size_t n = 0; n < rows.size(); ++n) {
    out += n % 2 == 1 ? "<tr bgcolor=\"#FAF8F3\">" : "<tr>";
    for (size_t i = 0; i < rows[n].size(); ++i) out += cell(rows[n][i], i, false);
    out += "</tr>";
  }
  return out + "</table>";
}

}  // namespace fortitor::document
