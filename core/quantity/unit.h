// Dimensions and units. Every unit factor of the program lives here and nowhere else.
#pragma once

#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace fortitor {

/// Exact by definition: standard gravity (3rd CGPM 1901), m/s², which is also a kilogram-force in newtons; the inch of
/// 1959, mm.
inline constexpr double kStandardGravity = 9.80665, kInch = 25.4;

/// What a number measures. Several dimensions share their units and differ only in how they are
/// shown: `modulus` is a stress in GPa, `elongation` a strain in percent, `microstrain` a strain
/// in µε.
enum class Dimension {
  none,
  length,
  area,
  force,
  stress,
  modulus,
  energy,
  torque,
  angle,
  time,
  temperature,
  strain,
  elongation,
  microstrain,
  mass,
  speed,
  frequency,
  impact_area,
  impact_width,
  impact_strength,
  percent,  ///< a share counted in per cent itself: 4.0 is 4 %
  density,
  stiffness,
  force_rate,
  stress_rate,
  strain_rate,
  energy_density,
  second_moment,
  section_modulus,
};

/// Stored values are always in internal units: N, mm, MPa, s, J, °C, rad, kg, mm/s, J/cm² and J/m,
/// kg/m³, N/mm. `value_internal = typed * factor + offset`.
struct Unit {
  std::string_view symbol;  ///< as printed
  Dimension dimension;      ///< the base dimension (never one of the display variants)
  double factor;            ///< exact where the definition is exact
  double offset = 0.0;      ///< temperature only
  bool us_customary = false;
};

enum class UnitSet { si, us, kgf };

/// Folds display variants (modulus, elongation, microstrain) onto the dimension they measure.
Dimension base_dimension(Dimension d);

/// Name of a dimension for sentences: "a length", "a force".
std::string_view dimension_phrase(Dimension d);

/// The unit a person typed, e.g. "ft-lbf", "µε", "N/mm²", "\"". Case is respected first ("mm", "MN")
/// and ignored when that leaves one choice. With a dimension given, spellings that mean different
/// things (t: tonne or metric ton-force; lb: pound or pound-force; in·lbf) are read as that
/// dimension. Returns null when there is no such unit.
const Unit* find_unit(std::string_view text, std::optional<Dimension> wanted = std::nullopt);

/// Units that a text may mean when its case is left aside, as they are written: "mn" is mN or MN.
std::vector<std::string> units_alike(std::string_view text, Dimension wanted);

/// All units, for completion and help.
std::span<const Unit> all_units();

/// Unit in which a value of this dimension is shown and in which a bare number is understood.
/// `magnitude` (internal units) chooses between N and kN, mm and m and the like.
const Unit& display_unit(Dimension d, UnitSet set, double magnitude = 0.0);

/// A value in a named unit as internal units: from_unit(2, "mm/min", Dimension::speed). For advice and
/// defaults in code; a unit that does not exist is a programming error (std::logic_error).
double from_unit(double value, std::string_view symbol, Dimension d);

/// Work in N·mm, as areas under force–travel curves come out, in joules.
inline constexpr double kJoulePerNewtonMillimetre = 1e-3;

/// Symbol of the internal unit, as the command line writes it ("MPa", "mm", "ratio", "deg").
std::string_view internal_symbol(Dimension d);

}  // namespace fortitor
