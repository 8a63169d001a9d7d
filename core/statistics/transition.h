// The ductile-to-brittle transition: energy over temperature as a hyperbolic tangent with honest errors.
#pragma once

#include <array>
#include <optional>
#include <vector>

namespace fortitor::statistics {

/// K(T) = (U + L)/2 + (U − L)/2 · tanh((T − T₀)/C); J, °C (Oldfield 1975, “Curve fitting impact test data: a
/// statistical procedure”). Fitted by bounded Levenberg–Marquardt (Marquardt 1963): L ≥ 0, U > L, C > 0.
struct TransitionFit {
  double lower = 0, upper = 0, t0 = 0, c = 0;
  double scatter = 0;  ///< residual standard deviation, J
  size_t n = 0;
  /// Covariance of (lower, upper, t0, c), from the Jacobian at the solution times scatter².
  std::array<std::array<double, 4>, 4> covariance{};
  /// The same where every blow scatters as its own residual says: energies on the upper shelf scatter most.
  std::array<std::array<double, 4>, 4> robust{};

  double at(double temperature) const;
  /// Where the curve takes this energy; NaN outside the shelves.
  double temperature_at(double energy) const;
  /// Standard errors by the delta method, the larger of both covariances: of the curve, of the temperature for an
  /// energy, of a parameter (0 … 3).
  double error_at(double temperature) const;
  double error_of_temperature(double energy) const;
  double error_of(size_t parameter) const;
  /// Student's t at 97.72 % one-sided over n − 4 degrees of freedom, over 2: widens ± 2 errors of few data.
  double widening() const;
};

/// Empty for fewer than 5 points, fewer than 4 different temperatures, or when no curve goes through them.
std::optional<TransitionFit> fit_transition(const std::vector<double>& temperature, const std::vector<double>& energy);

}  // namespace fortitor::statistics
