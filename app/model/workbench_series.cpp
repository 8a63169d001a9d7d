// What a piece shares with its series: typed once, taken over, marked where it differs.
#include "app/model/workbench.h"
#include "core/bench/common.h"

namespace fortitor {

void Workbench::load_series() {
  series_ = TestRecord{};
  const auto settings = book_->series_record(book_->series_of(specimen_).id);
  if (settings) series_ = *settings;
}

std::optional<SpecimenRow> Workbench::last_run() const {
  std::optional<SpecimenRow> last;
  std::string when;
  for (const SpecimenRow& s : book_->specimens(book_->series_of(specimen_).id)) {
    if (s.id == specimen_ || s.stages.size() <= size_t(Stage::run) || s.stages[size_t(Stage::run)] != '2') continue;
    const auto versions = book_->versions(s.id);
    if (versions.empty() || versions.front().saved_at < when) continue;
    when = versions.front().saved_at;
    last = s;
  }
  return last;
}

// A piece on which nothing has been written yet begins as its series goes, then as the last one left off.
void Workbench::start_as_the_series_goes() {
  if (version_ != 1 || book_->read_only() || record_.has_run() || signed_off() || common::any(record_, *method_))
    return;
  TestRecord filled = kept_;
  const int from_series = common::take_over(filled, series_, *method_);
  int from_last = 0;
  QString name;
  if (const auto last = last_run())
    if (const auto r = book_->typed_record(last->id)) {
      from_last = common::take_over(filled, *r, *method_);
      name = QString::fromStdString(last->code);
    }
  if (from_series + from_last == 0) return;
  const QString what = from_last == 0     ? QString("begun as the series says")
                       : from_series == 0 ? "begun as " + name + " left off"
                                          : "begun as the series says and " + name + " left off";
  edit(what, [&](TestRecord& r) { r = filled; });
}

void Workbench::take_over_from_last() {
  const auto last = last_run();
  if (!last) return;
  const auto r = book_->typed_record(last->id);
  if (!r) return say(QString::fromStdString(r.error().message));
  TestRecord filled = kept_;
  if (common::take_over(filled, *r, *method_) == 0)
    return say("There is nothing that " + QString::fromStdString(last->code) + " has and this piece lacks.");
  edit("taken over from " + QString::fromStdString(last->code), [&](TestRecord& now) { now = filled; });
}

QString Workbench::not_theirs() const {
  const auto items = book_->kit();
  if (!items) return {};
  const auto why = kit::not_for(kept_, *method_, *items, book_->operator_name());
  return why ? QString::fromStdString(*why) : QString();
}

// Between two pieces a cell is calibrated anew, or dropped: what will be run is judged by what the Kit says now.
void Workbench::renew_papers() {
  if (!has_specimen() || what_if_ || book_->read_only() || kept_.has_run() || signed_off()) return;
  const auto items = book_->kit();
  if (!items) return say(QString::fromStdString(items.error().message));
  TestRecord renewed = kept_;
  if (kit::renew_papers(renewed, *method_, *items))
    edit("calibration as the Kit has it", [&](TestRecord& r) { r = renewed; });
}

void Workbench::as_the_series() {
  TestRecord filled = kept_;
  common::adopt(filled, series_, *method_);
  edit("as the series says", [&](TestRecord& now) { now = filled; });
}

void Workbench::hold_for_series() {
  TestRecord settings = series_;
  common::set(settings, kept_, *method_);
  keep_common(book_->series_of(specimen_).id, settings,
              "held for the series as " + QString::fromStdString(record_.specimen_id()) + " has it",
              [this](const Outcome<Done>& done) {
                if (!done) say(QString::fromStdString(done.error().message));
              });
}

namespace {

// A piece that follows its series, ready to be written.
struct Following {
  Id specimen = 0, version = 0;
  TestRecord record;
  Summary summary;
};

// Brings a piece along; nothing when it goes its own way already.
Outcome<std::optional<Following>> following(const Book& book, const SpecimenRow& piece, const TestRecord& before,
                                            const TestRecord& settings, const std::string& day) {
  Following f{piece.id, book.record_version(piece.id), {}, {}};
  auto record = book.record(piece.id);
  if (!record) return InputError{piece.code + ": " + record.error().message, {}};
  const Method& m = *methods::find(record->method);
  if (!common::follow(*record, before, settings, m)) return std::optional<Following>();
  const Evaluation e = methods::evaluate(*record, {.today = day});
  f.summary = {progress_code(progress_of(m, *record, &e, false)), std::string(verdict_word(e.verdict)),
               int(e.open_judgements().size())};
  record->run.drop_samples();
  f.record = std::move(*record);
  return std::optional(std::move(f));
}

}  // namespace

// Evaluated first, piece by piece; then all of it is written at once. What somebody changed meanwhile is done again.
void Workbench::keep_common(Id series, const TestRecord& settings, const QString& what, const Heard& then) {
  const auto before = book_->series_record(series);
  if (!before) return then(before.error());
  const auto came =
      std::make_shared<Outcome<Done>>(InputError{"Holding it for the series was stopped; nothing is changed.", {}});
  const auto tell = [this, series, settings, what, before = *before, came, then, in_hand = specimen_] {
    catch_up();
    // The piece that was in hand when it began was left to the window; it may have gone from the bench since.
    if (const auto row = book_->specimen(in_hand);
        *came && in_hand != specimen_ && row && row->series == series && !row->signed_off)
      edit_specimen(in_hand, what, [before, settings](TestRecord& r) {
        common::follow(r, before, settings, *methods::find(r.method));
      });
    if (*came && has_specimen() && book_->series_of(specimen_).id == series) {
      load_series();
      TestRecord mine = kept_;
      if (!signed_off() && common::follow(mine, before, settings, *method_))
        edit(what, [&](TestRecord& r) { r = mine; });
      else
        emit record_changed();
    }
    emit docket_changed();
    then(*came);
  };
  tasks_.run_in_turn(
      what, this,
      [=, before = *before, pass = book_->pass(), day = today(), line = what.toStdString(),
       in_hand = specimen_](Task& task) {
        *came = [&]() -> Outcome<Done> {
          auto opened = Book::open(pass);
          if (!opened) return opened.error();
          Book& book = **opened;
          std::vector<SpecimenRow> pieces = book.specimens(series);
          std::erase_if(pieces, [&](const SpecimenRow& s) {
            return s.signed_off || s.id == in_hand;
          });  // what was signed stays as it was signed
          std::vector<std::optional<Following>> all;
          for (size_t i = 0; i < pieces.size(); ++i) {
            if (task.stopped()) return InputError{"Holding it for the series was stopped; nothing is changed.", {}};
            task.set_progress(double(i) / double(pieces.size()));
            auto one = following(book, pieces[i], before, settings, day);
            if (!one) return one.error();
            all.push_back(std::move(*one));
          }
          return book.together([&]() -> Outcome<Done> {
            if (const auto kept = book.save_series_record(series, settings, line); !kept) return kept;
            for (size_t i = 0; i < pieces.size(); ++i) {
              if (all[i] && book.record_version(pieces[i].id) != all[i]->version) {
                auto again = following(book, pieces[i], before, settings, day);
                if (!again) return again.error();
                all[i] = std::move(*again);
              }
              if (!all[i]) continue;
              if (const auto kept =
                      book.save_record(pieces[i].id, all[i]->version, all[i]->record, all[i]->summary, line);
                  !kept)
                return kept.error();
            }
            return Done{};
          });
        }();
      },
      tell, tell);
}

}  // namespace fortitor
