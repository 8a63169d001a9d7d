#include "core/statistics/groups.h"

#include <algorithm>
#include <boost/math/distributions/chi_squared.hpp>
#include <boost/math/distributions/fisher_f.hpp>
#include <boost/math/distributions/normal.hpp>
#include <boost/math/distributions/students_t.hpp>
#include <boost/math/quadrature/gauss.hpp>
#include <boost/math/tools/toms748_solve.hpp>
#include <cmath>

namespace fortitor::statistics {
namespace {

namespace bm = boost::math;

// Φ by the error function: asked for tens of thousands of times.
double phi(double z) {
  return 0.5 * std::erfc(-z / std::sqrt(2.0));
}

template <class F>
double panels(F f, double from, double to, int count) {
  double sum = 0;
  const double width = (to - from) / count;
  for (int i = 0; i < count; ++i)
    sum += bm::quadrature::gauss<double, 20>::integrate(f, from + i * width, from + (i + 1) * width);
  return sum;
}

// P(range of k standard normal values ≤ w).
double range_of_normals(double w, size_t k) {
  if (w <= 0) return 0;
  // The largest lies at z, the others between z − w and z. Beyond ± 8.5 nothing is left.
  const auto inside = [&](double z) {
    return std::exp(-0.5 * z * z) / std::sqrt(2 * M_PI) * std::pow(phi(z) - phi(z - w), double(k) - 1);
  };
  return std::min(1.0, double(k) * panels(inside, -8.5, 8.5, 6));
}

std::vector<size_t> filled(const Groups& groups) {
  std::vector<size_t> out;
  for (size_t g = 0; g < groups.size(); ++g)
    if (!groups[g].empty()) out.push_back(g);
  return out;
}

}  // namespace

std::optional<Anova> anova(const Groups& groups) {
  const std::vector<size_t> use = filled(groups);
  if (use.size() < 2) return std::nullopt;
  double n = 0, total = 0, within = 0, between = 0, size = 0;
  for (size_t g : use) {
    n += double(groups[g].size());
    for (double x : groups[g]) total += x, size = std::max(size, std::abs(x));
  }
  const double mean = total / n;
  for (size_t g : use) {
    const double m = mean_of(groups[g]);
    between += double(groups[g].size()) * (m - mean) * (m - mean);
    for (double x : groups[g]) within += (x - m) * (x - m);
  }
  Anova a;
  a.dof_between = double(use.size()) - 1;
  a.dof_within = n - double(use.size());
  if (!(a.dof_within >= 1)) return std::nullopt;
  a.between = between / a.dof_between;
  a.within = within / a.dof_within;
  // Scatter that is only rounding counts as none.
  if (!(std::sqrt(a.within) > 1e-14 * size) || !std::isfinite(a.between)) return std::nullopt;
  a.f = a.between / a.within;
  a.p = bm::cdf(bm::complement(bm::fisher_f(a.dof_between, a.dof_within), a.f));
  return a;
}

double studentized_range(double q, size_t k, double dof) {
  if (!(q >= 0) || k < 2 || !(dof >= 1)) return NAN;
  if (q == 0) return 0;
  if (dof > 1e6) return range_of_normals(q, k);
  const bm::chi_squared chi(dof);
  const double from = std::sqrt(bm::quantile(chi, 1e-15) / dof),
               to = std::sqrt(bm::quantile(bm::complement(chi, 1e-15)) / dof);
  const auto at = [&](double s) {
    const double x = s * s * dof;
    return bm::pdf(chi, x) * 2 * s * dof * range_of_normals(q * s, k);
  };
  return std::min(1.0, panels(at, from, to, 8));
}

double studentized_range_quantile(double p, size_t k, double dof) {
  if (!(p > 0 && p < 1) || k < 2 || !(dof >= 1)) return NAN;
  const auto less = [&](double q) { return studentized_range(q, k, dof) - p; };
  double high = 4;
  while (less(high) < 0 && high < 1e5) high *= 2;
  std::uintmax_t steps = 100;
  const auto [a, b] = bm::tools::toms748_solve(less, 1e-9, high, bm::tools::eps_tolerance<double>(32), steps);
  return 0.5 * (a + b);
}

std::vector<Pair> tukey_kramer(const Groups& groups, double alpha) {
  const auto a = anova(groups);
  if (!a) return {};
  const std::vector<size_t> use = filled(groups);
  const double critical = studentized_range_quantile(1 - alpha, use.size(), a->dof_within);
  std::vector<Pair> out;
  for (size_t i = 0; i < use.size(); ++i)
    for (size_t j = i + 1; j < use.size(); ++j) {
      const auto &x = groups[use[i]], &y = groups[use[j]];
      const double error = std::sqrt(a->within / 2 * (1 / double(x.size()) + 1 / double(y.size())));
      Pair p{use[i], use[j], mean_of(x) - mean_of(y), 0, 0, {}};
      p.q = std::abs(p.difference) / error;
      p.p = std::max(0.0, 1 - studentized_range(p.q, use.size(), a->dof_within));
      p.of_difference = {p.difference - critical * error, p.difference + critical * error};
      out.push_back(p);
    }
  return out;
}

std::optional<MannWhitney> mann_whitney(const std::vector<double>& a, const std::vector<double>& b) {
  if (a.empty() || b.empty()) return std::nullopt;
  const size_t n = a.size(), m = b.size();
  MannWhitney w;
  for (double x : a)
    for (double y : b) w.u += x > y ? 1 : x == y ? 0.5 : 0;
  std::vector<double> all(a);
  all.insert(all.end(), b.begin(), b.end());
  std::sort(all.begin(), all.end());
  if (all.front() == all.back()) return std::nullopt;
  double ties = 0;
  for (size_t i = 0; i < all.size();) {
    size_t j = i;
    while (j < all.size() && all[j] == all[i]) ++j;
    const double t = double(j - i);
    ties += t * t * t - t;
    i = j;
  }
  const double pairs = double(n) * double(m);
  const double far = std::max(w.u, pairs - w.u);  // the tail on the side that was seen
  if (ties == 0 && pairs <= 400) {
    // How many of all orders give each U: of i and j values, c(i, j, u) = c(i − 1, j, u − j) + c(i, j − 1, u).
    w.exact = true;
    std::vector<std::vector<double>> row(m + 1);
    for (size_t j = 0; j <= m; ++j) row[j] = {1.0};
    for (size_t i = 1; i <= n; ++i) {
      std::vector<std::vector<double>> next(m + 1);
      next[0] = {1.0};
      for (size_t j = 1; j <= m; ++j) {
        next[j].assign(i * j + 1, 0);
        for (size_t u = 0; u < row[j].size(); ++u) next[j][u + j] += row[j][u];
        for (size_t u = 0; u < next[j - 1].size(); ++u) next[j][u] += next[j - 1][u];
      }
      row = std::move(next);
    }
    double sum = 0, tail = 0;
    for (size_t u = 0; u < row[m].size(); ++u) {
      sum += row[m][u];
      if (double(u) >= far - 1e-9) tail += row[m][u];
    }
    w.p = std::min(1.0, 2 * tail / sum);
    return w;
  }
  const double total = double(n + m);
  const double sd = std::sqrt(pairs / 12 * ((total + 1) - ties / (total * (total - 1))));
  w.p = std::min(1.0, 2 * bm::cdf(bm::complement(bm::normal(), (far - pairs / 2 - 0.5) / sd)));
  return w;
}

std::optional<Equivalence> equivalence(const std::vector<double>& a, const std::vector<double>& b, double margin) {
  const auto w = welch(a, b);
  if (!w || !(margin > 0)) return std::nullopt;
  Equivalence e;
  e.difference = w->difference;
  e.margin = margin;
  const double half95 = 0.5 * (w->of_difference.high - w->of_difference.low);
  const double error = half95 / t_quantile(0.975, w->dof), half = t_quantile(0.95, w->dof) * error;
  e.of_difference = {w->difference - half, w->difference + half};
  const bm::students_t t(w->dof);
  const double above = bm::cdf(bm::complement(t, (w->difference + margin) / error)),
               below = bm::cdf(t, (w->difference - margin) / error);
  e.p = std::max(above, below);
  e.equivalent = e.p < 0.05;
  return e;
}

}  // namespace fortitor::statistics
