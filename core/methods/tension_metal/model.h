// The inner working of tension-metal: landmarks, numbers. Shared by its files and tests only.
#pragma once

#include <map>
#include <optional>
#include <string>
#include <vector>

#include "core/methods/method.h"
#include "core/methods/support/stress_curve.h"
#include "core/section/section.h"

namespace fortitor::tension {

/// What the method reports, by key: specs, values, How and figures speak of a result by these (names: words.json).
namespace key {
inline constexpr auto e_modulus = "e_modulus", reh = "reh", rp02 = "rp02", rel = "rel", rp = "rp", rt05 = "rt05",
                      rm = "rm", rm_top = "rm_top", a = "a", z = "z", agt = "agt", ag = "ag", at = "at",
                      a_ext = "a_ext", ae = "ae", a_equiv = "a_equiv", yield_ratio = "yield_ratio",
                      yielding = "yielding", n_value = "n_value", k_strength = "k_strength", r_value = "r_value",
                      resilience = "resilience", toughness = "toughness", fm = "fm", area = "area",
                      proportional_length = "proportional_length", toe_shift = "toe_shift",
                      modulus_from = "modulus_from", modulus_to = "modulus_to", modulus_r2 = "modulus_r2",
                      modulus_slope_error = "modulus_slope_error", stress_rate = "stress_rate",
                      strain_rate = "strain_rate", strain_rate_rm = "strain_rate_rm", ductility = "ductility";
}  // namespace key

/// Record numbers the formulas use, shifts applied. Zero means not given.
struct Inputs : CurveInputs {
  double gauge_length = 0;      ///< L₀, mm
  double final_length = 0;      ///< L_u, mm
  double final_area = 0;        ///< S_u, mm²
  double stress_scale = 1;      ///< shifts of force and area, relative to the curve as built
  double modulus_scale = 1;     ///< shift of the fitted slope
  std::vector<double> offsets;  ///< proof strengths asked for, ratio
};

inline constexpr double kUsualOffset = 0.002;  ///< of the proof strength that every metal is asked for (R_p0.2)

/// Z and A below which a piece looks brittle, Z above which it looks ductile.
inline constexpr double kBrittleZ = 0.10, kBrittleA = 0.05, kDuctileZ = 0.40;

/// A stretch between two shares, or two values, of a quantity.
struct Share {
  double from = 0, to = 0;
};
/// Of the rise from the plateau to R_m: the first hardening line is fitted here.
inline constexpr Share kHardening{0.04, 0.2};

/// What was found on the curve. Indices; nothing here depends on the shifts of a budget. The peak is R_m.
struct Landmarks : LoadingEnd {
  std::optional<ElasticWindow> elastic;
  std::string school = "auto";
  bool fitted = true;                 ///< the slope is a least-squares line (auto, line, tangent)
  std::vector<Point> modulus_points;  ///< chord, secant, tangent: the points it rests on
  std::optional<Yielding> yielding;
  Stretch top;                      ///< flat stretch around it
  std::optional<SmoothTop> smooth;  ///< the top without its noise, MPa
  double top_standard = 0;          ///< of the strain at maximum force: it lies somewhere on that stretch
  double stress_noise = 0;
  bool outside = false;     ///< the first band started beyond the blades: yielding is seen on the crosshead
  double crosshead_ae = 0;  ///< yield point elongation by the crosshead, when `outside`
  double yield_stress = 0;  ///< yield-region stress the window was sought under
};

Inputs inputs_of(const TestRecord& record, const Shifts& shifts);
Landmarks landmarks_of(const StressCurve& curve, const TestRecord& record);

/// The record looked at once.
struct Test {
  StressCurve curve;
  Landmarks marks;
  Inputs in;
  Section section;
  std::vector<double> true_width = {};  ///< ln(1 + ε_w) of every sample, empty without a lateral strain
  bool empty() const { return curve.size() < 3; }
};

/// Every number of the method by result key; absent keys could not be computed. `errors`, when asked for: standard
/// errors that come from how a number is read off the samples (scatter of a fitted rate, choice of a range); under
/// shifts they are moved by "read:KEY".
Values compute(const TestRecord& record, const Test& test, const Shifts& shifts, Values* errors = nullptr);

/// 5.65·√S₀, mm, of an area in mm².
double proportional_length(double area);
/// The groups of `compute` that stand in files of their own: what is measured on the fitted halves, speeds, and what
/// comes after yielding. `moved`: the curve under the shifts of a budget.
void put_after(Values& v, const TestRecord& record, const Inputs& in);
void put_rates(Values& v, Values& errors, const StressCurve& moved, const Landmarks& marks, size_t yield_index);
void put_hardening(Values& v, Values& errors, const TestRecord& record, const Test& test, const StressCurve& moved,
                   double modulus, double origin);
/// Strain at which uniform hardening starts: the plateau's level met by the first hardening line (ISO 6892-1, A_e).
double hardening_start(const StressCurve& curve, const Landmarks& marks, double level, Share stretch);

/// How ISO 2566-1 (carbon and low-alloy steels, 300 to 700 MPa, hot-rolled, normalised or annealed) and ISO 2566-2
/// (austenitic steels, 450 to 750 MPa, solution-treated) convert an elongation, and why they may not.
struct Conversion {
  double exponent = 0;  ///< 0: none is standardised
  std::string why_not;  ///< outside what the standard covers, as the end of a sentence; empty: within
};
Conversion conversion_of(const TestRecord& record, double rm);

/// Limits (ratio) between which n is fitted, and why.
struct HardeningRange {
  double from = 0.02, to = 0.0;
  std::string why;
};
HardeningRange hardening_range(const TestRecord& record, const Values& values, const StressCurve& curve,
                               const Landmarks& marks);

void describe(Method& method);
std::vector<ResultSpec> results(const TestRecord& record);
std::optional<ResultSpec> result_spec(const std::string& key);
Plan plan(const TestRecord& record);
void add_inputs(const TestRecord& record, const Test& test, std::vector<UncertainInput>& inputs);
void add_findings(Evaluation& evaluation, const TestRecord& record, const Test& test, const Values& values);
void rate_findings(const TestRecord& record, const Test& test, const Values& values, Evaluation& evaluation);
void add_figures(Evaluation& evaluation, const TestRecord& record, const Test& test, const Values& values);
std::vector<Step> how(const std::string& key, const TestRecord& record, const Test& test, const Values& values);

/// Key of a proof strength: 0.2 % → "rp02", 1 % → "rp1", 0.15 % → "rp015".
std::string offset_key(double offset);
/// Offset of such a key, or empty. The first digit stands before the point: "rp12" is 1.2 %.
std::optional<double> offset_of_key(const std::string& key);
/// Whether a proof strength can be asked for at this offset: its key says it, from 0.0001 % to below 10 %.
bool offset_taken(double offset);

}  // namespace fortitor::tension
