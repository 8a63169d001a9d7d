#include "tests/c_text.h"
#include "tests/core/methods/kept_text.h"

#include <algorithm>
#include <cctype>
#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <map>
#include <sstream>

#include <gtest/gtest.h>

#include "core/bench/progress.h"
#include "core/figure/layout.h"

namespace fortitor {
namespace {

std::string six(double v) {
  char text[40];
  if (v == 0) return "0";
  c_snprintf(text, sizeof text, "%.5e", v);
  return text;
}

std::string px(double v) {
  char text[40];
  c_snprintf(text, sizeof text, "%.1f", v);
  return text;
}

void budget_lines(std::ostream& out, const ResultValue& r) {
  double most = 0;
  for (const BudgetTerm& t : r.budget) most = std::max(most, t.contribution);
  for (const BudgetTerm& t : r.budget) {
    if (t.contribution < 1e-4 * most) continue;  // a difference of two equal numbers: rounding alone
    out << "    ± " << t.input << ": " << six(t.standard) << " gives " << six(t.contribution) << "\n";
  }
}

void result_lines(std::ostream& out, const ResultValue& r) {
  out << r.spec.key << " " << r.spec.symbol << " = ";
  if (r.is_text())
    out << r.text;
  else
    out << six(r.value) << " U " << six(r.expanded());
  if (r.censored) out << " bound " << r.censored->above << " " << six(r.censored->from) << " " << six(r.censored->to);
  if (!r.source.empty()) out << " by " << r.source;
  if (!r.is_text()) out << " as " << reported(r, {}, UnitSet::si).text() << (r.spec.headline ? ", large" : "") << (r.spec.printed ? ", printed" : "");
  out << " " << verdict_word(r.verdict) << (r.conforms ? "" : " outside") << "\n";
  for (const Step& s : r.how)
    out << "    " << s.expression << " | " << s.with << " | " << six(s.value) << " | " << s.source << "\n";
  budget_lines(out, r);
}

void figure_lines(std::ostream& out, const Figure& f) {
  out << "figure " << f.id << " " << f.title << "\n";
  for (const Panel& p : f.panels) {
    out << "  panel " << p.caption << " | " << p.x.name << " | " << p.y.name << "\n";
    for (const Trace& t : p.traces) {
      double x = 0, y = 0;
      for (double v : t.x) x += std::isfinite(v) ? v : 0;
      for (double v : t.y) y += std::isfinite(v) ? v : 0;
      out << "    trace " << t.label << " " << t.x.size() << " points, sums " << six(x) << " " << six(y);
      if (t.kind == Trace::Kind::bars) out << ", bars of " << six(t.bar_width);
      out << "\n";
    }
    for (const Mark& m : p.marks) {
      out << "    mark " << m.key << " " << m.label;
      for (const Point& at : m.points) out << " (" << six(at.x) << ", " << six(at.y) << ")";
      out << "\n";
    }
    for (const Handle& h : p.handles) {
      out << "    handle " << h.setting << " at " << six(h.at.x) << ", " << six(h.at.y);
      for (const auto& [path, typed] : h.with) out << " with " << path << " " << typed;
      out << "\n";
    }
  }
  figure::Options options;
  options.width = 760;
  options.height = 420;
  options.handles = true;
  const figure::Layout l = figure::lay_out(f, options);
  for (const figure::Frame& frame : l.frames)
    out << "  frame " << px(frame.left) << " " << px(frame.top) << " " << px(frame.width) << " " << px(frame.height)
        << " from " << six(frame.x0) << " " << six(frame.y0) << " to " << six(frame.x1) << " " << six(frame.y1) << "\n";
  // Everything else that is drawn, by kind and ink: how many, where, how strong.
  struct Sum {
    size_t shapes = 0, points = 0;
    double x = 0, y = 0, size = 0, width = 0;
    int dash = 0, tone = 0;
  };
  std::map<std::string, Sum> sums;
  for (const figure::Shape& s : l.shapes) {
    if (s.kind == figure::Shape::Kind::text)
      out << "  words " << s.text << " at " << px(s.points[0].x) << ", " << px(s.points[0].y) << "\n";
    Sum& sum = sums[std::to_string(int(s.kind)) + " ink " + std::to_string(int(s.stroke)) + " on " + std::to_string(int(s.fill)) + (s.filled ? " filled" : "")];
    ++sum.shapes;
    sum.points += s.points.size();
    for (const Point& p : s.points) sum.x += p.x, sum.y += p.y;
    sum.size += s.size;
    sum.width += s.width + s.alpha;
    sum.dash += int(s.dash);
    sum.tone += s.tone;
  }
  for (const auto& [kind, s] : sums)
    out << "  drawn " << kind << ": " << s.shapes << " of " << s.points << " points about " << px(s.x / double(s.points)) << ", "
        << px(s.y / double(s.points)) << ", size " << px(s.size) << ", strokes " << px(s.width) << ", dash " << s.dash << ", tone "
        << s.tone << "\n";
}

void plan_lines(std::ostream& out, const Plan& plan) {
  if (plan.expected)
    out << "expected " << six(plan.expected->low) << " " << six(plan.expected->likely) << " "
        << six(plan.expected->high) << " from " << plan.expected->from << "\n";
  if (plan.yield) out << "expected yield " << six(*plan.yield) << "\n";
  for (const LoadPathPart& p : plan.load_path) out << "path " << p.label << " " << six(p.rating.value_or(0)) << "\n";
  for (const Advice& a : plan.advice) out << "advice " << a.setting << " " << six(a.value) << " " << a.why << "\n";
  for (const std::string& s : plan.blocking) out << "blocking " << s << "\n";
  for (const std::string& s : plan.warnings) out << "warning " << s << "\n";
}

/// Splits a line into words and numbers: a number begins at a digit (or a sign before one).
bool takes_number(const std::string& s, size_t& i, double& value, double& place) {
  const char* from = s.c_str() + i;
  if (!std::isdigit(static_cast<unsigned char>(*from)) &&
      !((*from == '-' || *from == '+') && std::isdigit(static_cast<unsigned char>(from[1]))))
    return false;
  char* end = nullptr;
  value = c_strtod(from, &end);
  const std::string text(from, static_cast<size_t>(end - from));
  const size_t e = text.find_first_of("eE"), dot = text.find('.');
  const int exponent = e == std::string::npos ? 0 : std::atoi(text.c_str() + e + 1);
  const size_t digits_end = e == std::string::npos ? text.size() : e;
  const int decimals = dot == std::string::npos ? 0 : int(digits_end - dot - 1);
  place = decimals == 0 && e == std::string::npos ? 0 : std::pow(10.0, exponent - decimals);
  i += text.size();
  return true;
}

bool same_line(const std::string& a, const std::string& b) {
  if (a == b) return true;
  size_t i = 0, j = 0;
  while (i < a.size() && j < b.size()) {
    double va = 0, vb = 0, pa = 0, pb = 0;
    if (takes_number(a, i, va, pa)) {
      if (!takes_number(b, j, vb, pb)) return false;
      // By the finer of the two places: 0.001 is not 0.0015, and 12.3 not 12.34. A whole number has none of its own.
      const double place = pa == 0 || pb == 0 ? std::max(pa, pb) : std::min(pa, pb);
      if (!(std::abs(va - vb) <= 1.01 * place)) return false;
    } else if (a[i++] != b[j++]) {
      return false;
    }
  }
  return i == a.size() && j == b.size();
}

}  // namespace

std::string num(double v, int figures) {
  char text[40];
  if (!std::isfinite(v)) return "none";
  c_snprintf(text, sizeof text, "%.*e", figures - 1, std::abs(v) < 1e-12 ? 0.0 : v);
  return text;
}

std::vector<std::string> record_files() {
  namespace fs = std::filesystem;
  std::vector<fs::path> found;
  for (const auto& entry : fs::recursive_directory_iterator(FORTITOR_TEST_DATA))
    if (entry.path().filename() == "record.json") found.push_back(entry.path());
  std::sort(found.begin(), found.end());
  return {found.begin(), found.end()};
}

std::string kept_text(const Evaluation& e) {
  std::ostringstream out;
  out << "verdict " << verdict_word(e.verdict) << " " << e.verdict_reason << "\n";
  for (const ResultValue& r : e.results) result_lines(out, r);
  for (const Finding& f : e.findings) {
    out << "! " << severity_word(f.severity) << " " << f.code << " " << f.result_key << ": " << f.message << "\n";
    for (const auto& [name, v] : f.evidence) out << "    " << name << " " << six(v) << "\n";
    for (const Remedy& r : f.remedies) out << "    remedy " << r.id << " " << r.label << "\n";
  }
  for (const Figure& f : e.figures) figure_lines(out, f);
  for (const RowLine& l : e.lines) {
    out << "line " << l.column << " " << six(l.intercept) << " " << six(l.slope) << " off";
    for (size_t i = 0; i < l.off.size(); ++i)
      if (l.off[i]) out << " " << i;
    out << "\n";
  }
  for (const RowValue& v : e.row_values) {
    out << "rows " << v.table << " " << v.key;
    for (double x : v.values) out << " " << (std::isfinite(x) ? six(x) : "–");
    out << "\n";
  }
  for (const Alternative& a : e.alternatives) {
    out << "or " << a.id << " " << a.label << (a.kept ? " kept" : "");
    for (const auto& [key, v] : a.values) out << " " << key << " " << six(v);
    out << "\n";
  }
  return out.str();
}

std::string kept_text(const TestRecord& record) {
  const Method& m = *methods::find(record.method);
  const Evaluation e = methods::evaluate(record);
  std::ostringstream out;
  out << kept_text(e);
  plan_lines(out, m.plan(record));
  const Progress progress = progress_of(m, record, &e, false);
  out << "progress " << progress_code(progress) << "\n";
  for (const StageProgress& s : progress)
    for (const std::string& missing : s.missing) out << "  missing " << missing << "\n";
  return out.str();
}

std::string first_difference(const std::string& kept, const std::string& now) {
  std::istringstream a(kept), b(now);
  std::string was, is, section;
  for (int n = 1;; ++n) {
    const bool more_a = bool(std::getline(a, was)), more_b = bool(std::getline(b, is));
    if (!more_a && !more_b) return "";
    if (!more_a) was = "(nothing)";
    if (!more_b) is = "(nothing)";
    if (was.starts_with("== ")) section = was;
    if (more_a != more_b || !same_line(was, is))
      return section + " line " + std::to_string(n) + "\n  kept " + was + "\n  now  " + is;
  }
}

void hold_kept(const std::string& name, const std::string& now) {
  const std::string path = std::string(FORTITOR_TEST_DATA "/kept/") + name + ".txt";
  if (std::getenv("FORTITOR_KEEP") != nullptr) {
    std::ofstream(path) << now;
    return;
  }
  std::ifstream in(path);
  ASSERT_TRUE(in.is_open()) << path << " is not there: write it with FORTITOR_KEEP=1";
  std::stringstream kept;
  kept << in.rdbuf();
  const std::string differs = first_difference(kept.str(), now);
  EXPECT_TRUE(differs.empty()) << name << " " << differs;
}

}  // namespace fortitor
