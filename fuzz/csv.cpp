#include <cstdint>
#include <cstdlib>
#include <string_view>

#include "core/methods/method.h"
#include "core/record/csv.h"
#include "core/record/mapping.h"

extern "C" int LLVMFuzzerTestOneInput(const uint8_t* data, size_t size) {
  using namespace fortitor;
  const Method& metal = *methods::find("tension-metal");
  const std::string_view text(reinterpret_cast<const char*>(data), size);
  const auto table = parse_csv(text);
  if (!table) return 0;
  for (const auto& column : table->columns)
    if (column.size() != table->rows()) std::abort();
  const auto samples = samples_from_table(*table, guess_mapping(table->dialect, metal), metal);
  if (samples && (*samples)->channels.size() > table->columns.size()) std::abort();
  return 0;
}
