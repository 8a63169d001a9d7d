// The inner working of compression-after-impact. Shared by its files and tests only.
#pragma once

#include <array>
#include <cmath>
#include <optional>
#include <string>
#include <vector>

#include "core/methods/compression_after_impact/compression_after_impact.h"
#include "core/methods/support/ledger.h"
#include "core/methods/support/loading.h"

namespace fortitor::cai {

/// What the method reports, by key: specs, values, How and figures speak of a result by these (names: words.json).
namespace key {
inline constexpr auto cai_strength = "cai_strength", cai_modulus = "cai_modulus", retention = "retention",
                      bending_percent = "bending_percent", bending_seating = "bending_seating",
                      failure_mode = "failure_mode", eps_m = "eps_m", bending_left = "bending_left",
                      bending_right = "bending_right", fm = "fm", area = "area";
}  // namespace key

inline constexpr double kSeating = 450;  ///< N (ASTM D7137)
inline constexpr double kChordFrom = 1000e-6, kChordTo = 3000e-6;

/// Two gauges back to back, magnitudes in compression, in the rows of the run.
struct Pair {
  std::vector<double> front, back;
  bool there() const { return !front.empty() && !back.empty(); }
};

/// A gauge that turned back while its partner went on: the plate bows out.
struct Buckling {
  size_t pair = 0, at = 0;  ///< index of the sample at which it turned
  bool front = false;       ///< which of the two turned
};

struct State {
  Dim width, thickness;
  double area = 0;  ///< mm²
  Loading run;
  std::array<Pair, 2> pairs;
  std::vector<double> mean;          ///< of all gauges that are there
  bool strain_flipped = false;       ///< compressive strains were logged negative
  std::vector<std::string> against;  ///< gauges that ran against the others
  struct Lost {
    std::string gauge;
    double value = 0, force = 0;  ///< strain at which it stands; N from where on
  };
  std::vector<Lost> lost;     ///< gauges that stood still while the plate was pressed on: in no mean
  double seating = kSeating;  ///< N, at which it is held and aligned
  size_t seated = 0;          ///< end of the seating: last sample before the load passes that for good
  std::optional<Buckling> buckling;
  bool strained() const { return !mean.empty(); }
};
State look(const TestRecord& record);

/// The bending of a pair when the force first reaches `force`; strains as means over the samples around. NaN when the
/// pair is not there or the force is never reached.
double bending_at(const State& state, size_t pair, double force, double front_scale = 1, double back_scale = 1);
/// The same at the end of the seating.
double bending_seated(const State& state, size_t pair);
/// What a screw has to do so that a pair is shortened alike: "left pair: back off the front screw …".
std::string screw_words(size_t pair, double bending);
std::string pair_name(size_t pair);

std::vector<ResultSpec> specs(const TestRecord& record);
Values compute(const TestRecord& record, const State& state, const Shifts& shifts);
void findings(Evaluation& e, const TestRecord& record, const State& state, const Values& values);
void figures(Evaluation& e, const TestRecord& record, const State& state, const Values& values);
Plan plan(const TestRecord& record);
void describe(Method& method);

}  // namespace fortitor::cai
