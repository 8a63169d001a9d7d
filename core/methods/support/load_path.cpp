#include "core/methods/support/load_path.h"

#include <cmath>

#include "core/quantity/format.h"
#include "core/quantity/plain.h"

namespace fortitor {

namespace {

constexpr double kCellUse = 0.1;  // of the cell at least

}  // namespace

std::vector<LoadPathPart> load_path_of(const Method& method, const TestRecord& record, Dimension quantity) {
  std::vector<LoadPathPart> parts;
  for (const EquipmentSlot& slot : method.equipment)
    if (slot.in_load_path && slot.rated_in() == quantity &&
        (!slot.from_kit || !record.fields.text("equipment." + slot.id + ".id").empty()))
      parts.push_back({slot.id, slot.label, slot.rating, record.fields.number(slot.rating)});
  return parts;
}

void judge_load_path(const Method& method, const TestRecord& record, const std::string& cell_id, Plan& p) {
  const EquipmentSlot* slot = method.slot(cell_id);
  const Dimension d = slot->rated_in();
  auto si = [&](double v) { return format_value(v, d, UnitSet::si, 3); };
  std::string label = slot->label;
  label[0] = plain::lower(label[0]);
  p.load_path = load_path_of(method, record, d);
  const auto cell = record.fields.number(slot->rating);
  if (!cell) p.blocking.push_back("Choose the " + label + ".");
  if (!p.expected) return;
  const Expectation& x = *p.expected;
  // Cells come in the same round sizes in N and in N·m.
  const double unit = d == Dimension::torque ? from_unit(1, "N·m", d) : 1;
  p.advice.insert(p.advice.begin(), {slot->rating, slot->label, unit * advised_cell(x.low / unit, x.high / unit), d,
                                     "smallest that holds " + si(x.low) + " to " + si(x.high) + " within 10–90 %"});
  const auto stop = record.fields.number("settings.stop.force");
  const double most = stop && d == Dimension::force ? std::min(*stop, x.high) : x.high;
  for (const LoadPathPart& part : p.load_path)
    if (part.rating && most > *part.rating)
      p.blocking.push_back(part.label + " is rated " + si(*part.rating) + "; up to " + si(most) +
                           " is planned. Take a larger one or set a lower stop.");
  if (cell && x.low < kCellUse * *cell)
    p.warnings.push_back("What is expected may use only " + significant(100 * x.low / *cell, 2) +
                         " % of the cell; 10–90 % is wanted.");
}

void want_settings(const TestRecord& record, const std::vector<std::pair<std::string, std::string>>& settings,
                   Plan& p) {
  for (const auto& [path, what] : settings)
    if (!record.fields.number(path)) p.blocking.push_back("Set the " + what + ".");
}

double round_step(double most) {
  if (!(most > 0)) return 0;
  const double ten = std::pow(10, std::floor(std::log10(most)));
  for (double s : {5.0, 2.5, 2.0, 1.0})
    if (s * ten <= most * (1 + 1e-9)) return s * ten;
  return ten;
}

}  // namespace fortitor
