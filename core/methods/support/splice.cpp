#include "core/methods/support/splice.h"

#include <algorithm>
#include <cmath>

#include "core/methods/support/stress_curve.h"

namespace fortitor {
namespace {

constexpr double kApart = 1e-6;      // of the determinant: below it strain and force run together
constexpr double kLengthOff = 0.02;  // of the length: fillets and heads give a little; nobody measured how much
constexpr double kEnteredOff = 0.1;  // of an entered stiffness
constexpr double kBothRead = 0.3;    // of the largest force: the foot, with slack and seating, says nothing
constexpr size_t kSpliceLeast = 12;  // readings that a fit wants
constexpr double kShortest = 0.8, kLongest = 1.35;  // of the parallel length: another is no length of the piece
constexpr double kLengthSure = 0.03;                // relative error beyond which a fitted length is none
constexpr double kLengthLeast = 0.005, kStiffnessLeast = 0.03;  // relative errors that a fit is not trusted below
constexpr double kTried = 0.01;  // relative change of the stiffness that shows what the length takes over

// Normal equations of Δx = c + L·e + F/k for as many of L and 1/k as are asked for (Gauss, by Cramer's rule for two
// unknowns about the means). Sums run about the means, so that nothing cancels.
struct SpliceFit {
  double length = 0, length_error = 0, compliance = 0, compliance_error = 0;
};
std::optional<SpliceFit> fit_splice(const std::vector<double>& x, const std::vector<double>& e,
                                    const std::vector<double>& f) {
  const double n = double(x.size());
  if (x.size() < kSpliceLeast) return std::nullopt;
  double mx = 0, me = 0, mf = 0;
  for (size_t i = 0; i < x.size(); ++i) {
    mx += x[i] / n;
    me += e[i] / n;
    mf += f[i] / n;
  }
  double see = 0, sef = 0, sff = 0, sex = 0, sfx = 0;
  for (size_t i = 0; i < x.size(); ++i) {
    const double de = e[i] - me, df = f[i] - mf, dx = x[i] - mx;
    see += de * de;
    sef += de * df;
    sff += df * df;
    sex += de * dx;
    sfx += df * dx;
  }
  const double det = see * sff - sef * sef;
  if (!(det > kApart * see * sff)) return std::nullopt;  // strain and force run together: nothing tells them apart
  SpliceFit r;
  r.length = (sex * sff - sfx * sef) / det;
  r.compliance = (sfx * see - sex * sef) / det;
  double sse = 0;
  for (size_t i = 0; i < x.size(); ++i) {
    const double d = (x[i] - mx) - r.length * (e[i] - me) - r.compliance * (f[i] - mf);
    sse += d * d;
  }
  const double s2 = sse / std::max(1.0, n - 3);
  r.length_error = std::sqrt(s2 * sff / det);
  r.compliance_error = std::sqrt(s2 * see / det);
  return r;
}

// Whether the piece stretched where force did not follow: only that tells its length from the stiffness of the machine.
// Up to 0.6 % a polymer is a spring in series with others, and a length fitted there made every strain after the
// extensometer 8 % too long, beside a U of 1 %.
constexpr double kFlow = 0.0025;  // strain off the line of the force: plastic, no curvature of the elastic part
bool flowed(const std::vector<double>& strain, const std::vector<double>& force) {
  const auto line = fit_line(force, strain);
  if (!line) return false;
  double low = HUGE_VAL, high = -HUGE_VAL;
  for (size_t i = 0; i < strain.size(); ++i) {
    const double rest = strain[i] - line->intercept - line->slope * force[i];
    low = std::min(low, rest), high = std::max(high, rest);
  }
  return high - low > kFlow;
}

}  // namespace

Splice splice_of(const StressCurve& c, const std::vector<double>& x, size_t removed, double entered, double parallel) {
  Splice s;
  s.used = true;
  s.length = parallel;
  s.length_error = kLengthOff * parallel;
  s.stiffness = entered;
  s.stiffness_entered = entered > 0;
  s.stiffness_error = kEnteredOff * entered;
  const double top = *std::max_element(c.force.begin(), c.force.begin() + long(removed) + 1);
  std::vector<double> dx, e, f;
  for (size_t i = c.zero.quiet; i <= removed; ++i) {
    if (c.force[i] < kBothRead * top || !std::isfinite(c.strain[i]) || !std::isfinite(x[i])) continue;
    dx.push_back(x[i]);
    e.push_back(c.strain[i]);
    f.push_back(c.force[i]);
  }
  if (dx.size() < kSpliceLeast) return s;
  if (entered > 0) {
    auto line_with = [&](double stiffness) {
      std::vector<double> net(dx.size());
      for (size_t i = 0; i < dx.size(); ++i) net[i] = dx[i] - f[i] / stiffness;
      return fit_line(e, net);
    };
    const auto line = line_with(entered), stiffer = line_with((1 + kTried) * entered);
    if (line && flowed(e, f) && line->slope > kShortest * parallel && line->slope < kLongest * parallel) {
      s.length = line->slope;
      s.length_error = std::max(line->slope_error, kLengthLeast * line->slope);
      s.length_fitted = true;
      // Hardening and strain grow together: what the stiffness has wrong, the fitted length takes over.
      if (stiffer) s.length_per_stiffness = (stiffer->slope - line->slope) / kTried;
    }
    return s;
  }
  const auto both = flowed(e, f) ? fit_splice(dx, e, f) : std::nullopt;
  if (both && both->length > kShortest * parallel && both->length < kLongest * parallel &&
      both->length_error < kLengthSure * both->length) {
    s.length = both->length;
    s.length_error = std::max(both->length_error, kLengthLeast * both->length);
    s.length_fitted = true;
  }
  // With the length settled the stiffness follows from the part that is still elastic.
  std::vector<double> rest(dx.size());
  for (size_t i = 0; i < dx.size(); ++i) rest[i] = dx[i] - s.length * e[i];
  if (const auto line = fit_line(f, rest); line && line->slope > 0) {
    s.stiffness = 1 / line->slope;
    s.stiffness_error = std::max(line->slope_error / line->slope, kStiffnessLeast) * s.stiffness;
  }
  return s;
}

double spliced(const StressCurve& c, size_t i, double length, double compliance) {
  const size_t r = c.removed_index;
  return c.strain[r] + (c.crosshead[i] - c.crosshead[r] - (c.force[i] - c.force[r]) * compliance) / length;
}

}  // namespace fortitor
