// The inner working of poisson-gauge. Shared by its files and tests only.
#pragma once

#include "core/curve/stations.h"
#include "core/methods/support/ledger.h"
#include "core/methods/support/loading.h"
#include "core/methods/support/stops.h"

namespace fortitor::poisson {

/// What the method reports, by key: specs, values, How and figures speak of a result by these (names: words.json).
namespace key {
inline constexpr auto nu = "nu", e_modulus = "e_modulus", nu_each = "nu_each", r2_long = "r2_long", r2_lat = "r2_lat",
                      slope_long = "slope_long", slope_lat = "slope_lat", zero_drift_long = "zero_drift_long",
                      zero_drift_lat = "zero_drift_lat", area = "area";
}  // namespace key

/// Both strains against force over the stops that have both, corrected for transverse sensitivity.
struct Gauges {
  Rows rows;  ///< keyed stops, or blocks of a run with channels
  bool keyed = false;
  LoadingPath along, across;                ///< force against strain, as read
  std::vector<double> long_true, lat_true;  ///< corrected for transverse sensitivity
  double kt_long = 0, kt_lat = 0;
  std::optional<LineFit> line_long, line_lat;  ///< corrected strain on force, 1/N
  std::optional<double> slope_to;              ///< N, the largest load that enters the slopes, where a person set one
  bool outside = false;                        ///< … which leaves no three stops: all enter
  bool corrected() const { return kt_long != 0 || kt_lat != 0; }
};
Gauges gauges_of(const TestRecord& record);

Values compute(const TestRecord& record, const Gauges& gauges, const Shifts& shifts);
void add_inputs(const TestRecord& record, const Gauges& gauges, std::vector<UncertainInput>& inputs);
std::vector<ResultSpec> specs(const TestRecord& record);
std::vector<Step> how(const std::string& key, const TestRecord& record, const Gauges& gauges, const Values& values);
void add_findings(Evaluation& e, const TestRecord& record, const Gauges& gauges, const Values& values);
void add_figures(Evaluation& e, const TestRecord& record, const Gauges& gauges, const Values& values);
void describe(Method& method);

}  // namespace fortitor::poisson
