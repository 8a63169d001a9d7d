#include "core/curve/shape.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <functional>

#include "core/curve/signal.h"

namespace fortitor {
std::optional<BreakPoint> find_break(const std::vector<double>& time, const std::vector<double>& force, size_t peak) {
  constexpr size_t kWithin = 5;         // samples, and …
  constexpr double kBreakTime = 0.050;  // … seconds in which a break is over; slow sampling compares neighbours
  constexpr double kFall = 0.4, kNothing = 0.02, kCarried = 0.05;  // of the largest force
  if (force.empty() || peak >= force.size()) return std::nullopt;
  const double top = force[peak];
  if (!(top > 0)) return std::nullopt;
  for (size_t i = peak + 1; i < force.size(); ++i) {
    for (size_t back = 1; back <= kWithin && back <= i - peak; ++back) {
      if (back > 1 && time[i] - time[i - back] > kBreakTime) break;
      if (force[i - back] - force[i] < kFall * top) continue;
      // The fall may have begun a few samples earlier: the last loaded sample is before all of it.
      const size_t from = i - std::min(kWithin, i - peak);
      const double carried = *std::max_element(force.begin() + long(from), force.begin() + long(i));
      size_t last = i - 1;
      while (last > from && force[last] < carried - kCarried * top) --last;
      return BreakPoint{last, i};
    }
    if (force[i] < kNothing * top) return BreakPoint{i - 1, i};
  }
  return std::nullopt;
}

size_t first_reaching(const std::vector<double>& y, size_t peak, double level) {
  for (size_t i = 0; i <= peak && i < y.size(); ++i)
    if (y[i] >= level) return i;
  return peak + 1;
}

std::optional<ElasticWindow> window_between(const std::vector<double>& strain, const std::vector<double>& stress,
                                            size_t peak, double from, double to) {
  if (from > to) std::swap(from, to);
  ElasticWindow w;
  w.first = first_reaching(stress, peak, from);
  w.last = std::min(first_reaching(stress, peak, to), peak) + 1;
  if (w.last < w.first + 2) return std::nullopt;
  const auto line = fit_line(strain, stress, w.first, w.last);
  if (!line || !(line->slope > 0)) return std::nullopt;
  w.line = *line;
  return w;
}

namespace {

constexpr size_t kReach = 12;  // samples on either side of a crossing that are looked at

// Noise of the strain touches the line long before the curve is there: with many samples the first touch lies where
// three times that noise is still missing, and R_p0.2 read there was half a per cent low. From the first touch to the
// last sample still above, the gap is noise about a slow fall: its line over the samples passes nought where the curve
// does, and that of the stress tells it there. Empty where nothing touched twice, and in a loop, where stress goes both
// ways.
std::optional<Crossing> between_touches(const std::vector<double>& stress, const std::function<double(size_t)>& gap,
                                        double slope, double shift, size_t from, size_t touch, size_t last) {
  size_t above = touch;
  for (size_t k = touch + 1; k < last && k - above <= kReach; ++k)
    if (gap(k) > 0) above = k;
  if (above == touch) return std::nullopt;
  const size_t a = touch > from + kReach ? touch - kReach : from, b = std::min(last, above + kReach + 1);
  constexpr double kHeld = 0.98, kClear = 8;  // below that share of the top, clear of the noise, the piece gives in
  std::vector<double> at, gaps, held;
  double top = -HUGE_VAL;
  const double noise = noise_of(stress, a, b);
  for (size_t k = a; k < b; ++k) {
    if (!std::isfinite(gap(k))) continue;
    top = std::max(top, stress[k]);
    if (stress[k] < kHeld * top - kClear * noise) return std::nullopt;
    at.push_back(double(k));
    gaps.push_back(gap(k));
    held.push_back(stress[k]);
  }
  const auto falls = fit_line(at, gaps), rises = fit_line(at, held);
  if (!falls || !rises || !(falls->slope < 0)) return std::nullopt;
  const double k = -falls->intercept / falls->slope;
  if (!(k >= double(a) && k <= double(b - 1))) return std::nullopt;
  const double r = rises->at(k);
  return Crossing{r / slope + shift, r, size_t(std::ceil(k))};
}

}  // namespace

std::optional<Crossing> offset_crossing(const std::vector<double>& strain, const std::vector<double>& stress,
                                        double slope, double origin, double offset, size_t from, size_t last) {
  last = std::min({last, strain.size(), stress.size()});
  const double shift = origin + offset;
  auto gap = [&](size_t i) { return stress[i] - slope * (strain[i] - shift); };
  for (size_t i = std::max<size_t>(from, 1); i < last; ++i) {
    if (!(gap(i) <= 0) || !(gap(i - 1) > 0)) continue;
    if (const auto steady = between_touches(stress, gap, slope, shift, from, i, last)) return steady;
    // Around the crossing the gap is a noisy straight line in strain; where several samples lie in
    // the band of its noise, the zero of the fitted line is steadier than the first touch.
    const double sigma = noise_of(stress, i > 50 ? i - 50 : 0, std::min(last, i + 50));
    const size_t a = i > from + kReach ? i - kReach : from, b = std::min(last, i + kReach);
    if (sigma > 0 && std::abs(gap(a) - gap(b - 1)) < 40 * sigma && b > a + 6) {
      double n = 0, mg = 0, me = 0, sgg = 0, sge = 0;
      for (size_t k = a; k < b; ++k) {
        n += 1;
        mg += gap(k);
        me += strain[k];
      }
      mg /= n, me /= n;
      for (size_t k = a; k < b; ++k) {
        const double g = gap(k) - mg;
        sgg += g * g;
        sge += g * (strain[k] - me);
      }
      if (sgg > 0 && sge < 0) {
        const double e = me - mg * sge / sgg;
        if (e >= strain[a] && e <= strain[b - 1] + (strain[b - 1] - strain[a]))
          return Crossing{e, slope * (e - shift), i};
      }
    }
    const double g0 = gap(i - 1), g1 = gap(i), f = g0 / (g0 - g1);
    return Crossing{strain[i - 1] + f * (strain[i] - strain[i - 1]), stress[i - 1] + f * (stress[i] - stress[i - 1]),
                    i};
  }
  return std::nullopt;
}

Stretch flat_top(const std::vector<double>& stress, size_t peak, double band, size_t end) {
  // Noise dips out of the band and back; a gap of up to 2 % of the samples does not end it.
  const size_t gap = std::max<size_t>(5, std::min(end, stress.size()) / 50);
  Stretch s{peak, peak};
  for (size_t i = peak, missed = 0; i-- > 0 && missed <= gap;) {
    missed = stress[i] >= stress[peak] - band ? 0 : missed + 1;
    if (missed == 0) s.first = i;
  }
  for (size_t i = peak + 1, missed = 0; i < end && missed <= gap; ++i) {
    missed = stress[i] >= stress[peak] - band ? 0 : missed + 1;
    if (missed == 0) s.last = i;
  }
  return s;
}

TopPlace top_place(const std::vector<double>& x, const std::vector<double>& y, size_t peak, double noise, size_t end) {
  TopPlace t;
  t.stretch = flat_top(y, peak, 3 * noise, end);
  auto span = [&](size_t a, size_t b) {
    const double d = std::abs(x[b] - x[a]);
    return std::isfinite(d) ? d : 0.0;
  };
  // Between two samples nothing was read either.
  const size_t before = peak > 0 ? peak - 1 : peak, after = peak + 1 < std::min(end, x.size()) ? peak + 1 : peak;
  t.standard = std::max(0.5 * span(t.stretch.first, t.stretch.last), 0.5 * span(before, after)) / std::sqrt(3.0);
  return t;
}

std::optional<SmoothTop> smooth_top(const std::vector<double>& y, size_t first, size_t end) {
  constexpr size_t kBlocks = 200, kLeast = 40, kOfTop = 8;
  constexpr double kBand = 0.99;
  end = std::min(end, y.size());
  if (end < first + kLeast) return std::nullopt;
  const size_t size = std::max<size_t>(5, (end - first) / kBlocks);
  std::vector<double> means;
  for (size_t at = first; at + size <= end; at += size) means.push_back(mean_of(y, at, at + size));
  const size_t best = size_t(std::max_element(means.begin(), means.end()) - means.begin());
  if (!(means[best] > 0)) return std::nullopt;
  size_t a = best, b = best;
  while (a > 0 && means[a - 1] >= kBand * means[best]) --a;
  while (b + 1 < means.size() && means[b + 1] >= kBand * means[best]) ++b;
  SmoothTop top;
  // What is left over behind the last block belongs to it.
  top.stretch = {first + a * size, b + 1 == means.size() ? end - 1 : first + (b + 1) * size - 1};
  // y ≈ c₀ + c₁u + c₂u², u from −1 to 1 over the stretch: normal equations of three.
  double s[5] = {}, t[3] = {}, squares = 0;
  const double middle = 0.5 * double(top.stretch.first + top.stretch.last),
               half = std::max(1.0, 0.5 * double(top.stretch.last - top.stretch.first));
  for (size_t i = top.stretch.first; i <= top.stretch.last; ++i) {
    if (!std::isfinite(y[i])) continue;
    const double u = (double(i) - middle) / half, d = y[i] - means[best];
    double power = 1;
    for (int k = 0; k < 5; ++k, power *= u) {
      s[k] += power;
      if (k < 3) t[k] += power * d;
    }
    squares += d * d;
    ++top.n;
  }
  if (top.n < kOfTop) return std::nullopt;
  const double det =
      s[0] * (s[2] * s[4] - s[3] * s[3]) - s[1] * (s[1] * s[4] - s[2] * s[3]) + s[2] * (s[1] * s[3] - s[2] * s[2]);
  if (!(std::abs(det) > 0)) return std::nullopt;
  const double c0 =
      (t[0] * (s[2] * s[4] - s[3] * s[3]) - s[1] * (t[1] * s[4] - s[3] * t[2]) + s[2] * (t[1] * s[3] - s[2] * t[2])) /
      det;
  const double c1 =
      (s[0] * (t[1] * s[4] - s[3] * t[2]) - t[0] * (s[1] * s[4] - s[2] * s[3]) + s[2] * (s[1] * t[2] - t[1] * s[2])) /
      det;
  const double c2 =
      (s[0] * (s[2] * t[2] - t[1] * s[3]) - s[1] * (s[1] * t[2] - t[1] * s[2]) + t[0] * (s[1] * s[3] - s[2] * s[2])) /
      det;
  const double at = c2 < 0 ? std::clamp(-c1 / (2 * c2), -1.0, 1.0) : c1 > 0 ? 1.0 : -1.0;
  top.value = means[best] + c0 + c1 * at + c2 * at * at;
  const double left = std::max(0.0, squares - c0 * t[0] - c1 * t[1] - c2 * t[2]);
  // A parabola's value is known to 1.5·σ/√n in its middle and 3·σ/√n at an end.
  top.error = 1.5 * (1 + std::abs(at)) * std::sqrt(left / double(top.n - 3) / double(top.n));
  return top;
}

double middle_of(const std::vector<double>& x, const Stretch& s) {
  return 0.5 * (x[s.first] + x[s.last]);
}

}  // namespace fortitor
