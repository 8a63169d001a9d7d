// Elongation and reduction of area of the fitted halves, and elongation on another gauge length (ISO 2566).
#include <algorithm>
#include <cmath>

#include "core/methods/support/ledger.h"
#include "core/methods/tension_metal/model.h"
#include "core/quantity/plain.h"
#include "core/reference/materials.h"

namespace fortitor::tension {
namespace {

constexpr double kProportional = 0.02;  // of the proportional length: closer than this there is nothing to convert
constexpr double kAustenitic = 0.2;     // exponents of ISO 2566-1 lie above it, of ISO 2566-2 below
// R_m, MPa, for which the exponents were set up.
constexpr Share kFerriticRange{300, 700}, kAusteniticRange{450, 750};

// Elongation by the marked-division method (ISO 6892-1, annex on breaks outside the middle third).
std::optional<double> ratio_elongation(const TestRecord& record, double gauge_length) {
  auto get = [&](const char* name) { return record.fields.number(std::string("specimen.after.divisions.") + name); };
  const auto divisions = get("count"), between = get("between"), xy = get("xy"), yz = get("yz");
  if (!divisions || !between || !xy || !yz || !(gauge_length > 0)) return std::nullopt;
  const double rest = *divisions - *between;
  if (rest < 0) return std::nullopt;
  const bool even = std::fmod(std::round(rest), 2.0) == 0.0;
  if (even) return (*xy + 2 * *yz - gauge_length) / gauge_length;
  const auto yz2 = get("yz2");
  if (!yz2) return std::nullopt;
  return (*xy + *yz + *yz2 - gauge_length) / gauge_length;
}

}  // namespace

double proportional_length(double area) {
  return 5.65 * std::sqrt(area);
}

void put_after(Values& v, const TestRecord& record, const Inputs& in) {
  const bool by_ratio = record.fields.text("settings.elongation.method") == "ratio";
  if (by_ratio) {
    if (const auto a = ratio_elongation(record, in.gauge_length)) v[key::a] = *a;
  } else if (in.final_length > 0 && in.gauge_length > 0) {
    v[key::a] = (in.final_length - in.gauge_length) / in.gauge_length;
  }
  if (in.final_area > 0 && in.area > 0) v[key::z] = (in.area - in.final_area) / in.area;
  if (v.count(key::a) == 0 || !(in.area > 0)) return;
  const double exponent = conversion_of(record, 0).exponent;
  if (exponent == 0) return;
  const auto target = record.fields.number("settings.elongation.convert_to");
  const double wanted = target.value_or(proportional_length(in.area));
  // ISO 2566-1/-2: A ∝ (√S₀/L₀)^n on pieces of the same section.
  if (!target && std::abs(in.gauge_length / wanted - 1) < kProportional) return;
  v[key::a_equiv] = v[key::a] * std::pow(in.gauge_length / wanted, exponent);
}

Conversion conversion_of(const TestRecord& record, double rm) {
  Conversion c;
  const MaterialFamily* family = find_family(record.fields.text("specimen.family"));
  if (family == nullptr) return c;
  std::string said = record.fields.text("specimen.family") + " " + record.fields.text("specimen.material");
  for (char& letter : said) letter = plain::lower(letter);
  for (const char* word : {"cold", "quench", "+qt", " qt", "harden", "+c "})
    if ((said + " ").find(word) != std::string::npos) {
      c.why_not = "the standard does not hold for cold-worked or quenched steels";
      return c;
    }
  c.exponent = family->elongation_exponent;
  if (c.exponent == 0) {
    c.why_not = "no exponent is standardised for " + std::string(family->name);
    return c;
  }
  const bool austenitic = c.exponent < kAustenitic;
  const Share& range = austenitic ? kAusteniticRange : kFerriticRange;
  if (rm > 0 && (rm < range.from || rm > range.to))
    c.why_not = "R_m of " + ledger::si(rm, Dimension::stress, 3) + " lies outside the " +
                ledger::si(range.from, Dimension::stress, 3) + " to " + ledger::si(range.to, Dimension::stress, 3) +
                " for which it was set up";
  return c;
}

}  // namespace fortitor::tension
