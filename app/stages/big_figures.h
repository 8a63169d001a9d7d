// Readings of the machine, large enough for three metres.
#pragma once

#include <QWidget>
#include <vector>

#include "app/theme/painted_parts.h"
#include "core/quantity/unit.h"

namespace fortitor {

/// Large figures on ink, readable from three metres.
class BigFigures : public QWidget, public PaintedParts {
  Q_OBJECT

 public:
  std::vector<PaintedPart> painted_parts() override;
  explicit BigFigures(QWidget* parent = nullptr);
  /// One reading: the first is the largest. NaN is shown as a dash.
  struct Reading {
    QString name;
    double value = 0;
    Dimension dimension = Dimension::none;
  };
  void show_readings(std::vector<Reading> readings, UnitSet units);

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  std::vector<Reading> readings_;
  UnitSet units_ = UnitSet::si;
};

}  // namespace fortitor
