#include <cstdint>
#include <cstdlib>
#include <string_view>

#include "core/bench/records.h"
#include "core/methods/method.h"

extern "C" int LLVMFuzzerTestOneInput(const uint8_t* data, size_t size) {
  using namespace fortitor;
  const std::string_view text(reinterpret_cast<const char*>(data), size);
  // What a book holds may break rules for values; it is read all the same, or refused as a file is.
  const auto stored = stored_record_from_json(text);
  const auto record = record_from_json(text);
  if (!record) return record.error().message.empty() ? std::abort(), 0 : 0;
  if (!stored) std::abort();
  // Whatever was read can be written, and read again to the same fields.
  const auto again = record_from_json(record_to_json(*record));
  if (!again || !(again->fields == record->fields)) std::abort();
  return 0;
}
