// The specimen on the bench: record, evaluation, undo, book. What every part of the window talks to.
#pragma once

#include <QObject>
#include <QString>
#include <QTimer>
#include <QUndoStack>
#include <functional>
#include <map>
#include <memory>
#include <optional>

#include "app/model/evaluator.h"
#include "app/model/field_host.h"
#include "app/model/task.h"
#include "core/bench/progress.h"
#include "core/methods/method.h"
#include "store/book.h"
#include "store/signing.h"

namespace fortitor {

/// When a run was made and by whom, where it says so itself; empty: now, by the person at the window.
struct Tested {
  std::string at, by;
};

class Workbench : public QObject, public FieldHost {
  Q_OBJECT

 public:
  explicit Workbench(QObject* parent = nullptr);

  /// Opens (or makes) a book and leaves the bench empty. The error is a sentence.
  Outcome<Done> open(const QString& path, const QString& who, const Clock& clock = {});
  Book* book() const { return book_.get(); }
  /// What time it is, for everything in the window.
  const Clock& clock() const { return book_->clock(); }
  void set_clock(const Clock& clock) { book_->set_clock(clock); }
  std::string today() const override { return clock().day(); }
  /// The usual values at hand: those shipped with a person's own. The piece in hand is judged anew.
  ReferenceShelf shelf() const override { return shelf_; }
  void use_shelf(const ReferenceShelf& shelf);
  /// Puts the copy of the day beside the book, beside the window; an old copy more than seven days back goes.
  void back_up_daily();
  /// Writes into the book beside the window, by a connection of its own; `then` hears what came of it.
  void write_beside(const QString& words, const std::function<Outcome<Done>(Book&)>& work,
                    const std::function<void(const Outcome<Done>&)>& then);
  /// The program ended badly the last time: says where its trace lies, and what `check` says of the book, once it is
  /// known.
  void check_after_crash(const QString& trace);
  /// Goes on in a new file when the book's own was deleted or replaced; what could not be written is written there.
  Outcome<Done> move_book(const QString& path);

  /// Pieces with changes that could not be written yet.
  size_t unsaved() const { return unsaved_.size(); }
  bool has_specimen() const { return specimen_ != 0; }
  Id specimen() const { return specimen_; }
  /// Whether a piece can be opened now; select() shows what was read for it. A long run is read beside the window:
  /// can_be_opened() follows.
  Outcome<Done> can_select(Id specimen);
  void select(Id specimen);
  const TestRecord& record() const override { return record_; }
  const Method& method() const { return *method_; }
  const Method* host_method() const override { return method_; }
  /// Newest evaluation of the record as shown (preview included); null until the first is done.
  EvaluationPtr evaluation() const { return evaluation_; }
  /// Evaluation kept beside a what-if; null when none is open.
  EvaluationPtr original() const { return original_; }
  Progress progress() const;
  bool signed_off() const;

  Stage stage() const { return stage_; }
  void set_stage(Stage stage);

  /// Changes the record: one undo step, one new version in the book, one line in the logbook.
  void edit(const QString& what, const std::function<void(TestRecord&)>& change) override;
  /// Keeps readings of a run that is going on: stored at once, outside undo, as raw data are.
  void keep_raw(const QString& what, const std::function<void(TestRecord&)>& change);
  /// The same for any specimen of the book, on the bench or not (series). One that is not is read, changed, evaluated
  /// and kept beside the window: `change` runs on another thread, `then` when it is kept.
  void edit_specimen(Id specimen, const QString& what, const std::function<void(TestRecord&)>& change,
                     const std::function<void()>& then = {});
  /// Shows a change without keeping it (dragging); keep_preview() turns it into one edit.
  void preview(const std::function<void(TestRecord&)>& change);
  void keep_preview(const QString& what);
  void drop_preview();
  bool previewing() const { return previewing_; }
  /// What-if: further changes stay previews beside the original until kept or dropped.
  void begin_what_if();
  bool what_if() const { return what_if_; }

  /// What holds for all pieces of the series of the piece in hand.
  const TestRecord* series_common() const override { return has_specimen() ? &series_ : nullptr; }
  /// Makes what this piece has the word of its series; pieces that had followed the series so far, follow.
  void hold_for_series();
  /// A sentence when the piece in hand names an item of the Kit that the person at the bench may not use.
  QString not_theirs() const;
  /// Brings calibration and state of what a piece not run yet will use up to what the Kit says.
  void renew_papers();
  /// Makes this piece again as its series is.
  void as_the_series();
  /// The piece of the series that was run last, another than the one in hand.
  std::optional<SpecimenRow> last_run() const;
  /// Takes over from that piece what this one lacks.
  void take_over_from_last();
  /// Keeps what holds for a series and brings its unsigned pieces along, all or nothing, beside the window; `then`
  /// hears what came of it.
  using Heard = std::function<void(const Outcome<Done>&)>;
  void keep_common(Id series, const TestRecord& settings, const QString& what, const Heard& then);
  void answer(const Finding& finding, const Remedy& remedy, const QString& reason);
  /// Whether the newest evaluation is of exactly the version that the book holds: only that can be signed.
  bool evaluation_current() const { return evaluated_ != 0 && evaluated_ == version_; }
  /// With a hand where whoever signs has a key (app/model/my_key.h).
  Outcome<Done> sign(const std::optional<Hand>& hand = {});
  /// Makes an older version of the record the newest again.
  void back_to(Id version);

  /// Replaces the run by new samples (a closed run in the book, or the growing one) and evaluates.
  void show_growing(const SamplesPtr& samples, const std::vector<Event>& events);
  void finish_run(const SamplesPtr& samples, const std::vector<Event>& events, const QString& stopped,
                  const Tested& tested = {});
  /// Keeps a run out of a machine's file as that of a piece, on the bench or not, beside the window. Refused when it
  /// has one already; `then` hears what came of it.
  void import_run(Id specimen, const SamplesPtr& samples, const std::vector<Event>& events, const QString& source,
                  const Heard& then, const Tested& tested = {});

  /// Writes something to a file beside the window, then says what `work` says came of it.
  void write(const QString& words, const std::function<Outcome<QString>()>& work);
  /// Work that goes on beside the window.
  TaskBoard& tasks() { return tasks_; }
  QUndoStack& undo() { return undo_; }
  /// Takes a change of the book back (`back`), or makes it again; `words` for the logbook. An error is said, and the
  /// step let go.
  using StepAct = std::function<Outcome<Done>(bool back, const QString& words)>;
  /// A change that was made, as a step that Ctrl Z takes back.
  void push_step(const QString& what, StepAct act);
  UnitSet units() const override { return units_; }
  void set_units(UnitSet units);
  void say(const QString& sentence) override { emit message(sentence); }
  void touch_docket() { emit docket_changed(); }
  /// The server of a shared book does not answer: what was read last stays shown, what is confirmed waits.
  bool away() const { return book_ && book_->away(); }
  /// "away since 10:05, 3 changes wait here"; empty while the server of a shared book has everything.
  QString away_words() const;
  /// Who is at which piece of a shared book, this window not counted.
  const std::map<Id, QString>& others_at_work() const { return others_; }
  void ask_photograph() { emit photograph_wanted(); }
  /// The edits that come now are readings of an instrument on a wire: its name stands in their lines of the logbook.
  void hear_from(const std::string& instrument) { heard_from_ = instrument; }

 signals:
  /// Somebody wants to add a photograph of the piece in hand.
  void photograph_wanted();
  void specimen_changed();
  void record_changed();
  void evaluation_changed();
  void stage_changed();
  void docket_changed();
  void units_changed();
  /// A step is taken back that belongs to that piece: it is to be shown first.
  void piece_wanted(fortitor::Id specimen);
  void message(const QString& sentence);
  void highlighted(const QString& key);
  /// A piece whose run had to be read first.
  void can_be_opened(fortitor::Id specimen);
  /// Another bench of a shared book wrote something: everything shown is read anew.
  void others_wrote();
  /// The server of a shared book went or came back, or more or less waits for it.
  void server_looked();
  /// The book's file was deleted or replaced; empty: it is in its place again.
  void book_lost(const QString& sentence);

 private:
  /// Whether the rules allow what a change would make; said when they do not. Faults that are mended go.
  bool allowed(TestRecord& after);
  void restore(const TestRecord& record, const QString& what);
  void push_edit(const QString& what, TestRecord after);
  void forget_answers();
  /// The instrument whose reading is being kept, and when; empty while a hand types.
  std::string source() const;
  void load_series();
  void start_as_the_series_goes();
  void save(const QString& what, const std::string& detail = {});
  void evaluate();
  void take(quint64 ticket, const EvaluationPtr& evaluation);
  void look_for_book();
  void hear_others();
  void look_for_server();
  void take_up_others();
  void write_unsaved();
  void catch_up();
  void look_into(Id specimen);

  std::unique_ptr<Book> book_;
  TaskBoard tasks_;
  Evaluator evaluator_{&tasks_};
  std::string heard_from_;  ///< instrument whose reading is being kept
  QUndoStack undo_;
  Id specimen_ = 0;
  std::optional<std::pair<Id, TestRecord>> next_;  ///< read by can_select()
  Id wanted_ = 0;                                  ///< what it was asked for last
  const Method* method_ = nullptr;
  ReferenceShelf shelf_;
  TestRecord record_, kept_;  ///< shown, and as kept while a preview is on
  TestRecord series_;         ///< what holds for all pieces of its series
  EvaluationPtr evaluation_, original_;
  quint64 ticket_ = 0;
  Id version_ = 0, evaluated_ = 0,
     pending_ = 0;  ///< version in hand; version the evaluation is of, 0: of none that is stored
  bool previewing_ = false, what_if_ = false;
  QTimer heard_;          ///< calls of others come in flocks
  Id heard_run_ = 0;      ///< piece whose run grows elsewhere
  bool running_ = false;  ///< a run of this bench grows
  std::map<Id, QString> others_;
  QString said_away_;
  QTimer look_;   ///< for the book's file
  QString lost_;  ///< what was said of it
  /// Records that could not be written (a full disk, a deleted book), by piece: kept until they can be. Nothing of them
  /// may be signed.
  struct Unsaved {
    TestRecord record;
    Id version = 0;  ///< that they were made from
    std::string what;
  };
  std::map<Id, Unsaved> unsaved_;
  Stage stage_ = Stage::prepare;
  UnitSet units_ = UnitSet::si;
};

}  // namespace fortitor
