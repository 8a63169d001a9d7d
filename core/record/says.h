// What a machine's file says of itself above its numbers: the piece, who tested it and when, its sizes. English,
// German, French, Italian and Spanish words.
#pragma once

#include <map>
#include <optional>
#include <string>
#include <vector>

#include "core/record/field.h"
#include "core/record/machine_file.h"

namespace fortitor {

struct FileSays {
  std::string piece, operator_name, material, customer, order;
  std::string tested_at;  ///< "2026-11-24T14:12:33" or "2026-11-24"; empty where no certain day stands there
  std::map<std::string, std::vector<std::string>> sizes;  ///< "diameter", "width", "thickness" → as typed, with units
  std::string gauge_length, rate;                         ///< as typed, with units
  std::string kind;  ///< what kind of test its title names: "tension", "compression", "bending", "torsion"
  bool empty() const;
};

/// Of the lines above a block; what stands above all blocks holds for each. Only what is certain: a date that could be
/// the third of April or the fourth of March is left out.
FileSays file_says(const MachineFile& file, size_t block = 0);

/// The path of a size in a method's record ("diameter" → "specimen.section.diameter"), empty where it has none.
std::string size_path(const Schema& schema, const std::string& size);

}  // namespace fortitor
