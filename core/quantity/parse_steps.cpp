// Quantities typed in steps: feet and inches, hours and minutes, a clock.
#include <cmath>
#include <vector>

#include "core/quantity/parse_parts.h"

namespace fortitor::typed {

std::optional<Outcome<Quantity>> in_steps(const std::string& typed, Dimension dimension, const TypingContext& context) {
  const Dimension base = base_dimension(dimension);
  if (base != Dimension::length && base != Dimension::time) return std::nullopt;
  std::vector<std::string> steps;
  if (base == Dimension::time && typed.find(':') != std::string::npos) {
    std::vector<std::string> fields(1);
    size_t i = 0;
    for (; i < typed.size() && (is_digit(typed[i]) || typed[i] == ':' || typed[i] == '.' || typed[i] == ','); ++i)
      if (typed[i] == ':')
        fields.emplace_back();
      else
        fields.back() += typed[i];
    std::string unit = trimmed(typed.substr(i));
    if (fields.size() < 2 || fields.size() > 3) return std::nullopt;
    if (unit.empty() && fields.size() == 2)
      return InputError{in_quotes(typed) + " could be hours and minutes or minutes and seconds: type “" + typed +
                            " h” or “" + typed + " min”.",
                        {typed + " h", typed + " min"}};
    const Unit* largest = unit.empty() ? find_unit("h", base) : find_unit(unit, base);
    if (largest == nullptr || largest->factor < 60 || (fields.size() == 3 && largest->factor < 3600))
      return std::nullopt;
    static constexpr const char* kDown[] = {"d", "h", "min", "s"};
    size_t at = largest->factor > 3600 ? 0 : largest->factor > 60 ? 1 : 2;
    for (const std::string& f : fields) {
      if (at > 3) return std::nullopt;
      steps.push_back(f + " " + kDown[at++]);
    }
  } else {
    // A digit behind a letter and a space begins the next step: "12 h 30 min", "2 ft 6 1/2 in".
    size_t from = 0;
    bool letters = false;
    for (size_t i = 0; i < typed.size(); ++i) {
      if (letters && is_digit(typed[i]) && i > 0 && (typed[i - 1] == ' ' || typed[i - 1] == ',')) {
        steps.push_back(trimmed(typed.substr(from, i - from)));
        if (!steps.back().empty() && steps.back().back() == ',') steps.back().pop_back();
        from = i;
        letters = false;
      } else if ((typed[i] >= 'a' && typed[i] <= 'z') || (typed[i] >= 'A' && typed[i] <= 'Z')) {
        letters = true;
      }
    }
    if (steps.empty()) return std::nullopt;
    steps.push_back(typed.substr(from));
  }
  Quantity sum;
  double last = HUGE_VAL;
  for (const std::string& step : steps) {
    const auto q = parse_quantity(step, dimension, context);
    if (!q) return q.error();
    if (!q->unit_typed || q->unit == nullptr || q->unit->factor >= last) return std::nullopt;
    // What follows is less than one of the unit before it: 14 in behind feet is a slip.
    if (std::isfinite(last) && (q->value < 0 || q->value >= last * (1 - 1e-12)))
      return InputError{in_quotes(step) + " behind " + in_quotes(steps.front()) + " is more than one of it.", {}};
    const bool below = sum.value < 0 || (std::isfinite(last) && !steps.front().empty() && steps.front().front() == '-');
    last = q->unit->factor;
    sum.value += below ? -q->value : q->value;
    sum.resolution = q->resolution;
    sum.unit = q->unit;
  }
  sum.typed = typed;
  sum.unit_typed = true;
  return sum;
}

}  // namespace fortitor::typed
