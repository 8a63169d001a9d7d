// The day plan as the window knows it: made from the book beside the window, anew when the book or the clock moved on.
#pragma once

#include <QDateTime>
#include <QObject>
#include <QTimer>
#include <functional>

#include "app/model/task.h"
#include "app/model/workbench.h"
#include "app/plan/lanes_view.h"
#include "core/bench/agenda.h"

namespace fortitor {

class DayBoard : public QObject {
  Q_OBJECT

 public:
  explicit DayBoard(Workbench* bench, QObject* parent = nullptr);
  QDateTime now() const { return bench_->clock().now(); }
  /// Plans again; planned() follows. The newest question wins.
  void ask();
  /// Null until the first plan is there. The next plan is another one: whoever shows this one keeps it.
  const AgendaPtr& agenda() const { return agenda_; }
  const agenda::Input& input() const { return input_; }

  /// Keeps a start chosen by hand, or lets it go (empty `at`).
  Outcome<Done> pin(Id specimen, const std::string& step, const std::string& at);
  /// Keeps a length chosen by hand, or lets it go (0).
  Outcome<Done> set_minutes(Id specimen, const std::string& step, int minutes);
  Outcome<Done> keep_hours(const agenda::Hours& hours);

 signals:
  void planned();
  /// A minute has passed: local time, as the plan has it.
  void minute(const QString& now);

 private:
  Outcome<Done> change_pin(Id specimen, const std::string& step, const std::function<void(agenda::Pin&)>& change);

  Workbench* bench_;
  AgendaPtr agenda_;
  agenda::Input input_;
  TaskPtr task_;
  QTimer beat_;
};

}  // namespace fortitor
