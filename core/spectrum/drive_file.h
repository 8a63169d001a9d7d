// The drive as files for a rig.
#pragma once

#include <string>

#include "core/spectrum/chain.h"

namespace fortitor::spectrum {

struct DriveScale {
  double newton = 0;          ///< N for one microstrain; 0: the file holds microstrain
  double thermal_range = 0;   ///< µε of a slow wave laid on; 0: none
  double thermal_cycles = 7;  ///< over the whole drive
};

/// The turning points with the slow wave on them, in the unit of the file.
std::vector<double> drive_values(const Drive& drive, const DriveScale& scale);

/// CSV: a line "index,strain (µε)" or "index,force (N)", then a line a turning point. docs/record-format.md.
std::string drive_csv(const Drive& drive, const DriveScale& scale, uint64_t seed);
/// Binary, little-endian: 8 bytes "FTDRIVE1", uint32 unit (0 µε, 1 N), uint32 zero, uint64 points, uint64 seed, then
/// float64 a point.
std::string drive_binary(const Drive& drive, const DriveScale& scale, uint64_t seed);

}  // namespace fortitor::spectrum
