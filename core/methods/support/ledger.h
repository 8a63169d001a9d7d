// What every method does alike: put values into the ledger with their derivation, raise findings,
// name the inputs of a budget.
#pragma once

#include <functional>
#include <map>
#include <string>
#include <vector>

#include "core/curve/fit.h"
#include "core/methods/method.h"
#include "core/section/section.h"

namespace fortitor::ledger {

/// "28.86 kN" in SI, for the derivations, which are always written in one unit set.
std::string si(double value, Dimension d, int figures = 5);
/// Ratio as percent, "2.4 %".
std::string percent(double ratio, int figures = 2);

/// Writes the steps of a How into `steps`; `value` is what they lead to where a step does not say its own.
struct AddStep {
  std::vector<Step>& steps;
  double value = NAN;
  void operator()(std::string expression, std::string with, Dimension d, std::string source = {}) const {
    (*this)(std::move(expression), std::move(with), value, d, std::move(source));
  }
  void operator()(std::string expression, std::string with, double step, Dimension d, std::string source = {}) const {
    steps.push_back({std::move(expression), std::move(with), step, d, std::move(source)});
  }
};

/// Value of a key, or NaN.
double get(const Values& values, const std::string& key);
/// Puts a value that is a number; leaves out what could not be computed.
void put(Values& values, const std::string& key, double value);
/// Shift of an input, or 0.
double shift(const Shifts& shifts, const std::string& name);

/// A line of such a table; its name stands in words.json. `headline`: shown large; `printed`: on the certificate
/// although it is none.
ResultSpec spec_of(std::string key, std::string symbol, Dimension d, bool headline = true, int figures = 4,
                   bool printed = false);
/// The same for a result that is rounded as a standard says for its class.
ResultSpec spec_of(std::string key, std::string symbol, Dimension d, RoundingClass rounding, int figures, bool headline,
                   bool printed = false);
/// Gives a result the name that the method has for its key, unless it has one (names that say a value of the record).
void name_result(ResultSpec& spec, const std::string& method);
/// Spec of a key in a table, as Method::result wants it.
std::optional<ResultSpec> find_spec(const std::vector<ResultSpec>& table, const std::string& key);

/// Results in the order of the table, each with its derivation.
using HowFunction = std::function<std::vector<Step>(const std::string& key)>;
void add_results(Evaluation& e, const std::vector<ResultSpec>& table, const Values& values, const HowFunction& how);
/// A result in words, put where the table has it.
void add_text(Evaluation& e, const std::vector<ResultSpec>& table, const std::string& key, std::string text,
              std::vector<Step> how = {});

/// Raises a finding; a check without a remedy can always be accepted with a reason.
Finding& raise(Evaluation& e, std::string code, Severity severity, std::string message,
               std::map<std::string, double> evidence = {}, std::vector<Remedy> remedies = {},
               std::string result_key = {});

/// Readings marked doubtful are out of the fits; says what the results are with and without them.
/// `values_of` computes the values of a record; `keys` of `table` are compared.
void doubtful_finding(Evaluation& e, const TestRecord& record, const std::vector<ResultSpec>& table,
                      const std::vector<std::string>& keys, const std::function<Values(const TestRecord&)>& values_of);

/// Lists of readings as dimensions, each mean shifted by its path.
struct Sizes {
  std::vector<Dim> dims;
  /// Mean of the list (0 when not given), shifted.
  double mean(const std::string& path, const Shifts& shifts = {}) const;
  const Dim* find(const std::string& path) const;
};
/// All reading lists of lengths of a method at a stage.
Sizes sizes_of(const Method& method, const TestRecord& record, Stage stage = Stage::measure);
/// Spread and nominal-size findings of those lists, by the limits of their fields.
void size_findings(Evaluation& e, const Method& method, const TestRecord& record);
/// Inputs of those lists for a budget.
void size_inputs(const Sizes& sizes, const TestRecord& record, std::vector<UncertainInput>& out);
/// A single length that was typed: half a typed digit, at most `most` mm.
void length_input(const TestRecord& record, const std::string& path, const std::string& label, double most,
                  std::vector<UncertainInput>& out);
/// Standard error of a line through n points, widened so that twice of it covers what Student's t would (JCGM 100,
/// G.3): few stops say little about their own scatter.
double of_few(double error, size_t n);
/// What its readings leave open of the straightness of a line: shift `r2` of R² (1 − R² goes with the variance of the
/// residuals, a χ² of n − 2 degrees of freedom), shift `slope_error` of the slope's standard error, as a share of it.
void straightness_inputs(const LineFit& line, std::vector<UncertainInput>& out, const std::string& r2 = "r2");
/// Relative uncertainty of an instrument: from the errors on its certificate where they reach `at` (internal units;
/// NaN: the worst of them), else its class: "equipment.load_cell.class" → force, class 1 (assumed when absent).
void class_input(const TestRecord& record, const std::string& path, const std::string& name, const std::string& what,
                 std::vector<UncertainInput>& out, double at = NAN);

}  // namespace fortitor::ledger
