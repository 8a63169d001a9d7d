#include "core/evaluation/evaluation_json.h"

#include <cmath>
#include <numbers>

#include "core/json/json.h"
#include "core/reference/library.h"

namespace fortitor {
namespace {

double outward(double internal, Dimension d) {
  return base_dimension(d) == Dimension::angle ? internal * 180 / std::numbers::pi : internal;
}

Json number(double internal, Dimension d) {
  return std::isfinite(internal) ? Json(outward(internal, d)) : Json(nullptr);
}

Json result_json(const ResultValue& r, const Fields& settings, const std::string& rule, const std::string& compared) {
  const Dimension d = r.spec.dimension;
  Json j = {{"key", r.spec.key}, {"symbol", r.spec.symbol}, {"name", r.spec.name}};
  if (r.is_text()) {
    j["text"] = r.text;
  } else {
    j["value"] = number(r.value, d);
    j["unit"] = internal_symbol(d);
    j["expanded_uncertainty"] = r.standard_uncertainty > 0 ? number(r.expanded(), d) : Json(nullptr);
    j["k"] = r.coverage_factor();
    j["dof"] = std::isfinite(r.dof) ? Json(r.dof) : Json(nullptr);
    if (!r.censored)
      j["censored"] = nullptr;
    else if (r.censored->above)
      j["censored"] = "above";
    else
      j["censored"] = {{"from", number(r.censored->from, d)}, {"to", number(r.censored->to, d)}};
    j["reported"] = reported(r, settings, UnitSet::si).text();
  }
  if (!r.source.empty()) j["source"] = r.source;
  if (r.limit.min || r.limit.max) {
    Json limit = Json::object();
    if (r.limit.min && r.limit.min->value) limit["min"] = number(*r.limit.min->value, d);
    if (r.limit.max && r.limit.max->value) limit["max"] = number(*r.limit.max->value, d);
    j["limit"] = limit;
    j["verdict"] = verdict_word(r.verdict);
    j["near"] = r.near;
    j["probability"] = r.probability ? Json(*r.probability) : Json(nullptr);
    j["rule"] = rule;
    j["compared"] = compared;
  }
  Json how = Json::array();
  for (const Step& s : r.how) {
    Json step = {{"expression", s.expression},
                 {"with", s.with},
                 {"value", number(s.value, s.dimension)},
                 {"unit", internal_symbol(s.dimension)}};
    if (!s.source.empty()) step["source"] = s.source;
    how.push_back(std::move(step));
  }
  j["how"] = how;
  if (!r.budget.empty()) {
    Json budget = Json::array();
    for (const BudgetTerm& t : r.budget)
      budget.push_back({{"input", t.input},
                        {"standard", t.standard},
                        {"sensitivity", t.sensitivity},
                        {"contribution", number(t.contribution, d)},
                        {"dof", std::isfinite(t.dof) ? Json(t.dof) : Json(nullptr)}});
    j["budget"] = budget;
  }
  return j;
}

}  // namespace

std::string evaluation_to_json(const Evaluation& e, const Fields& settings, int indent) {
  Json j = {{"fortitor", "evaluation/1"},         {"method", e.method}, {"specimen", e.specimen},
            {"verdict", verdict_word(e.verdict)}, {"rule", e.rule},     {"compared", e.compared}};
  if (!e.verdict_reason.empty()) j["verdict_reason"] = e.verdict_reason;
  j["results"] = Json::array();
  for (const ResultValue& r : e.results) j["results"].push_back(result_json(r, settings, e.rule, e.compared));
  j["findings"] = Json::array();
  for (const Finding& f : e.findings) {
    Json remedies = Json::array();
    for (const Remedy& r : f.remedies) remedies.push_back(r.id);
    Json item = {
        {"code", f.code}, {"severity", severity_word(f.severity)}, {"message", f.message}, {"remedies", remedies}};
    if (!f.evidence.empty()) item["evidence"] = f.evidence;
    if (f.answer) item["answer"] = {{"remedy", f.answer->remedy}, {"reason", f.answer->reason}};
    j["findings"].push_back(std::move(item));
  }
  j["usual"] = e.usual ? Json::parse(write_reference(*e.usual))["materials"] : Json::array();
  // A name that is not UTF-8 must not stop an evaluation from being printed.
  return j.dump(indent);
}

ReferenceShelf shelf_of_signed(const std::string& signed_json, const ReferenceShelf& otherwise) {
  const Json was = Json::read(signed_json);
  if (was.is_discarded() || !was.is_object() || !was.contains("usual")) return otherwise;
  auto read = read_reference(Json{{"fortitor", "reference/1"}, {"materials", was["usual"]}}.dump());
  return read ? std::make_shared<const std::vector<ReferenceMaterial>>(std::move(*read)) : otherwise;
}

void compare_with_signed(Evaluation& e, const std::string& signed_json) {
  const Json was = Json::read(signed_json);
  if (was.is_discarded() || !was.is_object() || !was.contains("results")) return;
  std::string differs;
  auto add = [&](const std::string& what) { differs += (differs.empty() ? "" : ", ") + what; };
  for (const Json& r : was["results"]) {
    const std::string key = r.value("key", std::string());
    const ResultValue* now = e.find(key);
    const bool number = r.contains("value") && r["value"].is_number();
    if (now == nullptr) {
      add(key + " is no longer there");
    } else if (number && !now->is_text()) {
      const double before = r["value"].get<double>(), after = outward(now->value, now->spec.dimension);
      // Another compiler may round the last digits otherwise; nobody signed those.
      if (!(std::abs(after - before) <= 1e-9 * std::max(std::abs(before), std::abs(after))))
        add(plain_symbol(now->spec.symbol) + " " + significant(before, 6) + " → " + significant(after, 6));
    }
  }
  const std::string verdict = was.value("verdict", std::string());
  // Before 1.3 a value within U of its limit was "near" and neither pass nor fail; that is said beside the verdict now.
  if (verdict != verdict_word(e.verdict) && verdict != "near")
    add("verdict " + verdict + " → " + std::string(verdict_word(e.verdict)));
  if (differs.empty()) return;
  Finding f;
  f.code = "differs-from-signed";
  f.severity = Severity::check;
  f.message = "What was signed is not what comes out now: " + differs +
              ". The signed numbers are kept in the book; look for what changed before this goes out.";
  e.findings.insert(e.findings.begin(), std::move(f));
}

}  // namespace fortitor
