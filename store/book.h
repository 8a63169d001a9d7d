// The job book: everything a laboratory keeps, in one SQLite file or, for several benches, on a PostgreSQL server. All
// SQL lives in store/; what differs between the two is store/engine.
#pragma once

#include <QByteArray>
#include <QObject>
#include <QSqlDatabase>
#include <QVariant>
#include <cstdint>
#include <functional>
#include <map>
#include <memory>
#include <optional>
#include <set>
#include <string>
#include <vector>

#include "core/bench/kit.h"
#include "core/bench/kit_checks.h"
#include "core/evaluation/evaluation.h"
#include "core/outcome.h"
#include "core/record/record.h"
#include "store/book_rows.h"
#include "store/clock.h"

namespace fortitor {

class BookFile;
class BookGround;
class Journal;
class Pulse;

/// An open job book. Used from one thread. Every change is one transaction together with its line in
/// the logbook, which seals every row it touches; nothing is ever overwritten: records are saved as new versions,
/// closed runs stay as they are, corrections are new settings.
class Book {
 public:
  /// Opens a book, making it when the file does not exist. Refuses, with a sentence: files that are no
  /// book, damaged ones, and books written by a newer Fortitor. Older books are migrated after a copy
  /// has been put beside them ("name.v1.fortitor"). A book has one writer: while another process holds it, it is
  /// opened for reading and the notice names the owner; nothing of a running test is touched.
  static Outcome<std::unique_ptr<Book>> open(const std::string& path, const std::string& who, const Clock& clock = {});
  /// The right to write in a book that is open, to be taken to another thread: what is opened by it writes beside the
  /// book it came from, one change of either at a time.
  struct Pass {
    std::string path, who;
    Clock clock;
    std::shared_ptr<BookGround> ground;
    ReferenceShelf shelf;
  };
  Pass pass() const { return {path_, who_, clock_, ground_, shelf_}; }
  /// In the thread that will use it. Errors: the book it came from is opened to read.
  static Outcome<std::unique_ptr<Book>> open(const Pass& pass);
  /// Opens for reading only; never migrates or recovers.
  static Outcome<std::unique_ptr<Book>> open_read_only(const std::string& path, const ReferenceShelf& shelf = {});
  /// The usual values that go with every record read from now on; with one that was signed, those it was signed by.
  void use_shelf(const ReferenceShelf& shelf) { shelf_ = shelf; }
  const ReferenceShelf& shelf() const { return shelf_; }
  ~Book();
  Book(const Book&) = delete;
  Book& operator=(const Book&) = delete;

  const std::string& path() const { return path_; }
  /// By which its lines are dated.
  const Clock& clock() const { return clock_; }
  void set_clock(const Clock& clock) { clock_ = clock; }
  /// Whether the file that was opened still lies at its path as this process left it; the sentence says what became of
  /// it.
  Outcome<Done> still_there() const;
  /// Writes the book as it stands into a new file, whole or not at all; works also when its own file was deleted.
  Outcome<Done> copy_to(const std::string& path) const;
  /// Opened for reading: by wish, or because another process writes.
  bool read_only() const { return read_only_; }
  void set_operator(const std::string& who);
  /// Whether it lies on a server.
  bool shared() const;
  /// Pieces of a shared book that are at work, with who is at them.
  std::map<Id, std::string> at_work() const;
  /// Keeps what is confirmed while the server is away in a journal in that folder, and brings in what waits there.
  /// Without one, or in a file, changes are refused while the book cannot be reached.
  Outcome<Done> keep_journal(const std::string& folder);
  /// The server of a shared book does not answer; nothing can be read.
  bool away() const { return !away_at_.empty(); }
  /// Since when, as the book writes times; of what waits in the journal, when the first of it was confirmed.
  std::string away_since() const;
  /// Lines of the journal that the server does not have yet.
  size_t waiting() const;
  /// Whether it is its disk or memory that keeps the server away, not silence.
  bool out_of_room() const { return away() && out_of_room_; }
  /// Changes that lie in the journal of this bench for good: the server will not take them.
  std::vector<RefusedChange> refused() const;
  /// Looks whether the server answers, without waiting for it: away() is true at the latest some seconds after it fell
  /// silent, and a book that was away goes on once it answers and brings in what waits. True when something changed.
  bool look_for_server();
  /// What another connection to a shared book did: wrote lines of the logbook, or a part of a run of that piece.
  using Heard = std::function<void(Id running)>;
  /// Calls for every change of others from now on, out of the event loop of this thread; no polling.
  void listen(const Heard& heard);
  const std::string& operator_name() const { return who_; }
  /// Sentences about what opening had to mend (interrupted runs).
  const std::vector<std::string>& notices() const { return notices_; }

  /// Goes on in a new file at `path`, which holds everything up to now; a run that is being stored goes on there.
  Outcome<Done> move_to(const std::string& path);
  /// Several changes as one: all of them or none.
  Outcome<Done> together(const std::function<Outcome<Done>()>& work);

  std::vector<JobRow> jobs() const;
  /// Every job with its series and specimens, in four queries however large the book is; later, what changed since.
  std::vector<JobOutline> outline() const;
  /// Specimens for which every word typed stands in their marking, series or job; at most so many.
  std::vector<FoundRow> search(const std::string& typed, int most) const;
  std::vector<SeriesRow> series(Id job) const;
  std::vector<SpecimenRow> specimens(Id series) const;
  std::optional<SpecimenRow> specimen(Id id) const;
  std::optional<JobRow> job_by_code(const std::string& code) const;
  SeriesRow series_of(Id specimen) const;
  JobRow job_of(Id specimen) const;

  /// Errors: the code is taken or empty.
  Outcome<Id> add_job(const std::string& code, const std::string& title, const std::string& due = {});
  Outcome<Id> add_series(Id job, const std::string& title, const std::string& method);
  Outcome<Id> add_specimen(Id series, const std::string& code, const TestRecord& record);
  /// Marks a piece anew. The id in its record follows with the next version. Errors: the mark is taken or no name.
  Outcome<Done> mark(Id specimen, const std::string& code);

  /// Newest version of a specimen's record with the samples of its run.
  Outcome<TestRecord> record(Id specimen) const;
  /// The same without the samples of its run: for what a person typed, however large the run is.
  Outcome<TestRecord> typed_record(Id specimen) const;
  /// The same of many in a few queries; one that cannot be read is left out.
  std::map<Id, TestRecord> typed_records(const std::vector<Id>& specimens) const;
  Id record_version(Id specimen) const;
  /// Saves a new version made from version `from` (0: from whatever is newest). `what` is the line for the logbook
  /// ("diameter 2 read 10.02 mm"). When another was faster nothing is lost: both versions stay, and it is said.
  /// `detail`: what changed from what to what.
  Outcome<Saved> save_record(Id specimen, Id from, const TestRecord& record, const Summary& summary,
                             const std::string& what, const std::string& detail = {});
  /// The versions of a record, the newest first.
  std::vector<VersionRow> versions(Id specimen) const;
  /// An older version with the samples it was saved with.
  Outcome<TestRecord> record_at(Id specimen, Id version) const;
  /// What the Docket shows; no new version, no line in the logbook.
  Outcome<Done> set_summary(Id specimen, const Summary& summary);
  /// Keeps the evaluation of exactly that version and signs it, with the hashes of record, run and evaluation, all or
  /// nothing. Refused when the book holds a newer version or the run is still open.
  /// `also`: what is kept with the signature or not at all (a key's); it hears the number of the signature.
  Outcome<Done> sign_off(Id specimen, Id version, const std::string& evaluation_json, const std::string& verdict,
                         const std::function<Outcome<Done>(Id signature)>& also = {});
  /// Whether what was signed last is still what is stored; the sentence says what differs.
  Outcome<Done> check_signature(Id specimen) const;
  /// The newest, or the last on a version.
  std::optional<SignOff> signature(Id specimen, Id version = 0) const;
  /// Title of the job when a version was signed; nothing when it was signed before such was noted.
  std::optional<std::string> title_when_signed(Id specimen, Id version) const;
  /// Whether the row of a job is what the logbook says.
  Outcome<Done> check_job(Id job) const;
  /// Whether a signature with exactly these hashes of what was signed is in the book.
  bool has_signature(const SignOff& wanted) const;
  /// The evaluation that was signed last (on a version), as JSON; empty when none was.
  std::optional<std::string> signed_evaluation(Id specimen, Id version = 0) const;

  /// Starts storing a run; `channels` in the order of the rows to come. Refused when the disk has no room for one.
  Outcome<Id> begin_run(Id specimen, const std::vector<std::string>& channels, const std::string& source,
                        const std::string& segment = {});
  /// Appends columns of equal length; on return they are on disk.
  Outcome<Done> append_run(Id run, const std::vector<std::vector<double>>& columns);
  Outcome<Done> close_run(Id run, const std::string& stopped);
  /// Begins, appends and closes: for imported files.
  Outcome<Id> store_run(Id specimen, const Samples& samples, const std::string& source, const std::string& segment = {},
                        const std::function<void(double)>& progress = {});
  std::vector<RunRow> runs(Id specimen) const;
  /// The newest runs, at most `most` of a method.
  std::vector<RunSpan> run_spans(size_t most) const;
  Outcome<SamplesPtr> samples(Id run) const;

  /// Settings and answers of a series, newest version; empty ones when none were saved yet.
  Outcome<TestRecord> series_record(Id series) const;
  Outcome<Done> save_series_record(Id series, const TestRecord& settings, const std::string& what);

  /// Starts a spectrum in a job. Errors: no name, or the job has one of that name.
  Outcome<Id> add_spectrum(Id job, const std::string& title);
  std::vector<SpectrumRow> spectra(Id job) const;
  std::optional<SpectrumRow> spectrum(Id id) const;
  /// What was chosen (core/spectrum), newest version; an empty one when none was saved yet.
  Outcome<TestRecord> spectrum_record(Id spectrum) const;
  /// What came of the newest version as JSON; empty when nothing was computed.
  std::string spectrum_results(Id spectrum) const;
  Outcome<Done> save_spectrum(Id spectrum, const TestRecord& record, const std::string& results,
                              const std::string& what);

  /// Everything in the Kit, benches included, in the order in which it came.
  Outcome<std::vector<kit::Item>> kit() const;
  /// Adds an item (id 0) or changes one; `what` is the line for the logbook, which says what was and what is. Refused
  /// without a name, or when the Kit has another of the kind by that name.
  Outcome<Id> save_item(const kit::Item& item, const std::string& what);
  /// Specimens whose newest record names the item, the last tested first.
  std::vector<ItemUse> uses(const kit::Item& item) const;
  /// Marks every record that used the item on or after a day (empty: ever): the reason stands in the record and wants a
  /// word before it is signed (again). All of them or none; how many it were.
  Outcome<int> mark_uses(const kit::Item& item, const std::string& since, const std::string& reason);
  /// Keeps the file of an item's calibration certificate in the book, sealed like every row; older ones stay beside it.
  /// Errors: no bytes, more than 16 MB.
  Outcome<Done> attach_certificate(const kit::Item& item, const std::string& name, const QByteArray& bytes);
  /// Names of those attached, the oldest first, and the bytes of one of them.
  std::vector<std::string> certificates(const kit::Item& item) const;
  QByteArray certificate(const kit::Item& item, size_t number) const;
  /// Daily checks of an item, the oldest first.
  std::vector<kit::DailyCheck> daily_checks(const kit::Item& item) const;
  /// Those and what the last `most` records that used the item read on it, by time.
  std::vector<kit::DailyCheck> checks_of(const kit::Item& item, size_t most = 60) const;
  Outcome<Done> add_daily_check(const kit::Item& item, const kit::DailyCheck& check);

  /// Starts a timer; one that runs under the same label for the specimen is ended by it.
  Outcome<Id> start_timer(Id specimen, const std::string& label, const std::string& started_at,
                          const std::string& ends_at);
  /// Timers whose end has not been seen yet, the next to end first.
  std::vector<TimerRow> timers() const;
  /// The end has been seen, or the timer was stopped early.
  Outcome<Done> acknowledge_timer(Id timer, const std::string& what);

  std::optional<std::string> setting(const std::string& key) const;
  Outcome<Done> set_setting(const std::string& key, const std::string& value);
  /// Remembered column mappings of imported files, by signature.
  std::optional<std::string> mapping(const std::string& signature) const;
  Outcome<Done> remember_mapping(const std::string& signature, const std::string& json);

  std::vector<LogEntry> logbook(int newest = 200) const;
  /// The newest of the lines that a question fits, of the whole book.
  std::vector<LogEntry> logbook(const LogQuery& query, int newest) const;
  /// Everybody who wrote a line.
  std::vector<std::string> writers() const;
  /// Walks the chain of the logbook alone: the first line that does not follow from the one before; 0: whole.
  Id broken_link() const;
  Outcome<Done> note(const std::string& what, const std::string& detail, Id specimen = 0);
  ChainHead head() const;
  /// Whether the chain once ended with that hash, at that number of lines (0: at any).
  Outcome<Done> check_head(const ChainHead& head) const;
  /// Checks the schema, the whole hash chain of the logbook, every row against its line, every part of every run.
  std::vector<Damage> verify() const;
  /// What verify() would say of one piece: its versions, runs and signatures, its series, its job, the items of the Kit
  /// that its newest record names. Reads the logbook once, and no row of any other piece.
  std::vector<Damage> verify_piece(Id specimen) const;
  /// Whether a part of a run is the one that was written and can be unpacked into its channels.
  static Outcome<Done> check_part(const QByteArray& data, const std::string& digest, int64_t rows,
                                  const std::string& channels);

 private:
  friend class KeeperDoor;  // store/keeper_door.h
  friend class Papers;      // documents, people and what they rest on: store/papers.h
  Book();
  static Outcome<std::unique_ptr<Book>> connect(const std::string& path, bool read_only);
  static Outcome<std::unique_ptr<Book>> connect_server(const std::string& address, bool read_only);
  static Outcome<std::unique_ptr<Book>> open_server(const std::string& address, const std::string& who,
                                                    const Clock& clock, bool read_only);
  /// Whether a program that was killed left this file before anything was confirmed in it.
  static bool only_begun(const std::string& path);
  /// The book looked at before anything is written: what is wrong with it, as a sentence.
  static Outcome<Done> look_at(const std::string& path, const BookFile& file);
  /// `to_chain`: false for what adds no line to the logbook.
  Outcome<Done> change(const std::string& what, const std::string& detail, Id specimen,
                       const std::function<Outcome<Done>()>& work, bool to_chain = true);
  Outcome<Done> log(const std::string& what, const std::string& detail, Id specimen);
  /// Names a row that the change under way writes: its line in the logbook seals it.
  void touch(const char* table, const QVariant& key);
  Outcome<QString> seal_touched();
  Outcome<Done> seal_all();
  void recover_runs();
  Outcome<Id> insert_run(Id specimen, const std::vector<std::string>& channels, const std::string& source,
                         const std::string& segment);
  Outcome<Done> insert_part(Id run, const std::vector<std::vector<double>>& columns, Id part = 0);
  Outcome<Done> end_run(Id run, const std::string& stopped);
  /// What the journal takes in place of a server that is away, and how it comes to the server (store/book_away.cpp).
  bool journals() const;
  Outcome<Done> put_aside(const char* kind, const QByteArray& body);
  // `tried`: the number that the server had given it when its answer failed to come; 0: none.
  Outcome<Id> begin_aside(Id specimen, const std::vector<std::string>& channels, const std::string& source,
                          const std::string& segment, Id tried);
  Outcome<Done> append_aside(Id run, const std::vector<std::vector<double>>& columns);
  Outcome<Done> close_aside(Id run, const std::string& stopped);
  Outcome<Saved> save_aside(Id specimen, Id from, const std::string& json, const Summary& summary,
                            const std::string& what, const std::string& detail, Id tried);
  Outcome<Done> come_back();
  Outcome<Done> bring_in();
  /// The number that the server has for a run that was begun while it was away.
  Id on_server(Id run) const;
  Outcome<Done> bring_line(const std::string& kind, const QByteArray& body);
  Outcome<Id> open_again(Id run);
  const std::vector<JobOutline>& kept_outline() const;
  std::vector<JobOutline> read_outline() const;
  bool catch_up(Id line) const;
  Outcome<std::string> run_hash(Id specimen, Id newest_run) const;
  Outcome<Done> load_segments(Id specimen, Id newest_run, TestRecord& record) const;
  /// A version without its samples, and the newest run it was saved with (0: none).
  Outcome<std::pair<TestRecord, Id>> version_at(Id specimen, Id version) const;
  QSqlDatabase db() const;
  void goes_away(bool out_of_room);

  std::string path_, connection_, who_;
  Clock clock_;
  std::vector<std::string> notices_;
  std::set<std::pair<std::string, QString>> touched_;
  uint64_t device_ = 0, inode_ = 0;  ///< of the file that was opened
  ReferenceShelf shelf_;
  std::shared_ptr<BookGround> ground_;  ///< null when it is opened to read
  bool writing_ = false;                ///< a change of this one is under way
  bool read_only_ = false;
  bool joined_ = false;  ///< changes belong to a larger one that is under way
  std::string owner_;    ///< who writes, when this one reads
  std::unique_ptr<Journal> journal_;
  std::unique_ptr<Pulse> pulse_;
  std::string away_at_;                      ///< since when its server does not answer; empty: it does
  bool out_of_room_ = false;                 ///< it answers, but takes nothing
  bool bringing_in_ = false;                 ///< lines of the journal are on their way
  mutable std::vector<JobOutline> outline_;  ///< as of that line of the logbook
  mutable Id outline_line_ = 0;
  std::map<Id, Id> parts_;  ///< of runs that grow here: how many each has
  std::set<Id> held_;       ///< pieces that are at work here
  Heard heard_;
  std::shared_ptr<QObject> listener_;  ///< lives with the book: calls come to it
};

}  // namespace fortitor
