// A piece with a cross-section loaded to its end, as a stress–strain curve with its peak and break: what tension of
// plastics and composites and compression have in common.
#pragma once

#include <cmath>

#include "core/methods/support/figures.h"
#include "core/methods/support/ledger.h"
#include "core/methods/support/loading.h"
#include "core/methods/support/stress_curve.h"
#include "core/section/section.h"

namespace fortitor {

struct Pulled : LoadingEnd {
  StressCurve curve;  ///< strain from the most trusted source; magnitudes in compression
  bool empty() const { return curve.size() < 3; }
  bool strained() const { return !empty() && curve.source != StrainSource::none; }
  /// First index at which strain reaches `strain`, up to the end; empty when it never does.
  std::optional<size_t> reaching(double strain) const;
  /// Stress at a strain on the loading branch, noise averaged; NaN when it is never reached.
  double stress_at(double strain) const;
};

/// `length`: what crosshead travel is divided by for strain (parallel length, grip separation, height).
Pulled pulled_of(const TestRecord& record, double length);
/// The same with another record's samples in place of its own (a mean of gauges).
Pulled pulled_of(const TestRecord& record, double length, const SamplesPtr& samples);
/// The same curve under the shifts of a budget: "force", "extension", "splice_…" and the readings of the section.
Pulled shifted(const Pulled& p, const TestRecord& record, const Shifts& shifts);
/// About `wanted` samples, for budgets.
Pulled thinned(const Pulled& p, size_t wanted);

/// Straight line between two strains: least squares, or the chord through the curve at both ends.
struct ModulusFit {
  double slope = NAN, from = 0, to = 0, error = 0;
  double toe = 0;        ///< where the line meets the strain axis
  double toe_error = 0;  ///< its standard error
  LineFit line;          ///< through all samples between its ends, where a chord is taken too
};
/// Strains count from `origin`.
std::optional<ModulusFit> modulus_between(const Pulled& p, double origin, double from, double to, bool chord);

/// Corrected origin of the strains: the intercept of the modulus line, found together with the window that counts
/// from it; the touch when there is no such line (docs/methods/tension-plastic.md).
struct Origin {
  double strain = 0;
  std::optional<ModulusFit> modulus;  ///< between origin + from and origin + to
};
Origin origin_of(const Pulled& p, double from, double to, bool chord);

/// Where strain begins, a choice of "settings.toe" and "settings.prestress". `corrected` (ASTM D638, annex): at the
/// foot of the modulus line. `preload` (ISO 527-1, 9.3): where the stress reaches the prestress that is stated, MPa;
/// nothing is taken off.
struct ToeSchool {
  bool preload = false;
  double prestress = 0;
};
ToeSchool toe_school(const TestRecord& record);
Origin origin_of(const Pulled& p, double from, double to, bool chord, const ToeSchool& school);
/// The two settings, for a method that has the choice.
void add_toe_school(Method& method);
/// Step of `toe_shift`.
Step toe_step(const Origin& origin, const ToeSchool& school, double toe);
/// prestress-large: beyond E/2000 the modulus no longer begins where the standard wants it.
void prestress_finding(Evaluation& e, const Origin& origin, const ToeSchool& school, const std::string& key);

/// Standard error of the strain's origin that comes from zeroing force and strain over the quiet stretch, as strain on
/// a line of that slope.
double zero_error(const StressCurve& c, double slope);

/// First index at which a force that starts from nothing is felt.
size_t touch_of(const std::vector<double>& force, size_t peak);

/// Findings about conditioning, zero, cell, samples and the source of strain. `planned_by_travel`: the crosshead is
/// where the strain is meant to come from, so that it is said once, as a note. `modulus`: key of the one that rests on
/// it.
void pulled_findings(Evaluation& e, const TestRecord& record, const Pulled& p, const std::string& key,
                     const std::string& direction, bool planned_by_travel, const std::string& modulus);
/// What a curve's source of strain allows: no-strain, modulus-from-crosshead (a note where travel was planned).
void strain_findings(Evaluation& e, StrainSource source, bool planned_by_travel, const std::string& modulus);
/// toe-large, beyond 0.05 % with an extensometer or gauge, 0.5 % with crosshead strain.
void toe_finding(Evaluation& e, StrainSource source, double toe);

/// Stress over strain as a sheet for the figure, origin at `toe`.
CurveSheet pulled_sheet(const Pulled& p, double toe, double lens);

}  // namespace fortitor
