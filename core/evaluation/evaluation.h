// What an evaluation says: results with their derivation, figures, findings, verdict.
#pragma once

#include <cmath>
#include <map>
#include <optional>
#include <string>
#include <vector>

#include "core/figure/figure.h"
#include "core/quantity/format.h"
#include "core/record/record.h"
#include "core/statistics/censoring.h"

namespace fortitor {

/// What a method may report under a key, whether or not a given record has it.
struct ResultSpec {
  std::string key;     ///< fixed vocabulary of ledger, record format, reports and command line
  std::string symbol;  ///< "R_p0.2"; an underscore starts the subscript
  std::string name;
  Dimension dimension = Dimension::none;
  RoundingClass rounding = RoundingClass::other;
  int figures = 4;       ///< of RoundingClass::other
  bool headline = true;  ///< shown large in the ledger; the rest fold under "More"
  bool printed = false;  ///< on the certificate although it is no headline
};

/// One line of "How": the formula, the numbers put in, the value. Checkable by hand.
struct Step {
  std::string expression;  ///< "R = F/S₀"
  std::string with;        ///< "28860 N / 78.85 mm²"
  double value = 0.0;      ///< internal units
  Dimension dimension = Dimension::none;
  std::string source;  ///< where the numbers come from, or the clause
};

/// One term of an uncertainty budget: an input, its standard uncertainty and what it does.
struct BudgetTerm {
  std::string input;          ///< "load cell, class 1"
  double standard = 0.0;      ///< u(x), in the unit of the input
  double sensitivity = 0.0;   ///< ∂y/∂x by central differences on the evaluation itself
  double contribution = 0.0;  ///< |sensitivity|·standard, internal units of the result
  double dof = HUGE_VAL;      ///< degrees of freedom of u(x); infinitely many for a tolerance
};

enum class Verdict { none, meets, conditional_pass, open, conditional_fail, fails, void_test };

/// "meets", "conditional-pass", "open", "conditional-fail", "fails", "void" or "none".
std::string_view verdict_word(Verdict v);

struct ResultValue {
  ResultSpec spec;
  double value = 0.0;                 ///< internal units; meaningless when `text` is set
  std::string text;                   ///< results that are words
  std::string source;                 ///< strain source, when the result depends on one
  double standard_uncertainty = 0.0;  ///< 0: none stated
  double dof = HUGE_VAL;              ///< effective degrees of freedom of it
  std::optional<Censoring> censored;
  Limit limit;
  Limit derived = {};  ///< a limit that a rule of the method makes of another result's; holds where none is set
  std::optional<Limit> adjusted = {};  ///< what a rule of the method makes of the record's own: holds in its place
  Verdict verdict = Verdict::none;
  bool near = false;                  ///< a limit lies inside value ± U, whatever the rule says
  std::optional<double> probability;  ///< that the true value conforms; empty where nothing is known of it
  std::vector<Step> how;
  std::vector<BudgetTerm> budget;  ///< largest contribution first
  double like = 0;  ///< size by which its unit is chosen, and that of its limits and its U; 0: its own value

  double shown_like() const { return like > 0 ? like : value; }
  double coverage_factor() const;  ///< k for 95 %: 2, or more where the degrees of freedom are few
  double expanded() const { return coverage_factor() * standard_uncertainty; }
  bool is_text() const { return !text.empty(); }
};

enum class Severity { note, check, void_test };
std::string_view severity_word(Severity s);

/// A way of answering a finding: a change of settings, or an acceptance with a reason.
struct Remedy {
  std::string id, label;
  std::map<std::string, std::string> settings;  ///< path → typed value; empty: a logged acceptance
  bool wants_reason = false;
};

/// A judgement that a person must see. Data, never a message box.
struct Finding {
  std::string code;
  Severity severity = Severity::note;
  std::string message;                     ///< whole sentence with its evidence
  std::map<std::string, double> evidence;  ///< numbers behind it, internal units
  std::vector<Remedy> remedies;
  std::string result_key;        ///< the result it bears on, if one
  std::optional<Answer> answer;  ///< as logged in the record
  bool asks_first = false;       ///< a run is refused until it is answered
};

/// The straight line of one column over the rows of a table: what it predicts for the next row and how far every
/// reading lies from it.
struct RowLine {
  std::string column;
  Dimension dimension = Dimension::none;
  double intercept = 0.0, slope = 0.0;  ///< reading = intercept + slope·control
  std::vector<double> residual;         ///< reading − line per row; NaN where there is none
  std::vector<bool> off;                ///< rows that lie off the line beyond chance
  double at(double control) const { return intercept + slope * control; }
};

/// The same evaluation under another choice, beside the one reported: a what-if with its consequence.
struct Alternative {
  std::string id, label;                        ///< "2500 N", "one stop earlier"
  std::map<std::string, std::string> settings;  ///< path → typed; what taking it would change
  std::map<std::string, double> values;         ///< result key → value under it
  std::map<std::string, Verdict> verdicts;      ///< of those with a limit
  bool kept = false;                            ///< the record keeps it, so the report prints it
};

/// Result of a single row of a table (the hardness of one indent), shown beside its readings.
struct RowValue {
  std::string table, key, name;
  Dimension dimension = Dimension::none;
  std::vector<double> values;  ///< one a row; NaN where there is none
};

struct Evaluation {
  std::string method, specimen;
  std::vector<ResultValue> results;
  std::vector<Finding> findings;
  std::vector<Figure> figures;            ///< the first is the one of the Evaluate stage
  std::vector<RowLine> lines;             ///< of a table with a control
  std::vector<RowValue> row_values;       ///< results of single rows
  std::vector<Alternative> alternatives;  ///< other choices and what they would give
  std::string alternatives_path;          ///< list setting that keeps chosen alternatives in the record
  Verdict verdict = Verdict::none;
  std::string verdict_reason;
  std::string rule, compared;  ///< by which it was judged: "simple", "absolute"
  ReferenceShelf usual;        ///< the usual values that it was judged beside: of the materials that the record names

  const ResultValue* find(const std::string& key) const;
  ResultValue* find(const std::string& key);
  const Finding* finding(const std::string& code) const;
  /// Findings of severity check that have no answer yet: sign-off waits for them.
  std::vector<const Finding*> open_judgements() const;
};

/// How an evaluation is to be run. Uncertainty is left out only where nobody sees it.
struct EvaluateOptions {
  bool uncertainty = true;
  std::string today = {};  ///< the day a piece without a run would be run on ("2026-11-27"); empty: no judgement by it
  ReferenceShelf shelf = {};  ///< in place of the record's own, where given
};

/// k as it is printed: "2", "2.26".
std::string coverage_words(const ResultValue& r);

/// "87 % sure" beside the verdict of a result near its limit: how likely what the verdict says is true; empty where
/// nothing of the limit lies inside value ± U, or where nothing is known.
std::string sureness(const ResultValue& r);

/// "R_p0.2" for a screen that has no subscripts: "Rp0.2".
std::string plain_symbol(const std::string& symbol);

/// Forces of an evaluation, results and axes, are shown in one unit, whichever is largest: 7.46 kN beside 13.45 kN.
/// Stiffnesses likewise. Every limit is shown in the unit of its result.
void share_units(Evaluation& e);

/// The number as reported: rounding school and censoring applied ("≥ 900", "54.2–57.3").
Printed reported(const ResultValue& r, const Fields& settings, UnitSet set);

}  // namespace fortitor
