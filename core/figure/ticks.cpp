#include "core/figure/ticks.h"

#include <algorithm>
#include <cmath>

#include "core/quantity/format.h"

namespace fortitor::figure {
namespace {

std::string power_of_ten(int exponent) {
  static const char* const digits[] = {"⁰", "¹", "²", "³", "⁴", "⁵", "⁶", "⁷", "⁸", "⁹"};
  std::string out = "10";
  if (exponent < 0) out += "⁻";
  for (char c : std::to_string(std::abs(exponent))) out += digits[c - '0'];
  return out;
}

std::string plain(double v) {
  int decimals = 0;
  for (double s = std::abs(v); decimals < 12 && std::abs(s - std::round(s)) > 1e-9 * std::max(1.0, s); s *= 10)
    ++decimals;
  return fixed(v, decimals);
}

}  // namespace

std::vector<Tick> linear_ticks(double low, double high, int about, double unit) {
  std::vector<Tick> out;
  if (!std::isfinite(low) || !std::isfinite(high) || !(high > low) || !(unit > 0)) return out;
  const double raw = (high - low) / unit / std::max(1, about);
  const double power = std::pow(10.0, std::floor(std::log10(raw) + 1e-12));
  double step = 10 * power;
  for (double m : {5.0, 2.0, 1.0})
    if (raw <= m * power * (1 + 1e-9)) step = m * power;
  const int decimals = std::clamp(int(std::ceil(-std::log10(step) - 1e-9)), 0, 12);
  const double first = std::ceil(low / unit / step - 1e-9);
  for (double k = first; k * step <= high / unit + 1e-9 * step && out.size() < 200; ++k) {
    const double shown = k == 0 ? 0.0 : k * step;
    out.push_back({shown * unit, std::abs(shown) >= 1e7 ? significant(shown, 4) : fixed(shown, decimals), false});
  }
  return out;
}

std::vector<Tick> log_ticks(double low, double high, double unit) {
  std::vector<Tick> out;
  if (!(low > 0) || !(high > low) || !std::isfinite(high) || !(unit > 0)) return out;
  const double a = low / unit, b = high / unit;
  const int first = int(std::floor(std::log10(a) + 1e-9)), last = int(std::ceil(std::log10(b) - 1e-9));
  const bool few = std::log10(b / a) < 3;
  for (int e = first; e <= last; ++e)
    for (int m = 1; m < 10; ++m) {
      const double v = m * std::pow(10.0, e);
      if (v < a * (1 - 1e-9) || v > b * (1 + 1e-9)) continue;
      const bool worded = m == 1 || (few && (m == 2 || m == 5));
      const bool as_power = e > 4 || (!few && e < -3);  // nobody counts the noughts of 2000000
      out.push_back({v * unit,
                     !worded    ? ""
                     : as_power ? (m == 1 ? "" : plain(m) + "·") + power_of_ten(e)
                                : plain(v),
                     !worded});
    }
  return out;
}

}  // namespace fortitor::figure
