// The stand-in universal frame: crosshead, load cell, grips, extensometer, limits.
#pragma once

#include <memory>
#include <random>

#include "core/standin/machine.h"
#include "core/standin/specimen.h"

namespace fortitor::standin {

/// What the frame and its instruments are like. Forces in N, lengths in mm.
struct FrameSettings {
  std::string metal = "mild-steel";
  uint64_t seed = 1;
  double area = 78.5, parallel_length = 60, extensometer_length = 50;
  double cell_capacity = 100e3, frame_capacity = 250e3;
  double stiffness = 45e3;  ///< N/mm, frame and grips together
  double travel_limit = 400;
  double extensometer_range = 12.5;
  double slack = 0.15, seating = 0.05;
  double preload = 12;            ///< left by closing the second grip
  double force_noise = 2e-5;      ///< of capacity
  double extension_noise = 3e-5;  ///< mm
  double zero_drift = 0.02;       ///< N/s, after a zero
  double zero_start = 160;        ///< N, reading before anyone zeroes
  double slip = 0, slip_at = 0;   ///< mm that a blade of the extensometer slips, mm of extension at which it does
  bool platens = false;           ///< a press: the piece stands between platens, nothing grips it
};

/// Same settings and the same commands at the same machine times give the same samples.
class UniversalFrame : public Machine {
 public:
  /// Settings with an unknown metal or sizes ≤ 0 are a programming error (std::invalid_argument).
  explicit UniversalFrame(FrameSettings settings);
  /// The same frame with another piece in it.
  UniversalFrame(FrameSettings settings, std::unique_ptr<Workpiece> piece);

  Outcome<Done> command(MachineCommand command, double value = 0) override;
  Outcome<Done> program(const MachineProgram& program) override;
  MachineStatus status() const override;
  std::vector<MachineChannel> channels() const override;
  MachineColumns advance(double seconds) override;

  std::vector<MachineControl> controls() const override;

 private:
  struct Sample {
    double time = 0, force = 0, extension = 0, crosshead = 0;
  };
  void move(double seconds);
  Sample read();
  const MachineStep* step() const;
  void end_step();
  double now_of(MachineQuantity quantity) const;
  void pull_taut();
  double reading_force() const;
  std::string obstacle() const;
  void stop_run(MachineState state, std::string why);
  bool gripped() const { return top_grip_ && bottom_grip_; }
  double now_strain() const;

  FrameSettings settings_;
  std::unique_ptr<Workpiece> specimen_;
  MachineProgram program_;
  std::mt19937_64 random_;
  std::normal_distribution<double> noise_;
  MachineState state_ = MachineState::idle;
  std::string message_;
  bool top_grip_ = false, bottom_grip_ = false, extensometer_ = false, zeroed_ = false, waits_ = false;
  size_t step_ = 0;  ///< of the program
  int round_ = 0;    ///< times through it
  double hold_left_ = 0;
  double crosshead_ = 0, grip_at_ = 0, run_from_ = 0, jog_ = 0;
  double force_zero_ = 0, drift_time_ = 0, extension_zero_ = 0, preload_now_ = 0;
  double run_time_ = 0, sample_due_ = 0, quiet_left_ = 0;
};

}  // namespace fortitor::standin
