// All that is said of a record in a few lines: for hundreds of them at a time.
#pragma once

#include <functional>
#include <string>

#include "core/figure/layout.h"
#include "core/methods/method.h"

namespace fortitor {

/// All numbers within texts (and some beside them), as how many and one sum: a sentence may be worded anew, a number in it
/// may not move unseen. Adds up over many evaluations and plans.
struct Told {
  size_t n = 0, digits = 0;  ///< numbers, and the digits they are printed with
  double sum = 0;
  void add(double v);
  void add(const std::string& text);
  void add(const Evaluation& e);
  void add(const Plan& plan);
  std::string text(int figures = 5) const;  ///< "12/40 1.2345e+02"
};

/// Results, findings, figures, plan, what is asked next, progress: numbers to five figures, sums over what is drawn and over
/// the numbers within words.
std::string short_text(const Method& m, const TestRecord& r, const Evaluation& e);

/// The same of an evaluation alone in three numbers: findings, numbers told, their sum.
std::string shortest_text(const Evaluation& e);

/// What is said of every seed from `first` up to `last`, summed up over twenty of them a line: for thousands at a time.
std::string summed(uint64_t first, uint64_t last, const std::function<std::string(uint64_t)>& said);

/// One line of a figure as it is drawn: how many shapes, where on the whole, the numbers among its words.
std::string figure_text(const Figure& f, const figure::Options& options);

}  // namespace fortitor
