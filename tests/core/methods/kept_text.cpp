#include "tests/core/methods/kept_text.h"
#include "tests/c_text.h"

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

namespace fortitor {
namespace {

std::string six(double v) {
  char text[40];
  if (v == 0) return "0";
  c_snprintf(text, sizeof text, "%.5e", v);
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
  if (!r.is_text())
    out << " as " << reported(r, {}, UnitSet::si).text() << (r.spec.headline ? ", large" : "")
        << (r.spec.printed ? ", printed" : "");
  out << " " << verdict_word(r.verdict) << (r.near ? " near" : "") << "\n";
  for (const Step& s : r.how)
    out << "    " << s.expression << " | " << s.with << " | " << six(s.value) << " | " << s.source << "\n";
  budget_lines(out, r);
}

void figure_lines(std::ostream& out, const Figure& f) {
  out << "figure " << f.id << " " << f.title << "\n";
  for (const Panel& p : f.panels) {
    out << "  panel " << p.caption << " | " << p.x.name << " | " << p.y.name << "\n";
    for (const Trace& t : p.traces) {
      out << "    trace " << t.label << " " << t.x.size() << " points";
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

namespace {

// Records of a kept text and, in each, its lines under what they speak of.
struct Line {
  std::string what, text;
};
using Passage = std::vector<Line>;

bool begins_number(const std::string& s, size_t i) {
  return std::isdigit(static_cast<unsigned char>(s[i])) &&
         (i == 0 || !std::isalnum(static_cast<unsigned char>(s[i - 1])));
}

// A result is known by its key, a finding by its code, everything else by its words without their numbers.
std::string subject(const std::string& line, const std::string& result) {
  std::istringstream words(line);
  std::string first, second, third;
  words >> first >> second >> third;
  if (first == "!") return "finding " + third;
  if (line.find(" = ") != std::string::npos && line[0] != ' ') return "result " + first;
  std::string out = line[0] == ' ' ? result + ": " : "";
  for (size_t i = 0; i < line.size(); ++i) {
    if (!begins_number(line, i)) {
      out += line[i];
      continue;
    }
    while (i + 1 < line.size() && (std::isalnum(static_cast<unsigned char>(line[i + 1])) || line[i + 1] == '.' ||
                                   line[i + 1] == '+' || line[i + 1] == '-'))
      ++i;
    out += '#';
  }
  return out;
}

std::map<std::string, Passage> sections_of(const std::string& text, std::vector<std::string>& order) {
  std::map<std::string, Passage> out;
  std::istringstream in(text);
  std::string line, section, owner;
  while (std::getline(in, line)) {
    if (line.starts_with("== ")) section = line.substr(3);
    if (std::find(order.begin(), order.end(), section) == order.end()) order.push_back(section);
    const std::string what = subject(line, owner);
    if (!line.empty() && line[0] != ' ') owner = what;
    out[section].push_back({what, line});
  }
  return out;
}

// " (0.42 of U)" where both lines are those of a result and its value moved.
std::string share_of_u(const std::string& was, const std::string& is) {
  const auto number_after = [](const std::string& line, const char* sign) {
    const size_t at = line.find(sign);
    return at == std::string::npos ? NAN : c_strtod(line.c_str() + at + std::string(sign).size(), nullptr);
  };
  const double from = number_after(was, " = "), to = number_after(is, " = "), u = number_after(was, " U ");
  if (!std::isfinite(from) || !std::isfinite(to) || from == to || !(u > 0)) return "";
  char text[40];
  c_snprintf(text, sizeof text, " (%.2g of U)", std::abs(to - from) / u);
  return text;
}

}  // namespace

std::string differences(const std::string& kept, const std::string& now) {
  std::vector<std::string> order;
  const auto was = sections_of(kept, order), is = sections_of(now, order);
  std::ostringstream out;
  for (const std::string& name : order) {
    Passage a, b;
    if (const auto it = was.find(name); it != was.end()) a = it->second;
    if (const auto it = is.find(name); it != is.end()) b = it->second;
    const std::string where = name.empty() ? "" : name + ": ";
    for (const Line& line : a) {
      // The same line first; else the first of the same subject.
      auto match = std::find_if(b.begin(), b.end(),
                                [&](const Line& l) { return l.what == line.what && same_line(line.text, l.text); });
      if (match == b.end())
        match = std::find_if(b.begin(), b.end(), [&](const Line& l) { return l.what == line.what; });
      if (match == b.end()) {
        out << where << "gone: " << line.text << "\n";
        continue;
      }
      if (!same_line(line.text, match->text))
        out << where << line.what << share_of_u(line.text, match->text) << "\n    from " << line.text << "\n    to   "
            << match->text << "\n";
      b.erase(match);
    }
    for (const Line& line : b) out << where << "new: " << line.text << "\n";
  }
  return out.str();
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
  const std::string differs = differences(kept.str(), now);
  EXPECT_TRUE(differs.empty()) << name << "\n" << differs;
}

}  // namespace fortitor
