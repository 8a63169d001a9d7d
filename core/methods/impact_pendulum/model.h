// The inner working of impact-pendulum. Shared by its files and tests only.
#pragma once

#include "core/methods/support/blows.h"

namespace fortitor::pendulum {

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
void limits_of_set(Evaluation& e, const TestRecord& record, const State& state);
/// single-value, retest-open, sub-size-limit.
void judge_set(Evaluation& e, const TestRecord& record, const State& state);

/// The transition over the sets of a series.
Evaluation transition(const std::vector<SeriesPiece>& pieces, const TestRecord& settings);
void describe(Method& method);

}  // namespace fortitor::pendulum
