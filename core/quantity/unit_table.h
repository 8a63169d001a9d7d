// The unit table: every factor of the program, and the spellings people use. Private to core/quantity.
#pragma once

#include <array>
#include <numbers>
#include <string_view>

#include "core/quantity/unit.h"

namespace fortitor::units {

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

}  // namespace fortitor::units
