// The day plan as the window knows it: made from the book beside the window, anew when the book or the clock moved on.
#pragma once

#include <QDateTime>
#include <QObject>
#include <QTimer>
#include <functional>
#include <optional>

#include "app/model/task.h"
#include "app/model/workbench.h"
#include "core/bench/agenda.h"

namespace fortitor {

class DayBoard : public QObject {
  Q_OBJECT

 public:
  explicit DayBoard(Workbench* bench, QObject* parent = nullptr);
  /// Tests put their own in.
  void set_clock(std::function<QDateTime()> clock) { clock_ = std::move(clock); }
  QDateTime now() const { return clock_(); }
  /// Plans again; planned() follows. The newest question wins.
  void ask();
  /// Null until the first plan is there.
  const agenda::Agenda* agenda() const { return agenda_ ? &*agenda_ : nullptr; }
  const agenda::Input& input() const { return input_; }

  /// Keeps a start chosen by hand, or lets it go (empty `at`).
  Outcome<Done> pin(Id specimen, const std::string& step, const std::string& at);
  Outcome<Done> keep_hours(const agenda::Hours& hours);

 signals:
  void planned();
  /// A minute has passed: local time, as the plan has it.
  void minute(const QString& now);

 private:
  Workbench* bench_;
  std::function<QDateTime()> clock_;
  std::optional<agenda::Agenda> agenda_;
  agenda::Input input_;
  TaskPtr task_;
  QTimer beat_;
};

}  // namespace fortitor
