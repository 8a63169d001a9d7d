#include <algorithm>
#include <array>
#include <cmath>

#include "core/methods/flexure_beam/flexure_beam.h"
#include "core/methods/flexure_beam/model.h"
#include "core/reference/library.h"
#include "core/reference/materials.h"

namespace fortitor::flexure {
namespace {

using ledger::put;
using ledger::shift;

constexpr double kSaturation = 0.25;  // moisture from which on nothing changes, where a species says none
constexpr double kDeparture = 0.05;   // of the response, by the school "deviation"
constexpr double kStraightSampled = 0.01, kStraightKeyed = 0.03;         // of the response
constexpr double kShearCoefficient = 1.2;                                // of a rectangle (Timoshenko)
constexpr double kModulusPerPercent = 0.02, kStrengthPerPercent = 0.04;  // of moisture
constexpr double kDialScale = 0.01;                                      // relative, assumed

constexpr size_t kSearchPoints = 400;

double rate(const TestRecord& r, const char* path, double otherwise) {
  return r.fields.number(path).value_or(otherwise);
}

// Moisture adjustment to 12 %: the exponential rule between green and 12 % values of the species (Wood
// Handbook, chapter on mechanical properties), else a linear rule of so many per cent per per cent.
double at_12(const TestRecord& record, double value, const char* green, const char* dry, double per_percent) {
  const auto moisture = record.fields.number("specimen.moisture");
  if (!moisture) return NAN;
  const auto species = usual_of(record, "specimen.species", "wood");
  if (species && species->values.count(green) && species->values.count(dry)) {
    const double p12 = species->values.at(dry).mean, pg = species->values.at(green).mean;
    const auto point = species->values.find("moisture_point");
    const double mp = point == species->values.end() ? kSaturation : point->second.mean;
    const double m = std::min(*moisture, mp);  // above it moisture changes nothing
    return value * std::pow(p12 / pg, (m - kUsualMoisture) / (mp - kUsualMoisture));
  }
  if (*moisture < kRuleFrom || *moisture > kRuleTo) return NAN;
  return value * (1 + per_percent * 100 * (*moisture - kUsualMoisture));
}

}  // namespace

const LoadingCase& loading_case(const std::string& id) {
  static const std::array<LoadingCase, 3> cases = {
      LoadingCase{"three-point", "three-point", "P·L/4", "48·I", 1.0 / 4, 1.0 / 48},
      LoadingCase{"third-point", "four-point, at thirds", "P·L/6", "1296·I/23", 1.0 / 6, 23.0 / 1296},
      LoadingCase{"quarter-point", "four-point, at quarters", "P·L/8", "768·I/11", 1.0 / 8, 11.0 / 768}};
  for (const LoadingCase& c : cases)
    if (c.id == id) return c;
  return cases.front();
}

bool is_wood(const TestRecord& record) {
  const std::string family = record.fields.text("specimen.family");
  return !record.fields.text("specimen.species").empty() || family.find("wood") != std::string::npos;
}

Beam beam_of(const TestRecord& record, const Shifts& shifts) {
  Beam b;
  const ledger::Sizes sizes = ledger::sizes_of(methods::flexure_beam(), record);
  b.width = sizes.mean("specimen.width", shifts);
  b.depth = sizes.mean("specimen.depth", shifts);
  b.span = record.fields.number("specimen.span").value_or(0);
  if (b.span > 0) b.span += shift(shifts, "specimen.span");
  b.loads = loading_case(record.fields.text("specimen.loading"));
  if (!(b.width > 0) || !(b.depth > 0) || !(b.span > 0)) b = Beam{0, 0, 0, 0, 0, b.loads};
  b.i = b.width * b.depth * b.depth * b.depth / 12;
  b.w = b.width * b.depth * b.depth / 6;
  return b;
}

std::optional<ProportionalLimit> limit_by(const Bending& b, const std::string& school, double force) {
  if (school == "pick" && force > 0) return straight_to_load(b.path, force);
  if (school == "deviation") return straight_to_deviation(b.path, kDeparture);
  return straight_to(b.path, b.tolerance);
}

Bending bending_of(const TestRecord& record) {
  Bending b;
  b.continuous = record.run.has_samples();
  if (b.continuous) {
    b.channels = loading_of(record, {"deflection", "displacement", "extension", "crosshead"});
    const Loading& l = b.channels;
    const auto& travel = !l.s.crosshead.empty() ? l.s.crosshead : l.s.extension;
    LoadingPath all;
    for (size_t i = l.zero.quiet > 0 ? l.zero.quiet - 1 : 0; !l.empty() && i <= l.peak && !travel.empty(); ++i) {
      if (!std::isfinite(travel[i])) continue;
      all.load.push_back(l.s.force[i]);
      all.response.push_back(travel[i]);
      all.count.push_back(0);
      all.station.push_back(i);
    }
    // To the very sample of the largest load: a beam that gives way bends far in its last moments.
    b.work = work_under(all.response, all.load, 0, all.size() > 0 ? all.size() - 1 : 0);
    b.path = thinned(all, kSearchPoints);
    b.zero_recorded = true;
    b.max_force = l.peak_force();
    if (!l.empty() && !l.fracture) b.censored = Censoring{true, 0, 0};
  } else {
    b.path = path_of(record.run.rows(kStops), "force", "deflection");
    for (const Row& s : record.run.rows(kStops))
      if (const auto f = s.number("force")) b.max_force = std::max(b.max_force, *f);
    for (size_t i = 0; i < b.path.size(); ++i)
      if (std::abs(b.path.load[i]) <= 1e-9 * b.max_force) {
        b.zero_recorded = true;
        b.zero_deflection = b.path.response[i];
        break;
      }
    if (b.max_force > 0) b.censored = Censoring{true, 0, 0};
    if (b.path.size() >= 2)
      b.work = work_under(b.path.response, b.path.load, 0,
                          size_t(std::max_element(b.path.load.begin(), b.path.load.end()) - b.path.load.begin()));
  }
  const Readings bracket = record.fields.readings("specimen.after.broke_between");
  if (const auto peak = record.fields.number("specimen.after.max_force")) {
    b.max_force = *peak;
    b.censored.reset();
  } else if (bracket.size() == 2 && bracket[0].value && bracket[1].value && (!b.continuous || b.censored)) {
    const double low = std::min(*bracket[0].value, *bracket[1].value);
    const double high = std::max(*bracket[0].value, *bracket[1].value);
    b.censored = high > low ? std::optional(Censoring{false, low, high}) : std::nullopt;
    b.max_force = 0.5 * (low + high);
  }
  b.tolerance = rate(record, "settings.proportional_limit.tolerance", b.continuous ? kStraightSampled : kStraightKeyed);
  b.school = record.fields.text("settings.proportional_limit.school");
  if (b.school.empty()) b.school = "auto";
  b.limit = limit_by(b, b.school, rate(record, "settings.proportional_limit.force", 0));
  return b;
}

Values compute(const TestRecord& record, const Bending& b, const Shifts& shifts) {
  Values v;
  const Beam beam = beam_of(record, shifts);
  const double force = 1 + shift(shifts, "force"),
               deflection = (1 + shift(shifts, "deflection")) * (1 + shift(shifts, "deflection_scale"));
  const bool sized = beam.i > 0;
  if (sized) {
    put(v, key::i_moment, beam.i);
    put(v, key::section_modulus, beam.w);
    put(v, key::span_depth, beam.span / beam.depth);
  }
  auto stress = [&](double p) { return sized ? beam.loads.m * p * beam.span / beam.w : NAN; };
  if (b.limit) {
    const ProportionalLimit& l = *b.limit;
    const double p = l.load * force;
    const double delta = (l.response - (b.zero_recorded ? b.zero_deflection : l.line.intercept)) * deflection;
    put(v, key::pl_force, p);
    put(v, key::pl_deflection, delta);
    put(v, key::pl_stress, stress(p));
    // Least squares of force on deflection over the stops up to the limit.
    const auto line = fit_line(b.path.response, b.path.load, 0, l.last + 1);
    if (line && line->slope > 0) {
      const double stiffness =
          line->slope * force / deflection * (1 + shift(shifts, "slope") + shift(shifts, "straight"));
      put(v, key::stiffness, stiffness);
      put(v, key::stiffness_r2, line->r2 + shift(shifts, "r2"));
      const bool by_point = record.fields.text("settings.modulus.school") == "point";
      const double slope = by_point ? p / delta : stiffness;
      if (sized) {
        const double moe = slope * beam.loads.k * std::pow(beam.span, 3) / beam.i;
        put(v, key::moe, moe);
        const double ratio = rate(record, "settings.shear_ratio", is_wood(record) ? 16 : 0);
        // From δ = k·PL³/(EI) + (6/5)·m·PL/(GA) with E/G given (Timoshenko's shear coefficient 6/5).
        if (ratio > 0)
          put(v, key::moe_shear_free,
              moe * (1 + kShearCoefficient * beam.loads.m / beam.loads.k / 12 * ratio *
                             std::pow(beam.depth / beam.span, 2)));
        if (is_wood(record))
          put(v, key::moe_12,
              at_12(record, moe, "moe_green", "moe_12", rate(record, "settings.moisture.moe", kModulusPerPercent)));
      }
    }
  }
  if (b.max_force > 0) {
    put(v, key::max_force, b.max_force * force);
    put(v, key::mor, stress(b.max_force * force));
    if (is_wood(record) && sized)
      put(v, key::mor_12,
          at_12(record, stress(b.max_force * force), "mor_green", "mor_12",
                rate(record, "settings.moisture.mor", kStrengthPerPercent)));
    if (sized && b.path.size() >= 2)
      put(v, key::work_to_max, b.work * force * deflection / (beam.width * beam.depth * beam.span));
  }
  if (const auto species = usual_of(record, "specimen.species", "wood"))
    for (const auto& [key, ratio] : {std::pair{key::moe_12, "moe_ratio"}, std::pair{key::mor_12, "mor_ratio"}})
      if (v.count(key) && species->values.count(key)) put(v, ratio, v[key] / species->values.at(key).mean);
  return v;
}

void add_inputs(const TestRecord& record, const Bending& b, std::vector<UncertainInput>& out) {
  const auto normal = UncertainInput::Shape::normal;
  if (b.max_force > 0) ledger::class_input(record, "equipment.load_cell.class", "force", "force", out, b.max_force);
  ledger::size_inputs(ledger::sizes_of(methods::flexure_beam(), record), record, out);
  ledger::length_input(record, "specimen.span", "span", 1.0, out);
  if (!b.limit || b.limit->response == 0) return;
  if (b.continuous) {
    out.push_back({"deflection", "deflection, class 1 (assumed)", rectangular(kTravelTaken)});
  } else {
    // A dial reads true to about one division over its travel, and its scale to about one in a hundred.
    const double count = b.path.count[b.limit->last];
    out.push_back({"deflection", "dial gauge, one division of " + significant(count, 2) + " mm at the limit",
                   rectangular(count / std::abs(b.limit->response))});
    out.push_back({"deflection_scale", "dial gauge, 1 % of its reading (assumed)", rectangular(kDialScale)});
  }
  const auto line = fit_line(b.path.response, b.path.load, 0, b.limit->last + 1);
  if (line && line->slope > 0) ledger::straightness_inputs(*line, out);
  if (line && line->slope > 0 && line->slope_error > 0)
    out.push_back({"slope", "fit of the stiffness, " + std::to_string(line->n) + " points",
                   line->slope_error / line->slope, normal, double(line->n) - 2});
  // The stops next to the limit may already bend: the slope over fewer of them tells by how much.
  if (const double choice = straight_choice(b.path, b.limit->last); choice > 0)
    out.push_back({"straight", "choice of the straight part", choice, normal});
}

}  // namespace fortitor::flexure
