#include "tests/c_text.h"
#include "tests/core/methods/short_text.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <sstream>

#include "core/bench/call_out.h"
#include "core/bench/progress.h"
#include "tests/core/methods/kept_text.h"

namespace fortitor {
namespace {

// In one line a result, in one line the findings.
std::string evaluation_text(const Evaluation& e) {
  std::ostringstream out;
  out << verdict_word(e.verdict);
  for (const ResultValue& r : e.results) {
    if (r.is_text()) {
      out << " " << r.spec.key << ":" << r.text;
      continue;
    }
    out << " " << r.spec.key << " " << num(r.value);
    if (r.standard_uncertainty > 0) out << " ± " << num(r.expanded());
    if (r.censored) out << (r.censored->above ? " up" : " between");
    if (r.verdict != Verdict::none) out << " " << verdict_word(r.verdict) << (r.conforms ? "" : "!");
  }
  out << "\n ";
  for (const Finding& f : e.findings) {
    out << " " << f.code << (f.severity == Severity::check ? "?" : f.severity == Severity::void_test ? "!" : "");
    for (const auto& [name, v] : f.evidence) out << " " << num(v);
  }
  for (const RowLine& l : e.lines)
    for (size_t i = 0; i < l.off.size(); ++i)
      if (l.off[i]) out << " off " << i;
  out << "\n";
  figure::Options options;
  options.handles = true;
  for (const Figure& f : e.figures) out << figure_text(f, options);
  Told all;
  all.add(e);
  out << "  told " << all.text() << "\n";
  return out.str();
}

std::string plan_text(const Plan& plan) {
  std::ostringstream out;
  out << "  plan";
  if (plan.expected) out << " " << num(plan.expected->low) << " " << num(plan.expected->likely) << " " << num(plan.expected->high);
  if (plan.yield) out << " yield " << num(*plan.yield);
  for (const Advice& a : plan.advice) out << " " << a.setting << " " << num(a.value);
  out << " blocks " << plan.blocking.size() << " warns " << plan.warnings.size();
  Told words;
  words.add(plan);
  out << " told " << words.text() << "\n";
  return out.str();
}

// What is asked next, what is expected of it, and the room that an indent has.
std::string asked_text(const Method& m, const TestRecord& r, const Evaluation& e) {
  const TableSpec* table = m.keyed_table();
  if (table == nullptr) return "";
  std::ostringstream out;
  const CallOut c = call_out_of(m, r, &e);
  out << "  asks " << int(c.phase) << " row " << c.row << " column " << c.column << " at " << num(c.control);
  for (const auto& p : c.predicted) out << " " << (p ? num(*p) : "–");
  Told told;
  if (m.clearances)
    for (size_t row = 0; row <= r.run.rows(table->id).size(); ++row)
      for (const Clearance& room : m.clearances(r, row)) told.add(room.has), told.add(room.needs);
  if (table->planned_rows)
    for (const Fields& planned : table->planned_rows(r))
      for (const auto& [path, value] : planned.all()) told.add(planned.number(path).value_or(NAN));
  out << " room " << told.n << " " << num(told.sum) << "\n";
  return out.str();
}

}  // namespace

void Told::add(double v) {
  if (std::isfinite(v)) ++n, sum += std::asinh(v);
}

void Told::add(const std::string& text) {
  for (const char* at = text.c_str(); *at != 0;) {
    if (!std::isdigit(static_cast<unsigned char>(*at))) {
      ++at;
      continue;
    }
    char* end = nullptr;
    add(c_strtod(at, &end));
    digits += size_t(end - at);
    at = end;
  }
}

void Told::add(const Evaluation& e) {
  EXPECT_EQ(e.finding("evaluation-failed"), nullptr) << e.finding("evaluation-failed")->message;
  add(e.verdict_reason);
  for (const ResultValue& r : e.results) {
    for (const Step& s : r.how) {
      add(s.expression + s.with + s.source);
      add(s.value);
    }
    for (const BudgetTerm& b : r.budget)
      if (b.contribution > 1e-4 * r.standard_uncertainty) add(b.standard);  // what is less may be rounding alone
    if (r.censored) add(r.censored->from), add(r.censored->to);
  }
  for (const Finding& f : e.findings) add(f.message);
  for (const RowValue& v : e.row_values)
    for (double x : v.values) add(x);
  for (const RowLine& l : e.lines) add(l.intercept), add(l.slope);
  for (const Alternative& a : e.alternatives)
    for (const auto& [key, v] : a.values) add(v);
}

void Told::add(const Plan& plan) {
  for (const auto* texts : {&plan.blocking, &plan.warnings})
    for (const std::string& text : *texts) add(text);
  for (const Advice& a : plan.advice) add(a.why);
  for (const LoadPathPart& part : plan.load_path) add(part.rating.value_or(0));
}

std::string Told::text(int figures) const {
  return std::to_string(n) + "/" + std::to_string(digits) + " " + num(sum, figures);
}

std::string figure_text(const Figure& f, const figure::Options& options) {
  const figure::Layout l = figure::lay_out(f, options);
  double x = 0, y = 0;
  size_t n = 0;
  Told words;
  for (const figure::Shape& shape : l.shapes) {
    words.add(shape.text);
    for (const Point& at : shape.points) x += at.x, y += at.y, ++n;
  }
  std::ostringstream out;
  out << "  " << f.id << " " << l.shapes.size() << " " << num(x / double(n)) << " " << num(y / double(n)) << " " << words.text() << "\n";
  return out.str();
}

std::string summed(uint64_t first, uint64_t last, const std::function<std::string(uint64_t)>& said) {
  std::string out;
  for (uint64_t begin = first; begin < last; begin += 20) {
    Told told;
    size_t letters = 0;
    for (uint64_t seed = begin; seed < std::min(last, begin + 20); ++seed) {
      const std::string text = said(seed);
      told.add(text);
      letters += text.size() - size_t(std::count(text.begin(), text.end(), '-'));
    }
    out += std::to_string(begin) + ": " + told.text(7) + " " + std::to_string(letters) + "\n";
  }
  return out;
}

std::string shortest_text(const Evaluation& e) {
  Told all;
  all.add(e);
  double sum = all.sum;
  for (const ResultValue& r : e.results)
    if (!r.is_text() && std::isfinite(r.value)) sum += std::asinh(r.value);
  return std::to_string(e.findings.size()) + "/" + std::to_string(all.n) + "/" + std::to_string(all.digits) + "/" + num(sum);
}

std::string short_text(const Method& m, const TestRecord& r, const Evaluation& e) {
  return evaluation_text(e) + plan_text(m.plan(r)) + asked_text(m, r, e) + "  " + progress_code(progress_of(m, r, &e, false)) + "\n";
}

}  // namespace fortitor
