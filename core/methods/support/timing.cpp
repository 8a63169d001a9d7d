#include "core/methods/support/timing.h"

#include <algorithm>
#include <cmath>

#include "core/quantity/format.h"

namespace fortitor::timing {
namespace {

// Metals leave the straight part near 0.2 %; others later, which their share covers.
constexpr double kStraight = 0.002;
// What takes longer than this was typed in another unit.
constexpr double kLongest = 1e9;

double first_of(const TestRecord& r, std::initializer_list<const char*> paths) {
  for (const char* path : paths)
    if (const double v = r.fields.number(path).value_or(0); v > 0) return v;
  return 0;
}

std::optional<RunTime> if_sound(RunTime t) {
  if (!(t.seconds > 0) || t.seconds > kLongest) return std::nullopt;
  return t;
}

}  // namespace

std::optional<RunTime> cycles(const TestRecord& r) {
  const double n = r.fields.number("settings.plan.runout").value_or(0),
               f = r.fields.number("settings.frequency").value_or(0);
  if (!(n > 0) || !(f > 0)) return std::nullopt;
  return if_sound(
      {n / f, true,
       "at most " + significant(n, 3) + " cycles at " + typed_value(f, Dimension::frequency, UnitSet::si, 3)});
}

std::optional<RunTime> pulled(const TestRecord& r, double share) {
  const double length = first_of(r, {"specimen.parallel_length", "specimen.grip_separation", "specimen.gauge_length"});
  const double first = first_of(r, {"settings.speed.elastic", "settings.speed.plastic"}),
               second = first_of(r, {"settings.speed.plastic", "settings.speed.elastic"});
  if (!(length > 0) || !(first > 0)) return std::nullopt;
  const double straight = std::min(kStraight, share);
  return if_sound({length * straight / first + length * (share - straight) / second, false,
                   "its length over the speeds, to " + significant(100 * share, 2) + " %"});
}

std::optional<RunTime> readings(const TestRecord& r, const TableSpec& table, double seconds) {
  size_t planned = table.usual;
  if (table.planned_rows)
    if (const size_t n = table.planned_rows(r).size(); n > 0) planned = n;
  size_t there = 0;
  if (const auto it = r.run.tables.find(table.id); it != r.run.tables.end()) there = it->second.size();
  const double each = seconds + r.fields.number("specimen.dwell").value_or(0);
  const size_t left = planned > there ? planned - there : 1;
  return if_sound(
      {double(left) * each, false,
       std::to_string(left) + " " + (left == 1 ? table.row : table.row + "s") + " of " + significant(each, 2) + " s"});
}

}  // namespace fortitor::timing
