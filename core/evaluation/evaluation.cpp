#include "core/evaluation/evaluation.h"

#include <algorithm>
#include <cmath>
#include <map>

#include "core/statistics/sample.h"

namespace fortitor {

std::string_view verdict_word(Verdict v) {
  switch (v) {
    case Verdict::meets: return "meets";
    case Verdict::conditional_pass: return "conditional-pass";
    case Verdict::open: return "open";
    case Verdict::conditional_fail: return "conditional-fail";
    case Verdict::fails: return "fails";
    case Verdict::void_test: return "void";
    case Verdict::none: break;
  }
  return "none";
}

double ResultValue::coverage_factor() const {
  constexpr double kUpper = 0.975;  // 95 % two-sided
  if (!std::isfinite(dof)) return 2;
  return std::max(2.0, statistics::t_quantile(kUpper, std::max(1.0, dof)));
}

std::string coverage_words(const ResultValue& r) {
  return plain_number(r.coverage_factor(), 3);
}

std::string sureness(const ResultValue& r) {
  if (!r.near || !r.probability) return {};
  const bool passes = r.verdict == Verdict::meets || r.verdict == Verdict::conditional_pass;
  const double p = 100 * (passes ? *r.probability : 1 - *r.probability);
  return std::string(p > 99 ? "over 99" : p < 1 ? "under 1" : std::to_string(std::lround(p)).c_str()) + " % sure";
}

std::string_view severity_word(Severity s) {
  switch (s) {
    case Severity::check: return "check";
    case Severity::void_test: return "void";
    case Severity::note: break;
  }
  return "note";
}

const ResultValue* Evaluation::find(const std::string& key) const {
  const auto it = std::find_if(results.begin(), results.end(), [&](const ResultValue& r) { return r.spec.key == key; });
  return it == results.end() ? nullptr : &*it;
}

ResultValue* Evaluation::find(const std::string& key) {
  return const_cast<ResultValue*>(std::as_const(*this).find(key));
}

const Finding* Evaluation::finding(const std::string& code) const {
  const auto it = std::find_if(findings.begin(), findings.end(), [&](const Finding& f) { return f.code == code; });
  return it == findings.end() ? nullptr : &*it;
}

std::vector<const Finding*> Evaluation::open_judgements() const {
  std::vector<const Finding*> open;
  for (const Finding& f : findings)
    if (f.severity == Severity::check && !f.answer) open.push_back(&f);
  return open;
}

std::string plain_symbol(const std::string& symbol) {
  std::string out = symbol;
  std::erase(out, '_');
  return out;
}

void share_units(Evaluation& e) {
  auto shared = [](Dimension d) { return d == Dimension::force || d == Dimension::stiffness; };
  std::map<Dimension, double> most;
  for (const ResultValue& r : e.results)
    if (!r.is_text() && std::isfinite(r.value) && shared(r.spec.dimension))
      most[r.spec.dimension] = std::max(most[r.spec.dimension], std::abs(r.value));
  auto like = [&](Dimension d) {
    const auto it = most.find(d);
    return it == most.end() ? 0.0 : it->second;
  };
  for (ResultValue& r : e.results)
    r.like = shared(r.spec.dimension) ? like(r.spec.dimension) : std::isfinite(r.value) ? std::abs(r.value) : 0;
  for (Figure& f : e.figures)
    for (Panel& p : f.panels) {
      for (Axis* a : {&p.x, &p.y}) a->like = like(a->dimension);
      for (Mark& m : p.marks) m.like = like(m.dimension);
    }
}

Printed reported(const ResultValue& r, const Fields& settings, UnitSet set) {
  if (r.is_text()) return {r.text, ""};
  const std::string word = settings.text("settings.rounding");
  const RoundingSchool school = word == "astm"          ? RoundingSchool::astm
                                : word == "significant" ? RoundingSchool::significant
                                                        : RoundingSchool::iso;
  int figures = r.spec.figures;
  if (school == RoundingSchool::significant)
    figures = static_cast<int>(settings.number("settings.figures").value_or(4));
  auto one = [&](double v) {
    return printed(v, r.spec.dimension, r.spec.rounding, school, set, figures, r.shown_like());
  };
  Printed p = one(r.value);
  if (r.censored && r.censored->above) p.number = "≥ " + p.number;
  if (r.censored && !r.censored->above) p.number = one(r.censored->from).number + "–" + one(r.censored->to).number;
  return p;
}

}  // namespace fortitor
