// Today: what is next at the bench, plainly.
#pragma once

#include <QWidget>

#include "app/model/timer_board.h"
#include "app/theme/widgets.h"

namespace fortitor {

class TodayPage : public QWidget {
  Q_OBJECT

 public:
  TodayPage(Workbench* bench, TimerBoard* timers, QWidget* parent = nullptr);
  void refresh();

 signals:
  void specimen_wanted(fortitor::Id specimen, int stage);
  void new_job_wanted();

 private:
  void add_row(const QString& when, const QColor& colour, const QString& title, const QString& why,
               const QString& action, Id specimen, Stage stage);
  Workbench* bench_;
  TimerBoard* timers_;
  QVBoxLayout *rows_, *notices_;
  QHBoxLayout* jobs_;
};

}  // namespace fortitor
