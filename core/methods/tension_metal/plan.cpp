#include "core/plan/plan.h"

#include <algorithm>
#include <cmath>

#include "core/methods/support/load_path.h"
#include "core/methods/tension_metal/model.h"
#include "core/methods/tension_metal/tension_metal.h"
#include "core/reference/materials.h"

namespace fortitor::tension {
namespace {

constexpr double kLimitsApart = 1.4;     // R_m from one limit to the other, where a job has only one
constexpr double kYieldShare = 0.6;      // of R_m: where yield is expected
constexpr double kUsualModulus = 200e3;  // MPa, of a metal that nothing is known of
constexpr double kUsualYieldStrain = 0.0015, kUsualRemoval = 0.05;  // strains; before the neck of an ordinary steel
constexpr double kOfRange = 0.8;                                    // of the extensometer's range
constexpr double kStopAbove = 1.1;                                  // of the highest force expected
constexpr double kLeastSampling = 50;                               // Hz
// Middles of what the plans allow: MPa/s up to yield (method B, stiff and soft metals; E8, control A), 1/s up to yield
// and after it.
constexpr double kStiffFrom = 150e3, kStiffOffer = 30, kSoftOffer = 10, kE8StressOffer = 6;
constexpr double kE8StrainOffer = 0.015 / 60, kIsoStrainOffer = 0.00025, kE8AfterOffer = 0.25 / 60,
                 kIsoAfterOffer = 0.0067;

std::optional<double> limit(const TestRecord& r, const char* key, bool min) {
  const auto it = r.limits.find(key);
  if (it == r.limits.end()) return std::nullopt;
  const auto& side = min ? it->second.min : it->second.max;
  return side ? side->value : std::nullopt;
}

void expect_force(const TestRecord& record, const MaterialFamily* family, double area, Plan& plan) {
  if (!(area > 0)) return;
  const auto rm_min = limit(record, key::rm, true), rm_max = limit(record, key::rm, false);
  double low = 0, high = 0;
  Expectation x;
  if (rm_min || rm_max) {
    low = rm_min.value_or(*rm_max / kLimitsApart);
    high = rm_max.value_or(*rm_min * kLimitsApart);
    x.from = "R_m limits of the job";
  } else if (family != nullptr) {
    low = family->rm_low;
    high = family->rm_high;
    x.from = std::string("usual R_m of ") + std::string(family->name);
  } else {
    return;
  }
  x.low = low * area;
  x.high = high * area;
  x.likely = 0.5 * (low + high) * area;
  const auto yield = limit(record, key::reh, true) ? limit(record, key::reh, true) : limit(record, key::rp02, true);
  plan.yield = yield ? *yield * area : kYieldShare * x.likely;
  plan.expected = x;
}

void offer(const TestRecord& record, const MaterialFamily* family, double area, Plan& plan) {
  const double modulus = family != nullptr ? 0.5 * (family->e_low + family->e_high) : kUsualModulus;
  const double length = record.fields.number("specimen.parallel_length").value_or(0);
  const double stiffness = record.fields.number("equipment.frame.stiffness").value_or(0);
  if (!(length > 0) || !(area > 0)) return;
  // The middle of what the plan allows up to yield.
  const std::string chosen = record.fields.text("settings.rate_plan");
  const double by_stress = chosen == "B"      ? (modulus >= kStiffFrom ? kStiffOffer : kSoftOffer)
                           : chosen == "E8-A" ? kE8StressOffer
                                              : 0;
  const bool e8 = chosen.rfind("E8", 0) == 0;
  const double by_strain = e8 ? kE8StrainOffer : kIsoStrainOffer, after = e8 ? kE8AfterOffer : kIsoAfterOffer;
  const double strain_rate = by_stress > 0 ? by_stress / modulus : by_strain;
  const double elastic = speed_for_strain_rate(strain_rate, length, modulus, area, stiffness);
  plan.advice.push_back({"settings.speed.elastic", "Speed to yield", elastic, Dimension::speed,
                         (by_stress > 0 ? "stress rate " + significant(by_stress, 2) + " MPa/s"
                                        : std::string("strain rate 0.00025 1/s") + (e8 ? "" : " (A2)")) +
                             (stiffness > 0 ? ", machine compliance allowed for" : ", stiff machine assumed")});
  plan.advice.push_back({"settings.speed.plastic", "Speed after yield", after * length, Dimension::speed,
                         "strain rate " + significant(after, 2) + " 1/s over the parallel length"});
  const double yield_strain = plan.yield ? *plan.yield / area / modulus : kUsualYieldStrain;
  const double sampling = std::max(kLeastSampling, sampling_for(yield_strain, strain_rate));
  plan.advice.push_back({"settings.sampling", "Sampling", sampling, Dimension::frequency,
                         "at least 50 samples below yield at that rate"});
  const double range = record.fields.number("equipment.extensometer.range").value_or(0);
  const double le = record.fields.number("specimen.extensometer_length").value_or(0);
  if (le > 0) {
    const double strain = range > 0 ? std::min(kUsualRemoval, kOfRange * range / le) : kUsualRemoval;
    plan.advice.push_back(
        {"settings.removal_strain", "Take extensometer off at", strain, Dimension::elongation,
         range > 0 ? "within 80 % of its range and before the neck" : "before the neck of an ordinary steel"});
  }
  if (plan.expected)
    plan.advice.push_back({"settings.stop.force", "Stop at force", kStopAbove * plan.expected->high, Dimension::force,
                           "10 % above the highest expected"});
}

}  // namespace

Plan plan(const TestRecord& record) {
  Plan p;
  const Section section = section_of(record.fields);
  const MaterialFamily* family = find_family(record.fields.text("specimen.family"));
  expect_force(record, family, section.area, p);
  offer(record, family, section.area, p);

  if (!section.missing.empty()) p.blocking.push_back(section.missing);
  if (!record.fields.number("specimen.gauge_length")) p.blocking.push_back("The gauge length is not marked yet.");
  if (!record.fields.number("specimen.parallel_length"))
    p.blocking.push_back("The parallel length is wanted for the speed and for strain after the extensometer.");
  judge_load_path(methods::tension_metal(), record, "load_cell", p);
  want_settings(record,
                {{"settings.speed.elastic", "speed to yield"},
                 {"settings.speed.plastic", "speed after yield"},
                 {"settings.sampling", "sampling rate"}},
                p);
  if (!p.expected) p.warnings.push_back("No force can be foreseen: enter R_m limits or a material family.");
  return p;
}

}  // namespace fortitor::tension
