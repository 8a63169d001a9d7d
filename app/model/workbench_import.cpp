// Runs that come out of a machine's file, for the piece on the bench and for others of its series.
#include "app/model/workbench.h"

namespace fortitor {

Outcome<Done> Workbench::import_run(Id specimen, const SamplesPtr& samples, const std::vector<Event>& events,
                                    const QString& source) {
  const bool here = specimen == specimen_;
  auto record = here ? Outcome<TestRecord>(kept_) : book_->record(specimen);
  if (!record) return record.error();
  if (record->has_run())
    return InputError{record->specimen_id() + " has its run already. A raw run is never changed.", {}};
  const Id version = here ? version_ : book_->record_version(specimen);
  const auto run = book_->store_run(specimen, *samples, source.toStdString());
  if (!run) return run.error();
  if (here) {
    finish_run(samples, events, {});
    return Done{};
  }
  record->run.set_samples(samples);
  record->events = events;
  record->operator_name = book_->operator_name();
  record->tested_at = clock().local();
  const Method& m = *methods::find(record->method);
  const Summary summary{progress_code(progress_of(m, *record, nullptr, false)), "none", 0};
  const auto done = book_->save_record(specimen, version, *record, summary, "run kept");
  if (!done) return done.error();
  emit docket_changed();
  summarize(specimen);
  return Done{};
}

// Verdict and judgements of a piece that is not on the bench, computed beside the window.
void Workbench::summarize(Id specimen) {
  const auto record = book_->record(specimen);
  if (!record) return;
  const Id version = book_->record_version(specimen);
  const auto summary = std::make_shared<Summary>();
  tasks_.run(
      "Evaluating " + QString::fromStdString(record->specimen_id()), this,
      [record, summary](Task&) {
        const Evaluation e = methods::evaluate(*record);
        *summary = {progress_code(progress_of(*methods::find(record->method), *record, &e, false)),
                    std::string(verdict_word(e.verdict)), int(e.open_judgements().size())};
      },
      [this, specimen, version, summary] {
        if (book_->record_version(specimen) != version) return;  // somebody went on meanwhile
        if (const auto done = book_->set_summary(specimen, *summary); !done)
          say(QString::fromStdString(done.error().message));
        emit docket_changed();
      });
}

}  // namespace fortitor
