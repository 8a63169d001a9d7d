// The inner working of a series: its numbers. Shared by the files of core/series and their tests only.
#pragma once

#include <map>
#include <string>
#include <vector>

#include "core/methods/method.h"
#include "core/statistics/basis.h"
#include "core/statistics/batches.h"
#include "core/statistics/sample.h"

namespace fortitor::series {

/// One piece under one result.
struct Value {
  std::string id;
  double value = 0;
  std::optional<Censoring> censored = {};
  bool there = false;  ///< the result exists
  bool void_test = false;
  std::string left_out;                ///< physical reason for leaving it out; empty: it counts
  std::map<std::string, bool> ticked;  ///< suspects by field path
};

/// A suspect for the scatter, tested against the data.
struct Suspect {
  std::string path, label;
  size_t ticked = 0;
  double mean_ticked = 0, mean_unticked = 0;
  std::optional<statistics::Welch> welch;
};

struct Numbers {
  ResultSpec spec;
  std::vector<Value> pieces;
  statistics::Summary all, counted;                   ///< of every measured value; of those not left out
  std::optional<statistics::CensoredFit> likelihood;  ///< with bounds, when there are any
  std::optional<statistics::Normality> normality;
  std::vector<size_t> outliers;  ///< flagged by Grubbs, indices into the pieces; flagged, never removed
  std::optional<statistics::WeibullFit> weibull;        ///< looked at where the normal is contradicted
  std::optional<statistics::Basis> basis;               ///< A and B
  std::optional<statistics::Basis> rival;               ///< by a Weibull, which may as well be the one and lies lower
  std::optional<statistics::SamplesTest> batches_test;  ///< whether the batches may be thrown together
  size_t batches = 0;                                   ///< different lots among those that count; 0: none is named
  bool basis_negative = false;  ///< one of a quantity that cannot be negative came out below nothing and is not given
  std::vector<Suspect> suspects;
  size_t voids = 0, left_out = 0, missing = 0, bounds = 0;
  double lowest = NAN, highest = NAN;  ///< of all that count, bounds by their known end
  bool lowest_bound = false;           ///< the lowest is a bound itself
};

/// Void tests are counted and never enter; nothing is removed without a physical reason; a bound is no measured value
/// (docs/user-guide.md, series).
Numbers numbers_of(const Method& method, const ResultSpec& spec, const std::vector<SeriesPiece>& pieces);

/// outlier, not-normal, left-out, bounds, all-bounds, batches, basis-few, basis-model, basis-negative, voids, suspect,
/// few.
void add_findings(Evaluation& e, const Numbers& numbers);

/// A value of the series in SI, in the unit of one of the size `like` when that is not 0; and "3 pieces".
std::string shown(double v, const ResultSpec& spec, int figures = 4, double like = 0);
std::string count(size_t n, const char* one, const char* many);

/// Histogram with the mean and its interval, the limits; and every piece in its order.
Figure figure_of(const Numbers& numbers, const Limit& limit);

}  // namespace fortitor::series
