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
  /// A shared book by its name, and whether its server answers; empty: the book is a file.
  void set_book(const QString& name, bool there, const QString& tip = {});
  QRect find_area() const;
  /// Timers and rigs as warm pills, the next to end first; at most three are shown.
  void set_running(const std::vector<RunningTimer>& timers, const std::vector<LongRun>& rigs);
  /// Instruments on wires with the value that each shows; changed in place as often as they speak.
  struct Live {
    QString name, value;
    bool steady = true;
    Id item = 0;
  };
  void set_live(const std::vector<Live>& live);

 signals:
  void find_wanted();
  void units_wanted();
  void operator_wanted();
  void timer_wanted(fortitor::Id specimen, fortitor::Id timer);
  void rig_wanted(fortitor::Id specimen);
  void book_wanted();
  void item_wanted(fortitor::Id item);

 protected:
  void paintEvent(QPaintEvent* event) override;
  bool eventFilter(QObject* watched, QEvent* event) override;

 private:
  QPushButton* add_pill(const QString& text, const QString& key, const QString& tip, bool over);
  QHBoxLayout *pills_ = nullptr, *live_ = nullptr;
  std::vector<QPushButton*> live_pills_;
  QLabel* place_;
  QPushButton *find_, *book_, *units_, *operator_;
};

}  // namespace fortitor
