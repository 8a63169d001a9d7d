#include <cstdint>
#include <cstdlib>
#include <string_view>

#include "core/bench/records.h"
#include "core/methods/method.h"

extern "C" int LLVMFuzzerTestOneInput(const uint8_t* data, size_t size) {
  using namespace fortitor;
  const auto record = record_from_json(std::string_view(reinterpret_cast<const char*>(data), size));
  if (!record) return 0;
  // Whatever was read can be written, read again to the same fields, and evaluated.
  const auto again = record_from_json(record_to_json(*record));
  if (!again || !(again->fields == record->fields)) std::abort();
  if (!record->run.samples() || record->run.samples()->size() < 20000) methods::evaluate(*record);
  return 0;
}
