// The plan: lanes of a day, what cannot be met, who is there.
#pragma once

#include "app/frame/desk.h"
#include "app/plan/day_board.h"
#include "app/plan/lanes_view.h"
#include "app/theme/widgets.h"

namespace fortitor {

class PlanDesk : public Desk {
  Q_OBJECT

 public:
  PlanDesk(Workbench* bench, DayBoard* board, QWidget* parent = nullptr);
  QString name() const override { return "plan"; }
  QString title() const override { return "Plan"; }
  Docket::Place place() const override { return Docket::Place::plan; }
  std::vector<Doable> doable() override { return {opens("Plan", "who does what when")}; }
  void open(Id, int) override;
  bool wants_room() const override { return true; }
  LanesView* lanes() const { return lanes_; }
  const std::string& day() const { return day_; }
  /// Writes the plan as iCalendar; nothing is written over.
  Outcome<Done> write_calendar(const QString& path);

 private:
  void show_plan();
  void show_picked();
  void show_hours();
  void turn(int days);
  void move(size_t task, int minute);
  void toggle_pin(size_t task);
  void keep_minutes();
  void open_task(size_t task);
  void keep_hours();

  Workbench* bench_;
  DayBoard* board_;
  std::string day_;
  QLabel *day_label_, *picked_;
  LanesView* lanes_;
  QVBoxLayout *unmet_, *people_;
  QPushButton *open_, *pin_;
  QLineEdit* lasts_;
  QLineEdit* breaks_;
  std::array<QPushButton*, 7> days_{};
  QLabel* hours_error_;
  std::vector<std::array<QLineEdit*, 3>> rows_;
};

}  // namespace fortitor
