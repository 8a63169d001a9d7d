#include "app/model/evaluator.h"

#include "core/methods/method.h"

namespace fortitor {

Evaluator::Evaluator(TaskBoard* board, QObject* parent) : QObject(parent), board_(board) {
  qRegisterMetaType<EvaluationPtr>("fortitor::EvaluationPtr");
}

quint64 Evaluator::request(const TestRecord& record, const std::string& day) {
  Request request{++newest_, record, day};
  if (busy_)
    waiting_ = std::move(request);
  else
    begin(std::move(request));
  return newest_;
}

void Evaluator::begin(Request request) {
  busy_ = true;
  const auto out = std::make_shared<EvaluationPtr>();
  const quint64 ticket = request.ticket;
  const std::string day = request.day;
  const auto record = std::make_shared<const TestRecord>(std::move(request.record));
  board_->run(
      "Evaluating " + QString::fromStdString(record->specimen_id()), this,
      [record, out, day](Task&) {
        *out = std::make_shared<const Evaluation>(methods::evaluate(*record, {.today = day}));
      },
      [this, ticket, out] { finish(ticket, *out); }, [this, ticket] { finish(ticket, {}); });
}

void Evaluator::finish(quint64 ticket, const EvaluationPtr& evaluation) {
  busy_ = false;
  if (waiting_) begin(*std::exchange(waiting_, std::nullopt));
  if (evaluation)
    emit done(ticket, evaluation);
  else if (ticket == newest_)
    emit stopped(ticket);
}

}  // namespace fortitor
