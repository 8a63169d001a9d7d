#include "report/piece_parts.h"

#include <algorithm>
#include <cmath>

#include "core/evaluation/judge.h"
#include "core/figure/wording.h"
#include "core/language/sentences.h"
#include "core/methods/support/settings.h"
#include "core/quantity/plain.h"
#include "report/page.h"

namespace fortitor::parts_of_piece {
namespace {

const std::string kQuiet = "<span style=\"color:#6F7780\">";

std::string quiet(const std::string& words) {
  return kQuiet + page::escaped(words) + "</span>";
}

std::string value_words(const FieldValue& v, const Tongue& say) {
  if (const auto* s = std::get_if<std::string>(&v)) return *s;
  const auto one = [&](const Reading& r) { return r.missed() ? say("missed") : r.typed; };
  if (const auto* r = std::get_if<Reading>(&v)) return one(*r);
  if (const auto* d = std::get_if<double>(&v)) return say.number(plain::general(*d, 6));  // a seed is 4, not 4.00000
  if (const auto* b = std::get_if<bool>(&v)) return say(*b ? "yes" : "no");
  std::string out;
  for (const Reading& r : std::get<Readings>(v)) out += (out.empty() ? "" : ", ") + one(r);
  return out;
}

// A choice by its words, a day as the language writes it, anything else as it was typed.
std::string field_words(const FieldSpec& f, const Fields& fields, const Tongue& say) {
  const FieldValue* v = fields.find(f.path);
  if (v == nullptr) return {};
  std::string text = value_words(*v, say);
  if (f.kind == FieldKind::date && !text.empty()) return say.day(text);
  if (f.kind == FieldKind::choices) {
    std::string words;
    for (const std::string& one : words_of(text)) {
      std::string label = one;
      for (const Choice& choice : f.choices)
        if (choice.value == one) label = say(choice.label);
      words += (words.empty() ? "" : ", ") + label;
    }
    return words;
  }
  for (const Choice& choice : f.choices)
    if (choice.value == text) return say(choice.label);
  return text;
}

}  // namespace

std::string heading(const std::string& words) {
  return "<h4 style=\"margin-top:12px;margin-bottom:2px;font-size:8.5pt;font-weight:bold\">" + page::escaped(words) +
         "</h4>";
}

std::string limit_words(const ResultValue& r, const TestRecord& record, UnitSet units, const Tongue& say) {
  auto one = [&](const Reading& bound) {
    ResultValue copy = r;
    copy.value = *bound.value;
    copy.censored.reset();
    return say.number(reported(copy, record.fields, units).number);
  };
  const bool min = r.limit.min && r.limit.min->value, max = r.limit.max && r.limit.max->value;
  if (min && max) return say("{least} to {most}", {{"least", one(*r.limit.min)}, {"most", one(*r.limit.max)}});
  if (min) return "≥ " + one(*r.limit.min);
  return max ? "≤ " + one(*r.limit.max) : "";
}

std::string verdict_words(Verdict v, const Tongue& say) {
  return v == Verdict::none ? say("no limits set") : say(verdict_word(v));
}

std::string sure_words(const ResultValue& r, const Tongue& say) {
  if (!r.near || !r.probability) return {};
  const bool passes = r.verdict == Verdict::meets || r.verdict == Verdict::conditional_pass;
  const double p = 100 * (passes ? *r.probability : 1 - *r.probability);
  return say("{percent} % sure", {{"percent", p > 99 ? "> 99" : p < 1 ? "< 1" : std::to_string(std::lround(p))}});
}

std::string text_words(const std::string& text, const Tongue& say) {
  if (say.english()) return text;
  if (auto said = sentence_in(say, text)) return *said;
  return has_words(text) ? "" : value_in(say, text);
}

std::string rule_words(const std::string& rule, const std::string& compared, const Tongue& say) {
  return say(decision_words(rule, compared));
}

std::string practice_words(const Tongue& say) {
  return say(practice_sentence());
}

std::string two_columns(const std::string& left, const std::string& right) {
  return "<table width=\"100%\" cellspacing=\"0\" cellpadding=\"0\" style=\"margin-top:8px\"><tr><td width=\"50%\" "
         "valign=\"top\">" +
         left + "</td><td width=\"50%\" valign=\"top\">" + right + "</td></tr></table>";
}

std::string facts(const Certificate& c, const std::string& title, const std::vector<std::string>& prefixes) {
  const Tongue say(c.language);
  std::string rows;
  for (const FieldSpec& f : methods::find(c.record.method)->fields) {
    bool wanted = false;
    for (const auto& p : prefixes) wanted = wanted || f.path.compare(0, p.size(), p) == 0;
    const std::string text = wanted && f.kind != FieldKind::picture ? field_words(f, c.record.fields, say) : "";
    if (!text.empty())
      rows += "<tr><td>" + quiet(say(f.label)) + "&nbsp;&nbsp;</td><td>" + page::escaped(text) + "</td></tr>";
  }
  if (rows.empty()) return {};
  return heading(title) + "<table cellspacing=\"0\" cellpadding=\"1\">" + rows + "</table>";
}

std::string settings(const Certificate& c) {
  const Method& method = *methods::find(c.record.method);
  std::vector<std::string> printed = {"settings.speed", "settings.sampling", "settings.rounding", "settings.decision",
                                      "settings.zero"};
  printed.insert(printed.end(), method.printed_settings.begin(), method.printed_settings.end());
  for (const FieldSpec* f : settings_of_evaluation(method, c.record))
    if (other_than_usual(*f, c.record.fields)) printed.push_back(f->path);
  return facts(c, Tongue(c.language)("Settings"), printed);
}

std::string pictures(const Certificate& c) {
  const Tongue say(c.language);
  std::string out;
  for (const FieldSpec& f : methods::find(c.record.method)->fields)
    if (const std::string data = f.kind == FieldKind::picture ? c.record.fields.text(f.path) : std::string();
        !data.empty())
      out += heading(say(f.label)) + "<p><img src=\"" + page::escaped(data) + "\" width=\"300\"/></p>";
  return out;
}

std::string equipment(const Certificate& c) {
  const Tongue say(c.language);
  std::string rows;
  for (const EquipmentSlot& slot : methods::find(c.record.method)->equipment) {
    std::string line;
    for (const auto* fields : {&slot.fields, &slot.papers})
      for (const FieldSpec& f : *fields) {
        const std::string text = field_words(f, c.record.fields, say);
        if (text.empty()) continue;
        std::string label = say(f.label);
        if (say.english()) label[0] = plain::lower(label[0]);
        line += (line.empty() ? "" : " · ") + (f.brought ? label + " " : std::string()) + text;
      }
    if (!line.empty())
      rows += "<tr><td>" + quiet(say(slot.label)) + "&nbsp;&nbsp;</td><td>" + page::escaped(line) + "</td></tr>";
  }
  if (rows.empty()) return {};
  return heading(say("Equipment")) + "<table cellspacing=\"0\" cellpadding=\"1\">" + rows + "</table>";
}

std::string results(const Certificate& c, bool rule) {
  const Tongue say(c.language);
  std::string rows;
  bool judged = false;
  for (const ResultValue& r : c.evaluation.results) {
    judged = judged || r.verdict != Verdict::none;
    if (!r.spec.headline && r.verdict == Verdict::none && !r.spec.printed) continue;
    const Printed p = reported(r, c.record.fields, c.units);
    const std::string number = r.is_text() ? text_words(p.number, say) : say.number(p.number);
    if (number.empty()) continue;
    std::string u;
    if (r.standard_uncertainty > 0 && !r.is_text())
      u = "± " + say.number(printed_uncertainty(r.expanded(), r.shown_like(), r.spec.dimension, c.units).number +
                            (r.coverage_factor() > 2 ? " (k = " + coverage_words(r) + ")" : std::string()));
    std::string verdict;
    if (r.verdict != Verdict::none)
      verdict = "<span style=\"color:" + std::string(page::verdict_colour(r.verdict)) + "\"><b>" +
                page::escaped(verdict_words(r.verdict, say)) + "</b></span>" +
                (sure_words(r, say).empty()
                     ? ""
                     : "<br/><span style=\"font-size:7pt\">" + page::escaped(sure_words(r, say)) + "</span>");
    const std::string source = say.english() ? r.source : text_words(r.source, say);
    rows += "<tr><td><b>" + page::symbol(r.spec.symbol) + "</b></td><td>" + page::escaped(say(r.spec.name)) +
            (source.empty() ? ""
                            : "<br/><span style=\"color:#6F7780;font-size:7pt\">" + page::escaped(source) + "</span>") +
            "</td><td align=\"right\"><b>" + page::escaped(number) + "</b></td><td>" + page::escaped(p.unit) +
            "</td><td>" + page::escaped(u) + "</td><td>" + page::escaped(limit_words(r, c.record, c.units, say)) +
            "</td><td>" + verdict + "</td></tr>";
  }
  const auto head = [&](const char* t, bool right = false) {
    return std::string(right ? "<td align=\"right\">" : "<td>") + quiet(say(t)) + "</td>";
  };
  return heading(say("Results")) +
         "<table width=\"100%\" cellspacing=\"0\" cellpadding=\"3\" style=\"border-collapse:collapse\"><thead><tr "
         "bgcolor=\"#F3F0E8\">" +
         head("Symbol") + head("Name") + head("Value", true) + head("Unit") + head("U, k = 2") + head("Limit") +
         head("Verdict") + "</tr></thead>" + rows + "</table>" +
         (rule && judged ? "<p style=\"margin-top:4px;color:#6F7780;font-size:7pt\">" +
                               page::escaped(rule_words(c.evaluation.rule, c.evaluation.compared, say)) + "</p>"
                         : "");
}

std::string what_ifs(const Certificate& c) {
  const Tongue say(c.language);
  std::string rows;
  for (const Alternative& a : c.evaluation.alternatives) {
    if (!a.kept) continue;
    std::string text;
    for (const auto& [key, value] : a.values) {
      const auto spec = methods::find(c.record.method)->result(key);
      if (!spec) continue;
      text += (text.empty() ? "" : ", ") + plain_symbol(spec->symbol) + " " +
              say.number(format_value(value, spec->dimension, c.units, 4));
      if (const auto v = a.verdicts.find(key); v != a.verdicts.end())
        text += " (" + verdict_words(v->second, say) + ")";
    }
    const std::string label = say.english() ? a.label : text_words(a.label, say);
    rows += "<p style=\"margin-top:2px;margin-bottom:2px\">" + page::escaped(label) + (label.empty() ? "" : ": ") +
            page::escaped(text) + ".</p>";
  }
  return rows.empty() ? std::string() : heading(say("What if the limit were elsewhere")) + rows;
}

std::string rows(const Certificate& c) {
  const Tongue say(c.language);
  std::string out;
  for (const TableSpec& spec : methods::find(c.record.method)->tables) {
    const Rows& all = c.record.run.rows(spec.id);
    if (all.empty()) continue;
    const TableSpec table = spec.for_record(c.record);
    std::vector<FieldSpec> columns = table.columns;
    if (table.control) columns.insert(columns.begin(), *table.control);
    std::string head = "<td>" + quiet(say(table.row)) + "</td>";
    for (const FieldSpec& f : columns) head += "<td align=\"right\">" + quiet(say(f.label)) + "</td>";
    head += "<td></td>";
    auto cells = [&](size_t i) {
      std::string line = "<td>" + std::to_string(table.stepped() ? i : i + 1) + "</td>";
      for (const FieldSpec& f : columns) {
        const std::string words = all[i].cells.has(f.path) ? field_words(f, all[i].cells, say) : say("missed");
        line += "<td align=\"right\">" + page::escaped(words) + "</td>";
      }
      const std::string state = all[i].used() ? "" : say(row_state_word(all[i].state)) + " ";
      return line + "<td>" + page::escaped(state + all[i].note) + "</td>";
    };
    // As many columns of rows as fit the page, read downwards.
    const size_t beside = all.size() < 6 ? 1 : std::clamp<size_t>(9 / (columns.size() + 1), 1, 4);
    const size_t deep = (all.size() + beside - 1) / beside;
    std::string body = "<thead><tr bgcolor=\"#F3F0E8\">";
    for (size_t g = 0; g < beside; ++g) body += head;
    body += "</tr></thead>";
    for (size_t i = 0; i < deep; ++i) {
      body += "<tr>";
      for (size_t g = 0; g < beside; ++g)
        if (const size_t at = g * deep + i; at < all.size())
          body += cells(at);
        else
          body += "<td colspan=\"" + std::to_string(columns.size() + 2) + "\"></td>";
      body += "</tr>";
    }
    out += heading(say("{table} as read", {{"table", say(table.label)}})) + "<table cellpadding=\"2\" width=\"100%\">" +
           body + "</table>";
  }
  return out;
}

std::string judgements(const Evaluation& e, const Tongue& say) {
  std::string out = heading(say("Judgements"));
  if (e.findings.empty()) return out + "<p>" + page::escaped(say("Nothing wanted a judgement.")) + "</p>";
  for (const Finding& f : e.findings) {
    // Where a catalogue lacks the sentence it has what the finding is called.
    const auto sentence = sentence_in(say, f.message);
    out += "<p style=\"margin-top:2px;margin-bottom:2px\">" +
           page::escaped(sentence ? *sentence : say("finding " + f.code) + ".");
    if (f.answer) {
      const std::string remedy =
          say.english() ? f.answer->remedy : say.known("remedy " + f.answer->remedy).value_or("");
      out += " <b>" + page::escaped(say("Answered:")) + "</b> " + page::escaped(remedy) +
             (f.answer->reason.empty() ? "" : ", “" + page::escaped(f.answer->reason) + "”") + " (" +
             page::escaped(f.answer->by) + ", " + page::escaped(f.answer->at) + ").";
    } else if (f.severity == Severity::check) {
      out += " <b>" + page::escaped(say("Not answered yet.")) + "</b>";
    }
    out += "</p>";
  }
  return out;
}

Figure translated(const Figure& figure, const Tongue& say) {
  if (say.english()) return figure;
  return figure::worded(figure, [&](const std::string& words) { return text_words(words, say); });
}

}  // namespace fortitor::parts_of_piece
