// Cross-sections from readings.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/evaluation/evaluation.h"
#include "core/record/field.h"
#include "core/record/record.h"
#include "core/uncertainty/budget.h"

namespace fortitor {

/// A list of readings boiled down: mean, range, what is missing.
struct Dim {
  std::string path, symbol, label;
  std::vector<double> values;  ///< readings that are there, internal units
  size_t missed = 0;
  double mean = 0.0, range = 0.0;
  double finest_digit = 0.0;  ///< smallest typed resolution
  double brought = 0.0;       ///< largest standard uncertainty that came with a reading
  bool round_sizes =
      false;  ///< every reading is a size that stands on drawings: whole millimetres, sixteenths of an inch
  bool given() const { return !values.empty(); }
};

/// Boils down the readings at `path`; smallest reading instead of the mean with `smallest`.
Dim dimension_of(const Fields& fields, const std::string& path, const std::string& symbol, const std::string& label);

/// Cross-section of a specimen. Areas in mm².
struct Section {
  std::string shape;  ///< round, flat, tube, by-mass
  std::vector<Dim> dims;
  double area = 0.0;  ///< 0 when it cannot be computed
  std::vector<Step> how;
  std::string missing;  ///< what is still wanted, as a sentence; empty when complete
};

/// Section at specimen.section.*; `shifts` moves the mean of a reading list by its path.
/// round: πd²/4. flat: w·t. tube: π(D² − d²)/4 with d = D − 2·wall when the wall was measured.
/// by-mass: m/(ρ·l) (ISO 6892-1, annex on by-mass areas).
Section section_of(const Fields& fields, const Shifts& shifts = {});

/// Area of the broken cross-section at specimen.after.*, by the same shape; 0 when not measured.
double area_after(const Fields& fields, const std::string& shape, const Shifts& shifts,
                  std::vector<Step>* how = nullptr);

/// Fields of a section for a method's schema; `shapes` in the order offered.
std::vector<FieldSpec> section_fields(const std::vector<std::string>& shapes, Stage stage);

/// dimension-spread, dimension-nominal and area findings for the given lists. `spread_limit`: ratio of
/// range to mean; `wanted`: readings the method asks for.
inline constexpr double kUsualSpread = 0.01;  ///< of a dimension, over its places
inline constexpr size_t kUsualReadings = 3;   ///< of a dimension
void dimension_findings(const std::vector<Dim>& dims, std::vector<Finding>& out, double spread_limit = kUsualSpread,
                        size_t wanted = kUsualReadings);

/// Inputs of the section for a budget: resolution of the instrument and spread of the readings.
/// `resolution` in mm of the caliper; 0: the finest digit typed.
void section_inputs(const Section& section, double resolution, std::vector<UncertainInput>& out);

}  // namespace fortitor
