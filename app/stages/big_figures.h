// Readings of the machine, large enough for three metres.
#pragma once

#include <QWidget>

#include "core/quantity/unit.h"
#include "core/standin/machine.h"

namespace fortitor {

/// Large figures on ink, readable from three metres.
class BigFigures : public QWidget {
  Q_OBJECT

 public:
  explicit BigFigures(QWidget* parent = nullptr);
  void show_status(const MachineStatus& status, UnitSet units, double area, double gauge);

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  MachineStatus status_;
  UnitSet units_ = UnitSet::si;
  double area_ = 0, gauge_ = 0;
};

}  // namespace fortitor
