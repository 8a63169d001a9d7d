// A rule as a person writes it, worked out step by step with its units.
#include <cmath>
#include <vector>

#include "core/methods/proof_load/model.h"
#include "core/quantity/parse.h"
#include "core/quantity/plain.h"

namespace fortitor::proof {
namespace {

// Value in N, kg, mm/s² or plain, told apart by powers of mass, length and time.
struct Term {
  double value = 1;
  int mass = {}, length = {}, time = {};  ///< of kg, m, s
  std::string words;
};

Term force(double newton, std::string words) {
  return {newton, 1, 1, -2, std::move(words)};
}

// Brackets within brackets: nobody writes more, and every one is a call within a call.
constexpr int kDeepest = 50;

struct Reader {
  std::string text;
  double rated, proof;
  size_t at = 0;
  int depth = 0;
  std::string problem;

  void blank() {
    while (at < text.size() && plain::is_space(text[at])) ++at;
  }
  bool take(const std::string& sign) {
    blank();
    if (text.compare(at, sign.size(), sign) != 0) return false;
    at += sign.size();
    return true;
  }
  bool word(const std::string& w) {
    blank();
    if (text.compare(at, w.size(), w) != 0) return false;
    const size_t end = at + w.size();
    if (end < text.size() && (plain::is_letter_or_digit(text[end]) || text[end] == '_')) return false;
    at = end;
    return true;
  }
  Term fail(const std::string& why) {
    if (problem.empty()) problem = why;
    return {};
  }
  Term factor() {
    if (take("(")) {
      if (depth >= kDeepest)
        return fail("more than " + std::to_string(kDeepest) + " brackets stand within one another");
      ++depth;
      Term t = sum();
      --depth;
      if (!take(")")) return fail("a bracket is not closed");
      t.words = "(" + t.words + ")";
      return t;
    }
    if (word("rated")) return rated > 0 ? force(rated, "rated") : fail("the rated load is not entered");
    if (word("proof")) return proof > 0 ? force(proof, "proof") : fail("the proof load is not entered");
    if (word("g0") || word("g")) return {kStandardGravity, 0, 1, -2, "g"};
    blank();
    const size_t from = at;
    while (at < text.size() && (plain::is_digit(text[at]) || text[at] == '.' || text[at] == ',')) ++at;
    if (at == from) return fail("“" + text.substr(from) + "” is no number, and none of g, rated, proof");
    const std::string number = text.substr(from, at - from);
    const size_t after = at;
    blank();
    const size_t unit_from = at;
    while (at < text.size() && (plain::is_letter(text[at]) || (text[at] & 0x80) != 0) &&
           text.compare(at, 2, "×") != 0 && text.compare(at, 2, "·") != 0 && text.compare(at, 2, "÷") != 0)
      ++at;
    const std::string unit = text.substr(unit_from, at - unit_from);
    if (unit.empty() || unit == "x" || unit == "g" || unit == "rated" || unit == "proof") {
      at = after;
      const auto plain = parse_quantity(number, Dimension::none);
      return plain ? Term{plain->value, 0, 0, 0, number} : fail(plain.error().message);
    }
    for (const auto& [d, mass, length, time, scale] : {std::tuple{Dimension::mass, 1, 0, 0, 1.0},
                                                       {Dimension::force, 1, 1, -2, 1.0},
                                                       {Dimension::length, 0, 1, 0, 1e-3}})
      // kg, lb and t are masses here, whatever they may mean in a field for a force: a rule multiplies them by g.
      if (const auto q = parse_quantity(number + " " + unit, d))
        return {q->value * scale, mass, length, time, number + " " + unit};
    return fail("“" + number + " " + unit + "” is neither a force nor a mass");
  }
  Term product() {
    Term t = factor();
    for (;;) {
      const bool times = take("×") || take("*") || take("·") || take("x ");
      const bool over = !times && (take("/") || take("÷"));
      if (!times && !over) return t;
      const Term b = factor();
      const int sign = over ? -1 : 1;
      t.value = over ? t.value / b.value : t.value * b.value;
      t.mass += sign * b.mass, t.length += sign * b.length, t.time += sign * b.time;
      t.words += (over ? " / " : " × ") + b.words;
    }
  }
  Term sum() {
    Term t = product();
    for (;;) {
      const bool plus = take("+"), minus = !plus && (take("−") || take("-"));
      if (!plus && !minus) return t;
      const Term b = product();
      if (b.mass != t.mass || b.length != t.length || b.time != t.time)
        return fail("“" + t.words + "” and “" + b.words + "” cannot be added: their units differ");
      t.value += plus ? b.value : -b.value;
      t.words += (plus ? " + " : " − ") + b.words;
    }
  }
};

}  // namespace

Rule rule_of(const std::string& text, double rated, double proof) {
  Rule r;
  // What stands before the arithmetic ("line order 12: 5 × rated") is its source.
  const size_t colon = text.rfind(':');
  Reader reader{colon == std::string::npos ? text : text.substr(colon + 1), rated, proof, 0, 0, {}};
  reader.blank();
  if (reader.at >= reader.text.size()) {
    r.problem = "no rule is written";
    return r;
  }
  const Term t = reader.sum();
  reader.blank();
  if (reader.problem.empty() && reader.at < reader.text.size())
    reader.problem = "“" + reader.text.substr(reader.at) + "” was not understood";
  if (reader.problem.empty() && !(t.mass == 1 && t.length == 1 && t.time == -2))
    reader.problem = "“" + t.words + "” is no force" +
                     std::string(t.mass == 1 && t.length == 0 && t.time == 0 ? ": a mass wants × g" : "");
  if (reader.problem.empty() && !(t.value > 0)) reader.problem = "the rule asks for no load at all";
  if (!reader.problem.empty()) {
    r.problem = reader.problem;
    return r;
  }
  r.required = t.value;
  std::string with;
  auto add = [&](const char* name, double v, Dimension d) {
    if (t.words.find(name) == std::string::npos) return;
    with += (with.empty() ? "" : ", ") + std::string(name) + " = " +
            (d == Dimension::none ? "9.80665 m/s²" : ledger::si(v, d));
  };
  add("rated", rated, Dimension::force);
  add("proof", proof, Dimension::force);
  if (t.words.find("× g") != std::string::npos || t.words.rfind("g ", 0) == 0) add("g", 0, Dimension::none);
  r.steps.push_back({t.words, with, t.value, Dimension::force,
                     colon == std::string::npos ? "written by the user" : text.substr(0, colon)});
  return r;
}

}  // namespace fortitor::proof
