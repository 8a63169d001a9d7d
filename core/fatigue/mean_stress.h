// Mean stress: what range at another stress ratio does the same damage.
#pragma once

#include <string>

namespace fortitor::fatigue {

enum class MeanStress { none, goodman, gerber, smith_watson_topper, walker };

/// Amplitude at R = −1 that does the same as amplitude and mean. Goodman 1899 and Gerber 1874 need the tensile strength
/// `rm` (> 0); compression gives no credit with Gerber. Smith, Watson and Topper 1970 and Walker 1970 take the largest
/// stress, (σ_max·((1 − R)/2)^γ; γ = 0.5 for the former); no tension, no damage. NaN where the mean reaches `rm`.
double reversed_amplitude(MeanStress rule, double amplitude, double mean, double rm, double gamma = 0.5);
/// Range at the stress ratio `wanted` (< 1) that does the same as a range at `r` (< 1).
double equivalent_range(MeanStress rule, double range, double r, double wanted, double rm, double gamma = 0.5);

}  // namespace fortitor::fatigue
