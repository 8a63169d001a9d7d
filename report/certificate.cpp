#include "report/certificate.h"

#include <algorithm>
#include <functional>

#include "core/practice/practice.h"
#include "core/quantity/date.h"
#include "report/certificate_parts.h"
#include "report/figure.h"
#include "report/page.h"
#include "report/piece_parts.h"

namespace fortitor {
std::string practice_sentence() {
  return "These results hold for the specimen tested. They rate no component: ratings come from the maker and the law "
         "of the place, and local codes and "
         "licensed practice go before anything printed here.";
}

std::vector<const Figure*> figures_of(const Certificate& c) {
  std::vector<const Figure*> out;
  auto add = [&](const Evaluation& e) {
    for (size_t i = 0; i < e.figures.size(); ++i)
      if (i == 0 || e.figures[i].printed) out.push_back(&e.figures[i]);
  };
  add(c.evaluation);
  for (const Certificate& part : c.parts) add(part.evaluation);
  return out;
}

namespace {

// A record of the same piece by another method: what it was, what came of it, who signed it.
std::string part_section(const Certificate& part, const std::function<std::string()>& next_figure) {
  const Method& m = *methods::find(part.record.method);
  std::string out =
      "<table width=\"100%\" cellspacing=\"0\" cellpadding=\"5\" style=\"margin-top:14px\"><tr "
      "bgcolor=\"#E8E3D8\"><td><b>" +
      page::escaped(m.name) + " of the same piece, " + page::escaped(part.evaluation.specimen) +
      "</b></td><td align=\"right\">" + page::escaped(m.standard) + "</td></tr></table>";
  out += "<p style=\"margin-top:4px\">Tested " +
         page::escaped(part.record.tested_at.empty() ? "on an unrecorded date" : moment_words(part.record.tested_at)) +
         " by " +
         page::escaped(part.record.operator_name.empty() ? "an unrecorded person" : part.record.operator_name) + ". " +
         (part.signature ? "Signed by " + page::escaped(part.signature->by) + ", " +
                               page::escaped(moment_words(part.signature->at)) + ", record " +
                               page::escaped(part.signature->record_sha256.substr(0, 16))
                         : std::string("Not signed")) +
         ".</p>";
  for (size_t i = 0; i < part.evaluation.figures.size(); ++i)
    if (i == 0 || part.evaluation.figures[i].printed) out += next_figure();
  out += parts_of_piece::results(part);
  out += parts_of_piece::pictures(part);
  out += parts_of_piece::two_columns(
      parts_of_piece::facts(part, "Specimen", {"specimen."}),
      parts_of_piece::equipment(part) + parts_of_piece::facts(part, "Settings", m.printed_settings));
  return out + parts_of_piece::judgements(part.evaluation, Tongue());
}

}  // namespace

std::string certificate_body(const Certificate& c, const std::vector<std::string>& figures) {
  size_t drawn = 0;
  auto next_figure = [&] { return drawn < figures.size() ? figures[drawn++] : std::string(); };
  const Evaluation& e = c.evaluation;
  const Method& method = *methods::find(c.record.method);
  const std::string verdict = e.verdict == Verdict::none ? "no limits set" : std::string(verdict_word(e.verdict));
  std::string out =
      "<table width=\"100%\" cellspacing=\"0\" cellpadding=\"8\"><tr bgcolor=\"#22303C\"><td><span "
      "style=\"color:#E0B84C;font-size:14pt\"><b>" +
      std::string(practice::is_practice(c.record) ? "Practice, not a test" : "Test certificate") +
      "</b></span><br/>"
      "<span style=\"color:#F3F0E8\">" +
      page::escaped(method.name) + (method.standard.empty() ? "" : " · " + page::escaped(method.standard)) +
      "</span></td><td align=\"right\"><span style=\"color:#FBFAF6;font-size:12pt\"><b>" + page::escaped(e.specimen) +
      "</b></span><br/><span style=\"color:#F3F0E8\">" + page::escaped(c.record.job) + " " +
      page::escaped(c.job_title) + "</span></td></tr></table>";
  out += "<p style=\"margin-top:8px\">Verdict: <b><span style=\"color:" + std::string(page::verdict_colour(e.verdict)) +
         "\">" + page::escaped(verdict) + "</span></b>" +
         (e.verdict_reason.empty() ? "" : " (" + page::escaped(e.verdict_reason) + ")") + "." +
         (c.record.series.empty() ? "" : " Series " + page::escaped(c.record.series) + ".") + " Tested " +
         page::escaped(c.record.tested_at.empty() ? "on an unrecorded date" : moment_words(c.record.tested_at)) +
         " by " + page::escaped(c.record.operator_name.empty() ? "an unrecorded person" : c.record.operator_name) +
         ".</p>";
  if (!e.figures.empty()) out += next_figure();
  out += parts_of_piece::results(c);
  for (size_t i = 1; i < e.figures.size(); ++i)
    if (e.figures[i].printed)
      out += "<p style=\"margin-top:10px;margin-bottom:2px\"><b>" + page::escaped(e.figures[i].title) + "</b></p>" +
             next_figure();
  out += parts_of_piece::pictures(c);
  out += parts_of_piece::two_columns(
      parts_of_piece::facts(c, "Specimen", {"specimen."}),
      parts_of_piece::equipment(c) +
          parts_of_piece::facts(c, "Stand-in",
                                practice::is_practice(c.record) ? std::vector<std::string>{"equipment.standin.practice"}
                                                                : std::vector<std::string>{"equipment.standin."}) +
          parts_of_piece::facts(c, "Conditions", {"conditions."}) + parts_of_piece::settings(c));
  out += parts_of_piece::what_ifs(c);
  out += parts_of_piece::rows(c);
  out += page::kMayBreak;
  out += parts_of_piece::judgements(c.evaluation, Tongue());
  for (const Certificate& part : c.parts) out += part_section(part, next_figure);
  const bool standin = std::any_of(c.parts.begin(), c.parts.end(), [](const Certificate& part) {
    return !part.record.fields.text("equipment.standin.piece").empty();
  });
  if (standin || !c.record.fields.text("equipment.standin.piece").empty())
    out += "<p style=\"margin-top:8px\"><b>Made on a stand-in machine: this is no test of a real piece.</b></p>";
  out += c.signature ? "<p style=\"margin-top:12px\">Signed by <b>" + page::escaped(c.signature->by) + "</b>, " +
                           page::escaped(moment_words(c.signature->at)) + ".</p>"
                     : "<p style=\"margin-top:12px\"><b>Draft: not signed.</b></p>";
  if (!c.signed_title.empty())
    out += "<p style=\"margin-top:2px\">When it was signed the job was titled “" + page::escaped(c.signed_title) +
           "”; the title was changed afterwards.</p>";
  if (!c.head.hash.empty())
    out +=
        "<p style=\"margin-top:6px;color:#6F7780;font-size:7pt\">Logbook of the book: " + std::to_string(c.head.lines) +
        " lines, head " + page::escaped(c.head.hash) + "</p>";
  out += "<p style=\"margin-top:8px;color:#6F7780\">" + page::escaped(practice_sentence()) + "</p>";
  return out;
}

std::string certificate_html(const std::vector<Certificate>& certificates) {
  std::string body;
  for (const Certificate& c : certificates) {
    std::vector<std::string> drawn;
    for (const Figure* f : figures_of(c)) {
      figure::Options options;
      options.width = 680;
      options.height = f->panels.size() >= 4 ? 460 : 300;
      options.set = c.units;
      drawn.push_back(figure_svg(*f, options));
    }
    body += "<section>" + certificate_body(c, drawn) + "</section>";
  }
  return page::document("Test certificate", body, seals_of(certificates));
}

}  // namespace fortitor
