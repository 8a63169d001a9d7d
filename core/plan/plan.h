// Advice before a run: expected force, cell, speed, sampling, and what still stands in the way.
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
  std::optional<double> rating;  ///< N
};

/// One value the plan offers for a setting, with its derivation in words.
struct Advice {
  std::string setting;  ///< field path it would fill
  std::string label;
  double value = 0.0;  ///< internal units
  Dimension dimension = Dimension::none;
  std::string why;
};

struct Plan {
  std::optional<double> force_low, force_likely, force_high;  ///< N, expected maximum
  std::optional<double> yield_force;                          ///< N, expected
  std::string force_from;                                     ///< where the expectation comes from
  std::vector<LoadPathPart> load_path;
  std::vector<Advice> advice;
  std::vector<std::string> blocking;  ///< sentences: Start stays shut until they are gone
  std::vector<std::string> warnings;
};

/// Smallest standard load cell (N) for which [low, high] lies within 10–90 % of its capacity, or the
/// smallest that can take `high` when none fits both. Order of capacities: 1, 2, 5 steps.
double advised_cell(double low, double high);

/// Crosshead speed (mm/s) for a wanted specimen strain rate (1/s) below yield:
/// v = ė·(L_c + E·S₀/k), machine stiffness k in N/mm (ISO 6892-1, annex on compliance).
double speed_for_strain_rate(double strain_rate, double parallel_length, double modulus, double area, double stiffness);

/// Sampling rate (Hz) that puts at least `points` samples between zero and the yield strain.
double sampling_for(double yield_strain, double strain_rate, int points = 50);

/// Frame, load cell and grips or fixture with their ratings.
std::vector<LoadPathPart> load_path_of(const TestRecord& record);

/// What follows from the expected force of `plan`: the advised cell, parts of the load path that cannot
/// take it (blocking), a cell that is far too large (warning). Call it when the forces are in.
void judge_load_path(const TestRecord& record, Plan& plan);
}  // namespace fortitor
