#include "core/quantity/unit.h"

#include <array>
#include <cmath>
#include <numbers>
#include <string>
#include <vector>

namespace fortitor {
namespace {

using D = Dimension;

// Exact by definition: inch (1959 agreement), avoirdupois pound, standard gravity (3rd CGPM 1901).
constexpr double kInch = 25.4;
constexpr double kPound = 0.45359237;
constexpr double kG0 = 9.80665;
constexpr double kLbf = kPound * kG0;
constexpr double kPsi = kLbf / (kInch * kInch);
constexpr double kFoot = 12 * kInch;
constexpr double kDegree = std::numbers::pi / 180;

constexpr std::array kUnits = {
    Unit{"mm", D::length, 1},
    Unit{"cm", D::length, 10},
    Unit{"m", D::length, 1000},
    Unit{"µm", D::length, 1e-3},
    Unit{"in", D::length, kInch, 0, true},
    Unit{"ft", D::length, kFoot, 0, true},
    Unit{"mil", D::length, kInch / 1000, 0, true},
    Unit{"mm²", D::area, 1},
    Unit{"cm²", D::area, 100},
    Unit{"m²", D::area, 1e6},
    Unit{"in²", D::area, kInch * kInch, 0, true},
    Unit{"N", D::force, 1},
    Unit{"kN", D::force, 1e3},
    Unit{"MN", D::force, 1e6},
    Unit{"lbf", D::force, kLbf, 0, true},
    Unit{"kip", D::force, 1000 * kLbf, 0, true},
    Unit{"kgf", D::force, kG0},
    Unit{"tf", D::force, 1000 * kG0},
    Unit{"MPa", D::stress, 1},
    Unit{"GPa", D::stress, 1e3},
    Unit{"kPa", D::stress, 1e-3},
    Unit{"Pa", D::stress, 1e-6},
    Unit{"psi", D::stress, kPsi, 0, true},
    Unit{"ksi", D::stress, 1e3 * kPsi, 0, true},
    Unit{"Mpsi", D::stress, 1e6 * kPsi, 0, true},
    Unit{"kgf/mm²", D::stress, kG0},
    Unit{"J", D::energy, 1},
    Unit{"kJ", D::energy, 1e3},
    Unit{"ft·lbf", D::energy, kFoot* kLbf / 1000, 0, true},
    Unit{"in·lbf", D::energy, kInch* kLbf / 1000, 0, true},
    Unit{"kgf·m", D::energy, kG0},
    Unit{"N·m", D::torque, 1e3},
    Unit{"N·mm", D::torque, 1},
    Unit{"kN·m", D::torque, 1e6},
    Unit{"in·lbf", D::torque, kInch* kLbf, 0, true},
    Unit{"ft·lbf", D::torque, kFoot* kLbf, 0, true},
    Unit{"kgf·m", D::torque, 1e3 * kG0},
    Unit{"deg", D::angle, kDegree},
    Unit{"rad", D::angle, 1},
    Unit{"rev", D::angle, 2 * std::numbers::pi},
    Unit{"s", D::time, 1},
    Unit{"ms", D::time, 1e-3},
    Unit{"min", D::time, 60},
    Unit{"h", D::time, 3600},
    Unit{"d", D::time, 86400},
    Unit{"°C", D::temperature, 1},
    Unit{"°F", D::temperature, 5.0 / 9.0, -160.0 / 9.0, true},
    Unit{"K", D::temperature, 1, -273.15},
    Unit{"%", D::strain, 1e-2},
    Unit{"µε", D::strain, 1e-6},
    Unit{"strain", D::strain, 1},
    Unit{"kg", D::mass, 1},
    Unit{"g", D::mass, 1e-3},
    Unit{"lb", D::mass, kPound, 0, true},
    Unit{"t", D::mass, 1e3},
    Unit{"mm/s", D::speed, 1},
    Unit{"m/s", D::speed, 1e3},
    Unit{"mm/min", D::speed, 1.0 / 60},
    Unit{"in/min", D::speed, kInch / 60, 0, true},
    Unit{"ft/s", D::speed, kFoot, 0, true},
    Unit{"km/h", D::speed, 1e6 / 3600},
    Unit{"mph", D::speed, 5280 * kFoot / 3600, 0, true},
    Unit{"Hz", D::frequency, 1},
    Unit{"kHz", D::frequency, 1e3},
    Unit{"J/cm²", D::impact_area, 1},
    Unit{"kJ/m²", D::impact_area, 0.1},
    Unit{"kgf·m/cm²", D::impact_area, kG0},
    Unit{"ft·lbf/in²", D::impact_area, kFoot* kLbf / 1000 / (kInch * kInch / 100), 0, true},
    Unit{"J/m", D::impact_width, 1},
    Unit{"ft·lbf/in", D::impact_width, kFoot* kLbf / kInch, 0, true},
    Unit{"kg/m³", D::density, 1},
    Unit{"g/cm³", D::density, 1000},
    Unit{"N/mm", D::stiffness, 1},
    Unit{"kN/mm", D::stiffness, 1e3},
    Unit{"lbf/in", D::stiffness, kLbf / kInch, 0, true},
    Unit{"kgf/mm", D::stiffness, kG0},
    Unit{"N/s", D::force_rate, 1},
    Unit{"kN/s", D::force_rate, 1e3},
    Unit{"kN/min", D::force_rate, 1e3 / 60},
    Unit{"lbf/s", D::force_rate, kLbf, 0, true},
    Unit{"MPa/s", D::stress_rate, 1},
    Unit{"ksi/min", D::stress_rate, 1e3 * kPsi / 60, 0, true},
    Unit{"1/s", D::strain_rate, 1},
    Unit{"1/min", D::strain_rate, 1.0 / 60},
    Unit{"%/min", D::strain_rate, 1e-2 / 60},
    Unit{"MJ/m³", D::energy_density, 1},
    Unit{"in·lbf/in³", D::energy_density, kPsi, 0, true},
    Unit{"mm⁴", D::second_moment, 1},
    Unit{"in⁴", D::second_moment, kInch* kInch* kInch* kInch, 0, true},
    Unit{"mm³", D::section_modulus, 1},
    Unit{"in³", D::section_modulus, kInch* kInch* kInch, 0, true},
};

struct Alias {
  std::string_view spelling;  // already folded
  std::string_view symbol;
  Dimension dimension;
};

// Other spellings people type. Folded: µ→u, ·→., ²→2, °→"deg" (see fold()).
constexpr std::array kAliases = {
    Alias{"\"", "in", D::length},          Alias{"''", "in", D::length},
    Alias{"inch", "in", D::length},        Alias{"inches", "in", D::length},
    Alias{"'", "ft", D::length},           Alias{"feet", "ft", D::length},
    Alias{"foot", "ft", D::length},        Alias{"thou", "mil", D::length},
    Alias{"micron", "µm", D::length},      Alias{"t", "tf", D::force},
    Alias{"lb", "lbf", D::force},          Alias{"lbs", "lbf", D::force},
    Alias{"kg", "kgf", D::force},          Alias{"kips", "kip", D::force},
    Alias{"n/mm2", "MPa", D::stress},      Alias{"mn/m2", "MPa", D::stress},
    Alias{"kn/mm2", "GPa", D::stress},     Alias{"kg/mm2", "kgf/mm²", D::stress},
    Alias{"lbf/in2", "psi", D::stress},    Alias{"msi", "Mpsi", D::stress},
    Alias{"nm", "N·m", D::torque},         Alias{"nmm", "N·mm", D::torque},
    Alias{"knm", "kN·m", D::torque},       Alias{"lbf.in", "in·lbf", D::torque},
    Alias{"lbf.ft", "ft·lbf", D::torque},  Alias{"in.lb", "in·lbf", D::torque},
    Alias{"ft.lb", "ft·lbf", D::torque},   Alias{"ftlbf", "ft·lbf", D::energy},
    Alias{"inlbf", "in·lbf", D::energy},   Alias{"ft.lb", "ft·lbf", D::energy},
    Alias{"in.lb", "in·lbf", D::energy},   Alias{"kgm", "kgf·m", D::energy},
    Alias{"n.m", "J", D::energy},          Alias{"nm", "J", D::energy},
    Alias{"degree", "deg", D::angle},      Alias{"degrees", "deg", D::angle},
    Alias{"turn", "rev", D::angle},        Alias{"turns", "rev", D::angle},
    Alias{"sec", "s", D::time},            Alias{"hr", "h", D::time},
    Alias{"hours", "h", D::time},          Alias{"days", "d", D::time},
    Alias{"day", "d", D::time},            Alias{"hour", "h", D::time},
    Alias{"c", "°C", D::temperature},      Alias{"f", "°F", D::temperature},
    Alias{"ue", "µε", D::strain},          Alias{"microstrain", "µε", D::strain},
    Alias{"ustrain", "µε", D::strain},     Alias{"um/m", "µε", D::strain},
    Alias{"mm/mm", "strain", D::strain},   Alias{"m/m", "strain", D::strain},
    Alias{"in/in", "strain", D::strain},   Alias{"ratio", "strain", D::strain},
    Alias{"lbs", "lb", D::mass},           Alias{"tonne", "t", D::mass},
    Alias{"ipm", "in/min", D::speed},      Alias{"j/mm2", "J/cm²", D::impact_area},
    Alias{"s-1", "1/s", D::strain_rate},   Alias{"/s", "1/s", D::strain_rate},
    Alias{"/min", "1/min", D::strain_rate}, Alias{"n/mm2/s", "MPa/s", D::stress_rate},
};

void replace_all(std::string& text, std::string_view from, std::string_view to) {
  for (size_t at = text.find(from); at != std::string::npos; at = text.find(from, at + to.size()))
    text.replace(at, from.size(), to);
}

// One spelling for typographic variants; case is kept.
std::string fold(std::string_view typed) {
  std::string s(typed);
  while (!s.empty() && (s.front() == ' ' || s.front() == '\t')) s.erase(s.begin());
  while (!s.empty() && (s.back() == ' ' || s.back() == '\t' || s.back() == '\r')) s.pop_back();
  replace_all(s, "µ", "u");   // micro sign
  replace_all(s, "μ", "u");   // Greek mu
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
  replace_all(s, "⁻¹", "-1");
  const bool exponent = s.size() >= 2 && s.compare(s.size() - 2, 2, "-1") == 0;
  if (!exponent) replace_all(s, "-", ".");
  replace_all(s, ". ", ".");
  replace_all(s, " .", ".");
  replace_all(s, " ", exponent ? "" : ".");
  return s;
}

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
      std::string f = fold(u.symbol);
      t.push_back({f, lower(f), &u});
    }
    return t;
  }();
  return table;
}

}  // namespace

Dimension base_dimension(Dimension d) {
  switch (d) {
    case D::modulus:
      return D::stress;
    case D::elongation:
    case D::microstrain:
      return D::strain;
    default:
      return d;
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
  const std::string typed = fold(text);
  if (typed.empty()) return nullptr;
  for (const FoldedUnit& f : folded_units())
    if (f.spelling == typed && fits(f.unit->dimension, wanted)) return f.unit;
  const std::string low = lower(typed);
  for (const Alias& a : kAliases)
    if (a.spelling == low && fits(a.dimension, wanted)) return by_symbol(a.symbol, a.dimension);
  if (low == "degc" || low == "degf") return find_unit(low.substr(3), D::temperature);
  const Unit* found = nullptr;
  for (const FoldedUnit& f : folded_units()) {
    if (f.lowered != low || !fits(f.unit->dimension, wanted)) continue;
    if (found != nullptr && found->symbol != f.unit->symbol) return nullptr;  // mPa is not MPa's twin
    if (found == nullptr) found = f.unit;
  }
  return found;
}

std::span<const Unit> all_units() { return kUnits; }

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
    case D::time: return unit(m >= 2 * 86400 ? "d" : m >= 7200 ? "h" : m >= 600 ? "min" : "s", D::time);
    case D::temperature: return unit(us ? "°F" : "°C", D::temperature);
    case D::strain:
    case D::elongation: return unit("%", D::strain);
    case D::microstrain: return unit("µε", D::strain);
    case D::mass: return us ? unit("lb", D::mass) : unit(m < 1 && m > 0 ? "g" : "kg", D::mass);
    case D::speed: return us ? unit("in/min", D::speed) : unit(m >= 100 ? "m/s" : "mm/min", D::speed);
    case D::frequency: return unit(m >= 1e4 ? "kHz" : "Hz", D::frequency);
    case D::impact_area:
      return us ? unit("ft·lbf/in²", D::impact_area)
                : unit(kgf ? "kgf·m/cm²" : "J/cm²", D::impact_area);
    case D::impact_width: return unit(us ? "ft·lbf/in" : "J/m", D::impact_width);
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
