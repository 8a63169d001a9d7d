// Numbers for people: units, significant figures and the rounding rules of the standards.
#pragma once

#include <string>

#include "core/quantity/unit.h"

namespace fortitor {

/// Rounding school of a report. `iso`: ISO 6892-1, clause on rounding of results; `astm`: E29
/// (half to even) with the classes of E8/E8M; `significant`: n significant figures.
enum class RoundingSchool { iso, astm, significant };

/// Which rule of the school a result falls under.
enum class RoundingClass { strength, yield_elongation, elongation, reduction, other };

/// Rounds to a multiple of `step` (> 0). Ties go away from zero, or to the even multiple.
double round_to_step(double value, double step, bool half_even);

/// Rounds to `figures` significant figures (1..15), ties to even. Zero, NaN and infinities return
/// themselves.
double round_significant(double value, int figures);

/// Plain decimal text with exactly `decimals` places (0..12) and a typographic minus sign.
std::string fixed(double value, int decimals);

/// Shortest plain text with `figures` significant figures; exponents as "2.5·10⁻⁴" outside
/// 1e-4..1e7.
std::string significant(double value, int figures);
/// The same as digits alone, as parse_quantity() reads it back: "0.000025", "1500"; trailing zeros left out.
std::string plain_number(double value, int figures);

/// "28.86 kN": value in the unit of the set with `figures` significant figures.
std::string format_value(double internal, Dimension d, UnitSet set, int figures = 4);

/// As a person would type it: no trailing zeros, no exponent ("50 Hz", "6.36 mm/min").
std::string typed_value(double internal, Dimension d, UnitSet set, int figures = 4);

/// The same without its unit.
std::string format_number(double internal, Dimension d, UnitSet set, int figures = 4);

/// A result split for display: the number as the rounding school prints it, and its unit.
struct Printed {
  std::string number, unit;
  std::string text() const { return unit.empty() ? number : number + " " + unit; }
};

/// Value as a report prints it. The classes are defined in SI; in the other unit sets strengths go
/// to 0.1 ksi or 0.1 kgf/mm² and everything else keeps its class.
/// `figures` is used by RoundingSchool::significant and for RoundingClass::other; `like`, when not 0, is the size by
/// which the unit is chosen.
Printed printed(double internal, Dimension d, RoundingClass rounding, RoundingSchool school, UnitSet set,
                int figures = 4, double like = 0);

/// Expanded uncertainty (a difference, so offsets of temperature scales do not enter) to two
/// significant figures, in the unit in which a value of size `like` is shown.
Printed printed_uncertainty(double internal, double like, Dimension d, UnitSet set);

}  // namespace fortitor
