#include <cstdint>
#include <cstdlib>
#include <string_view>

#include "core/methods/method.h"
#include "core/record/machine_file.h"
#include "core/record/mapping.h"

extern "C" int LLVMFuzzerTestOneInput(const uint8_t* data, size_t size) {
  using namespace fortitor;
  const Method& metal = *methods::find("tension-metal");
  const std::string_view text(reinterpret_cast<const char*>(data), size);
  // As the import reads it: every block has columns of one length, and names for all of them.
  if (const auto file = machine_file(text)) {
    if (file->blocks.empty()) std::abort();
    for (const MachineBlock& b : file->blocks) {
      if (b.table.rows() == 0 || b.table.dialect.columns.size() != b.table.columns.size() ||
          b.table.dialect.units.size() != b.table.columns.size())
        std::abort();
      for (const auto& column : b.table.columns)
        if (column.size() != b.table.rows()) std::abort();
      (void)samples_from_table(b.table, guess_mapping(b.table.dialect, metal), metal);
    }
  }
  const auto table = parse_csv(text);
  if (!table) return 0;
  for (const auto& column : table->columns)
    if (column.size() != table->rows()) std::abort();
  const auto samples = samples_from_table(*table, guess_mapping(table->dialect, metal), metal);
  if (samples && (*samples)->channels.size() > table->columns.size()) std::abort();
  return 0;
}
