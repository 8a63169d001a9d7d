// Today: what is next at the bench, plainly.
#pragma once

#include <QWidget>

#include "app/frame/desk.h"
#include "app/model/timer_board.h"
#include "app/theme/widgets.h"

namespace fortitor {

class TodayPage : public Desk {
  Q_OBJECT

 public:
  TodayPage(Workbench* bench, TimerBoard* timers, QWidget* parent = nullptr);
  QString name() const override { return "today"; }
  QString title() const override;
  Docket::Place place() const override { return Docket::Place::today; }
  void open(Id, int) override { refresh(); }
  void refresh();

 private:
  void add_row(const QString& when, const QColor& colour, const QString& title, const QString& why,
               const QString& action, Id specimen, Stage stage);
  Workbench* bench_;
  TimerBoard* timers_;
  QVBoxLayout *rows_, *notices_;
  QGridLayout* jobs_;
};

}  // namespace fortitor
