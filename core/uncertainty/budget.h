// Uncertainty budgets after the GUM (JCGM 100), checked by Monte Carlo (JCGM 101).
#pragma once

#include <cstdint>
#include <functional>
#include <map>
#include <string>
#include <vector>

#include "core/evaluation/evaluation.h"

namespace fortitor {

/// One uncertain input. `standard` is u(x) in the unit of its shift.
struct UncertainInput {
  enum class Shape { rectangular, normal };
  std::string name;   ///< key of its shift
  std::string label;  ///< for people, with what it rests on
  double standard = 0.0;
  Shape shape = Shape::rectangular;
  double dof = HUGE_VAL;  ///< degrees of freedom of `standard` (JCGM 100, annex G); a tolerance has infinitely many
  /// Key of the one value whose own reading this is, in its unit: it moves with it one to one and nothing else does,
  /// which wants no evaluation.
  std::string reading_of = {};
};

using Shifts = std::map<std::string, double>;
using Values = std::map<std::string, double>;

/// The inputs of an evaluation and the evaluation as a function of their shifts.
struct UncertaintyModel {
  std::vector<UncertainInput> inputs;
  std::function<Values(const Shifts&)> values;
};

/// Standard uncertainty of a rectangular distribution of half-width a: a/√3.
double rectangular(double half_width);

/// Standard uncertainty of the mean of readings: instrument resolution (rectangular, half-width
/// `half_width`) and spread s/√n combined. One reading has no spread term.
double reading_uncertainty(const std::vector<double>& readings, double half_width);

/// Degrees of freedom of it: n − 1 of the spread, infinitely many of the resolution (Welch–Satterthwaite).
double reading_dof(const std::vector<double>& readings, double half_width);

/// Budget of every value: central differences of one standard uncertainty each way (JCGM 100,
/// 5.1.3, note 2). Values that are not finite get no budget.
std::map<std::string, std::vector<BudgetTerm>> budgets(const UncertaintyModel& model);

/// Root sum of squares of the contributions.
double combined(const std::vector<BudgetTerm>& terms);

/// Effective degrees of freedom of the sum (Welch–Satterthwaite; JCGM 100, G.4.1, formula G.2b).
double effective_dof(const std::vector<BudgetTerm>& terms);

/// Standard deviation of every value over `draws` (≥ 2) seeded draws of all inputs.
std::map<std::string, double> monte_carlo(const UncertaintyModel& model, int draws, uint64_t seed);

/// Puts budgets and standard uncertainties into the results of an evaluation.
void attach_budgets(Evaluation& evaluation, const UncertaintyModel& model);

}  // namespace fortitor
