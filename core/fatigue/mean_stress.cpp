#include "core/fatigue/mean_stress.h"

#include <algorithm>
#include <cmath>

namespace fortitor::fatigue {

double reversed_amplitude(MeanStress rule, double amplitude, double mean, double rm, double gamma) {
  const double most = mean + amplitude;
  switch (rule) {
    case MeanStress::goodman: return mean < rm ? amplitude / (1 - mean / rm) : NAN;
    case MeanStress::gerber:
      return mean < rm ? amplitude / (1 - std::pow(std::max(mean, 0.0) / rm, 2)) : NAN;  // compression gives no credit
    // (1 − R)/2 = σ_a/σ_max.
    case MeanStress::smith_watson_topper: return most > 0 ? std::sqrt(most * amplitude) : 0;
    case MeanStress::walker: return most > 0 ? most * std::pow(amplitude / most, gamma) : 0;
    case MeanStress::none: break;
  }
  return amplitude;
}

double equivalent_range(MeanStress rule, double range, double r, double wanted, double rm, double gamma) {
  if (rule == MeanStress::none || r == wanted) return range;
  const double amplitude = range / 2, mean = amplitude * (1 + r) / (1 - r);
  const double reversed = reversed_amplitude(rule, amplitude, mean, rm, gamma), q = (1 + wanted) / (1 - wanted);
  switch (rule) {
    case MeanStress::goodman: return 2 * reversed / (1 + reversed * q / rm);
    case MeanStress::gerber: {
      // reversed·(1 − (σ_a·q/R_m)²) = σ_a, in the form that holds for q = 0 too; compression gives no credit.
      const double b = reversed * std::pow(std::max(q, 0.0) / rm, 2);
      return 4 * reversed / (1 + std::sqrt(1 + 4 * b * reversed));
    }
    case MeanStress::smith_watson_topper: gamma = 0.5; [[fallthrough]];
    // σ_max = reversed/((1 − R)/2)^γ, range = σ_max·(1 − R).
    case MeanStress::walker: return reversed / std::pow((1 - wanted) / 2, gamma) * (1 - wanted);
    case MeanStress::none: break;
  }
  return range;
}

}  // namespace fortitor::fatigue
