// What is written for pieces that are not on the bench: read, changed, evaluated and kept beside the window.
#include <algorithm>

#include "app/model/workbench.h"
#include "core/bench/changes.h"

namespace fortitor {
namespace {

Summary summary_of(const TestRecord& record, const Evaluation& e, bool signed_off) {
  return {progress_code(progress_of(*methods::find(record.method), record, &e, signed_off)),
          std::string(verdict_word(e.verdict)), int(e.open_judgements().size())};
}

}  // namespace

void Workbench::edit_specimen(Id specimen, const QString& what, const std::function<void(TestRecord&)>& change,
                              const std::function<void()>& then) {
  if (specimen == specimen_) {
    edit(what, change);
    if (then) then();
    return;
  }
  const auto came = std::make_shared<Outcome<Done>>(InputError{"The change was stopped; nothing is kept of it.", {}});
  const auto tell = [this, then, came] {
    if (!*came) say(QString::fromStdString(came->error().message));
    catch_up();
    emit docket_changed();
    if (then) then();
  };
  tasks_.run_in_turn(
      what, this,
      [=, pass = book_->pass(), day = today(), line = what.toStdString()](Task&) {
        *came = [&]() -> Outcome<Done> {
          auto book = Book::open(pass);
          if (!book) return book.error();
          auto record = (*book)->record(specimen);
          if (!record) return record.error();
          const Id version = (*book)->record_version(specimen);
          const TestRecord before = *record;
          change(*record);
          const auto row = (*book)->specimen(specimen);
          const Summary summary =
              summary_of(*record, methods::evaluate(*record, {.today = day}), row && row->signed_off);
          const auto done = (*book)->save_record(specimen, version, *record, summary, line,
                                                 record_changes(before, *record, *methods::find(record->method)));
          return done ? Outcome<Done>(Done{}) : Outcome<Done>(done.error());
        }();
      },
      tell, tell);
}

// What was kept beside the window may be of the piece that came on the bench meanwhile.
void Workbench::catch_up() {
  if (!has_specimen() || previewing_ || what_if_ || unsaved_.count(specimen_) != 0 ||
      version_ >= book_->record_version(specimen_))
    return;
  const Stage stage = stage_;
  select(specimen_);
  set_stage(stage);
}

void Workbench::import_run(Id specimen, const SamplesPtr& samples, const std::vector<Event>& events,
                           const QString& source, const Heard& then, const Tested& tested) {
  const bool here = specimen == specimen_;
  const auto typed = here ? Outcome<TestRecord>(kept_) : book_->typed_record(specimen);
  if (!typed) return then(typed.error());
  const auto runs = book_->runs(specimen);
  if (typed->has_run() || std::any_of(runs.begin(), runs.end(), [](const RunRow& r) { return r.segment.empty(); }))
    return then(InputError{typed->specimen_id() + " has its run already. A raw run is never changed.", {}});
  const auto came = std::make_shared<Outcome<Done>>(InputError{"The import was stopped before it began.", {}});
  const auto tell = [this, here, specimen, samples, events, came, then, tested] {
    // The piece may have left the bench meanwhile: its run is in the book all the same, and so is its record.
    if (*came && here && specimen == specimen_) finish_run(samples, events, {}, tested);
    if (*came && here && specimen != specimen_)
      edit_specimen(specimen, "run kept", [samples, events](TestRecord& r) {
        if (!r.run.has_samples()) r.run.set_samples(samples);
        r.events = events;
      });
    catch_up();
    emit docket_changed();
    then(*came);
  };
  tasks_.run_in_turn(
      "Keeping the run of " + QString::fromStdString(typed->specimen_id()), this,
      [=, pass = book_->pass(), day = today(), at = clock().local(), from = source.toStdString()](Task& task) {
        *came = [&]() -> Outcome<Done> {
          auto book = Book::open(pass);
          if (!book) return book.error();
          auto record = (*book)->typed_record(specimen);
          if (!record) return record.error();
          const Id version = (*book)->record_version(specimen);
          const auto run =
              (*book)->store_run(specimen, *samples, from, {}, [&](double share) { task.set_progress(share); });
          if (!run) return run.error();
          if (here) return Done{};  // its record is kept with what stands on the bench
          record->run.set_samples(samples);
          record->events = events;
          record->operator_name = tested.by.empty() ? pass.who : tested.by;
          record->tested_at = tested.at.empty() ? at : tested.at;
          const Summary summary = summary_of(*record, methods::evaluate(*record, {.today = day}), false);
          const auto done = (*book)->save_record(specimen, version, *record, summary, "run kept");
          return done ? Outcome<Done>(Done{}) : Outcome<Done>(done.error());
        }();
      },
      tell, tell);
}

}  // namespace fortitor
