// Advice before a run: what to expect, which cell, speed and sampling, and what still stands in the way.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/quantity/unit.h"
#include "core/record/record.h"

namespace fortitor {

/// A part of the load path with its rating; none when not entered.
struct LoadPathPart {
  std::string id, label, field;  ///< field path of the rating
  std::optional<double> rating;  ///< in the quantity of the plan
};

/// One value the plan offers for a setting, with its derivation in words.
struct Advice {
  std::string setting;  ///< field path it would fill
  std::string label;
  double value = 0.0;  ///< internal units
  Dimension dimension = Dimension::none;
  std::string why;
};

/// What the run is expected to reach: a force, a torque, an energy.
struct Expectation {
  Dimension dimension = Dimension::force;
  double low = 0, likely = 0, high = 0;  ///< internal units
  std::string from;                      ///< where it comes from
};

struct Plan {
  std::optional<Expectation> expected;
  std::optional<double> yield;  ///< where it is expected to leave the straight line, same quantity
  std::vector<LoadPathPart> load_path;
  std::vector<Advice> advice;
  std::vector<std::string> blocking;  ///< sentences: Start stays shut until they are gone
  std::vector<std::string> warnings;
};

/// Smallest standard cell for which [low, high] lies within 10–90 % of its capacity, or the smallest that can take
/// `high` when none fits both; in the unit of its arguments (N, N·m). Order of capacities: 1, 2, 5 steps.
double advised_cell(double low, double high);

/// Crosshead speed (mm/s) for a wanted specimen strain rate (1/s) below yield:
/// v = ė·(L_c + E·S₀/k), machine stiffness k in N/mm (ISO 6892-1, annex on compliance).
double speed_for_strain_rate(double strain_rate, double parallel_length, double modulus, double area, double stiffness);

/// Sampling rate (Hz) that puts at least `points` samples between zero and the yield strain.
double sampling_for(double yield_strain, double strain_rate, int points = 50);

}  // namespace fortitor
