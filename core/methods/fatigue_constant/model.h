// The inner working of fatigue-constant. Shared by its files and tests only.
#pragma once

#include <cmath>
#include <optional>
#include <string>
#include <vector>

#include "core/fatigue/initiation.h"
#include "core/fatigue/mean_stress.h"
#include "core/fatigue/sn_line.h"
#include "core/fatigue/staircase.h"
#include "core/methods/support/ledger.h"

namespace fortitor::sn {

/// What the method reports, by key: specs, values, How and figures speak of a result by these (names: words.json).
namespace key {
inline constexpr auto sn_slope = "sn_slope", strength_2e6_mean = "strength_2e6_mean",
                      strength_2e6_char = "strength_2e6_char", strength_2e6_977 = "strength_2e6_977",
                      sn_logc = "sn_logc", sn_sd = "sn_sd", detail_supported = "detail_supported",
                      staircase_mean = "staircase_mean", staircase_sd = "staircase_sd",
                      staircase_ml_mean = "staircase_ml_mean", staircase_ml_sd = "staircase_ml_sd",
                      staircase_ratio = "staircase_ratio", next_level = "next_level", n_initiation = "n_initiation",
                      gauge_first = "gauge_first", n_coalescence = "n_coalescence", life_share_left = "life_share_left";
}  // namespace key

inline const std::string kTable = "points";
inline constexpr double kReference = 2e6;  ///< cycles at which strengths are given

struct Point {
  size_t row = 0;
  std::string specimen, origin;
  double raw = NAN;    ///< stress range as tested, MPa
  double r = NAN;      ///< stress ratio; NaN: not given
  double range = NAN;  ///< equivalent range at the chosen stress ratio, MPa
  double cycles = NAN;
  bool runout = false;
  bool counts = false;
  const char* unapplied =
      nullptr;  ///< why the rule for the mean stress does not hold for it; null: it does, or there is none
  bool declared_failed = false;  ///< marked failed where others ran out, without an origin: taken as a run-out
};

/// What gauges along the toe say of one piece.
struct Gauges {
  size_t count = 0;
  std::optional<fatigue::Turn> initiation, coalescence;
  size_t first = 0;  ///< gauge that turned first, from 1
  double last_cycles = NAN;
  std::vector<std::vector<double>> strain;
  std::vector<double> cycles;
  std::vector<std::optional<fatigue::Turn>> turns;
};

struct State {
  bool staircase = false;
  std::vector<Point> all;
  fatigue::MeanStress rule = fatigue::MeanStress::none;
  double wanted_r = NAN, rm = 0, gamma = 0.5;
  std::optional<fatigue::SnLine> line;
  std::optional<fatigue::Staircase> stairs;
  std::optional<fatigue::Probit> probit;
  double step = 0;                ///< in which the staircase was run
  std::vector<size_t> off_rungs;  ///< rows of pieces off its levels
  double category = 0;            ///< detail category, MPa; 0: none
  Gauges gauges;
  std::vector<fatigue::SnPoint> counted() const;
  /// Whether the line says anything at 2·10⁶ cycles: not carried on there by a slope that might be none.
  bool says_at_reference() const;
};
State look(const TestRecord& record);

std::vector<ResultSpec> specs(const TestRecord& record);
Values compute(const TestRecord& record, const State& state, const Shifts& shifts);
void findings(Evaluation& e, const TestRecord& record, const State& state, const Values& values);
void figures(Evaluation& e, const TestRecord& record, const State& state, const Values& values);
/// All points of all pieces as one analysis, under the settings of the series.
Evaluation over_series(const std::vector<SeriesPiece>& pieces, const TestRecord& settings);
/// Ratio of the lives of every group to the first with its interval, whether one slope serves both.
void compare_lines(Evaluation& into, const std::vector<SeriesGroup>& groups, const TestRecord& settings);
/// Levels of the plan from a first guess of the line, highest first, MPa.
std::vector<double> planned_levels(const Fields& fields);
/// Level of every row, in the column in which points are typed; of a staircase as far as it is known. Empty without a
/// plan.
std::vector<Fields> planned_points(const TestRecord& record);
inline constexpr size_t kStairs = 15;  ///< pieces a staircase is planned for
Plan plan(const TestRecord& record);
void describe(Method& method);

}  // namespace fortitor::sn
