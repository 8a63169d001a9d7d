// Signals as they lie on a disk: CSV with and without time, 4- and 8-byte numbers, through the chain.
#include <unistd.h>

#include <cmath>
#include <cstdlib>
#include <fstream>
#include <string>

#include "core/spectrum/spectrum.h"

extern "C" int LLVMFuzzerTestOneInput(const uint8_t* data, size_t size) {
  using namespace fortitor;
  if (size < 4 || size > 100000) return 0;
  static const std::string base = "/tmp/fortitor-fuzz-signal-" + std::to_string(::getpid());
  static const char* const formats[] = {"csv", "f32", "f64", ""};
  const std::string path = base + (data[0] % 4 == 3 ? ".csv" : ".bin");
  {
    std::ofstream out(path, std::ios::binary | std::ios::trunc);
    out.write(reinterpret_cast<const char*>(data + 3), std::streamsize(size - 3));
  }
  spectrum::Settings s;
  s.weeks.resize(1);
  s.weeks[0].files = {path};
  s.weeks[0].format = formats[data[0] % 4];
  s.weeks[0].rate = data[1] % 8 == 0 ? 0 : 1 + data[1];
  if (data[1] & 64) s.weeks[0].sentinel = double(data[2]);
  s.block = 1 + data[2];
  s.level = data[2] % 3 == 0 ? "squares" : data[2] % 3 == 1 ? "quiet" : "none";
  s.cut = data[0] / 4 % 4;
  s.gate = data[0] / 16 % 4;
  s.leave_out = data[0] & 64;
  s.count = data[0] & 128 ? "three-point" : "four-point";
  s.length = 100;
  spectrum::Spectrum now;
  const auto done = spectrum::compute(now, s, {.workers = {1}});
  if (!done || now.together.ranges.empty()) return 0;
  for (const spectrum::Week& w : now.weeks)
    for (double r : w.ranges)
      if (!(r >= 0)) std::abort();
  (void)spectrum::to_json(now, {});
  for (int step = 0; step < spectrum::kSteps; ++step) (void)spectrum::figures_of(now, spectrum::ChainStep(step));
  return 0;
}
