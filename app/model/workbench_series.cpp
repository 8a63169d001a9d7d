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
  const auto done = keep_common(book_->series_of(specimen_).id, settings,
                                "held for the series as " + QString::fromStdString(record_.specimen_id()) + " has it");
  if (!done) say(QString::fromStdString(done.error().message));
}

Outcome<Done> Workbench::keep_common(Id series, const TestRecord& settings, const QString& what) {
  const auto before = book_->series_record(series);
  if (!before) return before.error();
  std::vector<SpecimenRow> pieces = book_->specimens(series);
  const Method* m = nullptr;
  std::optional<TestRecord> in_hand;
  const std::string line = what.toStdString();
  const auto done = book_->together([&]() -> Outcome<Done> {
    if (const auto kept = book_->save_series_record(series, settings, line); !kept) return kept;
    for (const SpecimenRow& s : pieces) {
      if (s.signed_off) continue;  // what was signed stays as it was signed
      auto r = s.id == specimen_ ? Outcome<TestRecord>(kept_) : book_->record(s.id);
      if (!r) return r.error();
      m = methods::find(r->method);
      if (!common::follow(*r, *before, settings, *m)) continue;
      if (s.id == specimen_) {
        in_hand = *r;
        continue;
      }
      const Evaluation e = methods::evaluate(*r, {.today = today()});
      const Summary summary{progress_code(progress_of(*m, *r, &e, false)), std::string(verdict_word(e.verdict)),
                            int(e.open_judgements().size())};
      if (const auto kept = book_->save_record(s.id, 0, *r, summary, line); !kept) return kept.error();
    }
    return Done{};
  });
  if (!done) return done;
  if (has_specimen() && book_->series_of(specimen_).id == series) {
    load_series();
    if (in_hand)
      edit(what, [&](TestRecord& r) { r = *in_hand; });
    else
      emit record_changed();
  }
  emit docket_changed();
  return Done{};
}

}  // namespace fortitor
