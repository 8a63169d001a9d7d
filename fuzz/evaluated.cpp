// Records as they come out of a file, evaluated: two orders of magnitude slower than reading them (json.cpp), and what
// record.cpp does to records of a stand-in.
#include <cstdint>
#include <cstdlib>
#include <string_view>

#include "core/bench/records.h"
#include "core/methods/method.h"

extern "C" int LLVMFuzzerTestOneInput(const uint8_t* data, size_t size) {
  using namespace fortitor;
  constexpr size_t kMostSamples = 20000;
  const auto record = record_from_json(std::string_view(reinterpret_cast<const char*>(data), size));
  if (!record) return 0;
  const SamplesPtr samples = record->run.samples();
  if (!samples || samples->size() < kMostSamples) methods::evaluate(*record);
  return 0;
}
