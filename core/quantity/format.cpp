#include "core/quantity/format.h"

#include <algorithm>
#include <cmath>

#include "core/quantity/plain.h"

namespace fortitor {
namespace {

std::string with_minus(std::string s) {
  if (!s.empty() && s.front() == '-') s.replace(0, 1, "−");
  return s;
}

std::string superscript(int n) {
  static constexpr const char* digits[] = {"⁰", "¹", "²", "³", "⁴", "⁵", "⁶", "⁷", "⁸", "⁹"};
  std::string out = n < 0 ? "⁻" : "";
  for (char c : std::to_string(std::abs(n))) out += digits[c - '0'];
  return out;
}

double to_unit(double internal, const Unit& u) {
  return (internal - u.offset) / u.factor;
}

int decimals_of(double step) {
  int n = 0;
  while (n < 9 && std::abs(step - std::round(step)) > 1e-9 * step) {
    step *= 10;
    ++n;
  }
  return n;
}

// Step of the class in the printed unit, or 0 when the class has no fixed step.
double class_step(double shown, const Unit& unit, RoundingClass rounding, RoundingSchool school) {
  if (rounding == RoundingClass::other || school == RoundingSchool::significant) return 0;
  if (rounding == RoundingClass::strength) {
    if (unit.symbol != "MPa") return 0.1;
    if (school == RoundingSchool::iso) return 1;
    const double size = std::abs(shown);
    return size < 500 ? 1 : size < 1000 ? 5 : 10;
  }
  if (school == RoundingSchool::iso) {
    if (rounding == RoundingClass::yield_elongation) return 0.1;
    return rounding == RoundingClass::elongation ? 0.5 : 1;
  }
  if (rounding == RoundingClass::reduction) return std::abs(shown) < 10 ? 0.5 : 1;
  return std::abs(shown) < 10 ? 0.5 : 1;
}

}  // namespace

double round_to_step(double value, double step, bool half_even) {
  if (!std::isfinite(value) || !(step > 0)) return value;
  const double q = value / step;
  // A typed 0.15 is a hair below itself in binary; the tie is meant all the same.
  const double down = std::floor(q), part = q - down;
  double rounded = std::round(q);
  if (std::abs(part - 0.5) < 1e-9 * std::max(1.0, std::abs(q))) {
    if (half_even)
      rounded = std::fmod(down, 2.0) == 0.0 ? down : down + 1;
    else
      rounded = q < 0 ? down : down + 1;
  }
  const double out = rounded * step;
  return out == 0 ? 0.0 : out;
}

double round_significant(double value, int figures) {
  if (value == 0 || !std::isfinite(value)) return value;
  const int exponent = static_cast<int>(std::floor(std::log10(std::abs(value))));
  const int shift = std::clamp(figures, 1, 15) - 1 - exponent;
  if (shift >= 0) {  // scale up by an exact power of ten and divide: 0.1 steps are not exact
    const double scale = std::pow(10.0, shift);
    return std::isfinite(scale) && scale != 0 ? round_to_step(value * scale, 1.0, true) / scale : value;
  }
  return round_to_step(value, std::pow(10.0, -shift), true);
}

std::string fixed(double value, int decimals) {
  if (std::isnan(value)) return "–";
  if (std::isinf(value)) return value > 0 ? "∞" : "−∞";
  std::string s = plain::fixed(value, std::clamp(decimals, 0, 30));
  if (s.find_first_of("123456789") == std::string::npos && s.front() == '-') s.erase(0, 1);
  return with_minus(s);
}

std::string significant(double value, int figures) {
  if (value == 0) return "0";
  if (!std::isfinite(value)) return fixed(value, 0);
  const double rounded = round_significant(value, figures);
  const int exponent = static_cast<int>(std::floor(std::log10(std::abs(rounded)) + 1e-12));
  if (exponent < -4 || exponent > 7) {
    const double mantissa = rounded / std::pow(10.0, exponent);
    return fixed(mantissa, std::clamp(figures - 1, 0, 12)) + "·10" + superscript(exponent);
  }
  return fixed(rounded, std::max(0, figures - 1 - exponent));
}

std::string plain_number(double value, int figures) {
  if (value == 0 || !std::isfinite(value)) return fixed(value, 0);
  const double rounded = round_significant(value, figures);
  const int exponent = static_cast<int>(std::floor(std::log10(std::abs(rounded)) + 1e-12));
  std::string text = fixed(rounded, std::clamp(figures - 1 - exponent, 0, 30));
  if (text.find('.') != std::string::npos) {
    while (text.back() == '0') text.pop_back();
    if (text.back() == '.') text.pop_back();
  }
  return text;
}

std::string format_number(double internal, Dimension d, UnitSet set, int figures) {
  return significant(to_unit(internal, display_unit(d, set, internal)), figures);
}

std::string typed_value(double internal, Dimension d, UnitSet set, int figures) {
  const Unit& u = display_unit(d, set, internal);
  const std::string text = plain_number(to_unit(internal, u), figures);
  return u.symbol.empty() ? text : text + " " + std::string(u.symbol);
}

std::string format_value(double internal, Dimension d, UnitSet set, int figures) {
  const Unit& u = display_unit(d, set, internal);
  const std::string number = significant(to_unit(internal, u), figures);
  return u.symbol.empty() ? number : number + " " + std::string(u.symbol);
}

Printed printed(double internal, Dimension d, RoundingClass rounding, RoundingSchool school, UnitSet set, int figures,
                double like) {
  const Unit& u = display_unit(d, set, like != 0 ? like : internal);
  const double shown = to_unit(internal, u);
  const double step = class_step(shown, u, rounding, school);
  if (step == 0) return {significant(shown, figures), std::string(u.symbol)};
  const double value = round_to_step(shown, step, school == RoundingSchool::astm);
  return {fixed(value, decimals_of(step)), std::string(u.symbol)};
}

Printed printed_uncertainty(double internal, double like, Dimension d, UnitSet set) {
  const Unit& u = display_unit(d, set, like);
  return {significant(internal / u.factor, 2), std::string(u.symbol)};
}

}  // namespace fortitor
