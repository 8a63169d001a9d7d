// Pieces that run for hours or days on a machine that counts by itself. What was ordered stands in the book and the
// time is that of the wall clock: other work goes on meanwhile, and a restart of the program changes nothing.
#pragma once

#include <QDateTime>
#include <QObject>
#include <functional>
#include <vector>

#include "app/model/workbench.h"
#include "core/standin/long_machine.h"

namespace fortitor {

struct LongRun {
  Id specimen = 0;
  std::string code;
  LongOrder order;
  QDateTime since;    ///< it has run without a halt since then
  double before = 0;  ///< s of the machine's time before that
  double hurry = 1;   ///< machine seconds in a second: the stand-in can be hurried, a real rig could not
  bool halted = false;
  LongStatus status;
  std::shared_ptr<LongMachine> machine;
  std::shared_ptr<bool> writing;  ///< its row is on its way into the book
  QString text() const;           ///< "BW-11 point 3  1.28 M"
};

class LongRuns : public QObject {
  Q_OBJECT

 public:
  explicit LongRuns(Workbench* bench, QObject* parent = nullptr);
  const std::vector<LongRun>& all() const { return runs_; }
  /// The run of a specimen; null when it has none.
  const LongRun* of(Id specimen) const;
  /// Starts a row of the specimen on the bench. Errors: one runs already, no level is known, the book cannot be
  /// written.
  Outcome<Done> start(size_t row);
  void halt(Id specimen);
  void go_on(Id specimen);
  void set_hurry(Id specimen, double hurry);
  double hurry() const { return hurry_; }
  /// Readings of the gauges so far, at the interval wanted: cycles, then one column a gauge.
  static Samples gauges_of(const LongRun& run, const TestRecord& record);
  /// Looks at the machines; called every second.
  void tick();

 signals:
  void changed();
  /// A piece broke, ran out, or the rig stopped.
  void ended(const QString& sentence);

 private:
  double seconds_of(const LongRun& run) const;
  LongRun* find(Id specimen);
  bool equip(LongRun& run) const;
  void load();
  Outcome<Done> store() const;
  /// Writes what the piece came to into its row. False: it could not be kept, and is tried again.
  bool finish(LongRun& run);

  Workbench* bench_;
  std::vector<LongRun> runs_;
  const Book* of_book_ = nullptr;
  double hurry_ = 1000;
  bool busy_ = false;
};

}  // namespace fortitor
