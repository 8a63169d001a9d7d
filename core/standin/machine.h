// What a testing machine looks like to the program. Stand-ins implement it; so would a real driver.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/outcome.h"
#include "core/record/record.h"

namespace fortitor {

enum class MachineState { idle, running, holding, returning, stopped };

/// What a person or the program may ask of a machine.
enum class MachineCommand {
  jog_up,
  jog_down,
  jog_stop,  ///< value: speed in mm/s
  close_top_grip,
  close_bottom_grip,
  open_grips,
  zero_force,
  zero_extension,
  mount_extensometer,
  remove_extensometer,
  start,
  hold,
  resume,
  go_back,
  emergency_stop,
  reset,
};

/// A command as it stands on the machine's panel, with its key.
struct MachineControl {
  MachineCommand command;
  std::string label;
  char key;
};

/// How a run is to be driven and what stops it. Zero or empty means no such limit.
struct MachineProgram {
  double elastic_speed = 0.02;  ///< mm/s, to `switch_strain`
  double plastic_speed = 0.2;   ///< mm/s, after it
  double switch_strain = 0.01;  ///< on the extensometer, or crosshead over parallel length
  double sampling = 50;         ///< Hz, 1 to 5000
  double hold_at_strain = 0;    ///< holds there, so that the extensometer can come off
  std::optional<double> stop_force = {}, stop_travel = {}, stop_strain = {};  ///< N, mm, ratio
};

/// One instant of all channels, internal units; extension is NaN while no extensometer is mounted.
struct MachineRow {
  double time = 0, force = 0, extension = 0, crosshead = 0;
};

struct MachineStatus {
  MachineState state = MachineState::idle;
  MachineRow now;
  bool top_grip = false, bottom_grip = false, extensometer = false, broken = false;
  bool force_zeroed = false;
  double specimen_strain = 0;  ///< of the parallel length, for drawing
  double neck = 0;             ///< 0…1 share of the way to the break, for drawing
  double neck_place = 0.5;     ///< 0 bottom … 1 top, for drawing
  std::string message;         ///< why the run stopped, or what the machine waits for
  std::string obstacle;        ///< what the machine still wants before Start, as a sentence; empty: nothing
};

/// A machine driven by commands and asked for the samples of each stretch of its own time.
class Machine {
 public:
  virtual ~Machine() = default;
  /// Carries out a command, or refuses it with a sentence.
  virtual Outcome<Done> command(MachineCommand command, double value = 0) = 0;
  virtual Outcome<Done> program(const MachineProgram& program) = 0;
  virtual MachineStatus status() const = 0;
  /// What its panel offers, in the order of work.
  virtual std::vector<MachineControl> controls() const = 0;
  /// Lets `seconds` (≥ 0) of machine time pass and returns the samples taken in it. Samples are taken
  /// while a run is on (running or holding) and its time starts at 0 with Start.
  virtual std::vector<MachineRow> advance(double seconds) = 0;
};

/// Rows as columns of a run (extension left out if never mounted).
SamplesPtr samples_from_rows(const std::vector<MachineRow>& rows);

}  // namespace fortitor
