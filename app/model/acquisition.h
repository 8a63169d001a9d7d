// Runs a machine in a thread of its own and hands its samples over as values.
#pragma once

#include <QObject>
#include <QThread>
#include <memory>
#include <vector>

#include "core/standin/machine.h"

namespace fortitor {

using ColumnsPtr = std::shared_ptr<const MachineColumns>;

/// Commands go in by queued call, status and samples come out by signal. Nothing is shared.
class Acquisition : public QObject {
  Q_OBJECT

 public:
  /// Takes the machine over. `speed`: seconds of machine time per second of real time.
  explicit Acquisition(std::unique_ptr<Machine> machine, double speed = 1.0, QObject* parent = nullptr);
  ~Acquisition() override;
  void command(MachineCommand command, double value = 0);
  void program(const MachineProgram& program);
  void set_speed(double speed);
  const std::vector<MachineControl>& controls() const { return controls_; }
  const std::vector<MachineChannel>& channels() const { return channels_; }

 signals:
  void samples(fortitor::ColumnsPtr columns);
  void status(fortitor::MachineStatus status);
  void refused(const QString& sentence);

 private:
  class Driver;
  QThread thread_;
  std::vector<MachineControl> controls_;
  std::vector<MachineChannel> channels_;
  Driver* driver_;
};

}  // namespace fortitor
