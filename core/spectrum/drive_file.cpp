#include "core/spectrum/drive_file.h"

#include <cmath>
#include <cstring>

#include "core/quantity/plain.h"

namespace fortitor::spectrum {

std::vector<double> drive_values(const Drive& drive, const DriveScale& scale) {
  std::vector<double> out = drive.values;
  const double n = double(out.size() > 1 ? out.size() - 1 : 1);
  for (size_t i = 0; i < out.size(); ++i) {
    // It begins and ends at nothing, so that blocks join.
    if (scale.thermal_range > 0)
      out[i] += scale.thermal_range / 2 * std::sin(2 * M_PI * std::round(scale.thermal_cycles) * double(i) / n);
    if (scale.newton != 0) out[i] *= scale.newton;
  }
  return out;
}

std::string drive_csv(const Drive& drive, const DriveScale& scale, uint64_t) {
  std::string out = scale.newton != 0 ? "index,force (N)\n" : "index,strain (µε)\n";
  const std::vector<double> values = drive_values(drive, scale);
  for (size_t i = 0; i < values.size(); ++i) {
    out += std::to_string(i) + "," + plain::general(values[i], 9) + "\n";
  }
  return out;
}

std::string drive_binary(const Drive& drive, const DriveScale& scale, uint64_t seed) {
  const std::vector<double> values = drive_values(drive, scale);
  std::string out = "FTDRIVE1";
  auto put = [&](const auto& v) {
    char bytes[sizeof v];
    std::memcpy(bytes, &v, sizeof v);
    out.append(bytes, sizeof v);
  };
  put(uint32_t(scale.newton != 0 ? 1 : 0));
  put(uint32_t(0));
  put(uint64_t(values.size()));
  put(seed);
  for (double v : values) put(v);
  return out;
}

}  // namespace fortitor::spectrum
