// Today: what is next at the bench, plainly.
#pragma once

#include <QWidget>

#include "app/frame/desk.h"
#include "app/model/timer_board.h"
#include "app/plan/day_board.h"
#include "app/plan/lanes_view.h"
#include "app/theme/widgets.h"
#include "app/today/welcome.h"

namespace fortitor {

class TodayPage : public Desk {
  Q_OBJECT

 public:
  TodayPage(Workbench* bench, TimerBoard* timers, DayBoard* day, QWidget* parent = nullptr);
  QString name() const override { return "today"; }
  QString title() const override;
  Docket::Place place() const override { return Docket::Place::today; }
  void open(Id, int) override {
    refresh();
    later_.start();
  }
  void refresh();

 private:
  void add_row(const QString& when, const QColor& colour, const QString& title, const QString& why,
               const QString& action, const QString& key, const std::function<void()>& act);
  void remind_of_kit();
  void show_day();
  void show_kit();
  /// When the plan has the piece next, today: "11:40"; empty otherwise.
  QString planned_at(Id specimen) const;
  Workbench* bench_;
  TimerBoard* timers_;
  DayBoard* day_;
  QTimer later_;      ///< the page is painted before the day is planned
  Welcome* welcome_;  ///< in place of the day while the book is empty
  QWidget* day_page_;
  LanesView* lanes_;
  QVBoxLayout* ready_;
  QVBoxLayout *rows_, *notices_;
  QGridLayout* jobs_;
};

}  // namespace fortitor
