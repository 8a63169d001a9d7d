// A run with channels as a stress–strain curve: strain from the most trusted source, spliced with the crosshead where
// the extensometer came off. What tension of metals, plastics and composites and compression rest on.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/curve/shape.h"
#include "core/curve/signal.h"
#include "core/methods/support/loading.h"
#include "core/uncertainty/budget.h"

namespace fortitor {

/// In order of trust, most trusted first.
enum class StrainSource { none, gauge, extensometer, crosshead_corrected, crosshead };
std::string_view source_name(StrainSource s);
/// Strain that rests on crosshead travel.
bool by_travel(StrainSource s);

/// Lengths and area the curve is built with. Zero means not given.
struct CurveInputs {
  double area = 0;                 ///< mm²
  double extensometer_length = 0;  ///< mm
  double parallel_length = 0;      ///< what crosshead travel is divided by, mm
};

/// How the strain goes on after the extensometer: Δε = (Δx − ΔF/k)/L.
struct Splice {
  bool used = false;
  double stiffness = 0, stiffness_error = 0;  ///< k, N/mm, and its standard uncertainty; 0: infinitely stiff
  double length = 0, length_error = 0;        ///< L, mm
  double length_per_stiffness = 0;            ///< change of a fitted L with the relative change of an entered k, mm
  bool stiffness_entered = false, length_fitted = false;
};

/// What is said of a curve as a whole.
struct CurveFacts {
  StrainSource source = StrainSource::none;
  std::string source_text;           ///< for the ledger: "extensometer, then crosshead"
  std::optional<double> removed_at;  ///< s
  size_t removed_index = SIZE_MAX;   ///< last sample of the extensometer
  Splice splice;
  ForceZero zero;  ///< of the quiet stretch before motion, N
  bool sign_flipped = false, sorted = false, time_invented = false, clock_coarse = false;
  size_t dropped = 0;
  double area = 0;
  std::optional<FrameClash> clash;  ///< the entered stiffness is not used
  std::vector<ChannelFault> faults;
};

struct StressCurve : CurveFacts {
  std::vector<double> time, force, stress, strain, lateral, crosshead;
  std::vector<size_t> rows;  ///< row of the file behind every sample; empty: all in order
  size_t size() const { return stress.size(); }
};

StressCurve stress_curve(const TestRecord& record, const CurveInputs& inputs);

/// Where a loading ends.
struct LoadingEnd {
  size_t peak = 0;  ///< the largest stress
  std::optional<BreakPoint> fracture;
  size_t end = 0;  ///< one past the last loaded sample
};
LoadingEnd end_of(const StressCurve& curve);

/// About `wanted` samples that follow the curve as well as all of them (even in stress and in time);
/// the curve itself when it is shorter. For budgets and Monte Carlo.
StressCurve thinned(const StressCurve& curve, size_t wanted);

/// Strain of the curve under the shifts "extension" (relative, of the instrument), "splice_length" and
/// "splice_stiffness" (relative).
std::vector<double> shifted_strain(const StressCurve& curve, const Shifts& shifts);

/// The whole curve under them, under "force" (relative) and under the readings of the section.
StressCurve shifted(const StressCurve& curve, const TestRecord& record, const Shifts& shifts);

/// Force class, strain source and splice as inputs of a budget: "force", "extension", "splice_length",
/// "splice_stiffness".
void curve_inputs(const TestRecord& record, const StressCurve& curve, std::vector<UncertainInput>& out);

}  // namespace fortitor
