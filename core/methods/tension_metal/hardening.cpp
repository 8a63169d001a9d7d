// What a metal does after it has yielded: where its hardening starts, n and K (ISO 10275), r (ISO 10113).
#include <algorithm>
#include <cmath>

#include "core/methods/tension_metal/model.h"

namespace fortitor::tension {
namespace {

constexpr double kLeastRise = 0.01;  // of the plateau: a flatter piece shows no hardening to draw a line through
constexpr size_t kPoints = 200;      // the fit of n rests on
constexpr size_t kLeastPoints = 5;   // fewer say nothing of a line's scatter
constexpr Share kFixed{0.10, 0.20};  // strains of the range "10-20" (ISO 10275)

}  // namespace

// By the steepest slope after the plateau.
double hardening_start(const StressCurve& c, const Landmarks& m, double level, Share share) {
  const auto &e = c.strain, &r = c.stress;
  const Yielding& y = *m.yielding;
  const double rise = r[m.peak] - level;
  const double fallback = e[y.plateau_end];
  if (!(rise > kLeastRise * level)) return fallback;
  size_t a = y.plateau_end, b = y.plateau_end;
  while (a < m.peak && r[a] < level + share.from * rise) ++a;
  b = a;
  while (b < m.peak && r[b] < level + share.to * rise) ++b;
  const auto line = fit_line(e, r, a, b + 1);
  if (!line) return fallback;
  const double met = (level - line->intercept) / line->slope;
  return met > e[y.upper] && met < e[b] ? met : fallback;
}

void put_hardening(Values& v, Values& errors, const TestRecord& record, const Test& test, const StressCurve& moved,
                   double modulus, double origin) {
  const Landmarks& m = test.marks;
  const auto &e = moved.strain, &r = moved.stress;
  const HardeningRange range = hardening_range(record, v, test.curve, m);
  if (!(range.to > range.from)) return;
  // Points equally spaced in engineering strain, each the mean of the samples around it: neither the sampling rate nor
  // a change of speed moves the fit (docs/methods/tension-metal.md).
  const double step = (range.to - range.from) / double(kPoints);
  struct Bin {
    double strain = 0, stress = 0;
    size_t n = 0;
  };
  std::vector<Bin> bins(kPoints);
  // The stretch of a flat top lies on both sides of A_g.
  for (size_t i = m.elastic->last; i <= std::max(m.peak, m.top.last) && i < m.end; ++i) {
    const double eng = e[i] - origin;
    if (!(eng >= range.from) || eng >= range.to) continue;
    Bin& b = bins[std::min(kPoints - 1, size_t((eng - range.from) / step))];
    b.strain += eng;
    b.stress += r[i];
    ++b.n;
  }
  std::vector<double> x, y;
  for (const Bin& b : bins) {
    if (b.n == 0) continue;
    const double eng = b.strain / double(b.n), true_stress = b.stress / double(b.n) * (1 + eng);
    const double plastic = std::log1p(eng) - true_stress / modulus;
    if (!(plastic > 0) || !(true_stress > 0)) continue;
    x.push_back(std::log(plastic));
    y.push_back(std::log(true_stress));
  }
  if (x.size() < kLeastPoints) return;
  if (const auto f = fit_line(x, y)) {
    v[key::n_value] = f->slope;
    v[key::k_strength] = std::exp(f->intercept);
    // Scatter of the points about their own smooth course: the bend of a real curve on these axes is no error of n.
    double mean = 0, spread = 0;
    for (double t : x) mean += t / double(x.size());
    for (double t : x) spread += (t - mean) * (t - mean);
    const double scatter = noise_of_bent(y, 0, y.size());
    errors[key::n_value] = scatter / std::sqrt(spread);
    errors[key::k_strength] = v[key::k_strength] * scatter * std::sqrt(1 / double(x.size()) + mean * mean / spread);
  }
  if (test.true_width.empty()) return;
  // ε_w = −m·ε_l, constant volume: r = ε_w/ε_t = m/(1 − m) (ISO 10113, by regression).
  std::vector<double> length, width;
  for (size_t i = m.elastic->last; i <= m.peak; ++i) {
    const double eng = e[i] - origin;
    if (!(eng >= range.from) || eng > range.to || !std::isfinite(test.true_width[i])) continue;
    length.push_back(std::log1p(eng));
    width.push_back(test.true_width[i]);
  }
  if (length.size() < kLeastPoints) return;
  if (const auto f = fit_line(length, width)) {
    const double narrowing = -f->slope;
    if (narrowing > 0 && narrowing < 1) v[key::r_value] = narrowing / (1 - narrowing);
  }
}

HardeningRange hardening_range(const TestRecord& record, const Values& v, const StressCurve& c, const Landmarks& m) {
  HardeningRange range;
  const bool fixed_range = record.fields.text("settings.hardening.range") == "10-20";
  const auto ag = v.find(key::ag);
  range.to = ag == v.end() ? 0 : ag->second;
  if (fixed_range) {
    range.from = kFixed.from;
    range.to = std::min(range.to, kFixed.to);
    range.why = "10 % to 20 %";
    return range;
  }
  range.why = "2 % to A_g";
  if (m.yielding && m.elastic) {
    const double origin = -m.elastic->line.intercept / m.elastic->line.slope;
    const double plateau = hardening_start(c, m, m.yielding->plateau, kHardening) - origin;
    if (plateau > range.from) {
      range.from = plateau;
      range.why = "end of the plateau to A_g";
    }
  }
  return range;
}

}  // namespace fortitor::tension
