// What the row in hand would be with what the instrument shows now, and what one division more or less would make of
// it: worked out beside the window, the newest question alone.
#pragma once

#include <QObject>
#include <cmath>
#include <memory>
#include <optional>

#include "app/model/task.h"
#include "core/evaluation/evaluation.h"

namespace fortitor {

class SoFar : public QObject {
  Q_OBJECT

 public:
  struct Asked {
    quint64 piece = 0;
    size_t row = 0;
    QString reading;     ///< as it would be typed
    TestRecord with;     ///< the record as it would be
    TestRecord further;  ///< one division on; without a method where that says nothing
  };
  struct Answer {
    double value = NAN, further = NAN;  ///< of the row
    QString name;
    QString alarm;  ///< a judgement about the row
  };

  explicit SoFar(TaskBoard* board, QObject* parent = nullptr) : QObject(parent), board_(board) {}
  /// Where the answer to that is known already, the answer; nothing where it is asked for now, or has no value.
  std::optional<Answer> about(Asked asked);
  /// What was asked last is being worked out.
  bool coming() const { return busy_; }

 signals:
  /// What was asked last can be answered.
  void known();

 private:
  void begin();

  TaskBoard* board_;
  bool busy_ = false;
  std::shared_ptr<const Asked> waiting_;  ///< for the one that is worked out
  std::shared_ptr<const Asked> asked_;    ///< the newest
  std::shared_ptr<const Asked> answered_;
  std::optional<Answer> answer_;
};

}  // namespace fortitor
