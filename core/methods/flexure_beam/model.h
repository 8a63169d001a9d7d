// The inner working of flexure-beam. Shared by its files and tests only.
#pragma once

#include "core/methods/flexure_beam/flexure_beam.h"
#include "core/methods/support/ledger.h"
#include "core/methods/support/loading.h"
#include "core/methods/support/stops.h"

namespace fortitor::flexure {

/// What the method reports, by key: specs, values, How and figures speak of a result by these (names: words.json).
namespace key {
inline constexpr auto moe = "moe", mor = "mor", pl_stress = "pl_stress", pl_force = "pl_force",
                      pl_deflection = "pl_deflection", stiffness = "stiffness", moe_shear_free = "moe_shear_free",
                      moe_12 = "moe_12", mor_12 = "mor_12", moe_ratio = "moe_ratio", mor_ratio = "mor_ratio",
                      max_force = "max_force", work_to_max = "work_to_max", i_moment = "i_moment",
                      section_modulus = "section_modulus", span_depth = "span_depth", stiffness_r2 = "stiffness_r2";
}  // namespace key

/// Moisture between which the rule of so many per cent a per cent holds (ISO 13061-3 gives it for 9 to 15 %; farther
/// out it is a guess, and at 120 %, which is 12 % typed wrong, it made a negative strength).
inline constexpr double kRuleFrom = 0.05, kRuleTo = 0.25;

/// Sizes of the beam, shifts applied. mm, mm⁴.
struct Beam {
  double width = 0, depth = 0, span = 0, i = 0, w = 0;
  LoadingCase loads;
};
Beam beam_of(const TestRecord& record, const Shifts& shifts = {});

/// The run, however it was taken, and the straight part found on it.
struct Bending {
  LoadingPath path;  ///< force against deflection
  Loading channels;  ///< of a continuous run
  double work = 0;   ///< under the curve up to the largest load, N·mm
  bool continuous = false;
  double tolerance = 0.03;
  std::string school = "auto";
  std::optional<ProportionalLimit> limit;  ///< response on load
  double zero_deflection = 0;              ///< reading at no load
  bool zero_recorded = false;
  double max_force = 0;
  std::optional<Censoring> censored;  ///< of the maximum force, N
};
Bending bending_of(const TestRecord& record);
/// The same with another proportional limit.
std::optional<ProportionalLimit> limit_by(const Bending& b, const std::string& school, double force);

bool is_wood(const TestRecord& record);

Values compute(const TestRecord& record, const Bending& bending, const Shifts& shifts);
void add_inputs(const TestRecord& record, const Bending& bending, std::vector<UncertainInput>& inputs);
std::vector<ResultSpec> specs(const TestRecord& record);
std::vector<Step> how(const std::string& key, const TestRecord& record, const Bending& bending, const Values& values);
void add_findings(Evaluation& e, const TestRecord& record, const Bending& bending, const Values& values);
void add_figures(Evaluation& e, const TestRecord& record, const Bending& bending, const Values& values);
void add_alternatives(Evaluation& e, const TestRecord& record, const Bending& bending);
void describe(Method& method);
Plan plan(const TestRecord& record);

}  // namespace fortitor::flexure
