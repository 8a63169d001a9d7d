// A shared book under the bench: what other benches do while this one is open.
#include <QStandardPaths>

#include "app/model/workbench.h"
#include "core/bench/changes.h"

namespace fortitor {

namespace {

QString refusal_words(const RefusedChange& r) {
  return "The server does not take what was confirmed here: " + QString::fromStdString(r.what) + ": " +
         QString::fromStdString(r.why) + " It lies on this machine; Shared book lists it.";
}

}  // namespace

void Workbench::hear_others() {
  said_away_.clear();
  if (!book_->shared()) return;
  const QString folder = QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + "/journal";
  if (const auto kept = book_->keep_journal(folder.toStdString()); !kept)
    say(QString::fromStdString(kept.error().message));
  if (const auto refused = book_->refused(); !refused.empty()) say(refusal_words(refused.back()));
  book_->listen([this](Id running) {
    if (running != 0) heard_run_ = running;
    if (!heard_.isActive()) heard_.start();
  });
  take_up_others();
}

QString Workbench::away_words() const {
  if (!book_->shared() || (!book_->away() && book_->waiting() == 0)) return {};
  const QDateTime at =
      QDateTime::fromString(QString::fromStdString(book_->away_since()), Qt::ISODateWithMs).toLocalTime();
  const size_t n = book_->waiting();
  return QString(book_->out_of_room() ? "no room since " : "away since ") +
         at.toString(at.date() == clock().now().date() ? "HH:mm" : "yyyy-MM-dd HH:mm") +
         (n == 0 ? QString() : ", " + QString::number(n) + (n == 1 ? " change waits" : " changes wait") + " here");
}

void Workbench::look_for_server() {
  const bool was = !said_away_.isEmpty();
  const size_t refused = book_->refused().size();
  book_->look_for_server();
  const auto all = book_->refused();
  const bool not_all = all.size() > refused;
  const QString now = away_words();
  if (not_all) say(refusal_words(all.back()));
  if (now == said_away_) return;
  said_away_ = now;
  emit server_looked();
  if (now.isEmpty()) {
    if (!not_all) say("The server answers again, and has everything that was confirmed here.");
    take_up_others();
  } else if (!was) {
    say(QString(book_->out_of_room() ? "The server of this book has no room left on its disk."
                                     : "The server of this book does not answer.") +
        " The bench goes on: what is confirmed lies on this machine until it is back.");
  }
}

void Workbench::take_up_others() {
  if (away()) return;
  others_.clear();
  for (const auto& [piece, who] : book_->at_work())
    if (!(running_ && piece == specimen_)) others_[piece] = QString::fromStdString(who);
  emit docket_changed();
  emit others_wrote();
  const Id run_of = std::exchange(heard_run_, 0);
  if (!has_specimen() || running_ || what_if_ || unsaved_.count(specimen_) != 0) return;
  const Id newest = book_->record_version(specimen_);
  if (newest > version_) {
    auto theirs = book_->record(specimen_);
    if (!theirs) return say(QString::fromStdString(theirs.error().message));
    const std::string differs = record_changes(kept_, *theirs, *method_);
    const auto lines = book_->logbook(LogQuery{.words = theirs->specimen_id()}, 1);
    const QString who = lines.empty() ? QString("Another bench") : QString::fromStdString(lines.front().who);
    version_ = newest;
    previewing_ = false;
    record_ = kept_ = std::move(*theirs);
    load_series();
    emit record_changed();
    evaluate();
    // What came to the server from the journal of this bench is what stands here.
    if (!differs.empty())
      say(who + " changed " + QString::fromStdString(kept_.specimen_id()) + ": " + QString::fromStdString(differs) +
          ".");
  } else if (run_of == specimen_ && !kept_.has_run()) {
    const auto runs = book_->runs(specimen_);
    if (runs.empty()) return;
    if (const auto samples = book_->samples(runs.back().id); samples && (*samples)->size() > 0) {
      record_.run.set_samples(*samples);
      previewing_ = true;  // it grows elsewhere; what is kept comes with its record
      emit record_changed();
      evaluate();
    }
  }
}

}  // namespace fortitor
