// The inner working of hardness-vickers. Shared by its files and tests only.
#pragma once

#include "core/methods/hardness_vickers/hardness_vickers.h"
#include "core/methods/support/indents.h"

namespace fortitor::vickers {

/// What the method reports, by key: specs, values, How and figures speak of a result by these (names: words.json).
namespace key {
using indents::key::case_depth;
inline constexpr auto hv = "hv", hv_surface = "hv_surface", hv_core = "hv_core", diagonal = "diagonal",
                      division_effect = "division_effect", diagonal_asymmetry = "diagonal_asymmetry",
                      min_thickness = "min_thickness", reader_bias = "reader_bias", reader_scatter = "reader_scatter",
                      hv_mpa = "hv_mpa";
}  // namespace key

inline const std::string kIndents = "indents";

inline constexpr double kPerNewton = 0.1891;  ///< 2·sin(136°/2)/g₀ (ISO 6507-1)

/// An indent's diagonals, mm; NaN while missing.
struct Diagonals {
  double first = NAN, second = NAN;
  double mean() const { return 0.5 * (first + second); }
  double asymmetry() const { return std::abs(first - second) / mean(); }
};

struct State {
  indents::IndentSet set;
  std::vector<Diagonals> diagonals;  ///< one a row
  std::vector<double> second;        ///< hardness by the second reader, one a row; NaN where there is none
  double force = NAN;                ///< N
  double division = 0;               ///< mm; 0: lengths were keyed
  double resolution = 0;             ///< of a diagonal as keyed, mm
  double factor = 1;                 ///< for a curved surface
};
State look(const TestRecord& record);

/// Second reader less first over the indents both have read.
struct Readers {
  std::vector<double> difference;  ///< of those that count
  std::vector<size_t> row;
  double bias() const;     ///< mean; NaN for none
  double scatter() const;  ///< sd; NaN for fewer than two
};
Readers readers_of(const State& state);

/// Differences of the two readers over the hardness, with their mean and the band of their scatter.
Figure figure_of(const Readers& readers);

/// Where the course of the hardness first crosses the limit going inward.
struct CaseDepth {
  double value = NAN;
  std::optional<Censoring> bound;
  double gap = 0;               ///< mm between the two, where that is too wide for a depth; 0 otherwise
  std::vector<size_t> between;  ///< rows of the two indents it lies between
};
CaseDepth case_depth(const indents::IndentSet& set, const Shifts& shifts);
/// Robust scatter of the readings of a traverse about their own course, in hardness; 0 for fewer than five.
double course_scatter(const indents::IndentSet& set);
/// Rows far off the course of their neighbours, with what the course expects there.
struct OffCourse {
  size_t row = 0;
  double expected = 0, allowed = 0;
};
std::vector<OffCourse> off_course(const indents::IndentSet& set, double count);

/// Spacing by material and school.
indents::Spacing spacing_of(const TestRecord& record);
double expected_size(const TestRecord& record);
void describe(Method& method);
std::string symbol_of(const TestRecord& record);

}  // namespace fortitor::vickers
