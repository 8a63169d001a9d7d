// Timers for cure and conditioning: kept in the book, told by the wall clock, so that they run on while the
// program is closed.
#pragma once

#include <QDateTime>
#include <QObject>
#include <QTimer>
#include <functional>
#include <vector>

#include "app/model/long_runs.h"
#include "app/model/workbench.h"

namespace fortitor {

/// A timer as it stands now.
struct RunningTimer {
  TimerRow row;
  qint64 left = 0;       ///< s; 0 or less: over
  QString text() const;  ///< "Cure FS-03  02:10" or "Cure FS-03  over"
};

class TimerBoard : public QObject {
  Q_OBJECT

 public:
  explicit TimerBoard(Workbench* bench, QObject* parent = nullptr);
  const std::vector<RunningTimer>& timers() const { return timers_; }
  /// Pieces that run for days on machines of their own, by the same clock.
  LongRuns& rigs() { return *rigs_; }
  /// Timer of a specimen under a name; null when none runs.
  const RunningTimer* find(Id specimen, const std::string& label) const;

  /// Starts the timer `spec` of the specimen on the bench for its stated time. Errors: no time stated.
  Outcome<Done> start(const TimerSpec& spec);
  /// Ends it: the elapsed time goes into the record.
  void finish(const TimerSpec& spec);
  void acknowledge(Id timer);
  /// Why the specimen on the bench may not be run yet, as a sentence; empty: it may.
  QString obstacle() const;
  /// Accepts the run before its time with a reason, which stays in the record.
  void accept_early(const QString& reason);
  /// Looks at the clock; called every second.
  void tick();

 signals:
  void changed();
  /// A timer has just ended.
  void ended(const QString& sentence);

 private:
  const TimerSpec* short_timer() const;
  Workbench* bench_;
  std::vector<RunningTimer> timers_;
  std::vector<Id> told_;
  QTimer beat_;
  LongRuns* rigs_;
};

}  // namespace fortitor
