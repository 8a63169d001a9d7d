#include "app/callout/so_far.h"

#include "core/methods/method.h"

namespace fortitor {
namespace {

bool same(const SoFar::Asked& a, const SoFar::Asked& b) {
  return a.piece == b.piece && a.row == b.row && a.reading == b.reading && a.with.run.tables == b.with.run.tables &&
         a.with.fields.all() == b.with.fields.all();
}

double value_of_row(const Evaluation& e, size_t row, QString* name) {
  double value = NAN;
  for (const RowValue& v : e.row_values) {
    if (name != nullptr && name->isEmpty()) *name = QString::fromStdString(v.name);
    if (!std::isfinite(value) && row < v.values.size()) value = v.values[row];
  }
  return value;
}

std::optional<SoFar::Answer> worked_out(const SoFar::Asked& asked) {
  const Evaluation e = methods::evaluate(asked.with, {.uncertainty = false});
  SoFar::Answer a;
  a.value = value_of_row(e, asked.row, &a.name);
  if (!std::isfinite(a.value)) return std::nullopt;
  if (!asked.further.method.empty())
    a.further = value_of_row(methods::evaluate(asked.further, {.uncertainty = false}), asked.row, nullptr);
  // The judgement comes while the stage has not moved.
  for (const Finding& f : e.findings) {
    const auto at = f.evidence.find("station");
    if (a.alarm.isEmpty() && at != f.evidence.end() && size_t(at->second) == asked.row)
      a.alarm = QString::fromStdString(f.message);
  }
  return a;
}

}  // namespace

std::optional<SoFar::Answer> SoFar::about(Asked asked) {
  if (answered_ && same(*answered_, asked)) return answer_;
  if (asked_ && same(*asked_, asked)) return std::nullopt;  // it is on its way
  asked_ = std::make_shared<const Asked>(std::move(asked));
  waiting_ = asked_;
  if (!busy_) begin();
  return std::nullopt;
}

void SoFar::begin() {
  busy_ = true;
  const auto question = std::exchange(waiting_, nullptr);
  const auto answer = std::make_shared<std::optional<Answer>>();
  const auto done = [this, question, answer] {
    busy_ = false;
    answered_ = question;
    answer_ = *answer;
    if (waiting_)
      begin();
    else
      emit known();
  };
  board_->run(
      "Reading so far", this, [question, answer](Task&) { *answer = worked_out(*question); }, done, done);
}

}  // namespace fortitor
