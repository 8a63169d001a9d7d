// The inner working of impact-pendulum. Shared by its files and tests only.
#pragma once

#include "core/methods/support/blows.h"

namespace fortitor::pendulum {

/// What the method reports, by key: specs, values, How and figures speak of a result by these (names: words.json).
namespace key {
inline constexpr auto energy = "energy", energy_min = "energy_min", energy_second = "energy_second",
                      energy_third = "energy_third", a_izod_j_per_m = "a_izod_j_per_m",
                      a_izod_kj_per_m2 = "a_izod_kj_per_m2", kc = "kc", energy_sd = "energy_sd",
                      available = "available", shear_percent = "shear_percent", lateral_expansion = "lateral_expansion",
                      bend_angle = "bend_angle", toughness_look = "toughness_look", designation = "designation",
                      designation_old = "designation_old", usual = "usual", t27j = "t27j", t41j = "t41j", t50 = "t50",
                      upper_shelf = "upper_shelf", lower_shelf = "lower_shelf", next_temperature = "next_temperature";
}  // namespace key

struct State {
  blows::Set set;
  std::string arrangement = "beam", notch = "V2";
  double ligament = NAN, breadth = NAN;  ///< mm, of the set
  std::string commonest;                 ///< break look that is averaged (plastics); empty: all
  bool plastic() const { return arrangement == "cantilever-plastic"; }
  bool bounds() const;                            ///< some counted blow did not break: energies are lower bounds
  double area_of(const blows::Blow& blow) const;  ///< under the notch, mm²
};
State look_at(const TestRecord& record, const Shifts& shifts = {});

/// Depth of a notch, mm; 0: none.
double depth_of(const std::string& notch);
/// "KV₂", and its parts in words.
std::string symbol_of(const TestRecord& record, const State& state);

std::vector<ResultSpec> specs(const TestRecord& record);
/// Designations, what the material usually takes, bounds and the limits that follow from the mean's.
void words(Evaluation& e, const TestRecord& record, const State& state, const Values& values);

/// Limits that follow from the one on the mean: reduced for a thin piece, and those of the least blows.
/// What every blow must reach where the mean has a limit, J.
std::optional<double> least_single(const TestRecord& record, const State& state);
void limits_of_set(Evaluation& e, const TestRecord& record, const State& state);
/// single-value, retest-open, sub-size-limit.
void judge_set(Evaluation& e, const TestRecord& record, const State& state);

/// The transition over the sets of a series.
/// What a transition reports.
std::vector<ResultSpec> transition_results();
Evaluation transition(const std::vector<SeriesPiece>& pieces, const TestRecord& settings);
void describe(Method& method);

}  // namespace fortitor::pendulum
