// Reading what people type: "12,5 mm", "2 5/8 in", "1,450 lbf", "3e-4".
#pragma once

#include <string>
#include <string_view>

#include "core/outcome.h"
#include "core/quantity/unit.h"

namespace fortitor {

/// A typed number with its unit, kept as typed.
struct Quantity {
  double value = 0.0;          ///< internal units, always finite
  const Unit* unit = nullptr;  ///< unit typed or understood; null for a plain number
  std::string typed;           ///< exactly what was typed, trimmed
  double resolution = 0.0;     ///< one step of the last typed digit, internal units (> 0)
  bool unit_typed = false;     ///< false when the unit was understood, not typed
  /// What a record keeps: the typed text, with the understood unit added when none was typed.
  std::string text() const;
};

/// How a bare number is to be understood.
struct TypingContext {
  UnitSet set = UnitSet::si;
  const Unit* default_unit = nullptr;  ///< of a bare number; null: display_unit() of the dimension
};

/// Parses a quantity of `dimension`.
///
/// Accepts a sign, decimal point or comma, exponent, thousands groups (comma, point, thin or plain
/// space, apostrophe-free), whole-number-and-fraction values ("2 5/8", "2-5/8", "5/8": inches when
/// a length has no unit) and any unit of the dimension. A comma followed by exactly three digits is
/// a thousands separator only with US customary units (the set, or the unit typed) or when another
/// separator makes it certain; otherwise the error carries both readings as `choices`.
/// Errors: empty text, no number, unknown unit, unit of another dimension, out of range (infinite).
Outcome<Quantity> parse_quantity(std::string_view text, Dimension dimension, const TypingContext& context = {});

/// Parses "value unit" of whatever dimension the unit has; a plain number is dimension none.
/// Ambiguous spellings (in·lbf) take the first dimension of the unit table.
Outcome<Quantity> parse_any_quantity(std::string_view text, const TypingContext& context = {});

/// A typed quantity in another unit, as typed: "2 5/8 in" in "mm". The wanted unit says which dimension an ambiguous
/// spelling (t, lb, in·lbf) has. Errors: no such unit, no such quantity, another dimension, a number without a unit.
struct Converted {
  Quantity from;
  const Unit* unit = nullptr;  ///< wanted
  double value = 0;            ///< in it
};
Outcome<Converted> convert(std::string_view typed, std::string_view unit);

}  // namespace fortitor
