#include "core/quantity/unit.h"

#include <cmath>
#include <stdexcept>
#include <string>
#include <vector>

#include "core/quantity/unit_table.h"

namespace fortitor {
namespace {

using D = Dimension;

using units::Alias;
using units::kAliases;
using units::kUnits;
using units::replace_all;

constexpr double kG0 = units::kG0;
constexpr double kLbf = units::kLbf;

std::string lower(std::string s) {
  for (char& c : s)
    if (c >= 'A' && c <= 'Z') c = static_cast<char>(c - 'A' + 'a');
  return s;
}

const Unit* by_symbol(std::string_view symbol, Dimension d) {
  for (const Unit& u : kUnits)
    if (u.symbol == symbol && u.dimension == d) return &u;
  return nullptr;
}

bool fits(Dimension d, std::optional<Dimension> wanted) {
  return !wanted || d == base_dimension(*wanted);
}

struct FoldedUnit {
  std::string spelling, lowered;
  const Unit* unit;
};

const std::vector<FoldedUnit>& folded_units() {
  static const std::vector<FoldedUnit> table = [] {
    std::vector<FoldedUnit> t;
    for (const Unit& u : kUnits) {
      std::string f = units::folded_symbol(u.symbol);
      t.push_back({f, lower(f), &u});
    }
    return t;
  }();
  return table;
}

}  // namespace

namespace units {

std::string folded_symbol(std::string_view typed) {
  std::string s(typed);
  while (!s.empty() && (s.front() == ' ' || s.front() == '\t')) s.erase(s.begin());
  while (!s.empty() && (s.back() == ' ' || s.back() == '\t' || s.back() == '\r')) s.pop_back();
  replace_all(s, "µ", "u");  // micro sign
  replace_all(s, "μ", "u");  // Greek mu
  replace_all(s, "ε", "e");
  replace_all(s, "·", ".");
  replace_all(s, "⋅", ".");
  replace_all(s, "*", ".");
  replace_all(s, "²", "2");
  replace_all(s, "³", "3");
  replace_all(s, "⁴", "4");
  replace_all(s, "^", "");
  replace_all(s, "″", "\"");
  replace_all(s, "”", "\"");
  replace_all(s, "′", "'");
  replace_all(s, "°", "deg");
  replace_all(s, "⁻", "-");
  replace_all(s, "¹", "1");
  // A dash before a number is its sign ("s-1"), any other joins ("ft-lbf").
  bool exponent = false;
  for (size_t i = 0; i < s.size(); ++i)
    if (s[i] == '-') {
      const bool sign = i > 0 && i + 1 < s.size() && s[i + 1] >= '1' && s[i + 1] <= '4';
      exponent = exponent || sign;
      if (!sign) s[i] = '.';
    }
  replace_all(s, ". ", ".");
  replace_all(s, " .", ".");
  if (exponent) replace_all(s, " -", "-");
  replace_all(s, " ", ".");
  return s;
}

}  // namespace units

Dimension base_dimension(Dimension d) {
  switch (d) {
    case D::modulus: return D::stress;
    case D::elongation:
    case D::microstrain: return D::strain;
    default: return d;
  }
}

std::string_view dimension_phrase(Dimension d) {
  switch (base_dimension(d)) {
    case D::length: return "a length";
    case D::area: return "an area";
    case D::force: return "a force";
    case D::stress: return "a stress";
    case D::energy: return "an energy";
    case D::torque: return "a torque";
    case D::angle: return "an angle";
    case D::time: return "a time";
    case D::temperature: return "a temperature";
    case D::strain: return "a strain or percentage";
    case D::mass: return "a mass";
    case D::speed: return "a speed";
    case D::frequency: return "a frequency";
    case D::impact_area: return "an energy per area";
    case D::impact_width: return "an energy per length";
    case D::impact_strength: return "an energy per area";
    case D::percent: return "a percentage";
    case D::density: return "a density";
    case D::stiffness: return "a stiffness";
    case D::force_rate: return "a force rate";
    case D::stress_rate: return "a stress rate";
    case D::strain_rate: return "a strain rate";
    case D::energy_density: return "an energy per volume";
    case D::second_moment: return "a second moment of area";
    case D::section_modulus: return "a section modulus";
    default: return "a plain number";
  }
}

const Unit* find_unit(std::string_view text, std::optional<Dimension> wanted) {
  const std::string typed = units::folded_symbol(text);
  if (typed.empty()) return nullptr;
  for (const FoldedUnit& f : folded_units())
    if (f.spelling == typed && fits(f.unit->dimension, wanted)) return f.unit;
  // An SI prefix means what its case says; other spellings are tried afterwards.
  if (const Unit* u = units::composed(typed, text, wanted)) return u;
  const std::string low = lower(typed);
  for (const Alias& a : kAliases)
    if (a.spelling == low && fits(a.dimension, wanted)) return by_symbol(a.symbol, a.dimension);
  if (low == "degc" || low == "degf")
    return fits(D::temperature, wanted) ? find_unit(low.substr(3), D::temperature) : nullptr;
  const Unit* found = nullptr;
  for (const FoldedUnit& f : folded_units()) {
    if (f.lowered != low || !fits(f.unit->dimension, wanted)) continue;
    if (found != nullptr && found->symbol != f.unit->symbol) return nullptr;  // mPa is not MPa's twin
    if (found == nullptr) found = f.unit;
  }
  return found;
}

std::vector<std::string> units_alike(std::string_view text, Dimension wanted) {
  const std::string low = lower(units::folded_symbol(text));
  std::vector<std::string> out;
  for (const FoldedUnit& f : folded_units())
    if (f.lowered == low && fits(f.unit->dimension, wanted)) out.emplace_back(f.unit->symbol);
  return out;
}

std::span<const Unit> all_units() {
  return kUnits;
}

const Unit& display_unit(Dimension d, UnitSet set, double magnitude) {
  const double m = std::abs(magnitude);
  const bool us = set == UnitSet::us;
  const bool kgf = set == UnitSet::kgf;
  auto unit = [](std::string_view s, Dimension dim) -> const Unit& { return *by_symbol(s, dim); };
  switch (d) {
    case D::length: return us ? unit("in", D::length) : unit(m >= 1e4 ? "m" : "mm", D::length);
    case D::area: return unit(us ? "in²" : "mm²", D::area);
    case D::force:
      if (us) return unit(m >= 1e4 * kLbf ? "kip" : "lbf", D::force);
      if (kgf) return unit(m >= 1e4 * kG0 ? "tf" : "kgf", D::force);
      return unit(m >= 1e4 ? "kN" : "N", D::force);
    case D::stress: return us ? unit("ksi", D::stress) : unit(kgf ? "kgf/mm²" : "MPa", D::stress);
    case D::modulus: return us ? unit("Mpsi", D::stress) : unit(kgf ? "kgf/mm²" : "GPa", D::stress);
    case D::energy: return us ? unit("ft·lbf", D::energy) : unit(kgf ? "kgf·m" : "J", D::energy);
    case D::torque: return us ? unit("in·lbf", D::torque) : unit(kgf ? "kgf·m" : "N·m", D::torque);
    case D::angle: return unit("deg", D::angle);
    case D::time:
      return unit(m > 0 && m < 0.1 ? "ms" : m >= 2 * 86400 ? "d" : m >= 7200 ? "h" : m >= 600 ? "min" : "s", D::time);
    case D::temperature: return unit(us ? "°F" : "°C", D::temperature);
    case D::strain:
    case D::elongation: return unit("%", D::strain);
    case D::microstrain: return unit("µε", D::strain);
    case D::mass: return us ? unit("lb", D::mass) : unit(m < 1 && m > 0 ? "g" : "kg", D::mass);
    case D::speed: return us ? unit("in/min", D::speed) : unit(m >= 100 ? "m/s" : "mm/min", D::speed);
    case D::frequency: return unit(m >= 1e4 ? "kHz" : "Hz", D::frequency);
    case D::impact_area:
      return us ? unit("ft·lbf/in²", D::impact_area) : unit(kgf ? "kgf·m/cm²" : "J/cm²", D::impact_area);
    case D::impact_strength: return us ? unit("ft·lbf/in²", D::impact_strength) : unit("kJ/m²", D::impact_strength);
    case D::impact_width: return unit(us ? "ft·lbf/in" : "J/m", D::impact_width);
    case D::percent: return unit("%", D::percent);
    case D::density: return unit("kg/m³", D::density);
    case D::stiffness:
      if (us) return unit("lbf/in", D::stiffness);
      if (kgf) return unit("kgf/mm", D::stiffness);
      return unit(m >= 1e4 ? "kN/mm" : "N/mm", D::stiffness);
    case D::force_rate: return us ? unit("lbf/s", D::force_rate) : unit(m >= 1e3 ? "kN/s" : "N/s", D::force_rate);
    case D::stress_rate: return unit(us ? "ksi/min" : "MPa/s", D::stress_rate);
    case D::strain_rate: return unit("1/s", D::strain_rate);
    case D::energy_density: return unit(us ? "in·lbf/in³" : "MJ/m³", D::energy_density);
    case D::second_moment: return unit(us ? "in⁴" : "mm⁴", D::second_moment);
    case D::section_modulus: return unit(us ? "in³" : "mm³", D::section_modulus);
    case D::none: break;
  }
  static constexpr Unit plain{"", D::none, 1};
  return plain;
}

double from_unit(double value, std::string_view symbol, Dimension d) {
  const Unit* unit = find_unit(symbol, d);
  if (unit == nullptr) throw std::logic_error("no unit " + std::string(symbol));
  return value * unit->factor + unit->offset;
}

std::string_view internal_symbol(Dimension d) {
  switch (base_dimension(d)) {
    case D::none: return "";
    case D::strain: return "ratio";
    case D::angle: return "deg";  // shown in degrees by convention of the evaluation document
    default: break;
  }
  for (const Unit& u : kUnits)
    if (u.dimension == base_dimension(d) && u.factor == 1 && u.offset == 0) return u.symbol;
  return "";
}

}  // namespace fortitor
