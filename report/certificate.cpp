#include "report/certificate.h"

#include <algorithm>
#include <functional>

#include "core/evaluation/judge.h"
#include "core/methods/support/settings.h"
#include "core/practice/practice.h"
#include "core/quantity/plain.h"
#include "report/certificate_parts.h"
#include "report/figure.h"
#include "report/page.h"

namespace fortitor {
namespace {

std::string limit_text(const ResultValue& r, const Certificate& c) {
  auto one = [&](const Reading& bound) {
    ResultValue copy = r;
    copy.value = *bound.value;
    copy.censored.reset();
    return reported(copy, c.record.fields, c.units).number;
  };
  const bool min = r.limit.min && r.limit.min->value, max = r.limit.max && r.limit.max->value;
  if (min && max) return one(*r.limit.min) + " to " + one(*r.limit.max);
  if (min) return "≥ " + one(*r.limit.min);
  return max ? "≤ " + one(*r.limit.max) : "";
}

std::string value_text(const FieldValue& v) {
  if (const auto* s = std::get_if<std::string>(&v)) return *s;
  if (const auto* r = std::get_if<Reading>(&v)) return r->missed() ? "missed" : r->typed;
  if (const auto* d = std::get_if<double>(&v)) return plain::general(*d, 6);  // a seed is 4, not 4.00000
  if (const auto* b = std::get_if<bool>(&v)) return *b ? "yes" : "no";
  std::string out;
  for (const Reading& r : std::get<Readings>(v))
    out += (out.empty() ? "" : ", ") + (r.missed() ? std::string("missed") : r.typed);
  return out;
}

std::string fact_table(const Certificate& c, const std::string& title, const std::vector<std::string>& prefixes) {
  const Method& method = *methods::find(c.record.method);
  std::string rows;
  for (const FieldSpec& f : method.fields) {
    bool wanted = false;
    for (const auto& p : prefixes) wanted = wanted || f.path.compare(0, p.size(), p) == 0;
    const FieldValue* v = wanted && f.kind != FieldKind::picture ? c.record.fields.find(f.path) : nullptr;
    if (v == nullptr || value_text(*v).empty()) continue;
    std::string text = value_text(*v);
    for (const Choice& choice : f.choices)
      if (choice.value == text) text = choice.label;
    rows += "<tr><td><span style=\"color:#6F7780\">" + page::escaped(f.label) + "</span>&nbsp;&nbsp;</td><td>" +
            page::escaped(text) + "</td></tr>";
  }
  if (rows.empty()) return {};
  return "<p style=\"margin-top:10px;margin-bottom:2px\"><b>" + page::escaped(title) +
         "</b></p><table cellspacing=\"0\" cellpadding=\"1\">" + rows + "</table>";
}

// Photographs with their names.
std::string pictures(const Certificate& c) {
  std::string out;
  for (const FieldSpec& f : methods::find(c.record.method)->fields)
    if (const std::string data = f.kind == FieldKind::picture ? c.record.fields.text(f.path) : std::string();
        !data.empty())
      out += "<p style=\"margin-top:10px;margin-bottom:2px\"><b>" + page::escaped(f.label) + "</b></p><p><img src=\"" +
             page::escaped(data) + "\" width=\"300\"/></p>";
  return out;
}

// One line a slot: "LC-100 · 100 kN · class 1 · serial mark 40388 · calibration due 25 Apr 2027".
std::string equipment_table(const Certificate& c) {
  std::string rows;
  for (const EquipmentSlot& slot : methods::find(c.record.method)->equipment) {
    std::string line;
    for (const auto* fields : {&slot.fields, &slot.papers})
      for (const FieldSpec& f : *fields) {
        const FieldValue* v = c.record.fields.find(f.path);
        if (v == nullptr || value_text(*v).empty()) continue;
        std::string text = f.kind == FieldKind::date ? day_words(value_text(*v)) : value_text(*v);
        for (const Choice& choice : f.choices)
          if (choice.value == text) text = choice.label;
        std::string label = f.label;
        label[0] = plain::lower(label[0]);
        line += (line.empty() ? "" : " · ") + (f.brought ? label + " " : std::string()) + text;
      }
    if (!line.empty())
      rows += "<tr><td><span style=\"color:#6F7780\">" + page::escaped(slot.label) + "</span>&nbsp;&nbsp;</td><td>" +
              page::escaped(line) + "</td></tr>";
  }
  if (rows.empty()) return {};
  return "<p style=\"margin-top:10px;margin-bottom:2px\"><b>Equipment</b></p><table cellspacing=\"0\" "
         "cellpadding=\"1\">" +
         rows + "</table>";
}

// The rule stands beside every statement of conformity (ISO/IEC 17025, 7.8.6.2).
std::string rule_of(const Certificate& c) {
  const auto& results = c.evaluation.results;
  if (std::none_of(results.begin(), results.end(), [](const ResultValue& r) { return r.verdict != Verdict::none; }))
    return {};
  return "<p style=\"margin-top:4px;color:#6F7780;font-size:7pt\">" +
         page::escaped(decision_words(c.evaluation.rule, c.evaluation.compared)) + "</p>";
}

std::string results_table(const Certificate& c) {
  std::string rows;
  for (const ResultValue& r : c.evaluation.results) {
    if (!r.spec.headline && r.verdict == Verdict::none && !r.spec.printed) continue;
    const Printed p = reported(r, c.record.fields, c.units);
    std::string u;
    if (r.standard_uncertainty > 0 && !r.is_text())
      u = "± " + printed_uncertainty(r.expanded(), r.shown_like(), r.spec.dimension, c.units).number +
          (r.coverage_factor() > 2 ? " (k = " + coverage_words(r) + ")" : std::string());
    std::string verdict;
    if (r.verdict != Verdict::none)
      verdict = "<span style=\"color:" + std::string(page::verdict_colour(r.verdict)) + "\"><b>" +
                std::string(verdict_word(r.verdict)) + "</b></span>" +
                (sureness(r).empty() ? "" : "<br/><span style=\"font-size:7pt\">" + sureness(r) + "</span>");
    rows +=
        "<tr><td><b>" + page::symbol(r.spec.symbol) + "</b></td><td>" + page::escaped(r.spec.name) +
        (r.source.empty() ? ""
                          : "<br/><span style=\"color:#6F7780;font-size:7pt\">" + page::escaped(r.source) + "</span>") +
        "</td><td align=\"right\"><b>" + page::escaped(p.number) + "</b></td><td>" + page::escaped(p.unit) +
        "</td><td>" + page::escaped(u) + "</td><td>" + page::escaped(limit_text(r, c)) + "</td><td>" + verdict +
        "</td></tr>";
  }
  const auto head = [](const char* t) {
    return "<td><span style=\"color:#6F7780\">" + std::string(t) + "</span></td>";
  };
  return "<p style=\"margin-top:12px;margin-bottom:2px\"><b>Results</b></p><table width=\"100%\" cellspacing=\"0\" "
         "cellpadding=\"3\" style=\"border-collapse:collapse\"><tr bgcolor=\"#F3F0E8\">" +
         head("Symbol") + head("Name") + "<td align=\"right\"><span style=\"color:#6F7780\">Value</span></td>" +
         head("Unit") + head("U, k = 2") + head("Limit") + head("Verdict") + "</tr>" + rows + "</table>" + rule_of(c);
}

// Other choices that a person wanted beside the one reported, with what they would give.
std::string what_ifs(const Certificate& c) {
  std::string rows;
  for (const Alternative& a : c.evaluation.alternatives) {
    if (!a.kept) continue;
    std::string text;
    for (const auto& [key, value] : a.values) {
      const auto spec = methods::find(c.record.method)->result(key);
      if (!spec) continue;
      text += (text.empty() ? "" : ", ") + plain_symbol(spec->symbol) + " " +
              format_value(value, spec->dimension, c.units, 4);
      if (const auto v = a.verdicts.find(key); v != a.verdicts.end())
        text += " (" + std::string(verdict_word(v->second)) + ")";
    }
    rows += "<p style=\"margin-top:2px;margin-bottom:2px\">" + page::escaped(a.label) + ": " + page::escaped(text) +
            ".</p>";
  }
  return rows.empty()
             ? std::string()
             : "<p style=\"margin-top:12px;margin-bottom:2px\"><b>What if the limit were elsewhere</b></p>" + rows;
}

// The rows as they were typed.
std::string rows_table(const Certificate& c) {
  std::string out;
  for (const TableSpec& spec : methods::find(c.record.method)->tables) {
    const Rows& rows = c.record.run.rows(spec.id);
    if (rows.empty()) continue;
    const TableSpec table = spec.for_record(c.record);
    std::vector<FieldSpec> columns = table.columns;
    if (table.control) columns.insert(columns.begin(), *table.control);
    std::string head = "<td><span style=\"color:#6F7780\">" + page::escaped(table.row) + "</span></td>";
    for (const FieldSpec& f : columns)
      head += "<td align=\"right\"><span style=\"color:#6F7780\">" + page::escaped(f.label) + "</span></td>";
    head += "<td></td>";
    auto cells = [&](size_t i) {
      std::string out_cells = "<td>" + std::to_string(table.stepped() ? i : i + 1) + "</td>";
      for (const FieldSpec& f : columns) {
        const FieldValue* v = rows[i].cells.find(f.path);
        out_cells += "<td align=\"right\">" + page::escaped(v == nullptr ? "missed" : value_text(*v)) + "</td>";
      }
      const std::string state = rows[i].used() ? "" : std::string(row_state_word(rows[i].state)) + " ";
      return out_cells + "<td>" + state + page::escaped(rows[i].note) + "</td>";
    };
    // As many columns of rows as fit the page, read downwards.
    const size_t beside = rows.size() < 6 ? 1 : std::clamp<size_t>(9 / (columns.size() + 1), 1, 4);
    const size_t deep = (rows.size() + beside - 1) / beside;
    std::string body = "<tr bgcolor=\"#F3F0E8\">";
    for (size_t g = 0; g < beside; ++g) body += head;
    body += "</tr>";
    for (size_t i = 0; i < deep; ++i) {
      body += "<tr>";
      for (size_t g = 0; g < beside; ++g)
        if (const size_t at = g * deep + i; at < rows.size())
          body += cells(at);
        else
          body += "<td colspan=\"" + std::to_string(columns.size() + 2) + "\"></td>";
      body += "</tr>";
    }
    out += "<p style=\"margin-top:12px;margin-bottom:2px\"><b>" + page::escaped(table.label) +
           " as read</b></p><table cellpadding=\"2\" width=\"100%\">" + body + "</table>";
  }
  return out;
}

}  // namespace

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
         page::escaped(part.record.tested_at.empty() ? "on an unrecorded date" : part.record.tested_at) + " by " +
         page::escaped(part.record.operator_name.empty() ? "an unrecorded person" : part.record.operator_name) + ". " +
         (part.signature ? "Signed by " + page::escaped(part.signature->by) + ", " + page::escaped(part.signature->at) +
                               ", record " + page::escaped(part.signature->record_sha256.substr(0, 16))
                         : std::string("Not signed")) +
         ".</p>";
  for (size_t i = 0; i < part.evaluation.figures.size(); ++i)
    if (i == 0 || part.evaluation.figures[i].printed) out += next_figure();
  out += results_table(part);
  out += pictures(part);
  out += "<table width=\"100%\" cellspacing=\"0\" cellpadding=\"0\"><tr><td width=\"50%\" valign=\"top\">" +
         fact_table(part, "Specimen", {"specimen."}) + "</td><td width=\"50%\" valign=\"top\">" +
         equipment_table(part) + fact_table(part, "Settings", m.printed_settings) + "</td></tr></table>";
  return out + page::findings(part.evaluation);
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
         page::escaped(c.record.tested_at.empty() ? "on an unrecorded date" : c.record.tested_at) + " by " +
         page::escaped(c.record.operator_name.empty() ? "an unrecorded person" : c.record.operator_name) + ".</p>";
  if (!e.figures.empty()) out += next_figure();
  out += results_table(c);
  for (size_t i = 1; i < e.figures.size(); ++i)
    if (e.figures[i].printed)
      out += "<p style=\"margin-top:10px;margin-bottom:2px\"><b>" + page::escaped(e.figures[i].title) + "</b></p>" +
             next_figure();
  out += pictures(c);
  std::vector<std::string> printed = {"settings.speed", "settings.sampling", "settings.rounding", "settings.decision",
                                      "settings.zero"};
  printed.insert(printed.end(), method.printed_settings.begin(), method.printed_settings.end());
  for (const FieldSpec* f : settings_of_evaluation(method, c.record))
    if (other_than_usual(*f, c.record.fields)) printed.push_back(f->path);
  out += "<table width=\"100%\" cellspacing=\"0\" cellpadding=\"0\"><tr><td width=\"50%\" valign=\"top\">" +
         fact_table(c, "Specimen", {"specimen."}) + "</td><td width=\"50%\" valign=\"top\">" + equipment_table(c) +
         fact_table(c, "Stand-in",
                    practice::is_practice(c.record) ? std::vector<std::string>{"equipment.standin.practice"}
                                                    : std::vector<std::string>{"equipment.standin."}) +
         fact_table(c, "Conditions", {"conditions."}) + fact_table(c, "Settings", printed) + "</td></tr></table>";
  out += what_ifs(c);
  out += rows_table(c);
  out += page::kMayBreak;
  out += page::findings(c.evaluation);
  for (const Certificate& part : c.parts) out += part_section(part, next_figure);
  const bool standin = std::any_of(c.parts.begin(), c.parts.end(), [](const Certificate& part) {
    return !part.record.fields.text("equipment.standin.piece").empty();
  });
  if (standin || !c.record.fields.text("equipment.standin.piece").empty())
    out += "<p style=\"margin-top:8px\"><b>Made on a stand-in machine: this is no test of a real piece.</b></p>";
  out += c.signature ? "<p style=\"margin-top:12px\">Signed by <b>" + page::escaped(c.signature->by) + "</b>, " +
                           page::escaped(c.signature->at) + ".</p>"
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
