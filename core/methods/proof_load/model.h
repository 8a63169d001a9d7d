// The inner working of proof-load. Shared by its files, its drawing and tests only.
#pragma once

#include <cmath>
#include <optional>
#include <string>
#include <vector>

#include "core/methods/proof_load/proof_load.h"
#include "core/methods/support/ledger.h"
#include "core/methods/support/loading.h"

namespace fortitor::proof {

/// What the method reports, by key: specs, values, How and figures speak of a result by these (names: words.json).
namespace key {
inline constexpr auto force_max = "force_max", design_factor = "design_factor", required = "required",
                      meets_rule = "meets_rule", elastic_limit_force = "elastic_limit_force", disp_max = "disp_max",
                      energy_to_break = "energy_to_break", function_limit = "function_limit",
                      function_limit_tool = "function_limit_tool", price_per_kn = "price_per_kn",
                      snatch_mean = "snatch_mean", snatch_peak = "snatch_peak";
}  // namespace key

/// Of the proof load, where no reference preload is entered; of the travel since it, by which the destruction leaves
/// the line, where no departure is set.
inline constexpr double kReferenceShare = 0.05, kDeparture = 0.05;

/// Force over displacement of one loading, zero taken off; N and mm.
struct Curve {
  std::vector<double> force, travel;
  size_t peak = 0;
  bool jumped = false;                 ///< a channel of this part jumps
  double noise = 0, travel_noise = 0;  ///< standard, of one reading: N, mm
  double lift = 0;                     ///< standard error that noise gives the largest reading, N
  double top_half = 0;                 ///< half of the travel over which the force is its largest within noise, mm
  size_t size() const { return force.size(); }
  bool empty() const { return force.empty(); }
  double top() const { return force.empty() ? 0 : force[peak]; }
};
/// The last sample before the piece broke: the force falls by 40 % of its largest while the travel gives back less than
/// a quarter of what a spring would. Nothing where it was unloaded or stopped.
std::optional<size_t> broke_at(const Curve& curve);

/// One cycle to the proof load and back.
struct Cycle {
  Curve curve;
  double stiffness = NAN, stiffness_error = 0;  ///< N/mm, between 40 and 90 % of its largest force, loading
  double set = NAN;                             ///< mm that did not come back, at the reference preload
  double loop = NAN;                            ///< J
  double held = NAN;                            ///< N at the end of the hold
  double reference = NAN;                       ///< displacement at the reference preload, loading, mm
  double noise = 0;                             ///< of the displacement, mm
  double loop_error = 0;                        ///< standard error that noise gives the loop, J
  bool broke = false, unloaded = false;
  bool travel_lost = false;  ///< the force fell and the travel did not go back, though the piece carried on
};

struct State {
  double rated = 0, proof = 0, fixture = 0, preload = 0;  ///< N; 0: not given
  std::vector<Cycle> cycles;
  std::optional<Curve> destruction;
  std::optional<size_t> broken_cycle;  ///< the piece broke in it: what was recorded later is no part of the test
  bool censored = false;               ///< it did not break: the largest force is a bound
  double elastic_limit = NAN, elastic_at = NAN;  ///< N; mm
  double elastic_error = 0;                      ///< standard error that noise gives it, N
  bool elastic_picked = false;                   ///< where somebody sees it
  std::vector<std::string>
      grades;               ///< "free", "by tool", "stuck"; one a cycle, then one after a destruction that stopped
  bool continuous = false;  ///< one run that was parted here; only of it a zero before motion is known
  RunFacts facts;
  bool any() const { return !cycles.empty() || destruction.has_value(); }
  const Curve* last() const { return destruction ? &*destruction : cycles.empty() ? nullptr : &cycles.back().curve; }
  const Curve* strongest() const;  ///< the part with the largest force; null without any
  double largest() const;
};
State look(const TestRecord& record);
/// A continuous run in parts: every rise from below the reference preload to the proof load and back is a cycle, what
/// comes after the last is the destruction.
void split(const std::vector<double>& force, const std::vector<double>& travel, double proof, double preload,
           std::vector<Curve>& cycles, std::optional<Curve>& destruction);
Cycle cycle_of(Curve curve, double preload);

/// A rule written by the user as arithmetic with units: "2 × 850 kg × g", "6 × rated". Products, quotients, sums of
/// numbers with units and of g, rated, proof. The result must be a force.
struct Rule {
  double required = NAN;    ///< N
  std::vector<Step> steps;  ///< every step with its units
  std::string problem;      ///< why it could not be worked out; empty: it was
};
Rule rule_of(const std::string& text, double rated, double proof);

std::vector<ResultSpec> specs(const TestRecord& record);
Values compute(const TestRecord& record, const State& state, const Shifts& shifts);
std::vector<Step> how(const std::string& key, const TestRecord& record, const State& state, const Values& values);
void words(Evaluation& e, const TestRecord& record, const State& state, const Values& values);
void findings(Evaluation& e, const TestRecord& record, const State& state, const Values& values);
void figures(Evaluation& e, const TestRecord& record, const State& state, const Values& values);
Plan plan(const TestRecord& record);
void describe(Method& method);

}  // namespace fortitor::proof
