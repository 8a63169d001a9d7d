// Today: what is next at the bench, plainly.
#pragma once

#include <QWidget>

#include "app/frame/desk.h"
#include "app/model/timer_board.h"
#include "app/plan/day_board.h"
#include "app/plan/lanes_view.h"
#include "app/theme/widgets.h"
#include "app/today/waiting.h"
#include "app/today/welcome.h"

namespace fortitor {

class TodayPage : public Desk {
  Q_OBJECT

 public:
  TodayPage(Workbench* bench, TimerBoard* timers, DayBoard* day, QWidget* parent = nullptr);
  QString name() const override { return "today"; }
  QString title() const override;
  Docket::Place place() const override { return Docket::Place::today; }
  std::vector<Doable> doable() override { return {opens("Today", "what is next")}; }
  void open(Id, int) override {
    shown_ = kFirst;
    refresh();
    later_.start();
  }
  void refresh();

 private:
  /// Rows at first, and further ones at a time: what a person does in a day, and what is laid out without a pause.
  static constexpr size_t kFirst = 6, kNow = 3, kMore = 20;

  QWidget* build_day();
  void add_row(const TodayRow& row);
  void show_rows(const std::vector<JobOutline>& outline);
  void show_jobs(const std::vector<JobOutline>& outline);
  void show_day();
  void show_kit();
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
  size_t shown_ = kFirst;
};

}  // namespace fortitor
