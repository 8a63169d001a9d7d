#include "core/plan/plan.h"

#include <algorithm>
#include <cmath>
#include <tuple>

#include "core/quantity/format.h"

namespace fortitor {

double advised_cell(double low, double high) {
  if (!(high > 0) || !std::isfinite(high)) return 0;
  static constexpr double kCells[] = {10,  20,  50,  100, 200, 500, 1e3, 2e3, 5e3,
                                      1e4, 2e4, 5e4, 1e5, 2e5, 5e5, 1e6, 2e6, 5e6};
  for (double c : kCells)
    if (high <= 0.9 * c && low >= 0.1 * c) return c;
  for (double c : kCells)
    if (high <= 0.9 * c) return c;
  return kCells[std::size(kCells) - 1];
}

double speed_for_strain_rate(double strain_rate, double parallel_length, double modulus, double area,
                             double stiffness) {
  const double compliance = stiffness > 0 ? modulus * area / stiffness : 0.0;
  return strain_rate * (parallel_length + compliance);
}

double sampling_for(double yield_strain, double strain_rate, int points) {
  if (!(yield_strain > 0) || !(strain_rate > 0)) return 50;
  return std::ceil(points * strain_rate / yield_strain);
}

std::vector<LoadPathPart> load_path_of(const TestRecord& record) {
  std::vector<LoadPathPart> parts;
  for (const auto& [id, label, path] : {std::tuple{"frame", "Frame", "equipment.frame.capacity"},
                                        std::tuple{"cell", "Load cell", "equipment.load_cell.capacity"},
                                        std::tuple{"grips", "Grips", "equipment.grips.capacity"}})
    parts.push_back({id, label, path, record.fields.number(path)});
  return parts;
}

void judge_load_path(const TestRecord& record, Plan& p) {
  auto si = [](double v) { return format_value(v, Dimension::force, UnitSet::si, 3); };
  p.load_path = load_path_of(record);
  const auto cell = record.fields.number("equipment.load_cell.capacity");
  if (!cell) p.blocking.push_back("Choose the load cell.");
  if (!p.force_high) return;
  p.advice.insert(p.advice.begin(),
                  {"equipment.load_cell.capacity", "Cell", advised_cell(*p.force_low, *p.force_high), Dimension::force,
                   "smallest that holds " + si(*p.force_low) + " to " + si(*p.force_high) + " within 10–90 %"});
  const auto stop = record.fields.number("settings.stop.force");
  const double most = stop ? std::min(*stop, *p.force_high) : *p.force_high;
  for (const LoadPathPart& part : p.load_path)
    if (part.rating && most > *part.rating)
      p.blocking.push_back(part.label + " is rated " + si(*part.rating) + "; up to " + si(most) +
                           " is planned. Take a larger one or set a lower stop.");
  if (cell && *p.force_low < 0.1 * *cell)
    p.warnings.push_back("The expected force may use only " + significant(100 * *p.force_low / *cell, 2) +
                         " % of the cell; 10–90 % is wanted.");
}

}  // namespace fortitor
