// Values out of several batches: whether they may be thrown together, and lower bounds for the population where they
// may not (CMH-17-1G, 8.3.2 and 8.3.6.7).
#pragma once

#include <optional>
#include <vector>

#include "core/statistics/basis.h"

namespace fortitor::statistics {

/// Anderson–Darling test that k samples come from one population (Scholz and Stephens 1987, with mid-ranks).
struct SamplesTest {
  double statistic = 0;  ///< ADK
  double critical = 0;   ///< at 25 %
  bool alike() const { return statistic <= critical; }
};
/// Empty for fewer than 2 samples with values, fewer than 4 values in all, or where all are equal.
std::optional<SamplesTest> same_population(const std::vector<std::vector<double>>& samples);

/// A- and B-basis over batches that differ: one-way analysis of variance with its own factor (CMH-17-1G, 8.3.6.7; for
/// the factor Vangel 1992). Empty for fewer than 2 batches of 2 or no scatter.
std::optional<Basis> batch_basis(const std::vector<std::vector<double>>& batches);

/// Batches first: where they differ batch_basis(), where they may be thrown together basis() of all.
struct BatchedBasis {
  std::optional<Basis> basis;
  std::optional<SamplesTest> test;  ///< of the batches; empty where there is one only
  bool pooled() const { return !test || test->alike(); }
};
BatchedBasis basis_of_batches(const std::vector<std::vector<double>>& batches);

}  // namespace fortitor::statistics
