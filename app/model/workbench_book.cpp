// The book under the bench: opened, lost and found again, backed up, held against its logbook; what could not be
// written.
#include "app/model/workbench.h"
#include "store/backup.h"

namespace fortitor {

void Workbench::look_for_book() {
  if (!book_) return;
  if (book_->shared()) look_for_server();
  if (away()) return;
  const auto there = book_->still_there();
  const QString now = there ? QString() : QString::fromStdString(there.error().message);
  if (there) write_unsaved();
  if (now == lost_) return;
  lost_ = now;
  emit book_lost(lost_);
}

// Tried again twice a second while something waits: the disk has room again, the book is back in its place.
void Workbench::write_unsaved() {
  if (unsaved_.empty() || book_->read_only()) return;
  QStringList written;
  for (auto it = unsaved_.begin(); it != unsaved_.end();) {
    const auto& [specimen, kept] = *it;
    const auto row = book_->specimen(specimen);
    const Summary summary = row ? Summary{row->stages, row->verdict, row->open_judgements} : Summary{};
    const auto done =
        book_->save_record(specimen, kept.version, kept.record, summary, kept.what, "kept until it could be written");
    if (!done) {  // not yet; it does not hold up the others
      ++it;
      continue;
    }
    written << QString::fromStdString(kept.record.specimen_id());
    const bool here = specimen == specimen_;
    it = unsaved_.erase(it);
    if (!here) continue;
    version_ = done->version;
    evaluate();
  }
  if (written.isEmpty()) return;
  say("Written now: what was kept of " + written.join(", ") + ".");
  emit docket_changed();
}

Outcome<Done> Workbench::move_book(const QString& path) {
  const auto moved = book_->move_to(path.toStdString());
  if (!moved) return moved;
  look_for_book();
  write_unsaved();
  emit docket_changed();
  return Done{};
}

void Workbench::back_up_daily() {
  if (!book_ || book_->read_only()) return;
  const std::string path = book_->path(), today = this->today();
  const auto said = std::make_shared<QString>();
  tasks_.run(
      "Backing the book up", this,
      [path, today, said](Task&) {
        const auto made = daily_backup(path, today);
        if (!made) *said = "No backup was made today: " + QString::fromStdString(made.error().message);
      },
      [this, said] {
        if (!said->isEmpty()) say(*said);
      });
}

void Workbench::write_beside(const QString& words, const std::function<Outcome<Done>(Book&)>& work,
                             const std::function<void(const Outcome<Done>&)>& then) {
  const auto came = std::make_shared<Outcome<Done>>(InputError{words.toStdString() + " was stopped.", {}});
  const auto tell = [this, came, then] {
    catch_up();
    emit docket_changed();
    then(*came);
  };
  tasks_.run(
      words, this,
      [came, work, pass = book_->pass()](Task&) {
        auto book = Book::open(pass);
        *came = book ? work(**book) : Outcome<Done>(book.error());
      },
      tell, tell);
}

void Workbench::check_after_crash(const QString& trace) {
  say("Fortitor ended badly the last time. What was going on then lies in " + trace + "; the book is being checked.");
  const auto found = std::make_shared<QString>();
  tasks_.run(
      "Checking the book", this,
      [found, path = book_->path()](Task&) {
        const auto reader = Book::open_read_only(path);
        const std::vector<Damage> damage = reader ? (*reader)->verify() : std::vector<Damage>{{reader.error().message}};
        if (!damage.empty()) *found = QString::fromStdString(damage.front().what);
      },
      [this, found, trace] {
        say("Fortitor ended badly the last time (" + trace + "). " +
            (found->isEmpty() ? QString("The book is sound.")
                              : "The book is not sound: " + *found + ". Run fortitorctl check."));
      });
}

Outcome<Done> Workbench::open(const QString& path, const QString& who, const Clock& clock) {
  auto book = Book::open(path.toStdString(), who.toStdString(), clock);
  if (!book) return book.error();
  book_ = std::move(*book);
  book_->use_shelf(shelf_);
  specimen_ = 0;
  evaluation_.reset();
  original_.reset();
  undo_.clear();
  const std::string units = book_->setting("units").value_or("si");
  units_ = units == "us" ? UnitSet::us : units == "kgf" ? UnitSet::kgf : UnitSet::si;
  running_ = false;
  others_.clear();
  lost_.clear();
  hear_others();
  emit docket_changed();
  emit specimen_changed();
  return Done{};
}

Outcome<Done> Workbench::can_select(Id specimen) {
  if (book_->shared()) look_for_server();  // what was cut since it was last asked is not read from
  if (away() && specimen != specimen_)
    return InputError{"The server of this book does not answer: only the piece in hand can be gone on with.", {}};
  if (specimen == specimen_ || (next_ && next_->first == specimen)) return Done{};
  constexpr int64_t kLong = 200000;  // samples that are read within a few milliseconds
  int64_t rows = 0;
  for (const RunRow& r : book_->runs(specimen)) rows += r.rows;
  const auto row = book_->specimen(specimen);
  const std::string code = row ? row->code : std::string();
  wanted_ = specimen;
  if (rows < kLong) {
    auto loaded = book_->record(specimen);
    if (!loaded) return InputError{code + " cannot be opened: " + loaded.error().message, {}};
    next_.emplace(specimen, std::move(*loaded));
    return Done{};
  }
  const auto read = std::make_shared<Outcome<TestRecord>>(InputError{"Opening " + code + " was stopped.", {}});
  tasks_.run(
      "Reading the run of " + QString::fromStdString(code), this,
      [read, specimen, path = book_->path(), shelf = shelf_](Task&) {
        const auto book = Book::open_read_only(path, shelf);
        *read = book ? (*book)->record(specimen) : Outcome<TestRecord>(book.error());
      },
      [this, read, specimen, code] {
        if (wanted_ != specimen) return;  // something else was asked for meanwhile
        if (!*read) return say(QString::fromStdString(code + " cannot be opened: " + read->error().message));
        next_.emplace(specimen, std::move(**read));
        emit can_be_opened(specimen);
      });
  return InputError{"The run of " + code + " is being read: " + std::to_string(rows) + " samples.", {}};
}

// Whether the piece is still what the logbook says, beside the window: the whole logbook is read for it.
void Workbench::look_into(Id specimen) {
  const auto found = std::make_shared<QString>();
  tasks_.run(
      "Holding " + QString::fromStdString(record_.specimen_id()) + " against the logbook", this,
      [found, specimen, path = book_->path()](Task&) {
        const auto reader = Book::open_read_only(path);
        if (!reader) return;  // a book that is gone is said elsewhere
        const std::vector<Damage> damage = (*reader)->verify_piece(specimen);
        if (damage.empty()) return;
        *found = QString::fromStdString(damage.front().what);
        if (damage.size() > 1) *found += QString(" (and %1 more: run fortitorctl check)").arg(damage.size() - 1);
      },
      [this, specimen, found] {
        if (specimen != specimen_) return;
        const auto faults = kept_.faults;
        if (!found->isEmpty())
          say(*found);
        else if (!faults.empty())
          say(QString::fromStdString(faults.front().message) +
              ". It was stored all the same: type it again, or clear it.");
      });
}

}  // namespace fortitor
