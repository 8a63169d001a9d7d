#include "core/fatigue/smooth.h"

#include <algorithm>
#include <cmath>

namespace fortitor::fatigue {

LowPass::LowPass(double cut, double rate) {
  if (!(cut > 0) || !(cut < rate / 2)) {
    all_ = true;
    return;
  }
  const double k = std::tan(M_PI * cut / rate);
  double radius = 0;
  for (size_t s = 0; s < 2; ++s) {
    const double damping = std::cos(M_PI / 8 * (s == 0 ? 1 : 3));  // pairs of poles of order 4
    const double norm = 1 / (1 + 2 * damping * k + k * k);
    sections_[s] = {k * k * norm, 2 * (k * k - 1) * norm, (1 - 2 * damping * k + k * k) * norm};
    // Poles of a pair: complex, so their product is the square of the radius.
    radius = std::max(radius, std::sqrt(std::abs(sections_[s].a2)));
  }
  memory_ = size_t(std::ceil(std::log(1e-12) / std::log(std::min(radius, 1 - 1e-12)))) + 8;
}

// Direct form II transposed, both sections in one pass, started in the steady state of the first sample.
void LowPass::run(double* x, std::ptrdiff_t count, std::ptrdiff_t step) const {
  if (count == 0) return;
  const Section a = sections_[0], b = sections_[1];
  const double first = x[0];
  // Unity at rest: z₂ = (b₂ − a₂)·x, z₁ = (b₁ − a₁)·x + z₂.
  double p2 = (a.b0 - a.a2) * first, p1 = (2 * a.b0 - a.a1) * first + p2;
  double q2 = (b.b0 - b.a2) * first, q1 = (2 * b.b0 - b.a1) * first + q2;
  for (std::ptrdiff_t i = 0; i < count; ++i, x += step) {
    const double u = *x, bu = a.b0 * u;
    const double v = bu + p1;
    p1 = (2 * bu + p2) - a.a1 * v;
    p2 = bu - a.a2 * v;
    const double bv = b.b0 * v;
    const double w = bv + q1;
    q1 = (2 * bv + q2) - b.a1 * w;
    q2 = bv - b.a2 * w;
    *x = w;
  }
}

void LowPass::both_ways(std::vector<double>& x) const {
  both_ways(x, true, true);
}

void LowPass::both_ways(std::vector<double>& x, bool begins, bool ends) const {
  if (all_ || x.size() < 2) return;
  const size_t edge = std::min(kEdge, x.size() - 1), before = begins ? edge : 0, after = ends ? edge : 0;
  std::vector<double> long_x;
  long_x.reserve(x.size() + before + after);
  for (size_t i = before; i > 0; --i) long_x.push_back(2 * x.front() - x[i]);
  long_x.insert(long_x.end(), x.begin(), x.end());
  for (size_t i = 1; i <= after; ++i) long_x.push_back(2 * x.back() - x[x.size() - 1 - i]);
  const std::ptrdiff_t n = std::ptrdiff_t(long_x.size());
  run(long_x.data(), n, 1);
  run(long_x.data() + n - 1, n, -1);
  std::copy_n(long_x.begin() + std::ptrdiff_t(before), x.size(), x.begin());
}

}  // namespace fortitor::fatigue
