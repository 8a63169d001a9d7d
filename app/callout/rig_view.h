// What a rig does that runs a point by itself: its counter, the stiffness, the gauges along the toe, and its switches.
#pragma once

#include <QFrame>
#include <QPushButton>

#include "app/model/long_runs.h"
#include "app/theme/widgets.h"

namespace fortitor {

/// 1 284 000: a count in groups of three.
QString grouped_count(double n);

class RigView : public QFrame {
  Q_OBJECT

 public:
  RigView(Workbench* bench, LongRuns* runs, QWidget* parent = nullptr);
  /// `row`: the point that would be started next.
  void show_row(size_t row);
  /// Starts, halts, goes on: what comes next.
  void switch_over();

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  void refresh();
  Workbench* bench_;
  LongRuns* runs_;
  size_t row_ = 0;
  QPushButton* switch_ = nullptr;
  std::vector<QPushButton*> hurries_;
  QLabel *count_ = nullptr, *words_ = nullptr;
};

}  // namespace fortitor
