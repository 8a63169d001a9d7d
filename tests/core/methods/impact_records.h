// Records of the impact pendulum in a line each.
#pragma once

#include "tests/core/methods/method_records.h"

namespace fortitor {

/// Appends a blow: {"energy", "120 J"}, {"jammed", "true"}.
inline void add_blow(TestRecord& r, const std::vector<std::pair<std::string, std::string>>& cells) {
  Row row;
  const TableSpec& t = *methods::find(r.method)->keyed_table();
  for (const auto& [name, typed] : cells) {
    const FieldSpec& f = *t.column(name);
    if (f.kind == FieldKind::flag)
      row.cells.set(name, typed == "true");
    else if (f.kind == FieldKind::text || f.kind == FieldKind::choice)
      row.cells.set(name, typed);
    else
      row.cells.set(name, reading_of(parse_quantity(typed, f.dimension).value()));
  }
  r.run.tables[t.id].push_back(row);
}

/// A V2 piece of carbon steel, 10 mm square, on a hammer of 300 J, with a blow for each energy.
inline TestRecord beam(const std::vector<std::string>& energies, const std::string& temperature = "-20 °C") {
  TestRecord r = record_of("impact-pendulum", {{"specimen.family", {"carbon steel"}},
                                               {"specimen.section.shape", {"flat"}},
                                               {"specimen.section.width", {"10 mm"}},
                                               {"specimen.section.thickness", {"10 mm"}},
                                               {"specimen.ligament", {"8 mm"}},
                                               {"specimen.available_energy", {"300 J"}},
                                               {"specimen.striker", {"2 mm"}},
                                               {"specimen.temperature", {temperature}}});
  for (const std::string& e : energies) add_blow(r, {{"energy", e}});
  return r;
}

}  // namespace fortitor
