#include "core/plan/plan.h"

#include <algorithm>
#include <cmath>

#include "core/methods/flexure_beam/flexure_beam.h"
#include "core/methods/flexure_beam/model.h"
#include "core/methods/support/load_path.h"
#include "core/reference/library.h"
#include "core/reference/materials.h"

namespace fortitor::flexure {
namespace {

constexpr double kGreen = 0.2;               // moisture of wood that is called green
constexpr double kScatterOfWood = 2 * 0.16;  // two coefficients of variation of a strength (Wood Handbook)
constexpr double kInBending = 1.5;           // of a strength in tension, at most
constexpr double kLimitShare = 0.55;         // of the strength: where the proportional limit is expected
constexpr double kOuterRate = 0.01;          // 1/min of the outer fibre (ISO 178)

// Strength to be expected: the species at its moisture, or a limit of the job.
struct Expected {
  double low = 0, high = 0, modulus = 0;
  std::string from;
};

Expected expected_of(const TestRecord& record) {
  Expected x;
  const auto species = usual_of(record, "specimen.species", "wood");
  if (species) {
    const bool green = record.fields.number("specimen.moisture").value_or(kUsualMoisture) > kGreen;
    const ReferenceValue& mor = species->values.at(green ? "mor_green" : "mor_12");
    x = {mor.mean * (1 - kScatterOfWood), mor.mean * (1 + kScatterOfWood),
         species->values.at(green ? "moe_green" : "moe_12").mean, "usual modulus of rupture of " + species->name};
  } else if (const auto material = usual_of(record, "specimen.material");
             material && material->values.count("strength")) {
    const ReferenceValue& s = material->values.at("strength");
    x = {s.low, kInBending * s.high, material->values.count("e_modulus") ? material->values.at("e_modulus").mean : 0,
         "usual strength of " + material->name + ", in bending up to half as much again"};
  } else if (const auto it = record.limits.find(key::mor);
             it != record.limits.end() && it->second.min && it->second.min->value) {
    x = {*it->second.min->value, 2 * *it->second.min->value, 0, "limit of the job"};
  }
  return x;
}

}  // namespace

Plan plan(const TestRecord& record) {
  Plan p;
  const Beam beam = beam_of(record);
  const Expected x = expected_of(record);
  if (beam.i > 0 && x.high > 0) {
    const double per_stress = beam.w / (beam.loads.m * beam.span);
    const double low = x.low * per_stress, high = x.high * per_stress;
    p.expected = Expectation{Dimension::force, low, 0.5 * (low + high), high, x.from};
    p.yield = kLimitShare * p.expected->likely;
  }
  judge_load_path(methods::flexure_beam(), record, "load_cell", p);
  if (!(beam.i > 0)) p.blocking.push_back("Width, depth and span are wanted first.");
  if (p.expected)
    p.advice.push_back({"settings.step", "Step", round_step(p.expected->likely / 20), Dimension::force,
                        "about a dozen stops below the proportional limit"});
  if (beam.i > 0) {
    // Strain rate of the outer fibre 0.01 per minute: v = ė·k·L²/(m·h)·…, for a centre load ė·L²/(6h) (ISO 178).
    const double speed = from_unit(kOuterRate * beam.span * beam.span / (6 * beam.depth), "mm/min", Dimension::speed);
    p.advice.push_back({"settings.speed.elastic", "Speed", speed, Dimension::speed,
                        "outer fibre at 1 % a minute, between the stops or throughout"});
    if (is_wood(record) && beam.span / beam.depth < 14)
      p.warnings.push_back("The span is " + significant(beam.span / beam.depth, 3) +
                           " times the depth; 14 or more keeps shear small.");
  }
  if (!p.expected) p.warnings.push_back("No load can be foreseen: enter the species or a limit.");
  return p;
}

}  // namespace fortitor::flexure
