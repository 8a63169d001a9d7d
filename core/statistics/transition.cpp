#include "core/statistics/transition.h"

#include <Eigen/Dense>
#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <set>

#include "core/statistics/sample.h"

namespace fortitor::statistics {
namespace {

double curve(double lower, double upper, double t0, double c, double t) {
  return 0.5 * (upper + lower) + 0.5 * (upper - lower) * std::tanh((t - t0) / c);
}

// What is fitted: the logarithms of L and U − L, T₀ and log C in units of the span of the temperatures, which keeps the
// bounds.
struct Bounded {
  const std::vector<double>&t, &k;
  double scale;

  static std::array<double, 4> natural(const Eigen::Vector4d& p, double scale) {
    const double lower = std::exp(std::clamp(p[0], -25.0, 20.0));
    return {lower, lower + std::exp(std::clamp(p[1], -25.0, 20.0)), p[2] * scale,
            std::exp(std::clamp(p[3], -8.0, 8.0)) * scale};
  }
  double sum(const Eigen::Vector4d& p) const {
    const auto [lower, upper, t0, c] = natural(p, scale);
    double out = 0;
    for (size_t i = 0; i < t.size(); ++i) out += std::pow(curve(lower, upper, t0, c, t[i]) - k[i], 2);
    return out;
  }
  // Normal equations of one step: JᵀJ and Jᵀr.
  void step(const Eigen::Vector4d& p, Eigen::Matrix4d& square, Eigen::Vector4d& gradient) const {
    const auto [lower, upper, t0, c] = natural(p, scale);
    square.setZero();
    gradient.setZero();
    for (size_t i = 0; i < t.size(); ++i) {
      const double z = (t[i] - t0) / c, th = std::tanh(z), rise = 0.5 * (upper - lower) * (1 - th * th);
      const Eigen::Vector4d j(lower, 0.5 * (1 + th) * (upper - lower), -rise / c * scale, -rise * z);
      square += j * j.transpose();
      gradient += j * (curve(lower, upper, t0, c, t[i]) - k[i]);
    }
  }
};

// Levenberg–Marquardt with Nielsen's damping (Madsen, Nielsen and Tingleff 2004, section 3.2); the sum that was
// reached.
double minimise(const Bounded& of, Eigen::Vector4d& p) {
  Eigen::Matrix4d square;
  Eigen::Vector4d gradient;
  double now = of.sum(p), damping = 0, grow = 2;
  constexpr int kRounds = 500;
  constexpr double kStart = 1e-3, kSettled = 1e-15;
  for (int round = 0; round < kRounds; ++round) {
    of.step(p, square, gradient);
    if (round == 0) damping = kStart * square.diagonal().maxCoeff();
    Eigen::Matrix4d damped = square;
    damped.diagonal().array() += damping;
    const Eigen::Vector4d h = damped.ldlt().solve(-gradient);
    if (!h.allFinite() || h.norm() < kSettled * (p.norm() + kSettled)) break;
    const double next = of.sum(p + h), hoped = h.dot(damping * h - gradient);
    if (next < now) {
      p += h;
      damping *= std::max(1.0 / 3, 1 - std::pow(2 * (now - next) / std::max(hoped, 1e-300) - 1, 3));
      now = next;
      grow = 2;
    } else {
      damping *= grow;
      grow *= 2;
      if (!(damping < 1e100)) break;
    }
  }
  return now;
}

}  // namespace

double TransitionFit::at(double t) const {
  return curve(lower, upper, t0, c, t);
}

double TransitionFit::temperature_at(double energy) const {
  const double share = (2 * energy - upper - lower) / (upper - lower);
  return std::abs(share) < 1 ? t0 + c * std::atanh(share) : NAN;
}

double TransitionFit::error_of(size_t i) const {
  return std::sqrt(std::max({0.0, covariance[i][i], robust[i][i]}));
}

double TransitionFit::widening() const {
  const double dof = double(n) - 4;
  return dof < 1 ? NAN : t_quantile(0.97725, dof) / 2;
}

namespace {

double spread(const TransitionFit& f, const std::array<double, 4>& gradient) {
  double one = 0, other = 0;
  for (size_t i = 0; i < 4; ++i)
    for (size_t k = 0; k < 4; ++k) {
      one += gradient[i] * f.covariance[i][k] * gradient[k];
      other += gradient[i] * f.robust[i][k] * gradient[k];
    }
  return std::sqrt(std::max({0.0, one, other}));
}

std::array<double, 4> gradient_at(const TransitionFit& f, double t) {
  const double z = (t - f.t0) / f.c, th = std::tanh(z), slope = 0.5 * (f.upper - f.lower) * (1 - th * th);
  return {0.5 * (1 - th), 0.5 * (1 + th), -slope / f.c, -slope * z / f.c};
}

Eigen::Vector4d row_at(const TransitionFit& f, double t) {
  return Eigen::Vector4d(gradient_at(f, t).data());
}

}  // namespace

double TransitionFit::error_at(double t) const {
  return spread(*this, gradient_at(*this, t));
}

double TransitionFit::error_of_temperature(double energy) const {
  const double t = temperature_at(energy);
  if (!std::isfinite(t)) return NAN;
  const double z = (t - t0) / c, th = std::tanh(z), slope = 0.5 * (upper - lower) * (1 - th * th) / c;
  return slope > 0 ? error_at(t) / slope : NAN;
}

std::optional<TransitionFit> fit_transition(const std::vector<double>& temperature, const std::vector<double>& energy) {
  std::vector<double> t, k;
  for (size_t i = 0; i < std::min(temperature.size(), energy.size()); ++i)
    if (std::isfinite(temperature[i]) && std::isfinite(energy[i])) {
      t.push_back(temperature[i]);
      k.push_back(energy[i]);
    }
  if (t.size() < 5 || std::set<double>(t.begin(), t.end()).size() < 4) return std::nullopt;
  const auto [cold, warm] = std::minmax_element(t.begin(), t.end());
  const auto [least, most] = std::minmax_element(k.begin(), k.end());
  const double span = *warm - *cold, height = *most - *least;
  if (!(span > 0) || !(height > 0)) return std::nullopt;
  const Bounded wanted{t, k, span};
  std::optional<TransitionFit> best;
  double least_sum = HUGE_VAL;
  // From several places: a transition that lies at the end of the data has more than one valley.
  for (double place : {0.25, 0.5, 0.75})
    for (double width : {0.1, 0.3}) {
      Eigen::Vector4d p(std::log(std::max(*least * 0.9, 0.5)), std::log(height), (*cold + place * span) / span,
                        std::log(width));
      const double sum = minimise(wanted, p);
      if (!p.allFinite()) continue;
      if (!(sum < least_sum * (1 - 1e-9))) continue;
      least_sum = sum;
      TransitionFit f;
      const auto [lower, upper, t0, c] = Bounded::natural(p, span);
      f.lower = lower, f.upper = upper, f.t0 = t0, f.c = c;
      best = f;
    }
  if (!best) return std::nullopt;
  TransitionFit& f = *best;
  f.n = t.size();
  const double dof = double(f.n) - 4;
  f.scatter = dof > 0 ? std::sqrt(least_sum / dof) : NAN;
  Eigen::Matrix4d normal = Eigen::Matrix4d::Zero();
  for (double one : t) {
    const Eigen::Vector4d g = row_at(f, one);
    normal += g * g.transpose();
  }
  // What the data do not tell (a shelf nobody has seen) has no error that could be stated: it is infinite. The pivots
  // of a symmetric matrix with none below zero come in order; the last is none when it may be what rounding leaves of
  // n sums of the first.
  const Eigen::LDLT<Eigen::Matrix4d> parts(normal);
  const Eigen::Vector4d pivots = parts.vectorD();
  const double rounding = 4 * double(f.n) * std::numeric_limits<double>::epsilon();
  const bool told = pivots.minCoeff() > rounding * pivots.maxCoeff();
  for (auto& row : f.covariance) row.fill(HUGE_VAL);
  if (!told) return best;
  const Eigen::Matrix4d bread = parts.solve(Eigen::Matrix4d::Identity());
  for (int i = 0; i < 4; ++i)
    for (int j = 0; j < 4; ++j) f.covariance[size_t(i)][size_t(j)] = bread(i, j) * f.scatter * f.scatter;
  // Tough blows scatter more than brittle ones: each by its own residual (MacKinnon and White 1985, HC3).
  Eigen::Matrix4d meat = Eigen::Matrix4d::Zero();
  for (size_t i = 0; i < f.n; ++i) {
    const Eigen::Vector4d g = row_at(f, t[i]);
    const double lever = std::min(0.99, g.dot(bread * g)), r = (k[i] - f.at(t[i])) / (1 - lever);
    meat += g * g.transpose() * (r * r);
  }
  const Eigen::Matrix4d sandwich = bread * meat * bread;
  for (size_t i = 0; i < 4; ++i)
    for (size_t j = 0; j < 4; ++j) f.robust[i][j] = sandwich(int(i), int(j));
  return best;
}

}  // namespace fortitor::statistics
