// The inner working of torsion-bar. Shared by its files and tests only.
#pragma once

#include "core/curve/stations.h"
#include "core/methods/support/ledger.h"
#include "core/methods/support/loading.h"
#include "core/methods/support/stops.h"
#include "core/methods/torsion_bar/torsion_bar.h"

namespace fortitor::torsion {

/// What the method reports, by key: specs, values, How and figures speak of a result by these (names: words.json).
namespace key {
inline constexpr auto g_modulus = "g_modulus", g_twist = "g_twist", tau_pl = "tau_pl", tau_y = "tau_y",
                      tau_rupture = "tau_rupture", tau_plastic = "tau_plastic", tau_nadai = "tau_nadai",
                      turns = "turns", gamma_f = "gamma_f", strain_eq = "strain_eq", torque_max = "torque_max",
                      torque_pl = "torque_pl", j_moment = "j_moment", e_check = "e_check",
                      fracture_kind = "fracture_kind";
}  // namespace key

/// Share of the reading within which the straight part of a metal lies; three per cent is for wood.
inline constexpr double kStraight = 0.01;
inline constexpr double kRough = 0.03;  ///< where readings are too rough for that

/// The run in the axes it was read in: torque, angle, shear strain of the gauge.
struct Twisting {
  Rows rows;  ///< keyed stops, or blocks of a run with channels
  bool keyed = false;
  LoadingPath gauge;  ///< torque against γ from the gauge, up to where the gauge was lost
  LoadingPath twist;  ///< torque against angle, rad
  bool two_gauges = false;
  std::optional<size_t> lost_at;  ///< station from which the gauge is not used
  std::string lost_how;           ///< "missing", "frozen", "off scale"
  std::optional<ProportionalLimit> gauge_limit, twist_limit;
  double torque_max = 0, angle_end = 0;
  bool broken = false;               ///< the record says how it ended
  std::optional<LineFit> end_slope;  ///< torque on angle over the last stops
  double end_bend = 0;               ///< how much less the slope at the very end may be, as the curve still bends there
  /// Whether the last stops stand too far apart for a slope at the end: what the bend between them may change would be
  /// more than a tenth of what the torque alone gives.
  bool end_unknown() const {
    constexpr double kOfTorque = 0.1;
    return angle_end * end_bend > kOfTorque * 3 * torque_max;
  }
};
Twisting twisting_of(const TestRecord& record);

Values compute(const TestRecord& record, const Twisting& t, const Shifts& shifts);
void add_inputs(const TestRecord& record, const Twisting& t, std::vector<UncertainInput>& inputs);
std::vector<ResultSpec> specs(const TestRecord& record);
std::vector<Step> how(const std::string& key, const TestRecord& record, const Twisting& t, const Values& values);
void add_findings(Evaluation& e, const TestRecord& record, const Twisting& t, const Values& values);
void add_figures(Evaluation& e, const TestRecord& record, const Twisting& t, const Values& values);
void add_alternatives(Evaluation& e, const TestRecord& record, const Twisting& t);
double yield_offset(const TestRecord& record);
void describe(Method& method);

}  // namespace fortitor::torsion
