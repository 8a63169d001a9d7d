#include "core/statistics/sample.h"

#include <algorithm>
#include <boost/math/distributions/chi_squared.hpp>
#include <boost/math/distributions/non_central_t.hpp>
#include <boost/math/distributions/normal.hpp>
#include <boost/math/distributions/students_t.hpp>
#include <cmath>
#include <numeric>

#include "core/statistics/least.h"
#include "core/statistics/normals.h"

namespace fortitor::statistics {
namespace {

namespace bm = boost::math;

double variance_of(const std::vector<double>& v, double mean) {
  double squares = 0;
  for (double x : v) squares += (x - mean) * (x - mean);
  return squares / double(v.size() - 1);
}

void keep_finite(std::vector<double>& v) {
  std::erase_if(v, [](double x) { return !std::isfinite(x); });
}

// Scatter that is only rounding counts as none.
bool scatters(double sd, double mean) {
  return sd > 1e-14 * std::abs(mean) && sd > 0;
}

}  // namespace

double mean_of(const std::vector<double>& v) {
  return std::accumulate(v.begin(), v.end(), 0.0) / double(v.size());
}

double t_quantile(double p, double dof) {
  if (!(p > 0 && p < 1) || !(dof > 0)) return NAN;
  return bm::quantile(bm::students_t(dof), p);
}

double t_two_sided(double t, double dof) {
  if (!std::isfinite(t) || !(dof > 0)) return NAN;
  return 2 * bm::cdf(bm::complement(bm::students_t(dof), std::abs(t)));
}

Summary summarize(std::vector<double> v, double confidence) {
  keep_finite(v);
  Summary s;
  s.n = v.size();
  if (v.empty()) return s;
  std::sort(v.begin(), v.end());
  s.least = v.front();
  s.most = v.back();
  s.median = s.n % 2 == 1 ? v[s.n / 2] : 0.5 * (v[s.n / 2 - 1] + v[s.n / 2]);
  s.mean = mean_of(v);
  if (s.n < 2) return s;
  s.sd = std::sqrt(variance_of(v, s.mean));
  s.cv = s.mean != 0 ? s.sd / std::abs(s.mean) : 0;
  const double dof = double(s.n - 1), tail = (1 - confidence) / 2;
  const double half = t_quantile(1 - tail, dof) * s.sd / std::sqrt(double(s.n));
  s.of_mean = Interval{s.mean - half, s.mean + half};
  const bm::chi_squared chi(dof);
  s.of_sd =
      Interval{s.sd * std::sqrt(dof / bm::quantile(chi, 1 - tail)), s.sd * std::sqrt(dof / bm::quantile(chi, tail))};
  return s;
}

double sd_error(double sd, size_t n) {
  return n < 2 || !(sd > 0) ? 0 : sd * relative_sd_error(double(n) - 1);
}

double relative_variance_error(double dof) {
  return dof > 0 ? 0.5 * (dof / bm::quantile(bm::chi_squared(dof), 0.05) - 1) : 0;
}

double relative_sd_error(double dof) {
  return 0.5 * (std::sqrt(1 + 2 * relative_variance_error(dof)) - 1);
}

double grubbs_critical(size_t n, double alpha) {
  if (n < 3) return NAN;
  const double t = t_quantile(1 - alpha / (2 * double(n)), double(n - 2));
  return (double(n) - 1) / std::sqrt(double(n)) * std::sqrt(t * t / (double(n) - 2 + t * t));
}

std::optional<Grubbs> grubbs(const std::vector<double>& v, double alpha) {
  if (v.size() < 3) return std::nullopt;
  const double mean = mean_of(v), sd = std::sqrt(variance_of(v, mean));
  if (!scatters(sd, mean)) return std::nullopt;
  Grubbs g;
  for (size_t i = 0; i < v.size(); ++i)
    if (std::abs(v[i] - mean) > std::abs(v[g.index] - mean)) g.index = i;
  g.g = std::abs(v[g.index] - mean) / sd;
  g.critical = grubbs_critical(v.size(), alpha);
  g.outlier = g.g > g.critical;
  return g;
}

std::vector<size_t> grubbs_repeated(const std::vector<double>& values, double alpha) {
  std::vector<size_t> index(values.size()), found;
  std::iota(index.begin(), index.end(), size_t(0));
  std::vector<double> left = values;
  while (found.size() + 1 <= values.size() / 3) {
    const auto g = grubbs(left, alpha / double(found.size() + 1));
    if (!g || !g->outlier) break;
    found.push_back(index[g->index]);
    left.erase(left.begin() + long(g->index));
    index.erase(index.begin() + long(g->index));
  }
  return found;
}

std::optional<Normality> anderson_darling(std::vector<double> v) {
  keep_finite(v);
  if (v.size() < 5) return std::nullopt;
  std::sort(v.begin(), v.end());
  const double n = double(v.size()), mean = mean_of(v), sd = std::sqrt(variance_of(v, mean));
  if (!scatters(sd, mean)) return std::nullopt;
  const bm::normal unit;
  double sum = 0;
  for (size_t i = 0; i < v.size(); ++i) {
    const double low = (v[i] - mean) / sd, high = (v[v.size() - 1 - i] - mean) / sd;
    const double below = std::max(bm::cdf(unit, low), kLeast);
    const double above = std::max(bm::cdf(bm::complement(unit, high)), kLeast);
    sum += (2 * double(i) + 1) * (std::log(below) + std::log(above));
  }
  Normality out;
  out.a2 = -n - sum / n;
  const double a = out.modified = out.a2 * (1 + 0.75 / n + 2.25 / (n * n));
  if (a >= 0.6)
    out.p = std::exp(1.2937 - 5.709 * a + 0.0186 * a * a);
  else if (a > 0.34)
    out.p = std::exp(0.9177 - 4.279 * a - 1.38 * a * a);
  else if (a > 0.2)
    out.p = 1 - std::exp(-8.318 + 42.796 * a - 59.938 * a * a);
  else
    out.p = 1 - std::exp(-13.436 + 101.14 * a - 223.73 * a * a);
  out.p = std::clamp(out.p, 0.0, 1.0);
  return out;
}

std::optional<Welch> welch(const std::vector<double>& a, const std::vector<double>& b) {
  if (a.size() < 2 || b.size() < 2) return std::nullopt;
  const double ma = mean_of(a), mb = mean_of(b);
  const double va = variance_of(a, ma) / double(a.size()), vb = variance_of(b, mb) / double(b.size());
  if (!scatters(std::sqrt(va + vb), std::max(std::abs(ma), std::abs(mb)))) return std::nullopt;
  Welch w;
  w.difference = ma - mb;
  w.t = w.difference / std::sqrt(va + vb);
  w.dof = (va + vb) * (va + vb) / (va * va / double(a.size() - 1) + vb * vb / double(b.size() - 1));
  w.p = t_two_sided(w.t, w.dof);
  const double half = t_quantile(0.975, w.dof) * std::sqrt(va + vb);
  w.of_difference = {w.difference - half, w.difference + half};
  return w;
}

double tolerance_factor(size_t n, double content, double confidence) {
  if (n < 2 || !(content > 0 && content < 1) || !(confidence > 0 && confidence < 1)) return NAN;
  const double z = bm::quantile(bm::normal(), content), root = std::sqrt(double(n));
  return bm::quantile(bm::non_central_t(double(n - 1), z * root), confidence) / root;
}

std::optional<CensoredFit> censored_normal(const std::vector<Observation>& values) {
  CensoredFit fit;
  std::vector<double> measured;
  for (const Observation& o : values)
    if (!o.censored && std::isfinite(o.value)) measured.push_back(o.value);
  fit.measured = measured.size();
  fit.censored =
      size_t(std::count_if(values.begin(), values.end(), [](const Observation& o) { return o.censored.has_value(); }));
  if (measured.size() < 2) return std::nullopt;
  fit.mean = mean_of(measured);
  fit.sd = std::sqrt(variance_of(measured, fit.mean));
  if (fit.censored == 0 || !scatters(fit.sd, fit.mean)) return fit;
  std::vector<std::vector<Observation>> one(1);
  for (const Observation& o : values)
    if (o.censored || std::isfinite(o.value)) one[0].push_back(o);
  std::vector<double> mean = {fit.mean};
  fit_normals(one, true, mean, fit.sd);
  fit.mean = mean[0];
  return fit;
}

Histogram histogram(const std::vector<double>& values) {
  Histogram h;
  std::vector<double> v = values;
  keep_finite(v);
  if (v.empty()) return h;
  const auto [least, most] = std::minmax_element(v.begin(), v.end());
  const double bins = std::clamp(std::ceil(std::sqrt(double(v.size()))), 4.0, 20.0);
  const double range = *most - *least;
  if (range > 0) {
    // The round width next to an equal division, so that every edge is a number a person would choose.
    const double raw = range / bins, ten = std::pow(10, std::floor(std::log10(raw)));
    h.width = 10 * ten;
    for (double s : {1.0, 2.0, 2.5, 5.0})
      if (s * ten >= raw * (1 - 1e-9)) {
        h.width = s * ten;
        break;
      }
    h.from = std::floor(*least / h.width * (1 + 1e-12)) * h.width;
  } else {
    h.width = std::max(1e-9, std::abs(*least) * 1e-3);
    h.from = *least - h.width / 2;
  }
  h.counts.assign(std::max<size_t>(1, size_t(std::floor((*most - h.from) / h.width * (1 + 1e-12))) + 1), 0);
  for (double x : v) ++h.counts[std::min(h.counts.size() - 1, size_t(std::max(0.0, (x - h.from) / h.width)))];
  return h;
}

double lift_of_largest(double n) {
  constexpr double kRound = 0.7;
  return n > 1 ? std::max(1.0, kRound * std::sqrt(2 * std::log(n))) : 1;
}

}  // namespace fortitor::statistics
