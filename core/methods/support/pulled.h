// A piece with a cross-section loaded to its end, as a stress–strain curve: what tension of plastics and
// composites and compression have in common with tension of metals.
#pragma once

#include <cmath>

#include "core/methods/support/ledger.h"
#include "core/methods/support/loading.h"
#include "core/methods/tension_metal/model.h"

namespace fortitor {

struct Pulled {
  tension::Curve curve;  ///< strain from the most trusted source; magnitudes in compression
  size_t peak = 0;
  std::optional<BreakPoint> fracture;
  size_t end = 0;
  bool empty() const { return curve.size() < 3; }
  /// First index at which strain reaches `strain`, up to the end; empty when it never does.
  std::optional<size_t> reaching(double strain) const;
  /// Stress at a strain on the loading branch, noise averaged; NaN when it is never reached.
  double stress_at(double strain) const;
};

/// `length`: what crosshead travel is divided by for strain (parallel length, grip separation, height).
Pulled pulled_of(const TestRecord& record, double length);
/// The same curve scaled for a budget: stress by `stress`, strain by `strain`.
Pulled scaled(const Pulled& p, double stress, double strain);
/// About `wanted` samples, for budgets.
Pulled thinned(const Pulled& p, size_t wanted);

/// Straight line between two strains: least squares, or the chord through the curve at both ends.
struct ModulusFit {
  double slope = NAN, from = 0, to = 0, r2 = NAN, error = 0;
  double toe = 0;  ///< where the line meets the strain axis
};
std::optional<ModulusFit> modulus_between(const Pulled& p, double from, double to, bool chord);

/// Moves the origin of a crosshead strain to where the piece was touched: the gap before it is no strain.
/// The touch is the first sample above half a per cent of the largest force and above its noise.
void start_at_touch(Pulled& p);
/// First index at which a force that starts from nothing is felt.
size_t touch_of(const std::vector<double>& force, size_t peak);
/// The note that a run stopped before its end.
void censored_note(Evaluation& e, const TestRecord& record, const std::string& key);
/// What the common findings look at, from a stress–strain curve.
Loading as_loading(const tension::Curve& curve, size_t peak);
/// Zero, cell and sample findings.
void pulled_findings(Evaluation& e, const TestRecord& record, const Pulled& p, const std::string& key,
                     const std::string& direction);
/// Force class, strain source and section, with the names "force" and "extension".
void pulled_inputs(const TestRecord& record, const Pulled& p, const Section& section, std::vector<UncertainInput>& out);
/// Stress over strain as the figure data, origin at `toe`.
std::shared_ptr<CurveData> pulled_curve(const Pulled& p, double toe, double lens);

}  // namespace fortitor
