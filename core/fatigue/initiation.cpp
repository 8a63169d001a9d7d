#include "core/fatigue/initiation.h"

#include <algorithm>
#include <boost/math/distributions/fisher_f.hpp>
#include <cmath>

namespace fortitor::fatigue {
namespace {

// Least squares of y = a + b·x + c·max(0, x − t).
struct Bent {
  double a = 0, b = 0, c = 0, sse = HUGE_VAL;
};
Bent bent_at(const std::vector<double>& x, const std::vector<double>& y, double t) {
  double m[3][4] = {};
  for (size_t i = 0; i < x.size(); ++i) {
    const double v[3] = {1, x[i], std::max(0.0, x[i] - t)};
    for (int r = 0; r < 3; ++r) {
      for (int c = 0; c < 3; ++c) m[r][c] += v[r] * v[c];
      m[r][3] += v[r] * y[i];
    }
  }
  for (int k = 0; k < 3; ++k) {
    int best = k;
    for (int r = k + 1; r < 3; ++r)
      if (std::abs(m[r][k]) > std::abs(m[best][k])) best = r;
    std::swap(m[k], m[best]);
    if (!(std::abs(m[k][k]) > 1e-12)) return {};
    for (int r = 0; r < 3; ++r) {
      if (r == k) continue;
      const double f = m[r][k] / m[k][k];
      for (int c = k; c < 4; ++c) m[r][c] -= f * m[k][c];
    }
  }
  Bent l{m[0][3] / m[0][0], m[1][3] / m[1][1], m[2][3] / m[2][2], 0};
  for (size_t i = 0; i < x.size(); ++i) {
    const double r = y[i] - (l.a + l.b * x[i] + l.c * std::max(0.0, x[i] - t));
    l.sse += r * r;
  }
  return l;
}

// Standard error of the place t of the turn in y = a + b·x + c·max(0, x − t), linear about its fit (Seber and Wild
// 1989, section 9.3), and half the distance of the readings about it, over which a median of them rounds the corner.
double error_of_turn(const std::vector<double>& x, double bend, double t, double noise) {
  // Normal equations of (a, b, c, t); ∂y/∂t = −c beyond t. The last of the inverse by elimination.
  double m[4][4] = {}, apart = 0;
  for (size_t i = 0; i < x.size(); ++i) {
    const double on = x[i] > t ? 1 : 0, v[4] = {1, x[i], on * (x[i] - t), -bend * on};
    for (int r = 0; r < 4; ++r)
      for (int c = 0; c < 4; ++c) m[r][c] += v[r] * v[c];
    if (i > 0 && x[i - 1] <= t && x[i] >= t) apart = std::max(apart, x[i] - x[i - 1]);
  }
  for (int k = 0; k < 3; ++k) {
    if (!(std::abs(m[k][k]) > 1e-15)) return apart;
    for (int r = k + 1; r < 4; ++r)
      for (int c = 3; c >= k; --c) m[r][c] -= m[r][k] / m[k][k] * m[k][c];
  }
  return std::hypot(m[3][3] > 0 ? noise / std::sqrt(m[3][3]) : 0.0, 0.5 * apart);
}

}  // namespace

std::vector<double> running_median(const std::vector<double>& y, size_t of) {
  std::vector<double> out;
  for (size_t i = 0; i < y.size(); ++i) {
    const size_t half = std::min({of / 2, i, y.size() - 1 - i});
    std::vector<double> near(y.begin() + long(i - half), y.begin() + long(i + half + 1));
    std::nth_element(near.begin(), near.begin() + long(half), near.end());
    out.push_back(near[half]);
  }
  return out;
}

std::optional<Turn> turn_of(const std::vector<double>& cycles, const std::vector<double>& strain, double from,
                            double to) {
  std::vector<double> x, y;
  for (size_t i = 0; i < std::min(cycles.size(), strain.size()); ++i)
    if (std::isfinite(cycles[i]) && std::isfinite(strain[i]) && cycles[i] >= from && cycles[i] <= to)
      x.push_back(cycles[i]), y.push_back(strain[i]);
  if (x.size() < 8 || !(x.back() > x.front())) return std::nullopt;
  std::vector<double> raw = y;
  y = running_median(y, 5);
  // Cycles to 0…1, strain to its own spread: nothing in the sums is large against the rest.
  const double start = x.front(), span = x.back() - x.front();
  const auto [low, high] = std::minmax_element(y.begin(), y.end());
  const double size = *high - *low, zero = y.front();
  if (!(size > 0)) return std::nullopt;
  for (double& v : x) v = (v - start) / span;
  for (double& v : y) v = (v - zero) / size;
  for (double& v : raw) v = (v - zero) / size;
  Bent best;
  double at = 0;
  auto look = [&](double t) {
    const Bent b = bent_at(x, y, t);
    if (b.sse < best.sse) best = b, at = t;
  };
  for (size_t i = 2; i + 3 < x.size(); ++i)
    for (int k = 0; k < 4; ++k) look(x[i] + (x[i + 1] - x[i]) * k / 4.0);
  for (double step = 0.02; step > 1e-6; step /= 2)
    for (double t : {at - step, at + step})
      if (t > x[1] && t < x[x.size() - 2]) look(t);
  // The running median ties neighbours together; whether there is a turn at all the readings themselves must say, at
  // 0.1 %, since the best of many places was chosen.
  double n = double(x.size()), mx = 0, my = 0, sxx = 0, sxy = 0, plain = 0;
  for (size_t i = 0; i < x.size(); ++i) mx += x[i] / n, my += raw[i] / n;
  for (size_t i = 0; i < x.size(); ++i) sxx += (x[i] - mx) * (x[i] - mx), sxy += (x[i] - mx) * (raw[i] - my);
  for (size_t i = 0; i < x.size(); ++i) plain += std::pow(raw[i] - my - sxy / sxx * (x[i] - mx), 2);
  const Bent bent_fit = bent_at(x, raw, at);
  const double bent = bent_fit.sse, dof = n - 4;
  if (!(bent < plain)) return std::nullopt;
  if ((plain - bent) / 2 / std::max(bent / dof, 1e-18) < boost::math::quantile(boost::math::fisher_f(2, dof), 0.999))
    return std::nullopt;
  // A change of slope that moves the reading by less than its noise over the rest of the test is none.
  if (std::abs(best.c) * (1 - at) < 3 * std::sqrt(best.sse / dof)) return std::nullopt;
  return Turn{start + at * span, best.b * size / span, (best.b + best.c) * size / span,
              span * error_of_turn(x, bent_fit.c, at, std::sqrt(bent / dof))};
}

std::optional<Turn> first_turn_of(const std::vector<double>& cycles, const std::vector<double>& strain) {
  constexpr int kMost = 8;  // turns that are looked through
  double from = -HUGE_VAL;
  for (int i = 0; i < kMost; ++i) {
    std::optional<Turn> first = turn_of(cycles, strain, from);
    while (first) {
      const auto before = turn_of(cycles, strain, from, first->cycles);
      if (!before || !(before->cycles < first->cycles)) break;
      first = before;
    }
    // What a crack does goes on and quickens; what comes to rest was the weld, the gauge or the machine settling.
    if (!first || std::abs(first->after) > std::abs(first->before)) return first;
    if (!(first->cycles > from)) return std::nullopt;
    from = first->cycles;
  }
  return std::nullopt;
}

}  // namespace fortitor::fatigue
