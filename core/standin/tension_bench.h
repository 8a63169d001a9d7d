// Stand-in instruments at the bench and whole simulated tests.
#pragma once

#include <cstdint>
#include <memory>
#include <string>

#include "core/outcome.h"
#include "core/record/record.h"
#include "core/standin/frame.h"

namespace fortitor::standin {

/// True sizes of a stand-in bar, before and after the test.
struct Bar {
  std::string metal;
  uint64_t seed = 1;
  double diameter = 10, gauge_length = 50, parallel_length = 60;
};

/// Bar behind a record: metal and seed from equipment.standin.*, sizes from what has been measured or
/// from the nominal diameter that goes with the seed.
Bar bar_of(const TestRecord& record);

/// Frame set up for a record: piece, cell, stiffness and extensometer as entered.
std::unique_ptr<UniversalFrame> frame_for(const TestRecord& record);
FrameSettings frame_settings(const TestRecord& record);
MachineProgram program_for(const TestRecord& record);

/// Readings the stand-in caliper takes at a field ("specimen.section.diameter",
/// "specimen.after.gauge_length" …), typed as its display shows them; empty when it cannot reach
/// there. Before a break the "after" fields give nothing.
std::vector<std::string> caliper_readings(const TestRecord& record, const std::string& path, int wanted);

/// Look of the stand-in's halves.
std::string fracture_look(const TestRecord& record);

struct TensionOptions {
  std::string metal = "mild-steel";
  uint64_t seed = 1;
  double sampling = 50;
  bool forget_zero = false;  ///< practice fault: run starts without zeroing
  bool leave_extensometer = false;
  std::string faults = {};                                     ///< of the machine, "slip,drift"
  std::optional<double> stop_force = {}, frame_capacity = {};  ///< N
  double cell_capacity = 100e3;
};

/// A whole test on the stand-in frame: bar measured, gripped, zeroed, pulled, halves read.
TestRecord simulate_tension(const TensionOptions& options);

}  // namespace fortitor::standin
