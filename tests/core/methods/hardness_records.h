// Hardness records in a line each.
#pragma once

#include "core/record/keyed.h"
#include "tests/core/methods/method_records.h"

namespace fortitor {

/// Appends a row: {"d1", "118;292.5"}, {"x", "0.5 mm"}; readings of a cell parted by semicolons, an empty one is
/// missed.
inline void add_indent(TestRecord& r, const std::vector<std::pair<std::string, std::string>>& cells) {
  const TableSpec& table = *methods::find(r.method)->keyed_table();
  Row row;
  for (const auto& [name, typed] : cells) {
    const FieldSpec& f = *table.column(name);
    Readings list;
    for (const std::string& part : standin::parts_of(typed))
      list.push_back(part.empty() ? Reading{} : read_keyed(part, f).value());
    if (f.kind == FieldKind::readings)
      row.cells.set(name, list);
    else
      row.cells.set(name, list.front());
  }
  r.run.tables[table.id].push_back(row);
}

inline TestRecord rockwell_record(const std::string& scale, const std::vector<double>& readings) {
  TestRecord r =
      record_of("hardness-rockwell",
                {{"specimen.material", {"steel"}}, {"specimen.family", {"alloy steel"}}, {"specimen.scale", {scale}}});
  for (double hr : readings) add_indent(r, {{"hr", plain_number(hr, 6)}});
  return r;
}

/// Indents of one diagonal, mm, at places along x.
inline TestRecord vickers_record(const std::string& force, const std::vector<std::pair<double, double>>& x_and_d) {
  TestRecord r =
      record_of("hardness-vickers",
                {{"specimen.material", {"steel"}}, {"specimen.family", {"alloy steel"}}, {"specimen.force", {force}}});
  for (const auto& [x, d] : x_and_d) {
    const std::string text = plain_number(d, 8) + " mm";
    add_indent(r, {{"d1", text}, {"d2", text}, {"x", plain_number(x, 6) + " mm"}, {"y", "0 mm"}});
  }
  return r;
}

/// A traverse to 550 HV 0.5 with these hardnesses at these depths.
inline TestRecord traverse_record(const std::vector<std::pair<double, double>>& x_and_hv) {
  std::vector<std::pair<double, double>> d;
  for (const auto& [x, hv] : x_and_hv) d.emplace_back(x, std::sqrt(0.1891 * 0.5 * 9.80665 / hv));
  TestRecord r = vickers_record("0.5 kgf", d);
  standin::type_into(r, "specimen.traverse.limit", "550");
  return r;
}

}  // namespace fortitor
