// Top bar: mark, where you are, find or do, unit set, operator.
#pragma once

#include <QWidget>

#include "app/model/timer_board.h"

#include "app/theme/widgets.h"

namespace fortitor {

class TopBar : public QWidget {
  Q_OBJECT

 public:
  explicit TopBar(QWidget* parent = nullptr);
  void set_place(const QString& place);
  void set_units(const QString& text);
  void set_operator(const QString& name);
  QRect find_area() const;
  /// Timers as warm pills, the next to end first; at most three are shown.
  void set_timers(const std::vector<RunningTimer>& timers);

 signals:
  void find_wanted();
  void units_wanted();
  void operator_wanted();
  void timer_wanted(fortitor::Id specimen, fortitor::Id timer);

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  QHBoxLayout* pills_ = nullptr;
  QLabel* place_;
  QPushButton *find_, *units_, *operator_;
};

}  // namespace fortitor
