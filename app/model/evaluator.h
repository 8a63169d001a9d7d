// Evaluates records beside the window; only the newest request counts.
#pragma once

#include <QObject>
#include <memory>
#include <optional>

#include "app/model/task.h"
#include "core/evaluation/evaluation.h"

namespace fortitor {

using EvaluationPtr = std::shared_ptr<const Evaluation>;

class Evaluator : public QObject {
  Q_OBJECT

 public:
  explicit Evaluator(TaskBoard* board, QObject* parent = nullptr);
  /// Asks for an evaluation; returns its ticket. One is made at a time; older requests not begun yet are passed over.
  /// `day`: the day it is.
  quint64 request(const TestRecord& record, const std::string& day);

 signals:
  void done(quint64 ticket, fortitor::EvaluationPtr evaluation);
  /// The person stopped the newest one: what is shown stays what it was before.
  void stopped(quint64 ticket);

 private:
  struct Request {
    quint64 ticket;
    TestRecord record;
    std::string day;
  };
  void begin(Request request);
  void finish(quint64 ticket, const EvaluationPtr& evaluation);

  TaskBoard* board_;
  quint64 newest_ = 0;
  bool busy_ = false;
  std::optional<Request> waiting_;
};

}  // namespace fortitor
