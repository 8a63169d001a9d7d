// The straight part of a loading curve (docs/methods/tension-metal.md).
#include <algorithm>
#include <array>
#include <cmath>

#include "core/curve/shape.h"
#include "core/curve/signal.h"
#include "core/statistics/least.h"
#include "core/statistics/sample.h"

namespace fortitor {
namespace {

constexpr double kGoodSlopeError = 0.01;  // relative
constexpr double kGoodBend = 0.01;        // change of the slope from end to end
constexpr double kSignificance = 0.01;
// Between these parts of the stress where it yields the straight part is looked for: below it seats, above it bends.
constexpr double kFromStress = 0.05, kSpan = 0.55;
constexpr double kUpTo = 0.61;                       // a sample beyond, so that the last window has its end
constexpr double kLoopNoise = 8, kLoopShare = 0.03;  // a fall by as many deviations and this share unloads
constexpr double kNearSteepest = 0.7;                // of the steepest slope: less is not the same straight part
constexpr int kGrid = 110;                           // window ends every 0.5 % of the yield-region stress
constexpr int kLeastWidth = kGrid / 5;
constexpr size_t kLeastSamples = 8;

// Whether a t of that size is significant at 1 %, two-sided. Thousands of windows ask: the expansion of the quantile in
// 1/ν (Abramowitz and Stegun 26.7.5) decides unless t lies within a hundredth of it.
bool significant_at_1(double t, double dof) {
  constexpr double z = 2.5758293;
  if (t < z) return false;
  if (dof >= 8) {
    const double z3 = z * z * z, z5 = z3 * z * z;
    const double quantile = z + (z3 + z) / (4 * dof) + (5 * z5 + 16 * z3 + 3 * z) / (96 * dof * dof);
    if (std::abs(t / quantile - 1) > 0.01) return t > quantile;
  }
  return statistics::t_two_sided(t, dof) <= kSignificance;
}

// The samples of the first loading up to index `last`: where stress falls well below what it had reached, everything up
// to its return is an unloading loop and left out.
std::vector<size_t> first_loading(const std::vector<double>& stress, size_t last, double depth, bool& loop) {
  std::vector<size_t> kept;
  double top = -HUGE_VAL;
  bool below = false;
  for (size_t i = 0; i <= last; ++i) {
    if (!std::isfinite(stress[i])) continue;
    if (!below && stress[i] < top - depth) {
      below = loop = true;
      // The turn itself belongs to the loop: back to where the top was reached.
      while (!kept.empty() && stress[kept.back()] < top) kept.pop_back();
    }
    if (below && stress[i] < top) continue;
    below = false;
    top = std::max(top, stress[i]);
    kept.push_back(i);
  }
  return kept;
}

using Grid = std::array<size_t, kGrid + 1>;

// Running sums up to the fourth power of a scaled strain, which give the line and the parabola between any two places
// of a grid in constant time. u runs from −1 to 1 over the whole range, so that the sums stay well conditioned. Kept is
// what stands at the grid alone: sums at every sample would be ten times the curve.
class BentSums {
 public:
  /// By number of the grid, ascending: the samples at which windows begin, and those before which they end.
  BentSums(const std::vector<double>& x, const std::vector<double>& y, const Grid& begins, const Grid& ends)
      : begins_(begins), ends_(ends) {
    const auto [lo, hi] = std::minmax_element(x.begin(), x.end());
    centre_ = 0.5 * (*lo + *hi);
    half_ = std::max(0.5 * (*hi - *lo), kLeast);
    const auto [ylo, yhi] = std::minmax_element(y.begin(), y.end());
    y0_ = 0.5 * (*ylo + *yhi);
    Sums s;
    size_t from = 0, to = 0;
    for (size_t i = 0; i <= x.size(); ++i) {
      while (from < begins.size() && begins[from] == i) from_[from++] = s;
      while (to < ends.size() && ends[to] == i) to_[to++] = s;
      if (i == x.size()) break;
      const double u = (x[i] - centre_) / half_, v = y[i] - y0_;
      double p = 1;
      for (int k = 0; k < 5; ++k, p *= u) s.u[size_t(k)] += p;
      s.v += v;
      s.vu += v * u;
      s.vuu += v * u * u;
      s.vv += v * v;
    }
  }

  struct Fit {
    LineFit line;
    double bend = 0;  ///< change of the slope from end to end, relative
    double t = 0;     ///< of the quadratic term
    double dof = 1;
  };
  std::optional<Fit> fit(size_t from, size_t to, double span) const {
    const Sums &a = from_[from], &b = to_[to];
    const double n = double(ends_[to] - begins_[from]);
    if (n < 4) return std::nullopt;
    // Moments about the mean of the window.
    std::array<double, 5> u{};
    for (size_t k = 0; k < 5; ++k) u[k] = b.u[k] - a.u[k];
    const double m = u[1] / n, sv = b.v - a.v, mv = sv / n;
    const double s2 = u[2] - n * m * m;
    const double s3 = u[3] - 3 * m * u[2] + 3 * m * m * u[1] - n * m * m * m;
    const double s4 = u[4] - 4 * m * u[3] + 6 * m * m * u[2] - 4 * m * m * m * u[1] + n * m * m * m * m;
    const double vu = (b.vu - a.vu) - m * sv;
    const double vuu = (b.vuu - a.vuu) - 2 * m * (b.vu - a.vu) + m * m * sv;
    const double vv = (b.vv - a.vv) - n * mv * mv;
    if (!(s2 > 0)) return std::nullopt;
    Fit f;
    const double slope = vu / s2;
    const double rss = std::max(0.0, vv - slope * vu);
    f.line.n = size_t(n);
    f.line.slope = slope / half_;
    f.line.intercept = mv + y0_ - slope * m - f.line.slope * centre_;
    f.line.r2 = vv > 0 ? 1 - rss / vv : 0;
    f.line.residual_sd = std::sqrt(rss / (n - 2));
    f.line.slope_error = f.line.residual_sd / std::sqrt(s2) / half_;
    // The part of u² that is neither constant nor linear, and what it explains.
    const double q = s4 - s2 * s2 / n - s3 * s3 / s2;
    const double vq = vuu - mv * s2 - slope * s3;
    if (q > 1e-12 * std::max(s4, kLeast)) {
      const double c = vq / q, left = std::max(0.0, rss - c * vq), dof = n - 3;
      f.bend = std::abs(2 * c / half_ * span / half_) / std::max(std::abs(f.line.slope), kLeast);
      const double error = std::sqrt(left / dof / q);
      f.t = error > 0 ? std::abs(c / error) : (c == 0 ? 0.0 : HUGE_VAL);
      f.dof = dof;
    }
    return f;
  }

 private:
  struct Sums {
    std::array<double, 5> u{};
    double v = 0, vu = 0, vuu = 0, vv = 0;
  };
  double centre_ = 0, half_ = 1, y0_ = 0;
  Grid begins_, ends_;
  std::array<Sums, kGrid + 1> from_{}, to_{};
};

}  // namespace

std::optional<ElasticWindow> auto_window(const std::vector<double>& strain, const std::vector<double>& stress,
                                         size_t peak, double yield_stress, bool steepest_only) {
  if (!(yield_stress > 0) || peak == 0) return std::nullopt;
  const size_t end = std::min(first_reaching(stress, peak, kUpTo * yield_stress), peak);
  const double sigma = noise_of(stress, 0, end + 1);
  bool loop = false;
  std::vector<size_t> index = first_loading(stress, end, std::max(kLoopNoise * sigma, kLoopShare * yield_stress), loop);
  std::erase_if(index, [&](size_t i) { return !std::isfinite(strain[i]); });
  // Index at which each grid level is first reached.
  Grid at{};
  size_t i = 0;
  for (int k = 0; k <= kGrid; ++k) {
    const double level = yield_stress * (kFromStress + kSpan * k / kGrid);
    while (i < index.size() && !(stress[index[i]] >= level)) ++i;
    at[size_t(k)] = i;
  }
  const size_t first = at[0], last = std::min(at[kGrid] + 1, index.size());
  if (last < first + 3) return std::nullopt;
  std::vector<double> x, y;
  x.reserve(last - first);
  y.reserve(last - first);
  for (size_t k = first; k < last; ++k) {
    x.push_back(strain[index[k]]);
    y.push_back(stress[index[k]]);
  }
  Grid begins{}, ends{};
  for (size_t k = 0; k < at.size(); ++k) {
    begins[k] = at[k] - first;
    ends[k] = std::min(at[k] + 1, last) - first;
  }
  const BentSums sums(x, y, begins, ends);
  struct Candidate {
    size_t lo, hi;
    int width;
    LineFit line;
  };
  std::vector<Candidate> good;
  std::optional<Candidate> fallback;
  for (int a = 0; a + kLeastWidth <= kGrid; ++a)
    for (int b = kGrid; b >= a + kLeastWidth; --b) {
      const size_t lo = begins[size_t(a)], hi = ends[size_t(b)];
      if (hi < lo + kLeastSamples) continue;
      const auto fit = sums.fit(size_t(a), size_t(b), std::abs(x[hi - 1] - x[lo]));
      if (!fit || !(fit->line.slope > 0)) continue;
      const Candidate c{lo, hi, b - a, fit->line};
      const bool straight = fit->bend < kGoodBend || !significant_at_1(fit->t, fit->dof);
      const double error = fit->line.slope_error / fit->line.slope;
      if (straight && error <= kGoodSlopeError) good.push_back(c);
      if (!fallback || error < fallback->line.slope_error / fallback->line.slope) fallback = c;
    }
  double steepest = 0;
  for (const Candidate& c : good) steepest = std::max(steepest, c.line.slope);
  const Candidate* best = nullptr;
  for (const Candidate& c : good) {
    if (steepest_only && c.line.slope < kNearSteepest * steepest) continue;
    const bool wider = best == nullptr || c.width > best->width;
    const bool straighter = best != nullptr && c.width == best->width && c.line.r2 > best->line.r2;
    if (wider || straighter) best = &c;
  }
  const bool poor = best == nullptr;
  if (poor && !fallback) return std::nullopt;
  if (poor) best = &*fallback;
  ElasticWindow w;
  w.first = index[first + best->lo];
  w.last = index[first + best->hi - 1] + 1;
  w.poor = poor;
  w.loop = loop;
  w.line = fit_line(x, y, best->lo, best->hi).value_or(best->line);
  // How far the slope moves when the window moves by what would also do: those at least half as wide.
  double sum = 0, square = 0, n = 0;
  for (const Candidate& c : good) {
    if (2 * c.width < best->width || (steepest_only && c.line.slope < kNearSteepest * steepest)) continue;
    sum += c.line.slope;
    square += c.line.slope * c.line.slope;
    n += 1;
  }
  if (n > 1) w.spread = std::sqrt(std::max(0.0, square / n - sum / n * (sum / n))) / w.line.slope;
  return w;
}

}  // namespace fortitor
