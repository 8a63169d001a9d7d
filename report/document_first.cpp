// The first page of a document: who asked, what came, what was demanded, found and stated, who answers for it
// (ISO/IEC 17025, 7.8.2 to 7.8.8).
#include <algorithm>
#include <cmath>
#include <set>

#include "core/evaluation/judge.h"
#include "core/laboratory/editions.h"
#include "core/quantity/numbering.h"
#include "report/document_parts.h"
#include "report/piece_parts.h"
#include "store/clock.h"

namespace fortitor::document {
namespace {

using page::escaped;
using parts_of_piece::heading;

// "quarter street 4, Tarnfell" on lines of their own.
std::string lines_of(const std::string& words) {
  std::string out;
  for (size_t at = 0; at <= words.size();) {
    const size_t end = std::min(words.find(", ", at), words.size());
    out += (out.empty() ? "" : "<br/>") + escaped(words.substr(at, end - at));
    at = end + 2;
  }
  return out;
}

std::string letterhead(const Document& d, const Tongue& say) {
  const lab::Entry& h = d.letterhead;
  std::string lab = "<span style=\"font-size:13pt\"><b>" + escaped(h.text("laboratory")) + "</b></span>";
  if (h.text("laboratory").empty()) lab = quiet(say("No letterhead is set"));
  for (const char* field : {"address", "contact", "accreditation"})
    if (const std::string words = h.text(field); !words.empty()) lab += "<br/>" + quiet(words);
  const std::string logo = h.text("logo");
  const std::string mark =
      logo.empty() ? "" : "<td width=\"110\" valign=\"top\"><img src=\"" + escaped(logo) + "\" width=\"90\"/></td>";
  const std::string inspection = d.paper.text("inspection");
  std::string title = say("Test report");
  if (!inspection.empty() && inspection != "none")
    title = say(inspection == "2.2"   ? "Test report 2.2 (EN 10204)"
                : inspection == "3.1" ? "Inspection certificate 3.1 (EN 10204)"
                                      : "Inspection certificate 3.2 (EN 10204)");
  std::string right = "<span style=\"font-size:13pt\"><b>" + escaped(title) + "</b></span><br/>";
  right += d.number.empty() ? "<b>" + escaped(say("Draft, not issued")) + "</b>"
                            : escaped(say("No. {number}, edition {edition}",
                                          {{"number", d.number}, {"edition", std::to_string(d.edition)}}));
  right +=
      "<br/>" + quiet(say(d.number.empty() ? "made {day}" : "issued {day}", {{"day", say.day(day_here(d.made_at))}}));
  std::string out = "<table width=\"100%\" cellspacing=\"0\" cellpadding=\"0\"><tr>" + mark + "<td valign=\"top\">" +
                    lab + "</td><td align=\"right\" valign=\"top\">" + right +
                    "</td></tr></table><table width=\"100%\" cellspacing=\"0\" cellpadding=\"0\"><tr "
                    "bgcolor=\"#E0B84C\"><td style=\"font-size:2pt\">&nbsp;</td></tr></table>";
  if (!d.replaces.empty())
    out += "<p style=\"margin-top:6px\"><b>" +
           escaped(say("This document replaces {number}, because: {reason}",
                       {{"number", d.replaces}, {"reason", d.reason}})) +
           "</b></p>";
  return out;
}

std::string pairs(const std::vector<std::pair<std::string, std::string>>& all) {
  std::string rows;
  for (const auto& [name, words] : all)
    if (!words.empty()) rows += "<tr><td>" + quiet(name) + "&nbsp;&nbsp;</td><td>" + words + "</td></tr>";
  return rows.empty() ? "" : "<table cellspacing=\"0\" cellpadding=\"1\">" + rows + "</table>";
}

std::string parties(const Document& d, const Tongue& say) {
  const std::string contact = d.paper.text("contact").empty() ? d.customer.text("contact") : d.paper.text("contact");
  std::string who =
      d.paper.text("customer").empty()
          ? quiet(say("No customer is named"))
          : "<b>" + escaped(d.customer.text("name").empty() ? d.paper.text("customer") : d.customer.text("name")) +
                "</b>";
  if (!d.customer.text("address").empty()) who += "<br/>" + lines_of(d.customer.text("address"));
  std::set<std::string> days;
  for (const DocumentSeries& s : d.series)
    for (const DocumentPiece& p : s.pieces)
      if (p.tested() && !p.certificate.record.tested_at.empty()) days.insert(day_here(p.certificate.record.tested_at));
  std::string tested = say("on an unrecorded day");
  if (!days.empty())
    tested = days.size() == 1
                 ? say.day(*days.begin())
                 : say("{first} to {last}", {{"first", say.day(*days.begin())}, {"last", say.day(*days.rbegin())}});
  const std::string condition = d.paper.text("condition");
  return parts_of_piece::two_columns(
      heading(say("Customer")) + "<p style=\"margin-top:0px\">" + who + "</p>" +
          pairs({{say("Person to ask"), escaped(contact)},
                 {say("Their reference"), escaped(d.customer.text("reference"))}}),
      heading(say("Job")) +
          pairs({{say("Number"), "<b>" + escaped(d.job.code) + "</b> " + escaped(d.job.title)},
                 {say("Order"), escaped(d.paper.text("order"))},
                 {say("Project"), escaped(d.paper.text("project"))},
                 {say("Received"),
                  escaped(say.day(d.paper.text("arrived")) +
                          (d.paper.text("arrived_by").empty() ? "" : ", " + d.paper.text("arrived_by")))},
                 {say("Condition"),
                  condition.empty() ? ""
                                    : escaped(say(condition) +
                                              (d.paper.text("damage").empty() ? "" : ": " + d.paper.text("damage")))},
                 {say("Sampled"),
                  escaped(say.day(d.paper.text("sampled")) +
                          (d.paper.text("sampled_by").empty()
                               ? ""
                               : (d.paper.text("sampled").empty() ? "" : ", ") + d.paper.text("sampled_by")))},
                 {say("Tested"), escaped(tested)},
                 {say("Place of the tests"), escaped(d.paper.text("place"))}}));
}

std::string field_of(const TestRecord& r, const char* path) {
  const Readings list = r.fields.readings(path);
  if (!list.empty() && !list.front().typed.empty()) return list.front().typed;
  return r.fields.text(path);
}

std::string items(const Document& d, const Tongue& say) {
  struct Column {
    const char *head, *path;
  };
  constexpr Column kAll[] = {{"Material", "specimen.material"},
                             {"Product", "specimen.product"},
                             {"Lot", "specimen.lot"},
                             {"Heat", "specimen.heat"},
                             {"Thickness", "specimen.product_thickness"},
                             {"Direction", "specimen.direction"},
                             {"Customer's mark", "specimen.customer_mark"},
                             {"Remarks", "specimen.note"}};
  std::vector<const Column*> used;
  for (const Column& c : kAll)
    for (const DocumentSeries& s : d.series)
      for (const DocumentPiece& p : s.pieces)
        if (!field_of(p.certificate.record, c.path).empty() && (used.empty() || used.back() != &c)) used.push_back(&c);
  std::vector<std::string> heads = {say("Item"), say("Test")};
  for (const Column* c : used) heads.push_back(say(c->head));
  std::vector<std::vector<std::string>> rows;
  for (const DocumentSeries& s : d.series) {
    // Items that differ in their mark alone stand on one line.
    std::vector<std::pair<std::vector<std::string>, std::vector<std::string>>> groups;
    for (const DocumentPiece& p : s.pieces) {
      std::vector<std::string> cells;
      for (const Column* c : used) {
        std::string words = field_of(p.certificate.record, c->path);
        if (const FieldSpec* f = s.method->field(c->path))
          for (const Choice& choice : f->choices)
            if (choice.value == words) words = say(choice.label);
        cells.push_back(words);
      }
      auto it = std::find_if(groups.begin(), groups.end(), [&](const auto& g) { return g.first == cells; });
      if (it == groups.end()) it = groups.insert(groups.end(), {cells, {}});
      it->second.push_back(p.row.code);
    }
    for (const auto& [cells, codes] : groups) {
      std::string which;
      for (const std::string& code : numbering::in_runs(codes)) which += (which.empty() ? "" : ", ") + escaped(code);
      std::vector<std::string> row = {"<b>" + which + "</b>", escaped(say(s.method->short_name))};
      for (const std::string& c : cells) row.push_back(escaped(c));
      rows.push_back(std::move(row));
    }
  }
  return heading(say("Items")) + table(heads, rows);
}

std::string methods_of(const Document& d, const Tongue& say) {
  std::string rows;
  std::set<std::string> seen;
  for (const DocumentSeries& s : d.series)
    if (seen.insert(s.method->id).second)
      rows += "<tr><td>" + escaped(say(s.method->name)) + "&nbsp;&nbsp;&nbsp;</td><td>" +
              escaped(lab::with_editions(say.english() ? s.method->standard
                                                       : parts_of_piece::text_words(s.method->standard, say))) +
              "</td></tr>";
  const std::string deviations = d.paper.text("deviations");
  return heading(say("Methods")) + "<table cellspacing=\"0\" cellpadding=\"1\">" + rows +
         "</table><p style=\"margin-top:2px\">" +
         escaped(deviations.empty() ? say("No deviations from the methods were agreed; settings other than usual are "
                                          "printed with each piece.")
                                    : say("Deviations agreed: {words}", {{"words", deviations}})) +
         "</p>";
}

// For which results, against what, by which rule (ISO/IEC 17025, 7.8.6.2).
std::string statement(const Document& d, const Tongue& say) {
  std::string out;
  std::set<std::string> rules;
  for (const DocumentSeries& s : d.series) {
    int meet = 0, fail = 0, open = 0, judged = 0;
    std::string which;
    bool void_tests = false;
    for (const DocumentPiece& p : s.pieces) {
      if (!p.tested()) continue;
      const Evaluation& e = p.certificate.evaluation;
      std::string failing;
      for (const ResultValue& r : e.results) {
        if (r.verdict == Verdict::none) continue;
        ++judged;
        rules.insert(e.rule + "\n" + e.compared);
        if (r.verdict == Verdict::meets || r.verdict == Verdict::conditional_pass) ++meet;
        if (r.verdict == Verdict::open) ++open;
        if (r.verdict == Verdict::void_test) void_tests = true;
        if (r.verdict == Verdict::fails || r.verdict == Verdict::conditional_fail) {
          ++fail;
          failing += (failing.empty() ? "" : ", ") + page::symbol(r.spec.symbol);
        }
      }
      if (!failing.empty()) which += (which.empty() ? "" : "; ") + escaped(p.row.code) + " (" + failing + ")";
    }
    if (judged == 0) continue;
    out += "<p style=\"margin-top:2px;margin-bottom:2px\"><b>" + escaped(s.row.title) + "</b>: " +
           escaped(say("of {n} results with a limit, against {what}, {meet} meet, {fail} fail, {open} are open.",
                       {{"n", std::to_string(judged)},
                        {"what", s.demand ? s.demand->title() : say("the limits printed above")},
                        {"meet", std::to_string(meet)},
                        {"fail", std::to_string(fail)},
                        {"open", std::to_string(open)}})) +
           (which.empty() ? "" : " " + escaped(say("Failing:")) + " " + which + ".") +
           (void_tests ? " " + escaped(say("Results of void tests are not judged.")) : "") + "</p>";
    if (s.completeness)
      for (const auto& line : s.completeness->lines)
        if (line.retest_open)
          out += "<p style=\"margin-top:0px\">" +
                 escaped(say("The retest of {what} is open.", {{"what", plain_symbol(line.symbol)}})) + "</p>";
  }
  if (out.empty())
    out = "<p style=\"margin-top:2px\">" + escaped(say("No limits were set; nothing is stated.")) + "</p>";
  for (const std::string& rule : rules) {
    const size_t at = rule.find('\n');
    out += "<p style=\"margin-top:2px\">" + escaped(say("Decision rule:")) + " " +
           escaped(parts_of_piece::rule_words(rule.substr(0, at), rule.substr(at + 1), say)) + "</p>";
  }
  const std::string inspection = d.paper.text("inspection");
  if (inspection == "3.1" || inspection == "3.2")
    out += "<p style=\"margin-top:2px\">" +
           escaped(say(inspection == "3.1"
                           ? "The results are those of pieces taken from the products delivered; the inspection "
                             "representative, who is independent of manufacturing, certifies them (EN 10204, 3.1)."
                           : "The results are those of pieces taken from the products delivered; they are certified by "
                             "the manufacturer's representative and by the purchaser's or the inspector named by the "
                             "regulations (EN 10204, 3.2).")) +
           "</p>";
  return heading(say("Statement of conformity")) + out;
}

std::string conditions(const Document& d, const Tongue& say) {
  double least = HUGE_VAL, most = -HUGE_VAL, dry = HUGE_VAL, damp = -HUGE_VAL;
  for (const DocumentSeries& s : d.series)
    for (const DocumentPiece& p : s.pieces) {
      if (const auto t = p.certificate.record.fields.number("conditions.temperature")) {
        least = std::min(least, *t);
        most = std::max(most, *t);
      }
      if (const auto h = p.certificate.record.fields.number("conditions.humidity")) {
        dry = std::min(dry, *h);
        damp = std::max(damp, *h);
      }
    }
  if (!std::isfinite(least)) return {};
  const auto range = [&](double a, double b, Dimension dim) {
    const std::string from = say.number(format_value(a, dim, d.units, 3)),
                      to = say.number(format_value(b, dim, d.units, 3));
    return from == to ? from : say("{first} to {last}", {{"first", from}, {"last", to}});
  };
  return "<p style=\"margin-top:2px\">" +
         escaped(say("Tested at {temperature}", {{"temperature", range(least, most, Dimension::temperature)}}) +
                 (std::isfinite(dry)
                      ? ", " + say("humidity {humidity}", {{"humidity", range(dry, damp, Dimension::elongation)}})
                      : "")) +
         ".</p>";
}

std::string who(const Document& d, const Tongue& say) {
  std::set<std::string> lines;
  for (const DocumentSeries& s : d.series)
    for (const DocumentPiece& p : s.pieces)
      for (const SignedBy& by : p.signatures)
        lines.insert(
            say(by.role == "released" ? "released by {who}" : "tested and signed by {who}", {{"who", by.person}}) +
            (by.with_key ? "" : " " + say("(without a key)")));
  std::string all;
  for (const std::string& line : lines) all += (all.empty() ? "" : "; ") + line;
  std::string out = heading(say("Who answers for it"));
  if (!all.empty()) out += "<p style=\"margin-top:0px\">" + escaped(say("Results:")) + " " + escaped(all) + ".</p>";
  const std::string line = "<br/><br/><span style=\"color:#6F7780\">______________________________</span><br/>";
  out += "<table width=\"100%\" cellspacing=\"0\" cellpadding=\"0\"><tr><td width=\"50%\">" +
         (d.number.empty()
              ? "<b>" + escaped(say("Draft: not authorised.")) + "</b>"
              : escaped(say("Authorised by {who}", {{"who", d.issued_by}})) + line + quiet(say("day, signature"))) +
         "</td><td width=\"50%\"></td></tr></table>";
  return out;
}

std::string closing(const Document& d, const Tongue& say) {
  std::string out;
  const auto add = [&](const std::string& words) {
    out += "<p style=\"margin-top:2px;margin-bottom:2px\">" + words + "</p>";
  };
  if (const std::string words = d.paper.text("opinion"); !words.empty())
    add("<b>" + escaped(say("Opinion, not a result:")) + "</b> " + escaped(words));
  if (const std::string words = d.paper.text("external"); !words.empty())
    add("<b>" + escaped(say("From elsewhere:")) + "</b> " + escaped(words));
  if (const std::string remains = d.paper.text("remains"); !remains.empty())
    add(escaped(remains == "kept"
                    ? say("The remains are kept until {day}.", {{"day", say.day(d.paper.text("kept_until"))}})
                : remains == "returned" ? say("The remains go back to the customer.")
                                        : say("The remains were marked and destroyed.")));
  if (const std::string words = d.layout.text("closing"); !words.empty()) add(escaped(words));
  bool standin = false;
  for (const DocumentSeries& s : d.series)
    for (const DocumentPiece& p : s.pieces)
      standin = standin || !p.certificate.record.fields.text("equipment.standin.piece").empty();
  if (standin) add("<b>" + escaped(say("Pieces made on a stand-in machine are no tests of real pieces.")) + "</b>");
  add(
      quiet(say("The results hold for the items tested alone. This document is not to be copied in part without the "
                "leave of the laboratory.")));
  add(quiet(parts_of_piece::practice_words(say)));
  return out;
}

}  // namespace

page::Part first_page(const Document& d) {
  const Tongue say(d.language);
  page::Part part;
  part.sheet.units = d.units;
  part.sheet.language = d.language;
  std::string& m = part.sheet.markup;
  m = letterhead(d, say) + parties(d, say) + items(d, say) + methods_of(d, say) + conditions(d, say);
  for (const DocumentSeries& s : d.series) m += results_of(d, s, say);
  for (const std::string& why : d.refused) m += "<p>" + escaped(say("Not printed:")) + " " + escaped(why) + "</p>";
  m += statement(d, say) + closing(d, say) + who(d, say);
  return part;
}

}  // namespace fortitor::document
