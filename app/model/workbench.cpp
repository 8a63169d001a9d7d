#include "app/model/workbench.h"

#include <QThreadPool>
#include <QUndoCommand>
#include <algorithm>
#include <utility>

#include "core/bench/changes.h"
#include "core/bench/heard.h"
#include "core/evaluation/evaluation_json.h"
#include "core/record/rules.h"

namespace fortitor {

namespace {

constexpr int kUndoSteps = 200;

TestRecord without_samples(TestRecord r) {
  r.run.segments.clear();
  return r;
}

// A step that has been done already when it is put on the stack; one that cannot be taken back is let go, and said.
class UndoStep : public QUndoCommand {
 public:
  UndoStep(Workbench* bench, const QString& what, Workbench::StepAct act)
      : QUndoCommand(what), bench_(bench), act_(std::move(act)) {}
  void undo() override { go(true); }
  void redo() override {
    if (!std::exchange(done_, true)) return;
    go(false);
  }

 private:
  void go(bool back) {
    const auto did = act_(back, (back ? "undone: " : "done again: ") + text());
    if (did) return;
    bench_->say(QString::fromStdString(did.error().message));
    setObsolete(true);
  }
  Workbench* bench_;
  Workbench::StepAct act_;
  bool done_ = false;
};

}  // namespace

// What was kept of the piece in hand, to be taken back from wherever somebody is then. Samples are never part of it.
void Workbench::push_edit(const QString& what, TestRecord after) {
  const TestRecord before = without_samples(kept_);
  restore(after, what);
  after = without_samples(std::move(after));
  push_step(what, [this, id = specimen_, before, after](bool back, const QString& words) -> Outcome<Done> {
    if (specimen_ != id) emit piece_wanted(id);
    if (specimen_ != id) return InputError{"The piece of that step is not at hand: nothing was changed.", {}};
    if (signed_off()) return InputError{record_.specimen_id() + " is signed: nothing was changed.", {}};
    const TestRecord &is = back ? after : before, &wanted = back ? before : after;
    if (!record_changes(is, without_samples(kept_), *method_).empty())
      return InputError{record_.specimen_id() + " was changed since in another way: nothing was undone.", {}};
    restore(wanted, words);
    return Done{};
  });
}

void Workbench::push_step(const QString& what, StepAct act) {
  undo_.push(new UndoStep(this, what, std::move(act)));
}

Workbench::Workbench(QObject* parent) : QObject(parent) {
  connect(&evaluator_, &Evaluator::done, this, &Workbench::take);
  undo_.setUndoLimit(kUndoSteps);
  look_.setInterval(500);
  connect(&look_, &QTimer::timeout, this, &Workbench::look_for_book);
  look_.start();
  heard_.setSingleShot(true);
  heard_.setInterval(100);
  connect(&heard_, &QTimer::timeout, this, &Workbench::take_up_others);
  connect(&evaluator_, &Evaluator::stopped, this, [this] {
    say("The evaluation was stopped. What is shown is from before the last change; the next change evaluates again.");
  });
}

void Workbench::select(Id specimen) {
  auto loaded =
      next_ && next_->first == specimen ? Outcome<TestRecord>(std::move(next_->second)) : book_->record(specimen);
  next_.reset();
  if (!loaded) {
    emit message(QString::fromStdString(loaded.error().message));
    return;
  }
  specimen_ = specimen;
  version_ = book_->record_version(specimen);
  evaluated_ = 0;
  const auto waiting = unsaved_.find(specimen);
  if (waiting != unsaved_.end()) {
    const std::vector<Segment> segments = loaded->run.segments;
    *loaded = waiting->second.record;
    if (!loaded->run.has_samples()) loaded->run.segments = segments;
  }
  // Giving back the memory of a long run takes the system a tenth of a second: it is done beside the window.
  const auto leaving = std::make_shared<std::pair<SamplesPtr, EvaluationPtr>>(kept_.run.samples(), evaluation_);
  record_ = kept_ = *loaded;
  look_into(specimen);
  method_ = methods::find(record_.method);
  previewing_ = what_if_ = false;
  evaluation_.reset();
  original_.reset();
  if (const auto row = book_->specimen(specimen)) stage_ = next_stage(row->stages);
  load_series();
  emit specimen_changed();
  emit stage_changed();
  emit record_changed();
  evaluate();
  start_as_the_series_goes();
  QThreadPool::globalInstance()->start([leaving] { *leaving = {}; });
}

Progress Workbench::progress() const {
  return progress_of(*method_, record_, evaluation_.get(), signed_off());
}

bool Workbench::signed_off() const {
  const auto row = book_->specimen(specimen_);
  return row && row->signed_off;
}

void Workbench::set_stage(Stage stage) {
  if (stage_ == stage) return;
  stage_ = stage;
  emit stage_changed();
}

void Workbench::edit(const QString& what, const std::function<void(TestRecord&)>& change) {
  if (!has_specimen()) return;
  if (what_if_) {  // a what-if collects its changes until it is kept
    preview(change);
    return;
  }
  TestRecord after = kept_;
  change(after);
  mark_heard(kept_, after, source());
  if (!allowed(after)) return emit record_changed();  // what is shown goes back to what is kept
  previewing_ = false;
  const QString heard = heard_from_.empty() ? QString() : ", heard from " + QString::fromStdString(heard_from_);
  push_edit(what + heard, std::move(after));
}

std::string Workbench::source() const {
  return heard_from_.empty() ? std::string() : heard_from_ + ", " + clock().local();
}

bool Workbench::allowed(TestRecord& after) {
  const std::vector<RecordFault> faults = faults_of(after, *method_);
  const auto fault = new_fault(faults, kept_.faults);
  after.faults = faults;
  if (fault) say(QString::fromStdString(fault->message) + ". It is not kept.");
  return !fault;
}

// What was judged before belongs to no run, but for the leave to run before its time.
void Workbench::forget_answers() {
  std::erase_if(kept_.answers, [&](const Answer& a) {
    return std::none_of(method_->timers.begin(), method_->timers.end(),
                        [&](const TimerSpec& t) { return t.finding == a.code; });
  });
}

void Workbench::keep_raw(const QString& said, const std::function<void(TestRecord&)>& change) {
  if (!has_specimen()) return;
  const QString what = heard_from_.empty() ? said : said + ", heard from " + QString::fromStdString(heard_from_);
  drop_preview();
  const bool began = !kept_.has_run();
  TestRecord after = kept_;
  change(after);
  mark_heard(kept_, after, source());
  if (!allowed(after)) return emit record_changed();
  kept_ = std::move(after);
  if (began) {
    forget_answers();
    kept_.operator_name = book_->operator_name();
    kept_.tested_at = clock().local();
  }
  record_ = kept_;
  undo_.clear();
  save(what);
  emit record_changed();
  evaluate();
}

void Workbench::preview(const std::function<void(TestRecord&)>& change) {
  if (!previewing_ && !what_if_) record_ = kept_;
  previewing_ = true;
  change(record_);
  evaluate();
  emit record_changed();
}

void Workbench::keep_preview(const QString& what) {
  if (!previewing_ && !what_if_) return;
  TestRecord after = record_;
  if (!allowed(after)) return drop_preview();
  previewing_ = what_if_ = false;
  original_.reset();
  push_edit(what, std::move(after));
}

void Workbench::drop_preview() {
  if (!previewing_ && !what_if_) return;
  previewing_ = what_if_ = false;
  original_.reset();
  record_ = kept_;
  emit record_changed();
  evaluate();
}

void Workbench::begin_what_if() {
  if (what_if_ || !evaluation_) return;
  what_if_ = true;
  original_ = evaluation_;
  emit evaluation_changed();
}

void Workbench::restore(const TestRecord& record, const QString& what) {
  const std::string changed = record_changes(kept_, record, *method_);
  const std::vector<Segment> segments = kept_.run.segments;  // raw data are no part of undo
  kept_ = record;
  kept_.run.segments = segments;
  record_ = kept_;
  save(what, changed);
  emit record_changed();
  evaluate();
}

void Workbench::use_shelf(const ReferenceShelf& shelf) {
  shelf_ = shelf;
  if (!book_) return;
  book_->use_shelf(shelf);
  if (!has_specimen() || signed_off()) return;
  record_.shelf = kept_.shelf = shelf;
  emit record_changed();
  evaluate();
}

void Workbench::save(const QString& what, const std::string& detail) {
  record_.shelf = kept_.shelf = shelf_;  // a change is judged by the values of today, whatever was signed before it
  Summary summary;
  summary.stages = progress_code(progress());
  if (evaluation_) {
    summary.verdict = verdict_word(evaluation_->verdict);
    summary.open_judgements = int(evaluation_->open_judgements().size());
  }
  const auto write = [&] {
    return book_->save_record(specimen_, version_, kept_, summary, what.toStdString(), detail);
  };
  const auto row = book_->specimen(specimen_);
  Outcome<Saved> done = Saved{};
  if (const std::string mark = kept_.specimen_id(); row && mark != row->code) {
    const auto both = book_->together([&]() -> Outcome<Done> {
      if (const auto marked = book_->mark(specimen_, mark); !marked) return marked;
      done = write();
      return done ? Outcome<Done>(Done{}) : Outcome<Done>(done.error());
    });
    if (!both) done = both.error();
  } else {
    done = write();
  }
  if (!done) {
    unsaved_[specimen_] = {kept_, version_, what.toStdString()};
    emit message(QString::fromStdString(done.error().message) + " It is kept here until it can be written.");
  } else {
    unsaved_.erase(specimen_);
    version_ = done->waits ? version_ : done->version;
    if (done->overtaken) {
      const auto theirs = book_->record_at(specimen_, *done->overtaken);
      const std::string differs = theirs ? record_changes(*theirs, kept_, *method_) : std::string();
      emit message("Someone else saved version " + QString::number(*done->overtaken) +
                   " of this piece meanwhile. Yours is version " + QString::number(done->version) +
                   "; both are kept. " +
                   (differs.empty() ? QString("They say the same.")
                                    : "Theirs → yours: " + QString::fromStdString(differs) + ".") +
                   " Ctrl K, “Version”, goes back to the other.");
    }
  }
  emit docket_changed();
}

void Workbench::evaluate() {
  evaluated_ = 0;
  pending_ = previewing_ || what_if_ || unsaved_.count(specimen_) != 0 ? 0 : version_;  // a preview is no version
  ticket_ = evaluator_.request(record_, today());
}

void Workbench::back_to(Id version) {
  const auto old = book_->record_at(specimen_, version);
  if (!old) return say(QString::fromStdString(old.error().message));
  edit("back to version " + QString::number(version), [&](TestRecord& r) {
    const std::vector<Segment> segments = r.run.segments;  // raw data stay
    r = *old;
    r.run.segments = segments;
  });
}

void Workbench::write(const QString& words, const std::function<Outcome<QString>()>& work) {
  const auto said = std::make_shared<QString>(words + " was stopped before it began; nothing is written.");
  const auto tell = [this, said] { say(*said); };  // also when stopped too late: the file is there then
  tasks_.run(
      words, this,
      [work, said](Task&) {
        const auto done = work();
        *said = done ? *done : QString::fromStdString(done.error().message);
      },
      tell, tell);
}

void Workbench::take(quint64 ticket, const EvaluationPtr& evaluation) {
  if (ticket != ticket_ || !has_specimen()) return;
  evaluation_ = evaluation;
  evaluated_ = pending_;
  // What was signed is held against what comes out now.
  if (evaluated_ != 0 && signed_off())
    if (const auto was = book_->signed_evaluation(specimen_)) {
      auto compared = std::make_shared<Evaluation>(*evaluation);
      compare_with_signed(*compared, *was);
      evaluation_ = compared;
    }
  if (!previewing_ && !what_if_ && !away()) {
    const auto row = book_->specimen(specimen_);
    Summary summary;
    summary.stages = progress_code(progress());
    summary.verdict = verdict_word(evaluation_->verdict);
    summary.open_judgements = int(evaluation_->open_judgements().size());
    const bool same = row && row->stages == summary.stages && row->verdict == summary.verdict &&
                      row->open_judgements == summary.open_judgements;
    if (!same) {
      if (const auto done = book_->set_summary(specimen_, summary); !done)
        emit message(QString::fromStdString(done.error().message));
      emit docket_changed();
    }
  }
  emit evaluation_changed();
}

Outcome<Done> Workbench::sign(const std::optional<Hand>& hand) {
  if (!evaluation_) return InputError{"The evaluation is still being made.", {}};
  if (what_if_) return InputError{"A what-if is open: keep it or drop it first.", {}};
  if (!record_.has_run()) return InputError{"There is nothing to sign: the specimen has not been run.", {}};
  const auto open = evaluation_->open_judgements();
  if (!open.empty())
    return InputError{std::to_string(open.size()) + (open.size() == 1 ? " judgement wants" : " judgements want") +
                          " your word before sign-off.",
                      {}};
  if (!evaluation_current()) return InputError{"The evaluation of this version is still being made.", {}};
  if (const auto sound = book_->check_signature(specimen_); !sound) return sound;
  const auto done = sign_results(*book_, specimen_, evaluated_, evaluation_to_json(*evaluation_, record_.fields, -1),
                                 std::string(verdict_word(evaluation_->verdict)), hand);
  if (!done) return done;
  const auto shown =
      book_->set_summary(specimen_, {progress_code(progress()), std::string(verdict_word(evaluation_->verdict)), 0});
  emit docket_changed();
  emit record_changed();
  return shown;
}

void Workbench::show_growing(const SamplesPtr& samples, const std::vector<Event>& events) {
  record_.run.set_samples(samples);
  record_.events = events;
  previewing_ = running_ = true;
  evaluate();
}

void Workbench::finish_run(const SamplesPtr& samples, const std::vector<Event>& events, const QString& stopped,
                           const Tested& tested) {
  previewing_ = running_ = false;
  kept_.run.set_samples(samples);
  kept_.run.stopped = stopped.toStdString();
  kept_.events = events;
  forget_answers();
  kept_.operator_name = tested.by.empty() ? book_->operator_name() : tested.by;
  kept_.tested_at = tested.at.empty() ? clock().local() : tested.at;
  record_ = kept_;
  undo_.clear();
  save("run kept");
  emit record_changed();
  evaluate();
}

void Workbench::set_units(UnitSet units) {
  units_ = units;
  const auto kept = book_->set_setting("units", units == UnitSet::us ? "us" : units == UnitSet::kgf ? "kgf" : "si");
  if (!kept) say(QString::fromStdString(kept.error().message));
  emit units_changed();
}

}  // namespace fortitor
