#include "core/statistics/basis.h"

#include <algorithm>
#include <boost/math/distributions/binomial.hpp>
#include <boost/math/quadrature/gauss.hpp>
#include <boost/math/special_functions/beta.hpp>
#include <boost/math/tools/toms748_solve.hpp>
#include <cmath>

#include "core/quantity/format.h"
#include "core/statistics/least.h"

namespace fortitor::statistics {
namespace {

namespace bm = boost::math;

constexpr double kContentA = 0.99, kContentB = 0.90, kConfidence = 0.95;

// Factor V of the Weibull bounds, 95 %: √n·β̂·ln(q̂/q) has a distribution without parameters (Thoman, Bain and Antle
// 1970). Two million samples for each n up to 40, good to 0.1 %; beyond it CMH-17, 8.5.8, which then agrees to 0.3 %.
double weibull_factor(size_t n, bool a) {
  struct Row {
    double n, a, b;
  };
  static const Row rows[] = {{3, 37.865, 18.660}, {4, 24.321, 12.315}, {5, 19.288, 9.946},  {6, 16.681, 8.695},
                             {7, 15.033, 7.893},  {8, 13.945, 7.379},  {9, 13.156, 6.989},  {10, 12.554, 6.700},
                             {12, 11.677, 6.266}, {14, 11.064, 5.973}, {16, 10.616, 5.752}, {18, 10.273, 5.585},
                             {20, 10.000, 5.455}, {25, 9.485, 5.198},  {30, 9.148, 5.030},  {40, 8.713, 4.817},
                             {50, 8.428, 4.679}};
  const double x = double(n);
  const Row* next = std::begin(rows);
  while (next != std::end(rows) && next->n < x) ++next;
  if (next == std::end(rows))
    return a ? 6.649 + std::exp(2.55 - 0.526 * std::log(x) + 4.76 / x)
             : 3.803 + std::exp(1.79 - 0.516 * std::log(x) + 5.1 / (x - 1));
  const auto of = [&](const Row& r) { return a ? r.a : r.b; };
  if (next->n == x) return of(*next);
  const Row* last = next - 1;  // straight in 1/n between them
  const double t = (1 / last->n - 1 / x) / (1 / last->n - 1 / next->n);
  return of(*last) + t * (of(*next) - of(*last));
}

std::optional<Basis> of_normal(const std::vector<double>& values) {
  const Summary s = summarize(values);
  if (s.n < 3) return std::nullopt;
  Basis out;
  const double ka = tolerance_factor(s.n, kContentA), kb = tolerance_factor(s.n, kContentB);
  out.a = s.mean - ka * s.sd;
  out.b = s.mean - kb * s.sd;
  out.how_a = "x̄ − k_A·s, k_A = " + significant(ka, 4);
  out.how_b = "x̄ − k_B·s, k_B = " + significant(kb, 4);
  out.source = "one-sided tolerance factor, non-central t";
  return out;
}

std::optional<Basis> of_weibull(const std::vector<double>& values) {
  const auto w = weibull(values);
  if (!w) return std::nullopt;
  Basis out;
  out.model = BasisModel::weibull;
  const double n = double(values.size());
  auto bound = [&](bool a, std::string& how) {
    const double v = weibull_factor(values.size(), a);
    const double quantile = w->scale * std::pow(-std::log(a ? kContentA : kContentB), 1 / w->shape);
    how = "q·exp(−V/(β·√n)), q = " + significant(quantile, 4) + ", V = " + significant(v, 4) +
          ", β = " + significant(w->shape, 4);
    return quantile * std::exp(-v / (w->shape * std::sqrt(n)));
  };
  out.a = bound(true, out.how_a);
  out.b = bound(false, out.how_b);
  out.source = "Weibull by maximum likelihood; CMH-17, 8.3";
  return out;
}

// Order statistic of the extended Hanson–Koopmans method for the B-basis (CMH-17, table 8.5.14).
size_t partner(size_t n) {
  static const size_t r[] = {0, 0, 2, 3, 4, 4,  5,  5,  6,  6,  6,  7,  7,  7, 8,
                             8, 8, 8, 9, 9, 10, 10, 10, 11, 11, 11, 11, 11, 12};
  return r[n];
}

std::optional<Basis> without_shape(std::vector<double> values) {
  std::sort(values.begin(), values.end());
  const size_t n = values.size();
  if (n < 3) return std::nullopt;
  Basis out;
  out.model = BasisModel::nonparametric;
  out.source = "order statistics; Hanson and Koopmans 1964, Vangel 1994";
  auto bound = [&](double content, std::string& how) -> std::optional<double> {
    if (const size_t rank = nonparametric_rank(n, content); rank > 0) {
      how = "value no. " + std::to_string(rank) + " of " + std::to_string(n) + " in order";
      return values[rank - 1];
    }
    if (!(values.front() > 0)) return std::nullopt;
    const size_t r = content == kContentB && n <= 28 ? partner(n) : n;
    const double k = hanson_koopmans_factor(n, r, content);
    how = "x_(r)·(x_(1)/x_(r))^k, r = " + std::to_string(r) + ", k = " + significant(k, 4);
    return values[r - 1] * std::pow(values.front() / values[r - 1], k);
  };
  out.a = bound(kContentA, out.how_a);
  out.b = bound(kContentB, out.how_b);
  return out;
}

}  // namespace

std::optional<WeibullFit> weibull(const std::vector<double>& values) {
  const size_t n = values.size();
  if (n < 3) return std::nullopt;
  double logs = 0, most = 0, least = HUGE_VAL;
  for (double x : values) {
    if (!(x > 0) || !std::isfinite(x)) return std::nullopt;
    most = std::max(most, x);
    least = std::min(least, x);
    logs += std::log(x);
  }
  if (!(most / least > 1 + 1e-13)) return std::nullopt;
  logs = logs / double(n) - std::log(most);
  // Values are taken in parts of the largest: their powers neither overflow nor vanish together.
  const auto slope = [&](double b) {
    double power = 0, weighted = 0;
    for (double x : values) {
      const double l = std::log(x / most), p = std::exp(b * l);
      power += p;
      weighted += p * l;
    }
    return weighted / power - 1 / b - logs;
  };
  double low = 1e-3, high = 1;
  while (slope(high) < 0 && high < 1e14) high *= 4;
  std::uintmax_t steps = 200;
  const auto [a, b] = bm::tools::toms748_solve(slope, low, high, bm::tools::eps_tolerance<double>(48), steps);
  WeibullFit w;
  w.shape = 0.5 * (a + b);
  double power = 0;
  for (double x : values) power += std::pow(x / most, w.shape);
  w.scale = most * std::pow(power / double(n), 1 / w.shape);
  w.p = NAN;
  if (n < 5) return w;
  std::vector<double> sorted = values;
  std::sort(sorted.begin(), sorted.end());
  double sum = 0;
  for (size_t i = 0; i < n; ++i) {
    const double z = std::pow(sorted[i] / w.scale, w.shape), back = std::pow(sorted[n - 1 - i] / w.scale, w.shape);
    sum += (1 - 2 * (double(i) + 1)) / double(n) * (std::log(std::max(-std::expm1(-z), kLeast)) - back);
  }
  const double ad = (sum - double(n)) * (1 + 0.2 / std::sqrt(double(n)));
  w.p = ad > 0 ? 1 / (1 + std::exp(-0.10 + 1.24 * std::log(ad) + 4.48 * ad)) : 1;
  return w;
}

double hanson_koopmans_factor(size_t n, size_t r, double content, double confidence) {
  if (r < 2 || r > n || !(content > 0 && content < 1) || !(confidence > 0 && confidence < 1)) return NAN;
  // With F(x) = eˣ below 0 the values are −E, E exponential. The one that counts, E₍m₎ with m = n − r + 1 from below,
  // and the distance of the largest from it are independent; the distance is the largest of r − 1 exponentials (Rényi
  // 1953).
  const double beyond = -std::log(1 - content);  // −log F of the quantile
  const size_t m = n - r + 1;
  const auto holds = [&](double k) {
    // P(E₍m₎ + k·M ≥ beyond). In u = 1 − exp(−E₍m₎) the order statistic is a beta.
    const double edge = 1 - std::exp(-beyond);
    const auto at = [&](double u) {
      const double rest = (beyond + std::log1p(-u)) / k;
      return bm::ibeta_derivative(double(m), double(n - m + 1), u) * (1 - std::pow(-std::expm1(-rest), double(r) - 1));
    };
    double sum = 0;
    constexpr int kPanels = 12;
    for (int i = 0; i < kPanels; ++i)
      sum += bm::quadrature::gauss<double, 20>::integrate(at, edge * i / kPanels, edge * (i + 1) / kPanels);
    return sum + bm::ibetac(double(m), double(n - m + 1), edge);
  };
  double high = 2;
  while (holds(high) < confidence && high < 1e9) high *= 2;
  std::uintmax_t steps = 200;
  const auto [a, b] = bm::tools::toms748_solve([&](double k) { return holds(k) - confidence; }, 1e-6, high,
                                               bm::tools::eps_tolerance<double>(40), steps);
  return 0.5 * (a + b);
}

size_t nonparametric_rank(size_t n, double content, double confidence) {
  if (n == 0) return 0;
  const bm::binomial below(double(n), 1 - content);
  size_t r = 0;
  while (r < n && bm::cdf(bm::complement(below, double(r))) >= confidence) ++r;  // P(Bin > r) = P(Bin ≥ r + 1)
  return r;
}

std::optional<Basis> basis_by(BasisModel model, const std::vector<double>& values) {
  const Summary s = summarize(values);
  if (s.n < 3 || s.n != values.size() || !(s.sd > 1e-14 * std::abs(s.mean))) return std::nullopt;
  if (model == BasisModel::normal) return of_normal(values);
  if (model == BasisModel::weibull) return of_weibull(values);
  return without_shape(values);
}

std::optional<Basis> basis_with_bounds(const CensoredFit& fit) {
  if (fit.measured < 3 || !(fit.sd > 0)) return std::nullopt;
  const double n = double(fit.measured), sd = fit.sd * std::sqrt(n / (n - 1));
  Basis out;
  out.source = "normal by maximum likelihood with its bounds; factor by the non-central t of the measured ones";
  auto bound = [&](double content, std::string& how) {
    const double k = tolerance_factor(fit.measured, content);
    how = "μ − k·σ, k = " + significant(k, 4) + ", " + std::to_string(fit.measured) + " measured";
    return fit.mean - k * sd;
  };
  out.a = bound(kContentA, out.how_a);
  out.b = bound(kContentB, out.how_b);
  return out;
}

std::optional<Basis> basis(const std::vector<double>& values) {
  const auto normal = anderson_darling(values);
  if (!normal || normal->p >= 0.05) return basis_by(BasisModel::normal, values);
  if (const auto w = weibull(values); w && w->p >= 0.05) return basis_by(BasisModel::weibull, values);
  return basis_by(BasisModel::nonparametric, values);
}

std::optional<Basis> lower_rival(const std::vector<double>& values) {
  constexpr double kAsLikely = 0.15;
  const auto normal = basis_by(BasisModel::normal, values), weibull_basis = basis_by(BasisModel::weibull, values);
  const auto w = weibull(values);
  if (!normal || !weibull_basis || !w || w->p < 0.05 || !(*weibull_basis->a < *normal->a)) return std::nullopt;
  const double n = double(values.size());
  const double sd = summarize(values).sd * std::sqrt((n - 1) / n);
  double by_normal = -n * (std::log(sd) + 0.5 * std::log(2 * M_PI) + 0.5), by_weibull = 0;
  for (double x : values) {
    const double z = std::log(x / w->scale);
    by_weibull += std::log(w->shape / w->scale) + (w->shape - 1) * z - std::exp(w->shape * z);
  }
  return by_weibull - by_normal >= std::log(kAsLikely / (1 - kAsLikely)) ? weibull_basis : std::nullopt;
}

}  // namespace fortitor::statistics
