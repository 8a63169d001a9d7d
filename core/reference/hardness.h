// Hardness scales: what each Rockwell scale is, conversion between scales, the strength that goes with a hardness.
#pragma once

#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

#include "core/outcome.h"

namespace fortitor {

/// A Rockwell scale: HR = N − h/S (ISO 6508-1, table 1; ASTM E18). Forces in kgf, lengths in mm.
struct RockwellScale {
  std::string_view id;  ///< "C", "30N", "15T"
  double ball = 0;      ///< diameter of the ball; 0: diamond cone 120°
  double preliminary = 10, total = 150;
  double n = 100, s = 0.002;
  double low = 0, high = 0;  ///< trusted between; both 0: nothing stated
  bool diamond() const { return ball == 0; }
  bool bounded() const { return high > 0; }
  std::string symbol() const { return "HR" + std::string(id); }
  /// As ISO 6508-1 and ASTM E18 write it, the ball said: "HRBW", "HR15TW" (hard metal), "HRBS" (steel, old records).
  std::string written(bool steel = false) const { return symbol() + (diamond() ? "" : steel ? "S" : "W"); }
  std::string indenter() const;  ///< "diamond cone 120°", "ball 1.5875 mm"
};
std::span<const RockwellScale> rockwell_scales();
/// By "C" or "HRC", "30N" or "HR30N", with or without the letter of the ball ("HRBW", "15TS"); case ignored. Null when
/// there is none.
const RockwellScale* find_rockwell(std::string_view name);

/// Scales between which hardness is converted, in the order of the table: HRC, HRB, HV, HBW, HRA, HK, HR15N, HR30N,
/// HR45N.
const std::vector<std::string>& converted_scales();

/// Conversion for non-austenitic steels (ASTM E140, tables 1 and 2, as data/reference/hardness-conversion.csv has
/// them), linear between rows. Errors: an unknown scale; a value outside the rows that have both scales, with the range
/// that is there. Where the two parts of the table overlap (about 226 to
/// 240 HBW, 238 to 240 HV) the part above 20 HRC counts.
Outcome<double> convert_hardness(double value, const std::string& from, const std::string& to);

struct ConvertedHardness {
  std::string scale;
  double value = 0;
};
/// The same hardness in every scale that has a value for it, `from` itself among them.
std::vector<ConvertedHardness> hardness_in_all_scales(double value, const std::string& from);

/// Whether the conversion may be used for a material family: steels that are not austenitic. An empty family is not
/// known to be one.
bool converts(const std::string& family);
/// Whether the estimate of tensile strength holds: unalloyed and low-alloy steel.
bool strength_can_be_estimated(const std::string& family);
/// Tensile strength estimated from hardness, MPa, good to about ± 10 %: 3.45·HB; HV·9.80665/3.
double strength_of_brinell(double hb);
double strength_of_vickers(double hv);

}  // namespace fortitor
