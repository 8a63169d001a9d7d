#include "core/uncertainty/budget.h"

#include <algorithm>
#include <cmath>
#include <random>

namespace fortitor {

double rectangular(double half_width) {
  return std::abs(half_width) / std::sqrt(3.0);
}

double reading_uncertainty(const std::vector<double>& readings, double half_width) {
  double variance = rectangular(half_width) * rectangular(half_width);
  const size_t n = readings.size();
  if (n > 1) {
    double mean = 0, squares = 0;
    for (double r : readings) mean += r / double(n);
    for (double r : readings) squares += (r - mean) * (r - mean);
    variance += squares / double(n - 1) / double(n);
  }
  return std::sqrt(variance);
}

double reading_dof(const std::vector<double>& readings, double half_width) {
  const double u = reading_uncertainty(readings, half_width), spread = reading_uncertainty(readings, 0);
  return spread > 0 ? double(readings.size() - 1) * std::pow(u / spread, 4) : HUGE_VAL;
}

namespace {

double found(const Values& values, const std::string& key) {
  const auto it = values.find(key);
  return it == values.end() ? NAN : it->second;
}

// Central difference; to one side where the other has no such result. Where neither has (a limit that another reading
// would move away), as much as the value itself: it hangs on this input altogether, which is the last thing to hide.
double sensitivity(double low, double at, double high, double standard) {
  if (std::isfinite(low) && std::isfinite(high)) return (high - low) / (2 * standard);
  if (std::isfinite(high)) return (high - at) / standard;
  if (std::isfinite(low)) return (at - low) / standard;
  return at / standard;
}

}  // namespace

std::map<std::string, std::vector<BudgetTerm>> budgets(const UncertaintyModel& model) {
  std::map<std::string, std::vector<BudgetTerm>> out;
  const Values base = model.values({});
  for (const UncertainInput& input : model.inputs) {
    if (!(input.standard > 0)) continue;
    if (!input.reading_of.empty()) {
      if (std::isfinite(found(base, input.reading_of)))
        out[input.reading_of].push_back({input.label, input.standard, 1, input.standard, input.dof});
      continue;
    }
    const Values up = model.values({{input.name, input.standard}});
    const Values down = model.values({{input.name, -input.standard}});
    for (const auto& [key, at] : base) {
      if (!std::isfinite(at)) continue;
      const double slope = sensitivity(found(down, key), at, found(up, key), input.standard);
      if (slope == 0) continue;
      out[key].push_back({input.label, input.standard, slope, std::abs(slope) * input.standard, input.dof});
    }
  }
  for (auto& [key, terms] : out)
    std::sort(terms.begin(), terms.end(),
              [](const BudgetTerm& a, const BudgetTerm& b) { return a.contribution > b.contribution; });
  return out;
}

double combined(const std::vector<BudgetTerm>& terms) {
  double sum = 0;
  for (const BudgetTerm& t : terms) sum += t.contribution * t.contribution;
  return std::sqrt(sum);
}

double effective_dof(const std::vector<BudgetTerm>& terms) {
  const double u = combined(terms);
  double sum = 0;
  if (u > 0)
    for (const BudgetTerm& t : terms)
      if (std::isfinite(t.dof)) sum += std::pow(t.contribution / u, 4) / std::max(1.0, t.dof);
  return sum > 0 ? 1 / sum : HUGE_VAL;
}

std::map<std::string, double> monte_carlo(const UncertaintyModel& model, int draws, uint64_t seed) {
  struct Moments {
    double n = 0, mean = 0, squares = 0;
  };
  std::map<std::string, Moments> moments;
  std::mt19937_64 random(seed);
  std::normal_distribution<double> normal;
  std::uniform_real_distribution<double> uniform(-std::sqrt(3.0), std::sqrt(3.0));
  for (int i = 0; i < draws; ++i) {
    Shifts shifts;
    for (const UncertainInput& input : model.inputs)
      shifts[input.name] =
          input.standard * (input.shape == UncertainInput::Shape::normal ? normal(random) : uniform(random));
    for (const auto& [key, value] : model.values(shifts)) {
      if (!std::isfinite(value)) continue;
      Moments& m = moments[key];  // Welford's update: no cancellation for large means
      m.n += 1;
      const double delta = value - m.mean;
      m.mean += delta / m.n;
      m.squares += delta * (value - m.mean);
    }
  }
  std::map<std::string, double> out;
  for (const auto& [key, m] : moments)
    if (m.n > 1) out[key] = std::sqrt(m.squares / (m.n - 1));
  return out;
}

void attach_budgets(Evaluation& evaluation, const UncertaintyModel& model) {
  auto all = budgets(model);
  for (ResultValue& r : evaluation.results) {
    const auto it = all.find(r.spec.key);
    if (it == all.end() || r.is_text()) continue;
    r.standard_uncertainty = combined(it->second);
    r.dof = effective_dof(it->second);
    r.budget = std::move(it->second);
  }
}

}  // namespace fortitor
