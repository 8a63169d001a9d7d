// What a testing machine looks like to the program. Stand-ins implement it; so would a real driver.
#pragma once

#include <limits>
#include <map>
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
  adjust,  ///< value: which of the fixture's screws, its sign the way it is turned
};

/// A command as it stands on the machine's panel, with its key.
struct MachineControl {
  MachineCommand command;
  std::string label;
  char key;
  double value = 0;  ///< goes with the command
};

/// What a machine can be led by, and what can end a step.
enum class MachineQuantity { travel, force, strain, torque, angle };

/// One step of a program: drive, then hold.
struct MachineStep {
  MachineQuantity control = MachineQuantity::travel;  ///< what moves at `rate`
  double rate = 0.02;                                 ///< internal unit of the control per second, > 0
  MachineQuantity until = MachineQuantity::travel;    ///< what `target` is a value of
  std::optional<double> target = {};                  ///< ends the step; empty: only a limit or the break does
  double hold = 0;  ///< s held at the target before the next step; infinite: until a person goes on
};

/// How a run is to be driven and what stops it. Empty means no such limit.
struct MachineProgram {
  std::vector<MachineStep> steps = {{}};
  int repeat = 1;                                                             ///< times the steps are gone through
  double sampling = 50;                                                       ///< Hz, 1 to 5000
  std::optional<double> stop_force = {}, stop_travel = {}, stop_strain = {};  ///< N, mm, ratio
};

/// A channel that a machine delivers; the first is always "time".
struct MachineChannel {
  std::string name, label;
  Dimension dimension = Dimension::none;
};

/// Samples of a stretch of time: one column a channel, all of one length; NaN where nothing was measured.
using MachineColumns = std::vector<std::vector<double>>;

struct MachineStatus {
  MachineState state = MachineState::idle;
  std::map<std::string, double> now;  ///< by channel, internal units; left out while there is no reading
  bool top_grip = false, bottom_grip = false, extensometer = false, broken = false;
  bool force_zeroed = false;
  double specimen_strain = 0;        ///< of the parallel length, for drawing
  double neck = 0;                   ///< 0…1 share of the way to the break, for drawing
  double neck_place = 0.5;           ///< 0 bottom … 1 top, for drawing
  std::string message;               ///< why the run stopped, or what the machine waits for
  std::string obstacle;              ///< what the machine still wants before Start, as a sentence; empty: nothing
  bool listened = false;             ///< a real machine that is only listened to: nothing of it can be driven
  std::vector<Event> happened = {};  ///< found in what a machine that is listened to sent, since its Start
  bool waits = false;                ///< held at the end of a step until a person goes on

  /// Reading of a channel; NaN while there is none.
  double reading(const std::string& channel) const {
    const auto it = now.find(channel);
    return it == now.end() ? std::numeric_limits<double>::quiet_NaN() : it->second;
  }
};

/// A machine driven by commands and asked for the samples of each stretch of its own time.
class Machine {
 public:
  virtual ~Machine() = default;
  /// Carries out a command, or refuses it with a sentence.
  virtual Outcome<Done> command(MachineCommand command, double value = 0) = 0;
  virtual Outcome<Done> program(const MachineProgram& program) = 0;
  virtual MachineStatus status() const = 0;
  virtual std::vector<MachineChannel> channels() const = 0;
  /// What its panel offers, in the order of work.
  virtual std::vector<MachineControl> controls() const = 0;
  /// Lets `seconds` (≥ 0) of machine time pass and returns the samples taken in it. Samples are taken
  /// while a run is on (running or holding) and its time starts at 0 with Start.
  virtual MachineColumns advance(double seconds) = 0;
};

/// Puts `more` behind `columns`.
void append(MachineColumns& columns, const MachineColumns& more);
/// Columns as the samples of a run; channels without a single reading are left out.
SamplesPtr samples_of(const std::vector<MachineChannel>& channels, const MachineColumns& columns);

}  // namespace fortitor
