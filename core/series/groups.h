// Pieces of a series side by side in groups: by what a field of theirs says, or by the series they come from.
#pragma once

#include <cmath>
#include <string>
#include <vector>

#include "core/series/statistics_of.h"

namespace fortitor::series {

/// Group by the series that pieces come from, instead of by a field.
inline const std::string kBySeries = "series";

struct Group {
  std::string name;
  std::vector<size_t> pieces;   ///< that enter its numbers or bounds, indices into the pieces
  statistics::Summary counted;  ///< measured values
  size_t bounds = 0;            ///< pieces known as a bound only
  double lowest = 0;            ///< smallest of the values and lower bounds
  bool lowest_bound = false;    ///< it is a bound
  std::optional<statistics::CensoredFit> likelihood = {};  ///< mean and deviation with the bounds, where there are any
  double price = 0;                                        ///< mean price of a piece; 0: none given
  /// Mean and deviation as they are said: by likelihood where bounds are among the values; NaN where nothing is known.
  double mean() const {
    return bounds == 0 ? (counted.n > 0 ? counted.mean : NAN) : likelihood ? likelihood->mean : NAN;
  }
  double sd() const { return bounds == 0 ? (counted.n > 1 ? counted.sd : NAN) : likelihood ? likelihood->sd : NAN; }
};

/// The first field in which pieces differ that must agree (SeriesSpec::alike), with what they say in it; an empty path
/// where they agree.
struct Unlike {
  std::string path, words;
};
Unlike unlike_in(const Method& method, const std::vector<SeriesPiece>& pieces);

/// Groups in the order in which they first occur, pieces without a value left out. `by`: path of a field of the
/// method, "operator", or kBySeries. `own` names the series itself.
std::vector<Group> groups_of(const Method& method, const Numbers& numbers, const std::vector<SeriesPiece>& pieces,
                             const std::string& by, const std::string& own);

/// The pieces parted by the same words, whatever results they have.
std::vector<SeriesGroup> parted(const Method& method, const std::vector<SeriesPiece>& pieces, const std::string& by,
                                const std::string& own);

/// Groups of a method that judges a series as a whole: each judged by itself, side by side. Results (group_1_<key>, …;
/// group_1 in words), one figure of all, and what the method says of them against each other.
void add_wholes(Evaluation& e, const Method& method, const std::vector<SeriesPiece>& pieces, const TestRecord& settings,
                const std::string& by);

/// What can be grouped by: paths under which the pieces part into two to twelve groups, with their words.
std::vector<Choice> groupings(const Method& method, const std::vector<SeriesPiece>& pieces);

/// Results (group_1_n, group_1_mean, …; group_1 in words) and the picture of them.
void add_groups(Evaluation& e, const Numbers& numbers, const std::vector<Group>& groups);

/// Whether the groups differ. Two: difference, welch_t, welch_dof, welch_p, mann_whitney_p, and with a margin
/// equivalence_p. More: anova_f, anova_p, and every pair by Tukey and Kramer as row values "pairs" (difference, low,
/// high, p; rows in the order 1–2, 1–3, … 2–3). With bounds among the values: likelihood_chi2, likelihood_p. Findings:
/// groups, equivalence. `margin` in internal units.
void compare_groups(Evaluation& e, const Numbers& numbers, const std::vector<Group>& groups,
                    std::optional<double> margin);

}  // namespace fortitor::series
