#include "app/model/evaluator.h"

#include "core/methods/method.h"

namespace fortitor {

Evaluator::Evaluator(QObject* parent) : QObject(parent), worker_(new QObject) {
  qRegisterMetaType<EvaluationPtr>("fortitor::EvaluationPtr");
  worker_->moveToThread(&thread_);
  connect(&thread_, &QThread::finished, worker_, &QObject::deleteLater);
  thread_.start();
}

Evaluator::~Evaluator() {
  newest_ = ~quint64(0);
  thread_.quit();
  thread_.wait();
}

quint64 Evaluator::request(const TestRecord& record) {
  const quint64 ticket = ++newest_;
  QMetaObject::invokeMethod(worker_, [this, ticket, record] {
    if (ticket != newest_.load()) return;  // something newer waits behind this one
    auto evaluation = std::make_shared<Evaluation>(methods::evaluate(record));
    emit done(ticket, evaluation);
  });
  return ticket;
}

}  // namespace fortitor
