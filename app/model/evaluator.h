// Evaluates records in a thread of its own; only the newest request counts.
#pragma once

#include <QObject>
#include <QThread>
#include <atomic>
#include <memory>

#include "core/evaluation/evaluation.h"

namespace fortitor {

using EvaluationPtr = std::shared_ptr<const Evaluation>;

class Evaluator : public QObject {
  Q_OBJECT

 public:
  explicit Evaluator(QObject* parent = nullptr);
  ~Evaluator() override;
  /// Asks for an evaluation; returns its ticket. Older requests not begun yet are passed over.
  quint64 request(const TestRecord& record);

 signals:
  void done(quint64 ticket, fortitor::EvaluationPtr evaluation);

 private:
  QThread thread_;
  QObject* worker_;
  std::atomic<quint64> newest_{0};
};

}  // namespace fortitor
