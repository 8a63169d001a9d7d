// Usual values of material families, for plausibility and planning only; never for a result.
#pragma once

#include <optional>
#include <span>
#include <string>

namespace fortitor {

/// Of wood: what values are stated and compared at.
inline constexpr double kUsualMoisture = 0.12;

/// Ranges within which ordinary members of a family lie at room temperature. Source: common
/// engineering handbooks' overlap, rounded outward; moduli of steels after EN 1993-1-1, of aluminium
/// after EN 1999-1-1.
struct MaterialFamily {
  std::string_view name;
  double e_low, e_high;          ///< Young's modulus, MPa
  double yield_low, yield_high;  ///< MPa
  double rm_low, rm_high;        ///< tensile strength, MPa
  double density;                ///< kg/m³
  double elongation_exponent;    ///< ISO 2566 conversion exponent, 0 where none is standardised
  double poisson;
};

std::span<const MaterialFamily> material_families();

/// Family by name as typed ("Carbon steel", "aluminium alloy"); null when unknown.
const MaterialFamily* find_family(const std::string& name);

}  // namespace fortitor
