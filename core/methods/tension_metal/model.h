// The inner working of tension-metal: curve, landmarks, numbers. The curve with its strain sources also serves
// tension of plastics and composites and compression.
#pragma once

#include <map>
#include <optional>
#include <string>
#include <vector>

#include "core/curve/shape.h"
#include "core/curve/signal.h"
#include "core/methods/method.h"
#include "core/section/section.h"

namespace fortitor::tension {

enum class StrainSource { none, gauge, extensometer, crosshead_corrected, crosshead };
std::string_view source_name(StrainSource s);

/// Record numbers the formulas use, shifts applied. Zero means not given.
struct Inputs {
  double area = 0;          ///< S₀, mm²
  double gauge_length = 0;  ///< L₀, mm
  double extensometer_length = 0;
  double parallel_length = 0;
  double final_length = 0;      ///< L_u, mm
  double final_area = 0;        ///< S_u, mm²
  double stress_scale = 1;      ///< shifts of force and area, relative to the curve as built
  double strain_scale = 1;      ///< shift of the extensometer
  double modulus_scale = 1;     ///< shift of the fitted slope
  std::vector<double> offsets;  ///< proof strengths asked for, ratio
};

/// The stress–strain curve as the landmarks are found on it.
struct Curve {
  std::vector<double> time, force, stress, strain, lateral, crosshead;
  StrainSource source = StrainSource::none;
  std::string source_text;           ///< for the ledger: "extensometer, then crosshead"
  std::optional<double> removed_at;  ///< s
  size_t removed_index = SIZE_MAX;
  ForceZero zero;  ///< of the quiet stretch before motion, N
  bool sign_flipped = false, sorted = false, time_invented = false;
  size_t dropped = 0;
  double area = 0;
  size_t size() const { return stress.size(); }
};

/// What was found on the curve. Indices; nothing here depends on the shifts of a budget.
struct Landmarks {
  std::optional<ElasticWindow> elastic;
  std::string school = "auto";
  bool fitted = true;                 ///< the slope is a least-squares line (auto, line, tangent)
  std::vector<Point> modulus_points;  ///< chord, secant, tangent: the points it rests on
  std::optional<Yielding> yielding;
  size_t peak = 0;  ///< R_m
  Stretch top;      ///< flat stretch around it
  std::optional<BreakPoint> fracture;
  size_t end = 0;  ///< one past the last loaded sample
  double stress_noise = 0;
  double yield_stress = 0;  ///< yield-region stress the window was sought under
};

Inputs inputs_of(const TestRecord& record, const Shifts& shifts);
Curve curve_of(const TestRecord& record, const Inputs& inputs);
Landmarks landmarks_of(const Curve& curve, const TestRecord& record, const Inputs& inputs);

/// About `wanted` samples that follow the curve as well as all of them (even in stress and in time);
/// the curve itself when it is shorter. For budgets and Monte Carlo.
Curve thinned(const Curve& curve, size_t wanted);

/// Every number of the method by result key; absent keys could not be computed.
Values compute(const Curve& curve, const Landmarks& marks, const Inputs& inputs, const TestRecord& record);

/// Limits (ratio) between which n is fitted, and why.
struct HardeningRange {
  double from = 0.02, to = 0.0;
  std::string why;
};
HardeningRange hardening_range(const TestRecord& record, const Values& values, const Curve& curve,
                               const Landmarks& marks);

std::vector<FieldSpec> fields();
std::optional<ResultSpec> result_spec(const std::string& key);
std::vector<School> schools();
void stage_guides(Method& method);
Plan plan(const TestRecord& record);
UncertaintyModel uncertainty(const TestRecord& record);
UncertaintyModel uncertainty_model(const TestRecord& record, const Curve& curve);
void add_findings(Evaluation& evaluation, const TestRecord& record, const Curve& curve, const Landmarks& marks,
                  const Inputs& inputs, const Values& values);
void add_constructions(Evaluation& evaluation, const Curve& curve, const Landmarks& marks, const Inputs& inputs,
                       const Values& values);
std::vector<Step> how(const std::string& key, const TestRecord& record, const Curve& curve, const Landmarks& marks,
                      const Inputs& inputs, const Values& values, const Section& section);

/// Key of a proof strength: 0.2 % → "rp02", 1 % → "rp1", 0.15 % → "rp015".
std::string offset_key(double offset);
/// Offset of such a key, or empty.
std::optional<double> offset_of_key(const std::string& key);

}  // namespace fortitor::tension
