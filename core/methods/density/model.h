// The inner working of density. Shared by its files and tests only.
#pragma once

#include "core/methods/support/ledger.h"

namespace fortitor::density {

/// What the method reports, by key: specs, values, How and figures speak of a result by these (names: words.json).
namespace key {
inline constexpr auto density = "density", moisture = "moisture", density_12 = "density_12", volume = "volume",
                      mass = "mass";
}  // namespace key

inline const std::string kReadings = "readings";

/// What the scale showed and what takes up the room. kg, mm³.
struct Weighing {
  Dim mass, immersed;     ///< of the rows that count
  bool in_water = false;  ///< the volume comes from the mass in water
  bool solid() const { return mass.given() && (!in_water || immersed.given()); }
};
Weighing weighing_of(const TestRecord& record);

/// Volume in mm³ from sizes or from the mass in water, shifts applied; NaN while something is missing.
double volume_of(const TestRecord& record, const Weighing& w, const Shifts& shifts);

Values compute(const TestRecord& record, const Weighing& w, const Shifts& shifts);
void add_inputs(const TestRecord& record, const Weighing& w, std::vector<UncertainInput>& inputs);
std::vector<ResultSpec> specs(const TestRecord& record);
std::vector<Step> how(const std::string& key, const TestRecord& record, const Weighing& w, const Values& values);
void add_findings(Evaluation& e, const TestRecord& record, const Weighing& w, const Values& values);
void add_figures(Evaluation& e, const TestRecord& record, const Weighing& w, const Values& values);
void describe(Method& method);

}  // namespace fortitor::density
