// The way to run a piece before its time: a reason, which stays with the record.
#pragma once

#include <QWidget>

#include "app/model/timer_board.h"
#include "app/theme/widgets.h"

namespace fortitor {

class EarlyLeave : public QWidget {
  Q_OBJECT

 public:
  EarlyLeave(Workbench* bench, TimerBoard* timers, QWidget* parent = nullptr);

 signals:
  void given();

 private:
  void accept();

  Workbench* bench_;
  TimerBoard* timers_;
  QLineEdit* reason_;
};

}  // namespace fortitor
